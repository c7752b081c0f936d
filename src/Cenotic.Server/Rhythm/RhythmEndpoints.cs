using System.Text;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Place;
using Cenotic.Core.Reach;
using Cenotic.Core.Rhythm;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Rhythm;

public sealed record CurrentMeasured(PowerState State, double Milliamps, string How);

/// <summary>Takes measured currents, which replace the catalogue's values in the plan; compares radios and intervals; exports.</summary>
public static class RhythmEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/currents", MeasureAsync).WithName("AddMeasuredCurrent");
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/nodes/{node}/rhythms", Compare).WithName("CompareRhythms");
        reading.MapGet("/exports/{kind}", Export).WithName("ExportRhythm");
    }

    private static async Task<Results<Ok<RhythmComparison>, ProblemHttpResult>> Compare(
        string site,
        string node,
        SiteBook book,
        SitePlans plans,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        return state.Design.Node(node) is { } design && (await book.PlanAsync(state, stop)).Node(node) is { } plan
            ? TypedResults.Ok(
                await plans.WorkAsync(
                    budget =>
                        RhythmComparison.Of(design, plan.Bench, state.Catalogue, state.Evidence, state.Design, budget, changed =>
                            LinkPlanner.Assumption(state.Design, state.Catalogue, state.Evidence, changed)
                        ),
                    stop
                )
            )
            : SiteRoutes.NoNode(node);
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Export(
        string site,
        string kind,
        SiteBook book,
        SiteClock clock,
        CancellationToken stop
    )
    {
        var state = book.Find(site)!;
        var plan = await book.PlanAsync(state, stop);
        return kind switch
        {
            "timetable.csv" => TypedResults.File(
                Encoding.UTF8.GetBytes(RhythmExports.TimetableCsv(state.Design, [.. plan.Nodes.Select(n => n.Rhythm)], plan.Reach)),
                "text/csv; charset=utf-8",
                $"{site}-{kind}"
            ),
            "batteries.ics" => TypedResults.File(
                Encoding.UTF8.GetBytes(RhythmExports.BatteryCalendar(site, plan.Rhythm, DateTimeOffset.FromUnixTimeMilliseconds(clock.Now(site)).UtcDateTime)),
                "text/calendar; charset=utf-8",
                $"{site}-{kind}"
            ),
            _ => TypedResults.Problem($"There is no export \"{kind}\": timetable.csv and batteries.ics.", statusCode: 404),
        };
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> MeasureAsync(
        string site,
        string node,
        CurrentMeasured request,
        SiteBook book,
        SiteClock clock
    )
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
