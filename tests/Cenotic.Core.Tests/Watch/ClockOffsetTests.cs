using Cenotic.Core.Watch;
using CsCheck;

namespace Cenotic.Core.Tests.Watch;

/// <summary>Estimating a node's clock from messages whose way takes time.</summary>
public class ClockOffsetTests
{
    private static (ClockOffset After, List<long?> Corrections) Play(IEnumerable<long> says, ClockOffset? from = null)
    {
        var clock = from ?? ClockOffset.Unknown;
        var corrections = new List<long?>();
        foreach (var one in says)
        {
            (clock, var correction) = clock.Take(one);
            corrections.Add(correction);
        }
        return (clock, corrections);
    }

    [Fact]
    public void A_right_clock_is_left_alone_and_so_is_one_that_nothing_is_known_of()
    {
        Assert.All(Play([-40, -300, -20, -1_500, -90, -60, -45]).Corrections, Assert.Null);
        Assert.All(Play([61_000, 60_900, 60_950, 60_980]).Corrections, Assert.Null);
    }

    [Fact]
    public void Five_messages_that_agree_correct_by_the_one_with_the_shortest_way()
    {
        var (after, corrections) = Play([60_100, 60_900, 59_000, 60_700, 60_850]);
        Assert.Equal(60_900, corrections[^1]);
        Assert.Equal(60_900, after.CorrectionMs);
        // A little drift does not make the times jump; a second of it does.
        Assert.Equal([60_900, 60_900], Play([61_000, 61_500], after).Corrections);
        Assert.Equal(62_100, Play([62_100], after).Corrections[^1]);
    }

    [Fact]
    public void A_message_that_waited_in_the_node_is_not_corrected_and_spoils_nothing()
    {
        var (after, _) = Play([60_000, 60_000, 60_000, 60_000, 60_000, 60_000]);
        var (_, corrections) = Play([-3_540_000, 60_000], after);
        Assert.Equal([null, 60_000], corrections);
    }

    [Fact]
    public void Where_time_runs_faster_the_way_of_a_message_takes_more_of_it()
    {
        ClockOffset Played(double speed) =>
            new[] { -4_000L, -9_000, -2_500, -8_000, -5_000, -3_000 }.Aggregate(ClockOffset.Unknown, (clock, says) => clock.Take(says, speed).After);
        Assert.Null(Played(60).CorrectionMs);
        Assert.NotNull(Played(1).CorrectionMs);
    }

    [Fact]
    public void A_clock_that_is_set_right_is_believed_at_once()
    {
        var (after, corrections) = Play([-30, -50, -20, -40, -10, -30], ClockOffset.Known(3_600_000));
        Assert.All(corrections, Assert.Null);
        Assert.Null(after.CorrectionMs);
    }

    [Fact]
    public void With_any_ways_up_to_three_seconds_the_estimate_is_within_them()
    {
        Gen.Select(Gen.Long[-80_000_000, 80_000_000].Where(o => Math.Abs(o) > 6_000), Gen.Long[0, 3_000].Array[9])
            .Sample(
                (offset, ways) =>
                {
                    var correction = Play(ways.Select(w => offset - w)).Corrections[^1];
                    Assert.InRange(offset - correction!.Value, 0, 3_000);
                },
                iter: 2_000
            );
    }
}
