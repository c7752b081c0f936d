using Cenotic.Core.Bench;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Tests.Rhythm;

public class HarvestTests
{
    private static readonly HarvestDesign Sun = new(30, 15, LightKind.Sun, LatitudeDegrees: 50);

    private static NodeDesign Node(HarvestDesign harvest, PowerDesign? power = null) => Samples.Node(("air", "bme280")) with
    {
        Sleeps = true, Board = Samples.Rp2040, Readings = [Samples.Every("t", "air", "temperature", 600_000)], Power = (power ?? new(PowerKind.Cells, "lifepo4-18650")) with { Harvest = harvest },
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
        Assert.Equal(StorageCapacitor.FromCharge(awake, 3.6, 2.25), harvest.SmallestCapacitor!.Value!.Value, 1e-6);
        Assert.Equal(Math.Floor(470_000 * 1.35 / awake), harvest.Bursts!.Value);
        Assert.Equal((Math.Floor(235_000 * 1.35 / awake), Math.Floor(564_000 * 1.35 / awake)), (harvest.Bursts.Low!.Value, harvest.Bursts.High!.Value));
        var rest = plan.Wakes[0].Segments[^1].Current.Value!.Value;
        Assert.Equal((470_000 * 1.35 - awake) / (rest * 1000) / 3600, harvest.Dark!.Value!.Value, 1e-6);
        var june = harvest.Months[5];
        var whileLit = june.Gathered.Value!.Value / june.LitHours;
        Assert.Equal(whileLit > rest ? awake / ((whileLit - rest) * 1000) : null, june.IntervalSeconds);
        Assert.Null(plan.Life);
    }

    [Fact]
    public void Behind_a_switching_converter_the_energy_counts()
    {
        var power = new PowerDesign(PowerKind.Capacitor, StepUp: true);
        var harvest = Plan(Node(Sun with { CapacitorMicrofarads = 1_000_000, StartVolts = 5, StopVolts = 3 }, power) with { Board = Samples.Esp32 }).Harvest!;
        var charge = harvest.Burst!.Value!.Value * 1000;
        // The charge is what the converter takes at the middle of the window, 4 V.
        Assert.Equal(2 * charge * 4 / (25 - 9), harvest.SmallestCapacitor!.Value!.Value, 1e-3);
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
