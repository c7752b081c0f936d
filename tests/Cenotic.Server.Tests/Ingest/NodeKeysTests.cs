using Cenotic.Core.Design;
using Cenotic.Server.Ingest;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;

namespace Cenotic.Server.Tests.Ingest;

public class NodeKeysTests
{
    private static async Task<MqttClientConnectResultCode> TryAsync(RunningServer server, string node, string key)
    {
        using var client = new MqttClientFactory().CreateMqttClient();
        return (await client.ConnectAsync(server.Options(node, key))).ResultCode;
    }

    [Fact]
    public async Task A_key_speaks_for_its_node_until_the_next_is_issued()
    {
        await using var server = await RunningServer.StartAsync();
        var keys = server.Services.GetRequiredService<NodeKeys>();
        var first = await keys.IssueAsync("home", "hall");
        Assert.Equal(40, first.Length);
        Assert.Equal(MqttClientConnectResultCode.Success, await TryAsync(server, "hall", first));
        Assert.Equal(MqttClientConnectResultCode.BadUserNameOrPassword, await TryAsync(server, "drying", first));
        var second = await keys.IssueAsync("home", "hall");
        Assert.NotEqual(first, second);
        Assert.Equal(MqttClientConnectResultCode.BadUserNameOrPassword, await TryAsync(server, "hall", first));
        Assert.Equal(MqttClientConnectResultCode.Success, await TryAsync(server, "hall", second));
    }

    [Fact]
    public async Task Who_is_connected_with_the_old_key_is_shown_out_and_others_stay()
    {
        await using var server = await RunningServer.StartAsync();
        var keys = server.Services.GetRequiredService<NodeKeys>();
        using var other = await server.NodeAsync("drying");
        var first = await keys.IssueAsync("home", "hall");
        // The second connection of the same name takes the first one over.
        using var taken = new MqttClientFactory().CreateMqttClient();
        using var node = new MqttClientFactory().CreateMqttClient();
        var options = server.Options("hall", first);
        options.ClientId = "bench-tool";
        await taken.ConnectAsync(options);
        await node.ConnectAsync(options);
        await RunningServer.UntilAsync(() => Task.FromResult(!taken.IsConnected), "the older connection ends");
        Assert.True((await RunningServer.PublishAsync(node, "hall", "{\"temp\": 1}")).IsSuccess);
        await keys.IssueAsync("home", "hall");
        await RunningServer.UntilAsync(() => Task.FromResult(!node.IsConnected), "it is shown out");
        Assert.True((await RunningServer.PublishAsync(other, "drying", "{\"rack2\": 1}")).IsSuccess);
    }

    [Fact]
    public async Task Only_its_hash_is_kept()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        var row = await server.QueryAsync(s => s.NodeKeys.SingleAsync());
        Assert.Equal(64, row.Hash.Length);
        Assert.DoesNotContain(key, row.Hash);
    }

    [Fact]
    public async Task A_node_that_was_removed_has_no_say_any_more()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        await server.Book.ApplyAsync("home", 1, [new RemoveNode("hall")], "test");
        Assert.Equal(MqttClientConnectResultCode.BadUserNameOrPassword, await TryAsync(server, "hall", key));
    }

    [Theory]
    [InlineData("")]
    [InlineData("hall")]
    [InlineData("home/hall/more")]
    [InlineData("other/hall")]
    public async Task Other_names_are_refused(string name)
    {
        await using var server = await RunningServer.StartAsync();
        using var client = new MqttClientFactory().CreateMqttClient();
        var options = new MqttClientOptionsBuilder()
            .WithTcpServer("127.0.0.1", server.Started.Broker.Port)
            .WithCredentials(name, "x")
            .WithProtocolVersion(MQTTnet.Formatter.MqttProtocolVersion.V500)
            .Build();
        Assert.Equal(MqttClientConnectResultCode.BadUserNameOrPassword, (await client.ConnectAsync(options)).ResultCode);
    }

    [Fact]
    public async Task A_key_issued_over_the_interface_works_and_is_told_once()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var answer = await owner.PostAsync("/api/sites/home/nodes/hall/key", null);
        var key = System.Text.Json.JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.GetProperty("key").GetString()!;
        Assert.Equal(MqttClientConnectResultCode.Success, await TryAsync(server, "hall", key));
        Assert.DoesNotContain(key, await owner.GetStringAsync("/api/sites/home/nodes/hall/messages"));
        Assert.Equal(System.Net.HttpStatusCode.NotFound, (await owner.PostAsync("/api/sites/home/nodes/nobody/key", null)).StatusCode);
    }
}
