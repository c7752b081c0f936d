using Cenotic.Core.Bench;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Tests.Rhythm;

public class HarvestTests
{
    private static readonly HarvestDesign Sun = new(30, 15, LightKind.Sun, LatitudeDegrees: 50);

    private static NodeDesign Node(HarvestDesign harvest, PowerDesign? power = null) =>
        Samples.Node(("air", "bme280")) with
        {
            Sleeps = true,
            Board = Samples.Rp2040,
            Readings = [Samples.Every("t", "air", "temperature", 600_000)],
            Power = (power ?? new(PowerKind.Cells, "lifepo4-18650")) with { Harvest = harvest },
        };

    private static RhythmPlan Plan(NodeDesign node) => RhythmPlanner.Plan(node, BenchPlanner.Plan(node, Samples.Catalogue), Samples.Catalogue, Evidence.None);

    [Fact]
    public void A_day_of_sun_by_hand()
    {
        var month = Plan(Node(Sun with { Clearness = 0.5 })).Harvest!.Months[5];
        // June: light above the air, half of it, 30 cm² at 15 %, converter 0.85, at the 3.2 V of the cell.
        var cell = Samples.Catalogue.Cell("lifepo4-18650")!.NominalVolts;
        var expected = SunLight.WattHoursAboveAir(50, 167) * 0.5 * 30e-4 * 0.15 * 0.85 / cell * 1000;
        Assert.Equal(6, month.Month);
        Assert.Equal(expected, month.Gathered.Value!.Value, 1e-9);
        Assert.Equal(month.Gathered.Value!.Value - Plan(Node(Sun)).Average.Value!.Value * 24, month.Left, 1e-9);
    }

    [Fact]
    public void A_lamp_and_a_table_give_the_same_every_day_and_what_they_say()
    {
        var lamp = Plan(Node(new(30, 10, LightKind.Lamp, Lux: 600, HoursPerDay: 10))).Harvest!;
        Assert.Single(lamp.Months.Select(m => Math.Round(m.Gathered.Value!.Value, 9)).Distinct());
        // 600 lx at 300 lm/W are 2 W/m²: 20 Wh/m² in ten hours.
        var table = Plan(Node(new(30, 10, LightKind.Table, WattHoursPerSquareMetre: [.. Enumerable.Repeat(20.0, 12)]))).Harvest!;
        Assert.Equal(table.Months[0].Gathered.Value!.Value, lamp.Months[0].Gathered.Value!.Value, 1e-9);
    }

    [Fact]
    public void A_capacitor_is_sized_for_the_longest_wake()
    {
        var node = Node(Sun with { CapacitorMicrofarads = 470_000 }, new(PowerKind.Capacitor));
        var plan = Plan(node);
        var harvest = plan.Harvest!;
        var awake = plan.Wakes[0].Segments.SkipLast(1).Sum(s => s.Charge.Value!.Value) * 1000;
        Assert.Equal(awake, harvest.Burst!.Value!.Value * 1000, 1e-6);
        // The smallest capacitor is for the worst wake.
        var (least, most) = (
            plan.Wakes[0].Segments.SkipLast(1).Sum(s => s.Charge.Low!.Value) * 1000,
            plan.Wakes[0].Segments.SkipLast(1).Sum(s => s.Charge.High!.Value) * 1000
        );
        Assert.Equal(StorageCapacitor.FromCharge(most, 3.6, 2.25), harvest.SmallestCapacitor!.Value!.Value, 1e-6);
        Assert.Equal(Math.Floor(470_000 * 1.35 / awake), harvest.Bursts!.Value);
        Assert.Equal((Math.Floor(235_000 * 1.35 / most), Math.Floor(564_000 * 1.35 / least)), (harvest.Bursts.Low!.Value, harvest.Bursts.High!.Value));
        var rest = plan.Wakes[0].Segments[^1].Current.Value!.Value;
        Assert.Equal((470_000 * 1.35 - awake) / (plan.Average.Value!.Value * 1000) / 3600, harvest.Dark!.Value!.Value, 1e-6);
        Assert.Contains(harvest.Dark.Working.Inputs, i => i.Name == "Iavg");
        var june = harvest.Months[5];
        var whileLit = june.Gathered.Value!.Value / june.LitHours;
        Assert.Equal(whileLit > rest ? awake / ((whileLit - rest) * 1000) : null, june.IntervalSeconds);
        Assert.Null(plan.Life);
    }

    /// <summary>Wake after wake by hand, from full: how long until the capacitor can no longer give the next one.</summary>
    [Theory]
    [InlineData(10_000, 100_000)]
    [InlineData(60_000, 470_000)]
    [InlineData(600_000, 1_000_000)]
    public void Dark_endurance_is_that_of_a_node_that_goes_on_waking(long interval, double microfarads)
    {
        var plan = Plan(
            Node(Sun with { CapacitorMicrofarads = microfarads }, new(PowerKind.Capacitor)) with
            {
                Readings = [Samples.Every("t", "air", "temperature", interval)],
            }
        );
        var segments = plan.Wakes[0].Segments;
        var awake = segments.SkipLast(1).Sum(s => s.Charge.Value!.Value);
        var (asleep, awakeSeconds) = (segments[^1].Current.Value!.Value, segments.SkipLast(1).Sum(s => s.Duration.Value!.Value) / 1000);
        var (held, seconds) = (microfarads * (3.6 - 2.25) / 1000, 0.0);
        while (held >= awake)
        {
            held -= awake + asleep * (interval / 1000.0 - awakeSeconds);
            seconds += interval / 1000.0;
        }
        Assert.Equal(seconds / 3600, plan.Harvest!.Dark!.Value!.Value, interval / 3_600_000.0);
    }

    /// <summary>100 µF from 3.6 to 2.4 V, 60 to 144 µC with its tolerance, and a wake of 56 to
    /// 166 µC: none at the worst, two at the best (hand-worked).</summary>
    [Fact]
    public void Bursts_of_the_worst_and_the_best()
    {
        Assert.Equal(
            (0, 1, 2),
            (StorageCapacitor.Bursts(50, 166, 3.6, 2.4), StorageCapacitor.Bursts(100, 100, 3.6, 2.4), StorageCapacitor.Bursts(120, 56, 3.6, 2.4))
        );
    }

    [Fact]
    public void Behind_a_switching_converter_the_energy_counts()
    {
        var power = new PowerDesign(PowerKind.Capacitor, StepUp: true);
        var harvest = Plan(Node(Sun with { CapacitorMicrofarads = 1_000_000, StartVolts = 5, StopVolts = 3 }, power) with { Board = Samples.Esp32 }).Harvest!;
        var charge = harvest.Burst!.Value!.Value * 1000;
        // The charge is what the converter takes at the middle of the window, 4 V.
        Assert.Equal(2 * harvest.Burst.High!.Value * 1000 * 4 / (25 - 9), harvest.SmallestCapacitor!.Value!.Value, 1e-3);
        Assert.Equal(Math.Floor(1_000_000 * 16 / 2 / (charge * 4)), harvest.Bursts!.Value);
    }

    [Fact]
    public void A_capacitor_that_can_never_fill_is_said_so()
    {
        var dark = Plan(Node(new(1, 1, LightKind.Lamp, Lux: 10, HoursPerDay: 1, CapacitorMicrofarads: 1000), new(PowerKind.Capacitor)));
        Assert.Contains(dark.Findings, f => f.Code == "RHYTHM-CAP-NEVER");
        Assert.Contains(dark.Findings, f => f.Code == "RHYTHM-CAP-SMALL");
        Assert.All(dark.Harvest!.Months, m => Assert.Null(m.IntervalSeconds));
        Assert.Null(dark.Harvest.Interval);
    }
}
