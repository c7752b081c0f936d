using System.Globalization;
using System.Net;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Connections;
using Microsoft.AspNetCore.Http.Connections;
using Microsoft.AspNetCore.Http.HttpResults;
using MQTTnet.AspNetCore;

namespace Cenotic.Server.Ingest;

/// <summary>That the server answers and stores what it is sent; else why not.</summary>
/// <param name="Loops">Loops in the background of which a round failed; each is tried again.</param>
public sealed record Health(string Status, string? Reason, IReadOnlyList<LoopFaults> Loops);

/// <summary>How the relay fares: for a monitor, for a collector of metrics, for the page.</summary>
public static class RelayEndpoints
{
    /// <summary>Where MQTT over WebSocket is spoken (MQTT 3.1.1, 6; MQTT 5, 6).</summary>
    public const string WebSocket = "/mqtt";

    private const string SubProtocol = "mqtt";

    public static void Map(IEndpointRouteBuilder routes)
    {
        // Who connects signs in with the node's key inside the connection, as over TCP.
        routes
            .MapConnections(
                WebSocket,
                new()
                {
                    Transports = HttpTransportType.WebSockets,
                    WebSockets = { SubProtocolSelector = asked => asked.Contains(SubProtocol) ? SubProtocol : null! },
                },
                connections =>
                {
                    connections.ApplicationServices.GetRequiredService<PacketGuard>().StandBefore(connections);
                    connections.UseConnectionHandler<MqttConnectionHandler>();
                }
            )
            .AllowAnonymous();
        routes.MapGet("/health", HealthOf).WithName("GetHealth").AllowAnonymous();
        routes.MapGet("/metrics", MetricsAsync).WithName("GetMetrics").AllowAnonymous();
        SiteRoutes
            .Reading(routes)
            .MapGet("/relay", (string site, RelayMeter meter, UpstreamBroker upstream, SiteClock clock) =>
                meter.Read() with
                {
                    Upstream = upstream.State,
                    ClockBehindMs = clock.BehindMs(site),
                    LateUntilMs = clock.LateUntilMs(site),
                }
            )
            .WithName("GetRelay");
        SiteRoutes.Writing(routes).MapPost("/store/check", CheckAsync).WithName("CheckStore");
    }

    private static Results<Ok<Health>, JsonHttpResult<Health>> HealthOf(RelayMeter meter, SiteBook book, SiteClock clock, LoopHealth loops) =>
        meter.Read().Failing is { } reason
            ? TypedResults.Json(new Health("not storing", reason, loops.Faults), statusCode: StatusCodes.Status503ServiceUnavailable)
            : TypedResults.Ok(
                new Health(
                    "ok",
                    book.Sites.Where(s => clock.BehindMs(s) is not null).MaxBy(clock.BehindMs) is { } behind ? Behind(behind, clock) : null,
                    loops.Faults
                )
            );

    private static string Behind(string site, SiteClock clock) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"The clock of this machine was set back by {clock.BehindMs(site) / 1000} s. What arrives is stored; until "
                + $"{DateTimeOffset.FromUnixTimeMilliseconds(clock.LateUntilMs(site) ?? 0):yyyy-MM-dd HH:mm:ss} UTC it counts as late, and rules do not "
                + $"judge it."
        );

    private static async Task<Results<Ok<StoreReport>, ProblemHttpResult>> CheckAsync(string site, StoreCheck check, HttpContext http) =>
        await check.RunAsync(http.RequestAborted) is { } report
            ? TypedResults.Ok(report)
            : TypedResults.Problem("A check is under way already.", statusCode: 409);

    /// <summary>
    /// OpenMetrics text, to whoever is signed in, to who brings the token of the settings, and where none is set to programs on this machine. A proxy on this
    /// machine speaks for the whole world: what comes over one needs the token.
    /// </summary>
    private static async Task<Results<ContentHttpResult, UnauthorizedHttpResult>> MetricsAsync(HttpContext http, RelayMeter meter, Settings settings)
    {
        var proxied = Forwarded.Any(http.Request.Headers.ContainsKey);
        var local = settings.MetricsToken is null && !proxied && http.Connection.RemoteIpAddress is { } from && IPAddress.IsLoopback(from);
        var token =
            settings.MetricsToken is { } wanted
            && http.Request.Headers.Authorization.ToString() is var brought
            && CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(brought), Encoding.UTF8.GetBytes($"Bearer {wanted}"));
        return local || token || http.User.Identity?.IsAuthenticated == true
            ? TypedResults.Text(await meter.OpenMetricsAsync(), "application/openmetrics-text; version=1.0.0; charset=utf-8")
            : TypedResults.Unauthorized();
    }

    /// <summary>Headers that proxies add (RFC 7239, and the usual ones before it).</summary>
    private static readonly string[] Forwarded = ["Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "X-Real-IP", "Via"];
}
