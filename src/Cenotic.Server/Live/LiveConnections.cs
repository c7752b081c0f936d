using System.Collections.Concurrent;
using Microsoft.AspNetCore.SignalR;

namespace Cenotic.Server.Live;

/// <summary>Who listens live, so that a connection can be ended when it may no longer listen.</summary>
public sealed class LiveConnections
{
    private readonly ConcurrentDictionary<string, (HubCallerContext Context, string? Account, long? Link, string? Site, string? View)> _open = [];

    public void AddAccount(HubCallerContext context, string account) => _open[context.ConnectionId] = (context, account, null, null, null);

    public void AddLink(HubCallerContext context, long link, string site, string view) => _open[context.ConnectionId] = (context, null, link, site, view);

    public void Remove(string connection) => _open.TryRemove(connection, out _);

    /// <summary>Views of a site that somebody watches over a link.</summary>
    public IEnumerable<string> ViewsOf(string site) => _open.Values.Where(c => c.Site == site).Select(c => c.View!).Distinct();

    /// <summary>Links that somebody listens over.</summary>
    public IReadOnlyList<long> Links => [.. _open.Values.Where(c => c.Link is not null).Select(c => c.Link!.Value).Distinct()];

    public void EndLink(long link) => End(c => c.Link == link);

    /// <summary>Ends all of an account's: its groups are chosen anew when it comes back.</summary>
    public void EndAccount(string account) => End(c => c.Account == account);

    private void End(Func<(HubCallerContext Context, string? Account, long? Link, string? Site, string? View), bool> which)
    {
        foreach (var one in _open.Values.Where(which))
        {
            one.Context.Abort();
        }
    }
}
