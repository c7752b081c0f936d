using System.IO.Compression;
using Cenotic.Core.BringUp;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <summary>What the program of a node is made from, and what it said of itself.</summary>
/// <param name="Hash">Of the settings by the plan as it is now.</param>
/// <param name="SavedMs">When these settings were saved for a program, and by whom; null when they were not.</param>
/// <param name="Newest">What it told last; null when it told nothing.</param>
/// <param name="HasKey">True when a key was given out.</param>
/// <param name="ClientSends">Whether the client sends by itself the way the node is to; else the maker's program hands its messages to the radio.</param>
public sealed record NodeProgramView(
    string Hash,
    long? SavedMs,
    string? SavedWho,
    NodeReport? Newest,
    bool HasKey,
    bool ClientSends,
    IReadOnlyList<Finding> Findings
);

/// <param name="Network">Name of the Wi-Fi network; null for a node that needs none.</param>
public sealed record SecretsRequest(string? Network = null, string? Password = null);

/// <summary>The secrets of a node as a C header. Shown once: nothing of it is kept here but a hash of the key.</summary>
public sealed record SecretsFile(string Name, string Text);

/// <summary>The settings of a node for its program, its secrets, and what it says it runs.</summary>
public static class NodeProgramEndpoints
{
    private const int Messages = 400,
        Gaps = 50,
        LongestName = 32,
        LongestPassword = 63;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/program", ViewAsync).WithName("GetNodeProgram");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/bundle", SaveAsync).WithName("SaveNodeBundle").Produces<byte[]>(contentType: "application/zip");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/secrets", SecretsAsync).WithName("IssueNodeSecrets");
    }

    /// <summary>The settings of a node as they are now; null when there is no such node.</summary>
    internal static async Task<NodeSettings?> SettingsAsync(SiteState state, SiteBook book, Calibrations calibrations, SiteClock clock, string node) =>
        state.Design.Node(node) is { } design && await book.PlanAsync(state) is var plan && plan.Node(node) is { } planned
            ? NodeSettings.Of(
                design,
                planned.Bench,
                planned.Rhythm,
                state.Catalogue,
                plan.SlotOf(node),
                calibrations.InForce(state, node, clock.Now(state.Site)),
                state.Design
            )
            : null;

    private static async Task<Results<Ok<NodeProgramView>, ProblemHttpResult>> ViewAsync(
        string site,
        string node,
        SiteBook book,
        Calibrations calibrations,
        SiteClock clock,
        NodeKeys keys,
        CenoticStore store
    )
    {
        var state = book.Find(site)!;
        if (await SettingsAsync(state, book, calibrations, clock, node) is not { } settings || (await book.PlanAsync(state)).Node(node) is not { } plan)
        {
            return SiteRoutes.NoNode(node);
        }
        var history = await HistoryAsync(store, site, node, clock.Now(site) - NodeReports.StartsWithinMs);
        var saved = await store.SavedSettings.AsNoTracking().FirstOrDefaultAsync(s => s.Site == site && s.Node == node && s.Hash == settings.Hash);
        return TypedResults.Ok(
            new NodeProgramView(
                settings.Hash,
                saved?.AtMs,
                saved?.Who,
                history.Newest,
                keys.Has(site, node),
                state.Catalogue.Board(settings.Board) is { } board
                    && WaysToSend.Of(board).Ways.Any(w => w.ClientSends && w.Link == state.Design.Node(node)!.Link),
                NodeReports.Judge(state.Design.Node(node)!, settings, plan.Bench, plan.Rhythm, history)
            )
        );
    }

    private static async Task<NodeHistory> HistoryAsync(CenoticStore store, string site, string node, long from)
    {
        var told = await store
            .NodeReports.AsNoTracking()
            .Where(r => r.Site == site && r.Node == node)
            .OrderByDescending(r => r.Id)
            .Take(Messages)
            .ToListAsync();
        // What the newest left out was told before, in the same or an earlier message.
        var newest =
            told.Count == 0
                ? null
                : new NodeReport(
                    told[0].AtMs,
                    told[0].Boot,
                    told.Find(r => r.Firmware is not null)?.Firmware,
                    told.Find(r => r.Settings is not null)?.Settings,
                    told.Find(r => r.Reset is not null)?.Reset,
                    told.Find(r => r.SupplyVolts is not null)?.SupplyVolts,
                    told.Find(r => r.FreeBytes is not null)?.FreeBytes
                );
        var arrivals = await store
            .Arrivals.AsNoTracking()
            .Where(a => a.Site == site && a.Node == node)
            .OrderByDescending(a => a.Id)
            .Take(Messages)
            .Select(a => new
            {
                a.ReceivedMs,
                a.Life,
                a.Boot,
                a.Number,
            })
            .ToListAsync();
        arrivals.Reverse();
        // The oldest start in view began before the view, unless the view is all there is.
        var starts = arrivals
            .Where(a => a.Boot is not null)
            .GroupBy(a => (a.Life, a.Boot))
            .Skip(arrivals.Count == Messages ? 1 : 0)
            .Select(g => g.Min(a => a.ReceivedMs))
            .Where(t => t >= from)
            .Order()
            .ToList();
        // Messages of one start that follow each other; where one carries no number none is taken to lie between.
        var gaps = arrivals
            .Zip(arrivals.Skip(1))
            .Where(p => (p.First.Life, p.First.Boot) == (p.Second.Life, p.Second.Boot))
            .Select(p => (Ms: p.Second.ReceivedMs - p.First.ReceivedMs, Steps: p.Second.Number - p.First.Number ?? 1))
            .Where(g => g.Steps > 0)
            .Select(g => g.Ms / g.Steps)
            .TakeLast(Gaps)
            .ToList();
        var ran = newest?.Settings is { } hash
            ? await store.SavedSettings.AsNoTracking().Where(s => s.Site == site && s.Node == node && s.Hash == hash).Select(s => s.Lines).FirstOrDefaultAsync()
            : null;
        return new(newest, starts, told.Count(r => r.AtMs >= from && r.Reset == NodeReport.BrownOut), gaps, arrivals.Count, ran?.Split('\n'));
    }

    /// <summary>The files of a node's program as one archive; which settings they hold is kept, so that a later difference can be told.</summary>
    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> SaveAsync(
        string site,
        string node,
        SiteBook book,
        Calibrations calibrations,
        SiteClock clock,
        WriteGate gate,
        HttpContext http
    )
    {
        var state = book.Find(site)!;
        if (await SettingsAsync(state, book, calibrations, clock, node) is not { } settings)
        {
            return SiteRoutes.NoNode(node);
        }
        var (hash, who) = (settings.Hash, http.User.Identity!.Name!);
        await gate.WriteAsync(async store =>
        {
            if (await store.SavedSettings.FindAsync(site, node, hash) is { } before)
            {
                (before.AtMs, before.Who) = (clock.Now(site), who);
                return;
            }
            store.SavedSettings.Add(
                new()
                {
                    Site = site,
                    Node = node,
                    Hash = hash,
                    AtMs = clock.Now(site),
                    Who = who,
                    Lines = string.Join('\n', settings.Lines()),
                }
            );
        });
        using var bytes = new MemoryStream();
        using (var archive = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var file in NodeBundle.Of(site, state.Design.Node(node)!.Label, settings))
            {
                await using var entry = archive.CreateEntry(file.Name).Open();
                await using var text = new StreamWriter(entry);
                await text.WriteAsync(file.Text);
            }
        }
        return TypedResults.File(bytes.ToArray(), "application/zip", $"{site}-{node}-{hash}.zip");
    }

    private static async Task<Results<Ok<SecretsFile>, UnprocessableEntity<EditRefused>, ProblemHttpResult>> SecretsAsync(
        string site,
        string node,
        SecretsRequest request,
        SiteBook book,
        NodeKeys keys
    )
    {
        if (book.Find(site)!.Design.Node(node) is null)
        {
            return SiteRoutes.NoNode(node);
        }
        // IEEE 802.11: a name of at most 32 octets, a passphrase of 8 to 63 characters; an open network has none.
        if (request.Network is { } name && System.Text.Encoding.UTF8.GetByteCount(name) > LongestName)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([$"The name of a network has at most {LongestName} bytes."]));
        }
        if (request.Password is { Length: > 0 } password && password.Length is < 8 or > LongestPassword)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([$"The password of a network has 8 to {LongestPassword} characters."]));
        }
        return TypedResults.Ok(new SecretsFile("secrets.h", NodeBundle.Secrets(await keys.IssueAsync(site, node), request.Network, request.Password)));
    }
}
