using Cenotic.Core.Watch;

namespace Cenotic.Core.Tests.Watch;

public class EventLanesTests
{
    [Fact]
    public void Repeats_join_and_the_last_stays_open() =>
        Assert.Equal([new Stretch(10, 30, false), new Stretch(50, 100, true)], EventLanes.Of([(5, 0), (10, 1), (20, 1), (30, 0), (40, 0), (50, 1)], 100));

    [Fact]
    public void Nothing_gives_nothing() => Assert.Empty(EventLanes.Of([], 100));
}
