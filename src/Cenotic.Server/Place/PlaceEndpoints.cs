using System.Text;
using Cenotic.Core.Formats;
using Cenotic.Core.Place;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Place;

/// <param name="Json">GeoJSON.</param>
public sealed record PlaceFile(string Json);

/// <summary>Questions about the place that take longer than a plan may, and the plan as files.</summary>
public static class PlaceEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/place/best-spots", BestSpotsAsync).WithName("FindBestSpots");
        reading.MapGet("/place/plan.geojson", GeoJson).WithName("ExportPlace");
        reading.MapGet("/place/plan.svg", Drawing).WithName("DrawPlace");
        SiteRoutes.Writing(routes).MapPost("/place/read", ReadFile).WithName("ReadPlace");
    }

    private static Results<FileContentHttpResult, UnprocessableEntity<EditRefused>> GeoJson(string site, SiteBook book)
    {
        var written = PlaceGeoJson.Write(book.Find(site)!.Design.Place);
        return written.TryGet(out var json)
            ? TypedResults.File(Encoding.UTF8.GetBytes(json), "application/geo+json", $"{site}.geojson")
            : TypedResults.UnprocessableEntity(new EditRefused(written.Reasons));
    }

    /// <param name="floor">Key of the floor; none for the ground.</param>
    private static FileContentHttpResult Drawing(string site, SiteBook book, string? floor = null) =>
        TypedResults.File(Encoding.UTF8.GetBytes(PlaceSvg.Write(book.Find(site)!.Design.Place, floor)), "image/svg+xml", $"{site}-{floor ?? "ground"}.svg");

    /// <summary>What a file would bring: the edits are sent as any others, and so can be undone.</summary>
    private static Results<Ok<PlaceImport>, UnprocessableEntity<EditRefused>> ReadFile(string site, PlaceFile file, SiteBook book)
    {
        var read = PlaceGeoJson.Read(file.Json, book.Find(site)!.Design.Place);
        return read.TryGet(out var import) ? TypedResults.Ok(import) : TypedResults.UnprocessableEntity(new EditRefused(read.Reasons));
    }

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
