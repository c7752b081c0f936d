using System.Collections.Concurrent;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;

namespace Cenotic.Server.BringUp;

/// <summary>Keeps bus scans, pasted or sent by the node, each as it was told.</summary>
public sealed class Scans(SiteBook book, SiteClock clock, WriteGate gate, LiveFeed live) : IScanKeeper
{
    private const int MostWarmth = 2_000;

    /// <summary>What probes showed beside their codes, since the server started: wanted only while one of them is warmed.</summary>
    private readonly ConcurrentDictionary<(string Site, string Node), ConcurrentQueue<ProbeReading>> _warmth = [];

    /// <summary>What was found last on a node's buses.</summary>
    private readonly ConcurrentDictionary<(string Site, string Node), string> _found = [];

    /// <summary>What the probes of a node showed since a time.</summary>
    public IReadOnlyList<ProbeReading> WarmthSince(string site, string node, long since) =>
        _warmth.TryGetValue((site, node), out var queue) ? [.. queue.Where(r => r.T >= since)] : [];

    public async Task<string?> KeepAsync(string site, string node, string text) =>
        await KeepAsync(site, node, text, who: null) is { Ok: false, Reasons: var reasons } ? reasons[0] : null;

    /// <summary>Keeps a scan; refused is a text that is none.</summary>
    /// <param name="who">Who pasted it; null when the node sent it.</param>
    public async Task<Outcome<BusScan>> KeepAsync(string site, string node, string text, string? who)
    {
        if (book.Find(site)?.Design.Node(node) is null)
        {
            return Outcome<BusScan>.Refused($"There is no node \"{node}\".");
        }
        var read = ScanText.Read(text);
        if (read.Ok && Warmth(site, node, read.Value) && _found.TryGetValue((site, node), out var before) && before == Found(read.Value))
        {
            // The same probes with other temperatures are no other scan; who names them asks for the temperatures.
            return read;
        }
        if (read.Ok)
        {
            _found[(site, node)] = Found(read.Value);
            var verdict = await VerdictAsync(site, node, read.Value);
            await gate.WriteAsync(store =>
            {
                store.Scans.Add(
                    new()
                    {
                        Site = site,
                        Node = node,
                        AtMs = clock.Now(site),
                        Who = who,
                        Text = text,
                        Verdict = verdict,
                    }
                );
                return Task.CompletedTask;
            });
            await live.ScannedAsync(site);
        }
        return read;
    }

    /// <summary>What a scan says about the node as it is planned now, in a sentence.</summary>
    private async Task<string?> VerdictAsync(string site, string node, BusScan scan)
    {
        if (book.Find(site) is not { } state || state.Design.Node(node) is not { } design)
        {
            return null;
        }
        try
        {
            return (await book.PlanAsync(state)).Node(node) is { } plan ? ScanComparison.Compare(design, plan.Bench, state.Catalogue, scan).Verdict : null;
        }
        catch (Exception fault) when (fault is WorkBudgetException or TooBusyException)
        {
            return null;
        }
    }

    /// <summary>Keeps the temperatures of a scan; false when it has none.</summary>
    private bool Warmth(string site, string node, BusScan scan)
    {
        var queue = _warmth.GetOrAdd((site, node), _ => []);
        foreach (var (rom, celsius) in scan.Celsius)
        {
            queue.Enqueue(new(clock.Now(site), rom, celsius));
        }
        while (queue.Count > MostWarmth)
        {
            queue.TryDequeue(out _);
        }
        return scan.Celsius.Count > 0;
    }

    private static string Found(BusScan scan) =>
        string.Join(' ', scan.Roms.Select(r => r.Hex).Order(StringComparer.Ordinal).Concat(scan.Devices.Select(d => $"{d.Address}:{d.Identity}")));
}
