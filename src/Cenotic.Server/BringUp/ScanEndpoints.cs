using Cenotic.Core.BringUp;
using Cenotic.Server.Accounts;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <param name="Text">What a scanning program printed.</param>
public sealed record ScanPaste(string Text);

/// <summary>A scan held against the plan as it is now.</summary>
/// <param name="Who">Who pasted it; null when the node sent it.</param>
public sealed record ScanView(long Id, long AtMs, string? Who, string Text, ScanReport Report);

/// <summary>Bus scans of a node: pasted, kept, and compared with the plan.</summary>
public static class ScanEndpoints
{
    private const int Shown = 10;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/scans", ListAsync).WithName("GetScans");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/scans", KeepAsync).WithName("KeepScan");
    }

    private static async Task<Results<Ok<List<ScanView>>, ProblemHttpResult>> ListAsync(string site, string node, SiteBook book, CenoticStore store)
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design || book.Plan(state).Node(node) is not { } plan)
        {
            return TypedResults.Problem($"There is no node \"{node}\".", statusCode: 404);
        }
        // One more than is shown: it is the scan before the last of them.
        var rows = await store.Scans.AsNoTracking().Where(s => s.Site == site && s.Node == node).OrderByDescending(s => s.Id).Take(Shown + 1).ToListAsync();
        var scans = rows.Select(r => ScanText.Read(r.Text).Value).ToList();
        return TypedResults.Ok(rows.Take(Shown).Select((r, at) => new ScanView(r.Id, r.AtMs, r.Who, r.Text, ScanComparison.Compare(design, plan.Bench, state.Catalogue, scans[at], at + 1 < scans.Count ? scans[at + 1] : null))).ToList());
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> KeepAsync(string site, string node, ScanPaste request, HttpContext http, Scans scans)
    {
        var kept = await scans.KeepAsync(site, node, request.Text, http.User.Identity!.Name);
        return kept.Ok ? TypedResults.NoContent() : TypedResults.UnprocessableEntity(new EditRefused(kept.Reasons));
    }
}
