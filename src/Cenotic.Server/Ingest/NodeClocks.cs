using System.Collections.Concurrent;
using Cenotic.Core.Watch;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Ingest;

/// <summary>What is known of the clocks of nodes that send their own time.</summary>
public sealed class NodeClocks(IDbContextFactory<CenoticStore> stores)
{
    private readonly ConcurrentDictionary<(string Site, string Node), ClockOffset> _clocks = [];

    public async Task LoadAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        foreach (var row in await store.NodeStatuses.AsNoTracking().Where(s => s.CorrectionMs != null).ToListAsync())
        {
            _clocks[(row.Site, row.Node)] = ClockOffset.Known(row.CorrectionMs!.Value);
        }
    }

    /// <summary>Takes how far ahead a message says the clock is, ms. What to take off its times, and whether that is another than before.</summary>
    /// <param name="speed">How many times faster than a clock time runs at the site.</param>
    public (long? CorrectionMs, bool Changed) Take(string site, string node, long saysMs, double speed)
    {
        // Messages of one node come one at a time; two at once would only leave one of them out of the estimate.
        var before = _clocks.GetValueOrDefault((site, node), ClockOffset.Unknown);
        var (after, correction) = before.Take(saysMs, speed);
        _clocks[(site, node)] = after;
        return (correction, after.CorrectionMs != before.CorrectionMs);
    }

    /// <summary>What is taken off the times of a node, ms; null for nothing.</summary>
    public long? Correction(string site, string node) => _clocks.GetValueOrDefault((site, node))?.CorrectionMs;
}
