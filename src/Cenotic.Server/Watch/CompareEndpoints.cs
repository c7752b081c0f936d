using Cenotic.Core.Catalogue;
using Cenotic.Core.Watch;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>Two readings compared over a stretch.</summary>
/// <param name="Lines">Of two continuous ones; null for events.</param>
/// <param name="Events">Of two event sensors; null for lines. A is the trusted one.</param>
/// <param name="A">Lane of the first; empty for lines.</param>
/// <param name="Reasons">Why they cannot be compared; empty when they can.</param>
public sealed record CompareView(
    LineComparison? Lines,
    EventComparison? Events,
    IReadOnlyList<Stretch> A,
    IReadOnlyList<Stretch> B,
    string Unit,
    long FromMs,
    long ToMs,
    IReadOnlyList<string> Reasons
);

/// <summary>Which of two sensors is as good as the other.</summary>
public static class CompareEndpoints
{
    private const int Stretches = 720;
    private const long ShortestMs = 60_000,
        ToleranceMs = 10_000;

    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Reading(routes).MapGet("/compare", CompareAsync).WithName("CompareReadings");

    /// <param name="a">"node/reading" of the trusted one.</param>
    /// <param name="b">"node/reading" of the other.</param>
    /// <param name="hours">How far back.</param>
    private static async Task<CompareView> CompareAsync(string site, string a, string b, double hours, SiteBook book, SiteClock clock, CenoticStore store)
    {
        var (state, now) = (book.Find(site)!, clock.Now(site));
        CompareView None(string why) => new(null, null, [], [], "", 0, 0, [why]);
        if (
            a == b
            || a.Split('/') is not [var nodeA, var keyA]
            || b.Split('/') is not [var nodeB, var keyB]
            || !state.Readings.TryGetValue((nodeA, keyA), out var one)
            || !state.Readings.TryGetValue((nodeB, keyB), out var two)
            || hours is not (> 0 and <= 24 * 366)
        )
        {
            return None("Choose two readings of this site, and a stretch of up to a year.");
        }
        static bool Events(ReadingRow row) => row.Kind is ReadingKind.State or ReadingKind.Event;
        if (Events(one) != Events(two))
        {
            return None("A state and a continuous reading are not compared.");
        }
        var from = now - (long)(hours * 3_600_000);
        if (Events(one))
        {
            var (lanes, others) = (
                await SeriesReader.StretchesAsync(store, state, new(nodeA, keyA), from, now),
                await SeriesReader.StretchesAsync(store, state, new(nodeB, keyB), from, now)
            );
            return lanes.Count == 0 && others.Count == 0
                ? None("Neither told of anything in that stretch; choose a longer one.")
                : new(null, CompareEvents.Of(lanes, others, from, now, ToleranceMs), lanes, others, "", from, now, []);
        }
        var (unitA, unitB) = (state.Quantity(nodeA, keyA)?.Unit ?? "", state.Quantity(nodeB, keyB)?.Unit ?? "");
        if (unitA != unitB)
        {
            return None($"One is in {unitA}, the other in {unitB}.");
        }
        // Whole minutes, so that minutes that are kept longer than samples serve as well; no shorter
        // than the slower of the two is sampled, so that each stretch has both.
        var sampling = Math.Max(await SamplingAsync(store, one.Id, from, now), await SamplingAsync(store, two.Id, from, now));
        var bucket = (Math.Max(Math.Max(ShortestMs, sampling), (now - from) / Stretches) + ShortestMs - 1) / ShortestMs * ShortestMs;
        var rows = await store
            .Database.SqlQuery<Pair>(
                $"""
                SELECT a.n * {bucket} AS T, a.v AS A, b.v AS B FROM
                    (SELECT t / {bucket} AS n, sum(sum) / sum(n) AS v FROM rollups WHERE reading_id = {one.Id} AND step = 60000 AND t >= {from}
                        GROUP BY t / {bucket}) a
                    JOIN (SELECT t / {bucket} AS n, sum(sum) / sum(n) AS v FROM rollups WHERE reading_id = {two.Id} AND step = 60000 AND t >= {from}
                        GROUP BY t / {bucket}) b ON a.n = b.n ORDER BY 1
                """
            )
            .ToListAsync();
        var compared = CompareLines.Of([.. rows.Select(r => new PairedMoment(r.T, r.A, r.B))], bucket, unitA, sampling);
        return compared.Ok ? new(compared.Value, null, [], [], unitA, from, now, []) : None(compared.Reasons[0]);
    }

    /// <summary>How far apart the values of a reading mostly are, ms: the middle distance of the minutes that have any.</summary>
    private static async Task<long> SamplingAsync(CenoticStore store, int reading, long from, long to) =>
        (
            await store
                .Database.SqlQuery<long?>(
                    $"""
                    SELECT gap AS Value FROM (SELECT t - lag(t) OVER (ORDER BY t) AS gap FROM rollups
                        WHERE reading_id = {reading} AND step = 60000 AND t >= {from} AND t <= {to}) WHERE gap IS NOT NULL
                    ORDER BY gap LIMIT 1 OFFSET (SELECT count(*) / 2 FROM rollups WHERE reading_id = {reading} AND step = 60000 AND t >= {from} AND t <= {to})
                    """
                )
                .ToListAsync()
        ).SingleOrDefault() ?? ShortestMs;

    private sealed record Pair(long T, double A, double B);
}
