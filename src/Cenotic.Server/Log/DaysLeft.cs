using System.Collections.Concurrent;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;

namespace Cenotic.Server.Log;

/// <summary>What is left of the cells, worked out anew every ten minutes.</summary>
public sealed class DaysLeft(SiteBook book, HardwareCatalogue catalogue) : IDaysLeft
{
    private const long KeptMs = 600_000;
    private readonly ConcurrentDictionary<string, (long At, IReadOnlyDictionary<string, Figure> Days)> _kept = [];

    public async Task<IReadOnlyDictionary<string, Figure>> ReadAsync(CenoticStore store, SiteState state, long now)
    {
        if (!_kept.TryGetValue(state.Site, out var kept) || now - kept.At is > KeptMs or < 0)
        {
            var batteries = await Batteries.ReadAsync(state, await book.PlanAsync(state), store, catalogue, now);
            _kept[state.Site] = kept = (now, batteries.Where(b => b.State is not null).ToDictionary(b => b.Node, b => b.State!.DaysLeft));
        }
        return kept.Days;
    }
}
