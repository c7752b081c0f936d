using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>Reads what the tiles of a view show of a stretch of time.</summary>
/// <param name="readings">The readings of the view as they stand.</param>
/// <param name="points">Points of a line at most.</param>
/// <param name="now">UTC ms of site time.</param>
internal sealed class TileReader(
    CenoticStore store,
    SiteState state,
    NodeHealthReader nodes,
    List<ReadingView> readings,
    long from,
    long to,
    int points,
    long now
)
{
    private const long HourMs = 3_600_000,
        DayMs = 86_400_000;
    private const int MostCounts = 400,
        FigurePoints = 60,
        NewestEvents = 12;

    internal async Task<TileData> ReadAsync(TileDesign tile)
    {
        var data = new TileData(tile.Key, [], [], null, null, [], null, [], []);
        return tile.Content switch
        {
            FigureTile figure when Id(figure.Reading) is { } id => await FigureAsync(data, figure, id),
            LineTile line => await LineAsync(data, line),
            LanesTile lanes => await LanesAsync(data, lanes),
            SequenceTile sequence when Id(sequence.First) is not null && Id(sequence.Second) is not null => await SequenceAsync(data, sequence),
            VesselTile vessel when Id(vessel.Reading) is { } id => await VesselAsync(data, vessel, id),
            CounterTile counter when Id(counter.Reading) is { } id => await CounterAsync(data, counter, id),
            NodesTile => data with { Nodes = await nodes.ReadAsync(store, state, now) },
            _ => data,
        };
    }

    private async Task<TileData> FigureAsync(TileData data, FigureTile figure, int id)
    {
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
            Lines = [new(figure.Reading.Node, figure.Reading.Reading, await SeriesReader.LineAsync(store, state, id, from, to, FigurePoints, now), null)],
            PerHour = Trend.PerHour([.. lastHour.T.Zip(lastHour.Mean)]),
        };
    }

    private async Task<TileData> LineAsync(TileData data, LineTile line)
    {
        var lines = new List<SeriesData>();
        var back = line.Over switch
        {
            LineOver.Yesterday => DayMs,
            LineOver.LastWeek => 7 * DayMs,
            _ => 0,
        };
        foreach (var reading in line.Of)
        {
            if (Id(reading) is { } one)
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
            Thresholds = [.. line.Of.SelectMany(r => ReadingAlerts.Limits(state.Design, r))],
            Episodes = await EpisodesAsync(line.Of),
        };
    }

    private async Task<TileData> LanesAsync(TileData data, LanesTile lanes)
    {
        var list = new List<LaneData>();
        foreach (var reading in lanes.Of)
        {
            list.Add(new(reading.Node, reading.Reading, await SeriesReader.StretchesAsync(store, state, reading, from, to)));
        }
        return data with { Lanes = list };
    }

    private async Task<TileData> SequenceAsync(TileData data, SequenceTile sequence)
    {
        async Task<List<long>> RisesAsync(ReadingRef reading) =>
            [.. (await SeriesReader.StretchesAsync(store, state, reading, from, to)).Select(s => s.From).Where(t => t > from || state.IsEvent(reading))];
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
    }

    private async Task<TileData> VesselAsync(TileData data, VesselTile vessel, int id)
    {
        var newest = readings.FirstOrDefault(r => r.Node == vessel.Reading.Node && r.Key == vessel.Reading.Reading)?.Newest;
        var quantity = state.Quantity(vessel.Reading.Node, vessel.Reading.Reading);
        return data with
        {
            Vessel = newest is null ? null : Vessel.Of(vessel, newest.Value, quantity?.Unit ?? "", quantity?.Error ?? 0),
            Lines = [new(vessel.Reading.Node, vessel.Reading.Reading, await SeriesReader.LineAsync(store, state, id, from, to, FigurePoints, now), null)],
        };
    }

    private async Task<TileData> CounterAsync(TileData data, CounterTile counter, int id)
    {
        var begins = Begins(TimeZoneInfo.FindSystemTimeZoneById(state.Design.Settings.TimeZone), counter.By, from, to);
        var bars = await SeriesReader.CountsAsync(store, id, begins, to);
        var (total, hours) = (bars.Sum(b => b.Count), (Math.Min(now, to) - from) / (double)HourMs);
        return data with { Counts = new(bars, total, bars.Select(b => b.Count).DefaultIfEmpty(0).Max(), hours > 0 ? total / hours : 0) };
    }

    private int? Id(ReadingRef reading) => state.Readings.TryGetValue((reading.Node, reading.Reading), out var row) ? row.Id : null;

    private async Task<List<EpisodeData>> EpisodesAsync(IReadOnlyList<ReadingRef> of)
    {
        var rules = state
            .Design.Rules.Select(r => (Rule: r, Reading: r.Inputs.FirstOrDefault(of.Contains)))
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
