using System.Security.Claims;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

/// <summary>Who is here.</summary>
/// <param name="Name">Null when nobody is signed in.</param>
/// <param name="Token">To be sent with every write.</param>
/// <param name="FirstStart">True when there is no account yet: the code on the console creates the owner.</param>
public sealed record SessionView(string? Name, string Token, bool FirstStart, bool Demo, IReadOnlyList<SiteOfAccount> Sites);

public sealed record SignIn(string Name, string Password);

/// <summary>Another password for who is signed in.</summary>
public sealed record PasswordChange(string Current = "", string New = "");

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
        var own = routes.MapGroup("/api").AddEndpointFilter<AntiforgeryCheck>();
        own.MapDelete("/session", SignOutAsync).WithName("SignOut");
        own.MapDelete("/sessions", SignOutEverywhereAsync).WithName("SignOutEverywhere");
        own.MapPut("/session/password", ChangePasswordAsync).WithName("ChangePassword").RequireRateLimiting(SignInLimit);
    }

    private static async Task<SessionView> View(HttpContext http, CenoticStore store, SiteBook book, IAntiforgery antiforgery, Settings settings)
    {
        var id = http.User.FindFirstValue(ClaimTypes.NameIdentifier);
        var memberships = id is null ? [] : await store.Memberships.AsNoTracking().Where(m => m.AccountId == id).ToListAsync();
        var token = antiforgery.GetAndStoreTokens(http).RequestToken!;
        http.Response.Headers.CacheControl = "no-store";
        return new(
            http.User.Identity?.Name,
            token,
            !await store.Users.AnyAsync(),
            settings.Demo,
            [.. memberships.Select(m => new SiteOfAccount(m.Site, book.Find(m.Site)?.Design.Settings.Name ?? m.Site, m.Role))]
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SignInAsync(
        SignIn request,
        HttpContext http,
        SignInManager<Account> accounts,
        IPasswordHasher<Account> hasher,
        SignInThrottle throttle
    )
    {
        var from = http.Connection.RemoteIpAddress;
        if (throttle.Wait(from, request.Name) is { } wait)
        {
            return TypedResults.Problem(SignInThrottle.Says(wait), statusCode: 429);
        }
        var account = await accounts.UserManager.FindByNameAsync(request.Name);
        if (account is null)
        {
            // A name that there is not takes as long as one that there is.
            _ = hasher.VerifyHashedPassword(new(), NobodysHash, Tried(request.Password));
        }
        if (account is null || !await accounts.UserManager.CheckPasswordAsync(account, Tried(request.Password)))
        {
            throttle.Failed(from, request.Name);
            return TypedResults.Problem("No account has that name and password.", statusCode: 401);
        }
        throttle.Succeeded(from, request.Name);
        await accounts.SignInAsync(account, isPersistent: true);
        return TypedResults.NoContent();
    }

    /// <summary>Hash of a password that nobody has.</summary>
    private static readonly string NobodysHash = new PasswordHasher<Account>().HashPassword(new(), SecretToken.New());

    /// <summary>What is hashed of a password that is tried: one that is longer than any password is wrong, and costs no more than they do.</summary>
    private static string Tried(string password) => password.Length > PasswordRule.Longest ? "" : password;

    /// <summary>Another password for who is signed in: every other sign-in of theirs ends, this one goes on.</summary>
    private static async Task<Results<NoContent, ProblemHttpResult>> ChangePasswordAsync(
        PasswordChange request,
        HttpContext http,
        SignInManager<Account> accounts,
        SignInThrottle throttle,
        LiveConnections connections
    )
    {
        var account = (await accounts.UserManager.GetUserAsync(http.User))!;
        var from = http.Connection.RemoteIpAddress;
        if (throttle.Wait(from, account.UserName!) is { } wait)
        {
            return TypedResults.Problem(SignInThrottle.Says(wait), statusCode: 429);
        }
        if (!await accounts.UserManager.CheckPasswordAsync(account, Tried(request.Current)))
        {
            throttle.Failed(from, account.UserName!);
            return TypedResults.Problem("The current password is another one.", statusCode: 422);
        }
        var changed = await accounts.UserManager.ChangePasswordAsync(account, request.Current, request.New);
        if (!changed.Succeeded)
        {
            return TypedResults.Problem(string.Join(" ", changed.Errors.Select(e => e.Description)), statusCode: 422);
        }
        await accounts.SignInAsync(account, isPersistent: true);
        connections.EndAccount(account.Id);
        return TypedResults.NoContent();
    }

    private static async Task<NoContent> SignOutEverywhereAsync(HttpContext http, SignInManager<Account> accounts, LiveConnections connections)
    {
        var account = (await accounts.UserManager.GetUserAsync(http.User))!;
        await accounts.UserManager.UpdateSecurityStampAsync(account);
        await accounts.SignOutAsync();
        connections.EndAccount(account.Id);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> FirstStartAsync(
        FirstStart request,
        FirstStartCode code,
        UserManager<Account> users,
        SignInManager<Account> accounts,
        SiteBook book
    )
    {
        await code.OneAtATime.WaitAsync();
        try
        {
            return await FirstAccountAsync(request, code, users, accounts, book);
        }
        finally
        {
            code.OneAtATime.Release();
        }
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> FirstAccountAsync(
        FirstStart request,
        FirstStartCode code,
        UserManager<Account> users,
        SignInManager<Account> accounts,
        SiteBook book
    )
    {
        if (await users.Users.AnyAsync() || !code.Fits(request.Code))
        {
            return RequestFaults.At("code", "That is not the code on the console, or the first start is done.", 401);
        }
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(request.TimeZone, out _))
        {
            return RequestFaults.At("timeZone", $"\"{request.TimeZone}\" is not a time zone; write it like Europe/London.");
        }
        var design = EditBatch.Apply(SiteDesign.Empty("new"), [new SetSite(new(request.SiteName, request.TimeZone, RadioRegion.Unset))]);
        if (!design.Ok)
        {
            return RequestFaults.At("siteName", string.Join(" ", design.Reasons));
        }
        var account = new Account { UserName = request.Name };
        var created = await users.CreateAsync(account, request.Password);
        if (!created.Succeeded)
        {
            var ofPassword = created.Errors.All(e => e.Code.StartsWith("Password", StringComparison.Ordinal));
            return RequestFaults.At(ofPassword ? "password" : "name", string.Join(" ", created.Errors.Select(e => e.Description)));
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
