using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>Opens and ends the episodes of rules, within the transaction that judged them.</summary>
internal static class RuleEpisodes
{
    /// <summary>Ends what stands open for rules that no longer watch what raised it: disarmed, gone, or of another condition by now.</summary>
    /// <param name="watching">Keys of the rules that still do.</param>
    /// <param name="gone">Keys of rules whose state is forgotten.</param>
    /// <returns>The episodes that it ended.</returns>
    internal static async Task<List<EpisodeRow>> EndAsync(
        CenoticStore store,
        string site,
        IReadOnlySet<string> watching,
        List<string> gone,
        IReadOnlyList<ZoneDesign> zones,
        long now
    )
    {
        var ended = (await store.Episodes.Where(e => e.Site == site && e.ClearedMs == null).ToListAsync())
            .Where(e => !watching.Contains(e.Rule) && zones.All(z => "zone:" + z.Key != e.Rule))
            .ToList();
        foreach (var open in ended)
        {
            open.ClearedMs = Math.Max(now, open.RaisedMs);
        }
        if (gone.Count > 0)
        {
            store.RuleStates.RemoveRange(await store.RuleStates.Where(r => r.Site == site && gone.Contains(r.Rule)).ToListAsync());
        }
        return ended;
    }

    /// <summary>Opens and ends episodes as rules turned, in order.</summary>
    internal static async Task<List<EpisodeRow>> RecordAsync(
        CenoticStore store,
        string site,
        List<(RuleDesign Rule, RuleEvent Event)> events,
        Func<RuleEvent, bool> isLate
    )
    {
        if (events.Count == 0)
        {
            return [];
        }
        await store.SaveChangesAsync();
        var (keys, hour) = (events.Select(e => e.Rule.Key).Distinct().ToList(), events.Min(e => e.Event.At) - NoticeSchedule.FlapWithinMs);
        var open = (await store.Episodes.Where(r => r.Site == site && r.ClearedMs == null && keys.Contains(r.Rule)).OrderBy(r => r.Id).ToListAsync())
            .GroupBy(r => r.Rule)
            .ToDictionary(g => g.Key, g => g.Last());
        var raised = (
            await store.Episodes.Where(r => r.Site == site && r.RaisedMs > hour && keys.Contains(r.Rule)).Select(r => new { r.Rule, r.RaisedMs }).ToListAsync()
        )
            .GroupBy(r => r.Rule)
            .ToDictionary(g => g.Key, g => g.Select(r => r.RaisedMs).ToList());
        var episodes = new List<EpisodeRow>();
        foreach (var (rule, e) in events)
        {
            if (e.Turn == RuleTurn.Cleared && open.Remove(rule.Key, out var ending))
            {
                ending.ClearedMs = e.At;
                episodes.Add(ending);
                continue;
            }
            if (!raised.TryGetValue(rule.Key, out var earlier))
            {
                raised[rule.Key] = earlier = [];
            }
            var row = store.Episodes.Add(Raised(site, rule, e, isLate(e), earlier)).Entity;
            earlier.Add(e.At);
            episodes.Add(row);
            if (e.Turn == RuleTurn.Cleared)
            {
                row.ClearedMs = e.At;
            }
            else
            {
                open[rule.Key] = row;
            }
        }
        return [.. episodes.Distinct()];
    }

    private static EpisodeRow Raised(string site, RuleDesign rule, RuleEvent e, bool late, List<long> earlier) =>
        new()
        {
            Site = site,
            Rule = rule.Key,
            Label = rule.Label,
            RaisedMs = e.At,
            Value = e.Value,
            Late = late,
            Damped = (rule.Tell?.Damped ?? !NoticeSchedule.IsOfMoments(rule)) && NoticeSchedule.Flaps(earlier, e.At),
            ToldUntilMs = e.At - 1,
        };
}
