using System.Globalization;
using System.Security.Claims;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

/// <summary>Who came by a share link: a cookie of its own that opens one view and nothing else. Each request looks whether the link still holds.</summary>
public static class ShareScheme
{
    public const string Name = "cenotic-share",
        Policy = "share",
        LivePolicy = "live",
        LinkClaim = "link";

    internal static bool Holds(ShareLinkRow link, long now) => link.RevokedMs is null && (link.ExpiresMs is null || now < link.ExpiresMs);

    internal static ClaimsPrincipal Principal(ShareLinkRow link) =>
        new(new ClaimsIdentity([new(LinkClaim, link.Id.ToString(CultureInfo.InvariantCulture))], Name));

    /// <summary>The link of a request, or null when it holds no more.</summary>
    internal static async Task<ShareLinkRow?> LinkAsync(ClaimsPrincipal? user, CenoticStore store, SiteBook book, TimeProvider system) =>
        long.TryParse(user?.FindFirst(LinkClaim)?.Value, CultureInfo.InvariantCulture, out var id)
        && await store.ShareLinks.AsNoTracking().SingleOrDefaultAsync(l => l.Id == id) is { } link
        && Holds(link, system.GetUtcNow().ToUnixTimeMilliseconds())
        && book.Find(link.Site) is not null
            ? link
            : null;

    internal static void Configure(CookieAuthenticationOptions o)
    {
        o.Cookie.Name = Name;
        o.Cookie.SameSite = SameSiteMode.Strict;
        o.Cookie.HttpOnly = true;
        o.ExpireTimeSpan = TimeSpan.FromDays(30);
        o.Events.OnRedirectToLogin = o.Events.OnRedirectToAccessDenied = c =>
        {
            c.Response.StatusCode = StatusCodes.Status401Unauthorized;
            return Task.CompletedTask;
        };
        o.Events.OnValidatePrincipal = async c =>
        {
            var services = c.HttpContext.RequestServices;
            if (
                await LinkAsync(
                    c.Principal,
                    services.GetRequiredService<CenoticStore>(),
                    services.GetRequiredService<SiteBook>(),
                    services.GetRequiredService<TimeProvider>()
                )
                is null
            )
            {
                c.RejectPrincipal();
            }
        };
    }
}
