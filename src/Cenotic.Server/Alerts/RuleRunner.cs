using System.Collections.Concurrent;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Live;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>
/// Runs the rules on what arrived, in order of arrival, and on passing time. Cursor, state and episodes are kept in one transaction, so that a kill repeats or loses nothing.
/// </summary>
public sealed class RuleRunner(SiteBook book, SiteClock clock, WriteGate gate, SampleWriter writer, LiveFeed live, TimeProvider system, ILogger<RuleRunner> log) : BackgroundService
{
    private static readonly TimeSpan TickEvery = TimeSpan.FromMilliseconds(250);
    private const int MostSamplesAtOnce = 20_000, LateAfterMs = 10_000, LookEveryMs = 1_000;
    private readonly SemaphoreSlim _wake = new(0, 1);
    private readonly ConcurrentDictionary<(string Site, string Rule), (RuleDesign Rule, RuleState State)> _known = [];
    private readonly ConcurrentDictionary<string, IReadOnlyList<ZoneNow>> _zones = [];
    private readonly ConcurrentDictionary<string, bool> _telling = [];
    private readonly ConcurrentDictionary<string, long> _looked = [];

    /// <summary>Zones that turned, after it was kept.</summary>
    public event Action<IReadOnlyList<ZoneTurned>>? ZonesTurned;

    /// <summary>What a rule remembers now, or null.</summary>
    internal RuleState? StateOf(string site, string rule) => _known.TryGetValue((site, rule), out var known) ? known.State : null;

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
            foreach (var site in book.Sites)
            {
                try
                {
                    if (woken || first || IsDue(site))
                    {
                        while (await JudgeAsync(site, first))
                        {
                            // More is waiting than one transaction should hold.
                        }
                    }
                }
                catch (Exception fault) when (fault is not OperationCanceledException)
                {
                    log.LogError(fault, "The rules of {Site} were not judged; they are tried again.", site);
                }
            }
            first = false;
        }
    }

    private bool IsDue(string site)
    {
        var now = clock.Now(site);
        return book.Find(site) is { } state
            && (ZonesOf(site).Any(z => z.State.UntilMs <= now) || (LookAgain(site) && ((_telling.TryGetValue(site, out var telling) && telling) || ZonesOf(site).Any(z => z.State.Phase != ZonePhase.Off || z.Zone.Schedule is not null || z.Zone.Presence is not null)))
                || state.Design.Rules.Any(r => r.Armed && _known.TryGetValue((site, r.Key), out var known) && RuleJudge.DueAt(known.Rule, known.State) <= now));
    }

    /// <summary>What may fall due at any time is looked at once a second.</summary>
    private bool LookAgain(string site) => !_looked.TryGetValue(site, out var last) || Environment.TickCount64 - last >= LookEveryMs;

    /// <returns>True when more samples wait to be judged.</returns>
    private async Task<bool> JudgeAsync(string site, bool late, (string Zone, ArmMode Mode, string Who)? arm = null)
    {
        var state = book.Find(site)!;
        _looked[site] = Environment.TickCount64;
        var (turned, zonesTurned, more) = await gate.WriteAsync(async store =>
        {
            var row = await store.Sites.SingleAsync(s => s.Key == site);
            var rows = await store.RuleStates.Where(r => r.Site == site).ToDictionaryAsync(r => r.Rule);
            var armed = state.Design.Rules.Where(r => r.Armed && state.Readings.ContainsKey((r.Node, r.Reading))).ToList();
            var now = clock.Now(site);
            var states = armed.ToDictionary(r => r.Key, r => rows.TryGetValue(r.Key, out var kept) && kept.Condition == ConditionOf(r) ? JsonSerializer.Deserialize<RuleState>(kept.State, CenoticJson.Options)! : RuleState.Start(now));
            // What is kept of a rule is kept by what its maker said; silence is judged by what the node runs.
            var ran = await RunsAsync(store, site, armed);
            armed = [.. armed.Select(r => ReportedSilence.Of(r, ran.GetValueOrDefault(r.Node)))];
            var byReading = armed.ToLookup(r => state.Readings[(r.Node, r.Reading)].Id);
            var zones = await ZoneStep.LoadAsync(store, state, now);
            var ofZones = state.Design.Zones.SelectMany(z => ZoneStep.ReadingsOf(z).Select(r => (Zone: z, Reading: r))).Where(r => state.Readings.ContainsKey(r.Reading)).ToLookup(r => state.Readings[r.Reading].Id, r => (r.Zone, Name: $"{r.Reading.Node}/{r.Reading.Reading}"));
            var events = new List<(RuleDesign Rule, RuleEvent Event)>();
            var newest = await store.Arrivals.MaxAsync(a => (long?)a.Id) ?? 0;
            var (unjudged, full) = await UnjudgedAsync(store, byReading.Select(r => r.Key).Union(ofZones.Select(z => z.Key)), row.JudgedArrival);
            row.JudgedArrival = full ? unjudged[^1].Arrival : newest;
            foreach (var (_, reading, t, value) in unjudged)
            {
                foreach (var rule in byReading[reading])
                {
                    (states[rule.Key], var turns) = RuleJudge.OnSample(rule, states[rule.Key], t, value);
                    events.AddRange(turns.Select(e => (rule, e)));
                }
                foreach (var (zone, name) in ofZones[reading])
                {
                    zones.OnSample(zone, name, t, value);
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
                (states[rule.Key], var due) = full ? (states[rule.Key], null) : RuleJudge.OnTime(rule, states[rule.Key], now);
                if (due is not null)
                {
                    events.Add((rule, due));
                }
                Keep(store, rows.GetValueOrDefault(rule.Key), site, state.Design.Rule(rule.Key)!, states[rule.Key]);
            }
            await EndDisarmedAsync(store, site, armed, [.. state.Design.Zones.Select(z => "zone:" + z.Key)], now);
            var episodes = new List<EpisodeRow>();
            foreach (var (rule, e) in events)
            {
                episodes.Add(await RecordAsync(store, site, rule, e, late && now - e.At > LateAfterMs));
            }
            episodes.AddRange(await zones.KeepAsync(arm?.Who));
            _telling[site] = await NoticeStep.RunAsync(store, state, now, system.GetUtcNow().ToUnixTimeMilliseconds());
            await store.SaveChangesAsync();
            foreach (var rule in armed)
            {
                _known[(site, rule.Key)] = (rule, states[rule.Key]);
            }
            _zones[site] = zones.Now;
            return (episodes, zones.Turned, full);
        });
        if (zonesTurned.Count > 0)
        {
            ZonesTurned?.Invoke(zonesTurned);
            await live.ZonesAsync(site);
        }
        foreach (var episode in turned)
        {
            await live.EpisodeAsync(episode);
        }
        return more;
    }

    /// <summary>Settings that nodes reported and that were saved here, by node: of those whose silence is watched.</summary>
    private static async Task<Dictionary<string, IReadOnlyList<string>>> RunsAsync(CenoticStore store, string site, List<RuleDesign> armed)
    {
        var lines = new Dictionary<string, IReadOnlyList<string>>();
        foreach (var node in armed.Where(r => r.Condition is SilentFor).Select(r => r.Node).Distinct())
        {
            if (await store.NodeReports.Where(r => r.Site == site && r.Node == node && r.Settings != null).OrderByDescending(r => r.Id).Select(r => r.Settings).FirstOrDefaultAsync() is { } hash
                && await store.SavedSettings.AsNoTracking().FirstOrDefaultAsync(s => s.Site == site && s.Node == node && s.Hash == hash) is { } saved)
            {
                lines[node] = saved.Lines.Split('\n');
            }
        }
        return lines;
    }

    private static async Task<(List<(long Arrival, int Reading, long T, double Value)> Samples, bool Full)> UnjudgedAsync(CenoticStore store, IEnumerable<int> readings, long after)
    {
        const int unjudged = (int)(SampleFlags.Late | SampleFlags.Suspect | SampleFlags.Imported);
        await using var command = store.Database.GetDbConnection().CreateCommand();
        command.Transaction = Microsoft.EntityFrameworkCore.Storage.DbContextTransactionExtensions.GetDbTransaction(store.Database.CurrentTransaction!);
        command.CommandText = $"SELECT arrival_id, reading_id, t, value FROM samples INDEXED BY samples_by_arrival WHERE arrival_id > $after AND reading_id IN ({string.Join(',', readings)}) AND flags & {unjudged} = 0 ORDER BY arrival_id, t LIMIT {MostSamplesAtOnce}";
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

    private static void Keep(CenoticStore store, RuleStateRow? row, string site, RuleDesign rule, RuleState state)
    {
        if (row is null)
        {
            store.RuleStates.Add(row = new() { Site = site, Rule = rule.Key, State = "", Condition = "" });
        }
        (row.State, row.Condition) = (JsonSerializer.Serialize(state, CenoticJson.Options), ConditionOf(rule));
    }

    /// <summary>Ends what stands open for rules that are disarmed or gone.</summary>
    private static async Task EndDisarmedAsync(CenoticStore store, string site, List<RuleDesign> armed, List<string> zones, long now)
    {
        var keys = armed.Select(r => r.Key).ToList();
        foreach (var open in await store.Episodes.Where(e => e.Site == site && e.ClearedMs == null && !keys.Contains(e.Rule) && !zones.Contains(e.Rule)).ToListAsync())
        {
            open.ClearedMs = Math.Max(now, open.RaisedMs);
        }
        store.RuleStates.RemoveRange(await store.RuleStates.Where(r => r.Site == site && !keys.Contains(r.Rule)).ToListAsync());
    }

    private static async Task<EpisodeRow> RecordAsync(CenoticStore store, string site, RuleDesign rule, RuleEvent e, bool late)
    {
        await store.SaveChangesAsync();
        var open = await store.Episodes.Where(r => r.Site == site && r.Rule == rule.Key && r.ClearedMs == null).OrderByDescending(r => r.Id).FirstOrDefaultAsync();
        if (e.Turn == RuleTurn.Cleared)
        {
            open ??= store.Episodes.Add(new() { Site = site, Rule = rule.Key, Label = rule.Label, RaisedMs = e.At, Value = e.Value, Late = late, ToldUntilMs = e.At - 1 }).Entity;
            open.ClearedMs = e.At;
            return open;
        }
        var hour = e.At - NoticeSchedule.FlapWithinMs;
        var damped = NoticeSchedule.Flaps(await store.Episodes.Where(r => r.Site == site && r.Rule == rule.Key && r.RaisedMs > hour).Select(r => r.RaisedMs).ToListAsync(), e.At);
        return store.Episodes.Add(new() { Site = site, Rule = rule.Key, Label = rule.Label, RaisedMs = e.At, Value = e.Value, Late = late, Damped = damped, ToldUntilMs = e.At - 1 }).Entity;
    }

    private static string ConditionOf(RuleDesign rule) => JsonSerializer.Serialize(rule.Condition, CenoticJson.Options) + $" {rule.Node}/{rule.Reading}";
}
