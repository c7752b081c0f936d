using Cenotic.Core.Bench;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>Steps in safe order with what a meter should show, and what it means when it shows something else.</summary>
public class BuildStepsTests
{
    private static readonly Dictionary<string, double> Unmeasured = [];

    private static IReadOnlyList<BuildStep> Steps(NodeDesign node, IReadOnlyDictionary<string, double>? measured = null, params StockItem[] stock) =>
        BuildSteps.Of(node, Samples.Plan(node), Samples.Catalogue, stock, measured ?? Unmeasured);

    private static BuildStep Step(NodeDesign node, string key, IReadOnlyDictionary<string, double>? measured = null) =>
        Steps(node, measured).First(s => s.Key.StartsWith(key, StringComparison.Ordinal));

    private static NodeDesign Air => Samples.Node(("air", "bme280"), ("lux", "bh1750"));

    public static TheoryData<string> Fernhollow => [.. Samples.Fernhollow().Design.Nodes.Select(n => n.Key)];

    [Theory]
    [MemberData(nameof(Fernhollow))]
    public void Every_wire_is_soldered_once_and_nothing_is_powered_before_it_was_looked_at_for_a_short(string key)
    {
        var node = Samples.Fernhollow().Design.Node(key)!;
        var plan = Samples.Plan(node);
        var steps = BuildSteps.Of(node, plan, Samples.Catalogue, [], Unmeasured);
        Assert.Equal(plan.Wires.Select(w => w.Tick).OfType<string>().Order(), steps.SelectMany(s => s.Wires).Order());
        // Every joint is a line of one step.
        Assert.Equal(
            plan.Wires.Count,
            steps
                .Where(s => s.Key.StartsWith("solder:", StringComparison.Ordinal) || s.Key.StartsWith("feed", StringComparison.Ordinal))
                .Sum(s => s.Lines.Count(l => l.Text.Contains('→') || l.Text.StartsWith("Bridge ") || l.Text.StartsWith("Plug ")))
        );
        // What is fitted besides the parts stands in one step.
        Assert.All(plan.Additions, c =>
            Assert.Contains(steps.Where(s => s.Key.StartsWith("solder:", StringComparison.Ordinal)).SelectMany(s => s.Lines), l =>
                l.Text.Contains($"{c.What}: {c.Where}", StringComparison.Ordinal)
            )
        );
        Assert.All(steps.Where(s => s.Measure is not null), s => Assert.Equal(s.Measure!.Expected.Unit, BuildSteps.UnitAt(s.Key)));
        Assert.Equal(steps.Count, steps.Select(s => s.Key).Distinct().Count());
        Assert.Equal(steps.Select(s => s.Stage).Order(), steps.Select(s => s.Stage));
        var at = steps.Select((s, i) => (s.Key.Split('#')[0], i)).ToDictionary(p => p.Item1, p => p.i);
        Assert.All(steps.Where(s => s.Measure?.Kind == MeasureKind.SupplyVolts), s => Assert.True(at[s.Key] < at["board-short"]));
        Assert.True(at["board-short"] < at["board-power"]);
        Assert.All(plan.Wires.Where(w => w is { Kind: WireKind.Supply, Tick: not null }).Select(w => w.Part).Distinct(), part =>
        {
            Assert.True(at["board-power"] < at[$"solder:{part}"]);
            Assert.True(at[$"solder:{part}"] < at[$"short:{part}"]);
            Assert.True(at[$"short:{part}"] < at[$"power:{part}"]);
        });
        Assert.All(steps.Where(s => s.Measure?.Kind == MeasureKind.CurrentMilliamps), s =>
            Assert.True(s.Measure!.LimitMilliamps > s.Measure.Expected.High && s.Measure.Expected.High > s.Measure.Expected.Low)
        );
        Assert.All(steps.Where(s => s.Measure?.Kind != MeasureKind.CurrentMilliamps), s => Assert.Null(s.Measure?.LimitMilliamps));
    }

    [Fact]
    public void Leads_are_cut_with_room_for_both_ends_and_colours_are_those_of_the_plan()
    {
        var cut = Step(Air, "cut");
        // 20 cm of lead and 2 cm for the two ends.
        Assert.Contains(cut.Lines, l => l.Text.StartsWith("air: 4 of 22 cm, black, orange", StringComparison.Ordinal));
        Assert.Contains(cut.Lines, l => l.Text.Contains("8 pieces", StringComparison.Ordinal));
        Assert.Contains(Step(Air, "solder:air").Lines, l =>
            l is { Colour: "black" }
            && l.Text.StartsWith("GND → GND", StringComparison.Ordinal)
            && l.Text.EndsWith("end to end below 0.6 Ω", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void The_pull_up_of_a_bus_is_measured_when_its_last_part_is_on_and_is_what_the_plan_worked_out()
    {
        var steps = Steps(Air).ToList();
        var at = steps.FindIndex(s => s.Key == "pull-up:I2C 0");
        Assert.True(at > steps.FindIndex(s => s.Key.StartsWith("solder:lux", StringComparison.Ordinal)));
        var bus = Samples.Plan(Air).Buses.Single();
        Assert.Equal(bus.Figures.Single(f => f.Label == "Pull-up in effect").Value, steps[at].Measure!.Expected.Value);
        var probes = Samples.Node(("p1", "ds18b20"), ("p2", "ds18b20"));
        Assert.Equal(4700, Step(probes, "pull-up:").Measure!.Expected.Value);
    }

    [Fact]
    public void A_measured_current_narrows_what_the_next_part_may_add()
    {
        var wide = Step(Air, "power:air").Measure!.Expected;
        var narrow = Step(Air, "power:air", new Dictionary<string, double> { ["board-power"] = 50 }).Measure!.Expected;
        Assert.True(wide.High - wide.Low > 5 * (narrow.High - narrow.Low));
        // 50 mA ± 10 %, and at most 0.714 mA ± 30 % of the part (data sheet: 714 µA while it measures pressure).
        Assert.Equal(45, narrow.Low!.Value, 0.1);
        Assert.InRange(narrow.High!.Value, 55, 57);
    }

    [Fact]
    public void A_step_up_and_a_step_down_are_set_before_the_board_hangs_on_them()
    {
        var twelve = Air with { Power = new(PowerKind.TwelveVolt, Module: "buck-lm2596", FuseAmps: 1) };
        var set = Step(twelve, "set:buck-lm2596");
        Assert.Equal((4.85, 5.15), (Math.Round(set.Measure!.Expected.Low!.Value, 3), Math.Round(set.Measure.Expected.High!.Value, 3)));
        Assert.Contains("whole input", set.Caution, StringComparison.Ordinal);
        Assert.Contains("licensed", Step(twelve, "source").Caution, StringComparison.Ordinal);
        // Behind a step-down from 12 V the source gives less than half of what the board takes.
        Assert.Equal(0.6, Step(twelve, "board-power").Measure!.Expected.High!.Value / Step(Air, "board-power").Measure!.Expected.High!.Value, 0.1);
    }

    [Fact]
    public void Only_what_the_drawer_counts_is_taken_out_of_it()
    {
        var ready = Steps(Air, null, new StockItem("bme280", 3, []), new StockItem("cr2032", 9, [])).First();
        Assert.Equal(("bme280", 1), (ready.Takes.Single().Key, ready.Takes.Single().Value));
        Assert.Contains("holder", ready.Caution, StringComparison.Ordinal);
    }

    /// <summary>Code, the step, what the meter shows, and what it shows when all is well.</summary>
    public static TheoryData<string, string, double, double> Meters =>
        new()
        {
            { "BUILD-REVERSED", "source", -5.02, 5.02 },
            { "BUILD-VOLTS-HIGH", "source", 11.9, 5.1 },
            { "BUILD-VOLTS-LOW", "source", 4.2, 4.9 },
            { "BUILD-VOLTS-NONE", "source", 0.01, 4.9 },
            { "BUILD-SHORT", "short:air", 0.4, 4300 },
            { "BUILD-PULLUP-MISSING", "pull-up:", 250_000, 3200 },
            { "BUILD-LINE-HELD", "pull-up:", 0.6, 3200 },
            { "BUILD-PULLUP-STRONG", "pull-up:", 1500, 3200 },
            { "BUILD-CURRENT-NONE", "board-power", 0, 60 },
            { "BUILD-CURRENT-LOW", "board-power", 8, 60 },
            { "BUILD-CURRENT-HIGH", "board-power", 230, 60 },
            { "BUILD-CURRENT-SHORT", "board-power", 950, 60 },
        };

    [Theory]
    [MemberData(nameof(Meters))]
    public void Every_diagnosis_appears_with_the_value_a_meter_shows_and_goes_with_a_good_one(string code, string key, double shows, double good)
    {
        var step = Step(Air, key);
        var finding = BuildDiagnosis.Of(Air, step, step.Measure!.Of(shows), shows);
        Assert.Equal(code, finding?.Code);
        Assert.NotEmpty(finding!.Advice!);
        Assert.Null(BuildDiagnosis.Of(Air, step, step.Measure.Of(good), good));
    }

    [Fact]
    public void A_tap_tells_what_a_value_would()
    {
        var power = Step(Air, "power:lux");
        Assert.Equal("BUILD-CURRENT-SHORT", BuildDiagnosis.Of(Air, power, MeterShows.Above, null)?.Code);
        Assert.Contains("lux", BuildDiagnosis.Of(Air, power, MeterShows.Below, null)!.What, StringComparison.Ordinal);
        Assert.Equal(Severity.Stop, BuildDiagnosis.Of(Air, Step(Air, "short:lux"), MeterShows.Below, null)!.Severity);
        Assert.Null(BuildDiagnosis.Of(Air, power, MeterShows.Within, null));
        Assert.Null(BuildDiagnosis.Of(Air, Step(Air, "solder:lux"), MeterShows.Above, null));
    }

    [Fact]
    public void A_step_whose_wires_change_is_another_step()
    {
        var wire = Samples.Plan(Air).Line("air", "SDA") ?? Samples.Plan(Air).Lines.First(w => w.Part == "air" && w.Kind == WireKind.Bus);
        var elsewhere = Air with { Board = Samples.Rp2040 };
        Assert.NotEqual(Step(Air, "solder:air").Key, Step(elsewhere, "solder:air").Key);
        Assert.Equal(Step(Air, "solder:air").Key, Step(Air with { Wires = [new("air", wire.Line, wire.Pin, WireHold.Soldered)] }, "solder:air").Key);
        Assert.Empty(Steps(Air with { Board = "no-such-board" }));
    }
}
