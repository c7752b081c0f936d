using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Reach;

/// <summary>Counts each hour how the messages of the last seven days came through, as long as the link is what it is now, and gives that to the plan of the
/// site.</summary>
public sealed class LinkCounts(SiteBook book, SiteClock clock, IDbContextFactory<CenoticStore> stores, TimeProvider system, LoopHealth health)
    : BackgroundService
{
    private const long WeekMs = 7 * 86_400_000L;
    private const int Signals = 500;

    /// <summary>A share that changed by less, or a signal that did, makes no new plan: 1 of 100, 1 dB.</summary>
    private const double SameShare = 0.01,
        SameDecibel = 1;
    private static readonly TimeSpan Every = TimeSpan.FromHours(1);

    /// <summary>Counts at one site. True where its plan was given something new.</summary>
    public async Task<bool> CountAsync(string site, CancellationToken stop = default)
    {
        var state = book.Find(site)!;
        await using var store = await stores.CreateDbContextAsync(stop);
        var weekAgo = clock.Now(site) - WeekMs;
        var changes = await ChangesAsync(store, site, weekAgo, stop);
        List<LinkHistory> now = [];
        foreach (var node in state.Design.Nodes.Where(n => n.Link == LinkKind.Wifi || n.SendsPackets))
        {
            if (await OfAsync(store, site, node, SinceOf([node, .. state.Design.HeardThrough(node)], changes, weekAgo), stop) is { } link)
            {
                now.Add(link);
            }
        }
        var same = now.Count == state.Evidence.Links.Count && now.TrueForAll(l => state.Evidence.Link(l.Node) is { } before && IsSame(before, l));
        if (!same)
        {
            await book.HeardAsync(site, now);
        }
        return !same;
    }

    /// <summary>Which documents of the design changed since, and when.</summary>
    private static async Task<List<(long AtMs, string[] Documents)>> ChangesAsync(CenoticStore store, string site, long since, CancellationToken stop)
    {
        var rows = await store
            .Revisions.AsNoTracking()
            .Where(r => r.Site == site && r.AtMs >= since)
            .Select(r => new { r.AtMs, r.Documents })
            .ToListAsync(stop);
        return rows.ConvertAll(r => (r.AtMs, r.Documents.Split('\n')));
    }

    /// <summary>Since when a node, who hears it and the place are as they are now: what came before tells of another link.</summary>
    private static long SinceOf(IEnumerable<NodeDesign> way, List<(long AtMs, string[] Documents)> changes, long weekAgo)
    {
        string[] concerned = ["place", .. way.Select(n => $"node:{n.Key}")];
        return changes.Where(c => c.Documents.Intersect(concerned).Any()).Select(c => c.AtMs).DefaultIfEmpty(weekAgo).Max();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, system);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            foreach (var site in book.Sites)
            {
                await health.RunAsync("link counts", () => CountAsync(site, stoppingToken), stoppingToken);
            }
        }
    }

    private static bool IsSame(LinkHistory a, LinkHistory b) =>
        a.Link == b.Link
        && Math.Abs(Share(a) - Share(b)) < SameShare
        && (a.MedianDbm is null) == (b.MedianDbm is null)
        && Math.Abs((a.MedianDbm ?? 0) - (b.MedianDbm ?? 0)) < SameDecibel;

    private static double Share(LinkHistory link) => link.Heard / (double)Math.Max(1, link.Sent);

    /// <summary>Numbered messages of a node that came, and those that it numbered in the same runs.</summary>
    internal static async Task<(long Heard, long Sent)> TallyAsync(IQueryable<ArrivalRow> arrivals, CancellationToken stop = default)
    {
        var runs = await arrivals
            .Where(a => a.Number != null)
            .GroupBy(a => new
            {
                a.Life,
                a.Boot,
                Run = a.Number / MessageNumbers.RunLength,
            })
            .Select(g => new { Heard = g.Count(), Span = g.Max(a => a.Number)!.Value - g.Min(a => a.Number)!.Value + 1 })
            .ToListAsync(stop);
        return (runs.Sum(r => (long)r.Heard), runs.Sum(r => r.Span));
    }

    /// <summary>How the messages of a node came through; null for too few.</summary>
    private static async Task<LinkHistory?> OfAsync(CenoticStore store, string site, NodeDesign node, long since, CancellationToken stop)
    {
        var arrivals = store.Arrivals.AsNoTracking().Where(a => a.Site == site && a.Node == node.Key && a.ReceivedMs >= since && a.Import == null);
        var (heard, sent) = await TallyAsync(arrivals, stop);
        if (sent < LinkHistory.FewestSent)
        {
            return null;
        }
        var signals = await arrivals.Where(a => a.Rssi != null).OrderByDescending(a => a.Id).Select(a => a.Rssi!.Value).Take(Signals).ToListAsync(stop);
        return new(node.Key, node.Link, heard, sent, signals.Count > 0 ? signals.Order().ElementAt(signals.Count / 2) : null);
    }
}
