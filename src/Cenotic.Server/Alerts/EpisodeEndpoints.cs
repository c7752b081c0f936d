using Cenotic.Server.Accounts;
using Cenotic.Server.Live;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>An episode as a page shows it.</summary>
public sealed record EpisodeView(long Id, string Rule, string Label, long RaisedMs, double? Value, long? ClearedMs, long? AcknowledgedMs, string? AcknowledgedBy, bool Late)
{
    public static EpisodeView Of(EpisodeRow e) => new(e.Id, e.Rule, e.Label, e.RaisedMs, e.Value, e.ClearedMs, e.AcknowledgedMs, e.AcknowledgedBy, e.Late);
}

/// <summary>Episodes: listed, and acknowledged by makers and owners.</summary>
public static class EpisodeEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/episodes", ListAsync).WithName("GetEpisodes");
        SiteRoutes.Writing(routes).MapPost("/episodes/{id:long}/acknowledge", AcknowledgeAsync).WithName("AcknowledgeEpisode");
    }

    private static async Task<List<EpisodeView>> ListAsync(string site, CenoticStore store)
    {
        var rows = await store.Episodes.AsNoTracking().Where(e => e.Site == site).OrderByDescending(e => e.RaisedMs).ThenByDescending(e => e.Id).Take(200).ToListAsync();
        return [.. rows.Select(EpisodeView.Of)];
    }

    private static async Task<Results<Ok<EpisodeView>, ProblemHttpResult>> AcknowledgeAsync(string site, long id, HttpContext http, WriteGate gate, SiteClock clock, LiveFeed live)
    {
        var row = await gate.WriteAsync(async store =>
        {
            var found = await store.Episodes.FirstOrDefaultAsync(e => e.Site == site && e.Id == id);
            if (found is { AcknowledgedMs: null })
            {
                (found.AcknowledgedMs, found.AcknowledgedBy) = (clock.Now(site), http.User.Identity!.Name);
            }
            return found;
        });
        if (row is null)
        {
            return TypedResults.Problem("There is no such episode.", statusCode: 404);
        }
        await live.EpisodeAsync(row);
        return TypedResults.Ok(EpisodeView.Of(row));
    }
}
