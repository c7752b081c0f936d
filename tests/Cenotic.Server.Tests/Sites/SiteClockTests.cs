using Cenotic.Server.Sites;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Tests.Sites;

public class SiteClockTests
{
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
