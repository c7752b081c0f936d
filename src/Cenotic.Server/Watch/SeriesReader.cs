using System.Data.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>A line drawn from its samples or rollups: for each point the time, mean, lowest and highest.</summary>
/// <param name="StepMs">Length of a point, ms; a point stands for what lies in it.</param>
public sealed record LineView(IReadOnlyList<long> T, IReadOnlyList<double> Mean, IReadOnlyList<double> Low, IReadOnlyList<double> High, long StepMs);

/// <summary>What was counted in a stretch of the calendar.</summary>
/// <param name="FromMs">Its begin, UTC ms.</param>
public sealed record CountView(long FromMs, double Count);

/// <summary>What a counter counted in a stretch, by the clock on the wall.</summary>
/// <param name="Most">The highest bar.</param>
/// <param name="PerHour">The mean over the part of the stretch that has passed; 0 where none has.</param>
public sealed record CountsView(IReadOnlyList<CountView> Bars, double Total, double Most, double PerHour);

/// <summary>Reads series for drawing.</summary>
internal static class SeriesReader
{
    private const long MinutesWithinMs = 7 * 86_400_000L;

    /// <summary>A stretch as at most so many points, none of its highs and lows left out: from samples where a
    /// point is shorter than a minute, else from the rollups of minutes or hours.</summary>
    public static async Task<LineView> LineAsync(CenoticStore store, SiteState site, int reading, long from, long to, int points, long now)
    {
        var length = Math.Max(1, (to - from + points - 1) / points);
        // Where the samples or minutes of the stretch are not kept any more, minutes or hours tell it.
        var keeping = site.Design.Settings.Keeping;
        var coarse =
            from < Retention.MinutesFrom(keeping, now) ? SampleStatements.RollupSteps[1]
            : from < Retention.SamplesFrom(keeping, now) ? SampleStatements.RollupSteps[0]
            : 0;
        var step = Math.Max(coarse, SampleStatements.RollupSteps.LastOrDefault(s => s <= length));
        var bucket = step == 0 ? length : (length + step - 1) / step * step;
        var sql =
            step == 0
                ? "SELECT min(t), avg(value), min(value), max(value) FROM samples WHERE reading_id = $id AND t >= $from AND t <= $to AND flags & 40 = "
                    + "0 GROUP BY (t - $from) / $bucket ORDER BY 1"
                : "SELECT min(t), sum(sum) / sum(n), min(low), max(high) FROM rollups WHERE reading_id = $id AND step = $step AND t >= $from AND t <= "
                    + "$to GROUP BY t / $bucket ORDER BY 1";
        var (t, mean, low, high) = (new List<long>(), new List<double>(), new List<double>(), new List<double>());
        await foreach (var row in QueryAsync(store, sql, ("$id", reading), ("$from", from), ("$to", to), ("$step", step), ("$bucket", bucket)))
        {
            t.Add(row.GetInt64(0));
            mean.Add(row.GetDouble(1));
            low.Add(row.GetDouble(2));
            high.Add(row.GetDouble(3));
        }
        return new(t, mean, low, high, bucket);
    }

    /// <summary>When a state was not at rest; nothing for a reading that is not there.</summary>
    public static async Task<IReadOnlyList<Stretch>> StretchesAsync(CenoticStore store, SiteState state, ReadingRef reading, long from, long to)
    {
        if (!state.Readings.TryGetValue((reading.Node, reading.Reading), out var row))
        {
            return [];
        }
        // The sample before the stretch says how it begins.
        const string sql = """
            SELECT max(t, $from), value, t < $from FROM (SELECT t, value FROM samples WHERE reading_id = $id AND t < $from AND flags & 40 = 0
                ORDER BY t DESC, n DESC LIMIT 1)
            UNION ALL SELECT t, value, 0 FROM (SELECT t, value FROM samples WHERE reading_id = $id AND t >= $from AND t <= $to AND flags & 40 = 0
                ORDER BY t, n LIMIT 20000)
            """;
        var samples = new List<(long, double)>();
        var early = 0;
        await foreach (var sample in QueryAsync(store, sql, ("$id", row.Id), ("$from", from), ("$to", to)))
        {
            early += sample.GetInt32(2);
            samples.Add((sample.GetInt64(0), sample.GetDouble(1)));
        }
        // What came before the stretch says how a state begins; of events it is none of the stretch.
        var isEvent = state.IsEvent(reading);
        return EventLanes.Of(isEvent ? samples.Skip(early) : samples, to, EventLanes.RestsOn(state.Quantity(reading.Node, reading.Reading)?.Quantity), isEvent);
    }

    /// <summary>What a counter counted in each of the stretches that begin at <paramref name="begins"/>, the last of which ends at <paramref name="to"/>: from
    /// the rollups. A counter that is lower than half of before began anew at 0.</summary>
    public static async Task<List<CountView>> CountsAsync(CenoticStore store, int reading, IReadOnlyList<long> begins, long to)
    {
        const string sql = """
            SELECT t, last FROM (SELECT t, last FROM rollups WHERE reading_id = $id AND step = $step AND t < $from ORDER BY t DESC LIMIT 1)
            UNION ALL SELECT t, last FROM (SELECT t, last FROM rollups WHERE reading_id = $id AND step = $step AND t >= $from AND t < $to ORDER BY t)
            """;
        // Minutes see a counter that begins anew within an hour; over months the hours do.
        var step = to - begins[0] <= MinutesWithinMs ? SampleStatements.RollupSteps[0] : SampleStatements.RollupSteps[1];
        var counts = new double[begins.Count];
        var (before, at) = ((double?)null, 0);
        await foreach (var row in QueryAsync(store, sql, ("$id", reading), ("$step", step), ("$from", begins[0]), ("$to", to)))
        {
            var (t, last) = (row.GetInt64(0), row.GetDouble(1));
            if (t >= begins[0] && before is { } was)
            {
                while (at + 1 < begins.Count && begins[at + 1] <= t)
                {
                    at++;
                }
                // Far lower it began anew; a little lower it was put right.
                counts[at] +=
                    last >= was ? last - was
                    : last < was / 2 ? last
                    : 0;
            }
            before = last;
        }
        return [.. begins.Select((b, i) => new CountView(b, counts[i]))];
    }

    /// <summary>The newest sample of each reading of a site, by its id.</summary>
    public static async Task<Dictionary<int, (long T, double Value, int Flags)>> NewestAsync(CenoticStore store, string site)
    {
        const string sql = """
            SELECT r.Id, s.t, s.value, s.flags FROM readings r
            CROSS JOIN samples s ON s.reading_id = r.Id AND s.t = (SELECT max(t) FROM samples WHERE reading_id = r.Id)
            WHERE r.Site = $site ORDER BY s.n
            """;
        var newest = new Dictionary<int, (long, double, int)>();
        await foreach (var row in QueryAsync(store, sql, ("$site", site)))
        {
            newest[row.GetInt32(0)] = (row.GetInt64(1), row.GetDouble(2), row.GetInt32(3));
        }
        return newest;
    }

    private static async IAsyncEnumerable<DbDataReader> QueryAsync(CenoticStore store, string sql, params (string Name, object Value)[] parameters)
    {
        await store.Database.OpenConnectionAsync();
        await using var command = store.Database.GetDbConnection().CreateCommand();
        command.CommandText = sql;
        foreach (var (name, value) in parameters)
        {
            command.Parameters.Add(new SqliteParameter(name, value));
        }
        await using var rows = await command.ExecuteReaderAsync();
        while (await rows.ReadAsync())
        {
            yield return rows;
        }
    }
}
