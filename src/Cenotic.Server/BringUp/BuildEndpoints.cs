using System.Text.Json;
using Cenotic.Core.Bench;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <summary>A step and how far it is.</summary>
/// <param name="Value">What the meter showed last; null when nothing was noted.</param>
/// <param name="Finding">What speaks against going on.</param>
public sealed record BuildStepView(BuildStep Step, bool Done, long? AtMs, string? Who, MeterShows? Shows, double? Value, Finding? Finding);

/// <param name="Step">Key of the step.</param>
/// <param name="Shows">What the meter said, by a tap; null when a value is given or nothing is measured.</param>
/// <param name="Value">What it showed.</param>
/// <param name="Anyway">True to go on with a finding that is a risk only.</param>
public sealed record BuildTick(string Step = "", bool Done = false, MeterShows? Shows = null, double? Value = null, bool Anyway = false);

/// <summary>The steps of building a node: worked out from its plan, ticked as they are done.</summary>
public static class BuildEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/build", ListAsync).WithName("GetBuild");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/build", TickAsync).WithName("TickBuild");
    }

    private static async Task<Results<Ok<List<BuildStepView>>, ProblemHttpResult>> ListAsync(string site, string node, SiteBook book, CenoticStore store)
    {
        var state = book.Find(site)!;
        return state.Design.Node(node) is { } design ? TypedResults.Ok(await ViewAsync(book, state, design, store)) : SiteRoutes.NoNode(node);
    }

    private static async Task<List<BuildStepView>> ViewAsync(SiteBook book, SiteState state, NodeDesign node, CenoticStore store)
    {
        var ticks = (await store.BuildTicks.AsNoTracking().Where(t => t.Site == state.Site && t.Node == node.Key).OrderBy(t => t.Id).ToListAsync())
            .GroupBy(t => t.Step)
            .ToDictionary(g => g.Key, g => g.Last());
        var measured = ticks.Values.Where(t => t is { Done: true, Value: not null }).ToDictionary(t => t.Step, t => t.Value!.Value);
        var plan = (await book.PlanAsync(state)).Node(node.Key)!.Bench;
        var soldered = node.Wires.Where(w => w.Hold == WireHold.Soldered).Select(w => w.Key).ToHashSet();
        var planned = plan.Wires.Where(w => w.Tick is not null).ToDictionary(w => w.Tick!, w => w.Pin);
        bool Held(string wire) => soldered.Contains(wire) && node.Wires.First(w => w.Key == wire).Pin == planned[wire];
        // What was taken out of the drawer for it is not missing there.
        var taken = ticks.Values.Where(t => t.Done).SelectMany(Took).GroupBy(t => t.Key).ToDictionary(g => g.Key, g => g.Sum(t => t.Value));
        StockItem[] stock = [.. state.Design.Stock.Select(s => s with { OnHand = s.OnHand + taken.GetValueOrDefault(s.Id) })];
        return
        [
            .. BuildSteps
                .Of(node, plan, state.Catalogue, stock, measured)
                .Select(step =>
                {
                    var tick = ticks.GetValueOrDefault(step.Key);
                    // What was soldered at the Bench is soldered here.
                    // Supplies and grounds follow: not every design says of them.
                    var wires = step.Wires.Select(w => plan.Wires.First(p => p.Tick == w)).Where(w => Decided(node, w)).ToList();
                    var signals = wires
                        .Where(w => w.Kind is WireKind.Bus or WireKind.Signal || wires.All(o => o.Kind is WireKind.Ground or WireKind.Supply))
                        .Select(w => w.Tick!)
                        .ToList();
                    var done = tick?.Done ?? (signals.Count > 0 && signals.All(Held));
                    var shows = tick?.Value is { } value && step.Measure is { } measure ? measure.Of(value) : tick?.Shows;
                    return new BuildStepView(
                        step,
                        done,
                        tick?.AtMs,
                        tick?.Who,
                        shows,
                        tick?.Value,
                        shows is { } s ? BuildDiagnosis.Of(node, step, s, tick!.Value) : null
                    );
                }),
        ];
    }

    private static Task<BuildTickRow?> LastTickAsync(CenoticStore store, string site, string node, string step) =>
        store.BuildTicks.AsNoTracking().Where(t => t.Site == site && t.Node == node && t.Step == step).OrderByDescending(t => t.Id).FirstOrDefaultAsync();

    /// <summary>What the step takes out of the drawer, as far as it is there.</summary>
    private static Dictionary<string, int> Takes(BuildStep step, IReadOnlyList<StockItem> stock) =>
        step.Takes.ToDictionary(t => t.Key, t => Math.Min(t.Value, stock.FirstOrDefault(s => s.Id == t.Key)?.OnHand ?? 0));

    private static Dictionary<string, int> Took(BuildTickRow? tick) => tick?.Took is { } json ? JsonSerializer.Deserialize<Dictionary<string, int>>(json)! : [];

    /// <summary>Wires of modules that the planner added are no decisions of the design.</summary>
    private static bool Decided(NodeDesign node, PlannedWire wire) => Held(wire).Part is var part && (part == Circuit.BoardKey || node.Part(part) is not null);

    /// <summary>Part and line of what is held when a wire is ticked.</summary>
    private static (string Part, string Line) Held(PlannedWire wire)
    {
        var key = wire.Tick!;
        var at = key.IndexOf('.', StringComparison.Ordinal);
        return (key[..at], key[(at + 1)..]);
    }

    private static async Task<Results<Ok<List<BuildStepView>>, UnprocessableEntity<EditRefused>>> TickAsync(
        string site,
        string node,
        BuildTick request,
        SiteBook book,
        SiteClock clock,
        WriteGate gate,
        CenoticStore store,
        HttpContext http
    )
    {
        var state = book.Find(site)!;
        if (
            state.Design.Node(node) is not { } design
            || (await ViewAsync(book, state, design, store)).FirstOrDefault(s => s.Step.Key == request.Step) is not { } view
        )
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["The plan has no such step any more: look at the steps again."]));
        }
        var step = view.Step;
        if (SaysNothing(request, step))
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["Say what the meter showed."]));
        }
        var (shows, done) = Judged(request, design, step);
        var before = await LastTickAsync(store, site, node, step.Key);
        var took = done ? Takes(step, state.Design.Stock) : Took(before);
        if (
            done != view.Done
            && Edits(state, design, (await book.PlanAsync(state)).Node(node)!.Bench, step, done, took) is { Count: > 0 } edits
            && await book.ApplyAsync(site, state.Revision, edits, http.User.Identity!.Name!) is not BatchResult.Done
        )
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["Somebody changed the node meanwhile: look at the steps again."]));
        }
        await gate.WriteAsync(writing =>
        {
            writing.BuildTicks.Add(
                new()
                {
                    Site = site,
                    Node = node,
                    Step = step.Key,
                    Title = step.Title,
                    AtMs = clock.Now(site),
                    Who = http.User.Identity!.Name!,
                    Done = done,
                    Shows = shows,
                    Value = request.Done ? request.Value : null,
                    Took =
                        !done || took.Count == 0 ? null
                        : done == view.Done ? before?.Took
                        : JsonSerializer.Serialize(took),
                }
            );
            return Task.CompletedTask;
        });
        var after = book.Find(site)!;
        return TypedResults.Ok(await ViewAsync(book, after, after.Design.Node(node)!, store));
    }

    private static bool SaysNothing(BuildTick request, BuildStep step) =>
        request.Value is { } number && !double.IsFinite(number) || (request.Done && step.Measure is not null && request is { Shows: null, Value: null });

    private static (MeterShows? Shows, bool Done) Judged(BuildTick request, NodeDesign design, BuildStep step)
    {
        var shows =
            !request.Done || step.Measure is not { } measure ? (MeterShows?)null
            : request.Value is { } value ? measure.Of(value)
            : request.Shows;
        var finding = shows is { } s ? BuildDiagnosis.Of(design, step, s, request.Value) : null;
        var done = request.Done && (finding is null || (request.Anyway && finding.Severity != Severity.Stop));
        return (shows, done);
    }

    /// <summary>What ticking a step decides: its wires are soldered, its things are out of the drawer. Taken back, the other way round.</summary>
    private static List<DesignEdit> Edits(SiteState state, NodeDesign node, BenchPlan plan, BuildStep step, bool done, Dictionary<string, int> took)
    {
        var edits = new List<DesignEdit>();
        foreach (var wire in plan.Wires.Where(w => w.Tick is not null && step.Wires.Contains(w.Tick) && Decided(node, w)))
        {
            var (part, line) = Held(wire);
            var held = node.Wires.FirstOrDefault(w => w.Key == wire.Tick);
            if (done && (held?.Hold != WireHold.Soldered || held.Pin != wire.Pin))
            {
                edits.Add(new PutWire(node.Key, new(part, line, wire.Pin, WireHold.Soldered, wire.Colour.Length > 0 ? wire.Colour : null)));
            }
            else if (!done && held is not null)
            {
                edits.Add(new RemoveWire(node.Key, part, line));
            }
        }
        foreach (var (id, count) in took.Where(t => t.Value > 0))
        {
            if (state.Design.Stock.FirstOrDefault(s => s.Id == id) is { } item)
            {
                edits.Add(new PutStock(item with { OnHand = done ? item.OnHand - count : item.OnHand + count }));
            }
        }
        return edits;
    }
}
