using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

public class PlannerTests
{
    [Fact]
    public void The_same_node_gives_the_same_plan() =>
        EveryBoard.Node.Sample(node => System.Text.Json.JsonSerializer.Serialize(Samples.Plan(node), CenoticJson.Options) == System.Text.Json.JsonSerializer.Serialize(Samples.Plan(node), CenoticJson.Options), iter: 40);

    [Fact]
    public void Adding_a_part_moves_no_soldered_wire_where_that_is_possible() =>
        Gen.Select(EveryBoard.Node, Gen.Int[0, Samples.Catalogue.Parts.Count - 1].Select(i => Samples.Catalogue.Parts.ElementAt(i).Id)).Sample(
            (node, added) =>
            {
                var before = Samples.Plan(node);
                if (!before.Complete)
                {
                    return;
                }
                var soldered = before.Lines.Select(w => new WireDesign(w.Part, w.Line, w.Pin, WireHold.Soldered)).ToList();
                var more = node with { Wires = soldered, Parts = [.. node.Parts, Samples.Part("added", added)] };
                var after = Samples.Plan(more);
                if (!after.Complete)
                {
                    return;
                }
                // Where pins can be kept at all, fixing them all must give a plan; then none may have moved.
                var pinned = Samples.Plan(more with { Wires = [.. soldered.Select(w => w with { Hold = WireHold.Locked })] });
                if (pinned.Complete && pinned.Findings.All(f => !f.Code.StartsWith("BENCH-LOCK", StringComparison.Ordinal)))
                {
                    Assert.Empty(after.Moves);
                    Assert.Equal(0, after.Cost.MovedWires);
                }
            },
            iter: 120);

    [Fact]
    public void The_reported_conflict_is_irreducible()
    {
        string[] boards = ["esp32-c3-mini-16", "esp8266-mini-16", "esp32-eth-rmii-26", "atmega328p-5v-mini-30", "nrf52840-module-24", "rp2040-40", Samples.Esp32];
        string[] kinds = ["bme280", "aht20", "tsl2591", "ld2410", "pir-am312", "reed-contact", "lora-sx1276", "relay-5v-2ch", "soil-capacitive", "microsd-spi", "hx711", "rgb-led-cc"];
        var conflicts = 0;
        Gen.Select(Gen.Int[0, boards.Length - 1], Gen.Int[0, kinds.Length - 1].Array[5, 14], Gen.Bool, Gen.Bool).Sample(
            (board, parts, uart, adds) =>
            {
                var node = Samples.Node([.. parts.Select((p, i) => ($"p{i}", kinds[p]))]) with { Board = boards[board], AddsModules = adds, Power = new(PowerKind.FiveVolt) };
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
            iter: 110, seed: "0000KFfPTcd9", threads: 2);
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
