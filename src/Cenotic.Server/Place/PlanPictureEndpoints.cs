using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Place;

/// <summary>A picture as it was kept.</summary>
public sealed record PlanPictureKept(long Id);

/// <summary>Pictures of paper plans that lie under a plan.</summary>
public static class PlanPictureEndpoints
{
    private const int MostOfSite = 40;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Writing(routes).MapPost("/place/pictures", KeepAsync).WithName("KeepPlanPicture");
        SiteRoutes.Reading(routes).MapGet("/place/pictures/{id:long}", ShowAsync).WithName("GetPlanPicture");
    }

    /// <summary>Takes the bytes of a picture as the body. Where a site has many, the oldest goes that lies under no floor.</summary>
    private static async Task<Results<Ok<PlanPictureKept>, UnprocessableEntity<EditRefused>>> KeepAsync(
        string site,
        SiteBook book,
        WriteGate gate,
        HttpContext http
    )
    {
        var (body, type, refused) = await PictureBody.ReadAsync(http.Request, http.RequestAborted);
        if (refused is not null)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([refused]));
        }
        var used = book.Find(site)!.Design.Place.Scans.Select(s => s.Picture).ToList();
        var row = new PlanPictureRow
        {
            Site = site,
            Type = type,
            Body = body,
        };
        await gate.WriteAsync(async store =>
        {
            var kept = await store.PlanPictures.Where(p => p.Site == site).OrderBy(p => p.Id).Select(p => p.Id).ToListAsync();
            var spare = kept.Where(id => !used.Contains(id)).Take(Math.Max(0, kept.Count + 1 - MostOfSite)).ToList();
            await store.PlanPictures.Where(p => spare.Contains(p.Id)).ExecuteDeleteAsync();
            store.PlanPictures.Add(row);
        });
        return TypedResults.Ok(new PlanPictureKept(row.Id));
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ShowAsync(string site, long id, CenoticStore store, HttpContext http)
    {
        if (await store.PlanPictures.AsNoTracking().FirstOrDefaultAsync(p => p.Site == site && p.Id == id) is not { } picture)
        {
            return TypedResults.Problem("That picture is gone.", statusCode: 404);
        }
        // What is kept under a number never changes.
        http.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
        return TypedResults.File(picture.Body, picture.Type);
    }
}
