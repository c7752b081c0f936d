using System.Net;
using Cenotic.Server.Accounts;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Relay;

/// <summary>That the server answers and stores what it is sent; else why not.</summary>
public sealed record Health(string Status, string? Reason);

/// <summary>How the relay fares: for a monitor, for a collector of metrics, for the page.</summary>
public static class RelayEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/health", HealthOf).WithName("GetHealth").AllowAnonymous();
        routes.MapGet("/metrics", Metrics).WithName("GetMetrics").AllowAnonymous();
        SiteRoutes.Reading(routes).MapGet("/relay", (string site, RelayMeter meter) => meter.Read()).WithName("GetRelay");
    }

    private static Results<Ok<Health>, JsonHttpResult<Health>> HealthOf(RelayMeter meter) => meter.Read().Failing is { } reason
        ? TypedResults.Json(new Health("not storing", reason), statusCode: StatusCodes.Status503ServiceUnavailable)
        : TypedResults.Ok(new Health("ok", null));

    /// <summary>OpenMetrics text, to programs on this machine and to whoever is signed in.</summary>
    private static Results<ContentHttpResult, UnauthorizedHttpResult> Metrics(HttpContext http, RelayMeter meter) =>
        http.User.Identity?.IsAuthenticated == true || http.Connection.RemoteIpAddress is { } from && IPAddress.IsLoopback(from)
            ? TypedResults.Text(meter.OpenMetrics(), "application/openmetrics-text; version=1.0.0; charset=utf-8")
            : TypedResults.Unauthorized();
}
