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
        Gen.Select(Gen.Int[1, 40_000].Array[1, 40], Gen.Int[20, 40].Array[40], Gen.Int[0, 2], Gen.Int[1, 5_000])
            .Sample(
                (steps, values, which, tick) =>
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
                }
            );

    [Fact]
    public void Raised_and_cleared_take_turns() =>
        Gen.Select(Gen.Int[1, 90_000].Array[1, 60], Gen.Int[25, 35].Array[60], Gen.Int[0, 2])
            .Sample(
                (steps, values, which) =>
                {
                    long t = 0;
                    var events = Play(new[] { Warm, Long, Silent }[which], [.. steps.Zip(values).Select(p => (t += p.First, (double)p.Second))]);
                    return events.Select((e, i) => e.Item1 == (i % 2 == 0 ? RuleTurn.Raised : RuleTurn.Cleared)).All(b => b);
                }
            );

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
        Assert.Equal(
            new BeyondLimit(LimitSide.Above, 1, 1, 1),
            ReportedSilence
                .Of(rule with { Condition = new BeyondLimit(LimitSide.Above, 1, 1, 1) }, _ => ["reading.temp=air temperature 300000 - 1 1"])
                .Condition
        );
    }

    /// <summary>A value every 5 min in batches of 3: a spike at the end of a batch raises nothing before the next batch says whether it lasted.</summary>
    [Fact]
    public void A_duration_is_fulfilled_by_a_value_and_by_the_clock_only_once_the_next_message_is_overdue()
    {
        const long minute = 60_000;
        var rule = new RuleDesign("r", "Too warm", "n", "t", new BeyondLimit(LimitSide.Above, 30, 29, 10 * minute), "", true);
        var reading = new ReadingRef("n", "t");
        FactsOf overdue = _ => new(ReadingDesign.SilentAfterMs(15 * minute), false);
        List<RuleEvent> Play(params (long Minute, double Value)[] values)
        {
            var (state, all) = (RuleState.Start(0), new List<RuleEvent>());
            foreach (var (at, value) in values)
            {
                (state, var turns) = RuleJudge.OnSample(rule, state, reading, at * minute, value, null, overdue);
                all.AddRange(turns);
                // The clock runs on to the next batch, which comes when its last value was read.
                (state, turns) = RuleJudge.OnTime(rule, state, (at / 15 * 15 + 15) * minute, overdue);
                all.AddRange(turns);
            }
            return all;
        }
        Assert.Empty(Play((5, 20), (10, 20), (15, 31), (20, 20), (25, 20), (30, 20)));
        // It lasted: the first value at or after ten minutes raises, with its own time.
        Assert.Equal([(RuleTurn.Raised, 25 * minute)], Play((5, 20), (10, 20), (15, 31), (20, 31), (25, 31), (30, 31)).Select(e => (e.Turn, e.At)));
        // Nothing comes any more: once the message is overdue the clock decides.
        var (waits, _) = RuleJudge.OnSample(rule, RuleState.Start(0), reading, 15 * minute, 31, null, overdue);
        Assert.Equal(15 * minute + ReadingDesign.SilentAfterMs(15 * minute), RuleJudge.DueAt(rule, waits, overdue));
        // One that is sent when it changes: it stays as it was said, by the clock.
        Assert.Equal(25 * minute, RuleJudge.DueAt(rule, waits, _ => default));
    }

    [Fact]
    public void Nobody_was_silent_while_nobody_listened()
    {
        var rule = new RuleDesign("r", "Silent", "n", "t", new SilentFor(600_000), "", true);
        var (before, _) = RuleJudge.OnSample(rule, RuleState.Start(0), 1_000, 20);
        var back = RuleJudge.Listening(rule, before, 901_000);
        Assert.Empty(RuleJudge.OnTime(rule, back, 901_000).Events);
        Assert.Equal(1_501_000, RuleJudge.DueAt(rule, back));
        Assert.Single(RuleJudge.OnTime(rule, back, 1_501_000).Events);
        // A permit that wants to hear does not take the start for a word.
        Assert.True(RuleJudge.HeardUntil(rule, back, _ => 60_000) < 901_000);
        var two = rule with { Also = [new(new("m", "u"), new SilentFor(300_000))] };
        Assert.Equal(1_201_000, RuleJudge.DueAt(two, RuleJudge.Listening(two, RuleState.Start(0), 901_000)));
    }

    [Fact]
    public void What_cannot_last_is_not_damped_until_it_lasts()
    {
        var knock = new RuleDesign("r", "Parcel", "n", "t", new InSequence(new("n", "u"), SequenceOutcome.Both, 2_000, false), "", true);
        Assert.True(NoticeSchedule.IsOfMoments(knock));
        Assert.True(NoticeSchedule.IsOfMoments(knock with { Condition = new EventsWithin(3, 60_000) }));
        Assert.False(NoticeSchedule.IsOfMoments(knock with { Condition = new BeyondLimit(LimitSide.Above, 1, 1, 0) }));
    }
}
