using System.Security.Claims;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Sites;

/// <summary>Lets a request through when the signed-in account has at least this role at the
/// site of the route. A site one is no member of does not exist.</summary>
/// <param name="acting">True where a viewer who may act is let through too.</param>
public sealed class SiteAccess(Role least, bool acting = false) : IEndpointFilter
{
    /// <summary>Where the filter leaves whether the member may acknowledge and arm.</summary>
    public const string MayActItem = "cenotic-may-act";

    /// <summary>Where the filter leaves the role for the endpoint.</summary>
    public const string RoleItem = "cenotic-role";

    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        var http = context.HttpContext;
        var site = http.GetRouteValue("site") as string;
        var account = http.User.FindFirstValue(ClaimTypes.NameIdentifier);
        var store = http.RequestServices.GetRequiredService<CenoticStore>();
        var membership = await store.Memberships.AsNoTracking().FirstOrDefaultAsync(m => m.Site == site && m.AccountId == account);
        if (membership is null)
        {
            return TypedResults.Problem("There is no such site, or you are no member of it.", statusCode: StatusCodes.Status404NotFound);
        }
        if (membership.Role < least && !(acting && membership.MayAct))
        {
            return TypedResults.Problem(
                $"This needs the role {least.ToString().ToLowerInvariant()}; yours is {membership.Role.ToString().ToLowerInvariant()}.",
                statusCode: StatusCodes.Status403Forbidden
            );
        }
        http.Items[RoleItem] = membership.Role;
        http.Items[MayActItem] = membership.MayAct || membership.Role >= Role.Maker;
        return await next(context);
    }
}
