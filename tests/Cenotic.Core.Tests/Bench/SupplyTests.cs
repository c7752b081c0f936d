using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Rails, buses and what stands between, with figures worked by hand.</summary>
public class SupplyTests
{
    private static NodeSupply Supply(string board, PowerDesign power) => NodeSupply.Of(Samples.Board(board), power, Samples.Catalogue);

    [Fact]
    public void Over_usb_both_rails_are_there()
    {
        Assert.Equal(["5v", "3v3"], Supply(Samples.Esp32, new(PowerKind.Usb)).Rails.Select(r => r.Id));
        Assert.Equal(["vbus", "3v3"], Supply(Samples.Rp2040, new(PowerKind.Usb)).Rails.Select(r => r.Id));
    }

    [Fact]
    public void A_five_volt_supply_takes_the_place_of_the_usb_rail()
    {
        var rails = Supply(Samples.Rp2040, new(PowerKind.FiveVolt)).Rails;
        Assert.Equal(["vsys", "3v3"], rails.Select(r => r.Id));
        Assert.Equal(700, rails[0].BudgetMilliamps.Likely);
        Assert.Equal(700, Supply(Samples.Esp32, new(PowerKind.FiveVolt)).Rails[0].BudgetMilliamps.Likely);
    }

    [Theory]
    [InlineData(Samples.Esp32, "cell-18650", false, null)] // 3.0 to 4.2 V fits neither the 5 V nor the 3.3 V pin
    [InlineData(Samples.Esp32, "cell-18650", true, "5v")]
    [InlineData(Samples.Esp32, "lifepo4-18650", false, null)] // 3.65 V full is above 3.6 V
    [InlineData(Samples.Rp2040, "cell-18650", false, "vsys")]
    [InlineData(Samples.Rp2040, "alkaline-aa-x2", false, "vsys")]
    public void Cells_go_to_an_input_that_takes_them_full_and_empty(string board, string cell, bool stepUp, string? input) =>
        Assert.Equal(input, Supply(board, new(PowerKind.Cells, cell, 1, stepUp)).Input?.Id);

    [Fact]
    public void A_part_takes_the_logic_rail_where_it_can()
    {
        var supply = Supply(Samples.Esp32, new(PowerKind.Usb));
        string? Rail(string part) => supply.For(Samples.Catalogue.Part(part)!, Samples.Board())?.Id;
        Assert.Equal(
            ["3v3", "3v3", "3v3", "5v", "5v", "5v"],
            new[] { "ds18b20", "bme280", "lora-sx1276", "hc-sr04", "pir-hc-sr501", "relay-5v-1ch" }.Select(Rail)
        );
    }

    [Fact]
    public void Loads_add_up_and_the_3v3_rail_counts_on_the_rail_that_feeds_it()
    {
        var plan = Samples.Plan(Samples.Node(("radar", "ld2410"), ("radio", "lora-sx1276")));
        var (five, three) = (plan.Rails.Single(r => r.Rail == "5v"), plan.Rails.Single(r => r.Rail == "3v3"));
        Assert.Equal(11.5, three.Typical.Value!.Value, 1e-9);
        Assert.Equal(80 + 11.5, five.Typical.Value!.Value, 1e-9);
        Assert.Equal(200 + 120, five.Peak.Value!.Value, 1e-9);
        Assert.Equal(2, five.Peak.Working.Inputs.Count);
    }

    [Fact]
    public void A_bus_without_pull_ups_gets_a_pair()
    {
        // The catalogue with a sensor that has none on its module.
        var bare = Samples.Catalogue.Part("bme280")! with { Id = "bare", PullUpOhms = null, Interfaces = [Samples.Catalogue.Part("bme280")!.Interfaces[0]] };
        var hardware = new HardwareCatalogue(Samples.Catalogue.Boards, [bare], Samples.Catalogue.Cells, Samples.Catalogue.Supplies);
        var plan = BenchPlanner.Plan(Samples.Node(("a", "bare")), hardware);
        Assert.Equal("two 4.7 kΩ resistors", Assert.Single(plan.Additions).What);
        Assert.Equal(4700, plan.Buses[0].Figures.Single(f => f.Label == "Pull-up in effect").Value);
    }

    [Fact]
    public void A_long_bus_gets_stronger_pull_ups_within_the_limits()
    {
        var node = Samples.Node(("a", "bme280"));
        var plan = Samples.Plan(node with { Parts = [node.Parts[0] with { LeadMetres = 2.5 }] });
        var figures = plan.Buses[0].Figures.ToDictionary(f => f.Label, f => f.Value!.Value);
        Assert.Equal(20 + 10 + 250, figures["Bus capacitance"]);
        Assert.InRange(figures["Pull-up in effect"], figures["Smallest allowed"], figures["Largest allowed"]);
        Assert.InRange(figures["Rise time"], 0, 1000);
    }

    [Fact]
    public void A_switched_supply_adds_a_switch_that_is_quiet_at_start()
    {
        var node = Samples.Node(("echo", "hc-sr04"));
        var plan = Samples.Plan(node with { Parts = [node.Parts[0] with { SwitchSupply = true }] });
        Assert.Contains(plan.Additions, c => c.For == "echo.PWR" && c.What.Contains("MOSFET"));
        Assert.DoesNotContain(Samples.Gpio(plan, "echo", "PWR"), new[] { 0, 1, 3, 5, 14, 15, 12 });
        Assert.True(plan.Loads.Single().Switched);
        Assert.Equal("echo.PWR/switch/Q1:D", plan.Wire("echo", "VCC")!.Pin);
    }

    [Fact]
    public void A_pull_up_that_is_added_is_the_weakest_usual_one_that_is_fast_enough()
    {
        // 400 kHz for the images; two modules with 10 kΩ each, 5 kΩ together. 20 + 2 · 10 + 100 · metres
        // pF and 300 ns / (0.8473 · C): 5.9, 3.5, 2.7 and 2.2 kΩ (UM10204).
        NodeDesign Node(double metres) =>
            Samples.Node(("heat", "mlx90640"), ("air", "bme280")) is var node
                ? node with
                {
                    Readings = [Samples.Every("t", "heat", "object-temperature", 100)],
                    Parts = [.. node.Parts.Select(p => p with { LeadMetres = metres / 2 })],
                }
                : null!;
        foreach (var (metres, added) in new[] { (0.2, ""), (0.6, "10 kΩ"), (0.9, "4.7 kΩ"), (1.2, "3.3 kΩ") })
        {
            var plan = Samples.Plan(Node(metres));
            Assert.Equal(added, plan.Additions.FirstOrDefault(a => a.Key == "I2C 0/pull-ups")?.Value ?? "");
        }
    }

    [Fact]
    public void A_supply_that_no_pin_can_measure_is_said_and_the_wish_stays()
    {
        var node = Samples.Node(("air", "bme280")) with
        {
            Board = "linux-sbc-40",
            Power = new(PowerKind.Cells, "cell-18650", StepUp: true, AlsoUsb: true),
            MeasuresSupply = true,
            AddsModules = false,
            Link = LinkKind.Cable,
        };
        var plan = Samples.Plan(node);
        Assert.False(plan.Complete);
        Assert.Equal(
            ["Let the planner add a converter", "Do not measure the supply"],
            plan.Findings.Single(f => f.Code == "BENCH-SUPPLY-SENSE").Remedies.Select(r => r.Label)
        );
        // The parts are planned all the same, and a remedy of something else does not drop the wish.
        Assert.NotNull(plan.Line("air", "SDA"));
        Assert.All(plan.Findings.Where(f => f.Code == "BENCH-BACKFEED").SelectMany(f => f.Remedies).SelectMany(r => r.Edits).OfType<SetNode>(), e =>
            Assert.True(e.MeasuresSupply)
        );
        Assert.Contains(plan.Findings, f => f.Code == "BENCH-BACKFEED" && f.Remedies.Count > 0);
    }

    [Fact]
    public void Conflicts_leave_out_as_few_parts_as_can_be()
    {
        // Four serial parts, two ports and one made by the program: one goes, whatever the order they stand in.
        string[][] orders =
        [
            ["pms5003", "hc-12", "sim800-modem", "hc-12"],
            ["sim800-modem", "pms5003", "hc-12", "hc-12"],
        ];
        foreach (var order in orders)
        {
            var node = Samples.Node([.. order.Select((p, i) => ($"s{i}", p)), ("air", "bme280")]) with
            {
                Board = "rp2040-40",
                AddsModules = false,
                Power = new(PowerKind.FiveVolt, RatedAmps: 3, Rails: [new(4, "buck-mp2315")]),
                Link = LinkKind.LongRange,
            };
            var plan = Samples.Plan(node);
            Assert.Equal(4, plan.Parts.Count);
            Assert.Contains(
                $"Left out of the plan: {node.Parts.Single(p => plan.Parts.All(o => o.Part != p.Key)).Label}.",
                plan.Findings.Single(f => f.Code == "BENCH-CONFLICT").Why
            );
        }
    }

    [Fact]
    public void A_cable_before_a_converter_takes_nothing_from_the_regulator_behind_it()
    {
        NodeDesign Fed(PowerDesign power) => Samples.Node(("air", "bme280")) with { Power = power };
        double Holds(PowerDesign power) =>
            Samples.Plan(Fed(power)).Power.Single(f => f.Label.Contains("what it can hold", StringComparison.Ordinal)).Value!.Value;
        PowerDesign twelve = new(PowerKind.TwelveVolt, Module: "buck-mp1584", LeadAwg: 24),
            five = new(PowerKind.FiveVolt, LeadAwg: 24);
        Assert.Equal(Holds(twelve), Holds(twelve with { LeadMetres = 10 }), 1e-9);
        Assert.True(Holds(five with { LeadMetres = 10 }) < Holds(five) - 0.1);
    }

    [Fact]
    public void Bursts_and_dips_are_carried_by_capacitors()
    {
        var figures = Samples.Plan(Samples.Node(("air", "scd41"), ("dust", "pms5003"))).Power.ToDictionary(f => f.Label, f => f.Value!.Value);
        // What the part asks for comes first: 10 uF. 10 and 100 uF at the parts.
        Assert.Equal(10, figures["Capacitor for the bursts of air"]);
        Assert.Equal(110, figures["Capacitance that charges at switch-on"]);
        Assert.Equal(110 * 0.6 / figures["Usual current at the source"], figures["These hold the node through a dip for"], 1e-6);
        // Board over Wi-Fi 120 mA, air 15 mA, dust 100 mA.
        Assert.Equal(120 + 15 + 100, figures["Usual current at the source"], 1e-6);
        Assert.Equal(Math.Ceiling(1.3 * figures["Peak current at the source"] / 100) * 100, figures["Supply to choose"]);
    }

    [Fact]
    public void Power_over_the_cable_says_what_its_module_needs_in_which_order()
    {
        var findings = Samples.Plan(Samples.Node(("air", "bme280")) with { Board = "esp32-eth-rmii-26", Power = new(PowerKind.OverCable) }).Findings;
        Assert.Contains(findings, f => f.Code == "BENCH-CAUTION" && f.What.Contains("off until power-good", StringComparison.Ordinal));
        Assert.Contains(findings, f => f.What.Contains("10 mA at least on the cable", StringComparison.Ordinal));
    }
}
