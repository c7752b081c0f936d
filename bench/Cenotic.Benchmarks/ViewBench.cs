using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Text.RegularExpressions;
using Cenotic.Core.Design;
using Cenotic.Server;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using OpenQA.Selenium;

namespace Cenotic.Benchmarks;

/// <summary>
/// A view of twelve lines over a month of minutes: how soon it is answered, beside a bare pass over the same samples; how soon it is drawn in a browser; how
/// long the frames last while a line of it is moved; and what a first visit loads of scripts.
/// </summary>
internal static class ViewBench
{
    private const int Lines = 12,
        Minutes = 43_200,
        PerMessage = 1_080,
        Rounds = 15,
        Million = 1_000_000,
        MillionPerMessage = 10_000;
    private const long Every = 60_000,
        MillionEvery = 30_000;

    public static async Task RunAsync()
    {
        await using var host = await Host.StartAsync();
        var book = host.App.Services.GetRequiredService<SiteBook>();
        var writer = host.App.Services.GetRequiredService<SampleWriter>();
        var site = book.Find("home")!;
        var readings = site
            .Design.Nodes.SelectMany(n => n.Readings.Select(r => (Node: n.Key, r.Key, Row: site.Readings[(n.Key, r.Key)])))
            .Where(r => r.Row.Kind == Core.Catalogue.ReadingKind.Gauge)
            .Take(Lines + 1)
            .ToList();
        var million = readings[^1];
        readings = readings[..^1];
        var to = host.App.Services.GetRequiredService<SiteClock>().Now("home");
        var from = to - Minutes * Every;
        var number = 0;
        foreach (var reading in readings)
        {
            await Task.WhenAll(
                Enumerable
                    .Range(0, Minutes / PerMessage)
                    .Select(message =>
                        writer.StoreAsync(
                            new(
                                "home",
                                reading.Node,
                                from,
                                7,
                                1,
                                Interlocked.Increment(ref number),
                                null,
                                null,
                                [
                                    .. Enumerable
                                        .Range(message * PerMessage, PerMessage)
                                        .Select(i => new DecodedSample(
                                            reading.Row.Id,
                                            reading.Key,
                                            reading.Row.Kind,
                                            from + i * Every,
                                            20 + 5 * Math.Sin(i / 229.0),
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
        await Task.WhenAll(
            Enumerable
                .Range(0, Million / MillionPerMessage)
                .Select(message =>
                    writer.StoreAsync(
                        new(
                            "home",
                            million.Node,
                            from,
                            7,
                            2,
                            message,
                            null,
                            null,
                            [
                                .. Enumerable
                                    .Range(message * MillionPerMessage, MillionPerMessage)
                                    .Select(i => new DecodedSample(
                                        million.Row.Id,
                                        million.Key,
                                        million.Row.Kind,
                                        to - (Million - i) * MillionEvery,
                                        20 + 5 * Math.Sin(i / 1_229.0) + i % 7,
                                        SampleFlags.None
                                    )),
                            ],
                            [],
                            ""
                        )
                    )
                )
        );
        await book.ApplyAsync(
            "home",
            site.Revision,
            [new PutView(new("million", "Million", [new("t", null, 4, 2, new LineTile([new(million.Node, million.Key)]))]))],
            "bench"
        );
        await book.ApplyAsync(
            "home",
            site.Revision + 1,
            [new PutView(new("month", "Month", [.. readings.Select((r, i) => new TileDesign($"t{i}", null, 2, 2, new LineTile([new(r.Node, r.Key)])))]))],
            "bench"
        );
        using var client = await LiveBench.ClientAsync(host);
        var times = new List<double>();
        var bytes = 0;
        for (var round = 0; round < Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            bytes = (await client.GetByteArrayAsync($"/api/sites/home/views/month/data?from={from}&to={to}&points=600")).Length;
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        times.Sort();
        using var connection = new SqliteConnection($"Data Source={Path.Combine(host.Folder, "cenotic.db")};Pooling=False");
        connection.Open();
        var bare = Stopwatch.StartNew();
        var count = (long)
            new SqliteCommand(
                "SELECT count(*) FROM (SELECT min(value), max(value) FROM samples WHERE reading_id IN "
                    + $"({string.Join(',', readings.Select(r => r.Row.Id))}) GROUP BY reading_id, t / 4320000)",
                connection
            ).ExecuteScalar()!;
        Console.WriteLine(
            $"view: {readings.Count} lines of {Minutes} minutes in a median of {times[Rounds / 2]:0} ms, worst of {Rounds} {times[^1]:0} ms "
                + $"({bytes / 1024} KiB); {times[Rounds / 2] / bare.Elapsed.TotalMilliseconds:0.00} of a bare pass over the samples "
                + $"({bare.Elapsed.TotalMilliseconds:0} ms, {count} points)"
        );
        Draw(host);
    }

    private static void Draw(Host host)
    {
        using var page = PageBench.Open(host);
        page.Navigate().GoToUrl(new Uri(host.Started.Web, "/home/watch/month?span=1d"));
        Thread.Sleep(2_500);
        // From the click on a month to the last of its lines on the canvas: a line of a month has its first point far left of that of a day.
        var drawn = Convert.ToDouble(
            page.ExecuteAsyncScript(
                """
                const done = arguments[0], began = performance.now();
                const clear = CanvasRenderingContext2D.prototype.clearRect;
                let last = began;
                CanvasRenderingContext2D.prototype.clearRect = function (...a) { last = performance.now(); return clear.apply(this, a); };
                [...document.querySelectorAll("button")].find((b) => b.textContent.trim() === "30 d").click();
                setTimeout(() => { CanvasRenderingContext2D.prototype.clearRect = clear; done(last - began); }, 3000);
                """
            ),
            CultureInfo.InvariantCulture
        );
        Console.WriteLine(
            $"view: drawn {drawn:0} ms after the click on a month; frames while a line is moved: {Frames(page, "{ deltaX: n % 80 < 40 ? 8 : -8, deltaY: 0 }")}"
        );
        page.Navigate().GoToUrl(new Uri(host.Started.Web, "/home/watch/million?span=1y"));
        Thread.Sleep(3_000);
        Console.WriteLine(
            $"view: one line of {Million} values: frames while it is zoomed in and out: "
                + $"{Frames(page, "{ deltaX: 0, deltaY: n % 120 < 60 ? -25 : 25, ctrlKey: true, clientX: middle }")}; while it is moved: "
                + $"{Frames(page, "{ deltaX: n % 80 < 40 ? 8 : -8, deltaY: 0 }")}"
        );
        var root = Path.Combine(Host.Built, "wwwroot");
        var first = Regex
            .Matches(File.ReadAllText(Path.Combine(root, "index.html")), "(?:src|href)=\"/(assets/[^\"]+\\.js)\"")
            .Select(m => m.Groups[1].Value)
            .Distinct()
            .ToList();
        var loaded = (
            (IReadOnlyCollection<object>)
                page.ExecuteScript("return performance.getEntriesByType('resource').map((r) => r.name).filter((n) => n.endsWith('.js'))")!
        )
            .Select(o => new Uri((string)o).AbsolutePath.TrimStart('/'))
            .Distinct()
            .ToList();
        Console.WriteLine(
            $"view: scripts of a first visit {Compressed(root, first):0} KB compressed, with all that a view loads {Compressed(root, loaded):0} KB"
        );
    }

    /// <summary>Moves the wheel over the first line in each of three seconds' frames.</summary>
    private static string Frames(OpenQA.Selenium.Chrome.ChromeDriver page, string wheel)
    {
        var frames = (
            (IReadOnlyCollection<object>)
                page.ExecuteAsyncScript(
                    $$"""
                    const done = arguments[0], out = [], over = document.querySelector(".u-over"), host = over.closest("[role=img]");
                    const box = over.getBoundingClientRect(), middle = box.left + box.width / 2;
                    let before = performance.now(), n = 0;
                    const frame = () => {
                      const now = performance.now();
                      out.push(now - before);
                      before = now;
                      host.dispatchEvent(new WheelEvent("wheel", { ...({{wheel}}), bubbles: true, cancelable: true }));
                      if (++n < 180) requestAnimationFrame(frame); else done(out.slice(5));
                    };
                    requestAnimationFrame(frame);
                    """
                )!
        ).Select(f => Convert.ToDouble(f, CultureInfo.InvariantCulture)).Order().ToList();
        return $"median {frames[frames.Count / 2]:0.0} ms, 95 % within {frames[frames.Count * 95 / 100]:0.0} ms, worst {frames[^1]:0.0} ms";
    }

    private static double Compressed(string root, IEnumerable<string> files) =>
        files.Sum(f =>
        {
            using var into = new MemoryStream();
            using (var gzip = new GZipStream(into, CompressionLevel.Optimal, leaveOpen: true))
            {
                gzip.Write(File.ReadAllBytes(Path.Combine(root, f)));
            }
            return into.Length / 1000.0;
        });
}
