using System.Security.Claims;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

/// <summary>Lets a request through when the signed-in account has at least this role at the site of the route. A site one is no member of does not exist.</summary>
public sealed class SiteAccess(Role least) : IEndpointFilter
{
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
        if (membership.Role < least)
        {
            return TypedResults.Problem($"This needs the role {least.ToString().ToLowerInvariant()}; yours is {membership.Role.ToString().ToLowerInvariant()}.", statusCode: StatusCodes.Status403Forbidden);
        }
        http.Items[RoleItem] = membership.Role;
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

/// <summary>The two groups of routes under a site.</summary>
public static class SiteRoutes
{
    /// <summary>Reading: any member.</summary>
    public static RouteGroupBuilder Reading(IEndpointRouteBuilder routes) => routes.MapGroup("/api/sites/{site}").AddEndpointFilter(new SiteAccess(Role.Viewer)).ProducesProblem(404);

    /// <summary>Writing: makers and owners, with the page's token.</summary>
    public static RouteGroupBuilder Writing(IEndpointRouteBuilder routes, Role least = Role.Maker) =>
        routes.MapGroup("/api/sites/{site}").AddEndpointFilter(new SiteAccess(least)).AddEndpointFilter<AntiforgeryCheck>().ProducesProblem(400).ProducesProblem(403).ProducesProblem(404);
}
