using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>A zone that is to be armed or disarmed.</summary>
internal sealed record ArmWish(string Zone, ArmMode Mode, string Who);

/// <summary>What came of a look, shown once it is committed.</summary>
/// <param name="Turned">Episodes that began or ended.</param>
/// <param name="IsMore">True when more samples wait to be judged.</param>
/// <param name="DueAt">When time alone may turn something next, UTC ms of site time; null for never.</param>
/// <param name="HasPut">True when something was put into the outbox.</param>
internal sealed record LookResult(List<EpisodeRow> Turned, List<ZoneTurned> ZonesTurned, IReadOnlyList<ZoneNow> Zones, bool IsMore, long? DueAt, bool HasPut)
{
    /// <summary>The rules that are armed, with what they remember.</summary>
    internal required IReadOnlyList<(RuleDesign Rule, RuleState State)> Armed { get; init; }

    /// <summary>States that changed, as they are kept.</summary>
    internal required IReadOnlyList<(string Rule, string Condition, RuleState State)> Changed { get; init; }

    /// <summary>Rules that are armed no more.</summary>
    internal required IReadOnlyList<string> Gone { get; init; }
}

/// <summary>One look at the rules and zones of a site, within one transaction: what arrived, then what time did, then who is told.</summary>
/// <param name="late">True for the first look after a start: nobody was silent while nobody listened.</param>
internal sealed class RuleLook(CenoticStore store, SiteState state, RuleMemory memory, long now, bool late)
{
    private const int MostSamplesAtOnce = 20_000,
        LateAfterMs = 10_000;
    private readonly List<(RuleDesign Rule, RuleEvent Event)> _events = [];
    private List<RuleDesign> _armed = [];
    private Dictionary<string, string> _conditions = [];
    private Dictionary<string, RuleState> _states = [];
    private UsualAt? _usual;

    /// <param name="systemNow">UTC ms of this machine.</param>
    internal async Task<LookResult> RunAsync(ArmWish? arm, long systemNow)
    {
        var kept = await memory.KeptAsync(store, state.Site);
        await BeginAsync(kept);
        var zones = await ZoneStep.LoadAsync(store, state, now);
        if (late)
        {
            zones.Listen(now);
        }
        var full = await JudgeArrivedAsync(zones);
        if (!full)
        {
            zones.OnTime(now);
            if (arm is not null && state.Design.Zones.FirstOrDefault(z => z.Key == arm.Zone) is { } wanted)
            {
                zones.Arm(wanted, arm.Mode, now);
            }
        }
        var changed = JudgeTime(kept, full);
        List<string> gone = [.. kept.Keys.Where(k => !_states.ContainsKey(k))];
        var watching = _states.Keys.Where(r => !kept.TryGetValue(r, out var before) || before.Condition == _conditions[r]).ToHashSet();
        var episodes = await RuleEpisodes.EndAsync(store, state.Site, watching, gone, state.Design.Zones, now);
        episodes.AddRange(await RuleEpisodes.RecordAsync(store, state.Site, _events, e => late && now - e.At > LateAfterMs));
        episodes.AddRange(await zones.KeepAsync(arm?.Who));
        var (told, hasPut) = await NoticeStep.RunAsync(store, state, now, systemNow);
        await store.SaveChangesAsync();
        var due = _armed.Select(r => RuleJudge.DueAt(r, _states[r.Key], state.Facts)).Append(zones.DueAt(now)).Append(told).Min();
        return new(episodes, zones.Turned, zones.Now, full, due, hasPut)
        {
            Armed = [.. _armed.Select(r => (r, _states[r.Key]))],
            Changed = changed,
            Gone = gone,
        };
    }

    /// <summary>The armed rules with what they remember.</summary>
    private async Task BeginAsync(Dictionary<string, (string Condition, RuleState State)> kept)
    {
        var armed = state.Design.Rules.Where(r => r.Armed && memory.WatchedBy(r).Inputs.All(i => state.Readings.ContainsKey((i.Node, i.Reading)))).ToList();
        _conditions = armed.ToDictionary(r => r.Key, r => memory.WatchedBy(r).Condition);
        _states = armed.ToDictionary(
            r => r.Key,
            r => kept.TryGetValue(r.Key, out var known) && known.Condition == _conditions[r.Key] ? known.State : RuleState.Start(now)
        );
        if (late)
        {
            armed.ForEach(r => _states[r.Key] = RuleJudge.Listening(r, _states[r.Key], now));
        }
        _usual = armed.Any(r => memory.WatchedBy(r).Usual) ? new((reading, t) => memory.Usual.At(store, state, reading, t)) : null;
        // What is kept of a rule is kept by what its maker said; silence is judged by what the node runs.
        var ran = await memory.RunsAsync(store, state.Site, armed);
        _armed = [.. armed.Select(r => memory.WatchedBy(r).Silent.Any(ran.ContainsKey) ? ReportedSilence.Of(r, ran.GetValueOrDefault) : r)];
    }

    /// <summary>Gives what arrived since the last look to rules and zones, in order.</summary>
    /// <returns>True when more waits than is taken at once.</returns>
    private async Task<bool> JudgeArrivedAsync(ZoneStep zones)
    {
        var byReading = _armed
            .SelectMany(r => memory.WatchedBy(r).Inputs.Select(i => (Rule: r, Input: i)))
            .ToLookup(r => state.Readings[(r.Input.Node, r.Input.Reading)].Id);
        var ofZones = state
            .Design.Zones.SelectMany(z => ZoneStep.ReadingsOf(z).Select(r => (Zone: z, Reading: r)))
            .Where(r => state.Readings.ContainsKey(r.Reading))
            .ToLookup(r => state.Readings[r.Reading].Id, r => (r.Zone, Input: new ReadingRef(r.Reading.Node, r.Reading.Reading)));
        var row = await store.Sites.SingleAsync(s => s.Key == state.Site);
        var newest = await store.Arrivals.MaxAsync(a => (long?)a.Id) ?? 0;
        var (unjudged, full) = await UnjudgedAsync(byReading.Select(r => r.Key).Union(ofZones.Select(z => z.Key)), row.JudgedArrival);
        row.JudgedArrival = full ? unjudged[^1].Arrival : newest;
        memory.NoteBacklogs(state.Site, state, unjudged.Select(u => (u.Reading, u.T)), now);
        var together = new Dictionary<RuleDesign, List<(ReadingRef, double)>>(ReferenceEqualityComparer.Instance);
        for (var i = 0; i < unjudged.Count; i++)
        {
            var (arrival, reading, t, value) = unjudged[i];
            foreach (var (rule, input) in byReading[reading])
            {
                if (rule.Also.Count > 0)
                {
                    (together.TryGetValue(rule, out var of) ? of : together[rule] = []).Add((input, value));
                    continue;
                }
                Take(rule, RuleJudge.OnSample(rule, _states[rule.Key], input, t, value, _usual, state.Facts));
            }
            foreach (var (zone, input) in ofZones[reading])
            {
                zones.OnSample(zone, input.ToString(), t, value, state.IsEvent(input));
            }
            if (i + 1 == unjudged.Count || (unjudged[i + 1].Arrival, unjudged[i + 1].T) != (arrival, t))
            {
                foreach (var (rule, samples) in together)
                {
                    Take(rule, RuleJudge.OnSamples(rule, _states[rule.Key], t, samples, _usual, state.Facts));
                }
                together.Clear();
            }
        }
        return full;
    }

    /// <summary>Judges what time did, and keeps what the rules remember.</summary>
    /// <param name="full">Time is only judged when all that arrived has been: else a backlog would look like silence.</param>
    private List<(string Rule, string Condition, RuleState State)> JudgeTime(Dictionary<string, (string Condition, RuleState State)> kept, bool full)
    {
        var changed = new List<(string, string, RuleState)>();
        foreach (var rule in _armed)
        {
            if (!full)
            {
                Take(rule, RuleJudge.OnTime(rule, _states[rule.Key], memory.JudgedUntil(state.Site, rule, now), state.Facts));
            }
            var (condition, after) = (_conditions[rule.Key], _states[rule.Key]);
            if (!kept.TryGetValue(rule.Key, out var before) || before.Condition != condition || !ReferenceEquals(before.State, after))
            {
                changed.Add((rule.Key, condition, after));
                Keep(kept.ContainsKey(rule.Key), rule.Key, condition, after);
            }
        }
        return changed;
    }

    private void Take(RuleDesign rule, (RuleState State, IReadOnlyList<RuleEvent> Events) next)
    {
        _states[rule.Key] = next.State;
        _events.AddRange(next.Events.Select(e => (rule, e)));
    }

    private void Keep(bool known, string rule, string condition, RuleState kept)
    {
        var row = new RuleStateRow
        {
            Site = state.Site,
            Rule = rule,
            Condition = condition,
            State = JsonSerializer.Serialize(kept, CenoticJson.Options),
        };
        _ = known ? store.RuleStates.Update(row) : store.RuleStates.Add(row);
    }

    private async Task<(List<(long Arrival, int Reading, long T, double Value)> Samples, bool Full)> UnjudgedAsync(IEnumerable<int> readings, long after)
    {
        const int unjudged = (int)(SampleFlags.Late | SampleFlags.LeftOut | SampleFlags.Imported | SampleFlags.WorkedOutLater);
        await using var command = store.Database.GetDbConnection().CreateCommand();
        command.Transaction = Microsoft.EntityFrameworkCore.Storage.DbContextTransactionExtensions.GetDbTransaction(store.Database.CurrentTransaction!);
        command.CommandText =
            "SELECT arrival_id, reading_id, t, value FROM samples INDEXED BY samples_by_arrival WHERE arrival_id > $after AND reading_id IN "
            + $"({string.Join(',', readings)}) AND flags & {unjudged} = 0 ORDER BY arrival_id, t LIMIT {MostSamplesAtOnce}";
        command.Parameters.Add(new Microsoft.Data.Sqlite.SqliteParameter("$after", after));
        var list = new List<(long, int, long, double)>();
        await using var rows = await command.ExecuteReaderAsync();
        while (await rows.ReadAsync())
        {
            list.Add((rows.GetInt64(0), rows.GetInt32(1), rows.GetInt64(2), rows.GetDouble(3)));
        }
        var full = list.Count == MostSamplesAtOnce;
        if (full)
        {
            // A message is judged whole or not at all.
            var cut = list[^1].Item1;
            list.RemoveAll(s => s.Item1 == cut);
        }
        return (list, full);
    }
}
