using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Sites;

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

    /// <summary>What is answered of a node that is not there.</summary>
    public static ProblemHttpResult NoNode(string node) => TypedResults.Problem($"There is no node \"{node}\".", statusCode: 404);

    private static RouteGroupBuilder Writing(IEndpointRouteBuilder routes, SiteAccess access) =>
        routes
            .MapGroup("/api/sites/{site}")
            .AddEndpointFilter(access)
            .AddEndpointFilter<AntiforgeryCheck>()
            .ProducesProblem(400)
            .ProducesProblem(403)
            .ProducesProblem(404);
}
