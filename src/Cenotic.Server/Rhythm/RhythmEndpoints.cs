using Cenotic.Core.Design;
using Cenotic.Server.Accounts;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Rhythm;

public sealed record CurrentMeasured(PowerState State, double Milliamps, string How);

/// <summary>Takes measured currents: they replace the catalogue's values in the plan.</summary>
public static class RhythmEndpoints
{
    public static void Map(IEndpointRouteBuilder routes) =>
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/currents", MeasureAsync).WithName("AddMeasuredCurrent");

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> MeasureAsync(string site, string node, CurrentMeasured request, SiteBook book, SiteClock clock)
    {
        var faults = new List<string>();
        if (book.Find(site)!.Design.Node(node) is null)
        {
            faults.Add($"There is no node \"{node}\".");
        }
        if (request.Milliamps is not (> 0 and <= 5000))
        {
            faults.Add("The current must be above 0 and at most 5000 mA.");
        }
        if (string.IsNullOrWhiteSpace(request.How) || request.How.Length > 120)
        {
            faults.Add("Say how it was measured, in 1 to 120 characters.");
        }
        if (faults.Count > 0)
        {
            return TypedResults.UnprocessableEntity(new EditRefused(faults));
        }
        await book.MeasureAsync(site, new(node, request.State, request.Milliamps, request.How, clock.Now(site)));
        return TypedResults.NoContent();
    }
}
