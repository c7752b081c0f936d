using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace Cenotic.Benchmarks;

/// <summary>How soon the program answers again after it was killed in the middle of its work, beside a program of the same runtime that does nothing.</summary>
internal static class RestartBench
{
    private const int Rounds = 15;

    public static async Task RunAsync()
    {
        var folder = Path.Combine(Path.GetTempPath(), "cenotic-bench", Guid.NewGuid().ToString("n"));
        var (taken, bare) = (new List<double>(), new List<double>());
        for (var round = 0; round < Rounds; round++)
        {
            // The demo's nodes send all the time: it is killed among their messages.
            using (var working = await StartAsync(folder, demo: true))
            {
                await Task.Delay(1_500);
                working.Kill();
                await working.WaitForExitAsync();
            }
            var watch = Stopwatch.StartNew();
            using (var again = await StartAsync(folder, demo: false))
            {
                taken.Add(watch.Elapsed.TotalSeconds);
                again.Kill();
                await again.WaitForExitAsync();
            }
            watch.Restart();
            using var runtime = Process.Start(
                new ProcessStartInfo("dotnet", [typeof(RestartBench).Assembly.Location, "nothing"]) { RedirectStandardOutput = true }
            )!;
            await runtime.WaitForExitAsync();
            bare.Add(watch.Elapsed.TotalSeconds);
        }
        taken.Sort();
        bare.Sort();
        Console.WriteLine(
            $"restart after a kill: median {taken[Rounds / 2]:0.00} s, longest of {Rounds} {taken[^1]:0.00} s until /health answers; "
                + $"{taken[Rounds / 2] / bare[Rounds / 2]:0.0} times a program that does nothing ({bare[Rounds / 2]:0.00} s)"
        );
        Directory.Delete(folder, recursive: true);
    }

    internal static async Task<Process> StartAsync(string folder, bool demo)
    {
        var web = FreePort();
        var start = new ProcessStartInfo("dotnet", [Path.Combine(Host.Built, "Cenotic.Server.dll")])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["CENOTIC_DEMO"] = demo ? "true" : "false";
        start.Environment["CENOTIC_DATA"] = folder;
        start.Environment["CENOTIC_WEB"] = $"http://127.0.0.1:{web}";
        start.Environment["CENOTIC_BROKER"] = $"127.0.0.1:{FreePort()}";
        var process = Process.Start(start)!;
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        using var client = new HttpClient { Timeout = TimeSpan.FromSeconds(2) };
        while (true)
        {
            try
            {
                if ((await client.GetAsync($"http://127.0.0.1:{web}/health")).StatusCode == HttpStatusCode.OK)
                {
                    return process;
                }
            }
            catch (Exception fault) when (fault is HttpRequestException or TaskCanceledException)
            {
                if (process.HasExited)
                {
                    throw new InvalidOperationException("The program ended by itself.");
                }
            }
            await Task.Delay(5);
        }
    }

    internal static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
