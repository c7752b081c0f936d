using System.Security.Claims;
using System.Text;
using System.Text.Json;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Sites;

/// <summary>A site as a page needs it.</summary>
/// <param name="Usual">What forms start from.</param>
/// <param name="MayAct">True for who may acknowledge episodes and arm zones.</param>
public sealed record SiteView(
    string Key,
    long Revision,
    Role Role,
    SiteDesign Design,
    long SiteNowMs,
    double Speed,
    IReadOnlyList<MeasuredCurrent> MeasuredCurrents,
    UsualDesign Usual,
    bool MayAct = false
);

public sealed record PlanView(long Revision, SitePlan Plan);

/// <summary>A site of an account, and its role there.</summary>
public sealed record SiteOfAccount(string Key, string Name, Role Role);

/// <param name="TimeZone">IANA name.</param>
public sealed record NewSite(string Name = "", string TimeZone = "Etc/UTC");

/// <summary>Edits made on a revision; all are carried out, or none.</summary>
public sealed record EditRequest(long Revision, IReadOnlyList<DesignEdit> Edits);

/// <summary>The new revision with its design, and the edits that undo the batch.</summary>
public sealed record EditDone(long Revision, IReadOnlyList<DesignEdit> Inverse, SiteDesign Design);

/// <summary>Why a batch was refused.</summary>
public sealed record EditRefused(IReadOnlyList<string> Reasons)
{
    /// <summary>The reasons with the path of the field in the edit that each is about ("zone.exitMs"); empty where none is about a field of an edit.</summary>
    public IReadOnlyList<Reason> Faults { get; init; } = [];

    /// <summary>Reasons with their fields.</summary>
    public static EditRefused Of(IReadOnlyList<Reason> because) => new([.. because.Select(r => r.Says)]) { Faults = because };
}

/// <summary>What somebody else changed meanwhile.</summary>
public sealed record EditConflict(long Revision, IReadOnlyList<string> Documents, string Message);

public sealed record RevisionView(long Revision, long AtMs, string Who, IReadOnlyList<string> Documents);

/// <summary>An edit that adds another of something, with the key and the name it gets.</summary>
public sealed record DuplicateView(DesignEdit Edit, string Key, string Label);

/// <summary>The edits door, the plan door, the catalogue and the site as a file.</summary>
public static class SiteEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/", View).WithName("GetSite");
        reading.MapGet("/plan", PlanOf).WithName("GetPlan").Produces<PlanView>();
        reading.MapGet("/plan/figure", FigureOf).WithName("GetFigure").Produces<Figure>();
        reading.MapGet("/export", Export).WithName("ExportSite");
        reading.MapGet("/duplicates/{kind}/{key}", DuplicateOf).WithName("GetDuplicate");
        reading.MapGet("/revisions", Revisions).WithName("GetRevisions");
        routes.MapPost("/api/sites", NewSiteAsync).WithName("CreateSite").AddEndpointFilter<AntiforgeryCheck>();
        SiteRoutes.Writing(routes).MapPost("/edits", ApplyAsync).WithName("ApplyEdits");
    }

    /// <summary>A further site, by who owns one already; they own it too.</summary>
    private static async Task<Results<Ok<SiteOfAccount>, ProblemHttpResult>> NewSiteAsync(NewSite request, HttpContext http, CenoticStore store, SiteBook book)
    {
        var account = http.User.FindFirstValue(ClaimTypes.NameIdentifier)!;
        if (!await store.Memberships.AnyAsync(m => m.AccountId == account && m.Role == Role.Owner))
        {
            return TypedResults.Problem("This needs the role owner at a site.", statusCode: 403);
        }
        var design = EditBatch.Apply(SiteDesign.Empty("new"), [new SetSite(new(request.Name.Trim(), request.TimeZone, RadioRegion.Unset))]);
        if (!design.Ok)
        {
            return TypedResults.Problem(string.Join(" ", design.Reasons), statusCode: 422);
        }
        var made = await book.CreateAsync(SiteBook.KeyOf(request.Name), design.Value.After, account, Evidence.None);
        return TypedResults.Ok(new SiteOfAccount(made, request.Name.Trim(), Role.Owner));
    }

    private static SiteView View(string site, HttpContext http, SiteBook book, SiteClock clock)
    {
        var state = book.Find(site)!;
        var role = (Role)http.Items[SiteAccess.RoleItem]!;
        return new(
            site,
            state.Revision,
            role,
            Shown(state.Design, role),
            clock.Now(site),
            clock.Speed(site),
            state.Evidence.Currents,
            UsualDesign.Values,
            (bool)http.Items[SiteAccess.MayActItem]!
        );
    }

    /// <param name="workings">True for figures with their workings; without, each is to be had at /plan/figure.</param>
    private static async Task<JsonHttpResult<PlanView>> PlanOf(string site, SiteBook book, CancellationToken stop, bool workings = false)
    {
        var state = book.Find(site)!;
        return TypedResults.Json(new PlanView(state.Revision, await book.PlanAsync(state, stop)), workings ? CenoticJson.Options : PlanJson.WithoutWorkings);
    }

    /// <summary>One figure of the plan with its working.</summary>
    /// <param name="at">Where it stands in the plan: a JSON Pointer (RFC 6901).</param>
    private static async Task<Results<JsonHttpResult<JsonElement>, ProblemHttpResult>> FigureOf(string site, string at, SiteBook book, CancellationToken stop)
    {
        return PlanJson.FigureAt(await book.PlanAsync(book.Find(site)!, stop), at) is { } figure
            ? TypedResults.Json(figure)
            : TypedResults.Problem($"The plan has no figure at \"{at}\" any more.", statusCode: 404);
    }

    /// <summary>The design as a member may see it: who only looks sees who is told, and not how they are reached.</summary>
    private static SiteDesign Shown(SiteDesign design, Role role) =>
        role > Role.Viewer ? design : design with { People = [.. design.People.Select(p => p with { Ways = [], Quiet = null })] };

    private static FileContentHttpResult Export(string site, HttpContext http, SiteBook book)
    {
        var state = book.Find(site)!;
        var design = (Role)http.Items[SiteAccess.RoleItem]! > Role.Viewer ? state.Design : state.Design with { People = [] };
        return TypedResults.File(Encoding.UTF8.GetBytes(SiteFiles.Write(design, state.Evidence)), "application/json", $"{site}.cenotic.json");
    }

    /// <summary>The edit that adds another of something.</summary>
    /// <param name="kind">node, room or rule.</param>
    private static Results<Ok<DuplicateView>, ProblemHttpResult> DuplicateOf(string site, string kind, string key, SiteBook book)
    {
        var design = book.Find(site)!.Design;
        DuplicateView? view = kind switch
        {
            "node" when Duplicates.OfNode(design, key) is { } node => new(node, node.Node, node.Design.Label),
            "room" when Duplicates.OfRoom(design, key) is { } room => new(room, room.Room.Key, room.Room.Label),
            "rule" when Duplicates.OfRule(design, key) is { } rule => new(rule, rule.Rule.Key, rule.Rule.Label),
            _ => null,
        };
        return view is null ? TypedResults.Problem("There is nothing of that name to be duplicated.", statusCode: 404) : TypedResults.Ok(view);
    }

    private static async Task<List<RevisionView>> Revisions(string site, long? since, CenoticStore store)
    {
        var from = since ?? 0;
        var rows = await store
            .Revisions.AsNoTracking()
            .Where(r => r.Site == site && r.Revision > from)
            .OrderByDescending(r => r.Revision)
            .Take(100)
            .ToListAsync();
        return [.. rows.Select(r => new RevisionView(r.Revision, r.AtMs, r.Who, r.Documents.Split('\n')))];
    }

    private static async Task<Results<Ok<EditDone>, Conflict<EditConflict>, UnprocessableEntity<EditRefused>>> ApplyAsync(
        string site,
        EditRequest request,
        HttpContext http,
        SiteBook book
    )
    {
        if (request.Edits.Count > 500)
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["A batch holds at most 500 edits."]));
        }
        return await book.ApplyAsync(site, request.Revision, request.Edits, http.User.Identity!.Name!) switch
        {
            BatchResult.Done done => TypedResults.Ok(new EditDone(done.Revision, done.Inverse, done.Design)),
            BatchResult.Conflict c => TypedResults.Conflict(
                new EditConflict(c.Revision, c.Documents, $"Changed meanwhile: {string.Join(", ", c.Documents)}. Look at it and try again.")
            ),
            BatchResult.Refused refused => TypedResults.UnprocessableEntity(EditRefused.Of(refused.Because)),
            var other => throw new InvalidOperationException($"No answer for {other.GetType().Name}."),
        };
    }
}
