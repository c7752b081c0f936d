using Cenotic.Core.Reach;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Reach;

/// <summary>Maps of what a receiver hears, and links as they would be.</summary>
public static class ReachEndpoints
{
    private const int UsualCells = 120;

    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/reach/map", HeatAsync).WithName("MapReach");
        reading.MapGet("/reach/choices", CompareAsync).WithName("CompareLinks");
        reading.MapGet("/nodes/{node}/radios", Radios).WithName("GetNodeRadios");
    }

    private static Results<Ok<IReadOnlyList<RadioSheet>>, ProblemHttpResult> Radios(string site, string node, SiteBook book) =>
        book.Find(site)!.Design.Node(node) is null
            ? SiteRoutes.NoNode(node)
            : TypedResults.Ok(RadioSheet.Of(book.Find(site)!.Design, book.Find(site)!.Catalogue, node));

    /// <param name="node">Key of a node that sends by radio.</param>
    private static async Task<Results<Ok<LinkComparison>, ProblemHttpResult>> CompareAsync(
        string site,
        string node,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        return (await book.PlanAsync(state, stop)).Node(node) is { } plan
            ? TypedResults.Ok(
                await plans.WorkAsync(budget => LinkComparison.Of(state.Design, state.Catalogue, state.Evidence, node, plan.Bench, budget, stop), stop)
            )
            : SiteRoutes.NoNode(node);
    }

    /// <param name="receiver">Key of an access point, or of a node with a radio module.</param>
    /// <param name="floor">Key of the floor that is looked at; the ground without.</param>
    /// <param name="cells">Cells along the longer side.</param>
    private static async Task<Results<Ok<HeatMap>, ProblemHttpResult>> HeatAsync(
        string site,
        string receiver,
        string? floor,
        int? cells,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop
    )
    {
        if (cells is < 10 or > HeatMap.MostCells)
        {
            return TypedResults.Problem($"A map has 10 to {HeatMap.MostCells} cells along its longer side.", statusCode: 400);
        }
        var state = book.Find(site)!;
        var map = await plans.WorkAsync(_ => HeatMap.Of(state.Design, state.Catalogue, state.Evidence, receiver, floor, cells ?? UsualCells, stop), stop);
        return map is not null
            ? TypedResults.Ok(map)
            : TypedResults.Problem($"\"{receiver}\" is no access point or radio module with a spot on a drawn plan.", statusCode: 404);
    }
}
