using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>
/// The clock of this machine was ahead and was put right: what arrives is older than what is stored, counts as late and is not judged until the clock is where
/// it was. Who does not want to wait says so: what is stored with later times stays, and makes nothing late any more.
/// </summary>
public static class JudgeAnywayEndpoints
{
    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Writing(routes).MapPost("/judge-anyway", JudgeAsync).WithName("JudgeAnyway");

    private static async Task<Results<NoContent, ProblemHttpResult>> JudgeAsync(
        string site,
        SiteClock clock,
        WriteGate gate,
        SampleWriter writer,
        Deriver deriver,
        RuleRunner rules
    )
    {
        if (clock.BehindMs(site) is null)
        {
            return TypedResults.Problem("The clock goes right: what arrives is judged.", statusCode: 409);
        }
        var now = clock.Now(site);
        await gate.WriteAsync(async store =>
        {
            var row = await store.Sites.SingleAsync(s => s.Key == site);
            (row.JudgedAnywayMs, row.JudgedAnywayArrival) = (now, await store.Arrivals.MaxAsync(a => (long?)a.Id) ?? 0);
        });
        writer.LookAgain();
        await deriver.BeginFromNowAsync(site);
        await rules.BeginAnewAsync(site);
        clock.TakeAsRight(site);
        return TypedResults.NoContent();
    }
}
