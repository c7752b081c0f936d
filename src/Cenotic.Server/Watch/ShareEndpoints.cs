using Cenotic.Core.Design;
using Cenotic.Server.Accounts;
using Cenotic.Server.Commands;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>A link as its maker sees it. Its secret was shown once.</summary>
/// <param name="Holds">False when it was revoked or ran out.</param>
public sealed record ShareLinkView(
    long Id,
    string View,
    string ViewLabel,
    string Label,
    long MadeMs,
    string MadeBy,
    long? ExpiresMs,
    long? RevokedMs,
    bool Holds,
    int Uses,
    long? LastUseMs
);

/// <param name="Label">For whom it is.</param>
/// <param name="Days">How long it holds; null for until it is revoked.</param>
public sealed record ShareRequest(string View = "", string Label = "", int? Days = null);

/// <param name="Path">What is put behind the address of this program. The secret stands behind the #, so that it is in no log of a server.</param>
public sealed record MadeShare(long Id, string Path);

public sealed record ShareToken(string Token = "");

/// <summary>A node of a shared plan: its spot.</summary>
/// <param name="Floor">Key of its floor; null for the ground.</param>
public sealed record SharedSpot(string Node, double X, double Y, string? Floor);

/// <summary>A view as one sees it who came by its link: its tiles, and of the plan no more than they show.</summary>
public sealed record SharedView(
    string SiteName,
    string TimeZone,
    ViewDesign View,
    IReadOnlyList<Room> Rooms,
    IReadOnlyList<Floor> Floors,
    IReadOnlyList<SharedSpot> Spots,
    long NowMs,
    double Speed
);

/// <summary>Links to one view: made and revoked by makers and owners, opened by who has one.</summary>
public static class ShareEndpoints
{
    private const int MostDays = 3_660;

    public static void Map(IEndpointRouteBuilder routes)
    {
        routes.MapPost("/api/shared", OpenAsync).WithName("OpenShare").AllowAnonymous().DisableAntiforgery().RequireRateLimiting(SessionEndpoints.SignInLimit);
        var shared = routes.MapGroup("/api/shared").RequireAuthorization(ShareScheme.Policy);
        shared.MapGet("/view", ViewAsync).WithName("GetShared");
        shared.MapGet("/data", DataAsync).WithName("GetSharedData");
        var writing = SiteRoutes.Writing(routes);
        // Who may look only is not shown who else may.
        routes
            .MapGroup("/api/sites/{site}")
            .AddEndpointFilter(new SiteAccess(Role.Maker))
            .MapGet("/shares", ListAsync)
            .WithName("GetShares")
            .ProducesProblem(403);
        writing.MapPost("/shares", MakeAsync).WithName("MakeShare");
        writing.MapDelete("/shares/{id:long}", RevokeAsync).WithName("RevokeShare");
    }

    private static long Ms(TimeProvider system) => system.GetUtcNow().ToUnixTimeMilliseconds();

    private static async Task<Results<NoContent, ProblemHttpResult>> OpenAsync(
        ShareToken request,
        HttpContext http,
        CenoticStore store,
        WriteGate gate,
        SiteBook book,
        TimeProvider system
    )
    {
        var hash = SecretToken.Hash(request.Token);
        var now = Ms(system);
        var link = await gate.WriteAsync(async s =>
        {
            var found = await s.ShareLinks.SingleOrDefaultAsync(l => l.Hash == hash);
            if (found is null || !ShareScheme.Holds(found, now))
            {
                return null;
            }
            (found.Uses, found.LastUseMs) = (found.Uses + 1, now);
            return found;
        });
        if (link is null || book.Find(link.Site) is null)
        {
            return TypedResults.Problem("This link holds no more, or was not copied whole. Ask who gave it to you for another.", statusCode: 401);
        }
        await http.SignInAsync(
            ShareScheme.Name,
            ShareScheme.Principal(link),
            new() { IsPersistent = true, ExpiresUtc = link.ExpiresMs is { } ms ? DateTimeOffset.FromUnixTimeMilliseconds(ms) : null }
        );
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<SharedView>, ProblemHttpResult>> ViewAsync(
        HttpContext http,
        CenoticStore store,
        SiteBook book,
        SiteClock clock,
        ViewReader views,
        TimeProvider system
    )
    {
        if (await ShareScheme.LinkAsync(http.User, store, book, system) is not { } link || views.Find(link.Site, link.View) is not { } view)
        {
            return TypedResults.Problem("The view is gone.", statusCode: 404);
        }
        http.Response.Headers.CacheControl = "no-store";
        var design = book.Find(link.Site)!.Design;
        var plan = view.Tiles.Select(t => t.Content).OfType<PlanTile>().ToList();
        var nodes = plan.SelectMany(p => p.Of).Select(r => r.Node).ToHashSet();
        var spots = design
            .Nodes.Where(n => nodes.Contains(n.Key))
            .Select(n => (n.Key, Spot: design.Place.Spots.FirstOrDefault(s => s.Key == n.Spot)))
            .Where(s => s.Spot is not null)
            .Select(s => new SharedSpot(s.Key, s.Spot!.X, s.Spot.Y, design.Place.FloorOf(s.Spot)?.Key));
        // Outputs and zones are not for who is a guest: their tiles are left out.
        var shown = view with { Tiles = [.. view.Tiles.Where(t => t.Content is not (OutputTile or ZoneTile))] };
        return TypedResults.Ok(
            new SharedView(
                design.Settings.Name,
                design.Settings.TimeZone,
                shown,
                plan.Count > 0 ? design.Place.Rooms : [],
                plan.Count > 0 ? design.Place.Floors : [],
                [.. spots],
                clock.Now(link.Site),
                clock.Speed(link.Site)
            )
        );
    }

    private static async Task<Results<Ok<ViewData>, ProblemHttpResult>> DataAsync(
        HttpContext http,
        long from,
        long to,
        CenoticStore store,
        SiteBook book,
        ViewReader views,
        TimeProvider system,
        int points = ViewEndpoints.UsualPoints
    )
    {
        if (await ShareScheme.LinkAsync(http.User, store, book, system) is not { } link || views.Find(link.Site, link.View) is not { } view)
        {
            return TypedResults.Problem("The view is gone.", statusCode: 404);
        }
        if (ViewEndpoints.Fault(from, to, points) is { } fault)
        {
            return TypedResults.Problem(fault, statusCode: 422);
        }
        var shown = view with { Tiles = [.. view.Tiles.Where(t => t.Content is not (OutputTile or ZoneTile))] };
        var data = await views.ReadAsync(store, link.Site, shown, from, to, points);
        // A guest sees no zone, and is not told by a sensor that one is in alarm.
        return TypedResults.Ok(data with { Readings = [.. data.Readings.Select(r => r with { Limits = [], Open = [] })] });
    }

    private static async Task<List<ShareLinkView>> ListAsync(string site, CenoticStore store, SiteBook book, TimeProvider system)
    {
        var (rows, now) = (await store.ShareLinks.AsNoTracking().Where(l => l.Site == site).OrderByDescending(l => l.Id).Take(200).ToListAsync(), Ms(system));
        return
        [
            .. rows.Select(l => new ShareLinkView(
                l.Id,
                l.View,
                book.Find(site)!.Design.Views.FirstOrDefault(v => v.Key == l.View)?.Label ?? l.View,
                l.Label,
                l.MadeMs,
                l.MadeBy,
                l.ExpiresMs,
                l.RevokedMs,
                ShareScheme.Holds(l, now),
                l.Uses,
                l.LastUseMs
            )),
        ];
    }

    private static async Task<Results<Ok<MadeShare>, UnprocessableEntity<EditRefused>>> MakeAsync(
        string site,
        ShareRequest request,
        HttpContext http,
        WriteGate gate,
        SiteBook book,
        TimeProvider system
    )
    {
        if (book.Find(site)!.Design.Views.All(v => v.Key != request.View))
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["There is no such view; keep it first."]));
        }
        if (request.Label.Trim().Length is 0 or > 60 || request.Label.Any(char.IsControl) || request.Days is < 1 or > MostDays)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([$"Say for whom it is, in 1 to 60 characters; it holds 1 to {MostDays} days."]));
        }
        var token = SecretToken.New();
        var now = Ms(system);
        var row = await gate.WriteAsync(store =>
            Task.FromResult(
                store
                    .ShareLinks.Add(
                        new()
                        {
                            Site = site,
                            View = request.View,
                            Label = request.Label.Trim(),
                            Hash = SecretToken.Hash(token),
                            MadeMs = now,
                            MadeBy = http.User.Identity!.Name!,
                            ExpiresMs = request.Days is { } days ? now + days * 86_400_000L : null,
                        }
                    )
                    .Entity
            )
        );
        return TypedResults.Ok(new MadeShare(row.Id, $"/s#{token}"));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> RevokeAsync(
        string site,
        long id,
        WriteGate gate,
        LiveConnections connections,
        TimeProvider system
    )
    {
        var found = await gate.WriteAsync(async store =>
        {
            var link = await store.ShareLinks.SingleOrDefaultAsync(l => l.Site == site && l.Id == id);
            if (link is not null)
            {
                link.RevokedMs ??= Ms(system);
            }
            return link is not null;
        });
        connections.EndLink(id);
        return found ? TypedResults.NoContent() : TypedResults.Problem("There is no such link.", statusCode: 404);
    }
}
