using System.Diagnostics;
using Cenotic.Core.Design;
using Cenotic.Server;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>A thousand samples a second through the store for twenty seconds, against two thousand armed rules
/// beside none: what of a processor the rules cost, and whether all was judged.</summary>
internal static class RuleLoadBench
{
    private const int Rules = 2_000,
        PerSecond = 1_000,
        PerMessage = 10,
        Seconds = 20;

    public static async Task RunAsync()
    {
        var (without, _, _) = await LoadAsync(0);
        var (with, episodes, left) = await LoadAsync(Rules);
        Console.WriteLine(
            $"rules live: {PerSecond} samples a second against {Rules} rules took {with:0.00} processors, {without:0.00} without rules: "
                + $"{with - without:0.00} for the rules, {with / without:0.0} times; {episodes} episodes, {left} messages not judged a second after the last"
        );
    }

    private static async Task<(double Processors, int Episodes, long Left)> LoadAsync(int rules)
    {
        await using var host = await Host.StartAsync();
        var book = host.App.Services.GetRequiredService<SiteBook>();
        var writer = host.App.Services.GetRequiredService<SampleWriter>();
        var site = book.Find("home")!;
        var readings = site.Readings.Where(r => r.Value.Kind == Core.Catalogue.ReadingKind.Gauge).Select(r => (r.Key.Node, r.Key.Key, Row: r.Value)).ToList();
        for (var at = 0; at < rules; at += 500)
        {
            await book.ApplyAsync(
                "home",
                book.Find("home")!.Revision,
                [
                    .. Enumerable
                        .Range(at, Math.Min(500, rules - at))
                        .Select(i =>
                            (DesignEdit)
                                new PutRule(
                                    new(
                                        $"r{i}",
                                        $"Rule {i}",
                                        readings[i % readings.Count].Node,
                                        readings[i % readings.Count].Key,
                                        (i % 3) switch
                                        {
                                            0 => new BeyondLimit(LimitSide.Above, 24 + i % 7, 23, 5_000),
                                            1 => new SilentFor(60_000 + i),
                                            _ => new ChangesFaster(ChangeSide.Rises, 4, 30_000),
                                        },
                                        "",
                                        true
                                    )
                                )
                        ),
                ],
                "bench"
            );
        }
        await Task.Delay(1_500);
        var process = Process.GetCurrentProcess();
        var (used, watch) = (process.TotalProcessorTime, Stopwatch.StartNew());
        var pending = new List<Task>();
        for (var message = 0; message < Seconds * PerSecond / PerMessage; message++)
        {
            var reading = readings[message % readings.Count];
            var now = host.App.Services.GetRequiredService<SiteClock>().Now("home");
            pending.Add(
                writer.StoreAsync(
                    new(
                        "home",
                        reading.Node,
                        now,
                        9,
                        1,
                        message + 1,
                        null,
                        null,
                        [
                            .. Enumerable
                                .Range(0, PerMessage)
                                .Select(i => new DecodedSample(
                                    reading.Row.Id,
                                    reading.Key,
                                    reading.Row.Kind,
                                    now - (PerMessage - i),
                                    20 + 5 * Math.Sin(message / 40.0),
                                    SampleFlags.None
                                )),
                        ],
                        [],
                        ""
                    )
                )
            );
            var ahead = message * 1000.0 * PerMessage / PerSecond - watch.Elapsed.TotalMilliseconds;
            if (ahead > 1)
            {
                await Task.Delay((int)ahead);
            }
        }
        await Task.WhenAll(pending);
        process.Refresh();
        var processors = (process.TotalProcessorTime - used) / watch.Elapsed;
        await Task.Delay(1_000);
        await using var store = await host.App.Services.GetRequiredService<IDbContextFactory<CenoticStore>>().CreateDbContextAsync();
        var left = await store.Arrivals.MaxAsync(a => a.Id) - (await store.Sites.SingleAsync()).JudgedArrival;
        return (processors, await store.Episodes.CountAsync(), left);
    }
}
