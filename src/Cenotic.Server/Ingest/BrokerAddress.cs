using System.Net;

namespace Cenotic.Server.Ingest;

/// <summary>Where the broker listens.</summary>
/// <param name="Tls">Where it listens with TLS; null for nowhere.</param>
public sealed record BrokerAt(IPEndPoint Plain, IPEndPoint? Tls);

/// <summary>Where the broker really listens, once it does (a port of 0 in the settings takes a free one).</summary>
public sealed class BrokerAddress
{
    private readonly TaskCompletionSource<BrokerAt> _ready = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public Task<BrokerAt> Ready => _ready.Task;

    public void Set(BrokerAt address) => _ready.TrySetResult(address);
}
