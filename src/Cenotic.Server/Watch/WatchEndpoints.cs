using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Live;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Watch;

/// <summary>A reading with its newest sample.</summary>
/// <param name="LongestGapMs">The plan has a sample at least this often; null when it has no such time.</param>
/// <param name="SilentAfterMs">After this long without a sample it is silent; null when it cannot be.</param>
/// <param name="RestsOn">True for a state that is on at rest: a contact is closed.</param>
/// <param name="Derived">What follows from it and its neighbour on the same part: dew point and water in the air;
/// of a reading that is worked out, its figure with the working. Empty for others.</param>
/// <param name="Limits">That armed rules watch it for.</param>
/// <param name="Open">Episodes of rules and zones that watch it, and that are not over.</param>
public sealed record ReadingView(
    string Node,
    string Key,
    string Label,
    string NodeLabel,
    ReadingKind Kind,
    string Quantity,
    string Unit,
    int Decimals,
    long? LongestGapMs,
    long? SilentAfterMs,
    bool RestsOn,
    LiveSample? Newest,
    IReadOnlyList<Figure> Derived,
    IReadOnlyList<ThresholdData> Limits,
    IReadOnlyList<EpisodeData> Open
);

/// <summary>Stretches of a state.</summary>
public sealed record LaneView(IReadOnlyList<Stretch> Stretches);

/// <summary>What the live page shows.</summary>
public static class WatchEndpoints
{
    private const int UsualPoints = 1_000,
        MostPoints = 5_000;
    private const long TogetherMs = 600_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/readings", ReadingsAsync).WithName("GetReadings");
        reading.MapGet("/readings/{node}/{key}/line", LineAsync).WithName("GetLine");
        reading.MapGet("/readings/{node}/{key}/lane", LaneAsync).WithName("GetLane");
    }

    internal static async Task<List<ReadingView>> ReadingsAsync(string site, SiteBook book, CenoticStore store)
    {
        var state = book.Find(site)!;
        var newest = await SeriesReader.NewestAsync(store, site);
        var missed = await DerivedEndpoints.MissedAsync(store, state);
        var open = await ReadingAlerts.OpenAsync(store, state);
        var list = new List<ReadingView>();
        foreach (var (of, r) in state.Design.AllReadings)
        {
            var row = state.Readings[(of.Node, of.Reading)];
            var quantity = state.Quantity(of.Node, of.Reading);
            var figures = state.Design.Node(of.Node) is { } node
                ? Derived(state, node, r, newest)
                : [DerivedEndpoints.FigureOf(state, state.Design.Derived.First(d => d.Key == of.Reading), newest, missed)];
            list.Add(
                new(
                    of.Node,
                    of.Reading,
                    r.Label,
                    state.Design.NodeLabel(of.Node)!,
                    row.Kind,
                    quantity?.Quantity ?? r.Quantity,
                    quantity?.Unit ?? "",
                    r.Decimals,
                    r.LongestGapMs,
                    r.SilentMs,
                    EventLanes.RestsOn(quantity?.Quantity),
                    newest.TryGetValue(row.Id, out var s) ? new(of.Node, of.Reading, s.T, s.Value, s.Flags) : null,
                    figures,
                    [.. ReadingAlerts.Limits(state.Design, of)],
                    [.. open[of]]
                )
            );
        }
        return list;
    }

    /// <summary>Dew point and water in the air, where the part tells humidity and temperature of about the same time.</summary>
    private static IReadOnlyList<Figure> Derived(
        SiteState state,
        NodeDesign node,
        ReadingDesign humidity,
        Dictionary<int, (long T, double Value, int Flags)> newest
    )
    {
        if (
            humidity.Quantity != "humidity"
            || node.Readings.FirstOrDefault(r => r.Part == humidity.Part && r.Quantity == "temperature") is not { } temperature
            || !newest.TryGetValue(state.Readings[(node.Key, humidity.Key)].Id, out var u)
            || !newest.TryGetValue(state.Readings[(node.Key, temperature.Key)].Id, out var t)
            || Math.Abs(u.T - t.T) > TogetherMs
            || ((SampleFlags)(u.Flags | t.Flags)).HasFlag(SampleFlags.Suspect)
        )
        {
            return [];
        }
        double Error(ReadingDesign r) => state.Quantity(node.Key, r.Key)?.Error ?? 0;
        return HumidAir.Figures(t.Value, u.Value, Error(temperature), Error(humidity));
    }

    private static async Task<Results<Ok<LineView>, ProblemHttpResult>> LineAsync(
        string site,
        string node,
        string key,
        long from,
        long to,
        SiteBook book,
        SiteClock clock,
        CenoticStore store,
        int points = UsualPoints
    )
    {
        if (!book.Find(site)!.Readings.TryGetValue((node, key), out var reading) || to <= from)
        {
            return TypedResults.Problem("There is no such reading, or the end is not after the start.", statusCode: 404);
        }
        if (points is < 10 or > MostPoints)
        {
            return TypedResults.Problem($"A line has 10 to {MostPoints} points.", statusCode: 422);
        }
        return TypedResults.Ok(await SeriesReader.LineAsync(store, book.Find(site)!, reading.Id, from, to, points, clock.Now(site)));
    }

    private static async Task<Results<Ok<LaneView>, ProblemHttpResult>> LaneAsync(
        string site,
        string node,
        string key,
        long from,
        long to,
        SiteBook book,
        CenoticStore store
    )
    {
        if (!book.Find(site)!.Readings.ContainsKey((node, key)) || to <= from)
        {
            return TypedResults.Problem("There is no such reading, or the end is not after the start.", statusCode: 404);
        }
        return TypedResults.Ok(new LaneView(await SeriesReader.StretchesAsync(store, book.Find(site)!, new(node, key), from, to)));
    }
}
