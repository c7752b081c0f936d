using Cenotic.Server.Accounts;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.StandIns;

public sealed record StandInView(string Node, string Label, bool Silenced, double HeatCelsius, bool Tripped);

public sealed record StandInsView(double Speed, IReadOnlyList<StandInView> Nodes);

/// <param name="Trip">True to trip its motion, presence and contacts for a minute of site time.</param>
public sealed record StandInSetting(bool Silenced, double HeatCelsius, bool Trip);

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
    }

    private static StandInsView View(string site, SiteBook book, SiteClock clock, StandInHost host)
    {
        var now = clock.Now(site);
        return new(clock.Speed(site), [.. book.Find(site)!.Design.Nodes.Select(n => (n, c: host.Control(n.Key))).Select(p => new StandInView(p.n.Key, p.n.Label, p.c.Silenced, p.c.HeatCelsius, p.c.TrippedUntil > now))]);
    }

    private static Results<NoContent, UnprocessableEntity<EditRefused>> Set(string site, string node, StandInSetting request, SiteBook book, SiteClock clock, StandInHost host)
    {
        if (site != StandInHost.Site || book.Find(site)!.Design.Node(node) is null || request.HeatCelsius is not (>= -30 and <= 60))
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["Heat goes from -30 to 60 °C, for a node of the demo site."]));
        }
        var before = host.Control(node);
        host.Set(node, new(request.Silenced, request.HeatCelsius, request.Trip ? clock.Now(site) + TripMs : before.TrippedUntil));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> SpeedAsync(string site, SpeedSetting request, WriteGate gate, SiteClock clock)
    {
        if (site != StandInHost.Site || request.Speed is not (>= 1 and <= 60))
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["The speed goes from 1 to 60, at the demo site."]));
        }
        await gate.WriteAsync(async store => clock.ChangeSpeed(await store.Sites.SingleAsync(s => s.Key == site), request.Speed));
        return TypedResults.NoContent();
    }
}
