namespace Cenotic.Server.Common;

/// <summary>Lets one loop wait until something happens or a moment comes, whichever is first. What happens while it works is not lost.</summary>
public sealed class WakeSignal(TimeProvider system)
{
    private readonly Lock _lock = new();
    private bool _happened;
    private TaskCompletionSource<bool>? _waits;

    /// <summary>Something happened: whoever waits goes on.</summary>
    public void Wake()
    {
        lock (_lock)
        {
            _happened = _waits?.TrySetResult(true) != true;
        }
    }

    /// <summary>Waits until something happened since the last wait.</summary>
    /// <param name="most">How long to wait at most; null for as long as it takes.</param>
    /// <returns>False when the time was up first.</returns>
    /// <exception cref="OperationCanceledException"><paramref name="stop"/> was asked for.</exception>
    public async Task<bool> WaitAsync(TimeSpan? most, CancellationToken stop)
    {
        stop.ThrowIfCancellationRequested();
        var waits = new TaskCompletionSource<bool>(TaskCreationOptions.RunContinuationsAsynchronously);
        lock (_lock)
        {
            if (_happened)
            {
                _happened = false;
                return true;
            }
            _waits = waits;
        }
        // The end of the time is no exception: loops wait often.
        await using var timer = system.CreateTimer(_ => waits.TrySetResult(false), null, most ?? Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        await using var stopped = stop.Register(() => waits.TrySetCanceled(stop));
        try
        {
            return await waits.Task;
        }
        finally
        {
            lock (_lock)
            {
                _waits = null;
            }
        }
    }
}
