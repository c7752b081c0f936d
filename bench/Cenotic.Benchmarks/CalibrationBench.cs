using System.Diagnostics;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>A calibration that corrects a year of samples, one a minute, with its rollups, beside a bare update of the same rows with the same line in SQL.</summary>
internal static class CalibrationBench
{
    private const int Samples = 525_600;

    public static async Task RunAsync()
    {
        await using var host = await Host.StartAsync();
        var reading = host.App.Services.GetRequiredService<SiteBook>().Find("home")!.Readings[("hall", "temp")].Id;
        using var connection = new SqliteConnection($"Data Source={Path.Combine(host.Folder, "cenotic.db")};Pooling=False");
        connection.Open();
        new SqliteCommand(
            $"""
            WITH RECURSIVE minutes(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM minutes WHERE i < {Samples - 1})
            INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id) SELECT {reading}, 1700000000000 + i * 60000, 0, i % 400 / 10.0, i % 400 / 10.0, 0, 0 FROM minutes
            """, connection).ExecuteNonQuery();
        var calibrations = host.App.Services.GetRequiredService<Calibrations>();
        // Arrivals beside it: each is timed from its first byte to its answer.
        var answers = new List<double>();
        async Task<double> PutAsync(CalibrationKind kind, params CalibrationPoint[] points)
        {
            var watch = Stopwatch.StartNew();
            if (calibrations.Begin(new() { Site = "home", Node = "hall", Reading = "temp", Who = "owner", Against = "", Fitted = "", Body = JsonSerializer.Serialize(Calibration.Fit(kind, points, 0.1).Value, CenoticJson.Options) }) is { } fault)
            {
                throw new InvalidOperationException(fault);
            }
            while (calibrations.Work("home", "hall")!.Running)
            {
                await Task.Delay(20);
            }
            return calibrations.Work("home", "hall") is { Fault: null, Samples: Samples } ? watch.Elapsed.TotalSeconds : throw new InvalidOperationException(calibrations.Work("home", "hall")!.Fault);
        }
        var line = await PutAsync(CalibrationKind.TwoPoints, new(0.5, 0), new(98.5, 100));
        var table = await PutAsync(CalibrationKind.Table, [.. Enumerable.Range(0, 20).Select(i => new CalibrationPoint(i * 5, i * i))]);
        var bare = Stopwatch.StartNew();
        var updated = new SqliteCommand($"UPDATE samples SET value = (raw - 0.5) / 0.98 WHERE reading_id = {reading}", connection).ExecuteNonQuery();
        Console.WriteLine($"calibration: {Samples} samples and their rollups by a line in {line:0.0} s, by a table of 20 points in {table:0.0} s; {line / bare.Elapsed.TotalSeconds:0.0} times a bare update of {updated} rows ({bare.Elapsed.TotalSeconds:0.0} s)");
    }
}
