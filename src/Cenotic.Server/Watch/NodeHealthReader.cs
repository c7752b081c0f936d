using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Log;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>How a node does.</summary>
/// <param name="Received">Messages in the last day.</param>
/// <param name="SilentAfterMs">After this long without a message it is silent; null when it cannot be.</param>
/// <param name="LostPercent">Part of the messages of the last day that is missing between their numbers; null when it sends none.</param>
/// <param name="DaysLeft">On its cells, with the band; null without cells.</param>
public sealed record NodeHealth(
    string Node,
    string Label,
    long? LastMs,
    long? SilentAfterMs,
    long Received,
    double? LostPercent,
    double? Rssi,
    double? Volts,
    Figure? DaysLeft
);

/// <summary>Reads how the nodes of a site do.</summary>
public sealed class NodeHealthReader(IDaysLeft daysLeft)
{
    private const long DayMs = 86_400_000;

    /// <summary>Every node, over the last day.</summary>
    public async Task<List<NodeHealth>> ReadAsync(CenoticStore store, SiteState state, long now)
    {
        var lastHeard = await store
            .Arrivals.AsNoTracking()
            .Where(a => a.Site == state.Site)
            .GroupBy(a => a.Node)
            .Select(g => new { Node = g.Key, Id = g.Max(a => a.Id) })
            .ToListAsync();
        var ids = lastHeard.Select(l => l.Id).ToList();
        var last = (await store.Arrivals.AsNoTracking().Where(a => ids.Contains(a.Id)).ToListAsync()).ToDictionary(a => a.Node);
        var heard = await HeardAsync(store, state.Site, now - DayMs, now);
        var days = await daysLeft.ReadAsync(store, state, now);
        return
        [
            .. state.Design.Nodes.Select(n =>
            {
                var (received, lost) = heard.GetValueOrDefault(n.Key);
                var silent = n.Readings.Min(r => r.SilentMs);
                return new NodeHealth(
                    n.Key,
                    n.Label,
                    last.GetValueOrDefault(n.Key)?.ReceivedMs,
                    silent,
                    received,
                    lost is { } missing && received + missing > 0 ? 100.0 * missing / (received + missing) : null,
                    last.GetValueOrDefault(n.Key)?.Rssi,
                    last.GetValueOrDefault(n.Key)?.Battery,
                    days.GetValueOrDefault(n.Key)
                );
            }),
        ];
    }

    /// <summary>By node the messages of a stretch that came, and those missing between their numbers (null where it sends none).</summary>
    public static async Task<Dictionary<string, (long Received, long? Lost)>> HeardAsync(CenoticStore store, string site, long from, long to)
    {
        var runs = await store
            .Arrivals.AsNoTracking()
            .Where(a => a.Site == site && a.ReceivedMs >= from && a.ReceivedMs <= to)
            .GroupBy(a => new
            {
                a.Node,
                a.Life,
                a.Boot,
                Run = a.Number / MessageNumbers.RunLength,
            })
            .Select(g => new
            {
                g.Key.Node,
                First = g.Min(a => a.Number),
                Last = g.Max(a => a.Number),
                Count = g.LongCount(),
                Numbered = g.LongCount(a => a.Number != null),
            })
            .ToListAsync();
        return runs.GroupBy(r => r.Node)
            .ToDictionary(
                g => g.Key,
                g =>
                    (
                        g.Sum(r => r.Count),
                        g.Any(r => r.Numbered > 0)
                            ? g.Where(r => r.Numbered > 0).Sum(r => MessageNumbers.Lost(r.First!.Value, r.Last!.Value, r.Numbered))
                            : (long?)null
                    )
            );
    }
}
