using System.Runtime;
using System.Runtime.InteropServices;

namespace Cenotic.Server.Common;

/// <summary>Gives back, once the start is over, the memory that only the start needed: plans, compiled queries and the compiler's own.</summary>
public sealed class StartMemory(TimeProvider system, IHostApplicationLifetime life) : BackgroundService
{
    private static readonly TimeSpan StartTakes = TimeSpan.FromSeconds(30);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var started = new TaskCompletionSource();
        await using var begun = life.ApplicationStarted.Register(started.SetResult);
        await started.Task.WaitAsync(stoppingToken);
        await Task.Delay(StartTakes, system, stoppingToken);
        GCSettings.LargeObjectHeapCompactionMode = GCLargeObjectHeapCompactionMode.CompactOnce;
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        Trim();
    }

    /// <summary>What the allocator of C keeps of memory that was freed. A C library that has no such call gives it back by itself.</summary>
    private static void Trim()
    {
        try
        {
            _ = MallocTrim(0);
        }
        catch (Exception fault) when (fault is EntryPointNotFoundException or DllNotFoundException)
        {
            // Not the GNU C library.
        }
    }

    [DllImport("libc", EntryPoint = "malloc_trim")]
    private static extern int MallocTrim(nuint keep);
}
