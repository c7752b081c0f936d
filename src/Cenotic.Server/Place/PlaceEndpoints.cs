using Cenotic.Core.Place;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Place;

/// <summary>Questions about the place that take longer than a plan may.</summary>
public static class PlaceEndpoints
{
    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Reading(routes).MapGet("/place/best-spots", BestSpotsAsync).WithName("FindBestSpots");

    /// <param name="node">Key of a node with a motion or presence sensor.</param>
    private static async Task<Results<Ok<IReadOnlyList<SpotChoice>>, ProblemHttpResult>> BestSpotsAsync(
        string site,
        string node,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        var choices = await plans.WorkAsync(_ => PlacePlanner.BestSpots(state.Design, state.Catalogue, node, stop), stop);
        return choices.Count > 0
            ? TypedResults.Ok(choices)
            : TypedResults.Problem($"\"{node}\" has no motion or presence sensor that hangs in a room.", statusCode: 404);
    }
}
