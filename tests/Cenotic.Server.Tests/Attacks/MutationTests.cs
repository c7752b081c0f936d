using System.Net.Sockets;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>Ten thousand CONNECT, PUBLISH and SUBSCRIBE packets with bytes changed, cut, doubled and put
/// in, by raw sockets, with a good node beside them that loses nothing.</summary>
public class MutationTests
{
    private const int Mutations = 10_000,
        AtOnce = 25,
        OfConnection = 5;

    private static byte[] Mutated(byte[] good, Random random)
    {
        var bytes = good.ToList();
        for (var n = random.Next(1, 4); n > 0 && bytes.Count > 0; n--)
        {
            var at = random.Next(bytes.Count);
            switch (random.Next(5))
            {
                case 0:
                    bytes[at] ^= (byte)(1 << random.Next(8));
                    break;
                case 1:
                    bytes[at] = (byte)random.Next(256);
                    break;
                case 2:
                    bytes.RemoveRange(at, random.Next(1, bytes.Count - at + 1));
                    break;
                case 3:
                    bytes.InsertRange(at, bytes.Skip(at).Take(random.Next(1, 8)).ToList());
                    break;
                default:
                    bytes.InsertRange(at, Enumerable.Range(0, random.Next(1, 8)).Select(_ => (byte)random.Next(256)));
                    break;
            }
        }
        return [.. bytes];
    }

    private static async Task AttackAsync(RunningServer server, string key, int seed)
    {
        var random = new Random(seed);
        byte[][] good =
        [
            MqttBytes.Connect($"drying-{seed}", "home/drying", key, clean: random.Next(2) == 0),
            MqttBytes.Publish(Topics.Data("home", "drying"), "{\"temp\": 20}", (ushort)random.Next(65536), random.Next(3)),
            MqttBytes.Subscribe(Topics.Command("home", random.Next(2) == 0 ? "drying" : "hall"), (ushort)random.Next(65536)),
            MqttBytes.Publish(Topics.Data("home", "hall"), "{\"temp\": 99}", 9, 1),
        ];
        try
        {
            using var socket = await MqttBytes.OpenAsync(server);
            var stream = socket.GetStream();
            // Half of them get in first: what stands behind the sign-in is tried too.
            if (seed % 2 == 0)
            {
                await stream.WriteAsync(good[0]);
                await MqttBytes.ReadAsync(stream, 5);
            }
            for (var n = 0; n < OfConnection; n++)
            {
                await stream.WriteAsync(Mutated(good[random.Next(good.Length)], random));
            }
            // The server reads all of it before this connection is over.
            socket.Client.Shutdown(SocketShutdown.Send);
            while (await MqttBytes.ReadAsync(stream, 5) is not null) { }
        }
        catch (Exception fault) when (fault is IOException or SocketException)
        {
            // It was shown the door.
        }
    }

    [Fact]
    public async Task Ten_thousand_mutations_cost_a_good_node_nothing()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying");
        var attacks = Parallel.ForAsync(0, Mutations / OfConnection, new ParallelOptions { MaxDegreeOfParallelism = AtOnce }, async (seed, _) =>
            await AttackAsync(server, key, seed)
        );
        var said = 0;
        while (!attacks.IsCompleted)
        {
            Assert.True(
                (
                    await RunningServer.PublishAsync(
                        node,
                        "hall",
                        $$"""[{"n":"temp","v":{{++said % 50}}},{"n":"sys/boot","v":1},{"n":"sys/seq","v":{{said}}}]"""
                    )
                ).IsSuccess
            );
        }
        await attacks;
        Assert.True(node.IsConnected && said > 20, $"{said} messages of the good node");
        Assert.Equal(said, await server.CountAsync($"SELECT count(*) AS Value FROM arrivals WHERE Node = 'hall' AND Number IS NOT NULL"));
        // Nothing of the attackers was taken for the good node's.
        Assert.Equal(
            0,
            await server.CountAsync($"SELECT count(*) AS Value FROM samples s JOIN readings r ON r.Id = s.reading_id WHERE r.Node = 'hall' AND s.raw > 50")
        );
        using var monitor = new HttpClient { BaseAddress = server.Started.Web };
        Assert.True((await monitor.GetAsync("/health")).IsSuccessStatusCode);
    }
}
