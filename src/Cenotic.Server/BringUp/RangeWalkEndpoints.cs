using Cenotic.Core.BringUp;
using Cenotic.Core.Reach;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <summary>The newest walk at a spot.</summary>
/// <param name="Sent">Messages that came and those that are missing between them.</param>
/// <param name="HeardPercent">Part of them that came.</param>
/// <param name="IsPoor">True where too little came for a node to stay there.</param>
public sealed record WalkedSpot(string Spot, string Label, long AtMs, int Sent, double HeardPercent, bool IsPoor, double? RssiMedian);

/// <param name="Now">What came since the time asked for; null when none was.</param>
/// <param name="Signals">The newest signals since then, the oldest first, dBm.</param>
public sealed record RangeWalkView(IReadOnlyList<WalkedSpot> Spots, WalkSummary? Now, IReadOnlyList<double> Signals, long NowMs);

/// <param name="Spot">Key of the spot where the node was.</param>
/// <param name="FromMs">Since when it was there, UTC ms of site time; until now.</param>
public sealed record WalkRequest(string Spot = "", long FromMs = 0);

/// <summary>A node is carried from spot to spot, and how it is heard there is kept.</summary>
public static class RangeWalkEndpoints
{
    private const int MostMessages = 2_000,
        Shown = 60,
        Fewest = 5;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/walk", ViewAsync).WithName("GetRangeWalk");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/walk", KeepAsync).WithName("KeepRangeWalk");
    }

    /// <param name="since">Since when the node is where it is, UTC ms; null for none.</param>
    private static async Task<RangeWalkView> ViewAsync(string site, string node, long? since, SiteBook book, SiteClock clock, CenoticStore store)
    {
        var state = book.Find(site)!;
        var messages = since is { } from ? await MessagesAsync(store, site, node, from) : [];
        return new(
            [
                .. from w in state.Evidence.Walks.Where(w => w.Node == node).OrderByDescending(w => w.AtMs)
                let s = state.Design.Place.Spots.FirstOrDefault(s => s.Key == w.Spot)
                where s is not null
                let heard = RangeWalk.HeardPercent(w)
                select new WalkedSpot(w.Spot, s.Label, w.AtMs, w.Heard + w.Lost, heard, heard < RangeWalk.PoorBelowPercent, w.MedianDbm),
            ],
            since is null ? null : RangeWalk.Of(messages),
            [.. messages.Select(m => m.Rssi).OfType<double>().TakeLast(Shown)],
            clock.Now(site)
        );
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> KeepAsync(
        string site,
        string node,
        WalkRequest request,
        SiteBook book,
        SiteClock clock,
        CenoticStore store,
        HttpContext http
    )
    {
        var state = book.Find(site)!;
        var design = state.Design;
        var summary = RangeWalk.Of(await MessagesAsync(store, site, node, request.FromMs));
        var reason =
            design.Node(node) is null ? $"There is no node \"{node}\"."
            : design.Place.Spots.All(s => s.Key != request.Spot) ? "Choose a spot of the plan."
            : summary.Count < Fewest ? $"{summary.Count} messages came from here; {Fewest} are wanted for a verdict."
            : null;
        if (reason is not null)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([reason]));
        }
        await book.WalkAsync(
            site,
            new(
                node,
                design.Node(node)!.Via,
                request.Spot,
                clock.Now(site),
                http.User.Identity!.Name!,
                summary.Count,
                summary.Lost ?? 0,
                summary.RssiMedian,
                summary.RssiLow,
                LinkPlanner.RadioNow(design, state.Catalogue, design.Node(node)! with { Spot = request.Spot })
            ),
            request.FromMs
        );
        return TypedResults.NoContent();
    }

    private static async Task<List<WalkMessage>> MessagesAsync(CenoticStore store, string site, string node, long from)
    {
        var rows = await store
            .Arrivals.AsNoTracking()
            .Where(a => a.Site == site && a.Node == node && a.ReceivedMs >= from)
            .OrderByDescending(a => a.Id)
            .Take(MostMessages)
            .ToListAsync();
        rows.Reverse();
        return [.. rows.Select(a => new WalkMessage(a.ReceivedMs, a.Boot, a.Number, a.Rssi))];
    }
}
