using System.Net;
using System.Net.Sockets;
using Cenotic.Server.Common;

namespace Cenotic.Server.Alerts.Ways;

/// <summary>An HTTP client that checks the address it connects to, after the name was resolved, and follows no redirect.
/// A connection is never used twice, so that a name that changes is checked again.</summary>
public sealed class GuardedHttp : IDisposable
{
    private static readonly HttpRequestOptionsKey<IReadOnlyList<IPNetwork>> Home = new("cenotic-home");
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private readonly HttpClient _client = new(
        new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            UseProxy = false,
            UseCookies = false,
            PooledConnectionLifetime = TimeSpan.Zero,
            ConnectTimeout = Patience,
            ConnectCallback = ConnectAsync,
            MaxResponseHeadersLength = 16,
        }
    )
    {
        Timeout = Patience,
        MaxResponseContentBufferSize = 64 * 1024,
    };

    /// <summary>Sends a request.</summary>
    /// <exception cref="ForbiddenAddressException">The name resolves to no address that may be called.</exception>
    public Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, IReadOnlyList<IPNetwork> home, CancellationToken stop)
    {
        request.Options.Set(Home, home);
        return _client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, stop);
    }

    public void Dispose() => _client.Dispose();

    private static async ValueTask<Stream> ConnectAsync(SocketsHttpConnectionContext context, CancellationToken stop)
    {
        var home = context.InitialRequestMessage.Options.TryGetValue(Home, out var networks) ? networks : [];
        var allowed = await AddressGuard.ResolveAsync(context.DnsEndPoint.Host, home, stop);
        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            await socket.ConnectAsync(allowed, context.DnsEndPoint.Port, stop);
            return new NetworkStream(socket, ownsSocket: true);
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }
}
