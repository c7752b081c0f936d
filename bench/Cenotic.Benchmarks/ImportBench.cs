using System.Diagnostics;
using System.Globalization;
using System.Text;
using Cenotic.Core.Formats;
using Cenotic.Server;
using Cenotic.Server.Ingest;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>A table of a million rows from its bytes to its commit, and the same again, beside reading it without storing.</summary>
internal static class ImportBench
{
    private const int Rows = 1_000_000;

    public static async Task RunAsync()
    {
        await using var host = await Host.StartAsync();
        var imports = host.App.Services.GetRequiredService<Imports>();
        var start = new DateTime(2026, 1, 1, 0, 0, 0, DateTimeKind.Utc);
        var text = new StringBuilder("time;temp\n");
        for (var i = 0; i < Rows; i++)
        {
            text.Append(
                string.Create(CultureInfo.InvariantCulture, $"{start.AddSeconds(i * 10):yyyy-MM-dd HH:mm:ss};{20 + i % 137 / 10.0:0.0}\n").Replace('.', ',')
            );
        }
        var bytes = Encoding.UTF8.GetBytes(text.ToString());
        var layout = new CsvLayout(';', true, true, 0, CsvTime.Iso8601, "Europe/London", [new(1, "hall", "temp")]);
        var watch = Stopwatch.StartNew();
        var read = CsvImport.Read(() => new MemoryStream(bytes), layout).Count();
        var bare = watch.Elapsed.TotalSeconds;
        async Task<(double Seconds, ImportView View)> ImportAsync()
        {
            watch.Restart();
            var view = await imports.TakeAsync("home", "bench.csv", new MemoryStream(bytes), CancellationToken.None);
            if (imports.Begin("home", view.Id, layout, "owner") is { Count: > 0 } faults)
            {
                throw new InvalidOperationException(faults[0]);
            }
            while ((view = imports.Find("home", view.Id)!).Stage == ImportStage.Running)
            {
                await Task.Delay(20);
            }
            return (watch.Elapsed.TotalSeconds, view);
        }
        var (first, one) = await ImportAsync();
        var (second, two) = await ImportAsync();
        Console.WriteLine(
            $"import: {read} rows ({bytes.Length / 1e6:0} MB) in {first:0.0} s, {one.New} new, {one.Refused} left out; {first / bare:0.0} times "
                + $"reading them without storing ({bare:0.0} s)"
        );
        Console.WriteLine($"import: the same again in {second:0.0} s, {two.New} new");
    }
}
