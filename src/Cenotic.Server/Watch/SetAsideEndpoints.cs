using Cenotic.Core.Design;
using Cenotic.Server.Live;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Watch;

/// <summary>A stretch of a reading that is to be left out.</summary>
/// <param name="FromMs">UTC ms of site time, as <paramref name="ToMs"/>, which is the last moment of it.</param>
public sealed record SetAsideRequest(string Node = "", string Reading = "", long FromMs = 0, long ToMs = 0, string Reason = "");

/// <summary>Sets stretches of readings aside; they are taken back from the log.</summary>
public static class SetAsideEndpoints
{
    private const int LongestReason = 200;

    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Writing(routes).MapPost("/set-aside", PutAsync).WithName("SetAside");

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> PutAsync(
        string site,
        SetAsideRequest request,
        SiteClock clock,
        SetAside aside,
        LiveFeed live,
        IHostApplicationLifetime life,
        HttpContext http
    )
    {
        var fault =
            request.FromMs < 0 || request.ToMs < request.FromMs ? "The stretch ends before it begins."
            : request.FromMs > clock.Now(site) ? "What has not come yet cannot be set aside: the stretch begins in the past."
            : request.Reason.Length > LongestReason ? $"The reason has at most {LongestReason} characters."
            : await aside.PutAsync(
                site,
                new ReadingRef(request.Node, request.Reading),
                request.FromMs,
                Math.Min(request.ToMs, clock.Now(site)),
                request.Reason.Trim(),
                http.User.Identity!.Name!,
                life.ApplicationStopping
            );
        await live.CalibratedAsync(site);
        return fault is null ? TypedResults.NoContent() : TypedResults.UnprocessableEntity(new EditRefused([fault]));
    }
}
