using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Ingest;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;

namespace Cenotic.Server.Tests.Sites;

public class SiteClockTests
{
    [Fact]
    public async Task A_clock_that_is_set_back_is_told_and_what_comes_is_stored()
    {
        var clock = new AdjustedClock();
        await using var server = await RunningServer.StartAsync(system: clock);
        using var node = await server.NodeAsync("hall");
        using var monitor = new HttpClient { BaseAddress = server.Started.Web };
        Task<MQTTnet.MqttClientPublishResult> Say(double value) =>
            RunningServer.PublishAsync(node, "hall", FormattableString.Invariant($"{{\"temp\": {value}}}"));
        Assert.True((await Say(1)).IsSuccess);
        Assert.DoesNotContain("set back", await monitor.GetStringAsync("/health"));
        clock.By = TimeSpan.FromHours(-1);
        Assert.True((await Say(2)).IsSuccess);
        Assert.Contains("was set back by 3", await monitor.GetStringAsync("/health"));
        Assert.Equal([2, 1], await PeersTests.ValuesAsync(server));
        Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE flags & 1 = 1"));
        clock.By = TimeSpan.FromSeconds(5);
        Assert.True((await Say(3)).IsSuccess);
        Assert.DoesNotContain("set back", await monitor.GetStringAsync("/health"));
        Assert.Equal([2, 1, 3], await PeersTests.ValuesAsync(server));
        Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE flags & 1 = 1"));
    }

    [Fact]
    public async Task A_clock_that_was_ahead_over_a_restart_is_told_with_its_end_and_can_be_judged_anyway()
    {
        var folder = RunningServer.NewFolder();
        var clock = new AdjustedClock { By = TimeSpan.FromHours(5) };
        string key;
        await using (var ahead = await RunningServer.StartAsync(folder, system: clock))
        {
            key = await ahead.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying");
            using var early = new MqttClientFactory().CreateMqttClient();
            await early.ConnectAsync(ahead.Options("drying", key));
            // Too warm: the rule raises, five hours ahead of time.
            foreach (var value in new[] { 20, 70, 71, 72 })
            {
                await RunningServer.PublishAsync(early, "drying", $$"""[{"n":"rack1","v":{{value}}}]""");
            }
            await RunningServer.UntilAsync(
                async () => await ahead.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE Rule = 'rack-too-warm' AND ClearedMs IS NULL") == 1,
                "it raises"
            );
        }
        clock.By = TimeSpan.Zero;
        await using (var server = await RunningServer.StartAsync(folder, system: clock))
        {
            using var monitor = new HttpClient { BaseAddress = server.Started.Web };
            await RunningServer.UntilAsync(
                async () => (await monitor.GetStringAsync("/health")).Contains("was set back by", StringComparison.Ordinal),
                "it is told"
            );
            Assert.Matches("until 20[0-9-]+ [0-9:]+ UTC it counts as late", await monitor.GetStringAsync("/health"));
            var owner = await server.ClientAsync("owner");
            var relay = await owner.GetFromJsonAsync<RelayState>("/api/sites/home/relay", CenoticJson.Options);
            Assert.InRange(relay!.LateUntilMs!.Value - DateTimeOffset.UtcNow.ToUnixTimeMilliseconds(), 4.9 * 3_600_000, 5.1 * 3_600_000);
            using var node = new MqttClientFactory().CreateMqttClient();
            await node.ConnectAsync(server.Options("drying", key));
            await RunningServer.PublishAsync(node, "drying", """[{"n":"rack1","v":21}]""");
            Assert.Equal(1, await server.CountAsync($"SELECT flags & 1 AS Value FROM samples WHERE raw = 21"));
            Assert.Equal(HttpStatusCode.NoContent, (await owner.PostAsync("/api/sites/home/judge-anyway", null)).StatusCode);
            Assert.Equal(HttpStatusCode.Conflict, (await owner.PostAsync("/api/sites/home/judge-anyway", null)).StatusCode);
            Assert.DoesNotContain("set back", await monitor.GetStringAsync("/health"));
            Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE ClearedMs IS NULL AND Rule = 'rack-too-warm'"));
            foreach (var value in new[] { 22, 73, 74, 75 })
            {
                await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"rack1","v":{{value}}}]""");
            }
            Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE raw IN (22, 73, 74, 75) AND flags & 1 = 1"));
            await RunningServer.UntilAsync(
                async () => await server.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE Rule = 'rack-too-warm' AND ClearedMs IS NULL") == 1,
                "it is judged again"
            );
        }
        // It is remembered: a start later nothing is late again.
        await using (var later = await RunningServer.StartAsync(folder, system: clock))
        {
            using var node = new MqttClientFactory().CreateMqttClient();
            await node.ConnectAsync(later.Options("drying", key));
            await RunningServer.PublishAsync(node, "drying", """[{"n":"rack1","v":23}]""");
            Assert.Equal(0, await later.CountAsync($"SELECT flags & 1 AS Value FROM samples WHERE raw = 23"));
        }
        Directory.Delete(folder, recursive: true);
    }

    private sealed class Hands : TimeProvider
    {
        public long Ms { get; set; } = 1_000_000;

        public override DateTimeOffset GetUtcNow() => DateTimeOffset.FromUnixTimeMilliseconds(Ms);
    }

    [Fact]
    public void Site_time_is_system_time_until_told_otherwise()
    {
        var hands = new Hands();
        Assert.Equal(1_000_000, new SiteClock(hands).Now("anywhere"));
    }

    [Fact]
    public void It_runs_faster_without_a_jump_and_slows_without_one()
    {
        var hands = new Hands();
        var clock = new SiteClock(hands);
        var row = new SiteRow
        {
            Key = "s",
            EpochSystemMs = 1_000_000,
            EpochSiteMs = 1_000_000,
        };
        clock.Set(row);
        hands.Ms += 5_000;
        clock.ChangeSpeed(row, 60);
        Assert.Equal(1_005_000, clock.Now("s"));
        hands.Ms += 1_000;
        Assert.Equal(1_065_000, clock.Now("s"));
        clock.ChangeSpeed(row, 1);
        hands.Ms += 1_000;
        Assert.Equal(1_066_000, clock.Now("s"));
        // The row holds all of it: another process goes on from there.
        var again = new SiteClock(hands);
        again.Set(row);
        Assert.Equal(clock.Now("s"), again.Now("s"));
    }
}
