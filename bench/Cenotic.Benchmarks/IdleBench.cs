using System.Diagnostics;
using System.Runtime.InteropServices;
using Microsoft.AspNetCore.Builder;

namespace Cenotic.Benchmarks;

/// <summary>What the demo takes while nobody looks at it, its nine stand-ins sending as planned, beside a host that serves nothing.</summary>
internal static class IdleBench
{
    private static readonly TimeSpan Settles = TimeSpan.FromSeconds(90),
        Watched = TimeSpan.FromSeconds(60);

    /// <summary>A host of the same framework with one page, until it is killed.</summary>
    public static async Task ServeNothingAsync(string address)
    {
        var app = WebApplication.CreateSlimBuilder().Build();
        app.MapGet("/health", () => "ok");
        await app.RunAsync(address);
    }

    public static async Task RunAsync()
    {
        var folder = Path.Combine(Path.GetTempPath(), "cenotic-bench", Guid.NewGuid().ToString("n"));
        using var demo = await RestartBench.StartAsync(folder, demo: true);
        var address = $"http://127.0.0.1:{RestartBench.FreePort()}";
        using var bare = Process.Start(
            new ProcessStartInfo("dotnet", [typeof(IdleBench).Assembly.Location, "bare", address]) { RedirectStandardOutput = true }
        )!;
        bare.OutputDataReceived += (_, _) => { };
        bare.BeginOutputReadLine();
        await Task.Delay(Settles);
        var (took, beside) = (Ran(demo), Ran(bare));
        var watch = Stopwatch.StartNew();
        await Task.Delay(Watched);
        demo.Refresh();
        bare.Refresh();
        (took, beside) = (Ran(demo) - took, Ran(bare) - beside);
        Console.WriteLine(
            $"idle demo: {Percent(took, watch)} of a processor (a bare host {Percent(beside, watch)}); {Megabytes(demo)} (a bare host {Megabytes(bare)})"
        );
        demo.Kill();
        bare.Kill();
        await demo.WaitForExitAsync();
        await bare.WaitForExitAsync();
        Directory.Delete(folder, recursive: true);
    }

    /// <summary>How long a process ran so far, by its clock (clock_getcpuclockid of POSIX.1-2008): a sum over its threads loses those that ended.</summary>
    private static TimeSpan Ran(Process process)
    {
        if (clock_getcpuclockid(process.Id, out var clock) != 0 || clock_gettime(clock, out var ran) != 0)
        {
            throw new InvalidOperationException($"Process {process.Id} has no clock.");
        }
        return TimeSpan.FromSeconds(ran.Seconds + ran.Nanoseconds / 1e9);
    }

    [DllImport("libc")]
    private static extern int clock_getcpuclockid(int process, out int clock);

    [DllImport("libc")]
    private static extern int clock_gettime(int clock, out Elapsed ran);

    [StructLayout(LayoutKind.Sequential)]
    private readonly record struct Elapsed(long Seconds, long Nanoseconds);

    private static string Percent(TimeSpan took, Stopwatch watch) => $"{took / watch.Elapsed * 100:0.00} %";

    /// <summary>What it holds, and how much of that the system could not take back: the rest are pages of files, read again when they are needed.</summary>
    private static string Megabytes(Process process)
    {
        var written = File.ReadLines($"/proc/{process.Id}/smaps_rollup")
            .Where(line => line.StartsWith("Shared_Dirty:", StringComparison.Ordinal) || line.StartsWith("Private_Dirty:", StringComparison.Ordinal))
            .Sum(line => long.Parse(line.Split(' ', StringSplitOptions.RemoveEmptyEntries)[1]));
        return $"{process.WorkingSet64 / 1e6:0} MB resident, {written / 1e3:0} MB of it not pages of files";
    }
}
