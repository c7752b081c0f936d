using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Accounts;
using Cenotic.Server.Live;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>A reading with its newest sample.</summary>
/// <param name="LongestGapMs">After this long without a sample it is stale; null when it has no such time.</param>
/// <param name="Derived">What follows from it and its neighbour on the same part: dew point and water in the air. Empty for others.</param>
public sealed record ReadingView(string Node, string Key, string Label, string NodeLabel, ReadingKind Kind, string Quantity, string Unit, int Decimals, long? LongestGapMs, LiveSample? Newest, IReadOnlyList<Figure> Derived);

/// <summary>A line drawn from its samples or rollups: for each point the time, mean, lowest and highest.</summary>
/// <param name="StepMs">Length of a point, ms; a point stands for what lies in it.</param>
public sealed record LineView(IReadOnlyList<long> T, IReadOnlyList<double> Mean, IReadOnlyList<double> Low, IReadOnlyList<double> High, long StepMs);

/// <summary>Stretches of a state.</summary>
public sealed record LaneView(IReadOnlyList<Stretch> Stretches);

/// <summary>What the live page shows.</summary>
public static class WatchEndpoints
{
    private const int UsualPoints = 1_000, MostPoints = 5_000;
    private const long TogetherMs = 600_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/readings", ReadingsAsync).WithName("GetReadings");
        reading.MapGet("/readings/{node}/{key}/line", LineAsync).WithName("GetLine");
        reading.MapGet("/readings/{node}/{key}/lane", LaneAsync).WithName("GetLane");
    }

    private static async Task<List<ReadingView>> ReadingsAsync(string site, SiteBook book, CenoticStore store)
    {
        var state = book.Find(site)!;
        var newest = await NewestAsync(store, site);
        var list = new List<ReadingView>();
        foreach (var node in state.Design.Nodes)
        {
            foreach (var r in node.Readings)
            {
                var row = state.Readings[(node.Key, r.Key)];
                var unit = Intake.Quantity(state, node.Key, r.Key)?.Unit ?? "";
                list.Add(new(node.Key, r.Key, r.Label, node.Label, row.Kind, r.Quantity, unit, r.Decimals, r.LongestGapMs, newest.TryGetValue(row.Id, out var s) ? new(node.Key, r.Key, s.T, s.Value, s.Flags) : null, Derived(state, node, r, newest)));
            }
        }
        return list;
    }

    /// <summary>Dew point and water in the air, where the part tells humidity and temperature of about the same time.</summary>
    private static IReadOnlyList<Figure> Derived(SiteState state, NodeDesign node, ReadingDesign humidity, Dictionary<int, (long T, double Value, int Flags)> newest)
    {
        if (humidity.Quantity != "humidity" || node.Readings.FirstOrDefault(r => r.Part == humidity.Part && r.Quantity == "temperature") is not { } temperature
            || !newest.TryGetValue(state.Readings[(node.Key, humidity.Key)].Id, out var u) || !newest.TryGetValue(state.Readings[(node.Key, temperature.Key)].Id, out var t) || Math.Abs(u.T - t.T) > TogetherMs
            || ((SampleFlags)(u.Flags | t.Flags)).HasFlag(SampleFlags.Suspect))
        {
            return [];
        }
        double Error(ReadingDesign r) => Intake.Quantity(state, node.Key, r.Key)?.Error ?? 0;
        return HumidAir.Figures(t.Value, u.Value, Error(temperature), Error(humidity));
    }

    /// <summary>A stretch as at most so many points, none of its highs and lows left out: from samples where a point is shorter than a minute, else from the rollups of minutes or hours.</summary>
    private static async Task<Results<Ok<LineView>, ProblemHttpResult>> LineAsync(string site, string node, string key, long from, long to, SiteBook book, SiteClock clock, CenoticStore store, int points = UsualPoints)
    {
        if (!book.Find(site)!.Readings.TryGetValue((node, key), out var reading) || to <= from)
        {
            return TypedResults.Problem("There is no such reading, or the end is not after the start.", statusCode: 404);
        }
        if (points is < 10 or > MostPoints)
        {
            return TypedResults.Problem($"A line has 10 to {MostPoints} points.", statusCode: 422);
        }
        var length = (to - from + points - 1) / points;
        // Where the samples or minutes of the stretch are not kept any more, minutes or hours tell it.
        var (keeping, now) = (book.Find(site)!.Design.Settings.Keeping, clock.Now(site));
        var coarse = from < Retention.MinutesFrom(keeping, now) ? SampleStatements.RollupSteps[1] : from < Retention.SamplesFrom(keeping, now) ? SampleStatements.RollupSteps[0] : 0;
        var step = Math.Max(coarse, SampleStatements.RollupSteps.LastOrDefault(s => s <= length));
        var bucket = step == 0 ? Math.Max(1, length) : (length + step - 1) / step * step;
        var sql = step == 0
            ? "SELECT min(t), avg(value), min(value), max(value) FROM samples WHERE reading_id = $id AND t >= $from AND t <= $to AND flags & 8 = 0 GROUP BY (t - $from) / $bucket ORDER BY 1"
            : "SELECT min(t), sum(sum) / sum(n), min(low), max(high) FROM rollups WHERE reading_id = $id AND step = $step AND t >= $from AND t <= $to GROUP BY t / $bucket ORDER BY 1";
        var (t, mean, low, high) = (new List<long>(), new List<double>(), new List<double>(), new List<double>());
        await foreach (var row in QueryAsync(store, sql, ("$id", reading.Id), ("$from", from), ("$to", to), ("$step", step), ("$bucket", bucket)))
        {
            t.Add(row.GetInt64(0));
            mean.Add(row.GetDouble(1));
            low.Add(row.GetDouble(2));
            high.Add(row.GetDouble(3));
        }
        return TypedResults.Ok(new LineView(t, mean, low, high, bucket));
    }

    private static async Task<Results<Ok<LaneView>, ProblemHttpResult>> LaneAsync(string site, string node, string key, long from, long to, SiteBook book, CenoticStore store)
    {
        if (!book.Find(site)!.Readings.TryGetValue((node, key), out var reading) || to <= from)
        {
            return TypedResults.Problem("There is no such reading, or the end is not after the start.", statusCode: 404);
        }
        return TypedResults.Ok(new LaneView(await StretchesAsync(store, reading.Id, from, to)));
    }

    /// <summary>When a state was on.</summary>
    internal static async Task<IReadOnlyList<Stretch>> StretchesAsync(CenoticStore store, int reading, long from, long to)
    {
        // The sample before the stretch says how it begins.
        const string sql =
            """
            SELECT max(t, $from), value FROM (SELECT t, value FROM samples WHERE reading_id = $id AND t < $from AND flags & 8 = 0 ORDER BY t DESC, n DESC LIMIT 1)
            UNION ALL SELECT t, value FROM (SELECT t, value FROM samples WHERE reading_id = $id AND t >= $from AND t <= $to AND flags & 8 = 0 ORDER BY t, n LIMIT 20000)
            """;
        var samples = new List<(long, double)>();
        await foreach (var row in QueryAsync(store, sql, ("$id", reading), ("$from", from), ("$to", to)))
        {
            samples.Add((row.GetInt64(0), row.GetDouble(1)));
        }
        return EventLanes.Of(samples, to);
    }

    private static async Task<Dictionary<int, (long T, double Value, int Flags)>> NewestAsync(CenoticStore store, string site)
    {
        const string sql =
            """
            SELECT r.Id, s.t, s.value, s.flags FROM readings r
            JOIN samples s ON s.reading_id = r.Id AND s.t = (SELECT max(t) FROM samples WHERE reading_id = r.Id)
            WHERE r.Site = $site ORDER BY s.n
            """;
        var newest = new Dictionary<int, (long, double, int)>();
        await foreach (var row in QueryAsync(store, sql, ("$site", site)))
        {
            newest[row.GetInt32(0)] = (row.GetInt64(1), row.GetDouble(2), row.GetInt32(3));
        }
        return newest;
    }

    private static async IAsyncEnumerable<System.Data.Common.DbDataReader> QueryAsync(CenoticStore store, string sql, params (string Name, object Value)[] parameters)
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
