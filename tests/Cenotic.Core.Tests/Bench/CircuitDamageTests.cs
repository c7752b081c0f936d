using Cenotic.Core.Bench;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Mistakes that a hand makes with an iron, each done to a sound circuit: the checker must find every one.</summary>
public class CircuitDamageTests
{
    private const string Five = "rail 5v",
        Logic = "rail 3v3",
        Twelve = "rail step-up";

    /// <summary>A 5 V display and a 3.3 V sensor on one bus, a relay, a siren at 12 V, an echo sensor with
    /// a switched supply, probes, an LED, a thermistor, a radio, motion.</summary>
    private static readonly NodeDesign House = Build(
        Samples.Node(
            ("display", "lcd-1602-i2c"),
            ("air", "bme280"),
            ("fan", "relay-5v-1ch"),
            ("siren", "siren-12v"),
            ("echo", "hc-sr04"),
            ("probe", "ds18b20"),
            ("light", "rgb-led-cc"),
            ("water", "ntc-10k"),
            ("radio", "lora-sx1276"),
            ("pir", "pir-hc-sr501"),
            ("rx", "ook-rx-433")
        ) with
        {
            Power = new(PowerKind.Usb, TwelveVoltStepUp: true),
        }
    );

    /// <summary>A strip behind a buffer, and a 12 V source with fuse, guards and clamp.</summary>
    private static readonly NodeDesign Garage = Samples.Node(("strip", "ws2812b-strip"), ("air", "sht31")) with
    {
        Power = new(PowerKind.TwelveVolt, Module: "buck-mp1584", FuseAmps: 2, ReverseGuard: true, SurgeGuard: true, LeadMetres: 4, LeadAwg: 18),
    };

    private static NodeDesign Build(NodeDesign node) => node with { Parts = [.. node.Parts.Select(p => p.Key == "echo" ? p with { SwitchSupply = true } : p)] };

    private static Circuit Put(Circuit c, string component, string terminal, string? net) =>
        c with
        {
            Components =
            [
                .. c.Components.Select(x =>
                    x.Key != component ? x : x with { Terminals = [.. x.Terminals.Select(t => t.Name == terminal ? t with { Net = net } : t)] }
                ),
            ],
        };

    private static Circuit Swap(Circuit c, string component, string one, string other)
    {
        var (a, b) = (c.NetOf(component, one)?.Key, c.NetOf(component, other)?.Key);
        return Put(Put(c, component, one, b), component, other, a);
    }

    private static Circuit Without(Circuit c, string component) => c with { Components = [.. c.Components.Where(x => x.Key != component)] };

    /// <summary>A blob of solder between two nets.</summary>
    private static Circuit Join(Circuit c, string kept, string gone) =>
        c with
        {
            Components = [.. c.Components.Select(x => x with { Terminals = [.. x.Terminals.Select(t => t.Net == gone ? t with { Net = kept } : t)] })],
        };

    private static readonly Dictionary<string, Func<Circuit, Circuit>> InTheHouse = new()
    {
        ["shifter forgotten"] = c => Without(c, "I2C 0/shifter/U1"),
        ["shifter turned round"] = c => Swap(c, "I2C 0/shifter/U1", "LV", "HV"),
        ["channel of the shifter turned round"] = c => Swap(c, "I2C 0/shifter/U1", "LV1", "HV1"),
        ["shifter bypassed"] = c => Join(c, "I2C 0.SDA", "I2C 0.SDA/shifted"),
        ["shifter without ground"] = c => Put(c, "I2C 0/shifter/U1", "GND", null),
        ["low side of the shifter without supply"] = c => Put(c, "I2C 0/shifter/U1", "LV", null),
        ["MOSFET bypassed: the siren on the pin"] = c => Join(c, "siren.-/pin", "siren.-"),
        ["gate resistor bypassed"] = c => Join(c, "siren.-/pin", "siren.-/gate"),
        ["pull-down of the gate forgotten"] = c => Without(c, "siren.-/switch/R2"),
        ["pull-down of the gate at the supply"] = c => Put(c, "siren.-/switch/R2", "2", Logic),
        ["source of the MOSFET open"] = c => Put(c, "siren.-/switch/Q1", "S", null),
        ["MOSFET upside down"] = c => Swap(c, "siren.-/switch/Q1", "D", "S"),
        ["gate and drain swapped"] = c => Swap(c, "siren.-/switch/Q1", "G", "D"),
        ["flyback diode forgotten"] = c => Without(c, "siren.-/switch/D1"),
        ["flyback diode turned round"] = c => Swap(c, "siren.-/switch/D1", "A", "K"),
        ["relay straight on the pin"] = c =>
            Join(Without(Without(Without(c, "fan.IN/transistor/Q1"), "fan.IN/transistor/R1"), "fan.IN/transistor/R2"), "fan.IN/pin", "fan.IN"),
        ["base resistor bypassed"] = c => Join(c, "fan.IN/pin", "fan.IN/base"),
        ["base left to float"] = c => Without(c, "fan.IN/transistor/R2"),
        ["collector and emitter swapped"] = c => Swap(c, "fan.IN/transistor/Q1", "C", "E"),
        ["ground of a module missing"] = c => Put(c, "air", "GND", null),
        ["ground and supply of a module swapped"] = c => Swap(c, "air", "VCC", "GND"),
        ["supply of a module missing"] = c => Put(c, "display", "VCC", null),
        ["3.3 V sensor on 5 V"] = c => Put(c, "air", "VCC", Five),
        ["relay on 12 V"] = c => Put(c, "fan", "VCC", Twelve),
        ["two rails joined"] = c => Join(c, Logic, Five),
        ["5 V and 12 V joined"] = c => Join(c, Five, Twelve),
        ["a rail shorted to ground"] = c => Join(c, Circuit.Ground, Logic),
        ["divider bypassed"] = c => Join(c, "echo.ECHO/pin", "echo.ECHO"),
        ["lower resistor of the divider forgotten"] = c => Without(c, "echo.ECHO/divider/R2"),
        ["lower resistor of the divider at the supply"] = c => Put(c, "echo.ECHO/divider/R2", "2", Five),
        ["divider turned round"] = c =>
            Swap(c, "echo.ECHO/divider/R1", "1", "2") is var turned
                ? Put(Put(turned, "echo", "ECHO", "echo.ECHO/pin"), "board", c.Components[0].Terminals.First(t => t.Net == "echo.ECHO/pin").Name, "echo.ECHO")
                : c,
        ["resistor of an LED bypassed"] = c => Join(c, "light.R/pin", "light.R"),
        ["resistor of an LED far too small"] = c =>
            c with
            {
                Components = [.. c.Components.Select(x => x.Key == "light.R/series/R1" ? x with { Ohms = 33 } : x)],
            },
        ["pull-up of the probes forgotten"] = c => Without(c, "1-Wire 0.DQ/pull-up/R1"),
        ["pull-up of the probes at 5 V"] = c => Put(c, "1-Wire 0.DQ/pull-up/R1", "2", Five),
        ["pull-up of a select forgotten"] = c => Without(c, "radio.NSS/pull-up/R1"),
        ["reference of the thermistor forgotten"] = c => Without(c, "water.A/reference/R1"),
        ["two outputs joined"] = c => Join(c, "pir.OUT", "rx.DATA/pin"),
        ["two lines on one pin"] = c => Join(c, "radio.DIO0", "pir.OUT"),
        ["a line left open"] = c => Put(c, "pir", "OUT", null),
        ["an output on ground"] = c => Put(c, "pir", "OUT", Circuit.Ground),
        ["capacitor the wrong way"] = c => Swap(c, "echo/capacitor/C1", "+", "-"),
        ["switch of the supply bypassed"] = c => Join(c, Five, "echo/supply"),
        ["gate of the supply's switch left to float"] = c => Without(c, "echo.PWR/switch/R1"),
        ["nothing drives the supply's switch"] = c => Without(c, "echo.PWR/switch/Q2"),
        ["ground of the step-up missing"] = c => Put(c, Circuit.LoadStepUpKey, "OUT-", null),
        ["step-up turned round"] = c => Swap(c, Circuit.LoadStepUpKey, "IN+", "OUT+"),
    };

    private static readonly Dictionary<string, Func<Circuit, Circuit>> InTheGarage = new()
    {
        ["buffer bypassed"] = c => Join(c, "strip.DIN/pin", "strip.DIN"),
        ["buffer turned round"] = c => Swap(c, "strip.DIN/buffer/U1", "A", "Y"),
        ["buffer without supply"] = c => Put(c, "strip.DIN/buffer/U1", "VCC", null),
        ["buffer without ground"] = c => Put(c, "strip.DIN/buffer/U1", "GND", null),
        ["fuse bypassed"] = c => Put(c, "supply/fuse", "1", c.NetOf("supply/fuse", "2")!.Key),
        ["cable turned round at its source"] = c => Swap(c, Circuit.CableKey, "+1", "-1"),
        ["minus of the cable open"] = c => Put(c, Circuit.CableKey, "-2", null),
        ["cable shorted"] = c => Put(c, Circuit.CableKey, "+2", Circuit.Ground),
        ["clamp turned round"] = c => Swap(c, "supply/clamp", "A", "K"),
        ["step-down turned round"] = c => Swap(c, Circuit.ModuleKey, "IN+", "OUT+"),
        ["step-down bypassed: 12 V on the board"] = c => Join(c, Five, "rail source"),
        ["output of the step-down open"] = c => Put(c, Circuit.ModuleKey, "OUT+", null),
        ["source turned round"] = c => Swap(c, Circuit.SourceKey, "+", "-"),
    };

    public static TheoryData<string> Names => [.. InTheHouse.Keys, .. InTheGarage.Keys];

    [Theory]
    [MemberData(nameof(Names))]
    public void Every_damage_is_found(string damage)
    {
        var (node, damages) = InTheHouse.ContainsKey(damage) ? (House, InTheHouse) : (Garage, InTheGarage);
        var plan = Samples.Plan(node);
        Assert.True(plan.Complete);
        Assert.Empty(CircuitTests.Faults(node, plan));
        var broken = damages[damage](plan.Circuit);
        Assert.NotEqual(Terminals(plan.Circuit), Terminals(broken));
        Assert.NotEmpty(CircuitCheck.Faults(broken, Samples.Board(node.Board), plan.Parts, Samples.Catalogue));
    }

    private static string Terminals(Circuit circuit) =>
        string.Join(";", circuit.Components.SelectMany(c => c.Terminals.Select(t => $"{c.Key} {c.Ohms}:{t.Name}={t.Net}")));
}
