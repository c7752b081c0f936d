using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Bench;

/// <summary>
/// Nodes in which a careful reader found faults, each against a table written by hand from the data
/// sheets of its parts (from memory): every net with all that is joined on it,
/// and the joints counted. "pin" is a signal pin of the board, chosen by the planner; "GND", "5V" and so on are its supply pins; values stand for pieces.
/// Where more than four wires would end on a pin they meet on a strip.
/// </summary>
public class HandTablesTests
{
    private static NodeDesign On(string board, PowerDesign power, params (string Key, string Part)[] parts) =>
        Samples.Node(parts) with
        {
            Board = board,
            Power = power,
            Link = LinkKind.LongRange,
        };

    /// <summary>A net as the hand wrote it: its ends in order, the pins of the board by their label, signal pins as "pin".</summary>
    private static string Written(NodeDesign node, BenchPlan plan, Net net)
    {
        var board = Samples.Board(node.Board);
        string End(Component c, Terminal t) =>
            c.Kind switch
            {
                ComponentKind.Board => board.Pins.FirstOrDefault(p => p.Id == t.Name) is { } pin
                    ? pin.Kind is PinKind.Gpio or PinKind.Analog
                        ? "pin"
                        : pin.Label
                    : t.Name,
                ComponentKind.Part => $"{c.Key}.{t.Name}",
                _ when c.Key.StartsWith("supply/", StringComparison.Ordinal) => $"{c.Key[7..].Replace(" ", "")}.{t.Name}",
                _ => $"{c.Value.Replace(" type", "-type").Replace(" ", "")}.{t.Name}",
            };
        return string.Join(
            " ",
            plan.Circuit.Components.SelectMany(c => c.Terminals.Where(t => t.Net == net.Key).Select(t => End(c, t))).Distinct().Order(StringComparer.Ordinal)
        );
    }

    private static void Agrees(NodeDesign node, string byHand, int wires, int legs, int bridges, int plugs)
    {
        var plan = Samples.Plan(node);
        Assert.True(
            plan.Complete && plan.Findings.All(f => f.Severity != Severity.Stop),
            string.Join(" ", plan.Findings.Where(f => f.Severity == Severity.Stop).Select(f => $"{f.What} {f.Why}"))
        );
        var expected = byHand
            .Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            .Select(l => string.Join(" ", l.Split(' ').Order(StringComparer.Ordinal)))
            .Order(StringComparer.Ordinal);
        Assert.Equal(string.Join("\n", expected), string.Join("\n", plan.Circuit.Nets.Select(n => Written(node, plan, n)).Order(StringComparer.Ordinal)));
        int Of(WireForm form) => plan.Wires.Count(w => w.Form == form);
        Assert.Equal((wires, legs, bridges, plugs), (Of(WireForm.Wire), Of(WireForm.Leg), Of(WireForm.Bridge), Of(WireForm.Plug)));
    }

    [Fact]
    public void A_5_V_display_and_a_3_3_V_sensor_on_one_bus() =>
        Agrees(
            On("rp2040-40", new(PowerKind.Usb), ("display", "lcd-1602-i2c"), ("air", "bme280")),
            """
            USB+ source.+
            GND AGND USB- source.- display.GND air.GND air.SDO BSS138-type.GND
            3V3 air.VCC air.CSB BSS138-type.LV
            VBUS display.VCC BSS138-type.HV
            pin air.SDA BSS138-type.LV1
            pin air.SCL BSS138-type.LV2
            display.SDA BSS138-type.HV1
            display.SCL BSS138-type.HV2
            """,
            wires: 13,
            legs: 0,
            bridges: 2,
            plugs: 2
        );

    [Fact]
    public void A_siren_at_12_V_through_a_step_up_and_a_MOSFET_from_a_3_3_V_pin() =>
        Agrees(
            On("esp32-dev-38", new(PowerKind.FiveVolt, RatedAmps: 3, TwelveVoltStepUp: true), ("siren", "siren-12v")),
            """
            GND source.- step-up-12.IN- step-up-12.OUT- AO3400A-type.S 100kΩ.2
            source.+ 5V step-up-12.IN+
            step-up-12.OUT+ siren.+ 1N5819-type.K
            siren.- AO3400A-type.D 1N5819-type.A
            AO3400A-type.G 150Ω.2 100kΩ.1
            150Ω.1 pin
            """,
            wires: 8,
            legs: 6,
            bridges: 0,
            plugs: 0
        );

    /// <summary>Two buffers lift 3.0 V and 2.8 V to what a 5 V controller reads as high; its own 5 V come down
    /// to the 3.1 V that the modem stands; the modem has 4 V of its own.</summary>
    [Fact]
    public void A_5_V_controller_with_a_3_V_motion_output_and_a_modem() =>
        Agrees(
            On("atmega328p-5v-mini-30", new(PowerKind.FiveVolt, RatedAmps: 3, Rails: [new(4, "buck-mp2315")]), ("pir", "pir-am312"), ("modem", "sim800-modem")),
            """
            source.+ 5V pir.VCC rail4V.IN+ 74HCT1G125-type.VCC 100nF.+ striprail5v.bar
            GND source.- pir.GND modem.GND rail4V.IN- rail4V.OUT- 74HCT1G125-type.GND 74HCT1G125-type.OE 100nF.- 15kΩ.2 1000µF.-
            rail4V.OUT+ modem.VCC 1000µF.+
            pir.OUT 74HCT1G125-type.A
            74HCT1G125-type.Y pin
            modem.TXD 74HCT1G125-type.A
            74HCT1G125-type.Y pin
            modem.RXD 12kΩ.2 15kΩ.1
            12kΩ.1 pin
            """,
            wires: 19,
            legs: 11,
            bridges: 0,
            plugs: 0
        );

    [Fact]
    public void Four_active_low_relays() =>
        Agrees(
            On("esp32-dev-38", new(PowerKind.FiveVolt, RatedAmps: 3), ("fans", "relay-5v-4ch")),
            """
            source.+ 5V fans.VCC
            GND source.- fans.GND 2N3904-type.E 100kΩ.2
            fans.IN1 2N3904-type.C
            fans.IN2 2N3904-type.C
            fans.IN3 2N3904-type.C
            fans.IN4 2N3904-type.C
            2N3904-type.B 4.7kΩ.2 100kΩ.1
            2N3904-type.B 4.7kΩ.2 100kΩ.1
            2N3904-type.B 4.7kΩ.2 100kΩ.1
            2N3904-type.B 4.7kΩ.2 100kΩ.1
            4.7kΩ.1 pin
            4.7kΩ.1 pin
            4.7kΩ.1 pin
            4.7kΩ.1 pin
            """,
            wires: 12,
            legs: 16,
            bridges: 0,
            plugs: 0
        );

    /// <summary>What hangs behind the converter does not charge over the cable at once: its inrush limit is not theirs.</summary>
    /// <summary>The voltages of the nets, as a hand works them out: 5 V through the relay's own pull-up, 3.0 V behind 10 kΩ
    /// over 15 kΩ, 3.3 V · 100 / 104.7 at an open base, 14.8 V while a vehicle charges.</summary>
    [Fact]
    public void Each_net_says_how_high_it_can_be()
    {
        double Volts(NodeDesign node, string net) => Samples.Plan(node).Circuit.Net(net)!.HighVolts;
        var five = On("esp32-dev-38", new(PowerKind.FiveVolt, RatedAmps: 3), ("fan", "relay-5v-1ch"), ("echo", "hc-sr04"));
        Assert.Equal(5, Volts(five, "fan.IN"), 1e-3);
        Assert.Equal(3.3 * 100 / 104.7, Volts(five, "fan.IN/base"), 1e-3);
        Assert.Equal(3.3, Volts(five, "fan.IN/pin"), 1e-3);
        Assert.Equal(3, Volts(five, "echo.ECHO/pin"), 1e-3);
        var vehicle = On(
            "esp32-dev-38",
            new(PowerKind.TwelveVolt, Module: "buck-mp1584", FuseAmps: 1, ReverseGuard: true, SurgeGuard: true, Vehicle: true),
            ("air", "bme280")
        );
        Assert.Equal(14.8, Volts(vehicle, "rail source"), 1e-9);
        Assert.Equal(14.8, Volts(vehicle, "source"), 1e-9);
    }

    [Fact]
    public void Power_over_the_cable_with_200_uF_behind_the_converter()
    {
        var node = On("esp32-eth-rmii-26", new(PowerKind.OverCable), ("dust", "pms5003"), ("echo", "hc-sr04")) with { Link = LinkKind.Cable };
        Agrees(
            node,
            """
            source.+ module.IN+
            source.- module.IN-
            5V module.OUT+ dust.VCC echo.VCC 100µF.+
            GND module.OUT- dust.GND echo.GND 100µF.- 15kΩ.2
            dust.TX pin
            echo.TRIG pin
            echo.ECHO 10kΩ.1
            10kΩ.2 15kΩ.1 pin
            """,
            wires: 11,
            legs: 7,
            bridges: 0,
            plugs: 0
        );
        Assert.DoesNotContain(Samples.Plan(node).Findings, f => f.Code == "BENCH-INRUSH");
    }

    [Fact]
    public void A_12_V_vehicle_node_with_sender_pulses_and_five_probes() =>
        Agrees(
            On(
                "esp32-dev-38",
                new(PowerKind.TwelveVolt, Module: "buck-mp1584", FuseAmps: 2, ReverseGuard: true, SurgeGuard: true, LeadMetres: 4, LeadAwg: 18, Vehicle: true),
                ("fuel", "resistive-sender"),
                ("speed", "speed-pickup-hall"),
                ("p1", "ds18b20"),
                ("p2", "ds18b20"),
                ("p3", "ds18b20"),
                ("p4", "ds18b20"),
                ("p5", "ds18b20")
            ),
            """
            source.+ fuse.1
            fuse.2 cable.+1
            cable.+2 reverse-guard.A
            cable.-1 source.-
            reverse-guard.K module.IN+ 18Vstand-off.K input-capacitor.+
            5V module.OUT+ speed.VCC
            GND cable.-2 module.IN- module.OUT- 18Vstand-off.A input-capacitor.- fuel.C speed.GND p1.GND p2.GND p3.GND p4.GND p5.GND 100nF.- stripGND.bar
            3V3 220Ω.1 10kΩ.2 4.7kΩ.2 p1.VDD p2.VDD p3.VDD p4.VDD p5.VDD striprail3v3.bar
            fuel.S 220Ω.2 1kΩ.1
            1kΩ.2 100nF.+ pin
            speed.OUT 10kΩ.1 pin
            p1.DQ p2.DQ p3.DQ p4.DQ p5.DQ 4.7kΩ.1 pin
            """.Replace("18Vstand-off", "clamp"),
            wires: 35,
            legs: 9,
            bridges: 0,
            plugs: 0
        );

    [Fact]
    public void A_card_in_the_5_V_adapter_gives_3_3_V_back_and_needs_no_divider() =>
        Agrees(
            On("esp32-dev-38", new(PowerKind.Usb), ("card", "microsd-spi")),
            """
            USB+ source.+
            GND USB- source.- card.GND 100µF.-
            5V card.VCC 100µF.+
            3V3 10kΩ.2
            card.CS 10kΩ.1 pin
            card.SCK pin
            card.MOSI pin
            card.MISO pin
            """,
            wires: 6,
            legs: 4,
            bridges: 0,
            plugs: 2
        );

    [Fact]
    public void A_card_in_the_3_3_V_socket() =>
        Agrees(
            On("esp32-dev-38", new(PowerKind.Usb), ("card", "microsd-33")),
            """
            USB+ source.+
            GND USB- source.- card.GND 100µF.-
            3V3 card.3V3 100µF.+ 10kΩ.2
            card.CS 10kΩ.1 pin
            card.CLK pin
            card.MOSI pin
            card.MISO pin
            """,
            wires: 6,
            legs: 4,
            bridges: 0,
            plugs: 2
        );

    [Fact]
    public void A_light_cell_with_charger_and_step_up() =>
        Agrees(
            On(
                "esp32-c3-mini-16",
                new(PowerKind.Cells, "cell-18650", StepUp: true, Charger: "tp4056-charger", Harvest: new(60, 15, LightKind.Lamp, Lux: 500, HoursPerDay: 8)),
                ("air", "bme280")
            ) with
            {
                MeasuresSupply = true,
                Sleeps = true,
            },
            """
            light.+ charger.IN+
            cells.+ charger.B+
            cells.- charger.B-
            charger.OUT+ step-up.IN+ 100kΩ.1
            5V step-up.OUT+
            G light.- charger.IN- charger.OUT- step-up.IN- step-up.OUT- air.GND air.SDO 120kΩ.2 100nF.- stripGND.bar
            3.3 air.VCC air.CSB
            air.SDA pin
            air.SCL pin
            100kΩ.2 120kΩ.1 100nF.+ pin
            """,
            wires: 15,
            legs: 6,
            bridges: 2,
            plugs: 0
        );
}
