using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Alerts;

public class RuleJudgeTests
{
    private static RuleDesign Rule(RuleCondition condition) => new("r", "R", "n", "t", condition, "", true);

    private static readonly RuleDesign Warm = Rule(new BeyondLimit(LimitSide.Above, 30, 28, 0));
    private static readonly RuleDesign Long = Rule(new BeyondLimit(LimitSide.Above, 30, 28, 60_000));
    private static readonly RuleDesign Silent = Rule(new SilentFor(60_000));

    private static List<(RuleTurn, long)> Play(RuleDesign rule, params (long T, double V)[] samples)
    {
        var state = RuleState.Start(0);
        var events = new List<(RuleTurn, long)>();
        foreach (var (t, v) in samples)
        {
            (state, var turned) = RuleJudge.OnSample(rule, state, t, v);
            events.AddRange(turned.Select(e => (e.Turn, e.At)));
        }
        return events;
    }

    [Fact]
    public void It_raises_with_the_sample_that_breaks_it_and_clears_at_the_clearing_level() =>
        Assert.Equal([(RuleTurn.Raised, 2000), (RuleTurn.Cleared, 5000)], Play(Warm, (1000, 30), (2000, 30.1), (3000, 29), (4000, 31), (5000, 28)));

    [Fact]
    public void Below_works_the_other_way_round() =>
        Assert.Equal([(RuleTurn.Raised, 2), (RuleTurn.Cleared, 4)], Play(Rule(new BeyondLimit(LimitSide.Below, 5, 7, 0)), (1, 5), (2, 4.9), (3, 6), (4, 7)));

    [Fact]
    public void A_duration_wants_the_whole_stretch()
    {
        Assert.Equal([(RuleTurn.Raised, 61_000)], Play(Long, (1_000, 31), (30_000, 32), (61_000, 31)));
        Assert.Empty(Play(Long, (1_000, 31), (30_000, 30), (40_000, 31), (90_000, 31)));
    }

    [Fact]
    public void A_duration_runs_out_between_samples_at_its_own_moment() =>
        Assert.Equal([(RuleTurn.Raised, 61_000), (RuleTurn.Cleared, 300_000)], Play(Long, (1_000, 31), (300_000, 20)));

    [Fact]
    public void Silence_raises_when_it_is_due_and_the_next_sample_clears_it() =>
        Assert.Equal([(RuleTurn.Raised, 70_000), (RuleTurn.Cleared, 100_000)], Play(Silent, (10_000, 1), (100_000, 1)));

    [Fact]
    public void An_older_sample_does_not_turn_the_clock_back()
    {
        var (state, _) = RuleJudge.OnSample(Silent, RuleState.Start(50_000), 1_000, 1);
        Assert.Equal(110_000, RuleJudge.DueAt(Silent, state));
    }

    /// <summary>Live, time is judged by a clock that ticks between samples; on the past only samples come. Both must tell the same.</summary>
    [Fact]
    public void Live_and_the_past_tell_the_same() =>
        Gen.Select(Gen.Int[1, 40_000].Array[1, 40], Gen.Int[20, 40].Array[40], Gen.Int[0, 2], Gen.Int[1, 5_000]).Sample((steps, values, which, tick) =>
        {
            var rule = new[] { Warm, Long, Silent }[which];
            var samples = new List<(long T, double V)>();
            long t = 0;
            foreach (var (step, value) in steps.Zip(values))
            {
                samples.Add((t += step, value));
            }
            var live = new List<(RuleTurn, long)>();
            var state = RuleState.Start(0);
            long now = 0;
            foreach (var (at, value) in samples)
            {
                for (; now < at; now += tick)
                {
                    (state, var due) = RuleJudge.OnTime(rule, state, now);
                    live.AddRange(due.Select(e => (e.Turn, e.At)));
                }
                (state, var turned) = RuleJudge.OnSample(rule, state, at, value);
                live.AddRange(turned.Select(e => (e.Turn, e.At)));
            }
            Assert.Equal(Play(rule, [.. samples]), live);
        });

    [Fact]
    public void Raised_and_cleared_take_turns() =>
        Gen.Select(Gen.Int[1, 90_000].Array[1, 60], Gen.Int[25, 35].Array[60], Gen.Int[0, 2]).Sample((steps, values, which) =>
        {
            long t = 0;
            var events = Play(new[] { Warm, Long, Silent }[which], [.. steps.Zip(values).Select(p => (t += p.First, (double)p.Second))]);
            return events.Select((e, i) => e.Item1 == (i % 2 == 0 ? RuleTurn.Raised : RuleTurn.Cleared)).All(b => b);
        });

    [Fact]
    public void Silence_is_judged_by_the_interval_that_a_node_reported()
    {
        var rule = new RuleDesign("r", "Silent", "n", "temp", new SilentFor(120_000), "", true);
        RuleDesign Ran(string line) => ReportedSilence.Of(rule, _ => ["board=x", line, "reading.temperature=air temperature 1 - 1 1"]);
        Assert.Equal(new SilentFor(600_000), Ran("reading.temp=air temperature 300000 - 1 1").Condition);
        // Batches of four come every four intervals; what is sent on change, at its heartbeat.
        Assert.Equal(new SilentFor(2_400_000), Ran("reading.temp=air temperature 300000 - 4 1").Condition);
        Assert.Equal(new SilentFor(7_200_000), Ran("reading.temp=air temperature - 3600000 1 1").Condition);
        // Never sooner than its maker said, and not by what was not kept.
        Assert.Equal(rule.Condition, Ran("reading.temp=air temperature 10000 - 1 1").Condition);
        Assert.Equal(rule.Condition, Ran("reading.temp=torn").Condition);
        Assert.Equal(rule.Condition, ReportedSilence.Of(rule, _ => null).Condition);
        Assert.Equal(new BeyondLimit(LimitSide.Above, 1, 1, 1), ReportedSilence.Of(rule with { Condition = new BeyondLimit(LimitSide.Above, 1, 1, 1) }, _ => ["reading.temp=air temperature 300000 - 1 1"]).Condition);
    }
}
