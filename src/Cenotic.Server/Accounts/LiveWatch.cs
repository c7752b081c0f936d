using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

/// <summary>Ends live connections of links that were revoked or ran out, and of sign-ins that hold no more, also
/// where another process ended them (a password that was reset at the console).</summary>
public sealed class LiveWatch(LiveConnections connections, IDbContextFactory<CenoticStore> stores, TimeProvider system, LoopHealth health) : BackgroundService
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(2);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            await Task.Delay(LookEvery, stoppingToken);
            await health.RunAsync("live connections", () => LookAsync(stoppingToken), stoppingToken);
        }
    }

    private async Task LookAsync(CancellationToken stop)
    {
        var (links, signIns) = (connections.Links, connections.SignIns);
        if (links.Count == 0 && signIns.Count == 0)
        {
            return;
        }
        await using var store = await stores.CreateDbContextAsync(stop);
        var now = system.GetUtcNow().ToUnixTimeMilliseconds();
        var known = await store.ShareLinks.AsNoTracking().Where(l => links.Contains(l.Id)).ToListAsync(stop);
        foreach (var id in links.Where(id => known.FirstOrDefault(l => l.Id == id) is not { } link || !ShareScheme.Holds(link, now)))
        {
            connections.EndLink(id);
        }
        var accounts = signIns.Select(s => s.Account).Distinct().ToList();
        var stamps = await store.Users.AsNoTracking().Where(u => accounts.Contains(u.Id)).ToDictionaryAsync(u => u.Id, u => u.SecurityStamp, stop);
        foreach (var (account, stamp) in signIns.Where(s => stamps.GetValueOrDefault(s.Account) != s.Stamp))
        {
            connections.EndSignIn(account, stamp);
        }
    }
}
