using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Named cases that a practitioner would check by hand.</summary>
public class CasesTests
{
    [Fact]
    public void Two_air_sensors_share_a_bus_with_different_straps()
    {
        var plan = Samples.Plan(Samples.Node(("a", "bme280"), ("b", "bme280")));
        Assert.Equal(["I2C 0", "I2C 0"], plan.Parts.Select(p => p.Bus));
        Assert.Equal([0x76, 0x77], plan.Parts.Select(p => p.Address!.Value).Order());
        Assert.Contains(plan.Parts, p => p.Strap!.StartsWith("SDO to VCC", StringComparison.Ordinal));
    }

    [Fact]
    public void A_third_goes_to_the_second_bus_and_a_fifth_to_spi()
    {
        var three = Samples.Plan(Samples.Node(("a", "bme280"), ("b", "bme280"), ("c", "bme280")));
        Assert.Equal(2, three.Parts.Select(p => p.Bus).Distinct().Count());
        Assert.True(three.Complete);
        var five = Samples.Plan(Samples.Node([.. Enumerable.Range(0, 5).Select(i => ($"p{i}", "bme280"))]));
        Assert.Contains(five.Parts, p => p.Interface == InterfaceKind.Spi);
        Assert.True(five.Complete);
    }

    [Fact]
    public void Five_light_sensors_cannot_have_an_address_each()
    {
        var plan = Samples.Plan(Samples.Node([.. Enumerable.Range(0, 5).Select(i => ($"p{i}", "bh1750"))]) with { AddsModules = false });
        Assert.False(plan.Complete);
        Assert.Contains("address", plan.Findings.Single(f => f.Code == "BENCH-CONFLICT").Why);
        Assert.Equal(4, plan.Parts.Count);
    }

    [Fact]
    public void A_five_volt_echo_gets_the_divider()
    {
        var plan = Samples.Plan(Samples.Node(("echo", "hc-sr04")));
        var divider = plan.Additions.Single(c => c.For == "echo.ECHO");
        Assert.Equal("10 kΩ over 15 kΩ", divider.Value);
        Assert.InRange(divider.Figures[0].High!.Value, 3.2, 3.3);
        Assert.InRange(divider.Figures[0].Low!.Value, 2.475, 2.8);
        Assert.Contains("R2 / (R1 + R2)", divider.Figures[0].Working.Formula);
    }

    [Fact]
    public void A_relay_input_that_floats_at_five_volts_gets_a_transistor() =>
        Assert.Contains("NPN", Samples.Plan(Samples.Node(("fan", "relay-5v-1ch"))).Additions.Single(c => c.For == "fan.IN").What);

    [Fact]
    public void Four_probes_share_one_wire_and_one_pull_up()
    {
        var plan = Samples.Plan(Samples.Node([.. Enumerable.Range(0, 4).Select(i => ($"p{i}", "ds18b20"))]));
        Assert.Single(plan.Wires.Where(w => w.Line == "DQ").Select(w => w.Pin).Distinct());
        Assert.Equal("4.7 kΩ", Assert.Single(plan.Additions).Value);
        Assert.Equal(3, plan.Cost.Splices);
    }

    [Fact]
    public void A_battery_is_measured_on_the_converter_that_works_beside_wifi()
    {
        var node = Samples.Node(("a", "bme280")) with { Power = new(PowerKind.Cells, "cell-18650", 1, true), MeasuresSupply = true };
        Assert.Contains(Samples.Gpio(Samples.Plan(node), "board", "SUPPLY"), new[] { 32, 33, 34, 35, 36, 39 });
    }

    [Fact]
    public void A_contact_that_wakes_gets_its_own_pull_up_on_a_pin_that_wakes()
    {
        var node = Samples.Node(("door", "reed-contact")) with { Sleeps = true, Readings = [Samples.OnChange("door", "door", "contact")] };
        var plan = Samples.Plan(node);
        Assert.True(Samples.Board().Pin(plan.Line("door", "A")!.Pin).Wakes);
        Assert.Equal("1 MΩ", plan.Additions.Single().Value);
    }

    [Fact]
    public void Fixed_roles_hold_on_the_40_pin_board()
    {
        var node = Samples.Node(("air", "bme280"), ("radar", "ld2410"), ("radio", "lora-sx1276")) with { Board = Samples.Rp2040 };
        node = node with { Parts = [.. node.Parts.Select(p => p.Part == "ld2410" ? p with { Interface = InterfaceKind.Uart } : p)] };
        var plan = Samples.Plan(node);
        Assert.True(plan.Complete);
        var board = Samples.Board(Samples.Rp2040);
        string Role(string part, string line, Func<Pin, IReadOnlyList<string>> of) => of(board.Pin(plan.Line(part, line)!.Pin)).Single();
        Assert.Equal(Role("air", "SDA", p => p.I2c)[..4], Role("air", "SCL", p => p.I2c)[..4]);
        var spi = Role("radio", "SCK", p => p.Spi)[..4];
        Assert.Equal(
            [$"{spi} SCK", $"{spi} TX", $"{spi} RX"],
            [Role("radio", "SCK", p => p.Spi), Role("radio", "MOSI", p => p.Spi), Role("radio", "MISO", p => p.Spi)]
        );
        Assert.Equal(Role("radar", "TX", p => p.Uart)[..2] + " RX", Role("radar", "TX", p => p.Uart));
    }

    [Fact]
    public void The_runner_up_costs_more_and_uses_another_pin()
    {
        var node = Samples.Node(("pir", "pir-hc-sr501"));
        var plan = Samples.Plan(node);
        var second = BenchPlanner.RunnerUp(node, Samples.Catalogue, "pir", "OUT", out var pin);
        Assert.NotEqual(plan.Line("pir", "OUT")!.Pin, pin);
        Assert.True(plan.Cost.CompareTo(second!.Value) <= 0);
        Assert.Null(BenchPlanner.RunnerUp(node, Samples.Catalogue, "pir", "NONE", out _));
    }

    [Fact]
    public void Offers_say_why_a_pin_is_unfit()
    {
        var offers = BenchPlanner.Offers(Samples.Node(("fan", "relay-5v-1ch")), Samples.Catalogue, "fan", "IN");
        string Why(int gpio) => string.Join(" ", offers.Single(o => o.Pin == Samples.Board().Pins.Single(p => p.Gpio == gpio).Id).Refusals);
        Assert.Contains("flash", Why(6));
        Assert.Contains("can only read", Why(34));
        Assert.Contains("switch on by itself", Why(5));
        Assert.Contains("wait in its loader", Why(0));
        Assert.Contains("USB-serial", Why(1));
        Assert.Equal("", Why(25));
    }

    [Fact]
    public void The_wiring_table_begins_with_ground_and_names_a_colour_for_each_wire()
    {
        var plan = Samples.Plan(Samples.Fernhollow().Design.Node("drying")!);
        Assert.Equal(plan.Wires.OrderBy(w => w.Kind).Select(w => w.Order), Enumerable.Range(1, plan.Wires.Count));
        Assert.All(plan.Wires, w => Assert.False(string.IsNullOrEmpty(w.Reason)));
        Assert.All(plan.Wires.Where(w => w.Form == WireForm.Wire), w => Assert.Equal(w.Kind == WireKind.Ground, w.Colour == "black"));
        Assert.All(plan.Wires.Where(w => w is { Form: WireForm.Wire, Kind: WireKind.Bus or WireKind.Signal }), w =>
            Assert.DoesNotContain(w.Colour, new[] { "", "black", "red", "orange", "brown" })
        );
    }
}
