using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Rehearsal;
using CsCheck;

namespace Cenotic.Core.Tests.Rehearsal;

/// <summary>What a node does with the leases of an output.</summary>
public class OutputBehaviourTests
{
    private const long Clock = 1_790_000_000_000;
    private static readonly OutputDesign Fan = new(OutputLoad.Fan, 600_000);

    private static OutputCommand On(long id, long expiresAfter, long most = 600_000) => new(id, "fan", true, Clock + expiresAfter, most);

    [Fact]
    public void A_lease_ends_by_itself_and_a_renewal_holds_it()
    {
        var fan = new OutputBehaviour(Fan);
        Assert.True(fan.Hear(On(1, 60_000), Clock, 0));
        fan.Advance(59_999);
        Assert.True(fan.On);
        Assert.True(fan.Hear(On(1, 100_000), Clock + 40_000, 40_000));
        fan.Advance(99_999);
        Assert.True(fan.On);
        fan.Advance(100_000);
        Assert.False(fan.On);
        // What ended is not begun again by a late renewal of the same number.
        Assert.False(fan.Hear(On(1, 160_000), Clock + 101_000, 101_000));
        Assert.False(fan.On);
    }

    [Fact]
    public void Renewals_do_not_stretch_the_longest_time_on_nor_does_a_greater_one_than_the_node_knows()
    {
        var fan = new OutputBehaviour(Fan with { MaxOnMs = 90_000 });
        for (var t = 0L; t < 200_000; t += 10_000)
        {
            fan.Hear(On(1, t + 60_000, most: 10_000_000), Clock + t, t);
            Assert.Equal(t < 90_000, fan.On);
        }
    }

    [Fact]
    public void An_expired_command_and_one_older_than_the_last_are_refused()
    {
        var fan = new OutputBehaviour(Fan);
        Assert.False(fan.Hear(On(5, 0), Clock, 0));
        Assert.True(fan.Hear(On(6, 60_000), Clock, 0));
        Assert.True(fan.Hear(new(7, "fan", false, Clock + 60_000, 0), Clock, 1_000));
        // The broker hands the older one over again: it stays off.
        Assert.False(fan.Hear(On(6, 60_000), Clock, 2_000));
        Assert.False(fan.On);
    }

    [Fact]
    public void A_lost_link_switches_off_and_a_clock_that_is_set_back_does_not_lengthen_a_lease()
    {
        var fan = new OutputBehaviour(Fan);
        fan.Hear(On(1, 60_000), Clock, 0);
        fan.Safe();
        Assert.False(fan.On);
        fan.Hear(On(2, 60_000), Clock, 1_000);
        // From here the clock says an hour less; the lease is counted on the time since the start.
        fan.Hear(On(1, 60_000), Clock - 3_600_000, 30_000);
        fan.Advance(61_000);
        Assert.False(fan.On);
    }

    [Fact]
    public void A_watchdog_sounds_once_when_the_server_is_silent_and_ends_when_it_is_heard()
    {
        var siren = new OutputBehaviour(new(OutputLoad.Sounder, 120_000, ServerSilentMs: 300_000));
        siren.ServerHeard(0);
        siren.Advance(299_999);
        Assert.False(siren.On);
        siren.Advance(300_000);
        Assert.True(siren.On);
        siren.Advance(420_000);
        Assert.False(siren.On);
        siren.Advance(900_000);
        Assert.False(siren.On);
        siren.ServerHeard(1_000_000);
        siren.Advance(1_300_000);
        Assert.True(siren.On);
        siren.ServerHeard(1_310_000);
        Assert.False(siren.On);
    }

    /// <summary>Any commands at any times: on only while an unexpired lease that was heard says so, and
    /// never longer on end than the node's limit without a new number.</summary>
    [Fact]
    public void Whatever_comes_it_is_on_only_under_a_lease_that_was_heard()
    {
        var step = Gen.Select(Gen.Long[0, 40_000], Gen.Long[1, 6], Gen.Bool, Gen.Long[-20_000, 80_000], Gen.Long[0, 120_000]);
        step.Array[1, 40]
            .Sample(
                steps =>
                {
                    var fan = new OutputBehaviour(Fan with { MaxOnMs = 100_000 });
                    var (now, bound) = (0L, 0L);
                    foreach (var (pause, id, on, expires, most) in steps)
                    {
                        now += pause;
                        fan.Advance(now);
                        Assert.False(fan.On && now >= bound);
                        var heard = fan.Hear(new(id, "fan", on, Clock + now + expires, most), Clock + now, now);
                        bound = heard
                            ? on
                                ? Math.Max(0, Math.Min(now + expires, now + Math.Min(most, 100_000)))
                                : 0
                            : bound;
                        Assert.False(fan.On && now >= bound);
                    }
                },
                iter: 2_000
            );
    }
}
