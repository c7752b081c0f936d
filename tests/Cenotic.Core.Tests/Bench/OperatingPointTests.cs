using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Tests.Bench;

/// <summary>The planner's figures against the operating points of its own circuit by Kirchhoff's laws: within
/// 1 % for resistors, within the planner's band where a junction is in it.</summary>
public class OperatingPointTests
{
    private const string Five = "rail 5v",
        Logic = "rail 3v3";

    private static Figure Figure(BenchPlan plan, string addition, string label) =>
        plan.Additions.Single(a => a.Key == addition).Figures.Single(f => f.Label == label);

    private static void Near(double? figure, double solved) => Assert.InRange(figure!.Value, solved * 0.99, solved * 1.01);

    [Theory]
    [InlineData("hc-sr04", "ECHO")]
    [InlineData("ook-rx-433", "DATA")]
    public void A_divider_gives_what_it_says(string part, string line)
    {
        var plan = Samples.Plan(Samples.Node(("p", part)));
        foreach (var volts in new[] { 4.75, 5, 5.25 })
        {
            var network = Kirchhoff.Of(plan.Circuit).Source(Logic, 3.3).Source(Five, 5).Source($"p.{line}", volts);
            var solved = network.Solve();
            var figure = Figure(plan, $"p.{line}/divider", "Voltage at the pin");
            Assert.InRange(solved[$"p.{line}/pin"], figure.Low!.Value, figure.High!.Value);
            if (volts == 5)
            {
                Near(figure.Value, solved[$"p.{line}/pin"]);
                Near(Figure(plan, $"p.{line}/divider", "Current drawn while high").Value, 1000 * network.Amps(solved, $"p.{line}", $"p.{line}/pin"));
            }
        }
        // What the pin sees as a source: a small current let in, with the output held.
        var source = Kirchhoff.Of(plan.Circuit).Source($"p.{line}", 0).Source(Logic, 0).Source(Five, 0).Inject($"p.{line}/pin", 1e-3).Solve();
        Near(Figure(plan, $"p.{line}/divider", "Source resistance").Value, source[$"p.{line}/pin"] / 1e-3);
    }

    /// <summary>The rail behind a cable at peak: both conductors as resistors, the load as a current. Copper by
    /// IEC 60028 (0.017241 Ω·mm²/m), gauges by the geometric series of ASTM B258.</summary>
    [Theory]
    [InlineData(PowerKind.FiveVolt, 5, 6, 24)]
    [InlineData(PowerKind.FiveVolt, 5, 2, 18)]
    [InlineData(PowerKind.TwelveVolt, 12, 20, 22)]
    public void A_rail_behind_a_cable_has_what_is_left(PowerKind kind, double volts, double metres, int awg)
    {
        var plan = Samples.Plan(
            Samples.Node(("air", "bme280"), ("radar", "ld2410")) with
            {
                Power = new(
                    kind,
                    Module: kind == PowerKind.TwelveVolt ? "buck-mp1584" : null,
                    FuseAmps: 1,
                    ReverseGuard: true,
                    SurgeGuard: true,
                    LeadMetres: metres,
                    LeadAwg: awg
                ),
            }
        );
        var drop = plan.Power.Single(f => f.Label == "Voltage lost in the cable at peak");
        var amps = drop.Working.Inputs.Single(i => i.Name == "I").Value;
        var square = Math.PI / 4 * Math.Pow(0.127 * Math.Pow(92, (36 - awg) / 39.0), 2);
        var conductor = metres * 0.017241 / square;
        var solved = new Kirchhoff()
            .Source("source", volts)
            .Resistor("source", "plus", conductor)
            .Resistor("minus", Circuit.Ground, conductor)
            .Inject("plus", -amps)
            .Inject("minus", amps)
            .Solve();
        Near(volts - drop.Value, solved["plus"] - solved["minus"]);
        Near(drop.Value, volts - solved["plus"] + solved["minus"]);
    }

    [Theory]
    [InlineData("ntc-10k", "A")]
    [InlineData("resistive-sender", "S")]
    public void A_resistive_sensor_reads_what_its_range_says(string part, string line)
    {
        var plan = Samples.Plan(Samples.Node(("t", part)) with { Link = LinkKind.LongRange });
        var sensor = Samples.Catalogue.Part(part)!.Interfaces[0].Resistive!;
        var (span, draw) = (Figure(plan, $"t.{line}/reference", "Voltage at the converter"), Figure(plan, $"t.{line}/reference", "Greatest current"));
        double Volts(double ohms, out double amps)
        {
            var network = Kirchhoff.Of(plan.Circuit).Source(Logic, 3.3).Resistor($"t.{line}", Circuit.Ground, ohms);
            var solved = network.Solve();
            amps = network.Amps(solved, Logic, $"t.{line}");
            return solved[$"t.{line}"];
        }
        Near(span.Low, Volts(sensor.LowOhms, out var most));
        Near(span.High, Volts(sensor.HighOhms, out _));
        Near(draw.Value, 1000 * most);
    }

    [Fact]
    public void The_measured_supply_reads_what_it_says()
    {
        var node = Samples.Node(("air", "bme280")) with
        {
            Board = "esp32-c3-mini-16",
            Power = new(PowerKind.Cells, Cell: "lifepo4-18650"),
            Sleeps = true,
            MeasuresSupply = true,
        };
        var plan = Samples.Plan(node);
        var cell = Samples.Catalogue.Cell("lifepo4-18650")!;
        var at = plan.Circuit.Component("board.SUPPLY/divider/R1")!.Terminals[0].Net!;
        Near(
            Figure(plan, "board.SUPPLY/divider", "Voltage at the converter, cell full").Value,
            Kirchhoff.Of(plan.Circuit).Source(at, cell.FullVolts).Solve()["board.SUPPLY"]
        );
    }

    [Theory]
    [InlineData("esp32-dev-38", "bme280", "bh1750", "sht31")]
    [InlineData("esp32-dev-38", "vl53l0x", "bme280")]
    [InlineData("rp2040-40", "bme280", "lcd-1602-i2c")]
    [InlineData("atmega328p-5v-mini-30", "aht20", "bme280")]
    [InlineData("esp32-dev-38", "ds3231", "mlx90640", "tsl2591", "sgp40", "scd41")]
    public void Pull_ups_of_a_bus_are_together_what_a_meter_shows(string board, params string[] parts)
    {
        var plan = Samples.Plan(Samples.Node([.. parts.Select((p, i) => ($"p{i}", p))]) with { Board = board, Link = LinkKind.LongRange });
        var bus = plan.Buses.Single(b => b.Kind == InterfaceKind.I2c);
        var network = Kirchhoff.Of(plan.Circuit).Inject($"{bus.Name}.SDA", 1e-3);
        foreach (var rail in plan.Circuit.Nets.Where(n => n.Kind == WireKind.Supply))
        {
            network.Source(rail.Key, 0);
        }
        var ohms = network.Solve()[$"{bus.Name}.SDA"] / 1e-3;
        Near(bus.Figures.Single(f => f.Label == "Pull-up in effect").Value, ohms);
        Near(CircuitOhms.PullUp(plan.Circuit, Samples.Catalogue, $"{bus.Name}.SDA"), ohms);
    }

    [Theory]
    [InlineData("esp32-dev-38")]
    [InlineData("rp2040-40")]
    [InlineData("esp8266-dev-30")]
    public void The_base_of_a_transistor_draws_what_its_band_says(string board)
    {
        var plan = Samples.Plan(Samples.Node(("fan", "relay-5v-1ch")) with { Board = board });
        var logic = Samples.Board(board).LogicVolts;
        var figure = Figure(plan, "fan.IN/transistor", "Base current");
        // Small signal transistors drop 0.58 to 0.75 V at 1 mA of base current over the temperatures of a house; data sheets, from memory.
        foreach (var drop in new[] { 0.6, 0.65, 0.7, 0.75 })
        {
            var network = Kirchhoff.Of(plan.Circuit).Source("fan.IN/pin", logic).Junction("fan.IN/base", Circuit.Ground, drop, 1e-3);
            var solved = network.Solve();
            Assert.InRange(
                1000 * (network.Amps(solved, "fan.IN/pin", "fan.IN/base") - network.Amps(solved, "fan.IN/base", Circuit.Ground)),
                figure.Low!.Value,
                figure.High!.Value
            );
        }
        // Off, the pull-down holds the base far below its drop.
        Assert.InRange(Kirchhoff.Of(plan.Circuit).Source("fan.IN/pin", 0).Solve()["fan.IN/base"], -0.01, 0.01);
    }

    [Theory]
    [InlineData("R", 2.0)]
    [InlineData("G", 3.0)]
    public void An_LED_gets_no_more_than_its_resistor_was_chosen_for(string line, double forward)
    {
        var plan = Samples.Plan(Samples.Node(("light", "rgb-led-cc")));
        var figure = Figure(plan, $"light.{line}/series", "Resistor");
        var wanted = figure.Working!.Inputs.Single(i => i.Name == "I").Value;
        var network = Kirchhoff
            .Of(plan.Circuit)
            .Source($"light.{line}/pin", 3.3)
            .Junction($"light.{line}", Circuit.Ground, forward, wanted / 1000, emission: 2);
        var solved = network.Solve();
        // The next value of E24 is at most a tenth above; the drop of the LED follows its current.
        Assert.InRange(1000 * network.Amps(solved, $"light.{line}/pin", $"light.{line}"), wanted * 0.85, wanted * 1.001);
    }

    [Fact]
    public void A_gate_is_low_while_its_pin_floats_and_high_when_it_is_driven()
    {
        var plan = Samples.Plan(Samples.Node(("siren", "siren-12v")) with { Power = new(PowerKind.Usb, TwelveVoltStepUp: true) });
        Assert.InRange(Kirchhoff.Of(plan.Circuit).Solve()["siren.-/gate"], -0.001, 0.001);
        Assert.InRange(Kirchhoff.Of(plan.Circuit).Source("siren.-/pin", 3.3).Solve()["siren.-/gate"], 3.29, 3.3);
    }
}
