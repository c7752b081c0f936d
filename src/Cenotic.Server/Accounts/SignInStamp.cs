using System.Security.Claims;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Cenotic.Server.Accounts;

/// <summary>A sign-in holds as long as the account has the stamp it was made with. Another password, or "sign out
/// everywhere", gives it a new one: every cookie, copied ones too, ends with that.</summary>
public static class SignInStamp
{
    /// <summary>The stamp a sign-in was made with.</summary>
    public static string? Of(ClaimsPrincipal? user, IdentityOptions options) => user?.FindFirstValue(options.ClaimsIdentity.SecurityStampClaimType);

    /// <summary>Looks at each request whether the sign-in still holds.</summary>
    internal static async Task ValidateAsync(CookieValidatePrincipalContext context)
    {
        var services = context.HttpContext.RequestServices;
        var id = context.Principal?.FindFirstValue(ClaimTypes.NameIdentifier);
        var stamp = await services.GetRequiredService<CenoticStore>().Users.Where(u => u.Id == id).Select(u => u.SecurityStamp).FirstOrDefaultAsync();
        if (stamp is null || stamp != Of(context.Principal, services.GetRequiredService<IOptions<IdentityOptions>>().Value))
        {
            context.RejectPrincipal();
        }
    }
}
