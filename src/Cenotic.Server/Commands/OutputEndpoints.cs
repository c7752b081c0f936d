using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Commands;

/// <summary>One switching, as a page shows it.</summary>
/// <param name="UntilMs">For on: until when it is wanted on.</param>
/// <param name="Taken">Whether the node obeyed; null while it has not answered.</param>
/// <param name="Ended">For on: why it is over; null while it is wanted on.</param>
public sealed record CommandView(
    long Id,
    string Node,
    string Output,
    bool On,
    string Who,
    long AtMs,
    long UntilMs,
    long? AnsweredMs,
    bool? Taken,
    long? EndedMs,
    string? Ended
)
{
    /// <summary>For on: for how long it was wanted on, ms.</summary>
    public long ForMs => UntilMs - AtMs;

    /// <summary>How long the node took to answer, ms; null while it has not.</summary>
    public long? AnsweredAfterMs => AnsweredMs - AtMs;

    public static CommandView Of(CommandRow c) => new(c.Id, c.Node, c.Output, c.On, c.Who, c.AtMs, c.UntilMs, c.AnsweredMs, c.Taken, c.EndedMs, c.Ended);
}

/// <summary>An output of a node.</summary>
/// <param name="Load">What it switches; null while that is not said.</param>
/// <param name="Why">Why it cannot be switched now; null when it can.</param>
/// <param name="Cautions">Of the part, for who is about to switch it.</param>
/// <param name="Last">The newest switching; null when nobody ever did.</param>
/// <param name="AwaitsOff">True while off is ordered and the node has not confirmed it.</param>
/// <param name="Holder">Who has it on; null while nobody does.</param>
/// <param name="Waiting">Who else wants it on, and does not have it.</param>
public sealed record OutputView(
    string Node,
    string Output,
    string Label,
    string NodeLabel,
    OutputLoad? Load,
    long? MaxOnMs,
    string? Why,
    IReadOnlyList<string> Cautions,
    CommandView? Last,
    bool AwaitsOff,
    string? Holder,
    IReadOnlyList<string> Waiting
);

/// <param name="Outputs">All outputs of the site.</param>
/// <param name="Log">The newest switchings, the newest first.</param>
public sealed record OutputsView(IReadOnlyList<OutputView> Outputs, IReadOnlyList<CommandView> Log);

/// <param name="ForMs">For on: how long; null for as long as it may be.</param>
public sealed record SwitchRequest(bool On, long? ForMs);

/// <summary>Outputs: their switches for makers and owners, and who switched what for everybody.</summary>
public static class OutputEndpoints
{
    private const int LogLength = 30;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/outputs", ViewAsync).WithName("GetOutputs");
        SiteRoutes.Writing(routes).MapPost("/outputs/{node}/{output}", SwitchAsync).WithName("SwitchOutput");
    }

    private static async Task<OutputsView> ViewAsync(string site, SiteBook book, OutputLeases outputs, CenoticStore store)
    {
        var state = book.Find(site)!;
        var log = await store.Commands.AsNoTracking().Where(c => c.Site == site).OrderByDescending(c => c.Id).Take(LogLength).ToListAsync();
        var list = new List<OutputView>();
        foreach (
            var (node, reading, part) in from n in state.Design.Nodes
            from r in n.Readings
            let p = state.Catalogue.Part(n.Part(r.Part)?.Part ?? "")
            where p is { Kind: PartKind.Output }
            select (n, r, p)
        )
        {
            var key = new OutputKey(site, node.Key, reading.Key);
            var last = log.FirstOrDefault(c => c.Node == node.Key && c.Output == reading.Key)
                ?? await store
                    .Commands.AsNoTracking()
                    .Where(c => c.Site == site && c.Node == node.Key && c.Output == reading.Key)
                    .OrderByDescending(c => c.Id)
                    .FirstOrDefaultAsync();
            var why = outputs.Unswitchable(site, node.Key, reading.Key) ?? (outputs.Listens(site, node.Key) ? null : $"{node.Label} is not connected");
            list.Add(
                new(
                    node.Key,
                    reading.Key,
                    reading.Label,
                    node.Label,
                    reading.Output?.Load,
                    reading.Output?.MaxOnMs,
                    why,
                    part.Cautions,
                    last is null ? null : CommandView.Of(last),
                    outputs.AwaitsOff(key),
                    outputs.HolderOf(key)?.Who,
                    [.. outputs.WaitingFor(key).Select(w => w.Who)]
                )
            );
        }
        return new(list, [.. log.Select(CommandView.Of)]);
    }

    private static async Task<Results<Ok<CommandView>, UnprocessableEntity<EditRefused>>> SwitchAsync(
        string site,
        string node,
        string output,
        SwitchRequest request,
        HttpContext http,
        OutputLeases outputs
    )
    {
        var done = await outputs.SwitchAsync(site, node, output, request.On, request.ForMs, http.User.Identity!.Name!);
        return done.TryGet(out var row) ? TypedResults.Ok(CommandView.Of(row)) : TypedResults.UnprocessableEntity(new EditRefused(done.Reasons));
    }
}
