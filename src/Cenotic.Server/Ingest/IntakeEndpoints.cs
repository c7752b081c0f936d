using System.Text;
using System.Threading.RateLimiting;
using Cenotic.Server.Accounts;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.RateLimiting;

namespace Cenotic.Server.Ingest;

/// <summary>What became of a posted message: how many samples are stored, and what was refused in it.</summary>
/// <param name="Repeated">True when it was stored before, by its start and number: it is not stored twice.</param>
public sealed record Taken(int Samples, IReadOnlyList<string> Refusals, bool Repeated = false);

/// <summary>Messages of nodes over HTTP, with the node's name and key; answered after the commit.</summary>
public static class IntakeEndpoints
{
    /// <summary>Most bytes of a message, as on the broker.</summary>
    public const int MostBytes = 64 * 1024;

    /// <summary>Name of the rate limit.</summary>
    public const string Limit = "intake";

    public static void Map(IEndpointRouteBuilder routes)
    {
        // The key speaks for the node; no cookie is looked at, so that there is nothing to forge.
        var group = routes.MapGroup("/api/intake/{site}/{node}").AllowAnonymous().DisableAntiforgery().RequireRateLimiting(Limit);
        group
            .MapPost("/", (string site, string node, HttpContext http, SiteBook book, NodeKeys keys, Intake intake, SampleWriter writer) =>
                TakeAsync(site, node, null, http, book, keys, intake, writer)
            )
            .WithName("PostMessage");
        group.MapPost("/{reading}", TakeAsync).WithName("PostReading");
    }

    private static async Task<Results<Ok<Taken>, UnprocessableEntity<Taken>, ProblemHttpResult>> TakeAsync(
        string site,
        string node,
        string? reading,
        HttpContext http,
        SiteBook book,
        NodeKeys keys,
        Intake intake,
        SampleWriter writer
    )
    {
        // A gateway signs in with its own name and key for the nodes that are heard through it.
        var answer = KeyAnswer.Wrong;
        if (
            SignIn(http.Request.Headers.Authorization.ToString()) is not ([var at, var by], var key)
            || at != site
            || book.Find(site)?.Design.SpeaksFor(by, node) != true
            || (answer = keys.Try(site, by, key, http.Connection.RemoteIpAddress)) != KeyAnswer.Fits
        )
        {
            if (answer == KeyAnswer.Wait)
            {
                return TypedResults.Problem("Too many wrong keys for this name from here; wait a minute.", statusCode: 429);
            }
            http.Response.Headers.WWWAuthenticate = "Basic realm=\"node\"";
            return TypedResults.Problem($"The name is {Broker.UserName("SITE", "NODE")} and the password is the node's key.", statusCode: 401);
        }
        var body = new byte[MostBytes + 1];
        var length = await http.Request.Body.ReadAtLeastAsync(body, body.Length, throwOnEndOfStream: false, http.RequestAborted);
        if (length > MostBytes)
        {
            return TypedResults.Problem($"A message has at most {MostBytes} bytes.", statusCode: 413);
        }
        var message = intake.Decode(site, node, body.AsMemory(0, length), reading);
        var stored = await writer.StoreAsync(message, http.RequestAborted);
        var taken = stored.Refusal is { } reason
            ? new Taken(0, [reason, .. message.Refusals])
            : new Taken(message.Samples.Count, message.Refusals, stored.Repeated);
        return taken.Samples == 0 && taken.Refusals.Count > 0 ? TypedResults.UnprocessableEntity(taken) : TypedResults.Ok(taken);
    }

    /// <summary>The parts of the name and the password of basic authentication (RFC 7617); null without one.</summary>
    private static (string[] Name, string Key)? SignIn(string header)
    {
        const string Scheme = "Basic ";
        if (!header.StartsWith(Scheme, StringComparison.OrdinalIgnoreCase))
        {
            return null;
        }
        Span<byte> decoded = stackalloc byte[512];
        if (!Convert.TryFromBase64String(header[Scheme.Length..].Trim(), decoded, out var count))
        {
            return null;
        }
        var pair = Encoding.UTF8.GetString(decoded[..count]);
        return pair.Split(':', 2) is [var name, var key] ? (name.Split('/'), key) : null;
    }

    /// <summary>The limit for each address: room for many nodes behind one gateway, none for a flood of guesses.</summary>
    internal static RateLimitPartition<object> LimitOf(HttpContext http) =>
        RateLimitPartition.GetTokenBucketLimiter<object>(http.Connection.RemoteIpAddress ?? (object)"", _ => new TokenBucketRateLimiterOptions
        {
            TokenLimit = 2000,
            TokensPerPeriod = 500,
            ReplenishmentPeriod = TimeSpan.FromSeconds(1),
            QueueLimit = 0,
        });
}
