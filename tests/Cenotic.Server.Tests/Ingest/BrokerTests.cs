using System.Net.Sockets;
using System.Text;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;
using MQTTnet.Adapter;

namespace Cenotic.Server.Tests.Ingest;

public class BrokerTests
{
    private static Task<long> SamplesAsync(RunningServer server) => server.CountAsync($"SELECT count(*) AS Value FROM samples");

    private static long Now(RunningServer server) => server.Services.GetRequiredService<SiteClock>().Now(RunningServer.Site);

    [Fact]
    public async Task What_is_acknowledged_is_stored_with_its_arrival_and_rollups()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        var t = Now(server) / 1000;
        var result = await RunningServer.PublishAsync(
            node,
            "drying",
            $$"""[{"bt":{{t}},"n":"temp","u":"Cel","v":21.5},{"n":"rh","u":"%RH","v":55},{"n":"sys/boot","v":3},{"n":"sys/seq","v":9}]"""
        );
        Assert.True(result.IsSuccess);
        // No waiting here: the acknowledgement itself says that the rows are there.
        Assert.Equal(2, await SamplesAsync(server));
        Assert.Equal(4, await server.CountAsync($"SELECT count(*) AS Value FROM rollups"));
        var arrival = await server.QueryAsync(s => s.Arrivals.SingleAsync());
        Assert.Equal((3, 9), (arrival.Boot, arrival.Number));
    }

    [Fact]
    public async Task A_value_without_time_is_taken_at_arrival_and_marked_so()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        var before = Now(server);
        await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":20}]""");
        var after = Now(server);
        Assert.InRange(await server.CountAsync($"SELECT t AS Value FROM samples"), before, after);
        Assert.Equal((long)SampleFlags.TimeEstimated, await server.CountAsync($"SELECT flags AS Value FROM samples"));
    }

    [Fact]
    public async Task A_relative_time_is_resolved_against_arrival()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","t":-60,"v":20}]""");
        Assert.InRange(await server.CountAsync($"SELECT t AS Value FROM samples"), Now(server) - 65_000, Now(server) - 59_000);
        Assert.Equal(0, await server.CountAsync($"SELECT flags AS Value FROM samples"));
    }

    [Theory]
    [InlineData("not json", "neither SenML")]
    [InlineData("""[{"n":"temp","v":NaN}]""", "Not JSON")]
    [InlineData("""[{"n":"temp","v":1e999}]""", "not a finite number")]
    [InlineData("""[{"n":"cellar","v":1}]""", "not a reading of this node. It has: ")]
    [InlineData("""[{"n":"temp","vs":"warm"}]""", "carries no number")]
    [InlineData("""[{"n":"temp","bt":1000000000,"v":1}]""", "before 2010")]
    public async Task What_cannot_be_taken_is_refused_with_its_reason_and_not_resent(string payload, string says)
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        var result = await RunningServer.PublishAsync(node, "hall", payload);
        Assert.Equal(MqttClientPublishReasonCode.PayloadFormatInvalid, result.ReasonCode);
        Assert.Contains(says, Assert.Single(await server.RefusalsAsync("hall")));
        Assert.Equal(0, await SamplesAsync(server));
        Assert.True(node.IsConnected);
    }

    /// <summary>One sample at +280 s, and everything after it without time was late, and was not judged, for as long.</summary>
    [Fact]
    public async Task A_stamp_a_few_minutes_ahead_is_shifted_to_its_arrival_and_blinds_nothing()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        var now = Now(server) / 1000;
        Assert.Equal(
            MqttClientPublishReasonCode.Success,
            (
                await RunningServer.PublishAsync(
                    node,
                    "drying",
                    FormattableString.Invariant($$"""[{"bn":"rack1","t":{{now + 220}},"v":20},{"t":{{now + 280}},"v":21}]""")
                )
            ).ReasonCode
        );
        await RunningServer.PublishAsync(node, "drying", """[{"n":"rack1","v":34}]""");
        await RunningServer.UntilAsync(
            async () => await server.CountAsync($"SELECT count(*) AS Value FROM samples s JOIN readings r ON r.Id = s.reading_id WHERE r.Key = 'rack1'") == 3,
            "all is stored"
        );
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE flags & 1 = 1"));
        Assert.Equal(2, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE value IN (20, 21) AND flags & 2 = 2"));
        // Their spacing stays.
        Assert.Equal(60_000, await server.CountAsync($"SELECT max(t) - min(t) AS Value FROM samples WHERE value IN (20, 21)"));
        await RunningServer.UntilAsync(
            async () => await server.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE Rule = 'rack-too-warm'") == 1,
            "the value after it is judged"
        );
    }

    [Fact]
    public async Task A_time_ten_minutes_ahead_is_refused_and_the_rest_of_the_message_is_kept()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        var ahead = Now(server) / 1000 + 600;
        var result = await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"temp","t":{{ahead}},"v":20},{"n":"light","v":100}]""");
        Assert.True(result.IsSuccess);
        Assert.Equal(1, await SamplesAsync(server));
        Assert.Contains("10 min ahead", Assert.Single(await server.RefusalsAsync("hall")));
    }

    [Fact]
    public async Task A_wrong_key_and_a_foreign_topic_are_refused_and_shown_on_the_nodes_page()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        using var thief = new MqttClientFactory().CreateMqttClient();
        var refused = await thief.ConnectAsync(server.Options("hall", new string('0', 40)));
        Assert.Equal(MqttClientConnectResultCode.BadUserNameOrPassword, refused.ResultCode);
        var foreign = await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":99}]""", Topics.Data("home", "drying"));
        Assert.Equal(MqttClientPublishReasonCode.NotAuthorized, foreign.ReasonCode);
        var page = await (await server.ClientAsync("viewer")).GetStringAsync("/api/sites/home/nodes/hall/messages");
        Assert.Contains("wrong key", page);
        Assert.Contains("its topic is site/home/hall/data", page);
        Assert.Equal(0, await SamplesAsync(server));
        Assert.True(node.IsConnected);
    }

    [Fact]
    public async Task A_node_hears_its_own_commands_only()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        async Task<MqttClientSubscribeResultCode> AskAsync(string topic) => (await node.SubscribeAsync(topic)).Items.Single().ResultCode;
        Assert.Equal(MqttClientSubscribeResultCode.GrantedQoS0, await AskAsync("site/home/hall/command"));
        foreach (var topic in new[] { "#", "site/home/drying/command", "site/home/+/data", "$SYS/#" })
        {
            Assert.Equal(MqttClientSubscribeResultCode.NotAuthorized, await AskAsync(topic));
        }
    }

    [Fact]
    public async Task A_repeat_is_stored_once_and_a_gap_is_counted_as_lost()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        foreach (var number in new[] { 1, 2, 2, 5 })
        {
            await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"temp","v":{{number}}},{"n":"sys/boot","v":1},{"n":"sys/seq","v":{{number}}}]""");
        }
        Assert.Equal(3, await SamplesAsync(server));
        Assert.Contains("\"lost\":2", await (await server.ClientAsync("viewer")).GetStringAsync("/api/sites/home/nodes/hall/messages"));
    }

    [Fact]
    public async Task Equal_times_with_other_values_are_both_kept_and_older_ones_are_marked_late()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        var t = Now(server) / 1000;
        foreach (var (at, v) in new[] { (t, 1), (t, 2), (t, 2), (t - 5, 3) })
        {
            await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"temp","t":{{at}},"v":{{v}}}]""");
        }
        Assert.Equal(3, await SamplesAsync(server));
        Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE flags = 1 AND value = 3"));
    }

    [Fact]
    public async Task A_fault_signature_is_stored_as_suspect_and_left_out_of_rollups()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        await RunningServer.PublishAsync(node, "drying", """[{"n":"rack1","v":85.0},{"n":"rack2","v":84.9}]""");
        Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE flags & 8 <> 0"));
        Assert.Equal(2, await server.CountAsync($"SELECT count(*) AS Value FROM rollups"));
    }

    [Fact]
    public async Task Too_long_a_packet_ends_the_connection_from_its_header_and_nothing_else_is_lost()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":1}]""");
        GC.Collect();
        var before = GC.GetTotalMemory(forceFullCollection: true);

        // A CONNECT that declares 200 MB: twenty of them, each with as much as it can push.
        for (var i = 0; i < 20; i++)
        {
            using var socket = new TcpClient("127.0.0.1", server.Started.Broker.Port);
            await socket.GetStream().WriteAsync(new byte[] { 0x10, 0x80, 0x88, 0xAF, 0x5F });
            await Assert.ThrowsAnyAsync<IOException>(async () =>
            {
                for (var n = 0; n < 1000; n++)
                {
                    await socket.GetStream().WriteAsync(new byte[64 * 1024]);
                    await Task.Delay(1);
                }
            });
        }
        GC.Collect();
        Assert.InRange(GC.GetTotalMemory(forceFullCollection: true) - before, long.MinValue, 16 * 1024 * 1024);

        // A payload of 1 MiB from a node that is signed in.
        await Assert.ThrowsAnyAsync<Exception>(() => RunningServer.PublishAsync(node, "hall", new string(' ', 1024 * 1024)));
        using var again = await server.NodeAsync("hall");
        Assert.True((await RunningServer.PublishAsync(again, "hall", """[{"n":"temp","v":2}]""")).IsSuccess);
        Assert.Equal(2, await SamplesAsync(server));
    }

    [Theory]
    [InlineData("300000")] // a PUBLISH before any CONNECT
    [InlineData("10FFFFFFFF7F")] // a length of more than four bytes
    [InlineData("474554202F20485454502F312E310D0A")] // another protocol
    public async Task What_is_not_a_connect_is_closed_at_once(string hex)
    {
        await using var server = await RunningServer.StartAsync();
        using var socket = new TcpClient("127.0.0.1", server.Started.Broker.Port);
        await socket.GetStream().WriteAsync(Convert.FromHexString(hex));
        Assert.Equal(0, await EndOfStreamAsync(socket));
    }

    [Fact]
    public async Task A_connection_that_never_says_connect_is_closed()
    {
        await using var server = await RunningServer.StartAsync();
        using var socket = new TcpClient("127.0.0.1", server.Started.Broker.Port);
        Assert.Equal(0, await EndOfStreamAsync(socket));
    }

    /// <summary>0 when the other side closed within nine seconds, by end of stream or reset.</summary>
    private static async Task<int> EndOfStreamAsync(TcpClient socket)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(9));
        try
        {
            return await socket.GetStream().ReadAsync(new byte[16], limit.Token);
        }
        catch (IOException)
        {
            return 0;
        }
    }

    [Fact]
    public async Task When_the_program_stops_its_nodes_are_let_go_and_their_wills_tell_nothing()
    {
        var folder = RunningServer.NewFolder();
        var server = await RunningServer.StartAsync(folder);
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        using var node = new MqttClientFactory().CreateMqttClient();
        var options = server.Options("hall", key);
        (options.WillTopic, options.WillPayload, options.WillQualityOfServiceLevel) = (
            Topics.Data("home", "hall"),
            Encoding.UTF8.GetBytes("""[{"n":"sys/up","v":0}]"""),
            MQTTnet.Protocol.MqttQualityOfServiceLevel.AtLeastOnce
        );
        await node.ConnectAsync(options);
        await RunningServer.PublishAsync(node, "hall", """[{"n":"sys/up","v":1}]""");
        var stopped = server.DisposeAsync().AsTask();
        // A host has thirty seconds to stop in good order; with nodes that stay it used all of them.
        Assert.Same(stopped, await Task.WhenAny(stopped, Task.Delay(TimeSpan.FromSeconds(25))));
        Assert.False(node.IsConnected);
        await using (server = await RunningServer.StartAsync(folder))
        {
            Assert.Equal(true, await server.QueryAsync(s => s.NodeStatuses.Where(n => n.Node == "hall").Select(n => n.Up).SingleAsync()));
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task Mutated_messages_never_stop_the_server()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        var good = Encoding.UTF8.GetBytes("""[{"bt":1700000000,"n":"temp","u":"Cel","v":21.5},{"n":"light","t":-2,"v":55},{"n":"sys/seq","v":4}]""");
        var random = new Random(7);
        for (var i = 0; i < 400; i++)
        {
            var message = good.ToArray();
            for (var k = 0; k < 3; k++)
            {
                message[random.Next(message.Length)] = (byte)random.Next(256);
            }
            await node.PublishAsync(
                new MqttApplicationMessageBuilder()
                    .WithTopic(Topics.Data("home", "hall"))
                    .WithPayload(message)
                    .WithQualityOfServiceLevel(MQTTnet.Protocol.MqttQualityOfServiceLevel.AtLeastOnce)
                    .Build()
            );
        }
        Assert.True(node.IsConnected);
        Assert.True((await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":2}]""")).IsSuccess);
    }
}
