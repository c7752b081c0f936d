using System.Text;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;
using Cenotic.Server.Accounts;
using Cenotic.Server.BringUp;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Log;

/// <param name="Feed">True when there is an address at which calendars can read the list.</param>
public sealed record MaintenanceView(IReadOnlyList<DueItem> Items, IReadOnlyList<BatteryView> Batteries, long NowMs, bool Feed)
{
    /// <summary>What is due before this is due soon, UTC ms of site time.</summary>
    public long SoonMs => NowMs + Maintenance.SoonWithinMs;
}

/// <param name="Key">Of a cleaning.</param>
public sealed record WorkDone(string Key = "");

/// <summary>The address of a feed, shown once.</summary>
public sealed record FeedAddress(string Address);

/// <summary>Cells, calibrations and cleaning: what is due when, as a list and as a calendar.</summary>
public static class MaintenanceEndpoints
{
    private const string Cleaned = "cleaning-";

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/maintenance", ReadAsync).WithName("GetMaintenance");
        SiteRoutes.Reading(routes).MapGet("/maintenance.ics", CalendarAsync).WithName("GetDueCalendar");
        SiteRoutes.Writing(routes).MapPost("/maintenance/done", DoneAsync).WithName("WorkDone");
        SiteRoutes.Writing(routes).MapPost("/maintenance/feed", OpenFeedAsync).WithName("OpenDueFeed");
        SiteRoutes.Writing(routes).MapDelete("/maintenance/feed", CloseFeedAsync).WithName("CloseDueFeed");
        // Calendar programs cannot sign in: the address itself is the secret, and reads this list only.
        routes.MapGet("/api/due/{token}.ics", FeedAsync).WithName("GetDueFeed").AllowAnonymous().RequireRateLimiting(IntakeEndpoints.Limit);
    }

    private static async Task<MaintenanceView> ReadAsync(string site, SiteBook book, SiteClock clock, HardwareCatalogue catalogue, CenoticStore store)
    {
        var (items, batteries) = await DueAsync(book.Find(site)!, book, clock, catalogue, store);
        return new(items, batteries, clock.Now(site), await store.DueFeeds.AnyAsync(f => f.Site == site));
    }

    private static async Task<(IReadOnlyList<DueItem>, List<BatteryView>)> DueAsync(
        SiteState state,
        SiteBook book,
        SiteClock clock,
        HardwareCatalogue catalogue,
        CenoticStore store
    )
    {
        var (site, now) = (state.Site, clock.Now(state.Site));
        var batteries = await Batteries.ReadAsync(state, await book.PlanAsync(state), store, catalogue, now);
        var cells = batteries
            .Where(b => b.State is not null)
            .ToDictionary(
                b => b.Node,
                b => new DueCells(now + (long)(Math.Min(36_500, b.State!.DaysLeft.Low ?? 0) * 86_400_000), b.CountedMs, b.State.Unlike is not null)
            );
        var calibrations = (
            await store
                .Calibrations.AsNoTracking()
                .Where(c => c.Site == site && c.UndoneMs == null && c.UntilMs == null)
                .OrderBy(c => c.FromMs)
                .ThenBy(c => c.Id)
                .ToListAsync()
        )
            .GroupBy(c => (c.Node, c.Reading))
            .Select(g => g.Last())
            .Where(c => c.DueMs is not null)
            .Select(c => new DueCalibration(c.Node, c.Reading, state.Design.Node(c.Node)?.Reading(c.Reading)?.Label ?? c.Reading, c.AtMs, c.DueMs!.Value))
            .ToList();
        var done = await store
            .BuildTicks.Where(t => t.Site == site && t.Step.StartsWith(Cleaned))
            .GroupBy(t => t.Step)
            .Select(g => new { g.Key, At = g.Max(t => t.AtMs) })
            .ToDictionaryAsync(g => g.Key, g => g.At);
        // A node begins with its first start that it told of; one that tells of none, with its key.
        var began = await store.NodeKeys.Where(k => k.Site == site).ToDictionaryAsync(k => k.Node, k => k.CreatedMs);
        foreach (
            var start in await store
                .NodeReports.Where(r => r.Site == site)
                .GroupBy(r => r.Node)
                .Select(g => new { g.Key, At = g.Min(r => r.AtMs) })
                .ToListAsync()
        )
        {
            began[start.Key] = start.At;
        }
        return (Maintenance.Of(state.Design, state.Catalogue, cells, calibrations, done, node => began.TryGetValue(node, out var at) ? at : now), batteries);
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> DoneAsync(
        string site,
        WorkDone request,
        SiteBook book,
        SiteClock clock,
        HardwareCatalogue catalogue,
        CenoticStore store,
        WriteGate gate,
        HttpContext http
    )
    {
        var (items, _) = await DueAsync(book.Find(site)!, book, clock, catalogue, store);
        if (items.FirstOrDefault(i => i.Kind == DueKind.Cleaning && i.Key == request.Key) is not { } item)
        {
            return TypedResults.UnprocessableEntity(
                new EditRefused(["There is no such work: cells are noted where they are put in, calibrations where they are made."])
            );
        }
        await gate.WriteAsync(writing =>
        {
            writing.BuildTicks.Add(
                new()
                {
                    Site = site,
                    Node = item.Node,
                    Step = item.Key,
                    Title = item.What,
                    AtMs = clock.Now(site),
                    Who = http.User.Identity!.Name!,
                    Done = true,
                }
            );
            return Task.CompletedTask;
        });
        return TypedResults.NoContent();
    }

    private static async Task<FileContentHttpResult> CalendarAsync(
        string site,
        SiteBook book,
        SiteClock clock,
        HardwareCatalogue catalogue,
        CenoticStore store
    ) => await FileAsync(book.Find(site)!, book, clock, catalogue, store);

    private static async Task<FileContentHttpResult> FileAsync(SiteState state, SiteBook book, SiteClock clock, HardwareCatalogue catalogue, CenoticStore store)
    {
        var (items, _) = await DueAsync(state, book, clock, catalogue, store);
        var text = DueCalendar.Write(
            state.Site,
            $"Due at {state.Design.Settings.Name}",
            items,
            TimeZoneInfo.FindSystemTimeZoneById(state.Design.Settings.TimeZone),
            clock.Now(state.Site)
        );
        return TypedResults.File(Encoding.UTF8.GetBytes(text), "text/calendar; charset=utf-8", $"{state.Site}-due.ics");
    }

    private static async Task<FeedAddress> OpenFeedAsync(string site, SiteClock clock, WriteGate gate, HttpContext http)
    {
        var token = SecretToken.New();
        await gate.WriteAsync(async store =>
        {
            if (await store.DueFeeds.FindAsync(site) is { } row)
            {
                store.DueFeeds.Remove(row);
                await store.SaveChangesAsync();
            }
            store.DueFeeds.Add(
                new()
                {
                    Site = site,
                    Hash = SecretToken.Hash(token),
                    CreatedMs = clock.Now(site),
                    Who = http.User.Identity!.Name!,
                }
            );
        });
        return new($"{http.Request.Scheme}://{http.Request.Host}/api/due/{token}.ics");
    }

    private static async Task<NoContent> CloseFeedAsync(string site, WriteGate gate)
    {
        await gate.WriteAsync(store => store.DueFeeds.Where(f => f.Site == site).ExecuteDeleteAsync());
        return TypedResults.NoContent();
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FeedAsync(
        string token,
        SiteBook book,
        SiteClock clock,
        HardwareCatalogue catalogue,
        CenoticStore store
    )
    {
        var hash = SecretToken.Hash(token);
        return await store.DueFeeds.AsNoTracking().FirstOrDefaultAsync(f => f.Hash == hash) is { } feed && book.Find(feed.Site) is { } state
            ? await FileAsync(state, book, clock, catalogue, store)
            : TypedResults.Problem("There is no such feed, or it was closed.", statusCode: 404);
    }
}
