using Cenotic.Core.Bench;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

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
        RhythmPlanner.Plan(node, BenchPlanner.Plan(node, Samples.Catalogue), Samples.Catalogue, evidence ?? Evidence.None, cold);

    [Fact]
    public void The_cycle_adds_up_to_its_period_and_its_charge()
    {
        foreach (var node in Samples.Fernhollow().Design.Nodes)
        {
            var plan = Plan(node);
            Assert.Equal(plan.PeriodMs, plan.Segments.Sum(s => s.Duration.Value!.Value), 0.001);
            Assert.Equal(plan.Charge.Value!.Value, plan.Segments.Sum(s => s.Charge.Value!.Value), 1e-6);
            Assert.Equal(1, plan.Drains.Sum(d => d.Share), 0.001);
            Assert.True(plan.Average.Low < plan.Average.Value && plan.Average.Value < plan.Average.High);
        }
    }

    [Fact]
    public void The_average_agrees_with_the_energy_formula()
    {
        // The plan and the plain formula are two ways to the same figure.
        var plan = Plan(Cistern with { Power = new(PowerKind.Cells, "alkaline-aa-x2"), Board = Samples.Rp2040, Parts = [Samples.Part("air", "bme280")], Readings = [Samples.Every("t", "air", "temperature", 600_000)], Link = LinkKind.Wifi, MeasuresSupply = false });
        var awake = plan.Segments.SkipLast(1).Select(s => (s.Current.Value!.Value, s.Duration.Value!.Value)).ToList();
        var charge = Energy.ChargeMilliampSeconds(awake, plan.Segments[^1].Current.Value!.Value * 1000, 600);
        Assert.Equal(charge, plan.Charge.Value!.Value, 1e-6);
        var life = Energy.LifeDays(2400, 0.7, Energy.AverageMicroamps(charge, 600), 0.025);
        Assert.Equal(life!.Value, plan.Life!.Value!.Value, 1e-6);
        Assert.Contains(plan.Life.Working.Inputs, i => i.Name == "Iavg");
        Assert.Contains(plan.Life.Working.Inputs, i => i.Name == "C" && i.Value == 2400);
    }

    [Fact]
    public void The_long_range_send_takes_its_time_on_air()
    {
        // 16 bytes at SF9 and 125 kHz, from the SX1276 data sheet's formula worked by hand: 28 payload symbols... (12.25 + 28) x 4.096 ms.
        var send = Plan(Cistern).Segments.Single(s => s.Key == "send");
        Assert.Equal((12.25 + 28) * 4.096, send.Duration.Value!.Value, 0.001);
    }

    [Fact]
    public void A_measured_sleep_current_replaces_the_catalogue()
    {
        var before = Plan(Cistern);
        var after = Plan(Cistern, new([new("cistern", PowerState.Asleep, 0.05, "multimeter", 1), new("cistern", PowerState.Asleep, 0.02, "again", 2)]));
        Assert.True(after.Life!.Value > before.Life!.Value * 1.5);
        Assert.Contains(after.Segments[^1].Current.Working.From!.SelectMany(f => f.Working.Inputs), i => i.Source == "measured: again");
    }

    [Fact]
    public void Cold_lowers_the_low_end_only()
    {
        var (warm, cold) = (Plan(Cistern).Life!, Plan(Cistern, cold: true).Life!);
        Assert.Equal(warm.Value, cold.Value);
        Assert.True(cold.Low < warm.Low);
    }

    [Theory]
    [InlineData(9, 93.75)]
    [InlineData(12, 750)]
    public void Resolution_sets_the_time_to_measure(int bits, double ms)
    {
        var node = Samples.Node(("p", "ds18b20")) with { Sleeps = true, Readings = [Samples.Every("t", "p", "temperature", 60_000)] };
        node = node with { Parts = [node.Parts[0] with { Bits = bits }] };
        Assert.Equal(ms, Plan(node).Segments.Single(s => s.Key == "measure").Duration.Value);
    }

    [Fact]
    public void Slower_readings_share_wakes()
    {
        var node = Samples.Node(("air", "bme280")) with { Sleeps = true, Readings = [Samples.Every("t", "air", "temperature", 60_000), Samples.Every("p", "air", "pressure", 600_000)] };
        var plan = Plan(node);
        Assert.Equal(60_000, plan.PeriodMs);
        Assert.Equal([1, 10], plan.Readings.Select(r => r.EveryWakes));
    }
}
