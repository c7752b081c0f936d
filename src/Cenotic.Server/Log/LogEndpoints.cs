using System.Globalization;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Log;

/// <param name="More">True when older ones were left out.</param>
public sealed record LogPage(IReadOnlyList<LogEntry> Entries, bool More);

/// <param name="Node">What it is about; null for the site.</param>
public sealed record NoteRequest(string Text = "", string? Node = null);

/// <summary>A note as it was kept.</summary>
public sealed record NoteKept(long Id);

/// <summary>What was taken back, and what is to be done now.</summary>
public sealed record TakenBack(string Says);

/// <summary>The log: what was decided, built, measured and switched, and what people wrote about it.</summary>
public static class LogEndpoints
{
    private const int Shown = 100,
        LongestNote = 4_000,
        MostOfNote = 4,
        MostOfSite = 2_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/log", ReadAsync).WithName("GetLog");
        SiteRoutes.Reading(routes).MapGet("/log/{format}", ExportAsync).WithName("ExportLog");
        SiteRoutes.Writing(routes).MapPost("/log", WriteAsync).WithName("WriteNote");
        SiteRoutes.Writing(routes).MapPost("/log/entries/{entry}/take-back", TakeBackAsync).WithName("TakeBack");
        SiteRoutes.Writing(routes).MapDelete("/log/notes/{id:long}", RemoveAsync).WithName("RemoveNote");
        SiteRoutes.Writing(routes).MapPost("/log/notes/{id:long}/pictures", KeepPictureAsync).WithName("KeepPicture");
        SiteRoutes.Reading(routes).MapGet("/log/pictures/{id:long}", PictureAsync).WithName("GetPicture");
    }

    private static async Task<List<LogEntry>> FoundAsync(CenoticStore store, SiteState state, string? node, string? text, long? before)
    {
        var entries = await LogBook.ReadAsync(store, state, node, before ?? long.MaxValue);
        return string.IsNullOrWhiteSpace(text)
            ? entries
            : entries.FindAll(e =>
                text.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .All(word => Has(e.Text, word) || Has(e.Who ?? "", word) || Has(state.Design.Node(e.Node ?? "")?.Label ?? "", word))
            );

        static bool Has(string where, string what) => where.Contains(what, StringComparison.OrdinalIgnoreCase);
    }

    private static async Task<LogPage> ReadAsync(string site, string? node, string? text, long? before, SiteBook book, CenoticStore store)
    {
        var found = await FoundAsync(store, book.Find(site)!, node, text, before);
        return new([.. found.Take(Shown)], found.Count > Shown);
    }

    /// <param name="format">csv or md (Markdown).</param>
    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(
        string site,
        string format,
        string? node,
        string? text,
        SiteBook book,
        CenoticStore store
    )
    {
        var state = book.Find(site)!;
        if (format is not ("csv" or "md"))
        {
            return TypedResults.Problem("A log is saved as csv or md.", statusCode: 404);
        }
        var found = await FoundAsync(store, state, node, text, null);
        var zone = TimeZoneInfo.FindSystemTimeZoneById(state.Design.Settings.TimeZone);
        var body =
            format == "csv"
                ? LogExports.Csv(found, zone)
                : LogExports.Markdown($"Log of {state.Design.Settings.Name}", found, zone, key => state.Design.Node(key)?.Label ?? key);
        return TypedResults.File(
            Encoding.UTF8.GetBytes(body),
            format == "csv" ? "text/csv; charset=utf-8" : "text/markdown; charset=utf-8",
            string.Create(CultureInfo.InvariantCulture, $"{site}-log.{format}")
        );
    }

    private static async Task<Results<Ok<NoteKept>, UnprocessableEntity<EditRefused>>> WriteAsync(
        string site,
        NoteRequest request,
        SiteBook book,
        SiteClock clock,
        WriteGate gate,
        HttpContext http
    )
    {
        var text = request.Text.Trim();
        if (text.Length is 0 or > LongestNote)
        {
            return TypedResults.UnprocessableEntity(
                new EditRefused([text.Length == 0 ? "A note needs words." : $"A note has at most {LongestNote} characters; this one has {text.Length}."])
            );
        }
        if (request.Node is { } node && book.Find(site)!.Design.Node(node) is null)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([$"There is no node \"{node}\"."]));
        }
        var note = new LogNoteRow
        {
            Site = site,
            Node = request.Node,
            AtMs = clock.Now(site),
            Who = http.User.Identity!.Name!,
            Text = text,
        };
        await gate.WriteAsync(store =>
        {
            store.LogNotes.Add(note);
            return Task.CompletedTask;
        });
        return TypedResults.Ok(new NoteKept(note.Id));
    }

    /// <summary>Takes back what an entry tells of: an import, a stretch that was set aside, or that something was removed.</summary>
    /// <param name="entry">As <see cref="LogEntry.Id"/>.</param>
    private static async Task<Results<Ok<TakenBack>, ProblemHttpResult, UnprocessableEntity<EditRefused>>> TakeBackAsync(
        string site,
        string entry,
        CenoticStore store,
        SiteBook book,
        Imports imports,
        SetAside aside,
        LiveFeed live,
        IHostApplicationLifetime life,
        HttpContext http
    )
    {
        var who = http.User.Identity!.Name!;
        var id = entry.Split('-') is [_, var number] && long.TryParse(number, CultureInfo.InvariantCulture, out var n) ? n : -1;
        // It goes on although who asked for it has left.
        var stop = life.ApplicationStopping;
        Outcome<TakenBack>? outcome = entry.Split('-')[0] switch
        {
            "import" when await store.Imports.AnyAsync(i => i.Site == site && i.Id == id && i.UndoneMs == null, stop) => Samples(
                await imports.UndoAsync(site, id, who, stop)
            ),
            "aside" when await store.SetAside.AsNoTracking().FirstOrDefaultAsync(a => a.Site == site && a.Id == id && a.UndoneMs == null, stop) is { } row =>
                Samples(await aside.UndoAsync(row, who, stop)),
            "edit" when await store.Revisions.AsNoTracking().FirstOrDefaultAsync(r => r.Site == site && r.Revision == id, stop) is { } revision =>
                await PutBackAsync(book, revision, who),
            _ => null,
        };
        if (outcome is not { } done)
        {
            return TypedResults.Problem("There is no such entry to be taken back, or it was taken back already.", statusCode: 404);
        }
        await live.CalibratedAsync(site);
        return done.Ok ? TypedResults.Ok(done.Value) : TypedResults.UnprocessableEntity(new EditRefused(done.Reasons));

        static Outcome<TakenBack> Samples(string? fault) => fault is null ? new TakenBack("It is taken back.") : Outcome<TakenBack>.Refused(fault);
    }

    /// <summary>Puts what a revision removed back into the site as it is now; null where nothing of it is missing.</summary>
    private static async Task<Outcome<TakenBack>?> PutBackAsync(SiteBook book, RevisionRow revision, string who)
    {
        var state = book.Find(revision.Site)!;
        var put = RemovedThings.PutBack(state.Design, LogLines.Edits(revision.Edits), LogLines.Edits(revision.Inverse));
        if (put.Count == 0)
        {
            return null;
        }
        return await book.ApplyAsync(revision.Site, state.Revision, put, who) switch
        {
            BatchResult.Done => new TakenBack(
                $"{EditSentences.Names(put)}: back again.{(put.Any(p => p is PutNode) ? " Its node key became void when it was removed: make a new one." : "")}"
            ),
            BatchResult.Refused refused => Outcome<TakenBack>.Refused(refused.Because),
            _ => Outcome<TakenBack>.Refused("The site was changed meanwhile; try again."),
        };
    }

    /// <summary>Takes the bytes of a picture as the body.</summary>
    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> KeepPictureAsync(
        string site,
        long id,
        CenoticStore store,
        WriteGate gate,
        HttpContext http
    )
    {
        var (body, type, refused) = await PictureBody.ReadAsync(http.Request, http.RequestAborted);
        var reason =
            refused is not null ? refused
            : !await store.LogNotes.AnyAsync(n => n.Site == site && n.Id == id) ? "That note is gone."
            : await store.LogPictures.CountAsync(p => p.Note == id) >= MostOfNote ? $"A note has at most {MostOfNote} pictures."
            : await store.LogPictures.CountAsync(p => p.Site == site) >= MostOfSite ? $"A site keeps at most {MostOfSite} pictures: remove old notes first."
            : null;
        if (reason is not null)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([reason]));
        }
        await gate.WriteAsync(writing =>
        {
            writing.LogPictures.Add(
                new()
                {
                    Site = site,
                    Note = id,
                    Type = type,
                    Body = body,
                }
            );
            return Task.CompletedTask;
        });
        return TypedResults.NoContent();
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> PictureAsync(string site, long id, CenoticStore store) =>
        await store.LogPictures.AsNoTracking().FirstOrDefaultAsync(p => p.Site == site && p.Id == id) is { } picture
            ? TypedResults.File(picture.Body, picture.Type)
            : TypedResults.Problem("That picture is gone.", statusCode: 404);

    private static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(string site, long id, WriteGate gate) =>
        await gate.WriteAsync(store => store.LogNotes.Where(n => n.Site == site && n.Id == id).ExecuteDeleteAsync()) > 0
            ? TypedResults.NoContent()
            : TypedResults.Problem("That note is gone already.", statusCode: 404);
}
