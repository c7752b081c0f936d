using System.Collections.Concurrent;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.SignalR;

namespace Cenotic.Server.Accounts;

/// <summary>Who listens live, so that a connection can be ended when it may no longer listen.</summary>
public sealed class LiveConnections
{
    private sealed record Listener(
        HubCallerContext Context,
        string? Account = null,
        string? Stamp = null,
        long? Link = null,
        string? Site = null,
        string? View = null
    );

    private readonly ConcurrentDictionary<string, Listener> _open = [];

    /// <param name="stamp">What the sign-in was made with (<see cref="SignInStamp"/>).</param>
    public void AddAccount(HubCallerContext context, string account, string? stamp) => _open[context.ConnectionId] = new(context, account, stamp);

    public void AddLink(HubCallerContext context, long link, string site, string view) =>
        _open[context.ConnectionId] = new(context, Link: link, Site: site, View: view);

    public void Remove(string connection) => _open.TryRemove(connection, out _);

    /// <summary>Views of a site that somebody watches over a link.</summary>
    public IEnumerable<string> ViewsOf(string site) => _open.Values.Where(c => c.Site == site).Select(c => c.View!).Distinct();

    /// <summary>Links that somebody listens over.</summary>
    public IReadOnlyList<long> Links => [.. _open.Values.Where(c => c.Link is not null).Select(c => c.Link!.Value).Distinct()];

    /// <summary>Accounts that listen, with the stamp of each sign-in.</summary>
    public IReadOnlyList<(string Account, string? Stamp)> SignIns =>
        [.. _open.Values.Where(c => c.Account is not null).Select(c => (c.Account!, c.Stamp)).Distinct()];

    /// <summary>Ends those of an account that signed in with this stamp.</summary>
    public void EndSignIn(string account, string? stamp) => End(c => c.Account == account && c.Stamp == stamp);

    public void EndLink(long link) => End(c => c.Link == link);

    /// <summary>Ends all of an account's: its groups are chosen anew when it comes back.</summary>
    public void EndAccount(string account) => End(c => c.Account == account);

    private void End(Func<Listener, bool> which)
    {
        foreach (var one in _open.Values.Where(which))
        {
            one.Context.Abort();
        }
    }
}
