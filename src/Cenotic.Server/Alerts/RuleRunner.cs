using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Live;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>
/// Runs the rules on what arrived, in order of arrival, and on passing time. Cursor, state and episodes
/// are kept in one transaction, so that a kill repeats or loses nothing.
/// </summary>
public sealed class RuleRunner(SiteBook book, SiteClock clock, WriteGate gate, SampleWriter writer, LiveFeed live, TimeProvider system, LoopHealth health)
    : BackgroundService
{
    private static readonly TimeSpan TickEvery = TimeSpan.FromMilliseconds(250);
    private const int MostSamplesAtOnce = 20_000,
        LateAfterMs = 10_000,
        LookEveryMs = 1_000,
        ReportsKeptMs = 5_000,
        RestAboveMs = 20,
        QueueLagMs = 3_000,
        QueueEndsMs = 10_000;
    private readonly SemaphoreSlim _wake = new(0, 1);
    private readonly ConcurrentDictionary<(string Site, string Rule), (RuleDesign Rule, RuleState State)> _known = [];
    private readonly ConcurrentDictionary<string, IReadOnlyList<ZoneNow>> _zones = [];
    private readonly ConcurrentDictionary<string, bool> _telling = [];
    private readonly ConcurrentDictionary<string, long> _looked = [];
    private readonly SemaphoreSlim _judging = new(1, 1);

    /// <summary>States as they lie in the database, by site and rule; forgotten when a look fails.</summary>
    private readonly Dictionary<string, Dictionary<string, (string Condition, RuleState State)>> _kept = [];
    private readonly Dictionary<string, (long At, Dictionary<string, IReadOnlyList<string>> Lines)> _ran = [];
    private readonly ConditionalWeakTable<RuleDesign, Watched> _watched = [];
    private readonly UsualReader _usual = new();

    /// <summary>Nodes that send what they had queued: their newest stamp, and when it was seen.</summary>
    private readonly Dictionary<(string Site, string Node), (long Stamp, long SeenAt)> _backlogs = [];

    /// <summary>What every look wants to know of a rule, worked out once.</summary>
    /// <param name="Condition">What a state belongs to: another condition or reading begins anew.</param>
    /// <param name="Silent">Nodes whose silence it watches.</param>
    private sealed record Watched(string Condition, IReadOnlyList<ReadingRef> Inputs, IReadOnlyList<string> Silent, bool Usual);

    /// <summary>Zones that turned, after it was kept.</summary>
    public event Action<IReadOnlyList<ZoneTurned>>? ZonesTurned;

    /// <summary>What a rule remembers now, or null.</summary>
    internal RuleState? StateOf(string site, string rule) => _known.TryGetValue((site, rule), out var known) ? known.State : null;

    /// <summary>True once the rules and zones of a site were looked at since the start.</summary>
    internal bool HasLooked(string site) => _zones.ContainsKey(site);

    /// <summary>The zones of a site as they stand.</summary>
    internal IReadOnlyList<ZoneNow> ZonesOf(string site) => _zones.TryGetValue(site, out var zones) ? zones : [];

    /// <summary>Arms or disarms a zone; all that arrived before is judged first.</summary>
    public async Task ArmAsync(string site, string zone, ArmMode mode, string who)
    {
        while (await JudgeAsync(site, late: false, (zone, mode, who)))
        {
            // More is waiting than one transaction should hold.
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        void Wake()
        {
            if (_wake.CurrentCount == 0)
            {
                try
                {
                    _wake.Release();
                }
                catch (SemaphoreFullException)
                {
                    // Somebody else woke it in the same instant.
                }
            }
        }
        writer.Committed += _ => Wake();
        book.Changed += _ => Wake();
        var first = true;
        while (!stoppingToken.IsCancellationRequested)
        {
            var woken = await _wake.WaitAsync(TickEvery, stoppingToken);
            var began = Environment.TickCount64;
            foreach (var site in book.Sites)
            {
                if (woken || first || IsDue(site))
                {
                    await health.RunAsync("rules", () => JudgeAllAsync(site, first), stoppingToken);
                }
            }
            first = false;
            // A long look rests as long as it took: what arrives meanwhile is judged together, and half a processor is left to others.
            if (Environment.TickCount64 - began is > RestAboveMs and var took)
            {
                await Task.Delay((int)Math.Min(took, LookEveryMs), stoppingToken);
            }
        }
    }

    private async Task JudgeAllAsync(string site, bool late)
    {
        while (await JudgeAsync(site, late))
        {
            // More is waiting than one transaction should hold.
        }
    }

    private bool IsDue(string site)
    {
        var now = clock.Now(site);
        return book.Find(site) is { } state
            && (
                ZonesOf(site).Any(z => z.State.UntilMs <= now)
                || (
                    LookAgain(site)
                    && (
                        (_telling.TryGetValue(site, out var telling) && telling)
                        || ZonesOf(site).Any(z => z.State.Phase != ZonePhase.Off || z.Zone.Schedule is not null || z.Zone.Presence is not null)
                    )
                )
                || state.Design.Rules.Any(r =>
                    r.Armed && _known.TryGetValue((site, r.Key), out var known) && RuleJudge.DueAt(known.Rule, known.State, state.Facts) <= now
                )
            );
    }

    /// <summary>What may fall due at any time is looked at once a second.</summary>
    private bool LookAgain(string site) => !_looked.TryGetValue(site, out var last) || Environment.TickCount64 - last >= LookEveryMs;

    /// <summary>Begins anew with every rule that has seen a moment that is yet to come: its open episodes end now, and it watches from now on.</summary>
    public async Task BeginAnewAsync(string site)
    {
        await _judging.WaitAsync();
        try
        {
            var now = clock.Now(site);
            await gate.WriteAsync(async store =>
            {
                var ahead = (await store.RuleStates.Where(r => r.Site == site).ToListAsync())
                    .Where(r => JsonSerializer.Deserialize<RuleState>(r.State, CenoticJson.Options)!.LastHeard > now)
                    .ToList();
                store.RuleStates.RemoveRange(ahead);
                var rules = ahead.Select(r => r.Rule).ToHashSet();
                foreach (var open in (await store.Episodes.Where(e => e.Site == site && e.ClearedMs == null).ToListAsync()).Where(e => rules.Contains(e.Rule)))
                {
                    open.ClearedMs = Math.Max(now, open.RaisedMs);
                }
            });
            _kept.Remove(site);
            foreach (var known in _known.Keys.Where(k => k.Item1 == site).ToList())
            {
                _known.Remove(known, out _);
            }
        }
        finally
        {
            _judging.Release();
        }
    }

    /// <returns>True when more samples wait to be judged.</returns>
    private async Task<bool> JudgeAsync(string site, bool late, (string Zone, ArmMode Mode, string Who)? arm = null)
    {
        // One look at a time: the next begins with what this one kept.
        await _judging.WaitAsync();
        try
        {
            return await LookAsync(site, late, arm);
        }
        catch
        {
            _kept.Remove(site);
            throw;
        }
        finally
        {
            _judging.Release();
        }
    }

    private async Task<bool> LookAsync(string site, bool late, (string Zone, ArmMode Mode, string Who)? arm)
    {
        _looked[site] = Environment.TickCount64;
        var changed = new List<(string Rule, string Condition, RuleState State)>();
        var gone = new List<string>();
        var (turned, zonesTurned, more, zonesNow) = await gate.WriteAsync(async store =>
        {
            // Inside the gate: as it stands once all that was written before is.
            var state = book.Find(site)!;
            var row = await store.Sites.SingleAsync(s => s.Key == site);
            if (!_kept.TryGetValue(site, out var kept))
            {
                _kept[site] = kept = (await store.RuleStates.AsNoTracking().Where(r => r.Site == site).ToListAsync()).ToDictionary(
                    r => r.Rule,
                    r => (r.Condition, JsonSerializer.Deserialize<RuleState>(r.State, CenoticJson.Options)!)
                );
            }
            var armed = state.Design.Rules.Where(r => r.Armed && WatchedBy(r).Inputs.All(i => state.Readings.ContainsKey((i.Node, i.Reading)))).ToList();
            var now = clock.Now(site);
            var conditions = armed.ToDictionary(r => r.Key, r => WatchedBy(r).Condition);
            var states = armed.ToDictionary(
                r => r.Key,
                r => kept.TryGetValue(r.Key, out var known) && known.Condition == conditions[r.Key] ? known.State : RuleState.Start(now)
            );
            if (late)
            {
                armed.ForEach(r => states[r.Key] = RuleJudge.Listening(r, states[r.Key], now));
            }
            var overdue = state.Facts;
            // What is kept of a rule is kept by what its maker said; silence is judged by what the node runs.
            var ran = await RunsAsync(store, site, armed);
            armed = [.. armed.Select(r => WatchedBy(r).Silent.Any(ran.ContainsKey) ? ReportedSilence.Of(r, ran.GetValueOrDefault) : r)];
            var byReading = armed
                .SelectMany(r => WatchedBy(r).Inputs.Select(i => (Rule: r, Input: i)))
                .ToLookup(r => state.Readings[(r.Input.Node, r.Input.Reading)].Id);
            var usual = armed.Any(r => WatchedBy(r).Usual) ? new UsualAt((reading, t) => _usual.At(store, state, reading, t)) : null;
            var zones = await ZoneStep.LoadAsync(store, state, now);
            if (late)
            {
                zones.Listen(now);
            }
            var ofZones = state
                .Design.Zones.SelectMany(z => ZoneStep.ReadingsOf(z).Select(r => (Zone: z, Reading: r)))
                .Where(r => state.Readings.ContainsKey(r.Reading))
                .ToLookup(r => state.Readings[r.Reading].Id, r => (r.Zone, Input: new ReadingRef(r.Reading.Node, r.Reading.Reading)));
            var events = new List<(RuleDesign Rule, RuleEvent Event)>();
            var newest = await store.Arrivals.MaxAsync(a => (long?)a.Id) ?? 0;
            var (unjudged, full) = await UnjudgedAsync(store, byReading.Select(r => r.Key).Union(ofZones.Select(z => z.Key)), row.JudgedArrival);
            row.JudgedArrival = full ? unjudged[^1].Arrival : newest;
            NoteBacklogs(site, state, unjudged.Select(u => (u.Reading, u.T)), now);
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
                    (states[rule.Key], var turns) = RuleJudge.OnSample(rule, states[rule.Key], input, t, value, usual, overdue);
                    events.AddRange(turns.Select(e => (rule, e)));
                }
                foreach (var (zone, input) in ofZones[reading])
                {
                    zones.OnSample(zone, input.ToString(), t, value, state.IsEvent(input));
                }
                if (i + 1 == unjudged.Count || (unjudged[i + 1].Arrival, unjudged[i + 1].T) != (arrival, t))
                {
                    foreach (var (rule, samples) in together)
                    {
                        (states[rule.Key], var turns) = RuleJudge.OnSamples(rule, states[rule.Key], t, samples, usual, overdue);
                        events.AddRange(turns.Select(e => (rule, e)));
                    }
                    together.Clear();
                }
            }
            if (!full)
            {
                zones.OnTime(now);
                if (arm is { } wish && state.Design.Zones.FirstOrDefault(z => z.Key == wish.Zone) is { } wanted)
                {
                    zones.Arm(wanted, wish.Mode, now);
                }
            }
            foreach (var rule in armed)
            {
                // Time is only judged when all that arrived has been: else a backlog would look like silence.
                (states[rule.Key], var due) = full ? (states[rule.Key], []) : RuleJudge.OnTime(rule, states[rule.Key], JudgedUntil(site, rule, now), overdue);
                events.AddRange(due.Select(e => (rule, e)));
                if (!kept.TryGetValue(rule.Key, out var before) || before.Condition != conditions[rule.Key] || !ReferenceEquals(before.State, states[rule.Key]))
                {
                    changed.Add((rule.Key, conditions[rule.Key], states[rule.Key]));
                    Keep(store, kept.ContainsKey(rule.Key), site, rule.Key, conditions[rule.Key], states[rule.Key]);
                }
            }
            gone.AddRange(kept.Keys.Where(k => !states.ContainsKey(k)));
            await EndDisarmedAsync(store, site, states.Keys, gone, state.Design.Zones, now);
            var episodes = await RecordAsync(store, site, events, e => late && now - e.At > LateAfterMs);
            episodes.AddRange(await zones.KeepAsync(arm?.Who));
            _telling[site] = await NoticeStep.RunAsync(store, state, now, system.GetUtcNow().ToUnixTimeMilliseconds());
            await store.SaveChangesAsync();
            foreach (var rule in armed)
            {
                _known[(site, rule.Key)] = (rule, states[rule.Key]);
            }
            return (episodes, zones.Turned, full, zones.Now);
        });
        // Shown once it is committed: who sees the alarm finds its episode.
        _zones[site] = zonesNow;
        foreach (var (rule, condition, now) in changed)
        {
            _kept[site][rule] = (condition, now);
        }
        gone.ForEach(rule => _kept[site].Remove(rule));
        if (zonesTurned.Count > 0)
        {
            ZonesTurned?.Invoke(zonesTurned);
            await live.ZonesAsync(site);
        }
        foreach (var episode in turned)
        {
            await live.EpisodeAsync(episode.Site, EpisodeView.Of(episode));
        }
        return more;
    }

    /// <summary>Up to when a rule is judged by the clock: one of sequences waits while a node sends what it
    /// had queued, since what belongs to an event may be in its next message.</summary>
    private long JudgedUntil(string site, RuleDesign rule, long now) =>
        !rule.Parts.Any(p => p.Condition is InSequence)
            ? now
            : WatchedBy(rule)
                .Inputs.Min(i =>
                    _backlogs.TryGetValue((site, i.Node), out var backlog) && now - backlog.SeenAt < QueueEndsMs ? Math.Min(now, backlog.Stamp) : now
                );

    /// <summary>Notes the nodes whose newest values are old: they send their queues.</summary>
    private void NoteBacklogs(string site, SiteState state, IEnumerable<(int Reading, long T)> arrived, long now)
    {
        var newest = new Dictionary<int, long>();
        foreach (var (reading, t) in arrived)
        {
            newest[reading] = Math.Max(t, newest.GetValueOrDefault(reading));
        }
        if (newest.Count == 0)
        {
            return;
        }
        foreach (var node in state.Readings.Where(r => newest.ContainsKey(r.Value.Id)).GroupBy(r => r.Key.Node, r => newest[r.Value.Id]))
        {
            var stamp = node.Max();
            if (now - stamp > QueueLagMs)
            {
                _backlogs[(site, node.Key)] = (stamp, now);
            }
            else
            {
                _backlogs.Remove((site, node.Key));
            }
        }
    }

    /// <summary>Settings that nodes reported and that were saved here, by node: of those whose silence is watched. Looked up anew every few seconds.</summary>
    private async Task<Dictionary<string, IReadOnlyList<string>>> RunsAsync(CenoticStore store, string site, List<RuleDesign> armed)
    {
        if (_ran.TryGetValue(site, out var known) && Environment.TickCount64 - known.At < ReportsKeptMs)
        {
            return known.Lines;
        }
        var lines = new Dictionary<string, IReadOnlyList<string>>();
        foreach (var node in armed.SelectMany(r => WatchedBy(r).Silent).Distinct())
        {
            if (
                await store
                    .NodeReports.Where(r => r.Site == site && r.Node == node && r.Settings != null)
                    .OrderByDescending(r => r.Id)
                    .Select(r => r.Settings)
                    .FirstOrDefaultAsync()
                    is { } hash
                && await store.SavedSettings.AsNoTracking().FirstOrDefaultAsync(s => s.Site == site && s.Node == node && s.Hash == hash) is { } saved
            )
            {
                lines[node] = saved.Lines.Split('\n');
            }
        }
        _ran[site] = (Environment.TickCount64, lines);
        return lines;
    }

    private static async Task<(List<(long Arrival, int Reading, long T, double Value)> Samples, bool Full)> UnjudgedAsync(
        CenoticStore store,
        IEnumerable<int> readings,
        long after
    )
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

    private static void Keep(CenoticStore store, bool known, string site, string rule, string condition, RuleState state)
    {
        var row = new RuleStateRow
        {
            Site = site,
            Rule = rule,
            Condition = condition,
            State = JsonSerializer.Serialize(state, CenoticJson.Options),
        };
        _ = known ? store.RuleStates.Update(row) : store.RuleStates.Add(row);
    }

    /// <summary>Ends what stands open for rules that are disarmed or gone.</summary>
    private static async Task EndDisarmedAsync(
        CenoticStore store,
        string site,
        IReadOnlyCollection<string> armed,
        List<string> gone,
        IReadOnlyList<ZoneDesign> zones,
        long now
    )
    {
        foreach (var open in await store.Episodes.Where(e => e.Site == site && e.ClearedMs == null).ToListAsync())
        {
            if (!armed.Contains(open.Rule) && zones.All(z => "zone:" + z.Key != open.Rule))
            {
                open.ClearedMs = Math.Max(now, open.RaisedMs);
            }
        }
        if (gone.Count > 0)
        {
            store.RuleStates.RemoveRange(await store.RuleStates.Where(r => r.Site == site && gone.Contains(r.Rule)).ToListAsync());
        }
    }

    /// <summary>Opens and ends episodes as rules turned, in order.</summary>
    private static async Task<List<EpisodeRow>> RecordAsync(
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
            var row = store
                .Episodes.Add(
                    new()
                    {
                        Site = site,
                        Rule = rule.Key,
                        Label = rule.Label,
                        RaisedMs = e.At,
                        Value = e.Value,
                        Late = isLate(e),
                        Damped = (rule.Tell?.Damped ?? !NoticeSchedule.IsOfMoments(rule)) && NoticeSchedule.Flaps(earlier, e.At),
                        ToldUntilMs = e.At - 1,
                    }
                )
                .Entity;
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

    private Watched WatchedBy(RuleDesign rule) =>
        _watched.GetValue(rule, static r =>
            new(
                JsonSerializer.Serialize(r.Condition, CenoticJson.Options)
                    + $" {r.Node}/{r.Reading}"
                    + (r.Also.Count == 0 ? "" : $" {r.Join} " + JsonSerializer.Serialize(r.Also, CenoticJson.Options)),
                r.Inputs,
                [.. r.Parts.Where(p => p.Condition is SilentFor).Select(p => p.Reading.Node)],
                r.Parts.Any(p => p.Condition is UnlikeUsual)
            )
        );
}
