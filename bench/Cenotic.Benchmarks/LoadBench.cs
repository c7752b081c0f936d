using System.Buffers.Binary;
using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text;
using Cenotic.Core.Formats;
using Cenotic.Server;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>
/// Many nodes that each publish one reading at QoS 1 and wait for its acknowledgement, the load generator on the same machine: acknowledged messages a second
/// at full load, and the time to the acknowledgement at half of it; beside the same generator against a peer that acknowledges without storing.
/// </summary>
internal static class LoadBench
{
    private const int Clients = 200,
        Seconds = 60,
        BaselineSeconds = 5;
    private static readonly string[] Nodes = ["drying", "cistern", "glaze", "kiln", "rain", "hall"];

    public static async Task RunAsync()
    {
        var bare = await BareAsync();
        await using var host = await Host.StartAsync();
        var keys = new Dictionary<string, string>();
        foreach (var node in Nodes)
        {
            keys[node] = await host.App.Services.GetRequiredService<NodeKeys>().IssueAsync("home", node);
        }
        var site = host.App.Services.GetRequiredService<SiteBook>().Find("home")!.Design;
        var senders = new List<Sender>();
        for (var i = 0; i < Clients; i++)
        {
            var node = Nodes[i % Nodes.Length];
            senders.Add(
                await Sender.ConnectAsync(
                    host.Started.Broker,
                    $"load-{i}",
                    $"home/{node}",
                    keys[node],
                    Topics.Data("home", node),
                    site.Node(node)!.Readings[0].Key
                )
            );
        }
        var full = await MeasureAsync(senders, Seconds, null);
        var half = await MeasureAsync(senders, Seconds / 2, full.PerSecond / 2);
        foreach (var sender in senders)
        {
            sender.Dispose();
        }
        var acknowledged = senders.Sum(s => s.Acknowledged);
        var stored = Stored(host);
        Console.WriteLine(
            $"load: {full.PerSecond:0} acknowledged messages/s of {Clients} clients for {Seconds} s, {full.PerSecond / bare.PerSecond:0.00} of a peer "
                + $"that stores nothing ({bare.PerSecond:0}/s); to the acknowledgement {full.Median:0.0} ms median, {full.High:0.0} ms p99"
        );
        Console.WriteLine(
            $"load, half of it: {half.PerSecond:0} messages/s; to the acknowledgement {half.Median:0.0} ms median, {half.High:0.0} ms p99, "
                + $"{half.High / bare.High:0.0} times the bare peer's"
        );
        Console.WriteLine($"load: {acknowledged} acknowledged, {stored} stored{(stored < acknowledged ? ": SOME ARE MISSING" : "")}");
    }

    private static long Stored(Host host)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(host.Folder, "cenotic.db")};Pooling=False");
        connection.Open();
        return (long)new SqliteCommand("SELECT count(*) FROM arrivals", connection).ExecuteScalar()!;
    }

    private static async Task<(double PerSecond, double Median, double High)> MeasureAsync(IReadOnlyList<Sender> senders, int seconds, double? perSecond)
    {
        var watch = Stopwatch.StartNew();
        var until = TimeSpan.FromSeconds(seconds);
        var times = await Task.WhenAll(
            senders.Select(
                (s, i) =>
                    Task.Run(() =>
                        s.RunAsync(watch, until, perSecond is { } rate ? TimeSpan.FromSeconds(senders.Count / rate) : null, (double)i / senders.Count)
                    )
            )
        );
        var all = times.SelectMany(t => t).Order().ToList();
        return (all.Count / watch.Elapsed.TotalSeconds, all[all.Count / 2], all[all.Count * 99 / 100]);
    }

    /// <summary>The generator against a peer that answers each CONNECT and PUBLISH at once.</summary>
    private static async Task<(double PerSecond, double Median, double High)> BareAsync()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        using var stop = new CancellationTokenSource();
        _ = Task.Run(async () =>
        {
            while (!stop.IsCancellationRequested)
            {
                var peer = await listener.AcceptSocketAsync(stop.Token);
                peer.NoDelay = true;
                _ = Task.Run(() => AnswerAsync(peer, stop.Token));
            }
        });
        var senders = new List<Sender>();
        for (var i = 0; i < Clients; i++)
        {
            senders.Add(await Sender.ConnectAsync((IPEndPoint)listener.LocalEndpoint, $"load-{i}", "home/hall", "", Topics.Data("home", "hall"), "temp"));
        }
        var measured = await MeasureAsync(senders, BaselineSeconds, null);
        senders.ForEach(s => s.Dispose());
        await stop.CancelAsync();
        return measured;
    }

    private static async Task AnswerAsync(Socket peer, CancellationToken stop)
    {
        var bytes = new byte[1024];
        while (await peer.ReceiveAsync(bytes, stop) is > 0)
        {
            // The generator sends one packet and waits, so that one read holds one packet.
            byte[] answer = bytes[0] >> 4 == 1 ? [0x20, 2, 0, 0] : [0x40, 2, bytes[4 + bytes[3]], bytes[5 + bytes[3]]];
            await peer.SendAsync(answer, stop);
        }
    }

    /// <summary>One client of MQTT 3.1.1 that sends a packet and waits for its acknowledgement.</summary>
    internal sealed class Sender(Socket socket, string topic, string reading) : IDisposable
    {
        private ushort _id;

        public long Acknowledged { get; private set; }

        public static async Task<Sender> ConnectAsync(IPEndPoint at, string client, string user, string key, string topic, string reading)
        {
            var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
            await socket.ConnectAsync(at);
            static byte[] Text(string text) => [(byte)(text.Length >> 8), (byte)text.Length, .. Encoding.ASCII.GetBytes(text)];
            byte[] body = [.. Text("MQTT"), 4, 0xC2, 0, 0, .. Text(client), .. Text(user), .. Text(key)];
            await socket.SendAsync((byte[])[0x10, (byte)body.Length, .. body]);
            var answer = new byte[4];
            for (var got = 0; got < answer.Length; )
            {
                got += await socket.ReceiveAsync(answer.AsMemory(got)) is var n and > 0 ? n : throw new IOException("The broker closed the connection.");
            }
            return answer[3] == 0 ? new(socket, topic, reading) : throw new IOException($"The broker refused the connection: {answer[3]}.");
        }

        /// <summary>Publishes until the time is up; the time of each to its acknowledgement, ms.</summary>
        /// <param name="every">Time between two messages; null for as fast as they are acknowledged.</param>
        /// <param name="phase">Share of <paramref name="every"/> by which this client begins later.</param>
        public async Task<List<double>> RunAsync(Stopwatch watch, TimeSpan until, TimeSpan? every, double phase)
        {
            var times = new List<double>();
            var answer = new byte[4];
            var next = watch.Elapsed + (every ?? TimeSpan.Zero) * phase;
            while (watch.Elapsed < until)
            {
                if (every is { } gap)
                {
                    if (next > watch.Elapsed)
                    {
                        await Task.Delay(next - watch.Elapsed);
                    }
                    next += gap;
                }
                var began = watch.Elapsed;
                await socket.SendAsync(Publish(++_id == 0 ? _id = 1 : _id));
                for (var got = 0; got < answer.Length; )
                {
                    got += await socket.ReceiveAsync(answer.AsMemory(got)) is var n and > 0 ? n : throw new IOException("The broker closed the connection.");
                }
                if (answer[0] != 0x40 || BinaryPrimitives.ReadUInt16BigEndian(answer.AsSpan(2)) != _id)
                {
                    throw new IOException("That was no acknowledgement of the message.");
                }
                Acknowledged++;
                times.Add((watch.Elapsed - began).TotalMilliseconds);
            }
            return times;
        }

        private byte[] Publish(ushort id)
        {
            var payload = Encoding.ASCII.GetBytes($"[{{\"n\":\"{reading}\",\"v\":{id % 1000 / 10.0}}}]");
            var length = 2 + topic.Length + 2 + payload.Length;
            return
            [
                0x32,
                (byte)length,
                (byte)(topic.Length >> 8),
                (byte)topic.Length,
                .. Encoding.ASCII.GetBytes(topic),
                (byte)(id >> 8),
                (byte)id,
                .. payload,
            ];
        }

        public void Dispose() => socket.Dispose();
    }
}
