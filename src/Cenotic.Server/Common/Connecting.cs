using Polly;
using Polly.Retry;

namespace Cenotic.Server.Common;

/// <summary>Keeps a connection up: it is opened, used until it ends, and opened again.</summary>
internal static class Connecting
{
    private static readonly TimeSpan FirstWait = TimeSpan.FromSeconds(1),
        LongestWait = TimeSpan.FromSeconds(30);

    /// <summary>Runs until it is stopped. Tries that fail one after another come 1 s apart at first, and twice as far each time up to 30 s.</summary>
    /// <param name="open">Opens it; what it throws is a fault like any other.</param>
    /// <param name="use">Uses it, and returns or throws when it has ended.</param>
    /// <param name="ended">Is told each fault.</param>
    public static async Task KeepAsync<T>(
        Func<CancellationToken, ValueTask<T>> open,
        Func<T, Task> use,
        Action<Exception> ended,
        TimeProvider system,
        CancellationToken stop
    )
    {
        var retrying = new RetryStrategyOptions<T>
        {
            MaxRetryAttempts = int.MaxValue,
            BackoffType = DelayBackoffType.Exponential,
            Delay = FirstWait,
            MaxDelay = LongestWait,
            ShouldHandle = tried => ValueTask.FromResult(tried.Outcome.Exception is not null && !stop.IsCancellationRequested),
            OnRetry = tried =>
            {
                ended(tried.Outcome.Exception!);
                return default;
            },
        };
        var untilOpen = new ResiliencePipelineBuilder<T> { TimeProvider = system }
            .AddRetry(retrying)
            .Build();
        try
        {
            while (true)
            {
                var opened = await untilOpen.ExecuteAsync(open, stop);
                try
                {
                    await use(opened);
                }
                catch (Exception fault) when (!stop.IsCancellationRequested)
                {
                    ended(fault);
                }
                // One that ends as soon as it was opened is not opened again and again without a rest.
                await Task.Delay(FirstWait, system, stop);
            }
        }
        catch (Exception) when (stop.IsCancellationRequested)
        {
            // The end.
        }
    }
}
