using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <param name="Rule">As it would be put, armed or not.</param>
/// <param name="Days">How far back.</param>
/// <param name="AsItHappened">True for the order of the values' own times, late ones among them;
/// false for the order in which they arrived, as it was told.</param>
public sealed record TrialRequest(RuleDesign? Rule = null, double Days = 7, bool AsItHappened = false);

/// <param name="FromMs">Of the stretch that was tried, UTC ms; later than asked for where older values are not kept singly.</param>
/// <param name="Result">Null where the rule cannot be: then the reasons say why.</param>
public sealed record TrialView(TrialResult? Result, long FromMs, long ToMs, IReadOnlyList<string> Reasons);

/// <summary>Rules tried on what is stored before they are armed.</summary>
public static class TrialEndpoints
{
    private const int MostSamples = 1_000_000,
        Asked = 10_000;

    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Writing(routes).MapPost("/rules/trial", TryAsync).WithName("TryRule");

    private static async Task<TrialView> TryAsync(string site, TrialRequest request, SiteBook book, SiteClock clock, CenoticStore store, HttpContext http)
    {
        var state = book.Find(site)!;
        if (request.Rule is not { } rule || request.Days is not (> 0 and <= 366))
        {
            return new(null, 0, 0, ["Give a rule, and a stretch of up to 366 days."]);
        }
        // What would be refused as an edit is refused here; what has no name yet may be tried.
        var named = rule with { Key = "trial", Label = "Trial" };
        var checkedRule = EditBatch.Apply(state.Design, [new PutRule(named)]);
        var missing = rule.Inputs.Where(i => !state.Readings.ContainsKey((i.Node, i.Reading))).ToList();
        if (!checkedRule.Ok || missing.Count > 0)
        {
            // A sentence that is half written is no fault of anybody: it is answered, not refused.
            return new(
                null,
                0,
                0,
                checkedRule.Ok
                    ? [.. missing.Select(i => $"There is no reading \"{i.Reading}\" of a node \"{i.Node}\"; choose one there is.")]
                    : checkedRule.Reasons
            );
        }
        var readings = rule.Inputs.ToDictionary(i => state.Readings[(i.Node, i.Reading)].Id);
        var to = clock.Now(site);
        var from = to - (long)(request.Days * 86_400_000);
        const int Unjudged = (int)(SampleFlags.LeftOut | SampleFlags.Imported);
        var samples = await SamplesAsync(
            store,
            readings,
            from,
            request.AsItHappened,
            request.AsItHappened ? (int)SampleFlags.LeftOut : Unjudged,
            http.RequestAborted
        );
        from = samples.Count == MostSamples ? samples.Min(s => s.T) : from;
        var history = rule.Parts.Any(p => p.Condition is UnlikeUsual)
            ? await SamplesAsync(store, readings, from - (UsualBands.Days + 1) * 86_400_000L, byTime: true, UsualReader.Unlearnt, http.RequestAborted)
            : null;
        var zone = TimeZoneInfo.FindSystemTimeZoneById(state.Design.Settings.TimeZone);
        var result = await Task.Run(() => RuleTrial.Of(named, samples, from, to, zone, history, state.Facts), http.RequestAborted);
        return new(result with { Episodes = [.. result.Episodes.Take(Asked)] }, from, to, []);
    }

    private static async Task<List<TrialSample>> SamplesAsync(
        CenoticStore store,
        Dictionary<int, ReadingRef> readings,
        long from,
        bool byTime,
        int leftOut,
        CancellationToken stop
    )
    {
        await store.Database.OpenConnectionAsync(stop);
        await using var command = store.Database.GetDbConnection().CreateCommand();
        // What is kept in the order of time is put into that of arrival here: the reading's own index serves both.
        command.CommandText =
            $"SELECT t, value, flags, arrival_id, reading_id FROM samples WHERE reading_id IN ({string.Join(',', readings.Keys)}) AND t >= $from AND "
            + $"flags & {leftOut} = 0 ORDER BY t DESC, n DESC LIMIT {MostSamples}";
        command.Parameters.Add(new SqliteParameter("$from", from));
        var list = new List<(TrialSample Sample, long Arrival)>();
        await using var rows = await command.ExecuteReaderAsync(stop);
        while (await rows.ReadAsync(stop))
        {
            list.Add(
                (
                    new(
                        rows.GetInt64(0),
                        rows.GetDouble(1),
                        !byTime && ((SampleFlags)rows.GetInt64(2)).HasFlag(SampleFlags.Late),
                        readings[rows.GetInt32(4)],
                        byTime ? 0 : rows.GetInt64(3)
                    ),
                    rows.GetInt64(3)
                )
            );
        }
        list.Reverse();
        // A stable order: those of one message keep the order of their times.
        return [.. byTime ? list.Select(s => s.Sample) : list.OrderBy(s => s.Arrival).Select(s => s.Sample)];
    }
}
