using System.Security.Claims;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

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

/// <summary>Refuses a write that rides on the sign-in cookie without the page's antiforgery token.</summary>
public sealed class AntiforgeryCheck(IAntiforgery antiforgery) : IEndpointFilter
{
    public const string Header = "X-Cenotic-Token";

    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        if (!await antiforgery.IsRequestValidAsync(context.HttpContext))
        {
            return TypedResults.Problem("The page's token is missing or old; load the page again.", statusCode: StatusCodes.Status400BadRequest);
        }
        return await next(context);
    }
}

/// <summary>The groups of routes under a site.</summary>
public static class SiteRoutes
{
    /// <summary>Reading: any member.</summary>
    public static RouteGroupBuilder Reading(IEndpointRouteBuilder routes) =>
        routes.MapGroup("/api/sites/{site}").AddEndpointFilter(new SiteAccess(Role.Viewer)).ProducesProblem(404);

    /// <summary>Writing: makers and owners, with the page's token.</summary>
    public static RouteGroupBuilder Writing(IEndpointRouteBuilder routes, Role least = Role.Maker) => Writing(routes, new SiteAccess(least));

    /// <summary>Acknowledging and arming: also viewers whom an owner lets, with the page's token.</summary>
    public static RouteGroupBuilder Acting(IEndpointRouteBuilder routes) => Writing(routes, new SiteAccess(Role.Maker, acting: true));

    private static RouteGroupBuilder Writing(IEndpointRouteBuilder routes, SiteAccess access) =>
        routes
            .MapGroup("/api/sites/{site}")
            .AddEndpointFilter(access)
            .AddEndpointFilter<AntiforgeryCheck>()
            .ProducesProblem(400)
            .ProducesProblem(403)
            .ProducesProblem(404);
}
