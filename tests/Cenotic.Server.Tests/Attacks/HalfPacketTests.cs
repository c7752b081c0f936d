using System.Net.WebSockets;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>Connections that end inside a packet cost a few reads each, and nobody else anything.</summary>
public class HalfPacketTests
{
    private const int Connections = 500,
        AtOnce = 50;

    /// <summary>Reads of a connection that says one packet and half of another: one for each piece that may arrive alone, and the last.</summary>
    private const int MostReadsEach = 12;

    private static readonly byte[] HalfConnect = [0x10, 0x20, 0x00];

    private static async Task AttackAsync(RunningServer server, Func<int, Task> one)
    {
        var guard = server.Services.GetRequiredService<PacketGuard>();
        var before = guard.Reads;
        using var node = await server.NodeAsync("hall");
        for (var from = 0; from < Connections; from += AtOnce)
        {
            await Task.WhenAll(Enumerable.Range(from, AtOnce).Select(one));
            Assert.True((await RunningServer.PublishAsync(node, "hall", $"{{\"temp\": {from}}}")).IsSuccess);
        }
        await RunningServer.UntilAsync(
            () => Task.FromResult(server.Services.GetRequiredService<NodeChannels>().Open <= 1),
            "every attacking connection is let go"
        );
        Assert.InRange(guard.Reads - before, 1, Connections * MostReadsEach);
        Assert.True(node.IsConnected);
        Assert.Equal(
            Connections / AtOnce,
            await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE reading_id = (SELECT Id FROM readings WHERE Node = 'hall' AND Key = 'temp')")
        );
    }

    [Fact]
    public async Task Three_bytes_and_a_closed_connection()
    {
        await using var server = await RunningServer.StartAsync();
        await AttackAsync(server, async _ =>
        {
            using var socket = await MqttBytes.OpenAsync(server);
            await socket.GetStream().WriteAsync(HalfConnect);
        });
    }

    [Fact]
    public async Task Half_a_publish_of_a_node_whose_link_broke_and_what_came_whole_before_it_is_stored()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying");
        await AttackAsync(server, async number =>
        {
            using var socket = await MqttBytes.SignedInAsync(server, $"drying-{number}", "home/drying", key);
            var whole = MqttBytes.Publish(Topics.Data("home", "drying"), $"{{\"temp\": {number}}}", 0, quality: 0);
            var half = MqttBytes.Publish(Topics.Data("home", "drying"), "{\"temp\": -1}", 7);
            await socket.GetStream().WriteAsync((byte[])[.. whole, .. half[..^4]]);
        });
        await RunningServer.UntilAsync(
            async () =>
                await server.CountAsync(
                    $"SELECT count(*) AS Value FROM samples s JOIN readings r ON r.Id = s.reading_id WHERE r.Node = 'drying' AND r.Key = 'temp'"
                ) == Connections,
            "every whole message is stored"
        );
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE raw = -1"));
    }

    [Fact]
    public async Task The_same_over_websocket_without_signing_in()
    {
        await using var server = await RunningServer.StartAsync();
        await AttackAsync(server, async _ =>
        {
            using var socket = new ClientWebSocket();
            socket.Options.AddSubProtocol("mqtt");
            await socket.ConnectAsync(new UriBuilder(server.Started.Web) { Scheme = "ws", Path = RelayEndpoints.WebSocket }.Uri, CancellationToken.None);
            await socket.SendAsync(HalfConnect, WebSocketMessageType.Binary, true, CancellationToken.None);
            await socket.CloseOutputAsync(WebSocketCloseStatus.NormalClosure, null, CancellationToken.None);
        });
    }

    [Fact]
    public async Task A_connect_that_comes_byte_by_byte_is_closed_when_its_time_is_over()
    {
        await using var server = await RunningServer.StartAsync();
        using var socket = await MqttBytes.OpenAsync(server);
        await socket.GetStream().WriteAsync(HalfConnect);
        // Its header was there at once; the rest would take for ever.
        Assert.Null(await MqttBytes.ReadAsync(socket.GetStream()));
        await RunningServer.UntilAsync(() => Task.FromResult(server.Services.GetRequiredService<NodeChannels>().Open == 0), "it is let go");
    }
}
