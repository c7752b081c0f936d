using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.StandIns;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet.Protocol;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>Nodes that send their own time with a clock that is wrong, and what a node says of itself.</summary>
public class NodeClockTests
{
    private static long Now => DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();

    private static string At(long ms, double value) => FormattableString.Invariant($$"""[{"bt":{{ms / 1000.0:0.000}},"n":"temp","v":{{value}}}]""");

    [Fact]
    public async Task An_hour_ahead_is_refused_until_five_messages_agree_and_corrected_from_then_on_also_after_a_restart()
    {
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            using var node = await server.NodeAsync("hall");
            for (var i = 1; i <= 7; i++)
            {
                await RunningServer.PublishAsync(node, "hall", At(Now + 3_600_000, i));
            }
            Assert.Equal([5, 6, 7], await PeersTests.ValuesAsync(server));
            var times = await server.QueryAsync(s => s.Database.SqlQuery<long>($"SELECT t AS Value FROM samples").ToListAsync());
            Assert.All(times, t => Assert.InRange(Now - t, -1_000, 20_000));
            var page = await PageAsync(server);
            Assert.InRange(page.Status.CorrectionMs!.Value, 3_590_000, 3_600_000);
            Assert.Equal(page.Status.CorrectionMs, page.Arrivals[0].CorrectionMs);
            Assert.Contains("corrected", page.Refusals[0].Reason);
        }
        await using (var server = await RunningServer.StartAsync(folder))
        {
            using var node = await server.NodeAsync("hall");
            await RunningServer.PublishAsync(node, "hall", At(Now + 3_600_000, 8));
            Assert.Contains(8, await PeersTests.ValuesAsync(server));
            // Set right, it is believed at once.
            await RunningServer.PublishAsync(node, "hall", At(Now, 9));
            var newest = await server.QueryAsync(s => s.Database.SqlQuery<long>($"SELECT t AS Value FROM samples WHERE value = 9").SingleAsync());
            Assert.InRange(Now - newest, -1_000, 20_000);
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_message_shows_as_bytes_and_as_what_it_said()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        const string text = """[{"n":"temp","v":21.5},{"n":"light","v":300},{"n":"sys/rssi","v":-71},{"n":"sys/bat","v":3.9}]""";
        await RunningServer.PublishAsync(node, "hall", text);
        var cbor = Cenotic.Core.Formats.Senml.WriteCbor(null, [new("temp", null, 22)]);
        await RunningServer.PublishAsync(node, "hall", cbor);
        var page = await PageAsync(server);
        Assert.Equal((text, -71.0, 3.9), (page.Arrivals[1].Text, page.Arrivals[1].Rssi, page.Arrivals[1].Battery));
        Assert.Equal([("light", 300.0), ("temp", 21.5)], page.Arrivals[1].Values.Select(v => (v.Reading, v.Value)).Order());
        Assert.Equal((null, Convert.ToHexString(cbor)), (page.Arrivals[0].Text, page.Arrivals[0].Hex));
        Assert.Equal([("temp", 22.0)], page.Arrivals[0].Values.Select(v => (v.Reading, v.Value)));
    }

    [Fact]
    public async Task A_node_says_that_it_is_there_and_its_last_will_that_it_is_gone()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        using (var link = new StandInClient(StandIns.StandInTests.Plan, "hall", key, server.Started.Broker, () => { }))
        {
            await link.KeepAsync(true, CancellationToken.None);
            var page = await PageAsync(server);
            Assert.Equal((true, true), (page.Status.Connected, page.Status.Up));
            await link.KeepAsync(false, CancellationToken.None);
        }
        await RunningServer.UntilAsync(async () => (await PageAsync(server)).Status is { Connected: false, Up: false }, "its will is heard");
    }

    [Fact]
    public async Task A_gateways_key_speaks_for_the_nodes_that_are_heard_through_it_and_for_no_other()
    {
        await using var server = await RunningServer.StartAsync();
        using var gateway = await server.NodeAsync("gateway");
        var good = await gateway.PublishAsync(
            new MQTTnet.MqttApplicationMessageBuilder()
                .WithTopic("site/home/kiln/data")
                .WithPayload("{\"air\": 12.5}")
                .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                .Build()
        );
        Assert.True(good.IsSuccess);
        Assert.Equal([12.5], await PeersTests.ValuesAsync(server));
        Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM arrivals WHERE Node = 'kiln'"));
        var bad = await gateway.PublishAsync(
            new MQTTnet.MqttApplicationMessageBuilder()
                .WithTopic("site/home/hall/data")
                .WithPayload("{\"temp\": 1}")
                .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                .Build()
        );
        Assert.Equal(MQTTnet.MqttClientPublishReasonCode.NotAuthorized, bad.ReasonCode);
        // The same over HTTP, signed in as the gateway.
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "gateway");
        using var http = new HttpClient { BaseAddress = server.Started.Web };
        http.DefaultRequestHeaders.Authorization = new("Basic", Convert.ToBase64String(System.Text.Encoding.UTF8.GetBytes($"home/gateway:{key}")));
        Assert.True((await http.PostAsync("/api/intake/home/cistern", new StringContent("{\"level\": 1.25}"))).IsSuccessStatusCode);
        Assert.Equal(System.Net.HttpStatusCode.Unauthorized, (await http.PostAsync("/api/intake/home/hall", new StringContent("{\"temp\": 1}"))).StatusCode);
        Assert.Equal(2, (await PeersTests.ValuesAsync(server)).Count);
    }

    /// <summary>Parcel is heard through the kiln shed, and that through the gateway: the keys of both speak for it, the relay's for nobody else.</summary>
    [Fact]
    public async Task Keys_along_a_way_over_a_relay_speak_for_the_node_at_its_beginning()
    {
        await using var server = await RunningServer.StartAsync();
        var book = server.Services.GetRequiredService<SiteBook>();
        async Task<bool> SpeaksAsync(string by, string node, string message)
        {
            var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", by);
            using var http = new HttpClient { BaseAddress = server.Started.Web };
            http.DefaultRequestHeaders.Authorization = new("Basic", Convert.ToBase64String(System.Text.Encoding.UTF8.GetBytes($"home/{by}:{key}")));
            return (await http.PostAsync($"/api/intake/home/{node}", new StringContent(message))).IsSuccessStatusCode;
        }
        Assert.False(await SpeaksAsync("kiln", "parcel", "{\"lid\": 1}"));
        var design = book.Find("home")!.Design;
        var relayed = await book.ApplyAsync("home", book.Find("home")!.Revision, [SetNodes.As(design.Node("parcel")!) with { Via = "kiln" }], "owner");
        Assert.IsType<BatchResult.Done>(relayed);
        Assert.True(await SpeaksAsync("kiln", "parcel", "{\"lid\": 1}"));
        Assert.True(await SpeaksAsync("gateway", "parcel", "{\"lid\": 0}"));
        Assert.False(await SpeaksAsync("kiln", "cistern", "{\"level\": 1}"));
        Assert.False(await SpeaksAsync("parcel", "kiln", "{\"air\": 1}"));
        // The other way round would close a ring.
        var ring = await book.ApplyAsync("home", book.Find("home")!.Revision, [SetNodes.As(design.Node("kiln")!) with { Via = "parcel" }], "owner");
        Assert.IsType<BatchResult.Refused>(ring);
    }

    private static async Task<NodeView> PageAsync(RunningServer server) =>
        (await (await server.ClientAsync("owner")).GetFromJsonAsync<NodeView>("/api/sites/home/nodes/hall/messages", CenoticJson.Options))!;
}
