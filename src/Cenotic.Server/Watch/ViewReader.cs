using Cenotic.Core.Alerts;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>A reading's line in a tile.</summary>
/// <param name="Earlier">The same stretch a day or a week before, moved onto it; null where none is wanted.</param>
public sealed record SeriesData(string Node, string Reading, LineView Line, LineView? Earlier);

/// <summary>A state's lane in a tile.</summary>
public sealed record LaneData(string Node, string Reading, IReadOnlyList<Stretch> Stretches);

/// <summary>A limit that a rule watches, drawn into a line.</summary>
public sealed record ThresholdData(string Node, string Reading, double Limit, string Label);

/// <summary>An episode that lies in the stretch.</summary>
/// <param name="ToMs">Null while it lasts.</param>
public sealed record EpisodeData(string Label, string Node, string Reading, long FromMs, long? ToMs);

/// <summary>What two event sensors saw together and alone: counted, a day, and the newest of them.</summary>
public sealed record SequenceData(
    SequenceCounts Counts,
    double BothPerDay,
    double FirstAlonePerDay,
    double SecondAlonePerDay,
    IReadOnlyList<SequenceEvent> Newest
);

/// <summary>What a tile needs to be drawn; what it does not need is empty.</summary>
/// <param name="PerHour">How fast a figure rises or falls, per hour; null where that cannot be told from noise.</param>
public sealed record TileData(
    string Key,
    IReadOnlyList<SeriesData> Lines,
    IReadOnlyList<LaneData> Lanes,
    CountsView? Counts,
    VesselState? Vessel,
    IReadOnlyList<NodeHealth> Nodes,
    double? PerHour,
    IReadOnlyList<ThresholdData> Thresholds,
    IReadOnlyList<EpisodeData> Episodes,
    SequenceData? Sequence = null
);

/// <summary>All that a view shows of a stretch.</summary>
/// <param name="NowMs">Site time of the answer, UTC ms.</param>
/// <param name="Readings">The readings of its tiles, with their newest samples.</param>
public sealed record ViewData(long NowMs, long FromMs, long ToMs, IReadOnlyList<ReadingView> Readings, IReadOnlyList<TileData> Tiles);

/// <summary>Reads what a view shows, in one answer.</summary>
public sealed class ViewReader(SiteBook book, SiteClock clock, NodeHealthReader nodes)
{
    /// <summary>Longest stretch: five years and a leap day or two.</summary>
    public const long LongestMs = 1_828L * 86_400_000;

    private const long HourMs = 3_600_000,
        DayMs = 86_400_000;
    private const int MostCounts = 400,
        FigurePoints = 60,
        NewestEvents = 12;

    /// <summary>The view of a site by its key; <see cref="FirstView.Key"/> is laid out anew each time.</summary>
    public ViewDesign? Find(string site, string view)
    {
        var state = book.Find(site)!;
        return view == FirstView.Key
            ? FirstView.Of(state.Design, (node, key) => state.Readings.TryGetValue((node, key), out var row) ? row.Kind : ReadingKind.Gauge)
            : state.Design.Views.FirstOrDefault(v => v.Key == view);
    }

    public async Task<ViewData> ReadAsync(CenoticStore store, string site, ViewDesign view, long from, long to, int points)
    {
        var state = book.Find(site)!;
        var wanted = view.Tiles.SelectMany(t => t.Content.Readings).ToHashSet();
        var readings = (await WatchEndpoints.ReadingsAsync(site, book, store)).Where(r => wanted.Contains(new(r.Node, r.Key))).ToList();
        var tiles = new List<TileData>();
        foreach (var tile in view.Tiles)
        {
            tiles.Add(await TileAsync(store, state, tile, readings, from, to, points));
        }
        return new(clock.Now(site), from, to, readings, tiles);
    }

    private async Task<TileData> TileAsync(CenoticStore store, SiteState state, TileDesign tile, List<ReadingView> readings, long from, long to, int points)
    {
        var data = new TileData(tile.Key, [], [], null, null, [], null, [], []);
        var now = clock.Now(state.Site);
        switch (tile.Content)
        {
            case FigureTile figure when Id(state, figure.Reading) is { } id:
                if (readings.FirstOrDefault(r => r.Node == figure.Reading.Node && r.Key == figure.Reading.Reading) is not { Kind: ReadingKind.Gauge })
                {
                    return data with
                    {
                        Lanes = [new(figure.Reading.Node, figure.Reading.Reading, await SeriesReader.StretchesAsync(store, state, figure.Reading, from, to))],
                    };
                }
                var lastHour = await SeriesReader.LineAsync(store, state, id, now - HourMs, now, FigurePoints, now);
                return data with
                {
                    Lines =
                    [
                        new(figure.Reading.Node, figure.Reading.Reading, await SeriesReader.LineAsync(store, state, id, from, to, FigurePoints, now), null),
                    ],
                    PerHour = Trend.PerHour([.. lastHour.T.Zip(lastHour.Mean)]),
                };
            case LineTile line:
                var lines = new List<SeriesData>();
                var back = line.Over switch
                {
                    LineOver.Yesterday => DayMs,
                    LineOver.LastWeek => 7 * DayMs,
                    _ => 0,
                };
                foreach (var reading in line.Of)
                {
                    if (Id(state, reading) is { } one)
                    {
                        var earlier = back == 0 ? null : await SeriesReader.LineAsync(store, state, one, from - back, to - back, points, now);
                        lines.Add(
                            new(
                                reading.Node,
                                reading.Reading,
                                await SeriesReader.LineAsync(store, state, one, from, to, points, now),
                                earlier is null ? null : earlier with { T = [.. earlier.T.Select(t => t + back)] }
                            )
                        );
                    }
                }
                return data with
                {
                    Lines = lines,
                    Thresholds = [.. line.Of.SelectMany(r => ThresholdsOf(state.Design, r))],
                    Episodes = await EpisodesAsync(store, state, line.Of, from, to),
                };
            case LanesTile lanes:
                var list = new List<LaneData>();
                foreach (var reading in lanes.Of)
                {
                    list.Add(new(reading.Node, reading.Reading, await SeriesReader.StretchesAsync(store, state, reading, from, to)));
                }
                return data with { Lanes = list };
            case SequenceTile sequence when Id(state, sequence.First) is not null && Id(state, sequence.Second) is not null:
                async Task<List<long>> RisesAsync(ReadingRef reading) =>
                    [
                        .. (await SeriesReader.StretchesAsync(store, state, reading, from, to))
                            .Select(s => s.From)
                            .Where(t => t > from || state.IsEvent(reading)),
                    ];
                var events = SequenceTally.Of(
                    await RisesAsync(sequence.First),
                    await RisesAsync(sequence.Second),
                    sequence.WithinMs,
                    sequence.InOrder,
                    Math.Min(to, now)
                );
                var counts = SequenceTally.Count(events, from, Math.Min(to, now));
                return data with
                {
                    Sequence = new(
                        counts,
                        counts.PerDay(SequenceOutcome.Both),
                        counts.PerDay(SequenceOutcome.FirstAlone),
                        counts.PerDay(SequenceOutcome.SecondAlone),
                        [.. events.Reverse().Take(NewestEvents)]
                    ),
                };
            case VesselTile vessel when Id(state, vessel.Reading) is { } id:
                var newest = readings.FirstOrDefault(r => r.Node == vessel.Reading.Node && r.Key == vessel.Reading.Reading)?.Newest;
                var quantity = state.Quantity(vessel.Reading.Node, vessel.Reading.Reading);
                return data with
                {
                    Vessel = newest is null ? null : Vessel.Of(vessel, newest.Value, quantity?.Unit ?? "", quantity?.Error ?? 0),
                    Lines =
                    [
                        new(vessel.Reading.Node, vessel.Reading.Reading, await SeriesReader.LineAsync(store, state, id, from, to, FigurePoints, now), null),
                    ],
                };
            case CounterTile counter when Id(state, counter.Reading) is { } id:
                var begins = Begins(TimeZoneInfo.FindSystemTimeZoneById(state.Design.Settings.TimeZone), counter.By, from, to);
                var bars = await SeriesReader.CountsAsync(store, id, begins, to);
                var (total, hours) = (bars.Sum(b => b.Count), (Math.Min(now, to) - from) / (double)HourMs);
                return data with { Counts = new(bars, total, bars.Select(b => b.Count).DefaultIfEmpty(0).Max(), hours > 0 ? total / hours : 0) };
            case NodesTile:
                return data with { Nodes = await nodes.ReadAsync(store, state, now) };
            default:
                return data;
        }
    }

    private static int? Id(SiteState state, ReadingRef reading) => state.Readings.TryGetValue((reading.Node, reading.Reading), out var row) ? row.Id : null;

    private static IEnumerable<ThresholdData> ThresholdsOf(SiteDesign design, ReadingRef reading) =>
        design
            .Rules.Where(r => r.Armed)
            .SelectMany(r =>
                r.Parts.Where(p => p.Reading == reading)
                    .SelectMany(p =>
                        p.Condition switch
                        {
                            BeyondLimit limit => new[] { limit.Limit },
                            InARow row => [row.Limit],
                            OutsideBand band => [band.Low, band.High],
                            _ => [],
                        }
                    )
                    .Select(limit => new ThresholdData(reading.Node, reading.Reading, limit, r.Label))
            );

    private static async Task<List<EpisodeData>> EpisodesAsync(CenoticStore store, SiteState state, IReadOnlyList<ReadingRef> readings, long from, long to)
    {
        var rules = state
            .Design.Rules.Select(r => (Rule: r, Reading: r.Inputs.FirstOrDefault(readings.Contains)))
            .Where(r => r.Reading is not null)
            .ToDictionary(r => r.Rule.Key, r => r.Reading!);
        var keys = rules.Keys.ToList();
        var rows =
            keys.Count == 0
                ? []
                : await store
                    .Episodes.AsNoTracking()
                    .Where(e => e.Site == state.Site && keys.Contains(e.Rule) && e.RaisedMs <= to && (e.ClearedMs == null || e.ClearedMs >= from))
                    .OrderByDescending(e => e.RaisedMs)
                    .Take(200)
                    .ToListAsync();
        return [.. rows.Select(e => new EpisodeData(e.Label, rules[e.Rule].Node, rules[e.Rule].Reading, e.RaisedMs, e.ClearedMs))];
    }

    /// <summary>Begins of the hours, days or months of a stretch by the clock on the wall: a day in which the clocks change has its own length.</summary>
    internal static IReadOnlyList<long> Begins(TimeZoneInfo zone, CountBy by, long from, long to)
    {
        var local = TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(from), zone).DateTime;
        var at = by switch
        {
            CountBy.Hour => local.Date.AddHours(local.Hour),
            CountBy.Day => local.Date,
            _ => new DateTime(local.Year, local.Month, 1),
        };
        var begins = new SortedSet<long>();
        if (by == CountBy.Hour)
        {
            for (var t = from / HourMs * HourMs; t < to; t += HourMs)
            {
                begins.Add(t);
            }
        }
        else
        {
            for (; Utc(at) < to; at = by == CountBy.Day ? at.AddDays(1) : at.AddMonths(1))
            {
                begins.Add(Utc(at));
            }
        }
        return [.. begins.TakeLast(MostCounts)];

        // Midnight that the clocks leave out is the moment after.
        long Utc(DateTime wall) => new DateTimeOffset(zone.IsInvalidTime(wall) ? wall.AddHours(1) : wall, zone.GetUtcOffset(wall)).ToUnixTimeMilliseconds();
    }
}
