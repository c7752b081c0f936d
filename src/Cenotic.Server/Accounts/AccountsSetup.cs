using System.Threading.RateLimiting;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;

namespace Cenotic.Server.Accounts;

/// <summary>Puts accounts together: who somebody is, and what they may.</summary>
internal static class AccountsSetup
{
    /// <summary>Adds its services.</summary>
    /// <param name="describing">True where only the interface is described: nothing is written.</param>
    public static IServiceCollection AddAccounts(this IServiceCollection services, Settings settings, bool describing)
    {
        services.AddSingleton<FirstStartCode>().AddSingleton<SignInThrottle>().AddSingleton<LiveConnections>().AddHostedService<LiveWatch>();
        Protection(services, settings, describing);
        Identity(services);
        Permits(services);
        services.AddRateLimiter(o =>
        {
            o.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            o.AddPolicy(SessionEndpoints.SignInLimit, http =>
                RateLimitPartition.GetFixedWindowLimiter(PeerAddress.Of(http.Connection.RemoteIpAddress), _ => new FixedWindowRateLimiterOptions
                {
                    PermitLimit = 30,
                    Window = TimeSpan.FromMinutes(1),
                })
            );
        });
        return services;
    }

    /// <summary>Maps its routes.</summary>
    public static void MapAccounts(this WebApplication app)
    {
        SessionEndpoints.Map(app);
        MemberEndpoints.Map(app);
    }

    private static void Protection(IServiceCollection services, Settings settings, bool describing)
    {
        var protection = services.AddDataProtection().SetApplicationName("cenotic");
        if (describing)
        {
            // Nothing is written where only the interface is described.
            protection.UseEphemeralDataProtectionProvider();
        }
        else
        {
            protection.PersistKeysToFileSystem(new DirectoryInfo(SecretKeys.Folder(settings)));
        }
    }

    private static void Identity(IServiceCollection services)
    {
        services
            .AddIdentityCore<Account>(o =>
            {
                // The whole rule is PasswordRule's.
                o.Password.RequiredLength = o.Password.RequiredUniqueChars = 1;
                o.Password.RequireDigit = o.Password.RequireLowercase = o.Password.RequireUppercase = o.Password.RequireNonAlphanumeric = false;
            })
            .AddUserStore<AccountStore>()
            .AddPasswordValidator<PasswordRule>()
            .AddUserValidator<AccountNameRule>()
            .AddSignInManager();
        services
            .AddAuthentication(IdentityConstants.ApplicationScheme)
            .AddIdentityCookies(cookies =>
                cookies.ApplicationCookie!.Configure(o =>
                {
                    o.Cookie.Name = "cenotic";
                    o.Cookie.SameSite = SameSiteMode.Strict;
                    o.Cookie.HttpOnly = true;
                    o.Events.OnValidatePrincipal = SignInStamp.ValidateAsync;
                    o.Events.OnRedirectToLogin = c => Answer(c.Response, StatusCodes.Status401Unauthorized);
                    o.Events.OnRedirectToAccessDenied = c => Answer(c.Response, StatusCodes.Status403Forbidden);
                })
            );
    }

    private static void Permits(IServiceCollection services)
    {
        services.AddAuthentication().AddCookie(ShareScheme.Name, ShareScheme.Configure);
        services
            .AddAuthorizationBuilder()
            .SetFallbackPolicy(new AuthorizationPolicyBuilder(IdentityConstants.ApplicationScheme).RequireAuthenticatedUser().Build())
            .AddPolicy(ShareScheme.Policy, p => p.AddAuthenticationSchemes(ShareScheme.Name).RequireClaim(ShareScheme.LinkClaim))
            .AddPolicy(ShareScheme.LivePolicy, p =>
                p.AddAuthenticationSchemes(IdentityConstants.ApplicationScheme, ShareScheme.Name).RequireAuthenticatedUser()
            );
        services.AddAntiforgery(o =>
        {
            o.HeaderName = AntiforgeryCheck.Header;
            o.Cookie.Name = "cenotic-token";
            o.Cookie.SameSite = SameSiteMode.Strict;
        });
    }

    private static Task Answer(HttpResponse response, int status)
    {
        response.StatusCode = status;
        return Task.CompletedTask;
    }
}
