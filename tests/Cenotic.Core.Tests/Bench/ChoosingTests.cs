using Cenotic.Core.Bench;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Place;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Wishes, other boards, the parts list and what goes to other tools.</summary>
public class ChoosingTests
{
    private static readonly Surroundings Garden = new("Garden", false, true, false, true);

    private static IReadOnlyList<PartAnswer> Answer(Wish wish, Surroundings? around = null, params StockItem[] stock) =>
        PartChoice.Answer(wish, Samples.Catalogue, stock, around ?? Surroundings.Indoors, []);

    [Fact]
    public void A_good_thermometer_comes_before_a_coarse_one_and_what_cannot_says_why()
    {
        var answers = Answer(new("temperature", -20, 60, 0.5));
        Assert.True(answers[0].Fits);
        Assert.Contains(answers[0].Part, new[] { "sht31", "aht20" });
        var coarse = answers.Single(a => a.Part == "dht11");
        Assert.False(coarse.Fits);
        Assert.Contains("0 to 50 °C", coarse.Exclusions[0]);
        Assert.Contains(coarse.Exclusions, e => e.Contains("±2 °C"));
        Assert.True(answers.TakeWhile(a => a.Fits).Count() == answers.Count(a => a.Fits));
    }

    [Fact]
    public void What_lies_in_the_drawer_comes_first() =>
        Assert.Equal("bmp280", Answer(new("temperature", null, null, 1.5), null, new StockItem("bmp280", 2, []))[0].Part);

    [Fact]
    public void On_cells_a_radar_is_out_and_the_sparing_motion_sensor_is_in()
    {
        var motion = Answer(new("motion", OnCells: true));
        Assert.Equal("pir-am312", motion[0].Part);
        Assert.Contains(motion.Single(a => a.Part == "rcwl-0516").Exclusions, e => e.Contains("all the time"));
        Assert.All(Answer(new("presence", OnCells: true)), a => Assert.False(a.Fits));
    }

    [Fact]
    public void Frost_rules_out_what_ends_at_zero() =>
        Assert.Contains(Answer(new("humidity"), Garden).Single(a => a.Part == "dht11").Exclusions, e => e.Contains("frost"));

    [Fact]
    public void Boards_stand_side_by_side_with_the_present_one_first()
    {
        var node = Samples.Node(("air", "bme280"), ("radar", "ld2410"), ("fan", "relay-5v-1ch"));
        var options = BoardComparison.Compare(node, Samples.Catalogue, [new("esp32-dev-30", 0, [new("anywhere", 2, 9, 3)])], Surroundings.Indoors);
        Assert.Equal(Samples.Catalogue.Boards.Count, options.Count);
        Assert.True(options[0] is { Board: Samples.Esp32, Current: true, Fits: true });
        Assert.Equal(4.5, options.Single(o => o.Board == "esp32-dev-30").Price);
        Assert.Equal("It has no Wi-Fi.", options.Single(o => o.Board == "atmega328p-5v-mini-30").Why);
        // 26 pins fit a plain line there, less the four used: counted by hand from the pin table.
        Assert.Equal(
            Samples
                .Board()
                .Pins.Count(p => p.Kind == Core.Catalogue.PinKind.Gpio && !p.Has(Core.Catalogue.Hazard.Flash) && !p.Has(Core.Catalogue.Hazard.Console)) - 4,
            options[0].PinsLeft
        );
    }

    [Fact]
    public void The_parts_list_counts_the_drawer_and_both_ways_to_buy()
    {
        var node = Samples.Node(("a", "ds18b20"), ("b", "ds18b20"), ("c", "ds18b20"));
        var list = PartsList.Of(
            node,
            Samples.Plan(node),
            Samples.Catalogue,
            [new("ds18b20", 1, [new("far", 10, 8, 21), new("near", 1, 3, 2)]), new("esp32-dev-38", 1, [])]
        );
        var probe = list.Items.Single(i => i.Id == "ds18b20");
        Assert.Equal((3, 1, 2), (probe.Needed, probe.OnHand, probe.ToBuy));
        Assert.Equal(("near", 6.0), (probe.Cheapest!.From, probe.Cheapest.Price));
        Assert.Equal(("near", 2), (probe.Soonest!.From, probe.Soonest.Days));
        Assert.Equal(0, list.Items.Single(i => i.Id == "esp32-dev-38").ToBuy);
        // The pull-up of the line has no offer.
        Assert.Equal(1, list.Unpriced);
        var many = PartsList
            .Of(node, Samples.Plan(node), Samples.Catalogue, [new("ds18b20", 0, [new("far", 10, 8, 21), new("near", 1, 3, 2)])])
            .Items.Single(i => i.Id == "ds18b20");
        Assert.Equal(("far", 8.0, 10), (many.Cheapest!.From, many.Cheapest.Price, many.Cheapest.Pieces));
        Assert.Equal("near", many.Soonest!.From);
    }

    [Fact]
    public void Exports_name_every_wire_and_cannot_carry_a_formula_or_a_comment_end()
    {
        var node = Samples.Node(("echo", "hc-sr04"), ("air", "bme280"));
        node = node with { Label = "=cmd() */ \\", Parts = [node.Parts[0] with { Label = "=HYPERLINK(\"x\")" }, node.Parts[1]] };
        var plan = Samples.Plan(node);
        var csv = BenchExports.WiringCsv(plan);
        Assert.Equal(plan.Wires.Count + 1, csv.Split("\r\n", StringSplitOptions.RemoveEmptyEntries).Length);
        Assert.DoesNotContain(",=HYPERLINK", csv);
        Assert.DoesNotContain(",\"=HYPERLINK", csv);
        var net = BenchExports.NetlistCsv(plan);
        Assert.Contains($",{plan.Line("echo", "ECHO")!.Pin},echo.ECHO/pin", net);
        Assert.Contains("echo.ECHO/divider/R1,resistor,10 kΩ,2,echo.ECHO/pin", net);
        var header = BenchExports.CHeader(node, plan, Samples.Board());
        Assert.Contains($"#define PIN_ECHO_ECHO {Samples.Gpio(plan, "echo", "ECHO")} ", header);
        Assert.Contains("#define ADDR_AIR 0x76 ", header);
        Assert.Equal(header.Split("/*").Length, header.Split("*/").Length);
        Assert.DoesNotContain('\\', header);
        Assert.Contains("\"address\": 118", BenchExports.PinsJson(node, plan));
    }

    [Fact]
    public void The_header_compiles()
    {
        var node = Samples.Node(("echo", "hc-sr04"), ("air", "bme280"), ("e", "mcp23017"), ("door", "reed-contact"));
        var plan = Samples.Plan(node);
        Assert.Contains("#define LINE_DOOR_A ", BenchExports.CHeader(node, plan, Samples.Board()));
        var file = Path.Combine(Path.GetTempPath(), $"pins-{Guid.NewGuid():N}.c");
        File.WriteAllText(
            file,
            BenchExports.CHeader(node, plan, Samples.Board()) + "\nint main(void) { return PIN_ECHO_ECHO + ADDR_AIR + LINE_DOOR_A == 0; }\n"
        );
        try
        {
            using var compiler = System.Diagnostics.Process.Start(
                new System.Diagnostics.ProcessStartInfo("cc", $"-std=c99 -Wall -Werror -fsyntax-only {file}") { RedirectStandardError = true }
            )!;
            var said = compiler.StandardError.ReadToEnd();
            compiler.WaitForExit();
            Assert.True(compiler.ExitCode == 0, said);
        }
        finally
        {
            File.Delete(file);
        }
    }

    [Fact]
    public void Wires_that_join_are_named_with_their_pin()
    {
        var plan = Samples.Plan(Samples.Node(("a", "ds18b20"), ("b", "ds18b20")));
        Assert.Equal(["a DQ", "b DQ"], plan.Splices.Single(s => s.Kind == WireKind.Bus).Wires);
        Assert.Contains(plan.Splices, s => s.Kind == WireKind.Supply && s.Wires.Count == 2);
        // The grounds have a pin each: the board has three.
        Assert.DoesNotContain(plan.Splices, s => s.Kind == WireKind.Ground);
    }
}
