using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

public class PlannerTests
{
    /// <summary>JSON knows neither infinities nor what is not a number: a plan with one of them cannot be sent.</summary>
    [Fact]
    public void Every_figure_of_a_plan_is_a_number_also_where_nothing_feeds_its_parts() =>
        EveryBoard.Powered.Sample(
            node => Assert.NotEmpty(System.Text.Json.JsonSerializer.SerializeToUtf8Bytes(Samples.Plan(node), CenoticJson.Options)),
            iter: 300
        );

    [Fact]
    public void The_same_node_gives_the_same_plan() =>
        EveryBoard.Node.Sample(
            node =>
                System.Text.Json.JsonSerializer.Serialize(Samples.Plan(node), CenoticJson.Options)
                == System.Text.Json.JsonSerializer.Serialize(Samples.Plan(node), CenoticJson.Options),
            iter: 40
        );

    private enum Change
    {
        AddPart,
        RemovePart,
        Supply,
        Sleep,
        Reading,
        Lead,
        LockFreePin,
        LockSolderedPin,
    }

    [Fact]
    public void No_edit_moves_a_soldered_wire_where_it_can_stay()
    {
        var (kept, locked) = (0, 0);
        Gen.Select(EveryBoard.Small, Gen.Enum<Change>(), Gen.Int[0, 9999], EveryBoard.Power)
            .Sample(
                (node, change, pick, power) =>
                {
                    var before = Samples.Plan(node);
                    if (!before.Complete || before.Lines.Count == 0)
                    {
                        return;
                    }
                    var soldered = before
                        .Wires.Where(w => w.Tick is not null)
                        .Select(w => (Key: w.Tick!.Split('.', 2), Wire: w))
                        .Select(w => new WireDesign(w.Key[0], w.Key[1], w.Wire.Pin, WireHold.Soldered, w.Wire.Colour))
                        .Where(w => w.Part == "board" || node.Part(w.Part) is not null)
                        .ToList();
                    var more = Changed(node with { Wires = soldered }, before, change, pick, power);
                    var after = Samples.Plan(more);
                    if (!after.Complete)
                    {
                        return;
                    }
                    // A wire that another was fixed onto says so.
                    foreach (var wire in more.Wires.Where(w => w.Hold == WireHold.Locked && after.Line(w.Part, w.Line)?.Pin == w.Pin))
                    {
                        foreach (var move in after.Moves.Where(m => m.From == wire.Pin && m.To is not null && $"{m.Part}.{m.Line}" != wire.Key))
                        {
                            Assert.Contains($"You fixed {more.Part(wire.Part)?.Label ?? wire.Part} {wire.Line} on that pin.", move.Why);
                            Interlocked.Increment(ref locked);
                        }
                    }
                    // Where pins can be kept at all, fixing them all must give a plan; then none may have moved.
                    var pinned = Samples.Plan(
                        more with
                        {
                            Wires = [.. more.Wires.Where(w => before.Line(w.Part, w.Line) is not null).Select(w => w with { Hold = WireHold.Locked })],
                        }
                    );
                    if (pinned.Complete && pinned.Findings.All(f => !f.Code.StartsWith("BENCH-LOCK", StringComparison.Ordinal)))
                    {
                        Assert.True(
                            after.Cost.MovedWires == 0,
                            $"{change} {node.Board} {node.Power.Kind} {string.Join(",", more.Parts.Select(p => $"{p.Key}={p.Part}"))} locked "
                                + $"{string.Join(",", more.Wires.Where(w => w.Hold == WireHold.Locked && after.Line(w.Part, w.Line)?.Pin == w.Pin))}: "
                                + $"{string.Join("; ", after.Moves)}"
                        );
                        // What is not in the plan any more is taken off; a signal that stays stays where it is.
                        Assert.DoesNotContain(after.Moves, m => m.To is not null && after.Line(m.Part, m.Line) is not null);
                        Interlocked.Increment(ref kept);
                    }
                },
                iter: 1000,
                seed: "0002CnRk3gW8"
            );
        Assert.True(kept >= 500 && locked >= 20, $"{kept} kept, {locked} locked");
    }

    private static NodeDesign Changed(NodeDesign node, BenchPlan plan, Change change, int pick, PowerDesign power)
    {
        var free = Samples.Board(node.Board).Pins.Where(p => p.Kind == PinKind.Gpio && plan.Lines.All(l => l.Pin != p.Id)).ToList();
        var (line, other) = (plan.Lines[pick % plan.Lines.Count], plan.Lines[(pick + 1) % plan.Lines.Count]);
        NodeDesign Locked(string pin) =>
            node with
            {
                Wires = [.. node.Wires.Where(w => w.Key != $"{line.Part}.{line.Line}"), new(line.Part, line.Line, pin, WireHold.Locked)],
            };
        switch (change)
        {
            case Change.AddPart:
                return node with { Parts = [.. node.Parts, Samples.Part("added", Samples.Catalogue.Parts.ElementAt(pick % Samples.Catalogue.Parts.Count).Id)] };
            case Change.RemovePart:
                var gone = node.Parts[pick % node.Parts.Count].Key;
                return node with
                {
                    Parts = [.. node.Parts.Where(p => p.Key != gone)],
                    Wires = [.. node.Wires.Where(w => w.Part != gone)],
                    Readings = [.. node.Readings.Where(r => r.Part != gone)],
                };
            case Change.Supply:
                return node with { Power = power };
            case Change.Sleep:
                return node with { Sleeps = !node.Sleeps };
            case Change.Reading:
                return node with { Readings = [.. node.Readings.Select(r => r.IntervalMs is null ? r : r with { IntervalMs = 1000 })] };
            case Change.Lead:
                return node with { Parts = [.. node.Parts.Select(p => p with { LeadMetres = 2 })] };
            case Change.LockFreePin:
                return free.Count == 0 ? node : Locked(free[pick % free.Count].Id);
            default:
                return other.Pin == line.Pin ? node : Locked(other.Pin);
        }
    }

    /// <summary>Found by the integer solver: two SPI parts that are soldered to pins apart stay apart, each on a controller of its own; where nothing is
    /// soldered they share one.</summary>
    [Fact]
    public void Parts_that_are_soldered_to_two_SPI_buses_stay_on_them()
    {
        var node = Samples.Node(("p0", "bme280"), ("p1", "lora-sx1276")) with
        {
            Board = "esp32-dev-30",
            Link = LinkKind.LongRange,
            Wires =
            [
                new("p0", "SDA", "L9", WireHold.Soldered),
                new("p0", "SCL", "L12", WireHold.Soldered),
                new("p1", "SCK", "R2", WireHold.Soldered),
                new("p1", "MOSI", "R5", WireHold.Soldered),
            ],
        };
        node = node with { Parts = [node.Parts[0] with { Interface = InterfaceKind.Spi }, node.Parts[1]] };
        var held = Samples.Plan(node);
        Assert.Equal((true, 0), (held.Complete, held.Cost.MovedWires));
        Assert.Equal(2, held.Parts.Select(p => p.Bus).Distinct().Count());
        Assert.Single(Samples.Plan(node with { Wires = [] }).Parts.Select(p => p.Bus).Distinct());
    }

    [Fact]
    public void The_reported_conflict_is_irreducible()
    {
        string[] boards =
        [
            "esp32-c3-mini-16",
            "esp8266-mini-16",
            "esp32-eth-rmii-26",
            "atmega328p-5v-mini-30",
            "nrf52840-module-24",
            "rp2040-40",
            Samples.Esp32,
        ];
        string[] kinds =
        [
            "bme280",
            "aht20",
            "tsl2591",
            "ld2410",
            "pir-am312",
            "reed-contact",
            "lora-sx1276",
            "relay-5v-2ch",
            "soil-capacitive",
            "microsd-spi",
            "hx711",
            "rgb-led-cc",
        ];
        var conflicts = 0;
        Gen.Select(Gen.Int[0, boards.Length - 1], Gen.Int[0, kinds.Length - 1].Array[5, 14], Gen.Bool, Gen.Bool)
            .Sample(
                (board, parts, uart, adds) =>
                {
                    var node = Samples.Node([.. parts.Select((p, i) => ($"p{i}", kinds[p]))]) with
                    {
                        Board = boards[board],
                        AddsModules = adds,
                        Power = new(PowerKind.FiveVolt),
                    };
                    node = node with { Parts = [.. node.Parts.Select(p => p.Part == "ld2410" && uart ? p with { Interface = InterfaceKind.Uart } : p)] };
                    var finding = Samples.Plan(node).Findings.FirstOrDefault(f => f.Code == "BENCH-CONFLICT");
                    if (finding is null)
                    {
                        return;
                    }
                    Interlocked.Increment(ref conflicts);
                    // The sentence names the members. The oracle says whether a set has a plan: not the planner itself.
                    var members = node.Parts.Where(p => finding.What.Contains($" {p.Label},") || finding.What.Contains($" {p.Label}.")).ToList();
                    Assert.NotEmpty(members);
                    Assert.Null(new BenchModel(node with { Parts = members }, Samples.Catalogue).Optimum());
                    foreach (var member in members.Where(_ => members.Count > 1))
                    {
                        Assert.NotNull(new BenchModel(node with { Parts = [.. members.Where(m => m != member)] }, Samples.Catalogue).Optimum());
                    }
                },
                iter: 110,
                seed: "0000KFfPTcd9",
                threads: 2
            );
        Assert.True(conflicts >= 50, $"only {conflicts} conflicts");
    }

    [Fact]
    public void A_trial_says_who_makes_room_and_changes_nothing()
    {
        var node = Samples.Node(("a", "pir-am312"), ("b", "pir-am312"));
        var plan = Samples.Plan(node);
        var (mine, other) = (plan.Line("a", "OUT")!.Pin, plan.Line("b", "OUT")!.Pin);
        var trial = BenchPlanner.Try(node, Samples.Catalogue, "a", "OUT", other);
        Assert.True(trial.Fits);
        Assert.Equal("b OUT", Assert.Single(trial.Moves).Wire);
        Assert.True(trial.Then.CompareTo(trial.Now) >= 0);
        var soldered = node with { Wires = [new WireDesign("b", "OUT", other, WireHold.Soldered)] };
        Assert.True(Assert.Single(BenchPlanner.Try(soldered, Samples.Catalogue, "a", "OUT", other).Moves).Soldered);
        Assert.Equal(plan.Cost, BenchPlanner.Try(node, Samples.Catalogue, "a", "OUT", mine).Then);
        Assert.False(BenchPlanner.Try(node, Samples.Catalogue, "a", "OUT", "L16").Fits);
        Assert.False(BenchPlanner.Try(node, Samples.Catalogue, "a", "OUT", "none").Fits);
        Assert.False(BenchPlanner.Try(node, Samples.Catalogue, "a", "NONE", mine).Fits);
    }
}
