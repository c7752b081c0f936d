using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using CsCheck;

namespace Cenotic.Core.Tests.Alerts;

/// <summary>Rules of several conditions, of sequences, and of what is unlike its usual.</summary>
public class RulePartsTests
{
    private static readonly ReadingRef A = new("n", "a"),
        B = new("n", "b"),
        C = new("m", "c");

    private static RuleDesign Rule(RuleJoin join, RuleCondition own, params RulePart[] also) =>
        new("r", "R", "n", "a", own, "", true) { Join = join, Also = also };

    private static List<(RuleTurn, long)> Play(RuleDesign rule, long until, params (ReadingRef Of, long T, double V)[] samples)
    {
        var (state, events) = (RuleState.Start(0), new List<(RuleTurn, long)>());
        foreach (var (of, t, v) in samples)
        {
            (state, var turns) = RuleJudge.OnSample(rule, state, of, t, v);
            events.AddRange(turns.Select(e => (e.Turn, e.At)));
        }
        return [.. events, .. RuleJudge.OnTime(rule, state, until).Events.Select(e => (e.Turn, e.At))];
    }

    private static readonly BeyondLimit Damp = new(LimitSide.Above, 70, 65, 0),
        Cold = new(LimitSide.Below, 10, 12, 10_000);

    [Fact]
    public void All_of_them_must_hold_each_with_its_own_duration_and_clearing() =>
        // Damp from 1 s; cold from 2 s, for ten seconds at 12 s: raised without a sample. Over when one is over: 65 at 20 s.
        Assert.Equal(
            [(RuleTurn.Raised, 12_000), (RuleTurn.Cleared, 20_000)],
            Play(Rule(RuleJoin.All, Damp, new RulePart(C, Cold)), 60_000, (A, 1_000, 75), (C, 2_000, 8), (A, 15_000, 68), (A, 20_000, 65), (C, 25_000, 8))
        );

    [Fact]
    public void Any_of_them_is_enough_and_it_is_over_with_the_last() =>
        Assert.Equal(
            [(RuleTurn.Raised, 1_000), (RuleTurn.Cleared, 30_000)],
            Play(Rule(RuleJoin.Any, Damp, new RulePart(C, Cold)), 60_000, (A, 1_000, 75), (C, 2_000, 8), (A, 20_000, 60), (C, 30_000, 12))
        );

    [Fact]
    public void What_one_message_says_of_one_moment_is_taken_whole()
    {
        // It got warm, and the fan went on, in one message: never "warm and the fan is off".
        var rule = Rule(RuleJoin.All, new BeyondLimit(LimitSide.Above, 30, 28, 0), new RulePart(C, new BeyondLimit(LimitSide.Below, 0.5, 1, 0)));
        var (state, _) = RuleJudge.OnSamples(rule, RuleState.Start(0), 1_000, [(A, 20), (C, 0)]);
        (state, var turns) = RuleJudge.OnSamples(rule, state, 2_000, [(A, 31), (C, 1)]);
        Assert.Empty(turns);
        Assert.Equal([RuleTurn.Raised], RuleJudge.OnSamples(rule, state, 3_000, [(C, 0)]).Events.Select(e => e.Turn));
        TrialSample[] told =
        [
            new(1_000, 20, false, A, 1),
            new(1_000, 0, false, C, 1),
            new(2_000, 31, false, A, 2),
            new(2_000, 1, false, C, 2),
            new(2_000, 0, false, C, 3),
        ];
        Assert.Equal(2_000, Assert.Single(RuleTrial.Run(rule, told, 0, 5_000, London)).RaisedMs);
        Assert.Empty(RuleTrial.Run(rule, told[..4], 0, 5_000, London));
    }

    [Fact]
    public void A_silence_may_be_one_of_them() =>
        Assert.Equal(
            [(RuleTurn.Raised, 61_000), (RuleTurn.Cleared, 70_000)],
            Play(Rule(RuleJoin.All, Damp, new RulePart(C, new SilentFor(60_000))), 90_000, (A, 500, 80), (C, 1_000, 1), (C, 70_000, 1))
        );

    /// <summary>What comes of another reading a little behind does not turn the rule earlier than what was heard before.</summary>
    [Fact]
    public void Turns_come_in_order_though_readings_do_not() =>
        Assert.Equal(
            [(RuleTurn.Raised, 5_000)],
            Play(Rule(RuleJoin.All, Damp, new RulePart(C, new BeyondLimit(LimitSide.Above, 0, 0, 0))), 5_000, (A, 5_000, 80), (C, 4_000, 1))
        );

    [Fact]
    public void A_permit_hears_only_when_all_its_readings_do()
    {
        var rule = Rule(RuleJoin.Any, Damp, new RulePart(C, Cold));
        long? Gap(ReadingRef r) => r == A ? 60_000 : 120_000;
        var (state, _) = RuleJudge.OnSample(rule, RuleState.Start(0), A, 1_000, 50);
        Assert.Null(RuleJudge.HeardUntil(rule, state, Gap));
        (state, _) = RuleJudge.OnSample(rule, state, C, 2_000, 20);
        // The first that falls silent ends it: 2.5 gaps of a minute and 5 s after its word.
        Assert.Equal(1_000 + 155_000, RuleJudge.HeardUntil(rule, state, Gap));
        Assert.Null(RuleJudge.HeardUntil(rule, state, r => r == A ? 60_000 : null));
    }

    [Fact]
    public void A_beam_and_a_knock_within_seconds_raise_and_one_alone_does_so_when_the_other_can_no_longer_come()
    {
        (ReadingRef, long, double)[] samples =
        [
            (A, 10_000, 1),
            (A, 10_500, 0),
            (C, 12_000, 1),
            (C, 12_200, 0),
            (A, 60_000, 1),
            (A, 61_000, 0),
            (C, 120_000, 1),
            (C, 121_000, 0),
        ];
        Assert.Equal(
            [(RuleTurn.Raised, 12_000), (RuleTurn.Cleared, 17_000)],
            Play(Rule(RuleJoin.All, new InSequence(C, SequenceOutcome.Both, 5_000, false)), 200_000, samples)
        );
        Assert.Equal(
            [(RuleTurn.Raised, 65_001), (RuleTurn.Cleared, 70_001)],
            Play(Rule(RuleJoin.All, new InSequence(C, SequenceOutcome.FirstAlone, 5_000, false)), 200_000, samples)
        );
        Assert.Equal(
            [(RuleTurn.Raised, 125_001), (RuleTurn.Cleared, 130_001)],
            Play(Rule(RuleJoin.All, new InSequence(C, SequenceOutcome.SecondAlone, 5_000, false)), 200_000, samples)
        );
        // A lid that is closed at rest is seen when it opens.
        Assert.Equal(
            [(RuleTurn.Raised, 12_000), (RuleTurn.Cleared, 17_000)],
            Play(
                Rule(RuleJoin.All, new InSequence(C, SequenceOutcome.Both, 5_000, false, OwnFalls: true)),
                200_000,
                [(A, 0, 1), (A, 10_000, 0), (A, 11_000, 1), (C, 12_000, 1)]
            )
        );
        // In order a knock before the beam is alone at once.
        Assert.Equal(
            [(RuleTurn.Raised, 1_000), (RuleTurn.Cleared, 6_000)],
            Play(Rule(RuleJoin.All, new InSequence(C, SequenceOutcome.SecondAlone, 5_000, true)), 200_000, (C, 1_000, 1), (A, 2_000, 1))
        );
    }

    /// <summary>The rule raises for the outcomes that the tally on Watch counts, at the same times.</summary>
    [Fact]
    public void A_rule_and_the_tally_see_the_same_sequences() =>
        Gen.Select(Gen.Int[1, 9_000].Array[1, 60], Gen.Bool.Array[60], Gen.Int[0, 2], Gen.Bool)
            .Sample(
                (steps, first, wanted, inOrder) =>
                {
                    const long Within = 5_000;
                    var sequence = new InSequence(C, (SequenceOutcome)wanted, Within, inOrder);
                    var (state, t, seen) = (RuleState.Start(0), 0L, new List<long>());
                    var (ones, twos) = (new List<long>(), new List<long>());
                    foreach (var (step, one) in steps.Zip(first))
                    {
                        t += step;
                        (one ? ones : twos).Add(t);
                        foreach (var value in new[] { 1.0, 0 })
                        {
                            // Each raise is looked at alone: what stands open would hide the next.
                            (state, var turns) = RuleJudge.OnSample(Rule(RuleJoin.All, sequence), state, one ? A : C, t, value);
                            seen.AddRange(turns.Where(e => e.Turn == RuleTurn.Raised).Select(e => e.At));
                            state = state with { Raised = false, PendingSince = null };
                        }
                    }
                    seen.AddRange(
                        RuleJudge.OnTime(Rule(RuleJoin.All, sequence), state, t + Within + 2).Events.Where(e => e.Turn == RuleTurn.Raised).Select(e => e.At)
                    );
                    var counted = SequenceTally.Of(ones, twos, Within, inOrder, t + 2 * Within).Where(o => o.Outcome == (SequenceOutcome)wanted).ToList();
                    // Alone is known when the other can no longer come; both, with the second of them.
                    var told = counted
                        .Select(o =>
                            o.Outcome == SequenceOutcome.Both ? o.AtMs + Math.Abs(o.DelayMs!.Value)
                            : inOrder && o.Outcome == SequenceOutcome.SecondAlone ? o.AtMs
                            : o.AtMs + Within + 1
                        )
                        .Order()
                        .ToList();
                    // One that comes while an episode is open makes it longer and raises no second.
                    Assert.Subset(told.ToHashSet(), seen.ToHashSet());
                    Assert.All(told.Select((at, i) => (at, i)), o =>
                        Assert.True(seen.Contains(o.at) || (o.i > 0 && o.at - told[o.i - 1] <= Within), $"{o.at} raised nothing")
                    );
                }
            );

    private static readonly TimeZoneInfo London = TimeZoneInfo.FindSystemTimeZoneById("Europe/London");

    /// <summary>Ten weeks of a reading every ten minutes from a Monday on: 20 at night and 22 by day,
    /// 25 on Sundays at noon; the last Wednesday at 3 o'clock it is 22.</summary>
    private static List<TrialSample> Weeks(bool odd) =>
        [
            .. Enumerable
                .Range(0, 70 * 144)
                .Select(i =>
                {
                    var (day, hour) = (i / 144, i % 144 / 6);
                    var wave = (i * 7919 % 11 - 5) * 0.02;
                    return new TrialSample(
                        Start + i * 600_000L,
                        (
                            odd && day == 65 && hour == 3 ? 22
                            : day % 7 == 6 && hour == 12 ? 25
                            : hour is > 6 and < 22 ? 22
                            : 20
                        ) + wave,
                        false
                    );
                }),
        ];

    private static readonly long Start = new DateTimeOffset(2026, 1, 5, 0, 0, 0, TimeSpan.Zero).ToUnixTimeMilliseconds();

    [Fact]
    public void The_usual_is_known_by_hour_and_weekday()
    {
        var history = new UsualBands();
        Weeks(false).ForEach(s => history.Add(UsualBands.When(s.T, TimeZoneInfo.Utc), s.Value));
        var sunday = history.Of(new(2026, 3, 8));
        Assert.InRange(sunday[12]!.Low, 24.9, 25);
        Assert.InRange(sunday[12]!.High, 25, 25.1);
        Assert.InRange(history.Of(new(2026, 3, 9))[12]!.High, 22, 22.1);
        // Two weeks have two Sundays: any day's noon stands for it. Six days are too few.
        var two = history.Of(new(2026, 1, 18));
        Assert.InRange(two[12]!.Low, 21.8, 22);
        Assert.InRange(two[12]!.High, 24.9, 25.1);
        Assert.All(history.Of(new(2026, 1, 11)), Assert.Null);
    }

    [Fact]
    public void The_quantiles_are_those_of_all_values_in_order() =>
        Gen.Select(Gen.Int[0, 40].Array[8, 60], Gen.Int[1, 300])
            .Sample(
                (values, most) =>
                {
                    // Values of one hour on the same weekday of eight weeks, by turns of unequal length.
                    var (history, day) = (new UsualBands(), new DateOnly(2026, 3, 2));
                    var all = new List<double>();
                    for (var i = 0; i < Math.Max(8, most); i++)
                    {
                        var value = values[i % values.Length] + i * 0.001;
                        history.Add((day.AddDays(-7 * (1 + (i < 8 ? i : i * i % 8))), 9), value);
                        all.Add(value);
                    }
                    all.Sort();
                    double Rank(double share) => all[Math.Clamp((int)Math.Ceiling(share * all.Count) - 1, 0, all.Count - 1)];
                    Assert.Equal(new UsualBand(Rank(0.01), Rank(0.99)), history.Of(day)[9]);
                },
                iter: 300
            );

    [Fact]
    public void A_warm_night_is_unlike_its_usual_though_the_day_is_as_warm()
    {
        var rule = Rule(RuleJoin.All, new UnlikeUsual(0.5, 600_000));
        var end = Start + 70L * 86_400_000;
        Assert.Empty(RuleTrial.Of(rule, Weeks(false), Start, end, London).Episodes);
        var episode = Assert.Single(RuleTrial.Of(rule, Weeks(true), Start, end, London).Episodes);
        Assert.Equal(Start + (65 * 144 + 19) * 600_000L, episode.RaisedMs);
        Assert.True(episode.AtNight);
    }

    /// <summary>Live and the past as it was told, for several conditions over two readings, with a clock that ticks between.</summary>
    [Fact]
    public void Live_and_the_past_tell_the_same_of_several_conditions() =>
        Gen.Select(Gen.Int[1, 40_000].Array[1, 60], Gen.Int[0, 3].Array[60], Gen.Bool.Array[60], Gen.Int[0, 4], Gen.Int[1, 9_000])
            .Sample(
                (steps, values, first, which, tick) =>
                {
                    RuleDesign rule = new[]
                    {
                        Rule(RuleJoin.All, new BeyondLimit(LimitSide.Above, 1, 1, 20_000), new RulePart(C, new BeyondLimit(LimitSide.Below, 2, 3, 0))),
                        Rule(RuleJoin.Any, new SilentFor(60_000), new RulePart(C, new InARow(LimitSide.Above, 1, 1, 2))),
                        Rule(RuleJoin.All, new EventsWithin(2, 60_000), new RulePart(C, new SilentFor(30_000))),
                        Rule(RuleJoin.Any, new InSequence(C, SequenceOutcome.FirstAlone, 8_000, false), new RulePart(A, new OutsideBand(0.5, 2.5, 0, 5_000))),
                        Rule(RuleJoin.All, new InSequence(C, SequenceOutcome.Both, 8_000, true)),
                    }[which];
                    var (state, now, t) = (RuleState.Start(0), 0L, 0L);
                    var (stored, live) = (new List<TrialSample>(), new List<(RuleTurn, long)>());
                    for (var i = 0; i < steps.Length; i++)
                    {
                        t += steps[i];
                        var of = first[i] ? A : C;
                        stored.Add(new(t, values[i], false, of));
                        for (; now < t; now += tick)
                        {
                            (state, var due) = RuleJudge.OnTime(rule, state, now);
                            live.AddRange(due.Select(e => (e.Turn, e.At)));
                        }
                        (state, var turned) = RuleJudge.OnSample(rule, state, of, t, values[i]);
                        live.AddRange(turned.Select(e => (e.Turn, e.At)));
                    }
                    (_, var last) = RuleJudge.OnTime(rule, state, t);
                    live.AddRange(last.Select(e => (e.Turn, e.At)));
                    var told = RuleTrial
                        .Run(rule, stored, 0, t, London)
                        .SelectMany(e =>
                            e.ClearedMs is { } over ? new[] { (RuleTurn.Raised, e.RaisedMs), (RuleTurn.Cleared, over) } : [(RuleTurn.Raised, e.RaisedMs)]
                        );
                    Assert.Equal(told, live);
                }
            );
}
