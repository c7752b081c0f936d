using Cenotic.Core.Watch;

namespace Cenotic.Core.Tests.Watch;

public class EventLanesTests
{
    [Fact]
    public void Repeats_join_and_the_last_stays_open() =>
        Assert.Equal([new Stretch(10, 30, false), new Stretch(50, 100, true)], EventLanes.Of([(5, 0), (10, 1), (20, 1), (30, 0), (40, 0), (50, 1)], 100));

    [Fact]
    public void A_contact_is_closed_at_rest_and_seen_while_it_is_open()
    {
        Assert.True(EventLanes.RestsOn("contact"));
        Assert.False(EventLanes.RestsOn("motion"));
        Assert.False(EventLanes.RestsOn(null));
        // Nothing is known before its first sample: it is not open then.
        Assert.Equal(
            [new Stretch(30, 50, false), new Stretch(70, 100, true)],
            EventLanes.Of([(10, 1), (30, 0), (40, 0), (50, 1), (70, 0)], 100, restsOn: true)
        );
    }

    [Fact]
    public void Nothing_gives_nothing() => Assert.Empty(EventLanes.Of([], 100));
}
