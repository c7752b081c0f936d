using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Server.Accounts;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Bench;

/// <summary>What every pin could do for a wire, and the best plan without its pin.</summary>
/// <param name="RunnerUpPin">Pin of the runner-up, or null when there is no other plan.</param>
public sealed record WireChoices(IReadOnlyList<PinOffer> Offers, string? RunnerUpPin, PlanCost? Cost, PlanCost? RunnerUpCost);

/// <summary>Questions about one wire.</summary>
public static class BenchEndpoints
{
    public static void Map(IEndpointRouteBuilder routes) =>
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/pins", Choices).WithName("GetPinOffers");

    private static Results<Ok<WireChoices>, ProblemHttpResult> Choices(string site, string node, string part, string line, SiteBook book, HardwareCatalogue catalogue)
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design)
        {
            return TypedResults.Problem($"There is no node \"{node}\".", statusCode: 404);
        }
        var second = BenchPlanner.RunnerUp(design, catalogue, part, line, out var pin);
        return TypedResults.Ok(new WireChoices(BenchPlanner.Offers(design, catalogue, part, line), pin, book.Plan(state).Node(node)?.Bench.Cost, second));
    }
}
