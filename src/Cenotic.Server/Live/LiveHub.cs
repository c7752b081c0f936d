using System.Globalization;
using Cenotic.Server.Accounts;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Cenotic.Server.Live;

/// <summary>Live updates. It takes no call from the browser: who is signed in hears the sites of
/// their memberships, who came by a link the readings of its view. A connection is told when it
/// hears: what came before that, between its handshake and its groups, nobody told it.</summary>
[Authorize(ShareScheme.LivePolicy)]
public sealed class LiveHub(IDbContextFactory<CenoticStore> stores, LiveConnections connections, IOptions<IdentityOptions> identity) : Hub
{
    public override async Task OnConnectedAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        if (Context.UserIdentifier is { } account)
        {
            foreach (var site in await store.Memberships.Where(m => m.AccountId == account).Select(m => m.Site).ToListAsync())
            {
                await Groups.AddToGroupAsync(Context.ConnectionId, LiveFeed.Group(site));
            }
            connections.AddAccount(Context, account, SignInStamp.Of(Context.User, identity.Value));
        }
        else if (
            long.TryParse(Context.User?.FindFirst(ShareScheme.LinkClaim)?.Value, CultureInfo.InvariantCulture, out var id)
            && await store.ShareLinks.AsNoTracking().SingleOrDefaultAsync(l => l.Id == id) is { } link
        )
        {
            await Groups.AddToGroupAsync(Context.ConnectionId, LiveFeed.ViewGroup(link.Site, link.View));
            connections.AddLink(Context, link.Id, link.Site, link.View);
        }
        await Clients.Caller.SendAsync("joined");
        await base.OnConnectedAsync();
    }

    public override Task OnDisconnectedAsync(Exception? exception)
    {
        connections.Remove(Context.ConnectionId);
        return base.OnDisconnectedAsync(exception);
    }
}
