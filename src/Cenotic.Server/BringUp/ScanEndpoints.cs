using Cenotic.Core.BringUp;
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

/// <summary>Probes while one of them is warmed.</summary>
/// <param name="Heats">The one that rose most first; empty while the node sends no temperatures with its scans.</param>
/// <param name="Warmed">Code of the one that is warmed; null while that is not clear.</param>
public sealed record WarmingView(IReadOnlyList<ProbeHeat> Heats, string? Warmed, long NowMs);

/// <summary>Bus scans of a node: pasted, kept, and compared with the plan.</summary>
public static class ScanEndpoints
{
    private const int Shown = 10;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/scans", ListAsync).WithName("GetScans");
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/warming", Warming).WithName("GetWarming");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/scans", KeepAsync).WithName("KeepScan");
    }

    private static async Task<Results<Ok<List<ScanView>>, ProblemHttpResult>> ListAsync(string site, string node, SiteBook book, CenoticStore store)
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design || (await book.PlanAsync(state)).Node(node) is not { } plan)
        {
            return SiteRoutes.NoNode(node);
        }
        // One more than is shown: it is the scan before the last of them.
        var rows = await store.Scans.AsNoTracking().Where(s => s.Site == site && s.Node == node).OrderByDescending(s => s.Id).Take(Shown + 1).ToListAsync();
        // What an older program took for a scan may be none to this one.
        rows.RemoveAll(r => !ScanText.Read(r.Text).Ok);
        var scans = rows.Select(r => ScanText.Read(r.Text).Value).ToList();
        return TypedResults.Ok(
            rows.Take(Shown)
                .Select(
                    (r, at) =>
                        new ScanView(
                            r.Id,
                            r.AtMs,
                            r.Who,
                            r.Text,
                            ScanComparison.Compare(design, plan.Bench, state.Catalogue, scans[at], at + 1 < scans.Count ? scans[at + 1] : null)
                        )
                )
                .ToList()
        );
    }

    /// <param name="since">When the watch began, UTC ms; null for now.</param>
    private static WarmingView Warming(string site, string node, long? since, Scans scans, SiteClock clock)
    {
        var heats = ProbeWarming.Of(scans.WarmthSince(site, node, since ?? clock.Now(site) - 10_000));
        return new(heats, since is null ? null : ProbeWarming.Warmed(heats)?.Rom, clock.Now(site));
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> KeepAsync(
        string site,
        string node,
        ScanPaste request,
        HttpContext http,
        Scans scans
    )
    {
        var kept = await scans.KeepAsync(site, node, request.Text, http.User.Identity!.Name);
        return kept.Ok ? TypedResults.NoContent() : TypedResults.UnprocessableEntity(new EditRefused(kept.Reasons));
    }
}
