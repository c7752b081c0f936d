using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server;
using Cenotic.Server.Accounts;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>What nodes feel of others: the time to an acknowledgement while 40 people ask for plans that are too much to plan, beside the same without them;
/// and what the program does after broken connections.</summary>
internal static class AskersBench
{
    private const int Askers = 40,
        Clients = 20,
        Seconds = 15,
        PerClientMs = 200,
        Broken = 500,
        IdleSeconds = 5;

    public static async Task RunAsync()
    {
        await using var host = await Host.StartAsync();
        var services = host.App.Services;
        var (book, key) = (services.GetRequiredService<SiteBook>(), await services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall"));
        var reading = book.Find("home")!.Design.Node("hall")!.Readings[0].Key;
        var senders = await Task.WhenAll(
            Enumerable
                .Range(0, Clients)
                .Select(i => LoadBench.Sender.ConnectAsync(host.Started.Broker, $"ask-{i}", "home/hall", key, Topics.Data("home", "hall"), reading))
        );
        await MeasureAsync(senders, 3);
        var alone = await MeasureAsync(senders, Seconds);
        string[] parts =
        [
            .. HardwareCatalogue
                .BuiltIn.Parts.Where(p => p.Interfaces.Any(i => i.Kind == InterfaceKind.I2c))
                .Select(p => p.Id)
                .Order(StringComparer.Ordinal)
                .Take(18),
        ];
        NodeDesign Much(int n, int change) =>
            new(
                $"much{n}",
                $"Much {n} {change}",
                null,
                "esp32-dev-38",
                new PowerDesign(PowerKind.Usb),
                LinkKind.Wifi,
                false,
                false,
                [.. parts.Select((p, i) => new PartInstance($"p{i}", $"p{i}", p))],
                [],
                []
            );
        using var stop = new CancellationTokenSource();
        var answers = 0;
        using var owner = await SignedInAsync(host.Started.Web);
        var asking = Enumerable
            .Range(0, Askers)
            .Select(n =>
                Task.Run(async () =>
                {
                    for (var round = 0; !stop.IsCancellationRequested; round++)
                    {
                        try
                        {
                            // Every few rounds somebody changes the design, so that there is always a plan to be made anew.
                            if (n == 0 && round % 3 == 0)
                            {
                                await book.ApplyAsync(
                                    "home",
                                    book.Find("home")!.Revision,
                                    [.. Enumerable.Range(0, 4).Select(i => new PutNode(Much(i, round)))],
                                    "bench"
                                );
                            }
                            (
                                await owner.GetAsync(
                                    n % 2 == 0 ? "/api/sites/home/plan" : "/api/sites/home/nodes/much1/trial?part=p0&line=SDA&pin=R3",
                                    stop.Token
                                )
                            ).Dispose();
                            Interlocked.Increment(ref answers);
                        }
                        catch (OperationCanceledException)
                        {
                            return;
                        }
                    }
                })
            )
            .ToList();
        var beside = await MeasureAsync(senders, Seconds);
        await stop.CancelAsync();
        await Task.WhenAll(asking);
        Console.WriteLine(
            $"askers: to the acknowledgement {beside.Median:0.0} ms median, {beside.High:0.0} ms p99 while {Askers} ask for what is too much to plan "
                + $"({answers} answers in {Seconds} s); {alone.Median:0.0} and {alone.High:0.0} ms without them; p99 {beside.High / alone.High:0.0} times"
        );
        await IdleAsync(host);
        foreach (var sender in senders)
        {
            sender.Dispose();
        }
    }

    private static async Task<(double Median, double High)> MeasureAsync(IReadOnlyList<LoadBench.Sender> senders, int seconds)
    {
        var watch = Stopwatch.StartNew();
        var times = (
            await Task.WhenAll(
                senders.Select(
                    (s, i) =>
                        Task.Run(() => s.RunAsync(watch, TimeSpan.FromSeconds(seconds), TimeSpan.FromMilliseconds(PerClientMs), (double)i / senders.Count))
                )
            )
        )
            .SelectMany(t => t)
            .Order()
            .ToList();
        return (times[times.Count / 2], times[times.Count * 99 / 100]);
    }

    /// <summary>Processor time while nobody does anything, before and after connections that ended inside a packet.</summary>
    private static async Task IdleAsync(Host host)
    {
        await Task.Delay(TimeSpan.FromSeconds(IdleSeconds));
        var before = await WorkAsync();
        for (var i = 0; i < Broken; i++)
        {
            using var socket = new TcpClient();
            await socket.ConnectAsync(host.Started.Broker);
            await socket.GetStream().WriteAsync(new byte[] { 0x10, 0x20, 0x00 });
        }
        var after = await WorkAsync();
        Console.WriteLine(
            $"half packets: {after:0.000} processors in the {IdleSeconds} s after {Broken} connections that ended inside one, {before:0.000} before them"
        );
    }

    private static async Task<double> WorkAsync()
    {
        using var self = Process.GetCurrentProcess();
        var from = self.TotalProcessorTime;
        await Task.Delay(TimeSpan.FromSeconds(IdleSeconds));
        self.Refresh();
        return (self.TotalProcessorTime - from).TotalSeconds / IdleSeconds;
    }

    private static async Task<HttpClient> SignedInAsync(Uri web)
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer(), MaxConnectionsPerServer = Askers }) { BaseAddress = web };
        (await client.PostAsJsonAsync("/api/session", new SignIn("owner", Host.Password), CenoticJson.Options)).EnsureSuccessStatusCode();
        return client;
    }
}
