using System.Text;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Place;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace Cenotic.Server.Bench;

/// <summary>What every pin could do for a wire, and the best plan without its pin.</summary>
/// <param name="RunnerUpPin">Pin of the runner-up, or null when there is no other plan.</param>
public sealed record WireChoices(IReadOnlyList<PinOffer> Offers, string? RunnerUpPin, PlanCost? Cost, PlanCost? RunnerUpCost);

/// <summary>Questions about a node's bench, and its exports.</summary>
public static class BenchEndpoints
{
    private const int MostPlaced = 24;

    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/nodes/{node}/pins", Choices).WithName("GetPinOffers");
        reading.MapGet("/nodes/{node}/trial", Trial).WithName("TryWire");
        reading.MapGet("/nodes/{node}/boards", Boards).WithName("CompareBoards");
        reading.MapGet("/nodes/{node}/parts-list", List).WithName("GetPartsList");
        reading.MapGet("/nodes/{node}/wishes", Wishes).WithName("AnswerWish");
        reading.MapGet("/nodes/{node}/placing", Place).WithName("PlacePart");
        reading.MapGet("/nodes/{node}/exports/{kind}", Export).WithName("ExportBench");
    }

    /// <param name="part">Catalogue ids; one as often as it is wanted.</param>
    /// <param name="tried">True to be told what the node would be with them.</param>
    private static async Task<Results<Ok<PlacedParts>, ProblemHttpResult>> Place(
        string site,
        string node,
        [FromQuery] string[] part,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop,
        bool tried = false
    )
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design)
        {
            return Missing(node);
        }
        if (part.Length is 0 or > MostPlaced)
        {
            return TypedResults.Problem($"1 to {MostPlaced} parts are placed at a time.", statusCode: 422);
        }
        if (part.FirstOrDefault(p => state.Catalogue.Part(p) is null) is { } unknown)
        {
            return TypedResults.Problem($"The catalogue has no part \"{unknown}\".", statusCode: 404);
        }
        var parts = part.Select(p => state.Catalogue.Part(p)!).ToList();
        return TypedResults.Ok(
            tried ? await plans.WorkAsync(budget => Placing.Try(state.Design, design, state.Catalogue, parts, budget), stop) : Placing.Of(design, parts)
        );
    }

    private static async Task<Results<Ok<WireChoices>, ProblemHttpResult>> Choices(
        string site,
        string node,
        string part,
        string line,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design)
        {
            return Missing(node);
        }
        var cost = (await book.PlanAsync(state, stop)).Node(node)?.Bench.Cost;
        return TypedResults.Ok(
            await plans.WorkAsync(
                budget =>
                {
                    var second = BenchPlanner.RunnerUp(design, state.Catalogue, part, line, out var pin, budget);
                    return new WireChoices(BenchPlanner.Offers(design, state.Catalogue, part, line, budget), pin, cost, second);
                },
                stop
            )
        );
    }

    private static async Task<Results<Ok<WireTrial>, ProblemHttpResult>> Trial(
        string site,
        string node,
        string part,
        string line,
        string pin,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        return state.Design.Node(node) is { } design
            ? TypedResults.Ok(await plans.WorkAsync(budget => BenchPlanner.Try(design, state.Catalogue, part, line, pin, budget), stop))
            : Missing(node);
    }

    private static async Task<Results<Ok<IReadOnlyList<BoardOption>>, ProblemHttpResult>> Boards(
        string site,
        string node,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        return state.Design.Node(node) is { } design
            ? TypedResults.Ok(
                await plans.WorkAsync(
                    budget => BoardComparison.Compare(design, state.Catalogue, state.Design.Stock, Surroundings.Of(state.Design, design), budget),
                    stop
                )
            )
            : Missing(node);
    }

    private static async Task<Results<Ok<PartsListing>, ProblemHttpResult>> List(string site, string node, SiteBook book, CancellationToken stop)
    {
        var state = book.Find(site)!;
        return state.Design.Node(node) is { } design && (await book.PlanAsync(state, stop)).Node(node) is { } plan
            ? TypedResults.Ok(PartsList.Of(design, plan.Bench, state.Catalogue, state.Design.Stock))
            : Missing(node);
    }

    private static Results<Ok<IReadOnlyList<PartAnswer>>, ProblemHttpResult> Wishes(
        string site,
        string node,
        string quantity,
        double? min,
        double? max,
        double? error,
        double? lateMs,
        bool? onCells,
        SiteBook book
    )
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design)
        {
            return Missing(node);
        }
        var rails = state.Catalogue.Board(design.Board) is { } board ? NodeSupply.Of(board, design.Power, state.Catalogue).Rails : [];
        return TypedResults.Ok(
            PartChoice.Answer(
                new(quantity, min, max, error, lateMs, onCells ?? design.Power.Kind == PowerKind.Cells),
                state.Catalogue,
                state.Design.Stock,
                Surroundings.Of(state.Design, design),
                rails
            )
        );
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Export(
        string site,
        string node,
        string kind,
        SiteBook book,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        if (
            state.Design.Node(node) is not { } design
            || (await book.PlanAsync(state, stop)).Node(node)?.Bench is not { } plan
            || state.Catalogue.Board(design.Board) is not { } board
        )
        {
            return Missing(node);
        }
        var file = kind switch
        {
            "wiring.csv" => BenchExports.WiringCsv(plan),
            "netlist.csv" => BenchExports.NetlistCsv(plan),
            "pins.h" => BenchExports.CHeader(design, plan, board),
            "pins.json" => BenchExports.PinsJson(design, plan),
            _ => null,
        };
        return file is null
            ? TypedResults.Problem($"There is no export \"{kind}\": wiring.csv, netlist.csv, pins.h and pins.json.", statusCode: 404)
            : TypedResults.File(
                Encoding.UTF8.GetBytes(file),
                kind.EndsWith(".csv", StringComparison.Ordinal) ? "text/csv; charset=utf-8"
                    : kind.EndsWith(".json", StringComparison.Ordinal) ? "application/json"
                    : "text/plain; charset=utf-8",
                $"{node}-{kind}"
            );
    }

    private static ProblemHttpResult Missing(string node) =>
        TypedResults.Problem($"There is no node \"{node}\", or its board is not in the catalogue.", statusCode: 404);
}
