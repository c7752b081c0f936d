using System.Collections.Concurrent;
using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using Cenotic.Server.Commands;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>
/// Says what rules and zones want of outputs: on while an episode lasts, on while all is well for a permit, on while a zone sounds. It follows from
/// what is kept of rules and zones, so that after a start it is wanted again; who has an output is decided by <see cref="OutputJudge"/>.
/// </summary>
public sealed class ActKeeper(
    IDbContextFactory<CenoticStore> stores,
    SiteBook book,
    SiteClock clock,
    RuleRunner runner,
    OutputLeases outputs,
    TimeProvider system,
    LoopHealth health
) : BackgroundService
{
    /// <summary>While an alarm sounds: it may be until a notice was handed over.</summary>
    private static readonly TimeSpan AlarmEvery = TimeSpan.FromMilliseconds(300);
    private const long LampMs = 3_000;
    private readonly WakeSignal _wake = new(system);

    /// <summary>Looks at the rules of each site so far, and what was raised at one of them.</summary>
    private readonly ConcurrentDictionary<string, long> _looks = [];
    private readonly ConcurrentDictionary<string, (long Look, IReadOnlyDictionary<string, long> Rules)> _raised = [];
    private readonly ConcurrentQueue<ZoneTurned> _turned = [];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        runner.ZonesTurned += turned =>
        {
            foreach (var one in turned)
            {
                _turned.Enqueue(one);
            }
            _wake.Wake();
        };
        runner.Looked += site =>
        {
            _looks.AddOrUpdate(site, 1, (_, looks) => looks + 1);
            _wake.Wake();
        };
        while (!stoppingToken.IsCancellationRequested)
        {
            var rests = new List<TimeSpan?>();
            foreach (var site in book.Sites.Where(runner.HasLooked))
            {
                rests.Add(await health.RunAsync("acts", () => KeepAsync(site), stoppingToken) ? Rest(site) : AlarmEvery);
            }
            rests.Add(await health.RunAsync("acts", ChirpAsync, stoppingToken) ? null : AlarmEvery);
            await _wake.WaitAsync(rests.Min(), stoppingToken);
        }
    }

    /// <summary>After how long what is wanted is looked at again without a word of rules and zones; null for never.</summary>
    private TimeSpan? Rest(string site) =>
        runner.ZonesOf(site).Any(z => z.State.Phase == ZonePhase.Alarm) ? AlarmEvery
        : NextPermit(site) is { } at && clock.Until(site, at) is var until ? (until > AlarmEvery ? until : AlarmEvery)
        : null;

    /// <summary>When a permit that is given ends for want of word, or is to be given for longer; null for none.</summary>
    private long? NextPermit(string site)
    {
        var (design, now) = (book.Find(site)!.Design, clock.Now(site));
        return Permits(design)
            .Select(p => HeardUntil(site, design, p.Rule) is { } until && until >= now ? Math.Min(until + 1, now + p.MostMs / 2) : (long?)null)
            .Min();
    }

    private static IEnumerable<(RuleDesign Rule, long MostMs)> Permits(SiteDesign design) =>
        from rule in design.Rules
        where rule.Armed
        from act in rule.Acts
        where act.While == ActWhile.Calm && MostOf(design, act) is not null
        select (rule, MostOf(design, act)!.Value);

    private static long? MostOf(SiteDesign design, ActDesign act) => design.Node(act.Node)?.Reading(act.Output)?.Output?.MaxOnMs;

    private long? HeardUntil(string site, SiteDesign design, RuleDesign rule) =>
        runner.StateOf(site, rule.Key) is { } state ? RuleJudge.HeardUntil(rule, state, reading => design.Reading(reading)?.MessageGapMs) : null;

    private async Task KeepAsync(string site)
    {
        var (design, now, wanted) = (book.Find(site)!.Design, clock.Now(site), new List<(OutputKey Of, OutputWish Wish)>());
        var withheld = new Dictionary<OutputKey, string>();
        foreach (var (zone, state) in runner.ZonesOf(site))
        {
            if (state.Phase == ZonePhase.Alarm && ZoneJudge.SoundsUntil(zone, state, now, zone.SoundOnceTold && await ToldAsync(site, zone.Key)) is { } until)
            {
                wanted.AddRange(
                    zone.Sounders.Select(s =>
                        (
                            new OutputKey(site, s.Node, s.Output),
                            new OutputWish($"zone {zone.Key} {state.SinceMs}", WishRank.Alarm, $"the alarm of {zone.Label}", until)
                        )
                    )
                );
            }
        }
        var acting = design.Rules.Where(r => r.Armed && r.Acts.Count > 0).ToList();
        var raised = acting.Count > 0 ? await RaisedAsync(site, acting) : new Dictionary<string, long>();
        foreach (var (rule, act) in acting.SelectMany(r => r.Acts.Select(a => (r, a))))
        {
            var key = new OutputKey(site, act.Node, act.Output);
            if (MostOf(design, act) is not { } most)
            {
                continue;
            }
            if (act.While == ActWhile.Raised && raised.TryGetValue(rule.Key, out var since))
            {
                wanted.Add((key, new($"{rule.Key} {since}", WishRank.Rule, $"the rule {rule.Label}", since + (act.ForMs ?? most))));
            }
            else if (act.While == ActWhile.Calm)
            {
                // A permit is given only while the rule hears all its readings; without it the output is off, whoever wants it on.
                if (!raised.ContainsKey(rule.Key) && HeardUntil(site, design, rule) >= now)
                {
                    wanted.Add((key, new($"{rule.Key} permit", WishRank.Permit, $"the permit of {rule.Label}", now + most)));
                }
                else
                {
                    withheld[key] = $"the permit of {rule.Label}";
                }
            }
        }
        outputs.Want(site, wanted.GroupBy(w => w.Of).ToDictionary(g => g.Key, g => (IReadOnlyList<OutputWish>)[.. g.Select(w => w.Wish)]), withheld);
    }

    /// <summary>Whether a notice of the alarm that stands was handed over.</summary>
    private async Task<bool> ToldAsync(string site, string zone)
    {
        await using var store = await stores.CreateDbContextAsync();
        var rule = "zone:" + zone;
        return await store
            .Episodes.Where(e => e.Site == site && e.Rule == rule && e.ClearedMs == null)
            .AnyAsync(e => store.OutboxEpisodes.Any(o => o.Episode == e.Id && store.Outbox.Any(m => m.Id == o.Outbox && m.Taken)));
    }

    /// <summary>Since when each of these rules is raised, as it was kept with the last look at them.</summary>
    private async Task<IReadOnlyDictionary<string, long>> RaisedAsync(string site, List<RuleDesign> acting)
    {
        var (keys, look) = (acting.Select(r => r.Key).ToList(), _looks.GetValueOrDefault(site));
        if (_raised.TryGetValue(site, out var known) && known.Look == look)
        {
            return known.Rules;
        }
        await using var store = await stores.CreateDbContextAsync();
        var raised = (await store.Episodes.AsNoTracking().Where(e => e.Site == site && e.ClearedMs == null && keys.Contains(e.Rule)).ToListAsync())
            .GroupBy(e => e.Rule)
            .ToDictionary(g => g.Key, g => g.Max(e => e.RaisedMs));
        _raised[site] = (look, raised);
        return raised;
    }

    /// <summary>A short sound when a zone is left and when it is armed; its lamp at each trigger of a test.</summary>
    private async Task ChirpAsync()
    {
        while (_turned.TryDequeue(out var turned))
        {
            if (book.Find(turned.Site)?.Design.Zones.FirstOrDefault(z => z.Key == turned.Zone) is not { } zone)
            {
                continue;
            }
            if (turned is { Mode: ArmMode.Armed, Event.Turn: ZoneTurn.Leaving or ZoneTurn.Armed } && zone.Chirps)
            {
                foreach (var sounder in zone.Sounders)
                {
                    await outputs.ChirpAsync(turned.Site, sounder.Node, sounder.Output, $"arming {zone.Label}");
                }
            }
            if (turned is { Mode: ArmMode.Test, Event.Turn: ZoneTurn.Triggered } && zone.Lamp is { } lamp)
            {
                await outputs.ChirpAsync(turned.Site, lamp.Node, lamp.Output, $"the test of {zone.Label}", LampMs);
            }
        }
    }
}
