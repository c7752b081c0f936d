using System.Net;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Samples;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>Finite values at the ends of what a number can be stop nobody: refused with a reason, and those beside them are stored.</summary>
public class ExtremeValueTests
{
    [Fact]
    public async Task Two_huge_values_make_no_sum_infinite_and_stop_no_other_node()
    {
        await using var server = await RunningServer.StartAsync();
        using var bad = await server.NodeAsync("drying");
        using var good = await server.NodeAsync("hall");
        foreach (var value in new[] { "1.7e308", "1.7e308", "-1.7e308", "1e300", "2e15", "-2e15" })
        {
            var (refused, taken) = (
                RunningServer.PublishAsync(bad, "drying", $$"""[{"n":"temp","v":{{value}}}]"""),
                RunningServer.PublishAsync(good, "hall", $$"""[{"n":"temp","v":20}]""")
            );
            Assert.True((await taken).IsSuccess);
            Assert.Equal(MqttClientPublishReasonCode.PayloadFormatInvalid, (await refused).ReasonCode);
        }
        Assert.All(await server.RefusalsAsync("drying"), r => Assert.Contains("no reading is beyond ±1E+15", r));
        Assert.True(bad.IsConnected && good.IsConnected);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM rollups WHERE abs(sum) > 1e18 OR abs(high) > 1e15"));
        var viewer = await server.ClientAsync("viewer");
        Assert.Equal(HttpStatusCode.OK, (await viewer.GetAsync("/api/sites/home/readings")).StatusCode);
    }

    [Fact]
    public async Task A_value_in_another_unit_says_so_and_a_faulty_one_is_kept()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        await RunningServer.PublishAsync(node, "drying", """[{"n":"temp","v":21500},{"n":"rack1","v":-300},{"n":"rack2","v":-127},{"n":"rh","v":140}]""");
        Assert.Equal(
            ["\"temp\" is 21500 °C; the part measures -40 to 85. Is it sent in another unit?", "\"rack1\" is -300 °C, below absolute zero."],
            await server.RefusalsAsync("drying")
        );
        Assert.Equal(2, await server.CountAsync($"SELECT count(*) AS Value FROM samples"));
    }

    [Fact]
    public async Task Only_the_message_that_cannot_be_written_is_refused_of_a_batch()
    {
        await using var server = await RunningServer.StartAsync();
        // The database itself refuses one value, as it did with a sum that was not a number.
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(s =>
                s.Database.ExecuteSqlRawAsync(
                    "CREATE TRIGGER unlucky BEFORE INSERT ON samples WHEN NEW.raw = 13 BEGIN SELECT RAISE(ABORT, 'thirteen is not written'); END"
                )
            );
        using var bad = await server.NodeAsync("drying");
        using var good = await server.NodeAsync("hall");
        for (var round = 0; round < 20; round++)
        {
            var sent = Enumerable.Range(0, 10).Select(i => RunningServer.PublishAsync(good, "hall", $$"""[{"n":"temp","v":{{round - 60}}.{{i}}}]""")).ToList();
            Assert.Equal(
                MqttClientPublishReasonCode.PayloadFormatInvalid,
                (await RunningServer.PublishAsync(bad, "drying", """[{"n":"temp","v":13},{"n":"rh","v":50}]""")).ReasonCode
            );
            Assert.All(await Task.WhenAll(sent), s => Assert.True(s.IsSuccess));
        }
        Assert.True(bad.IsConnected && good.IsConnected);
        Assert.Equal(200, await server.CountAsync($"SELECT count(*) AS Value FROM samples"));
        Assert.All(await server.RefusalsAsync("drying"), r => Assert.Contains("thirteen is not written", r));
        Assert.Null(server.Services.GetRequiredService<RelayMeter>().Read().Failing);
    }

    [Theory]
    [InlineData("""[{"n":"temp","v":1},{"n":"sys/seq","v":9.9e307},{"n":"sys/boot","v":-1e308}]""")]
    [InlineData("""[{"n":"temp","v":1},{"n":"sys/seq","v":-5},{"n":"sys/rssi","v":-1e300},{"n":"sys/bat","v":1e300}]""")]
    [InlineData("""[{"n":"temp","v":1},{"n":"sys/vcc","v":1e308},{"n":"sys/mem","v":1e308},{"n":"sys/ack","v":1e308},{"n":"sys/nak","v":-1e308}]""")]
    [InlineData("""[{"n":"temp","v":1,"t":-1e308}]""")]
    [InlineData("""[{"n":"temp","v":1,"t":1e308}]""")]
    public async Task Extreme_numbers_about_the_node_break_no_page(string payload)
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        foreach (
            var one in new[]
            {
                """{"temp": 3}""",
                payload,
                """[{"n":"temp","v":2},{"n":"sys/seq","v":1000000000000000},{"n":"sys/boot","v":0}]""",
                """{"temp": 4}""",
                """[{"n":"temp","v":5},{"n":"sys/seq","v":7}]""",
                """[{"n":"temp","v":6},{"n":"sys/seq","v":0}]""",
            }
        )
        {
            await RunningServer.PublishAsync(node, "hall", one);
        }
        var viewer = await server.ClientAsync("viewer");
        foreach (
            var path in new[] { "nodes/hall/messages", "readings", "nodes/hall/program", "log", "views/first", "relay", "nodes/hall/first-readings", "outputs" }
        )
        {
            var answer = await viewer.GetAsync($"/api/sites/home/{path}");
            Assert.True(answer.StatusCode == HttpStatusCode.OK, $"{path} answered {answer.StatusCode}: {await answer.Content.ReadAsStringAsync()}");
        }
    }
}
