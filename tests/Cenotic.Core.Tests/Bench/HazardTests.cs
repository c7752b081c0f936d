using Cenotic.Core.Bench;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Each hazard and level rule of a pin: held there, a wire is a stop that says why; let
/// go, it is not. Rules of the chips' data sheets, from memory.</summary>
public class HazardTests
{
    [Fact]
    public void Under_an_operating_system_a_line_of_microseconds_wants_a_pin_with_hardware_behind_it()
    {
        var plan = Samples.Plan(
            Samples.Node(("strip", "ws2812b-strip"), ("pir", "pir-am312")) with
            {
                Board = "linux-sbc-40",
                Power = new(PowerKind.FiveVolt, RatedAmps: 3),
            }
        );
        Assert.True(plan.Complete);
        // Its pulse-width hardware is on GPIO 12, 13, 18 and 19 (BCM2711 peripherals, alternate functions).
        Assert.Contains(Samples.Gpio(plan, "strip", "DIN", "linux-sbc-40"), new[] { 12, 13, 18, 19 });
    }

    [Theory]
    [InlineData("esp32-dev-38", "air:bme280", "SDA", 12, "must be low when the board starts")]
    [InlineData("esp32-dev-38", "air:bme280", "SDA", 2, "uploads would fail")]
    [InlineData("esp32-dev-38", "fan:relay-5v-1ch", "IN", 0, "must be high when the board starts")]
    [InlineData("esp32-dev-38", "fan:relay-5v-1ch", "IN", 5, "goes high or toggles while the board starts")]
    [InlineData("esp32-dev-38", "fan:relay-5v-1ch", "IN", 34, "can only read")]
    [InlineData("esp32-dev-38", "echo:hc-sr04", "ECHO", 36, "false edges")]
    [InlineData("esp32-dev-38", "pir:pir-am312", "OUT", 1, "USB-serial")]
    [InlineData("esp32-dev-38", "soil:soil-capacitive", "AOUT", 25, "stops while Wi-Fi is on")]
    [InlineData("esp32-dev-38", "soil:soil-capacitive", "AOUT", 23, "has no converter")]
    [InlineData("esp8266-dev-30", "air:dht22", "DATA", 16, "clock block")]
    [InlineData("esp8266-dev-30", "rain:rain-gauge-tipping", "A", 16, "cannot catch edges")]
    [InlineData("esp8266-dev-30", "air:bme280", "SDA", 15, "must be low when the board starts")]
    [InlineData("esp32-eth-rmii-26", "pir:pir-am312", "OUT", 0, "Taken by wired Ethernet")]
    [InlineData("nrf52840-module-24", "air:bme280", "SDA", 31, "cannot carry")]
    [InlineData("nrf52840-module-24", "fan:mosfet-switch", "G", 47, "pulse-width")]
    [InlineData("linux-sbc-40", "pir:pir-am312", "OUT", 15, "serial console")]
    [InlineData("linux-sbc-40", "valve:mosfet-switch", "G", 2, "fixed pull-up")]
    [InlineData("rp2040-40", "air:bme280", "SDA", 5, "cannot carry")]
    [InlineData("rp2040-40", "lamp:rgb-led-cc", "R", 16, "shares its PWM channel")]
    public void A_wire_held_where_it_must_not_be_is_told_why(string board, string part, string line, int gpio, string why)
    {
        var (key, id) = (part.Split(':')[0], part.Split(':')[1]);
        var pin = Samples.Board(board).Pins.Single(p => p.Gpio == gpio);
        var node = Samples.Node((key, id)) with { Board = board, Power = new(PowerKind.FiveVolt) };
        var free = Samples.Plan(node);
        Assert.True(free.Complete);
        Assert.NotEqual(pin.Id, free.Line(key, line)!.Pin);
        Assert.DoesNotContain(free.Findings, f => f.Code.StartsWith("BENCH-LOCK", StringComparison.Ordinal));
        var offer = BenchPlanner.Offers(node, Samples.Catalogue, key, line).Single(o => o.Pin == pin.Id);
        Assert.False(offer.Fits);
        Assert.Contains(why, string.Join(" ", offer.Refusals));
        if (pin.Has(Core.Catalogue.Hazard.Taken))
        {
            return;
        }
        var held = Samples.Plan(node with { Wires = [new WireDesign(key, line, pin.Id, WireHold.Locked)] });
        Assert.Contains(held.Findings, f => f.Code == "BENCH-LOCK-UNFIT" && f.Why.Contains(why, StringComparison.Ordinal));
    }
}
