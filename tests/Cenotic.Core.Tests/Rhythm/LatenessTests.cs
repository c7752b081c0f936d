using Cenotic.Core.Alerts;
using Cenotic.Core.Bench;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Tests.Rhythm;

public class LatenessTests
{
    private static NodeDesign Air(long interval, int batch = 1) =>
        Samples.Node(("air", "bme280")) with
        {
            Sleeps = true,
            Board = Samples.Rp2040,
            Power = new(PowerKind.Cells, "lifepo4-18650"),
            Readings = [Samples.Every("t", "air", "temperature", interval) with { BatchOf = batch }],
        };

    private static SitePlan Plan(NodeDesign node, params RuleDesign[] rules) => SitePlanner.Plan(Samples.Site(node, rules), Samples.Catalogue, Evidence.None);

    private static (double Worst, double Usual) Of(SitePlan plan, string reading = "t")
    {
        var timing = plan.Nodes[0].Rhythm.Readings.Single(r => r.Reading == reading);
        return (timing.Lateness.Value!.Value, timing.UsualLateness.Value!.Value);
    }

    private static double PathSeconds(SitePlan plan, Func<CycleSegment, double> ms) =>
        plan.Nodes[0].Rhythm.Wakes.First(w => w.Sends.Count > 0).Segments.TakeWhile(s => s.Key is not ("shut-down" or "sleep" or "wait")).Sum(ms) / 1000;

    [Fact]
    public void Interval_batch_and_steps_add_up()
    {
        var single = Plan(Air(60_000));
        var (high, likely) = (PathSeconds(single, s => s.Duration.High!.Value), PathSeconds(single, s => s.Duration.Value!.Value));
        Assert.Equal(60 + high, Of(single).Worst, 1e-9);
        Assert.Equal(30 + likely, Of(single).Usual, 1e-9);
        var batch = Plan(Air(60_000, 5));
        Assert.Equal(300 + high, Of(batch).Worst, 1e-9);
        Assert.Equal(30 + 120 + likely, Of(batch).Usual, 1e-9);
    }

    [Fact]
    public void An_unacknowledged_message_may_be_lost_and_the_next_one_tells()
    {
        var node = Samples.Node(("air", "bme280"), ("radio", "lora-sx1276")) with
        {
            Sleeps = true,
            Link = LinkKind.LongRange,
            Readings = [Samples.Every("t", "air", "temperature", 60_000)],
            Sending = new(Acknowledged: false),
        };
        var plan = Plan(node);
        Assert.Equal(120 + PathSeconds(plan, s => s.Duration.High!.Value), Of(plan).Worst, 1e-9);
        Assert.Equal(60 + PathSeconds(Plan(node with { Sending = null }), s => s.Duration.High!.Value), Of(Plan(node with { Sending = null })).Worst, 1e-9);
    }

    [Fact]
    public void A_change_that_wakes_the_node_waits_for_nothing_but_the_wake()
    {
        var plan = Plan(Samples.Node(("door", "reed-contact")) with { Sleeps = true, Readings = [Samples.OnChange("t", "door", "contact", 3_600_000)] });
        Assert.InRange(Of(plan).Worst, 0.5, 3);
    }

    [Fact]
    public void A_rule_adds_its_duration_up_to_the_next_reading()
    {
        RuleDesign Rule(RuleCondition condition) => new("r", "Rule", "n", "t", condition, "", true);
        double Late(RuleCondition condition) => Plan(Air(60_000), Rule(condition)).Rhythm.Rules.Single().Lateness.Value!.Value;
        var reading = Of(Plan(Air(60_000))).Worst;
        Assert.Equal(reading, Late(new BeyondLimit(LimitSide.Above, 30, 29, 0)));
        Assert.Equal(reading + 120, Late(new BeyondLimit(LimitSide.Above, 30, 29, 90_000)), 1e-9);
        Assert.Equal(600, Late(new SilentFor(600_000)));
    }

    [Fact]
    public void A_missed_wish_names_ways_and_what_they_cost_in_months()
    {
        var node = Air(600_000) with { Readings = [Samples.Every("t", "air", "temperature", 600_000) with { WantedWithinMs = 120_000 }] };
        var finding = Plan(node).Findings.Single(f => f.Code == "RHYTHM-LATE");
        Assert.Contains("within 2 min", finding.What, StringComparison.Ordinal);
        Assert.NotEmpty(finding.Remedies);
        Assert.All(finding.Remedies, r => Assert.Matches(@"Read every .*: [\d.]+ (months|days) on its cells instead of [\d.]+ (months|days)", r.Label));
        foreach (var remedy in finding.Remedies)
        {
            var after = Plan(EditBatch.Apply(Samples.Site(node), remedy.Edits).Value.After.Nodes[0]);
            Assert.True(Of(after).Worst <= 120);
        }
    }

    [Fact]
    public void Two_cells_every_five_seconds_over_wifi_is_called_what_it_is()
    {
        var node = Samples.Node(("air", "bme280"), ("lux", "bh1750")) with
        {
            Sleeps = true,
            Board = Samples.Rp2040,
            Power = new(PowerKind.Cells, "alkaline-aa-x2"),
            Readings =
            [
                Samples.Every("t", "air", "temperature", 5_000),
                Samples.Every("h", "air", "humidity", 5_000),
                Samples.Every("p", "air", "pressure", 5_000),
                Samples.Every("l", "lux", "illuminance", 5_000),
            ],
        };
        var plan = Plan(node);
        var rhythm = plan.Nodes[0].Rhythm;
        // Awake for about 3.2 of 5 s at about 40 mA: some 27 mA on average; 2400 mAh of which 70 % last 2.6 days.
        Assert.InRange(rhythm.Life!.Value!.Value, 2, 3.5);
        var gains = RhythmComparison.Of(node, plan.Nodes[0].Bench, Samples.Catalogue, Evidence.None).Gains;
        // Three alone, and several of them together.
        Assert.Equal(4, gains.Count);
        Assert.Contains(';', gains[0].Label);
        Assert.Equal(gains.OrderByDescending(g => g.Months), gains);
        foreach (var gain in gains)
        {
            var after = SitePlanner.Plan(EditBatch.Apply(Samples.Site(node), gain.Edits).Value.After, Samples.Catalogue, Evidence.None).Nodes[0].Rhythm;
            Assert.Equal(gain.Life.Value!.Value, after.Life!.Value!.Value, 1e-6);
            Assert.Equal(gain.Months, (after.Life.Value.Value - rhythm.Life.Value.Value) / 30.4375, 1e-6);
        }
        var finding = plan.Findings.Single(f => f.Code == "RHYTHM-LIFE-SHORT");
        Assert.Contains("days", finding.What, StringComparison.Ordinal);
        // None of the three is enough by itself here: the fewest of them together are offered.
        Assert.All(gains.Where(g => !g.Label.Contains(';')), g => Assert.True(g.Life.Value < RhythmPlanner.ShortLifeDays));
        var remedy = Assert.Single(finding.Remedies);
        Assert.True(
            SitePlanner.Plan(EditBatch.Apply(Samples.Site(node), remedy.Edits).Value.After, Samples.Catalogue, Evidence.None).Nodes[0].Rhythm.Life!.Value
                >= RhythmPlanner.ShortLifeDays
        );
    }

    [Fact]
    public void Radios_and_intervals_are_compared_for_the_same_node()
    {
        var node = Air(600_000);
        var bench = BenchPlanner.Plan(node, Samples.Catalogue);
        var comparison = RhythmComparison.Of(node, bench, Samples.Catalogue, Evidence.None);
        Assert.Equal(
            ["wifi", "cc1101", "hc-12", "nrf24l01p", "ook-tx-433", "lora-sx1276", "lte-a7670", "sim800-modem"],
            comparison.Radios.Select(r => r.Key).Where(k => k != "lora-sx1278")
        );
        var today = comparison.Radios.Single(r => r.Today);
        Assert.Equal(
            ("wifi", RhythmPlanner.Plan(node, bench, Samples.Catalogue, Evidence.None).Life!.Value),
            (today.Key, today.Cells.Single(c => c.IntervalMs == 600_000).LifeDays)
        );
        Assert.All(comparison.Radios, r => Assert.Equal(r.Curve.Select(p => p.Milliamps).OrderDescending(), r.Curve.Select(p => p.Milliamps)));
        // The radio that the node would really have gives the same figure, pins and all.
        var real = node with { Link = LinkKind.LongRange, Parts = [.. node.Parts, Samples.Part("radio", "lora-sx1276")] };
        var planned = RhythmPlanner.Plan(real, BenchPlanner.Plan(real, Samples.Catalogue), Samples.Catalogue, Evidence.None).Average.Value!.Value;
        Assert.Equal(planned, comparison.Radios.Single(r => r.Key == "lora-sx1276").Cells.Single(c => c.IntervalMs == 600_000).Milliamps, 1e-6);
    }

    /// <summary>The longest time from when something begins to the notice of it, by playing every phase
    /// of it against the node's timetable and the judge that runs live.</summary>
    private static double Played(SiteDesign site, RuleDesign rule, long interval, int batch, double pathMs)
    {
        var facts = RuleJudge.FactsBy(site, _ => false);
        var reading = new ReadingRef("n", "t");
        var worst = 0.0;
        const int phasesOfAnInterval = 24;
        for (var phase = 0; phase < phasesOfAnInterval * batch; phase++)
        {
            // It begins somewhere within a batch, the first time just after a reading.
            var begins = 10L * batch * interval + phase * interval / phasesOfAnInterval + 1;
            var state = RuleState.Start(0);
            double? told = null;
            for (var k = 0L; told is null && k < 10_000; k++)
            {
                if ((k + 1) % batch != 0)
                {
                    continue;
                }
                var arrives = k * interval + pathMs;
                // The clock is looked at until the message is there.
                for (var now = (k - batch) * interval; now < arrives && told is null; now += Math.Max(1, interval / 7))
                {
                    (state, var due) = RuleJudge.OnTime(rule, state, now, facts);
                    told = due.Any(e => e.Turn == RuleTurn.Raised) ? now : told;
                }
                for (var i = k - batch + 1; i <= k && told is null; i++)
                {
                    (state, var turns) = RuleJudge.OnSample(rule, state, reading, i * interval, i * interval >= begins ? 35 : 20, null, facts);
                    told = turns.Any(e => e.Turn == RuleTurn.Raised) ? arrives : told;
                }
            }
            worst = Math.Max(worst, told!.Value - begins);
        }
        return worst / 1000;
    }

    /// <summary>The two cases of five minutes by hand: three readings of a message, "for 10 min": 15 min until
    /// the batch is there, 10 min of duration. One, "for 7 min": 5 and 10 min.</summary>
    [Theory]
    [InlineData(3, 10, 25)]
    [InlineData(1, 7, 15)]
    public void The_worst_notice_worked_by_hand(int batch, int minutes, int expected)
    {
        var rule = new RuleDesign("r", "Rule", "n", "t", new BeyondLimit(LimitSide.Above, 30, 29, minutes * 60_000L), "", true);
        var plan = Plan(Air(300_000, batch), rule);
        var steps = Of(plan).Worst - 300 * batch;
        Assert.Equal(expected * 60 + steps, plan.Rhythm.Rules.Single().Lateness.Value!.Value, 1e-6);
        Assert.InRange(Played(Samples.Site(Air(300_000, batch), rule), rule, 300_000, batch, steps * 1000), expected * 60 + steps - 15, expected * 60 + steps);
    }

    [Fact]
    public void No_phase_is_told_later_than_the_stated_worst_and_one_comes_within_a_step_of_it()
    {
        var random = new Random(19);
        long[] intervals = [30_000, 60_000, 120_000, 300_000, 600_000];
        for (var n = 0; n < 60; n++)
        {
            var (interval, batch) = (intervals[random.Next(intervals.Length)], random.Next(1, 6));
            var lasts = random.Next(3) == 0 ? 0 : random.Next(1, 40) * interval / 7;
            RuleCondition condition = random.Next(3) switch
            {
                0 => new BeyondLimit(LimitSide.Above, 30, 29, lasts),
                1 => new OutsideBand(10, 30, 1, lasts),
                _ => new InARow(LimitSide.Above, 30, 29, random.Next(1, 6)),
            };
            var rule = new RuleDesign("r", "Rule", "n", "t", condition, "", true);
            var plan = Plan(Air(interval, batch), rule);
            var stated = plan.Rhythm.Rules.Single().Lateness.Value!.Value;
            var played = Played(Samples.Site(Air(interval, batch), rule), rule, interval, batch, (Of(plan).Worst - interval * batch / 1000.0) * 1000);
            Assert.True(played <= stated, $"{condition}, every {interval} ms, batch {batch}: told after {played} s, stated {stated} s");
            Assert.True(
                played >= stated - interval / 24 / 1000.0 - 0.01,
                $"{condition}, every {interval} ms, batch {batch}: never later than {played} s, stated {stated} s"
            );
        }
    }
}
