using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.StandIns;

/// <param name="Cells">What is left of its cells, 0..1; null for a node without.</param>
/// <param name="Via">The node it is heard through.</param>
/// <param name="Probes">Keys of its 1-Wire probes.</param>
public sealed record StandInView(
    string Node,
    string Label,
    bool Silenced,
    double HeatCelsius,
    bool Tripped,
    bool Unplugged,
    bool Jammed,
    double LossPercent,
    double SkewSeconds,
    double? Cells,
    string? Via,
    bool Scanning,
    string? WarmPart,
    IReadOnlyList<string> Probes
);

/// <param name="Mails">What would have gone out by mail.</param>
/// <param name="MailAddress">Where the sink takes mail.</param>
public sealed record StandInsView(
    double Speed,
    IReadOnlyList<StandInView> Nodes,
    IReadOnlyList<SunkMessage> Mails,
    IReadOnlyList<SunkMessage> Texts,
    string MailAddress
);

/// <param name="Trip">True to trip its motion, presence and contacts for a minute of site time.</param>
/// <param name="LossPercent">Lost transmissions, %; null leaves them.</param>
/// <param name="Cells">Sets what is left of its cells, 0..1; null leaves them.</param>
/// <param name="WarmPart">Key of the probe that is held in the hand; null for none.</param>
public sealed record StandInSetting(
    bool Silenced,
    double HeatCelsius,
    bool Trip,
    bool Unplugged = false,
    bool Jammed = false,
    double? LossPercent = null,
    double SkewSeconds = 0,
    double? Cells = null,
    bool Scanning = false,
    string? WarmPart = null
);

/// <summary>A text message as a gateway takes it.</summary>
public sealed record TextMessage(string To, string Text);

public sealed record SpeedSetting(double Speed);

/// <summary>The control sheet of the stand-ins; mapped in demo mode only.</summary>
public static class StandInEndpoints
{
    private const long TripMs = 60_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/stand-ins", View).WithName("GetStandIns");
        var writing = SiteRoutes.Writing(routes);
        writing.MapPut("/stand-ins/{node}", Set).WithName("SetStandIn");
        writing.MapPut("/speed", SpeedAsync).WithName("SetSpeed");
        SiteRoutes.Reading(routes).MapGet("/stand-ins/card.csv", Card).WithName("GetCardFile");
        routes.MapPost("/api/stand-ins/texts", TakeText).WithName("PostText").AllowAnonymous().DisableAntiforgery().RequireRateLimiting(IntakeEndpoints.Limit);
    }

    private static async Task<StandInsView> View(string site, SiteBook book, SiteClock clock, StandInHost host, MailSink mails, TextSink texts)
    {
        var now = clock.Now(site);
        var plan = await book.PlanAsync(book.Find(site)!);
        return new(
            clock.Speed(site),
            [
                .. book.Find(site)!
                    .Design.Nodes.Select(n => (n, c: host.Control(n.Key)))
                    .Select(p => new StandInView(
                        p.n.Key,
                        p.n.Label,
                        p.c.Silenced,
                        p.c.HeatCelsius,
                        p.c.TrippedUntil > now,
                        p.c.Unplugged,
                        p.c.Jammed,
                        p.c.LossPercent,
                        p.c.SkewSeconds,
                        host.CellShare(p.n.Key),
                        p.n.Via,
                        p.c.Scanning,
                        p.c.WarmPart,
                        [.. plan.Node(p.n.Key)!.Bench.Parts.Where(b => b.Interface == Core.Catalogue.InterfaceKind.OneWire).Select(b => b.Part)]
                    )),
            ],
            mails.Mails,
            texts.Texts,
            mails.Address.ToString()
        );
    }

    private static Results<NoContent, UnprocessableEntity<EditRefused>> Set(
        string site,
        string node,
        StandInSetting request,
        SiteBook book,
        SiteClock clock,
        StandInHost host
    )
    {
        if (
            site != host.Plan.Site
            || book.Find(site)!.Design.Node(node) is null
            || request.HeatCelsius is not (>= -30 and <= 60)
            || request.LossPercent is not (null or >= 0 and <= 100)
            || request.SkewSeconds is not (>= -86_400 and <= 86_400)
            || request.Cells is not (null or >= 0 and <= 1)
        )
        {
            return TypedResults.UnprocessableEntity(
                new EditRefused(["For a node of the demo site: heat from -30 to 60 °C, loss from 0 to 100 %, a clock up to a day wrong, cells from 0 to 1."])
            );
        }
        var before = host.Control(node);
        host.Set(
            node,
            new(
                request.Silenced,
                request.HeatCelsius,
                request.Trip ? clock.Now(site) + TripMs : before.TrippedUntil,
                request.Unplugged,
                request.Jammed,
                request.LossPercent ?? before.LossPercent,
                request.SkewSeconds,
                request.Scanning,
                request.WarmPart,
                request.WarmPart == before.WarmPart ? before.WarmSince : clock.Now(site)
            )
        );
        if (request.Cells is { } share)
        {
            host.SetCells(node, share);
        }
        return TypedResults.NoContent();
    }

    private static Results<FileContentHttpResult, ProblemHttpResult> Card(string site, SiteBook book, SiteClock clock, StandInPlan plan)
    {
        var design = book.Find(site)!.Design;
        return design.Node(plan.Card.Node) is { } node
            ? TypedResults.File(
                CardFile.Of(node, plan.Seed, TimeZoneInfo.FindSystemTimeZoneById(design.Settings.TimeZone), clock.Now(site)),
                "text/csv",
                plan.Card.File
            )
            : TypedResults.Problem("The node whose card it was is gone.", statusCode: 404);
    }

    private static Results<NoContent, UnprocessableEntity<EditRefused>> TakeText(TextMessage message, TextSink texts)
    {
        if (message.To.Length is 0 or > 40 || message.Text.Length is 0 or > 1_600)
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["A text message has a number of at most 40 and a text of at most 1600 characters."]));
        }
        texts.Take(message.To, message.Text);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> SpeedAsync(
        string site,
        SpeedSetting request,
        WriteGate gate,
        SiteClock clock,
        StandInPlan plan
    )
    {
        if (site != plan.Site || request.Speed is not (>= 1 and <= 60))
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["The speed goes from 1 to 60, at the demo site."]));
        }
        await gate.WriteAsync(async store => clock.ChangeSpeed(await store.Sites.SingleAsync(s => s.Key == site), request.Speed));
        return TypedResults.NoContent();
    }
}
