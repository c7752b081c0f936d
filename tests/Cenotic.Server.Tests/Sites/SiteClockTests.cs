using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Relay;

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
        Task<MQTTnet.MqttClientPublishResult> Say(double value) => RunningServer.PublishAsync(node, "hall", FormattableString.Invariant($"{{\"temp\": {value}}}"));
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
        var row = new SiteRow { Key = "s", EpochSystemMs = 1_000_000, EpochSiteMs = 1_000_000 };
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
