using Cenotic.Core.Design;
using Cenotic.Core.Watch;

namespace Cenotic.Core.Tests.Watch;

/// <summary>Mould index after Hukka and Viitanen 1999 (from memory): what its authors print of it, and its own equations worked by hand.</summary>
public class MouldIndexTests
{
    [Theory]
    [InlineData(0.5, 98.47)]
    [InlineData(10, 82.03)]
    [InlineData(20, 80.04)]
    [InlineData(30, 80)]
    public void Below_the_critical_humidity_nothing_grows(double celsius, double percent)
    {
        Assert.Equal(percent, MouldIndex.CriticalPercent(celsius, MouldGround.Wood), 0.01);
        Assert.Equal(0, MouldIndex.After(new(0, 0), celsius, percent - 0.1, 10_000, MouldGround.Wood).Index);
        Assert.True(MouldIndex.After(new(0, 0), celsius, Math.Min(100, percent + 2), 1, MouldGround.Wood).Index > 0);
    }

    /// <summary>exp(−0.68 ln 20 − 13.9 ln 97 + 66.02) = exp(0.394) = 1.48 weeks and exp(−0.74 ln
    /// 20 − 12.72 ln 97 + 61.50) = exp(1.093) = 2.98 weeks by hand.</summary>
    [Fact]
    public void Weeks_until_growth_can_be_seen()
    {
        Assert.Equal(1.483, MouldIndex.WeeksToFirst(20, 97), 0.01);
        Assert.Equal(2.983, MouldIndex.WeeksToSeen(20, 97), 0.01);
    }

    [Fact]
    public void It_reaches_one_and_three_when_the_weeks_are_over_and_levels_off_below_six()
    {
        var (state, hours, one, three) = (new MouldState(0, 0), 0.0, 0.0, 0.0);
        for (; hours < 24 * 7 * 60; hours++)
        {
            state = MouldIndex.After(state, 20, 97, 1, MouldGround.Wood);
            one = one == 0 && state.Index >= 1 ? hours : one;
            three = three == 0 && state.Index >= 3 ? hours : three;
        }
        Assert.Equal(MouldIndex.WeeksToFirst(20, 97), one / 168, 0.05);
        Assert.Equal(MouldIndex.WeeksToSeen(20, 97), three / 168, 0.35);
        Assert.InRange(state.Index, 5, 6);
        // Stone of the same air has seen far less.
        var stone = Enumerable.Range(0, 24 * 7 * 10).Aggregate(new MouldState(0, 0), (s, _) => MouldIndex.After(s, 20, 97, 1, MouldGround.Stone));
        Assert.InRange(stone.Index, 0.2, 1);
    }

    /// <summary>0.032 a day in the first six hours, nothing up to a day, 0.016 a day after: 0.008 + 0 + 0.016 in two days.</summary>
    [Fact]
    public void It_falls_fast_at_first_then_not_then_slowly()
    {
        var dry = Enumerable.Range(0, 48).Aggregate(new MouldState(2, 0), (s, _) => MouldIndex.After(s, 20, 50, 1, MouldGround.Wood));
        Assert.Equal(2 - 0.008 - 0.016, dry.Index, 9);
        Assert.Equal(2 - 0.008, MouldIndex.After(new(2, 0), 20, 50, 24, MouldGround.Wood).Index, 9);
        Assert.Equal(dry.Index, MouldIndex.After(new(2, 0), 20, 50, 48, MouldGround.Wood).Index, 9);
    }

    /// <summary>Air of 20 °C and 50 % is saturated at 9.26 °C, and at 12.6 °C has 80 %: the old rule of
    /// the thumb for a cold corner (ISO 13788 names 80 % as critical).</summary>
    [Fact]
    public void A_cold_corner_is_damper_than_the_air()
    {
        Assert.Equal(50, MouldIndex.SurfacePercent(20, 50, 20), 6);
        Assert.Equal(80, MouldIndex.SurfacePercent(20, 50, 12.6), 0.4);
        Assert.Equal(100, MouldIndex.SurfacePercent(20, 50, 5));
    }

    /// <summary>Stone and plaster lose a quarter of what pine loses in the same dry time (decline
    /// class "relatively low", Ojanen et al. 2010; from memory).</summary>
    [Fact]
    public void On_stone_it_declines_by_its_own_class() =>
        Assert.Equal(
            (2 - MouldIndex.After(new(2, 0), 20, 50, 48, MouldGround.Wood).Index) / 4,
            2 - MouldIndex.After(new(2, 0), 20, 50, 48, MouldGround.Stone).Index,
            9
        );
}
