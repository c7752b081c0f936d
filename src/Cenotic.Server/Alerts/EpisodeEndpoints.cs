using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>An episode as a page shows it.</summary>
/// <param name="Cause">The sensors of a zone's alarm; null for a rule.</param>
/// <param name="Told">Who was told of it; empty where only the newest is sent live.</param>
public sealed record EpisodeView(
    long Id,
    string Rule,
    string Label,
    long RaisedMs,
    double? Value,
    long? ClearedMs,
    long? AcknowledgedMs,
    string? AcknowledgedBy,
    string? AcknowledgedNote,
    bool Late,
    bool Damped,
    string? Cause,
    IReadOnlyList<ToldView> Told
)
{
    /// <summary>How long it lasted, ms; null while it lasts.</summary>
    public long? LastedMs => ClearedMs - RaisedMs;

    /// <summary>How long nobody acknowledged it, ms; null while nobody has.</summary>
    public long? TakenUpAfterMs => AcknowledgedMs is { } at ? Math.Max(0, at - RaisedMs) : null;

    public static EpisodeView Of(EpisodeRow e, IReadOnlyList<ToldView>? told = null, string? cause = null) =>
        new(
            e.Id,
            e.Rule,
            e.Label,
            e.RaisedMs,
            e.Value,
            e.ClearedMs,
            e.AcknowledgedMs,
            e.AcknowledgedBy,
            e.AcknowledgedNote,
            e.Late,
            e.Damped,
            cause ?? e.Cause,
            told ?? []
        );
}

/// <summary>A notice of an episode, and what became of it.</summary>
/// <param name="Step">raised, reminder-N or over.</param>
/// <param name="AtMs">System time it was put on its way, ms.</param>
/// <param name="Done">False while it is on its way.</param>
/// <param name="MaybeTwice">True when it may have been sent twice.</param>
public sealed record ToldView(
    string Person,
    Core.Design.WayKind Way,
    string Step,
    long AtMs,
    bool Done,
    bool Taken,
    string? Result,
    bool MaybeTwice,
    int Tries
);

/// <param name="Note">What is to be said with it; may be empty.</param>
public sealed record Acknowledgement(string Note = "");

/// <summary>Episodes: listed, and acknowledged by makers and owners, and by viewers who may act.</summary>
public static class EpisodeEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/episodes", ListAsync).WithName("GetEpisodes");
        SiteRoutes.Acting(routes).MapPost("/episodes/{id:long}/acknowledge", AcknowledgeAsync).WithName("AcknowledgeEpisode");
    }

    private const int LongestNote = 500;

    private static async Task<List<EpisodeView>> ListAsync(string site, SiteBook book, CenoticStore store)
    {
        var rows = await store
            .Episodes.AsNoTracking()
            .Where(e => e.Site == site)
            .OrderByDescending(e => e.RaisedMs)
            .ThenByDescending(e => e.Id)
            .Take(200)
            .ToListAsync();
        var ids = rows.Select(r => r.Id).ToList();
        var told = (
            await store
                .OutboxEpisodes.AsNoTracking()
                .Where(o => ids.Contains(o.Episode))
                .Join(
                    store.Outbox,
                    o => o.Outbox,
                    m => m.Id,
                    (o, m) =>
                        new
                        {
                            o.Episode,
                            o.Step,
                            m.Person,
                            m.Way,
                            m.CreatedMs,
                            m.DoneMs,
                            m.Taken,
                            m.Result,
                            m.MaybeTwice,
                            m.Tries,
                            m.Id,
                        }
                )
                .OrderBy(o => o.Id)
                .ToListAsync()
        ).ToLookup(
            o => o.Episode,
            o => new ToldView(
                book.Find(site)!.Design.People.FirstOrDefault(p => p.Key == o.Person)?.Name ?? o.Person,
                o.Way,
                o.Step,
                o.CreatedMs,
                o.DoneMs is not null,
                o.Taken,
                o.Result,
                o.MaybeTwice,
                o.Tries
            )
        );
        return [.. rows.Select(r => EpisodeView.Of(r, [.. told[r.Id]], r.Cause is { } cause ? NoticeStep.Named(book.Find(site)!.Design, cause) : null))];
    }

    private static async Task<Results<Ok<EpisodeView>, ProblemHttpResult>> AcknowledgeAsync(
        string site,
        long id,
        HttpContext http,
        WriteGate gate,
        SiteClock clock,
        LiveFeed live,
        Acknowledgement? request = null
    )
    {
        if (request?.Note.Length > LongestNote)
        {
            return TypedResults.Problem($"The note is longer than {LongestNote} characters; shorten it.", statusCode: 422);
        }
        var row = await gate.WriteAsync(async store =>
        {
            var found = await store.Episodes.FirstOrDefaultAsync(e => e.Site == site && e.Id == id);
            if (found is { AcknowledgedMs: null })
            {
                (found.AcknowledgedMs, found.AcknowledgedBy, found.AcknowledgedNote) = (
                    clock.Now(site),
                    http.User.Identity!.Name,
                    request?.Note.Trim() is { Length: > 0 } note ? note : null
                );
            }
            return found;
        });
        if (row is null)
        {
            return TypedResults.Problem("There is no such episode.", statusCode: 404);
        }
        await live.EpisodeAsync(row.Site, EpisodeView.Of(row));
        return TypedResults.Ok(EpisodeView.Of(row));
    }
}
