using System.Security.Claims;
using Cenotic.Core.Design;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

public sealed record SiteOfAccount(string Key, string Name, Role Role);

/// <summary>Who is here.</summary>
/// <param name="Name">Null when nobody is signed in.</param>
/// <param name="Token">To be sent with every write.</param>
/// <param name="FirstStart">True when there is no account yet: the code on the console creates the owner.</param>
public sealed record SessionView(string? Name, string Token, bool FirstStart, bool Demo, IReadOnlyList<SiteOfAccount> Sites);

public sealed record SignIn(string Name, string Password);

public sealed record FirstStart(string Code, string Name, string Password, string SiteName, string TimeZone);

/// <summary>Signing in and out, and the first start.</summary>
public static class SessionEndpoints
{
    public const string SignInLimit = "sign-in";

    public static void Map(IEndpointRouteBuilder routes)
    {
        var open = routes.MapGroup("/api").AllowAnonymous();
        open.MapGet("/session", View).WithName("GetSession");
        open.MapPost("/session", SignInAsync).WithName("SignIn").RequireRateLimiting(SignInLimit);
        open.MapPost("/first-start", FirstStartAsync).WithName("FirstStart").RequireRateLimiting(SignInLimit);
        routes.MapDelete("/api/session", SignOutAsync).WithName("SignOut").AddEndpointFilter<AntiforgeryCheck>();
    }

    private static async Task<SessionView> View(HttpContext http, CenoticStore store, SiteBook book, IAntiforgery antiforgery, Settings settings)
    {
        var id = http.User.FindFirstValue(ClaimTypes.NameIdentifier);
        var memberships = id is null ? [] : await store.Memberships.AsNoTracking().Where(m => m.AccountId == id).ToListAsync();
        var token = antiforgery.GetAndStoreTokens(http).RequestToken!;
        http.Response.Headers.CacheControl = "no-store";
        return new(http.User.Identity?.Name, token, !await store.Users.AnyAsync(), settings.Demo,
            [.. memberships.Select(m => new SiteOfAccount(m.Site, book.Find(m.Site)?.Design.Settings.Name ?? m.Site, m.Role))]);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SignInAsync(SignIn request, SignInManager<Account> accounts)
    {
        var result = await accounts.PasswordSignInAsync(request.Name, request.Password, isPersistent: true, lockoutOnFailure: true);
        return result.Succeeded
            ? TypedResults.NoContent()
            : TypedResults.Problem(result.IsLockedOut ? "Too many wrong passwords; wait five minutes." : "No account has that name and password.", statusCode: 401);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> FirstStartAsync(FirstStart request, FirstStartCode code, UserManager<Account> users, SignInManager<Account> accounts, SiteBook book)
    {
        if (await users.Users.AnyAsync() || !code.Fits(request.Code))
        {
            return TypedResults.Problem("That is not the code on the console, or the first start is done.", statusCode: 401);
        }
        var design = EditBatch.Apply(SiteDesign.Empty("new"), [new SetSite(new(request.SiteName, request.TimeZone, RadioRegion.Unset))]);
        if (!design.Ok)
        {
            return TypedResults.Problem(string.Join(" ", design.Reasons), statusCode: 422);
        }
        var account = new Account { UserName = request.Name };
        var created = await users.CreateAsync(account, request.Password);
        if (!created.Succeeded)
        {
            return TypedResults.Problem(string.Join(" ", created.Errors.Select(e => e.Description)), statusCode: 422);
        }
        await book.CreateAsync("home", design.Value.After, account.Id, Evidence.None);
        await accounts.SignInAsync(account, isPersistent: true);
        return TypedResults.NoContent();
    }

    private static async Task<NoContent> SignOutAsync(SignInManager<Account> accounts)
    {
        await accounts.SignOutAsync();
        return TypedResults.NoContent();
    }
}
