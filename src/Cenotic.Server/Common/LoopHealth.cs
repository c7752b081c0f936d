using System.Collections.Concurrent;

namespace Cenotic.Server.Common;

/// <summary>Rounds of a loop in the background that failed.</summary>
/// <param name="Count">Since the start.</param>
/// <param name="LastMs">When the newest failed, UTC ms of this machine; why stands in the log.</param>
public sealed record LoopFaults(string Loop, long Count, long LastMs);

/// <summary>Runs the rounds of loops in the background: one that fails is logged, counted and tried
/// again with the next; it never ends the loop, nor this program.</summary>
public sealed class LoopHealth(TimeProvider system, ILogger<LoopHealth> log)
{
    private static readonly TimeSpan Again = TimeSpan.FromSeconds(1);
    private readonly ConcurrentDictionary<string, LoopFaults> _faults = [];
    private readonly ConcurrentDictionary<string, long> _done = [];

    /// <summary>What failed so far, by loop.</summary>
    public IReadOnlyList<LoopFaults> Faults => [.. _faults.Values.OrderBy(f => f.Loop, StringComparer.Ordinal)];

    /// <summary>Rounds of a loop that ended well since the start: who waits for two more knows that it has seen all that was.</summary>
    internal long Done(string loop) => _done.GetValueOrDefault(loop);

    /// <summary>Runs a round.</summary>
    /// <returns>False when it failed.</returns>
    /// <exception cref="OperationCanceledException">This program ends.</exception>
    public async Task<bool> RunAsync(string loop, Func<Task> round, CancellationToken stop)
    {
        try
        {
            await round();
            _done.AddOrUpdate(loop, 1, (_, before) => before + 1);
            return true;
        }
        catch (Exception fault) when (fault is not OperationCanceledException || !stop.IsCancellationRequested)
        {
            Failed(loop, fault);
            return false;
        }
    }

    /// <summary>Runs what must be done once, until it succeeds.</summary>
    public async Task UntilDoneAsync(string loop, Func<Task> work, CancellationToken stop)
    {
        while (!await RunAsync(loop, work, stop))
        {
            await Task.Delay(Again, system, stop);
        }
    }

    /// <summary>Counts and logs what failed outside a round.</summary>
    public void Failed(string loop, Exception fault)
    {
        var now = system.GetUtcNow().ToUnixTimeMilliseconds();
        _faults.AddOrUpdate(loop, _ => new(loop, 1, now), (_, before) => new(loop, before.Count + 1, now));
        log.LogError(fault, "A round of {Loop} failed; it is tried again.", loop);
    }
}
