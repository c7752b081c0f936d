using Cenotic.Core.Bench;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;
using Cenotic.Core.Planning;
using Cenotic.Core.Rhythm;
using CsCheck;

namespace Cenotic.Core.Tests.Rhythm;

public class RhythmTests
{
    [Theory]
    [InlineData(40, 550, 0.067, 3600, 22.24116, 6.178101)] // charge bookkeeping
    [InlineData(47, 1500, 0.067, 3600, 70.7411, 19.6503)]
    public void Charge_and_average_of_a_cycle(double mA, double ms, double sleep, double seconds, double charge, double average)
    {
        Assert.Equal(charge, Energy.ChargeMilliampSeconds([(mA, ms)], sleep, seconds), 0.007);
        Assert.Equal(average, Energy.AverageMicroamps(charge, seconds), 0.001);
    }

    [Fact]
    public void Three_phases()
    {
        var charge = Energy.ChargeMilliampSeconds([(8, 20), (120, 57), (12, 1000)], 2.5, 600);
        Assert.Equal(20.49731, charge, 0.002);
        Assert.Equal(34.16218, Energy.AverageMicroamps(charge, 600), 0.003);
        Assert.Throws<ArgumentException>(() => Energy.ChargeMilliampSeconds([(1, 2000)], 0, 1));
    }

    [Theory]
    [InlineData(250, 1, 6.178101, 0, 1686.06, 3)] // common practice: 550 ms at 40 mA once an hour is about 4.6 years of 250 mAh
    [InlineData(250, 1, 19.650306, 0, 530.1, 1)] // 1.5 s at 47 mA: about 1.45 years
    [InlineData(2400, 0.8, 34.16218, 0.02, 2018.27, 4)]
    [InlineData(2400, 1, 0, 0.05, 7305, 10)]
    public void Life_in_days(double capacity, double usable, double microamps, double loss, double days, double within) =>
        Assert.Equal(days, Energy.LifeDays(capacity, usable, microamps, loss)!.Value, within);

    [Fact]
    public void Nothing_drawn_has_no_life_in_days() => Assert.Null(Energy.LifeDays(250, 1, 0, 0));

    private static NodeDesign Cistern => Samples.Fernhollow().Design.Node("cistern")!;

    private static RhythmPlan Plan(NodeDesign node, Evidence? evidence = null, bool cold = false) =>
        RhythmPlanner.Plan(
            node,
            BenchPlanner.Plan(node, Samples.Catalogue),
            Samples.Catalogue,
            evidence ?? Evidence.None,
            Surroundings.Indoors with
            {
                Cold = cold,
            }
        );

    [Fact]
    public void The_cycle_adds_up_to_its_period_and_its_charge()
    {
        foreach (var node in Samples.Fernhollow().Design.Nodes)
        {
            var plan = Plan(node);
            var clock = plan.Wakes.Where(w => w.Share > 0).ToList();
            Assert.Equal(1, clock.Sum(w => w.Share), 1e-9);
            Assert.All(clock, w => Assert.Equal(plan.PeriodMs, w.Segments.Sum(s => s.Duration.Value!.Value), 0.001));
            Assert.All(plan.Wakes, w => Assert.Equal(w.Charge.Value!.Value, w.Segments.Sum(s => s.Charge.Value!.Value), 1e-6));
            Assert.Equal(plan.Charge.Value!.Value, clock.Sum(w => w.Share * w.Charge.Value!.Value), 1e-6);
            Assert.Equal(1, plan.Drains.Sum(d => d.Share), 0.001);
            Assert.True(plan.Average.Low < plan.Average.Value && plan.Average.Value < plan.Average.High);
        }
    }

    [Fact]
    public void The_average_agrees_with_the_energy_formula()
    {
        // The plan and the plain formula are two ways to the same figure.
        var plan = Plan(
            Cistern with
            {
                Power = new(PowerKind.Cells, "alkaline-aa-x2"),
                Board = Samples.Rp2040,
                Parts = [Samples.Part("air", "bme280")],
                Readings = [Samples.Every("t", "air", "temperature", 600_000)],
                Link = LinkKind.Wifi,
                MeasuresSupply = false,
            }
        );
        var cycle = Assert.Single(plan.Wakes).Segments;
        var awake = cycle.SkipLast(1).Select(s => (s.Current.Value!.Value, s.Duration.Value!.Value)).ToList();
        var charge = Energy.ChargeMilliampSeconds(awake, cycle[^1].Current.Value!.Value * 1000, 600);
        Assert.Equal(charge, plan.Charge.Value!.Value, 1e-6);
        var life = Energy.LifeDays(2400, 0.7, Energy.AverageMicroamps(charge, 600), 0.025);
        Assert.Equal(life!.Value, plan.Life!.Value!.Value, 1e-6);
        Assert.Contains(plan.Life.Working.Inputs, i => i.Name == "Iavg");
        Assert.Contains(plan.Life.Working.Inputs, i => i.Name == "C" && i.Value == 2400);
    }

    [Fact]
    public void The_long_range_send_takes_its_time_on_air_and_its_tries()
    {
        // 12 bytes at SF9 and 125 kHz, from the SX1276 data sheet's formula worked by hand: 8 + ⌈(96 − 36 + 28 + 16) / 36⌉ · 5 = 23 symbols after 12.25, of
        // 4.096 ms. Nine of ten arrive, three tries: 1 + 0.1 + 0.01 on average.
        var send = Plan(Cistern).Wakes[0].Segments.Single(s => s.Key == "send").Duration;
        const double Air = (12.25 + 23) * 4.096;
        Assert.Equal(Air, send.Low!.Value, 0.001);
        Assert.Equal(Air * 1.11, send.Value!.Value, 0.001);
        Assert.Equal(Air * 3, send.High!.Value, 0.001);
        var deaf = Plan(Cistern with { Sending = new(Acknowledged: false) }).Wakes[0].Segments;
        Assert.Equal(Air, deaf.Single(s => s.Key == "send").Duration.Value!.Value, 0.001);
        Assert.DoesNotContain(deaf, s => s.Key == "listen");
    }

    [Fact]
    public void A_measured_sleep_current_replaces_the_catalogue()
    {
        var before = Plan(Cistern);
        var after = Plan(Cistern, new([new("cistern", PowerState.Asleep, 0.05, "multimeter", 1), new("cistern", PowerState.Asleep, 0.02, "again", 2)]));
        Assert.True(after.Life!.Value > before.Life!.Value * 1.5);
        Assert.Contains(after.Wakes[0].Segments[^1].Current.Working.From!.SelectMany(f => f.Working.Inputs), i => i.Source == "measured: again");
    }

    [Fact]
    public void Cold_lowers_the_low_end_only()
    {
        var (warm, cold) = (Plan(Cistern).Life!, Plan(Cistern, cold: true).Life!);
        Assert.Equal(warm.Value, cold.Value);
        Assert.True(cold.Low < warm.Low);
    }

    [Theory]
    [InlineData(9, 93.75)] // DS18B20 data sheet: 93.75, 187.5, 375, 750 ms
    [InlineData(10, 187.5)]
    [InlineData(11, 375)]
    [InlineData(12, 750)]
    public void Resolution_sets_the_time_to_measure(int bits, double ms)
    {
        var node = Samples.Node(("p", "ds18b20")) with { Sleeps = true, Readings = [Samples.Every("t", "p", "temperature", 60_000)] };
        node = node with { Parts = [node.Parts[0] with { Bits = bits }] };
        Assert.Equal(ms, Plan(node).Wakes[0].Segments.Single(s => s.Key == "measure").Duration.Value);
    }

    [Fact]
    public void Resolution_sets_the_charge_of_the_cycle()
    {
        double Charge(int bits)
        {
            var node = Samples.Node(("p", "ds18b20")) with { Sleeps = true, Readings = [Samples.Every("t", "p", "temperature", 60_000)] };
            return Plan(node with { Parts = [node.Parts[0] with { Bits = bits }] }).Charge.Value!.Value;
        }
        // The board is awake for the difference, and the probe measures: (65 + 1 − 10 asleep) mA for 375 ms more each time.
        var (nine, ten, eleven, twelve) = (Charge(9), Charge(10), Charge(11), Charge(12));
        Assert.Equal(4, (twelve - eleven) / (ten - nine), 0.02);
        Assert.Equal(2, (twelve - eleven) / (eleven - ten), 0.01);
        Assert.InRange((twelve - eleven) / 0.375, 54, 58);
    }

    [Fact]
    public void Slower_readings_share_wakes_as_often_as_asked_or_oftener()
    {
        var node = Samples.Node(("air", "bme280")) with
        {
            Sleeps = true,
            Readings =
            [
                Samples.Every("t", "air", "temperature", 60_000),
                Samples.Every("p", "air", "pressure", 600_000),
                Samples.Every("h", "air", "humidity", 150_000),
            ],
        };
        var plan = Plan(node);
        Assert.Equal(60_000, plan.PeriodMs);
        Assert.Equal([1, 10, 2], plan.Readings.Select(r => r.EveryWakes));
        Assert.Equal([60_000L, 600_000, 120_000], plan.Readings.Select(r => r.IntervalMs!.Value));
        // Every second wake reads the humidity too, every tenth all three.
        Assert.Equal([0.5, 0.4, 0.1], plan.Wakes.Select(w => w.Share).Order().Reverse());
    }

    [Fact]
    public void A_batch_is_sent_when_it_is_full()
    {
        var node = Samples.Node(("air", "bme280")) with
        {
            Sleeps = true,
            Board = Samples.Rp2040,
            Readings = [Samples.Every("t", "air", "temperature", 60_000) with { BatchOf = 10 }],
        };
        var plan = Plan(node);
        Assert.Equal(600_000, plan.SendEveryMs);
        Assert.Equal([(0.9, false), (0.1, true)], plan.Wakes.Select(w => (Math.Round(w.Share, 9), w.Sends.Count > 0)));
        Assert.DoesNotContain(plan.Wakes[0].Segments, s => s.Key is "connect" or "send");
        Assert.True(plan.Average.Value < Plan(node with { Readings = [node.Readings[0] with { BatchOf = 1 }] }).Average.Value / 1.5);
    }

    [Fact]
    public void A_part_whose_supply_is_switched_warms_up_and_throws_its_first_reading_away()
    {
        NodeDesign Node(bool switched) =>
            Samples.Node() with
            {
                Sleeps = true,
                Parts = [Samples.Part("dht", "dht22") with { SwitchSupply = switched }],
                Readings = [Samples.Every("t", "dht", "temperature", 600_000)],
            };
        double Ms(NodeDesign node, string key) => Plan(node).Wakes[0].Segments.Where(s => s.Key == key).Sum(s => s.Duration.Value!.Value);
        var part = Samples.Catalogue.Part("dht22")!;
        Assert.Equal(0, Ms(Node(false), "warm-up"));
        Assert.Equal(part.WarmUpMs!.Likely, Ms(Node(true), "warm-up"));
        Assert.Equal(part.ConversionMs!.Likely, Ms(Node(false), "measure"));
        Assert.Equal(part.ConversionMs.Likely + part.MinIntervalMs!.Likely, Ms(Node(true), "measure"));
    }

    [Fact]
    public void Events_and_pulses_cost_their_wakes()
    {
        NodeDesign Door(double perDay) =>
            Samples.Node(("door", "reed-contact")) with
            {
                Sleeps = true,
                Board = Samples.Rp2040,
                Readings = [Samples.OnChange("open", "door", "contact", 86_400_000) with { PerDay = perDay }],
            };
        var (none, some) = (Plan(Door(0)), Plan(Door(50)));
        var wake = some.Wakes.Single(w => w.Share == 0);
        Assert.Equal(50, wake.PerDay);
        var asleep = some.Wakes[0].Segments[^1].Current.Value!.Value;
        var extra = 50 * (wake.Charge.Value!.Value - asleep * wake.Segments.Sum(s => s.Duration.Value!.Value) / 1000) / 86_400;
        Assert.Equal(none.Average.Value!.Value + extra, some.Average.Value!.Value, 1e-9);
        var rain = Plan(
            Samples.Node(("gauge", "rain-gauge-tipping")) with
            {
                Sleeps = true,
                Readings = [Samples.Every("rain", "gauge", "rain", 900_000) with { PerDay = 400 }],
            }
        );
        Assert.Equal(400, rain.Wakes.Single(w => w.Share == 0).PerDay);
        Assert.Equal("pulse", Assert.Single(rain.Wakes.Single(w => w.Share == 0).Segments).Key);
    }

    [Fact]
    public void Cells_in_series_halve_the_current_of_a_step_up()
    {
        var node = Samples.Node(("air", "bme280")) with
        {
            Sleeps = true,
            Readings = [Samples.Every("t", "air", "temperature", 600_000)],
            Power = new(PowerKind.Cells, "alkaline-aa-x2", StepUp: true),
        };
        var (one, two) = (Plan(node), Plan(node with { Power = node.Power with { Series = 2 } }));
        var idle = Samples.Catalogue.Supply("boost-mt3608")!.QuiescentMilliamps!.Likely;
        Assert.Equal((one.Average.Value!.Value - idle) / 2, two.Average.Value!.Value - idle, 1e-9);
    }

    [Fact]
    public void An_always_on_node_has_bus_load_and_jitter()
    {
        var plan = Plan(
            Samples.Node(("air", "bme280"), ("lux", "bh1750")) with
            {
                Readings = [Samples.Every("t", "air", "temperature", 10_000), Samples.Every("l", "lux", "illuminance", 20_000)],
            }
        );
        var load = plan.Figures.Single(f => f.Label.StartsWith("Load of I2C", StringComparison.Ordinal));
        var bits = load.Working.Inputs.Where(i => i.Name.EndsWith("bits", StringComparison.Ordinal)).Select(i => i.Value).ToList();
        var clock = load.Working.Inputs.Single(i => i.Name == "clock").Value * 1000;
        Assert.Equal((bits[0] / 10 + bits[1] / 20) / clock * 100, load.Value!.Value, 1e-9);
        Assert.Contains(plan.Figures, f => f.Label == "Jitter of a reading" && f.High > 0);
        Assert.Equal("wait", plan.Wakes[0].Segments[^1].Key);
    }

    [Fact]
    public void Nonsense_gets_a_finding_and_no_infinity()
    {
        foreach (var interval in new long[] { 0, -5, 1, long.MaxValue })
        {
            var node = Samples.Node(("p", "ds18b20")) with
            {
                Sleeps = true,
                Power = new(PowerKind.Cells, "cell-18650", StepUp: true),
                Readings = [Samples.Every("t", "p", "temperature", interval), Samples.OnChange("c", "p", "temperature", interval) with { PerDay = 1e9 }],
            };
            var plan = Plan(node);
            Assert.True(double.IsFinite(plan.Average.Value!.Value) && plan.Average.Value > 0);
            Assert.True(interval == long.MaxValue || plan.Findings.Any(f => f.Code is "RHYTHM-INTERVAL-ZERO" or "RHYTHM-CONVERSION-LONG"));
        }
        // A conversion longer than the interval.
        Assert.Contains(Plan(Samples.Node(("p", "ds18b20")) with { Readings = [Samples.Every("t", "p", "temperature", 100)] }).Findings, f =>
            f is { Code: "RHYTHM-CONVERSION-LONG", Severity: Severity.Stop }
        );
    }

    [Fact]
    public void The_likely_days_of_a_change_are_those_of_its_plan() =>
        EnergyOracleTests.Nodes.Sample(
            node =>
            {
                var bench = BenchPlanner.Plan(node, Samples.Catalogue);
                var setting = new RhythmSetting(Samples.Catalogue, Evidence.None, Surroundings.Indoors, WorkBudget.Unbounded);
                var changed = node with
                {
                    Readings = [.. node.Readings.Select(r => r with { IntervalMs = r.IntervalMs * 3, BatchOf = 2 })],
                    Power = node.Power with { Parallel = 2 },
                };
                var days = setting.LikelyDays(changed, bench);
                return days is null
                    ? setting.Compute(changed, bench)!.Life is null
                    : Math.Abs(days.Value - setting.Compute(changed, bench)!.Life!.Value!.Value) <= 1e-9 * days.Value;
            },
            iter: 60
        );

    [Fact]
    public void A_bare_contact_has_no_supply_to_switch()
    {
        var plan = Plan(
            Samples.Node(("gauge", "rain-gauge-tipping")) with
            {
                Sleeps = true,
                Power = new(PowerKind.Cells, "cell-18650", StepUp: true),
                Readings = [Samples.Every("rain", "gauge", "rain", 900_000)],
            }
        );
        Assert.DoesNotContain(plan.Findings, f => f.Code == "RHYTHM-SLEEP-DRAIN");
        Assert.DoesNotContain(plan.Findings.SelectMany(f => f.Remedies), r => r.Label.Contains("supply of gauge", StringComparison.OrdinalIgnoreCase));
    }

    [Fact]
    public void A_working_is_the_same_each_time_it_is_asked_for()
    {
        var average = Plan(Cistern).Average;
        Assert.Same(average.Working, average.Working);
        Assert.Equal(Plan(Cistern).Average.Working.Formula, average.Working.Formula);
        Assert.Equal(Plan(Cistern).Average.Working.Inputs, average.Working.Inputs);
    }

    /// <summary>The worst node there is: a dev board that draws 10 mA asleep, every ten seconds by Wi-Fi, on two AA cells.
    /// No single change gains a tenth of a month; it gets the best advice all the same.</summary>
    [Fact]
    public void The_worst_node_gets_advice_that_helps()
    {
        var node = Samples.Node(("air", "bme280")) with
        {
            Sleeps = true,
            Power = new(PowerKind.Cells, "alkaline-aa-x2", StepUp: true),
            Readings = [Samples.Every("t", "air", "temperature", 10_000)],
        };
        var bench = BenchPlanner.Plan(node, Samples.Catalogue);
        var today = RhythmPlanner.Plan(node, bench, Samples.Catalogue, Evidence.None).Life!.Value!.Value;
        Assert.InRange(today, 0.3, 3);
        var gains = RhythmComparison.Of(node, bench, Samples.Catalogue, Evidence.None).Gains;
        Assert.NotEmpty(gains);
        Assert.Contains(';', gains[0].Label);
        // Each is what its edits give, and together they help many times over.
        foreach (var gain in gains)
        {
            var after = SitePlanner.Plan(EditBatch.Apply(Samples.Site(node), gain.Edits).Value.After, Samples.Catalogue, Evidence.None).Nodes[0].Rhythm;
            Assert.Equal(gain.Life.Value!.Value, after.Life!.Value!.Value, 1e-6);
            Assert.True(gain.Life.Value >= 1.25 * today);
        }
        Assert.True(gains[0].Life.Value > 30 * today, $"{gains[0].Life.Value} days of {today}");
        var drain = Assert.Single(SitePlanner.Plan(Samples.Site(node), Samples.Catalogue, Evidence.None).Findings, f => f.Code == "RHYTHM-BOARD-DRAIN");
        Assert.Contains("10 mA asleep", drain.What);
        Assert.NotEmpty(drain.Remedies);
    }

    /// <summary>Readings with intervals and batches of their own: every wake of a long time is gone through,
    /// and the least distance of two sends is held against the stated one.</summary>
    [Fact]
    public void The_least_time_between_two_sends_is_that_of_a_brute_force()
    {
        var random = new Random(20);
        for (var n = 0; n < 200; n++)
        {
            var (every, batch) = (
                Enumerable.Range(0, random.Next(1, 4)).Select(_ => random.Next(1, 7)).ToArray(),
                new[] { random.Next(1, 6), random.Next(1, 6), random.Next(1, 6) }
            );
            // The shortest interval sets the wakes.
            every[0] = 1;
            string[] quantities = ["temperature", "humidity", "pressure"];
            var node = Samples.Node(("air", "bme280")) with
            {
                Readings = [.. every.Select((e, i) => Samples.Every(quantities[i], "air", quantities[i], 60_000L * e) with { BatchOf = batch[i] })],
            };
            var sends = Enumerable
                .Range(0, 60 * 60)
                .Where(wake => every.Select((e, i) => wake % e == 0 && (wake / e + 1) % batch[i] == 0).Any(s => s))
                .ToList();
            var least = sends.Zip(sends.Skip(1)).Min(p => p.Second - p.First) * 60_000L;
            Assert.Equal(least, RhythmPlanner.Plan(node, BenchPlanner.Plan(node, Samples.Catalogue), Samples.Catalogue, Evidence.None).LeastSendGapMs);
        }
    }

    /// <summary>
    /// By hand: a coin cell has 2.0 V near its end and up to 100 Ω. LoRa takes up to 120 mA and the board 35 mA: 15.5 V would be lost in the cell, more than it
    /// has. An AA cell of lithium thionyl chloride with 30 Ω would lose 4.65 V of its 2.0.
    /// </summary>
    [Theory]
    [InlineData("cr2032")]
    [InlineData("cell-lisocl2-aa")]
    public void A_cell_whose_resistance_takes_more_than_its_voltage_cannot_give_the_current(string cell)
    {
        var node = Samples.Node(("air", "bme280"), ("radio", "lora-sx1276")) with
        {
            Board = "rp2040-40",
            Link = LinkKind.LongRange,
            Sleeps = true,
            Power = new(PowerKind.Cells, cell),
            Readings = [Samples.Every("t", "air", "temperature", 600_000)],
        };
        var finding = Assert.Single(Plan(node).Findings, f => f.Code == "RHYTHM-BROWN-OUT");
        Assert.Contains("cannot give 155 mA at all", finding.What);
        Assert.Contains("its own resistance takes more than its voltage", finding.What);
        // A stiff cell sags, by 0.08 Ω · 0.155 A, and is not short of anything.
        Assert.DoesNotContain(Plan(node with { Power = new(PowerKind.Cells, "cell-18650") }).Findings, f => f.Code == "RHYTHM-BROWN-OUT");
    }
}
