using Cenotic.Core.Design;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Watch;

/// <summary>Views for members.</summary>
public static class ViewEndpoints
{
    internal const int UsualPoints = 400,
        MostPoints = 2_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/views/{view}", Find).WithName("GetView");
        reading.MapGet("/views/{view}/data", DataAsync).WithName("GetViewData");
    }

    private static Results<Ok<ViewDesign>, ProblemHttpResult> Find(string site, string view, ViewReader views) =>
        views.Find(site, view) is { } design
            ? TypedResults.Ok(design)
            : TypedResults.Problem("There is no such view; it may have been removed.", statusCode: 404);

    private static async Task<Results<Ok<ViewData>, ProblemHttpResult>> DataAsync(
        string site,
        string view,
        long from,
        long to,
        ViewReader views,
        CenoticStore store,
        int points = UsualPoints
    ) =>
        views.Find(site, view) is not { } design ? TypedResults.Problem("There is no such view; it may have been removed.", statusCode: 404)
        : Fault(from, to, points) is { } fault ? TypedResults.Problem(fault, statusCode: 422)
        : TypedResults.Ok(await views.ReadAsync(store, site, design, from, to, points));

    internal static string? Fault(long from, long to, int points) =>
        to <= from ? "The end is not after the start."
        : to - from > ViewReader.LongestMs ? "A view shows five years at most."
        : points is < 10 or > MostPoints ? $"A line has 10 to {MostPoints} points."
        : null;
}
