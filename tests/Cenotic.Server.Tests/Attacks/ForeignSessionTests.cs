using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;
using MQTTnet.Formatter;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>A client id that another node uses, also of another site, gives nothing of that node and takes nothing from it.</summary>
public class ForeignSessionTests
{
    private const string Client = "sensor-1";

    private static async Task<IMqttClient> ConnectAsync(
        RunningServer server,
        string site,
        string node,
        MqttProtocolVersion version,
        bool clean = false,
        List<string>? heard = null
    )
    {
        var keys = server.Services.GetRequiredService<NodeKeys>();
        var key = await keys.IssueAsync(site, node);
        var client = new MqttClientFactory().CreateMqttClient();
        client.ApplicationMessageReceivedAsync += e =>
        {
            lock (heard ?? [])
            {
                heard?.Add(e.ApplicationMessage.Topic);
            }
            return Task.CompletedTask;
        };
        var options = new MqttClientOptionsBuilder()
            .WithTcpServer("127.0.0.1", server.Started.Broker.Port)
            .WithCredentials(Broker.UserName(site, node), key)
            .WithClientId(Client)
            .WithProtocolVersion(version)
            .WithCleanSession(clean);
        await client.ConnectAsync((version == MqttProtocolVersion.V500 ? options.WithSessionExpiryInterval(3600) : options).Build());
        return client;
    }

    public static TheoryData<MqttProtocolVersion, MqttProtocolVersion, string, string> Cases
    {
        get
        {
            var data = new TheoryData<MqttProtocolVersion, MqttProtocolVersion, string, string>();
            foreach (var first in new[] { MqttProtocolVersion.V311, MqttProtocolVersion.V500 })
            {
                foreach (var second in new[] { MqttProtocolVersion.V311, MqttProtocolVersion.V500 })
                {
                    data.Add(first, second, "home", "drying");
                    data.Add(first, second, "shed", "hall");
                }
            }
            return data;
        }
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public async Task The_id_of_another_node_neither_displaces_nor_inherits(MqttProtocolVersion first, MqttProtocolVersion second, string site, string node)
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.QueryAsync(s => s.Users.Where(u => u.UserName == "owner").Select(u => u.Id).SingleAsync());
        await server.Book.CreateAsync("shed", RunningServer.Fernhollow.Design with { Derived = [] }, owner, Evidence.None);
        var broker = server.Services.GetRequiredService<Broker>();
        List<string> honestHeard = [],
            thiefHeard = [];
        using var honest = await ConnectAsync(server, "home", "hall", first, heard: honestHeard);
        await honest.SubscribeAsync(Topics.Command("home", "hall"));
        using var thief = await ConnectAsync(server, site, node, second, heard: thiefHeard);

        Assert.True(honest.IsConnected, "the honest node is not displaced");
        Assert.True(broker.IsConnected("home", "hall") && broker.IsConnected(site, node));
        Assert.True(broker.Listens("home", "hall"));
        Assert.False(broker.Listens(site, node), "a subscription is not inherited");

        // What it says as the other is refused, what it says as itself is its own.
        var foreign = await thief.PublishAsync(
            new MqttApplicationMessageBuilder()
                .WithTopic(Topics.Data("home", "hall"))
                .WithPayload("{\"temp\": 99}")
                .WithQualityOfServiceLevel(MQTTnet.Protocol.MqttQualityOfServiceLevel.AtLeastOnce)
                .Build()
        );
        Assert.True(second == MqttProtocolVersion.V311 || foreign.ReasonCode == MqttClientPublishReasonCode.NotAuthorized);
        await thief.PublishAsync(
            new MqttApplicationMessageBuilder()
                .WithTopic(Topics.Data(site, node))
                .WithPayload("{\"temp\": 7}")
                .WithQualityOfServiceLevel(MQTTnet.Protocol.MqttQualityOfServiceLevel.AtLeastOnce)
                .Build()
        );
        await RunningServer.PublishAsync(honest, "hall", "{\"temp\": 5}");
        var stored = await server.QueryAsync(s =>
            s.Database.SqlQuery<string>(
                    $"SELECT r.Site || '/' || r.Node || '=' || CAST(s.value AS INTEGER) AS Value FROM samples s JOIN readings r ON r.Id = s.reading_id"
                )
                .ToListAsync()
        );
        Assert.Equal(new[] { "home/hall=5", $"{site}/{node}=7" }.Order(), stored.Order());

        // A command of the node goes to the node.
        Assert.True(
            await broker.SendAsync(
                "home",
                "hall",
                new OutputCommand(1, "sys/test", true, server.Services.GetRequiredService<SiteClock>().Now("home") + 60_000, 60_000),
                TimeSpan.FromMinutes(1)
            )
        );
        await RunningServer.UntilAsync(() => Task.FromResult(honestHeard.Count > 0), "the node hears its command");
        Assert.Empty(thiefHeard);

        // The thief gone, the honest node is still named; the honest node gone, the thief is not taken for it.
        await thief.DisconnectAsync();
        await RunningServer.UntilAsync(() => Task.FromResult(!broker.IsConnected(site, node)), "the list of the connected forgets it");
        Assert.True(broker.IsConnected("home", "hall"));
    }

    [Fact]
    public async Task A_client_without_an_id_is_given_one_and_comes_back_with_it()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        var options = server.Options("hall", key);
        options.ClientId = "";
        using var node = new MqttClientFactory().CreateMqttClient();
        var given = (await node.ConnectAsync(options)).AssignedClientIdentifier;
        Assert.Matches("^[0-9a-f]{32}$", given);
        options.ClientId = given;
        using var again = new MqttClientFactory().CreateMqttClient();
        Assert.Null((await again.ConnectAsync(options)).AssignedClientIdentifier);
        await RunningServer.UntilAsync(() => Task.FromResult(!node.IsConnected), "it takes its own earlier connection over");
    }
}
