using System.Security.Claims;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

/// <summary>Somebody who may open the site.</summary>
/// <param name="MayAct">True for a viewer who may acknowledge and arm.</param>
public sealed record MemberView(string Name, Role Role, bool You, bool MayAct = false);

/// <param name="Password">For an account that is new; null for one there is.</param>
/// <param name="MayAct">Lets a viewer acknowledge and arm; of no meaning for the other roles.</param>
public sealed record MemberRequest(string Name = "", Role Role = Role.Viewer, string? Password = null, bool MayAct = false);

/// <summary>A new password that an owner gives a member.</summary>
public sealed record PasswordReset(string Password = "");

/// <summary>Members of a site, kept by its owners. A role that changes or ends also ends the live connections that rest on it.</summary>
public static class MemberEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        routes
            .MapGroup("/api/sites/{site}")
            .AddEndpointFilter(new SiteAccess(Role.Owner))
            .MapGet("/members", ListAsync)
            .WithName("GetMembers")
            .ProducesProblem(403);
        var owner = SiteRoutes.Writing(routes, Role.Owner);
        owner.MapPut("/members", PutAsync).WithName("PutMember");
        owner.MapDelete("/members/{name}", RemoveAsync).WithName("RemoveMember");
        owner.MapPut("/members/{name}/password", ResetAsync).WithName("ResetPassword");
    }

    private static async Task<List<MemberView>> ListAsync(string site, HttpContext http, CenoticStore store)
    {
        var me = http.User.FindFirstValue(ClaimTypes.NameIdentifier);
        var rows = await store
            .Memberships.AsNoTracking()
            .Where(m => m.Site == site)
            .Join(
                store.Users,
                m => m.AccountId,
                u => u.Id,
                (m, u) =>
                    new
                    {
                        u.UserName,
                        m.Role,
                        m.AccountId,
                        m.MayAct,
                    }
            )
            .ToListAsync();
        return
        [
            .. rows.OrderByDescending(r => r.Role)
                .ThenBy(r => r.UserName, StringComparer.Ordinal)
                .Select(r => new MemberView(r.UserName!, r.Role, r.AccountId == me, r.MayAct)),
        ];
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> PutAsync(
        string site,
        MemberRequest request,
        UserManager<Account> users,
        WriteGate gate,
        LiveConnections connections
    )
    {
        var account = await users.FindByNameAsync(request.Name);
        if (account is null)
        {
            if (string.IsNullOrEmpty(request.Password))
            {
                return Refused($"There is no account \"{request.Name}\"; give it a first password.");
            }
            account = new Account { UserName = request.Name };
            var made = await users.CreateAsync(account, request.Password);
            if (!made.Succeeded)
            {
                return Refused([.. made.Errors.Select(e => e.Description)]);
            }
        }
        else if (!string.IsNullOrEmpty(request.Password))
        {
            return Refused($"There is an account \"{request.Name}\" already: it keeps its password. Leave the password empty to give it a role here.");
        }
        var fault = await gate.WriteAsync(async store =>
        {
            var row = await store.Memberships.SingleOrDefaultAsync(m => m.Site == site && m.AccountId == account.Id);
            if (row?.Role == Role.Owner && request.Role != Role.Owner && await LastOwnerAsync(store, site))
            {
                return "A site has an owner at all times; make somebody else owner first.";
            }
            if (row is null)
            {
                store.Memberships.Add(
                    new()
                    {
                        Site = site,
                        AccountId = account.Id,
                        Role = request.Role,
                        MayAct = request.MayAct,
                    }
                );
            }
            else
            {
                (row.Role, row.MayAct) = (request.Role, request.MayAct);
            }
            return null;
        });
        if (fault is null)
        {
            connections.EndAccount(account.Id);
        }
        return fault is null ? TypedResults.NoContent() : Refused(fault);
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> RemoveAsync(
        string site,
        string name,
        UserManager<Account> users,
        WriteGate gate,
        LiveConnections connections
    )
    {
        var account = await users.FindByNameAsync(name);
        var fault = await gate.WriteAsync(async store =>
        {
            if (account is null || await store.Memberships.SingleOrDefaultAsync(m => m.Site == site && m.AccountId == account.Id) is not { } row)
            {
                return $"\"{name}\" is not a member here.";
            }
            if (row.Role == Role.Owner && await LastOwnerAsync(store, site))
            {
                return "A site has an owner at all times; make somebody else owner first.";
            }
            store.Memberships.Remove(row);
            return null;
        });
        if (fault is null && account is not null)
        {
            connections.EndAccount(account.Id);
        }
        return fault is null ? TypedResults.NoContent() : Refused(fault);
    }

    /// <summary>A new password for a member who has lost theirs. Who is a member elsewhere too is not the owner's to let in there.</summary>
    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> ResetAsync(
        string site,
        string name,
        PasswordReset request,
        HttpContext http,
        UserManager<Account> users,
        CenoticStore store,
        LiveConnections connections
    )
    {
        var me = http.User.FindFirstValue(ClaimTypes.NameIdentifier);
        if (await users.FindByNameAsync(name) is not { } account || !await store.Memberships.AnyAsync(m => m.Site == site && m.AccountId == account.Id))
        {
            return Refused($"\"{name}\" is not a member here.");
        }
        if (account.Id == me)
        {
            return Refused("Change your own password with the current one.");
        }
        var mine = await store.Memberships.Where(m => m.AccountId == me && m.Role == Role.Owner).Select(m => m.Site).ToListAsync();
        if (await store.Memberships.AnyAsync(m => m.AccountId == account.Id && !mine.Contains(m.Site)))
        {
            return Refused(
                $"\"{name}\" is a member of a site that is not yours too. They change their password themselves, or who runs this machine does: ./run "
                    + $"reset-password {name}"
            );
        }
        if (await Passwords.SetAsync(users, account, request.Password) is { Count: > 0 } faults)
        {
            return Refused([.. faults]);
        }
        connections.EndAccount(account.Id);
        return TypedResults.NoContent();
    }

    private static async Task<bool> LastOwnerAsync(CenoticStore store, string site) =>
        await store.Memberships.CountAsync(m => m.Site == site && m.Role == Role.Owner) < 2;

    private static UnprocessableEntity<EditRefused> Refused(params string[] reasons) => TypedResults.UnprocessableEntity(new EditRefused(reasons));
}
