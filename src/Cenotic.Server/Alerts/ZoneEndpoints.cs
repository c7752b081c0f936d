using Cenotic.Core.Alerts;
using Cenotic.Server.Commands;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>A zone as it stands.</summary>
/// <param name="UntilMs">When the phase ends by itself, UTC ms of site time.</param>
/// <param name="Lamp">The sensor that triggered last since arming, and when.</param>
/// <param name="On">Sensors that trigger now, by name: a window that stands open.</param>
/// <param name="NeverHeard">Sensors of which nothing was heard yet.</param>
/// <param name="Unseen">Sensors whose silence cannot be seen, as they only tell changes.</param>
/// <param name="Who">Who armed or disarmed it last; null for itself.</param>
/// <param name="Faults">Outputs that could not be switched, with the reason.</param>
public sealed record ZoneView(
    string Key,
    string Label,
    ArmMode Mode,
    ZonePhase Phase,
    long SinceMs,
    long? UntilMs,
    string? Lamp,
    long? LampMs,
    string? Cause,
    IReadOnlyList<string> On,
    IReadOnlyList<string> NeverHeard,
    IReadOnlyList<string> Unseen,
    string? Who,
    IReadOnlyList<string> Faults
);

public sealed record ArmRequest(ArmMode Mode = ArmMode.Off);

/// <summary>Zones: looked at by all, armed by makers and owners, and by viewers who may act.</summary>
public static class ZoneEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/zones", ListAsync).WithName("GetZones");
        reading.MapGet("/zones/choices", Choices).WithName("GetZoneChoices");
        SiteRoutes.Acting(routes).MapPost("/zones/{zone}/arm", ArmAsync).WithName("ArmZone");
    }

    private static ZoneChoices Choices(string site, SiteBook book) => ZoneChoices.Of(book.Find(site)!.Design);

    internal static async Task<List<ZoneView>> ListAsync(string site, SiteBook book, RuleRunner runner, OutputLeases outputs, CenoticStore store)
    {
        var design = book.Find(site)!.Design;
        var who = await store.ZoneStates.AsNoTracking().Where(z => z.Site == site).ToDictionaryAsync(z => z.Zone, z => z.Who);
        var now = runner.ZonesOf(site).ToDictionary(z => z.Zone.Key, z => z.State);
        string Named(string sensor) => NoticeStep.Named(design, sensor);
        return
        [
            .. design.Zones.Select(zone =>
            {
                var state = now.GetValueOrDefault(zone.Key) ?? ZoneState.Start(0);
                var gaps = ZoneStep.GapsOf(design, zone);
                var sensors = zone.Sensors.Select(s => $"{s.Node}/{s.Reading}").ToList();
                return new ZoneView(
                    zone.Key,
                    zone.Label,
                    state.Mode,
                    state.Phase,
                    state.SinceMs,
                    state.UntilMs,
                    state.Lamp is { } lamp ? Named(lamp.Sensor) : null,
                    state.Lamp?.AtMs,
                    state.Cause is { } cause ? Named(cause) : null,
                    [.. sensors.Where(s => state.Sensors.GetValueOrDefault(s)?.On == true).Select(Named)],
                    [.. sensors.Where(s => !state.Sensors.ContainsKey(s)).Select(Named)],
                    [.. sensors.Where(s => !gaps.ContainsKey(s)).Select(Named)],
                    who.GetValueOrDefault(zone.Key),
                    outputs.FaultsOf(site, zone.Sounders.Select(s => (s.Node, s.Output)))
                );
            }),
        ];
    }

    private static async Task<Results<Ok<ZoneView>, ProblemHttpResult>> ArmAsync(
        string site,
        string zone,
        ArmRequest request,
        HttpContext http,
        SiteBook book,
        RuleRunner runner,
        OutputLeases outputs,
        CenoticStore store
    )
    {
        if (book.Find(site)!.Design.Zones.All(z => z.Key != zone))
        {
            return TypedResults.Problem("There is no such zone.", statusCode: 404);
        }
        await runner.ArmAsync(site, zone, request.Mode, http.User.Identity!.Name!);
        return TypedResults.Ok((await ListAsync(site, book, runner, outputs, store)).Single(z => z.Key == zone));
    }
}
