namespace Cenotic.Server.Accounts;

/// <summary>
/// A WebSocket is opened by any page without asking the server first: one that a page of another origin opens is refused (RFC 6455, 10.2). Programs send no
/// origin and are let through; they bring no cookie that somebody else's page could ride on.
/// </summary>
/// <param name="sockets">Where sockets are opened.</param>
internal sealed class OriginCheck(params PathString[] sockets)
{
    public Task InvokeAsync(HttpContext http, RequestDelegate next)
    {
        if (
            sockets.Any(s => http.Request.Path.StartsWithSegments(s))
            && http.Request.Headers.Origin.ToString() is { Length: > 0 } origin
            && !IsOwn(origin, http.Request)
        )
        {
            http.Response.StatusCode = StatusCodes.Status403Forbidden;
            return Task.CompletedTask;
        }
        return next(http);
    }

    private static bool IsOwn(string origin, HttpRequest request) =>
        Uri.TryCreate(origin, UriKind.Absolute, out var from)
        && string.Equals(
            from.Authority,
            new UriBuilder(from.Scheme, request.Host.Host, request.Host.Port ?? -1).Uri.Authority,
            StringComparison.OrdinalIgnoreCase
        );
}
