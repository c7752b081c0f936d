using Cenotic.Core.Formats;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Ingest;

/// <summary>Tables of storage cards and spreadsheets: sent, looked at, imported with progress, given up.</summary>
public static class ImportEndpoints
{
    private const int LongestName = 120;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/imports/{id}", View).WithName("GetImport");
        var writing = SiteRoutes.Writing(routes);
        writing.MapPost("/imports", TakeAsync).WithName("SendTable");
        writing.MapPost("/imports/{id}/begin", Begin).WithName("BeginImport");
        writing.MapDelete("/imports/{id}", EndAsync).WithName("EndImport");
    }

    private static Results<Ok<ImportView>, ProblemHttpResult> View(string site, string id, Imports imports) =>
        imports.Find(site, id) is { } view ? TypedResults.Ok(view) : None();

    /// <param name="name">Name of the file, to be shown.</param>
    private static async Task<Results<Ok<ImportView>, UnprocessableEntity<EditRefused>>> TakeAsync(
        string site,
        HttpContext http,
        Imports imports,
        string name = "table.csv"
    )
    {
        if (http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size)
        {
            size.MaxRequestBodySize = Imports.LongestFile + 1;
        }
        try
        {
            return TypedResults.Ok(
                await imports.TakeAsync(site, name.Length > LongestName ? name[..LongestName] : name, http.Request.Body, http.RequestAborted)
            );
        }
        catch (InvalidDataException fault)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([fault.Message]));
        }
    }

    private static Results<Ok<ImportView>, UnprocessableEntity<EditRefused>> Begin(
        string site,
        string id,
        CsvLayout layout,
        HttpContext http,
        Imports imports
    ) =>
        imports.Begin(site, id, layout, http.User.Identity!.Name!) is { Count: > 0 } faults
            ? TypedResults.UnprocessableEntity(new EditRefused(faults))
            : TypedResults.Ok(imports.Find(site, id)!);

    private static async Task<Results<NoContent, ProblemHttpResult>> EndAsync(string site, string id, Imports imports) =>
        await imports.EndAsync(site, id) ? TypedResults.NoContent() : None();

    private static ProblemHttpResult None() => TypedResults.Problem("There is no such table.", statusCode: 404);
}
