using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Alerts;

/// <summary>Rules of every kind, live and on the past.</summary>
public class RuleTrialTests
{
    private static readonly TimeZoneInfo Utc = TimeZoneInfo.Utc;

    private static RuleDesign Rule(RuleCondition condition) => new("r", "R", "n", "t", condition, "", true);

    /// <summary>One of each kind, with small numbers.</summary>
    private static readonly RuleCondition[] Kinds =
    [
        new BeyondLimit(LimitSide.Above, 30, 28, 0),
        new BeyondLimit(LimitSide.Below, 24, 26, 20_000),
        new OutsideBand(23, 33, 2, 10_000),
        new OutsideBand(23, 33, 0, 0),
        new InARow(LimitSide.Above, 30, 29, 3),
        new InARow(LimitSide.Below, 25, 25, 2),
        new ChangesFaster(ChangeSide.Rises, 6, 30_000),
        new ChangesFaster(ChangeSide.Falls, 6, 60_000),
        new EventsWithin(3, 60_000),
        new SilentFor(30_000),
    ];

    private static List<(RuleTurn, long)> Play(RuleCondition condition, params (long T, double V)[] samples)
    {
        var (rule, state, events) = (Rule(condition), RuleState.Start(0), new List<(RuleTurn, long)>());
        foreach (var (t, v) in samples)
        {
            (state, var turned) = RuleJudge.OnSample(rule, state, t, v);
            events.AddRange(turned.Select(e => (e.Turn, e.At)));
        }
        return events;
    }

    [Fact]
    public void A_band_is_left_on_either_side_and_over_well_inside() =>
        Assert.Equal(
            [(RuleTurn.Raised, 2), (RuleTurn.Cleared, 5), (RuleTurn.Raised, 6)],
            Play(new OutsideBand(10, 20, 2, 0), (1, 20), (2, 20.5), (3, 19), (4, 11), (5, 15), (6, 9.9))
        );

    [Fact]
    public void One_value_beyond_is_not_three_in_a_row() =>
        Assert.Equal(
            [(RuleTurn.Raised, 6), (RuleTurn.Cleared, 8)],
            Play(new InARow(LimitSide.Above, 30, 28, 3), (1, 31), (2, 29), (3, 31), (4, 31), (5, 30), (6, 0), (6, 31), (6, 31), (6, 31), (7, 29), (8, 28))
        );

    [Fact]
    public void A_rise_counts_from_the_lowest_value_within_its_time()
    {
        var rises = new ChangesFaster(ChangeSide.Rises, 5, 60_000);
        Assert.Equal([(RuleTurn.Raised, 50_000)], Play(rises, (0, 20), (20_000, 18), (50_000, 23)));
        // Slowly enough it never is one.
        Assert.Empty(Play(rises, [.. Enumerable.Range(0, 40).Select(i => (i * 20_000L, 20 + i * 1.2))]));
        Assert.Equal(
            [(RuleTurn.Raised, 10_000), (RuleTurn.Cleared, 20_000)],
            Play(new ChangesFaster(ChangeSide.Falls, 5, 60_000), (0, 20), (10_000, 14), (20_000, 18))
        );
    }

    [Fact]
    public void Events_are_counted_when_they_begin_and_it_is_over_by_time_alone()
    {
        var twice = new EventsWithin(2, 10_000);
        Assert.Equal([(RuleTurn.Raised, 9_000), (RuleTurn.Cleared, 11_000)], Play(twice, (1_000, 1), (2_000, 1), (3_000, 0), (9_000, 1), (30_000, 0)));
        Assert.Empty(Play(twice, (1_000, 1), (2_000, 0), (11_000, 1), (12_000, 0), (21_000, 1)));
        Assert.Equal(11_000, RuleJudge.DueAt(Rule(twice), RuleState.Start(0) with { Raised = true, Marks = [new(1_000, 1), new(9_000, 1)] }));
    }

    /// <summary>Live a clock ticks between samples, late and doubled values come in between and are stored but not judged;
    /// on the past the stored values come in order of arrival. Both must tell the same.</summary>
    [Fact]
    public void Live_and_the_past_as_it_was_told_tell_the_same() =>
        Gen.Select(Gen.Int[1, 40_000].Array[1, 60], Gen.Int[18, 38].Array[60], Gen.Int[0, 9], Gen.Int[1, 9_000], Gen.Int[0, 5].Array[60])
            .Sample(
                (steps, values, kind, tick, odd) =>
                {
                    var rule = Rule(kind == 8 ? Kinds[8] : Kinds[kind]);
                    var stored = new List<TrialSample>();
                    var live = new List<(RuleTurn, long)>();
                    var (state, now, newest, t) = (RuleState.Start(0), 0L, long.MinValue, 0L);
                    for (var i = 0; i < steps.Length; i++)
                    {
                        t += steps[i];
                        var value = kind == 8 ? values[i] % 2 : values[i];
                        // Now and then an old value comes late, or the same one again.
                        foreach (
                            var at in odd[i] switch
                            {
                                0 => new[] { t, t - 25_000 },
                                1 => [t, t],
                                _ => [t],
                            }
                        )
                        {
                            var late = at < newest;
                            stored.Add(new(at, value, late));
                            newest = Math.Max(newest, at);
                            if (late)
                            {
                                continue;
                            }
                            for (; now < at; now += tick)
                            {
                                (state, var due) = RuleJudge.OnTime(rule, state, now);
                                live.AddRange(due.Select(e => (e.Turn, e.At)));
                            }
                            (state, var turned) = RuleJudge.OnSample(rule, state, at, value);
                            live.AddRange(turned.Select(e => (e.Turn, e.At)));
                        }
                    }
                    var told = RuleTrial
                        .Run(rule, [.. stored.Where(s => !s.Late)], 0, t, Utc)
                        .SelectMany(e =>
                            e.ClearedMs is { } over ? new[] { (RuleTurn.Raised, e.RaisedMs), (RuleTurn.Cleared, over) } : [(RuleTurn.Raised, e.RaisedMs)]
                        )
                        .ToList();
                    // What is due at the very end has not been ticked for.
                    Assert.Equal(told.Take(live.Count), live);
                    Assert.InRange(told.Count - live.Count, 0, 2);
                }
            );

    /// <summary>Three weeks of a reading every ten minutes: a day's swing around 20, and an evening of 31 on each Saturday.</summary>
    private static List<TrialSample> Weeks() =>
        [
            .. Enumerable
                .Range(0, 21 * 144)
                .Select(i =>
                {
                    var hour = i / 6.0 % 24;
                    return new TrialSample(
                        i * 600_000L,
                        i / 144 % 7 == 5 && hour is > 19 and < 23 ? 31 : 20 + 4 * Math.Sin((hour - 9) / 24 * 2 * Math.PI),
                        false
                    );
                }),
        ];

    [Fact]
    public void The_past_tells_how_often_how_long_and_how_many_at_night()
    {
        var trial = RuleTrial.Of(Rule(new BeyondLimit(LimitSide.Above, 28, 27, 0)), Weeks(), 0, 21L * 86_400_000, Utc);
        Assert.Equal((3024, 3, 0), (trial.Samples, trial.Episodes.Count, trial.AtNight));
        // From 19:10 to 23:00, each Saturday.
        Assert.All(trial.Episodes, e =>
            Assert.Equal(
                (19, 10, 230 * 60_000L),
                (
                    DateTimeOffset.FromUnixTimeMilliseconds(e.RaisedMs).Hour,
                    DateTimeOffset.FromUnixTimeMilliseconds(e.RaisedMs).Minute,
                    e.ClearedMs!.Value - e.RaisedMs
                )
            )
        );
        Assert.Equal(3 * 230 * 60_000L, trial.OnMs);
        // The same evening is a night further east.
        Assert.Equal(
            3,
            RuleTrial
                .Of(Rule(new BeyondLimit(LimitSide.Above, 28, 27, 0)), Weeks(), 0, 21L * 86_400_000, TimeZoneInfo.FindSystemTimeZoneById("Asia/Tokyo"))
                .AtNight
        );
    }

    [Fact]
    public void The_curve_falls_with_the_limit_and_proposes_one_that_usual_days_do_not_pass()
    {
        var trial = RuleTrial.Of(Rule(new BeyondLimit(LimitSide.Above, 21, 20, 0)), Weeks(), 0, 21L * 86_400_000, Utc);
        Assert.Equal(15, trial.Curve.Count);
        Assert.True(trial.Curve[0].Episodes >= 21);
        Assert.Equal(0, trial.Curve[^1].Episodes);
        Assert.InRange(trial.Proposed!.Value, 24, 31);
        // Below, the quiet end is the other one.
        Assert.InRange(RuleTrial.Of(Rule(new BeyondLimit(LimitSide.Below, 19, 20, 0)), Weeks(), 0, 21L * 86_400_000, Utc).Proposed!.Value, 15.9, 16.6);
        Assert.Empty(RuleTrial.Of(Rule(new SilentFor(3_600_000)), Weeks(), 0, 21L * 86_400_000, Utc).Curve);
    }

    [Fact]
    public void Durations_up_to_the_first_that_tells_nothing_and_the_shortest_that_is_quiet()
    {
        // Each of 21 days is on for 30 s thirty times, for 10 min twice, once at night, and for 2 h on the last.
        var samples = new List<TrialSample>();
        for (var day = 0; day < 21; day++)
        {
            void On(double hour, long ms) =>
                samples.AddRange([
                    new(day * 86_400_000L + (long)(hour * 3_600_000), 1, false),
                    new(day * 86_400_000L + (long)(hour * 3_600_000) + ms, 0, false),
                ]);
            On(3, 600_000);
            for (var i = 0; i < 30; i++)
            {
                On(9 + i * 0.1, 30_000);
            }
            On(13, 600_000);
            if (day == 20)
            {
                On(15, 7_200_000);
            }
        }
        var trial = RuleTrial.Of(Rule(new BeyondLimit(LimitSide.Above, 0.5, 0.5, 0)), samples, 0, 21L * 86_400_000, Utc);
        Assert.Equal(
            [(0L, 673, 21), (60_000, 43, 21), (300_000, 43, 21), (900_000, 1, 0), (3_600_000, 1, 0), (14_400_000, 0, 0)],
            trial.Durations.Select(d => (d.ForMs, d.Episodes, d.AtNight))
        );
        Assert.Equal(900_000, trial.ProposedForMs);
        // Off and on have nothing between them.
        Assert.Empty(trial.Curve);
        // A silence has a duration, and none of nothing; a rate has none.
        Assert.Equal(60_000, RuleTrial.Of(Rule(new SilentFor(3_600_000)), samples, 0, 21L * 86_400_000, Utc).Durations[0].ForMs);
        Assert.Empty(RuleTrial.Of(Rule(new ChangesFaster(ChangeSide.Rises, 1, 60_000)), samples, 0, 21L * 86_400_000, Utc).Durations);
    }

    /// <summary>Half a year of minutes with two evenings a week above 28 in its last weeks only: of those
    /// weeks two a week are too many, whatever the months before were like.</summary>
    [Fact]
    public void Of_very_many_values_the_newest_make_the_curve_and_its_weeks_are_theirs()
    {
        const int Minutes = 180 * 1440;
        List<TrialSample> samples =
        [
            .. Enumerable
                .Range(0, Minutes)
                .Select(i => new TrialSample(
                    i * 60_000L,
                    i > Minutes - 60_000 && i / 1440 % 7 is 2 or 5 && i % 1440 is > 1140 and < 1200 ? 31 : 20 + i % 7 * 0.1,
                    false
                )),
        ];
        var trial = RuleTrial.Of(Rule(new BeyondLimit(LimitSide.Above, 28, 28, 0)), samples, 0, Minutes * 60_000L, Utc);
        Assert.True(trial.Episodes.Count > 10);
        Assert.True(trial.Proposed is null or >= 31);
    }

    [Fact]
    public void A_rule_that_is_raised_at_the_end_has_no_end_and_silence_is_judged_up_to_it()
    {
        var trial = RuleTrial.Of(Rule(new SilentFor(3_600_000)), [new(0, 1, false), new(60_000, 1, false)], 0, 8_000_000, Utc);
        var episode = Assert.Single(trial.Episodes);
        Assert.Equal((3_660_000L, null), (episode.RaisedMs, episode.ClearedMs));
        Assert.Equal(8_000_000 - 3_660_000, trial.OnMs);
    }

    [Theory]
    [InlineData("{\"kind\":\"outsideBand\",\"low\":5,\"high\":5,\"clearBy\":0,\"forMs\":0}", "below the high end")]
    [InlineData("{\"kind\":\"outsideBand\",\"low\":0,\"high\":10,\"clearBy\":6,\"forMs\":0}", "inside")]
    [InlineData("{\"kind\":\"inARow\",\"side\":\"above\",\"limit\":30,\"clear\":31,\"times\":3}", "clearing level")]
    [InlineData("{\"kind\":\"inARow\",\"side\":\"above\",\"limit\":30,\"clear\":30,\"times\":1}", "in a row")]
    [InlineData("{\"kind\":\"changesFaster\",\"side\":\"rises\",\"by\":0,\"withinMs\":1000}", "change")]
    [InlineData("{\"kind\":\"eventsWithin\",\"count\":1,\"withinMs\":1000}", "events")]
    public void Nonsense_is_refused_with_its_reason(string json, string why)
    {
        var condition = System.Text.Json.JsonSerializer.Deserialize<RuleCondition>(json, Cenotic.Core.Common.CenoticJson.Options)!;
        var node = Samples.Node(("air", "bme280")) with { Readings = [Samples.Every("t", "air", "temperature", 60_000)] };
        var refused = EditBatch.Apply(Samples.Site(node), [new PutRule(Rule(condition) with { Reading = "t" })]);
        Assert.Contains(why, Assert.Single(refused.Reasons), StringComparison.Ordinal);
    }
}
