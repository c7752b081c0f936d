using System.Collections.Concurrent;
using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>
/// Keeps outputs as rules and zones want them: on while an episode lasts, off after it; a permit on while all is well. What is wanted follows from what is kept of rules and zones, so that after a start it is taken up again;
/// an output that could not be reached is tried again. The output itself is held by leases (<see cref="Outputs"/>): when this program stops, it falls off.
/// </summary>
public sealed class ActKeeper(IDbContextFactory<CenoticStore> stores, SiteBook book, SiteClock clock, RuleRunner runner, Outputs outputs, ILogger<ActKeeper> log) : BackgroundService
{
    private const long ChirpMs = 1_000, RetryMs = 5_000;
    private static readonly TimeSpan LookEvery = TimeSpan.FromMilliseconds(300);
    private readonly Dictionary<(string Site, string Node, string Output), (string Wish, long Command, bool Permit)> _given = [];
    private readonly ConcurrentDictionary<(string Site, string Node, string Output), (string Why, long RetryAt)> _faults = [];
    private readonly ConcurrentQueue<ZoneTurned> _turned = [];

    /// <summary>An output that is wanted on.</summary>
    /// <param name="Id">Another one is switched anew; what a person switched off meanwhile stays off for the same one.</param>
    /// <param name="Permit">True for one that is withdrawn whoever switched it on.</param>
    private sealed record Wish(string Node, string Output, string Id, long? ForMs, string Who, bool Permit = false);

    /// <summary>Why outputs could not be switched when they were last wanted.</summary>
    internal IReadOnlyList<string> FaultsOf(string site, IEnumerable<(string Node, string Output)> of) => [.. of.Where(o => _faults.ContainsKey((site, o.Node, o.Output))).Select(o => _faults[(site, o.Node, o.Output)].Why).Distinct()];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        runner.ZonesTurned += turned =>
        {
            foreach (var one in turned)
            {
                _turned.Enqueue(one);
            }
        };
        while (!stoppingToken.IsCancellationRequested)
        {
            foreach (var site in book.Sites)
            {
                try
                {
                    await KeepAsync(site);
                }
                catch (Exception fault) when (fault is not OperationCanceledException)
                {
                    log.LogError(fault, "Outputs of {Site} were not switched as rules want them; it is tried again.", site);
                }
            }
            await ChirpAsync();
            await Task.Delay(LookEvery, stoppingToken);
        }
    }

    private async Task KeepAsync(string site)
    {
        var wishes = await WishesAsync(site);
        var now = clock.Now(site);
        foreach (var (key, given) in _given.Where(g => g.Key.Site == site && !wishes.Any(w => w.Node == g.Key.Node && w.Output == g.Key.Output)).ToList())
        {
            if (!given.Permit && await NewestAsync(key) != given.Command)
            {
                // Somebody switched it since: it is theirs.
                _given.Remove(key);
                continue;
            }
            var off = await outputs.SwitchAsync(site, key.Node, key.Output, on: false, null, "the rule that switched it on");
            // A node that does not hear it switches off by itself when its lease has run out.
            _given.Remove(key);
            _faults.TryRemove(key, out _);
            if (!off.Ok)
            {
                log.LogWarning("{Node}/{Output} was not switched off: {Why}", key.Node, key.Output, off.Reasons[0]);
            }
        }
        foreach (var wish in wishes)
        {
            var key = (site, wish.Node, wish.Output);
            if ((_given.TryGetValue(key, out var given) && given.Wish == wish.Id) || (_faults.TryGetValue(key, out var fault) && fault.RetryAt > now && fault.RetryAt < now + 2 * RetryMs))
            {
                continue;
            }
            var done = await outputs.SwitchAsync(site, wish.Node, wish.Output, on: true, wish.ForMs, wish.Who);
            if (done.Ok)
            {
                _given[key] = (wish.Id, done.Value.Id, wish.Permit);
                _faults.TryRemove(key, out _);
            }
            else
            {
                _faults[key] = (done.Reasons[0], now + RetryMs);
                log.LogWarning("{Who} could not switch {Node}/{Output} on: {Why}", wish.Who, wish.Node, wish.Output, done.Reasons[0]);
            }
        }
    }

    private async Task<long?> NewestAsync((string Site, string Node, string Output) key)
    {
        await using var store = await stores.CreateDbContextAsync();
        return await store.Commands.Where(c => c.Site == key.Site && c.Node == key.Node && c.Output == key.Output).MaxAsync(c => (long?)c.Id);
    }

    private async Task<List<Wish>> WishesAsync(string site)
    {
        var (design, now, wishes) = (book.Find(site)!.Design, clock.Now(site), new List<Wish>());
        foreach (var (zone, state) in runner.ZonesOf(site))
        {
            if (ZoneJudge.SoundsUntil(state) is { } until && until - now >= 1_000)
            {
                wishes.AddRange(zone.Sounders.Select(s => new Wish(s.Node, s.Output, $"zone {zone.Key} {state.SinceMs}", Most(design, s.Node, s.Output, until - now), $"the alarm of {zone.Label}")));
            }
        }
        var acting = design.Rules.Where(r => r.Armed && r.Acts.Count > 0).ToList();
        if (acting.Count == 0)
        {
            return wishes;
        }
        var keys = acting.Select(r => r.Key).ToList();
        await using var store = await stores.CreateDbContextAsync();
        var open = (await store.Episodes.AsNoTracking().Where(e => e.Site == site && e.ClearedMs == null && keys.Contains(e.Rule)).ToListAsync()).GroupBy(e => e.Rule).ToDictionary(g => g.Key, g => g.Max(e => e.RaisedMs));
        foreach (var (rule, act) in acting.SelectMany(r => r.Acts.Select(a => (r, a))))
        {
            var most = design.Node(act.Node)?.Reading(act.Output)?.Output?.MaxOnMs;
            if (act.While == ActWhile.Raised && open.TryGetValue(rule.Key, out var raised) && (act.ForMs ?? most ?? 0) - (now - raised) is > 1_000 and var left)
            {
                wishes.Add(new(act.Node, act.Output, $"{rule.Key} {raised}", Most(design, act.Node, act.Output, left), $"the rule {rule.Label}"));
            }
            // A permit is given only while the rule hears all its readings, and given anew before the node would end it.
            else if (act.While == ActWhile.Calm && most is { } longest && !open.ContainsKey(rule.Key) 
                && runner.StateOf(site, rule.Key) is { } state && RuleJudge.Hears(rule, state, now, reading => design.Reading(reading)?.LongestGapMs))
            {
                wishes.Add(new(act.Node, act.Output, $"{rule.Key} {now / Math.Max(1_000, longest / 2)}", null, $"the permit of {rule.Label}", Permit: true));
            }
        }
        return wishes;
    }

    private static long Most(SiteDesign design, string node, string output, long wanted) => Math.Min(wanted, design.Node(node)?.Reading(output)?.Output?.MaxOnMs ?? wanted);

    /// <summary>A short sound when a zone is left and when it is armed.</summary>
    private async Task ChirpAsync()
    {
        while (_turned.TryDequeue(out var turned))
        {
            if (turned is { Mode: ArmMode.Armed, Event.Turn: ZoneTurn.Leaving or ZoneTurn.Armed } && book.Find(turned.Site)?.Design.Zones.FirstOrDefault(z => z.Key == turned.Zone) is { } zone)
            {
                foreach (var sounder in zone.Sounders)
                {
                    await outputs.SwitchAsync(turned.Site, sounder.Node, sounder.Output, on: true, ChirpMs, $"arming {zone.Label}");
                }
            }
        }
    }
}
