using System.Diagnostics;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Server;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Watch;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>
/// A year of samples, one every ten seconds: its envelope of 1,000 points as the page gets it, beside a bare pass over the samples; and a start of the program
/// on that database, killed before, beside one on an empty folder.
/// </summary>
internal static class YearBench
{
    private const int Samples = 3_150_000,
        PerMessage = 1_000,
        Rounds = 15;
    private const long Every = 10_000;

    public static async Task RunAsync()
    {
        var kept = Path.Combine(Path.GetTempPath(), "cenotic-bench", Guid.NewGuid().ToString("n"));
        Directory.CreateDirectory(kept);
        await using (var host = await Host.StartAsync())
        {
            var reading = host.App.Services.GetRequiredService<SiteBook>().Find("home")!.Readings[("hall", "temp")];
            var writer = host.App.Services.GetRequiredService<SampleWriter>();
            var from = host.App.Services.GetRequiredService<SiteClock>().Now("home") - Samples * Every;
            for (var m = 0; m < Samples / PerMessage; m += 20)
            {
                await Task.WhenAll(
                    Enumerable
                        .Range(m, Math.Min(20, Samples / PerMessage - m))
                        .Select(message =>
                            writer.StoreAsync(
                                new(
                                    "home",
                                    "hall",
                                    from,
                                    1,
                                    1,
                                    message + 1,
                                    null,
                                    null,
                                    [
                                        .. Enumerable
                                            .Range(message * PerMessage, PerMessage)
                                            .Select(i => new DecodedSample(
                                                reading.Id,
                                                "temp",
                                                reading.Kind,
                                                from + i * Every,
                                                20 + 5 * Math.Sin(i / 1369.0),
                                                SampleFlags.None
                                            )),
                                    ],
                                    [],
                                    ""
                                )
                            )
                        )
                );
            }
            using var client = await LiveBench.ClientAsync(host);
            var times = new List<double>();
            var points = 0;
            for (var round = 0; round < Rounds; round++)
            {
                var watch = Stopwatch.StartNew();
                points = (
                    await client.GetFromJsonAsync<LineView>(
                        $"/api/sites/home/readings/hall/temp/line?from={from}&to={from + Samples * Every}&points=1000",
                        CenoticJson.Options
                    )
                )!
                    .T
                    .Count;
                times.Add(watch.Elapsed.TotalMilliseconds);
            }
            times.Sort();
            using var connection = new SqliteConnection($"Data Source={Path.Combine(host.Folder, "cenotic.db")};Pooling=False");
            connection.Open();
            var bare = Stopwatch.StartNew();
            var count = (long)
                new SqliteCommand(
                    $"SELECT count(*) FROM (SELECT min(value), max(value) FROM samples WHERE reading_id = {reading.Id} GROUP BY t / 31500000)",
                    connection
                ).ExecuteScalar()!;
            Console.WriteLine(
                $"year: {Samples} samples as {points} points in a median of {times[times.Count / 2]:0.0} ms, worst of {times.Count} {times[^1]:0.0} "
                    + $"ms; {times[times.Count / 2] / bare.Elapsed.TotalMilliseconds:0.000} of a bare pass over the samples "
                    + $"({bare.Elapsed.TotalMilliseconds:0} ms, {count} points)"
            );
            new SqliteCommand($"VACUUM INTO '{Path.Combine(kept, "cenotic.db")}'", connection).ExecuteNonQuery();
        }
        var (empty, full) = (await StartsAsync(Path.Combine(kept, "empty")), await StartsAsync(kept));
        Console.WriteLine(
            $"start after a kill, with {Samples} samples: {full:0} ms until it is ready, {full / empty:0.0} times the first start on an empty folder "
                + $"({empty:0} ms)"
        );
        Directory.Delete(kept, recursive: true);
    }

    /// <summary>Milliseconds from the start of the program until it says that it is ready, the second
    /// of two starts when the folder has a database; killed each time.</summary>
    private static async Task<double> StartsAsync(string folder)
    {
        double last = 0;
        for (var round = 0; round < (File.Exists(Path.Combine(folder, "cenotic.db")) ? 2 : 1); round++)
        {
            var start = new ProcessStartInfo("dotnet", [Path.Combine(Host.Built, "Cenotic.Server.dll")]) { RedirectStandardOutput = true };
            (start.Environment["CENOTIC_DATA"], start.Environment["CENOTIC_WEB"], start.Environment["CENOTIC_BROKER"]) = (folder, "127.0.0.1:0", "127.0.0.1:0");
            var watch = Stopwatch.StartNew();
            using var process = Process.Start(start)!;
            string? line;
            while ((line = await process.StandardOutput.ReadLineAsync()) is not null && !line.StartsWith("Nodes connect", StringComparison.Ordinal)) { }
            if (line is null)
            {
                throw new InvalidOperationException($"The program did not start on {folder}.");
            }
            last = watch.Elapsed.TotalMilliseconds;
            process.Kill();
            await process.WaitForExitAsync();
        }
        return last;
    }
}
