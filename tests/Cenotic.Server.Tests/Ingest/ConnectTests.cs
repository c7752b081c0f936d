using System.Net.Sockets;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Tests.Attacks;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>CONNECT as other clients send it, byte by byte: OASIS MQTT 3.1.1 (3.1, 3.2) and MQTT 5 (3.1, 3.2.2.2).</summary>
public class ConnectTests
{
    private static async Task<(TcpClient Socket, byte[]? Answer)> SayAsync(RunningServer server, byte[] connect)
    {
        var socket = new TcpClient();
        await socket.ConnectAsync("127.0.0.1", server.Started.Broker.Port);
        await socket.GetStream().WriteAsync(connect);
        return (socket, await MqttBytes.ReadAsync(socket.GetStream()));
    }

    private static byte[] Connect5(string client, string user, string key) =>
        MqttBytes.Packet(0x10, MqttBytes.Text("MQTT"), [5, 0xC2], MqttBytes.Number(60), [0], MqttBytes.Text(client), MqttBytes.Text(user), MqttBytes.Text(key));

    [Fact]
    public async Task An_empty_id_with_a_clean_session_is_taken()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        var (socket, answer) = await SayAsync(server, MqttBytes.Connect("", "home/hall", key));
        using (socket)
        {
            Assert.Equal([0x20, 2, 0, 0], answer);
            await socket.GetStream().WriteAsync(MqttBytes.Publish(Topics.Data("home", "hall"), """{"temp": 17.5}""", 1));
            Assert.Equal([0x40, 2, 0, 1], await MqttBytes.ReadAsync(socket.GetStream()));
            Assert.True(server.Services.GetRequiredService<Broker>().IsConnected("home", "hall"));
        }
        // A second one at the same time is another session.
        var (one, _) = await SayAsync(server, MqttBytes.Connect("", "home/hall", key));
        var (two, second) = await SayAsync(server, MqttBytes.Connect("", "home/hall", key));
        using (one)
        using (two)
        {
            Assert.Equal([0x20, 2, 0, 0], second);
            await one.GetStream().WriteAsync(MqttBytes.Ping);
            Assert.Equal([0xD0, 0], await MqttBytes.ReadAsync(one.GetStream()));
        }
    }

    [Fact]
    public async Task A_refused_connection_is_none_and_stands_on_the_nodes_page()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        // 3.1.1 section 3.1.3.1: an empty id with a session that is to be kept is refused with 0x02.
        var (socket, answer) = await SayAsync(server, MqttBytes.Connect("", "home/hall", key, clean: false));
        using (socket)
        {
            Assert.Equal([0x20, 2, 0, 2], answer);
            Assert.False(server.Services.GetRequiredService<Broker>().IsConnected("home", "hall"));
        }
        (socket, answer) = await SayAsync(server, MqttBytes.Connect("client-1", "home/hall", key + "x"));
        using (socket)
        {
            Assert.Equal([0x20, 2, 0, 4], answer);
            Assert.False(server.Services.GetRequiredService<Broker>().IsConnected("home", "hall"));
        }
        await RunningServer.UntilAsync(async () => (await server.RefusalsAsync("hall")).Count >= 2, "both are told");
        var told = await server.RefusalsAsync("hall");
        Assert.Contains(told, r => r.Contains("client id", StringComparison.Ordinal));
        Assert.Contains(told, r => r.Contains("wrong key", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("home/hall", "wrong", 0x86)]
    [InlineData("home/nobody", "wrong", 0x86)]
    [InlineData("nonsense", "wrong", 0x86)]
    [InlineData("", "", 0x86)]
    public async Task Version_5_says_a_wrong_name_or_key_by_its_own_code(string user, string key, int code)
    {
        await using var server = await RunningServer.StartAsync();
        var (socket, answer) = await SayAsync(server, Connect5("client-1", user, key));
        using (socket)
        {
            Assert.Equal(code, answer![3]);
        }
    }

    [Fact]
    public async Task Without_a_name_version_5_is_refused_by_its_own_code_too()
    {
        await using var server = await RunningServer.StartAsync();
        var (socket, answer) = await SayAsync(
            server,
            MqttBytes.Packet(0x10, MqttBytes.Text("MQTT"), [5, 2], MqttBytes.Number(60), [0], MqttBytes.Text("client-1"))
        );
        using (socket)
        {
            Assert.Equal(0x86, answer![3]);
        }
    }

    [Fact]
    public async Task Too_many_wrong_keys_are_told_on_the_page_too()
    {
        await using var server = await RunningServer.StartAsync();
        await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        byte last = 0;
        for (var i = 0; i < 40 && last != 0x89; i++)
        {
            var (socket, answer) = await SayAsync(server, Connect5("client-1", "home/hall", "wrong"));
            socket.Dispose();
            last = answer![3];
        }
        Assert.Equal(0x89, last);
        await RunningServer.UntilAsync(
            async () => (await server.RefusalsAsync("hall")).Exists(r => r.Contains("too many", StringComparison.OrdinalIgnoreCase)),
            "it is told"
        );
    }
}
