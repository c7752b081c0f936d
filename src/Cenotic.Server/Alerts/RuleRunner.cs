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
    private const int RestAboveMs = 20,
        LongestRestMs = 1_000;

    /// <summary>What stays due after a look is looked at again after this.</summary>
    private static readonly TimeSpan AgainAfter = TimeSpan.FromSeconds(1);

    /// <summary>The clock of this machine may be set: what is due is looked for again after this at the latest.</summary>
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(10);
    private readonly WakeSignal _wake = new(system);
    private readonly ConcurrentDictionary<(string Site, string Rule), (RuleDesign Rule, RuleState State)> _known = [];
    private readonly ConcurrentDictionary<string, IReadOnlyList<ZoneNow>> _zones = [];

    /// <summary>When time alone may turn something next, and the time of the look that said so, ms of site time.</summary>
    private readonly ConcurrentDictionary<string, (long At, long Looked)> _due = [];
    private readonly SemaphoreSlim _judging = new(1, 1);
    private readonly RuleMemory _memory = new();

    /// <summary>The rules and zones of a site were looked at.</summary>
    public event Action<string>? Looked;

    /// <summary>Something was put into the outbox.</summary>
    public event Action? NoticesPut;

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
        while (await JudgeAsync(site, late: false, new(zone, mode, who)))
        {
            // More is waiting than one transaction should hold.
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        writer.Committed += _ => _wake.Wake();
        book.Changed += _ => _wake.Wake();
        clock.Changed += _wake.Wake;
        var first = true;
        while (!stoppingToken.IsCancellationRequested)
        {
            var woken = await _wake.WaitAsync(first ? TimeSpan.Zero : UntilDue(), stoppingToken);
            var began = Environment.TickCount64;
            foreach (var site in book.Sites)
            {
                if ((woken || first || IsDue(site)) && !await health.RunAsync("rules", () => JudgeAllAsync(site, first), stoppingToken))
                {
                    _due[site] = (clock.Now(site), clock.Now(site));
                }
            }
            first = false;
            // A long look rests as long as it took: what arrives meanwhile is judged together, and half a processor is left to others.
            if (Environment.TickCount64 - began is > RestAboveMs and var took)
            {
                await Task.Delay((int)Math.Min(took, LongestRestMs), stoppingToken);
            }
        }
    }

    private bool IsDue(string site) => _due.TryGetValue(site, out var due) && due.At <= clock.Now(site);

    /// <summary>How long nothing is due. What was due at the last look and still is waits a little.</summary>
    private TimeSpan UntilDue()
    {
        var next = LongestWait;
        foreach (var (site, due) in _due)
        {
            var until = due.At <= due.Looked ? AgainAfter : clock.Until(site, due.At);
            next = until < next ? until : next;
        }
        return next;
    }

    private async Task JudgeAllAsync(string site, bool late)
    {
        while (await JudgeAsync(site, late))
        {
            // More is waiting than one transaction should hold.
        }
    }

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
            _memory.Forget(site);
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
    private async Task<bool> JudgeAsync(string site, bool late, ArmWish? arm = null)
    {
        // One look at a time: the next begins with what this one kept.
        await _judging.WaitAsync();
        try
        {
            return await LookAsync(site, late, arm);
        }
        catch
        {
            _memory.Forget(site);
            throw;
        }
        finally
        {
            _judging.Release();
        }
    }

    private async Task<bool> LookAsync(string site, bool late, ArmWish? arm)
    {
        var now = 0L;
        var looked = await gate.WriteAsync(store =>
        {
            // Inside the gate: as it stands once all that was written before is.
            var state = book.Find(site)!;
            now = clock.Now(site);
            return new RuleLook(store, state, _memory, now, late).RunAsync(arm, system.GetUtcNow().ToUnixTimeMilliseconds());
        });
        // Shown once it is committed: who sees the alarm finds its episode.
        _memory.Take(site, looked);
        foreach (var (rule, state) in looked.Armed)
        {
            _known[(site, rule.Key)] = (rule, state);
        }
        var sensorsTurned = !SensorsOf(ZonesOf(site)).SetEquals(SensorsOf(looked.Zones));
        _zones[site] = looked.Zones;
        if (looked.DueAt is { } due)
        {
            _due[site] = (due, now);
        }
        else
        {
            _due.TryRemove(site, out _);
        }
        if (looked.HasPut)
        {
            NoticesPut?.Invoke();
        }
        Looked?.Invoke(site);
        await TellAsync(site, looked, sensorsTurned);
        return looked.IsMore;
    }

    /// <summary>Sensors of zones as they are on or off: a window that is opened turns no zone that is off, but it shows there.</summary>
    private static HashSet<(string Zone, string Sensor, bool On)> SensorsOf(IReadOnlyList<ZoneNow> zones) =>
        [.. zones.SelectMany(z => z.State.Sensors.Select(s => (z.Zone.Key, s.Key, s.Value.On)))];

    /// <param name="sensorsTurned">True when a sensor of a zone went on or off, or was heard for the first time.</param>
    private async Task TellAsync(string site, LookResult looked, bool sensorsTurned)
    {
        if (looked.ZonesTurned.Count > 0)
        {
            ZonesTurned?.Invoke(looked.ZonesTurned);
        }
        if (looked.ZonesTurned.Count > 0 || sensorsTurned)
        {
            await live.ZonesAsync(site);
        }
        foreach (var episode in looked.Turned)
        {
            await live.EpisodeAsync(episode.Site, EpisodeView.Of(episode));
        }
    }
}
