using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Live;

/// <summary>Live updates. It takes no call from the browser: who is signed in hears the sites of their memberships.</summary>
[Authorize]
public sealed class LiveHub(IDbContextFactory<CenoticStore> stores) : Hub
{
    public override async Task OnConnectedAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        foreach (var site in await store.Memberships.Where(m => m.AccountId == Context.UserIdentifier).Select(m => m.Site).ToListAsync())
        {
            await Groups.AddToGroupAsync(Context.ConnectionId, LiveFeed.Group(site));
        }
        await base.OnConnectedAsync();
    }
}
