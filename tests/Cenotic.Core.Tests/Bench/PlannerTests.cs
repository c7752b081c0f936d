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
                var soldered = before.Wires.Where(w => w.Kind is WireKind.Bus or WireKind.Signal).Select(w => new WireDesign(w.Part, w.Line, w.Pin, WireHold.Soldered)).ToList();
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
    public void The_reported_conflict_is_irreducible() =>
        Gen.Select(Gen.Int[0, 5].Select(i => new[] { "bme280", "bh1750", "ld2410", "pir-hc-sr501", "reed-contact", "lora-sx1276" }[i]).Array[6, 16], Gen.Bool).Sample(
            (parts, uart) =>
            {
                var node = Samples.Node([.. parts.Select((p, i) => ($"p{i}", p))]);
                node = node with { Parts = [.. node.Parts.Select(p => p.Part == "ld2410" && uart ? p with { Interface = InterfaceKind.Uart } : p)] };
                var finding = Samples.Plan(node).Findings.FirstOrDefault(f => f.Code == "BENCH-CONFLICT");
                if (finding is null)
                {
                    return;
                }
                // The members are named by the remedies that remove one of them, or by the sentence.
                var members = node.Parts.Where(p => finding.What.Contains($" {p.Label},") || finding.What.Contains($" {p.Label}.")).ToList();
                Assert.NotEmpty(members);
                Assert.False(Samples.Plan(node with { Parts = members }).Complete);
                foreach (var member in members)
                {
                    Assert.True(Samples.Plan(node with { Parts = [.. members.Where(m => m != member)] }).Complete, $"without {member.Label}");
                }
            },
            iter: 50);
}
