using System.Diagnostics;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Server;
using Cenotic.Server.BringUp;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>A calibration that corrects a year of samples, one a minute, with its rollups, beside
/// a bare update of the same rows with the same line in SQL.</summary>
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
            INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id)
                SELECT {reading}, 1700000000000 + i * 60000, 0, i % 400 / 10.0, i % 400 / 10.0, 0, 0 FROM minutes
            """,
            connection
        ).ExecuteNonQuery();
        var calibrations = host.App.Services.GetRequiredService<Calibrations>();
        async Task<double> PutAsync(CalibrationKind kind, params CalibrationPoint[] points)
        {
            var watch = Stopwatch.StartNew();
            if (
                calibrations.Begin(
                    new()
                    {
                        Site = "home",
                        Node = "hall",
                        Reading = "temp",
                        Who = "owner",
                        Against = "",
                        Fitted = "",
                        Body = JsonSerializer.Serialize(Calibration.Fit(kind, points, 0.1).Value, CenoticJson.Options),
                    }
                ) is
                { } fault
            )
            {
                throw new InvalidOperationException(fault);
            }
            while (calibrations.Work("home", "hall")!.Running)
            {
                await Task.Delay(20);
            }
            return calibrations.Work("home", "hall") is { Fault: null, Samples: Samples }
                ? watch.Elapsed.TotalSeconds
                : throw new InvalidOperationException(calibrations.Work("home", "hall")!.Fault);
        }
        var alone = await AnswersAsync(host, () => Task.Delay(2_000));
        var beside = await AnswersAsync(host, async () => await PutAsync(CalibrationKind.Offset, new CalibrationPoint(20, 21)));
        Console.WriteLine(
            $"calibration: while {Samples} samples are made anew an arrival is acknowledged in {beside.Median:0.0} ms median, {beside.High:0} ms at "
                + $"most of {beside.Count}; {alone.Median:0.0} and {alone.High:0} ms without"
        );
        var line = await PutAsync(CalibrationKind.TwoPoints, new(0.5, 0), new(98.5, 100));
        var table = await PutAsync(CalibrationKind.Table, [.. Enumerable.Range(0, 20).Select(i => new CalibrationPoint(i * 5, i * i))]);
        // Each time it is made anew it has another number.
        reading = host.App.Services.GetRequiredService<SiteBook>().Find("home")!.Readings[("hall", "temp")].Id;
        var bare = Stopwatch.StartNew();
        var updated = new SqliteCommand($"UPDATE samples SET value = (raw - 0.5) / 0.98 WHERE reading_id = {reading}", connection).ExecuteNonQuery();
        Console.WriteLine(
            $"calibration: {Samples} samples and their rollups by a line in {line:0.0} s, by a table of 20 points in {table:0.0} s; "
                + $"{line / bare.Elapsed.TotalSeconds:0.0} times a bare update of {updated} rows ({bare.Elapsed.TotalSeconds:0.0} s)"
        );
    }

    /// <summary>How long messages of a node take to their answer, one after the other, while something goes on.</summary>
    private static async Task<(double Median, double High, int Count)> AnswersAsync(Host host, Func<Task> goesOn)
    {
        var key = await host.App.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying");
        using var client = new HttpClient { BaseAddress = host.Started.Web };
        client.DefaultRequestHeaders.Authorization = new("Basic", Convert.ToBase64String(System.Text.Encoding.UTF8.GetBytes($"home/drying:{key}")));
        var answers = new List<double>();
        async Task SendAsync()
        {
            var watch = Stopwatch.StartNew();
            (await client.PostAsync("/api/intake/home/drying", new StringContent("""{"temp": 20.5}"""))).EnsureSuccessStatusCode();
            answers.Add(watch.Elapsed.TotalMilliseconds);
        }
        for (var i = 0; i < 50; i++)
        {
            await SendAsync();
        }
        answers.Clear();
        var going = goesOn();
        while (!going.IsCompleted)
        {
            await SendAsync();
        }
        await going;
        answers.Sort();
        return (answers[answers.Count / 2], answers[^1], answers.Count);
    }
}
