using System.Net;

namespace Cenotic.Server.Relay;

/// <summary>Where the broker really listens, once it does (a port of 0 in the settings takes a free one).</summary>
public sealed class BrokerAddress
{
    private readonly TaskCompletionSource<IPEndPoint> _ready = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public Task<IPEndPoint> Ready => _ready.Task;

    public void Set(IPEndPoint address) => _ready.TrySetResult(address);
}
