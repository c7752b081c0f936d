using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Whole nodes as makers build them: each is planned with no stop. And wishes that cannot be: each is told why.</summary>
public class PractitionerTests
{
    private static (string, string)[] Many(string part, int count) => [.. Enumerable.Range(1, count).Select(i => ($"{part.Split('-')[0]}{i}", part))];

    private static BenchPlan Sound(NodeDesign node)
    {
        var plan = Samples.Plan(node);
        Assert.True(plan.Complete, string.Join(" ", plan.Findings.Where(f => f.Severity == Severity.Stop).Select(f => f.What + " " + f.Why)));
        Assert.DoesNotContain(plan.Findings, f => f.Severity == Severity.Stop);
        return plan;
    }

    private static NodeDesign DenseRoom()
    {
        var node = Samples.Node(
            ("air", "bme680"),
            ("co2", "scd41"),
            ("light", "bh1750"),
            ("thermal", "mlx90640"),
            ("pir", "pir-am312"),
            ("radar", "ld2410"),
            ("ir-in", "ir-receiver-38k"),
            ("ir-out", "ir-led-tx"),
            ("clap", "clap-detector"),
            ("gain", "x9c103"),
            ("strip", "ws2812b-strip"),
            ("speaker", "piezo-passive"),
            ("door", "reed-contact")
        );
        return node with
        {
            Board = "esp32-eth-rmii-26",
            Power = new(PowerKind.OverCable),
            Link = LinkKind.LongRange,
            Parts = [.. node.Parts.Select(p => p.Part == "ld2410" ? p with { Interface = InterfaceKind.Uart } : p)],
            // The thermal array at its full frame rate: 16 frames a second.
            Readings = [Samples.Every("heat", "thermal", "object-temperature", 63), Samples.Every("co2", "co2", "co2", 60_000)],
        };
    }

    [Fact]
    public void A_dense_room_on_the_26_pin_board_gets_one_expander_by_itself()
    {
        var plan = Sound(DenseRoom());
        var expander = Assert.Single(plan.Helpers);
        Assert.True(expander is { Added: true, Kind: HelperKind.Expander });
        // What is slow went to it; what counts microseconds did not.
        foreach (var (part, line) in new[] { ("door", "A"), ("gain", "CS") })
        {
            Assert.StartsWith(expander.Part + ":", plan.Line(part, line)!.Pin);
        }
        Assert.All(new[] { ("ir-in", "OUT"), ("strip", "DIN"), ("radar", "TX"), ("clap", "DO") }, w =>
            Assert.DoesNotContain(':', plan.Line(w.Item1, w.Item2)!.Pin)
        );
        // The thermal array and the 100 kHz carbon dioxide sensor cannot share a bus: 240 kbit/s against 100 kHz.
        Assert.NotEqual(plan.Parts.Single(p => p.Part == "thermal").Bus, plan.Parts.Single(p => p.Part == "co2").Bus);
        Assert.Equal(400, plan.Buses.Single(b => b.Parts.Contains("thermal")).ClockKilohertz);
    }

    [Fact]
    public void A_serial_part_of_9600_baud_is_read_by_the_program_where_no_port_is_left_and_a_faster_one_is_not()
    {
        BenchPlan On(string board, params (string Key, string Part)[] parts) =>
            Samples.Plan(
                Samples.Node() with
                {
                    Board = board,
                    Readings = [],
                    Parts = [.. parts.Select(p => Samples.Part(p.Key, p.Part) with { Interface = InterfaceKind.Uart })],
                    Link = board == "linux-sbc-40" ? LinkKind.Wifi : LinkKind.LongRange,
                }
            );
        // The one port of this board goes to the radar, which is too fast for anything else.
        var plan = On("esp32-c3-mini-16", ("dust", "pms5003"), ("radar", "ld2420"));
        Assert.True(plan.Complete);
        Assert.Equal(("software serial", "UART 1"), (plan.Parts.Single(p => p.Part == "dust").Bus, plan.Parts.Single(p => p.Part == "radar").Bus));
        Assert.Equal(
            ("software serial RX", "UART 1 RX"),
            (plan.Line("dust", "TX")!.BusLine, plan.Lines.First(l => l.Part == "radar" && l.BusLine!.EndsWith("RX", StringComparison.Ordinal)).BusLine)
        );
        Assert.Contains(plan.Findings, f => f.Code == "BENCH-SOFTWARE-SERIAL");
        // Where ports are free it is never used, two fast ones do not share, and an operating system times no bits.
        Assert.DoesNotContain(On("esp32-dev-38", ("dust", "pms5003"), ("radar", "ld2420")).Parts, p => p.Bus == "software serial");
        Assert.False(On("esp32-c3-mini-16", ("one", "ld2420"), ("two", "ld2420")).Complete);
        Assert.False(On("linux-sbc-40", ("one", "pms5003"), ("two", "pms5003")).Complete);
    }

    [Fact]
    public void A_bus_that_400_kHz_is_not_enough_for_runs_at_1_MHz_where_board_and_parts_can()
    {
        NodeDesign Two(string board) =>
            Samples.Node(("one", "mlx90640"), ("two", "tca9548a"), ("three", "mlx90640")) with
            {
                Board = board,
                AddsModules = false,
                Readings = [Samples.Every("r1", "one", "object-temperature", 32), Samples.Every("r3", "three", "object-temperature", 500)],
            };
        Assert.Contains(Samples.Plan(Two("rp2040-40")).Buses, b => b.ClockKilohertz == 1000);
        Assert.DoesNotContain(Samples.Plan(Two("nrf52840-module-24")).Buses, b => b.ClockKilohertz == 1000);
    }

    [Fact]
    public void An_expander_tells_of_a_changed_input_over_a_pin_that_nothing_else_wants()
    {
        var room = DenseRoom();
        var plan = Samples.Plan(room);
        var expander = Assert.Single(plan.Helpers).Part;
        var interrupt = plan.Line(expander, "INTA");
        // The dense room has no free pin that is no second choice; with the strip gone it has one.
        Assert.Null(interrupt);
        var roomier = room with
        {
            Board = "esp32-dev-38",
            Parts = [.. room.Parts, Samples.Part("io", "mcp23017")],
            Wires = [new("door", "A", "io:PA0", WireHold.Locked)],
        };
        plan = Samples.Plan(roomier);
        var line = plan.Line("io", "INTA")!;
        Assert.True(Samples.Board().Pin(line.Pin).Interrupt);
        Assert.Single(plan.Lines, l => l.Pin == line.Pin);
        Assert.Contains("changed input", line.Reason);
        Assert.Contains(plan.Wires, w => w.Part == "io" && w.Line == "INTA" && w.Tick == "io.INTA");
        // Soldered it stays, whatever else comes.
        var soldered = roomier with
        {
            Wires = [.. roomier.Wires, new("io", "INTA", line.Pin, WireHold.Soldered)],
            Parts = [Samples.Part("hall", "pir-am312"), .. roomier.Parts],
        };
        Assert.Equal(line.Pin, Samples.Plan(soldered).Line("io", "INTA")!.Pin);
        Assert.Empty(Samples.Plan(soldered).Moves);
    }

    /// <summary>Worked by hand from the data sheets, from memory.</summary>
    [Fact]
    public void The_margin_of_a_high_level_is_stated_where_both_sides_are_known()
    {
        var plan = Samples.Plan(Samples.Node(("pir", "pir-hc-sr501"), ("air", "bme280"), ("radio", "lora-sx1276"), ("echo", "hc-sr04")));
        double Margin(string part, string line) => Math.Round(plan.Line(part, line)!.HighMargin!.Value!.Value, 3);
        // 3.3 V from the module; the ESP32 reads high from 0.75 of 3.3 V.
        Assert.Equal(0.825, Margin("pir", "OUT"));
        // Pulled to 3.3 V; the part wants 0.7 of 3.3 V, the chip's pins 0.75.
        Assert.Equal(0.825, Margin("air", "SDA"));
        // A pin gives 0.8 of 3.3 V at least, an input of the radio reads high from 0.7 of 3.3 V.
        Assert.Equal(0.33, Margin("radio", "SCK"));
        // The divider of the echo has its own figure.
        Assert.Null(plan.Line("echo", "ECHO")!.HighMargin);
    }

    /// <summary>Worked by hand.</summary>
    [Fact]
    public void A_part_in_hand_may_differ_from_the_catalogues()
    {
        BenchPlan With(string part, PartVariant? variant) => Samples.Plan(Samples.Node() with { Parts = [Samples.Part("p", part) with { Variant = variant }] });
        double Reference(BenchPlan plan) => plan.Circuit.Component("p.S/reference/R1")!.Ohms!.Value;
        // 0 to 190 Ω instead of 10 to 240: the middle is near nothing, but 15 mA from 3.3 V want 220 Ω.
        Assert.Equal(220, Reference(With("resistive-sender", new(LowOhms: 0.5, HighOhms: 190))));
        // On the 5 V board the same current wants 333 Ω less 0.5: 390 Ω.
        Assert.Equal(
            390,
            Reference(
                Samples.Plan(
                    Samples.Node() with
                    {
                        Board = "atmega328p-5v-mini-30",
                        Link = LinkKind.LongRange,
                        Power = new(PowerKind.FiveVolt),
                        Parts = [Samples.Part("p", "resistive-sender") with { Variant = new(LowOhms: 0.5, HighOhms: 190) }],
                    }
                )
            )
        );
        Assert.Contains(
            "both ends",
            Assert.Single(
                EditBatch
                    .Apply(Samples.Site(Samples.Node()), [new PutPart("n", Samples.Part("p", "resistive-sender") with { Variant = new(LowOhms: 300) })])
                    .Reasons
            )
        );
        // 1 to 10 kΩ: sqrt(10^7) = 3.16 kΩ, so 3.3 kΩ.
        Assert.Equal(3300, Reference(With("resistive-sender", new(LowOhms: 1_000, HighOhms: 10_000))));
        // At 25 °C a 100 kΩ thermistor is read best against 100 kΩ.
        Assert.Equal(100_000, With("ntc-10k", new(NominalOhms: 100_000, Beta: 3950)).Circuit.Component("p.A/reference/R1")!.Ohms);
        Assert.Equal(10_000, With("ntc-10k", null).Circuit.Component("p.A/reference/R1")!.Ohms);
        // 60 LEDs of 60 mA: 3.6 A, seven and a half times the strip of eight.
        var (short8, long60) = (
            With("ws2812b-strip", null).Loads.Single(l => l.Part == "p"),
            With("ws2812b-strip", new(Leds: 60)).Loads.Single(l => l.Part == "p")
        );
        Assert.Equal(3600, long60.PeakMilliamps!.High, 6);
        Assert.Equal(7.5, long60.PeakMilliamps!.High / short8.PeakMilliamps!.High, 6);
    }

    [Fact]
    public void Contacts_go_to_optocoupler_inputs_and_outputs_of_parts_do_not()
    {
        var node = Samples.Node(("io", "pcf8574-opto-8"), ("door", "reed-contact"), ("dusk", "ldr-dusk"), ("pir", "pir-am312"));
        var held = node with { Wires = [new("door", "A", "io:IN1", WireHold.Locked)] };
        var plan = Sound(held);
        Assert.Equal("io:IN1", plan.Line("door", "A")!.Pin);
        // Its LEDs are fed from the node: both straps stand in the circuit.
        Assert.Equal(("GND", plan.Circuit.NetOf("io", "VCC")!.Key), (plan.Circuit.NetOf("io", "V-")!.Key, plan.Circuit.NetOf("io", "V+")!.Key));
        Assert.DoesNotContain(':', plan.Line("pir", "OUT")!.Pin);
        Assert.Contains(BenchPlanner.Offers(node, Samples.Catalogue, "pir", "OUT").Single(o => o.Pin == "io:IN1").Refusals, r => r.Contains("optocoupler"));
        // Bright or dark on the pull-up inside the pin: nothing is added.
        Assert.DoesNotContain(plan.Additions, a => a.For.StartsWith("dusk", StringComparison.Ordinal));
    }

    [Fact]
    public void Told_to_add_nothing_it_shows_the_conflict_and_the_way_out()
    {
        var plan = Samples.Plan(DenseRoom() with { AddsModules = false });
        Assert.False(plan.Complete);
        var conflict = plan.Findings.Single(f => f.Code == "BENCH-CONFLICT");
        Assert.Contains("Without any one of them the others fit", conflict.What);
        Assert.Contains(conflict.Remedies, r => r.Label == "Let the planner add a module");
    }

    [Fact]
    public void Two_boards_worth_of_contacts_go_through_two_expanders_on_one_bus()
    {
        var plan = Sound(Samples.Node([("e1", "mcp23017"), ("e2", "mcp23017"), .. Many("reed-contact", 28)]));
        Assert.Single(plan.Buses);
        Assert.Equal([0x20, 0x21], plan.Parts.Where(p => p.Address is not null).Select(p => p.Address!.Value).Order());
        Assert.Equal(28, plan.Wires.Count(w => w.Line == "A" && w.Pin.StartsWith('e')));
    }

    [Fact]
    public void Ten_probes_on_one_wire_with_four_relays_and_four_contacts()
    {
        var plan = Sound(
            Samples.Node([.. Many("ds18b20", 10), ("relays", "relay-5v-4ch"), .. Many("reed-contact", 4)]) with
            {
                Power = new(PowerKind.FiveVolt),
            }
        );
        Assert.Single(plan.Wires.Where(w => w.Line == "DQ").Select(w => w.Pin).Distinct());
        Assert.Equal(4, plan.Additions.Count(c => c.What.StartsWith("NPN", StringComparison.Ordinal)));
    }

    [Fact]
    public void A_conductivity_probe_through_an_external_converter_with_a_display()
    {
        var plan = Sound(Samples.Node(("water", "tds-analog"), ("adc", "ads1115"), ("probe", "ds18b20"), ("display", "ssd1306-oled")));
        Assert.StartsWith("adc:A", plan.Line("water", "A")!.Pin);
        var reading = Assert.Single(plan.Analog);
        Assert.Equal("adc", reading.Through);
        // 125 µV a step in the range of 4.096 V (ADS1115 data sheet); 2,000 µS/cm over 2.3 V.
        Assert.Equal(125e-6 * 2000 / 2.3, reading.Step.Value!.Value, 1e-9);
    }

    [Fact]
    public void Pulses_a_tank_sender_probes_and_an_air_sensor_on_12_volts()
    {
        var node = Samples.Node([("pulse", "opto-pulse-input"), ("tank", "resistive-sender"), .. Many("ds18b20", 5), ("air", "bme280")]);
        var plan = Sound(node with { Power = new(PowerKind.TwelveVolt, Module: "buck-lm2596", FuseAmps: 1, ReverseGuard: true, LeadAwg: 20) });
        Assert.Contains(plan.Rails, r => r.Rail == NodeSupply.SourceRail && r.Volts == 12);
        Assert.Contains(plan.Additions, c => c.For == "tank.S" && c.Value == "220 Ω");
        Assert.True(Samples.Board().Pin(plan.Line("pulse", "OUT")!.Pin).Interrupt);
    }

    [Fact]
    public void A_long_range_radio_an_analog_input_and_a_character_display_on_5_volts()
    {
        var plan = Sound(Samples.Node(("radio", "lora-sx1276"), ("light", "temt6000"), ("display", "lcd-1602-i2c")) with { Power = new(PowerKind.FiveVolt) });
        Assert.Contains(plan.Additions, c => c.What.StartsWith("level shifter", StringComparison.Ordinal) && c.For == "I2C 0");
        Assert.Equal("5v", plan.Parts.Single(p => p.Part == "display").Rail);
    }

    [Fact]
    public void A_small_board_with_a_card_and_a_single_wire_sensor()
    {
        var plan = Sound(Samples.Node(("card", "microsd-spi"), ("air", "dht22")) with { Board = "esp32-c3-mini-16" });
        Assert.Equal("SPI 2", plan.Parts.Single(p => p.Part == "card").Bus);
        Assert.Contains(plan.Additions, c => c.For == "air.DATA");
    }

    [Fact]
    public void Three_parts_with_one_fixed_address_get_a_multiplexer_or_a_stop()
    {
        var three = Samples.Node(Many("aht20", 3));
        var plan = Sound(three);
        Assert.Equal(HelperKind.Mux, Assert.Single(plan.Helpers).Kind);
        var without = Samples.Plan(three with { AddsModules = false });
        var stop = without.Findings.Single(f => f.Code == "BENCH-CONFLICT");
        Assert.Contains("cannot all have an address of their own", stop.Why);
        Assert.NotEmpty(stop.Remedies);
    }

    [Fact]
    public void Two_laser_sensors_share_a_bus_by_their_reset_lines()
    {
        var plan = Sound(Samples.Node(("a", "vl53l0x"), ("b", "vl53l0x")) with { Board = "esp32-c3-mini-16", AddsModules = false });
        Assert.Equal(2, plan.Parts.Select(p => p.Address).Distinct().Count());
        Assert.Contains(plan.Wires, w => w.Line == "XSHUT");
    }

    [Fact]
    public void More_contacts_than_pins_is_a_stop_that_says_so()
    {
        var plan = Samples.Plan(Samples.Node(Many("reed-contact", 40)) with { AddsModules = false });
        var stop = plan.Findings.Single(f => f.Code == "BENCH-CONFLICT");
        Assert.Contains("left without a fit pin", stop.Why);
        Assert.Contains(stop.Remedies, r => r.Label == "Let the planner add a module");
    }

    [Fact]
    public void A_modem_on_a_coin_cell_is_a_stop_that_says_so()
    {
        var plan = Samples.Plan(
            Samples.Node(("modem", "sim800-modem")) with
            {
                Board = "rp2040-40",
                Power = new(PowerKind.Cells, "cr2032"),
                Link = LinkKind.LongRange,
            }
        );
        Assert.Contains(plan.Findings, f => f is { Code: "BENCH-CELL-PULSE", Severity: Severity.Stop } && f.What.Contains("mA at its peak"));
        Assert.Contains(plan.Findings, f => f is { Code: "BENCH-NO-RAIL", Severity: Severity.Stop });
    }

    [Fact]
    public void A_five_volt_radio_on_a_board_of_3_volts_gets_its_divider_and_without_5_volts_a_stop()
    {
        Assert.Contains(Sound(Samples.Node(("rx", "ook-rx-433"))).Additions, c => c.For == "rx.DATA" && c.Value == "10 kΩ over 15 kΩ");
        var plan = Samples.Plan(Samples.Node(("rx", "ook-rx-433")) with { Board = Samples.Rp2040, Power = new(PowerKind.Cells, "cell-18650") });
        Assert.Contains(plan.Findings, f => f.Code == "BENCH-NO-RAIL" && f.What.Contains("4.75 to 5.25 V"));
    }

    [Fact]
    public void A_siren_gets_its_step_up_and_a_switch_with_a_diode()
    {
        var stop = Samples.Plan(Samples.Node(("siren", "siren-12v"))).Findings.Single(f => f.Code == "BENCH-NO-RAIL");
        Assert.Contains(stop.Remedies, r => r.Label == "Add a step-up module to 12 V");
        var plan = Samples.Plan(Samples.Node(("siren", "siren-12v")) with { Power = new(PowerKind.FiveVolt, TwelveVoltStepUp: true) });
        Assert.Contains(plan.Additions, c => c.For == "siren.-" && c.What.Contains("flyback diode"));
        // 200 mA at 12 V are 539 mA at 5 V behind a converter of 89 %.
        Assert.Equal(200 * 12 / (5 * 0.89), plan.Rails.Single(r => r.Rail == "5v").Typical.Value!.Value, 1e-6);
    }
}
