using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

public class PlannerTests
{
    private static readonly string[] AllParts = [.. Samples.Catalogue.Parts.Select(p => p.Id)];

    /// <summary>Nodes of one to nine parts on either board, over Wi-Fi or not, asleep or not.</summary>
    private static readonly Gen<NodeDesign> AnyNode = Gen.Select(Gen.Int[0, AllParts.Length - 1].Select(i => AllParts[i]).Array[1, 9], Gen.Bool, Gen.Bool, Gen.Bool).Select((parts, esp, wifi, sleeps) =>
    {
        var instances = parts.Select((p, i) => Samples.Part($"p{i}", p)).ToList();
        var readings = instances.Where(i => Samples.Catalogue.Part(i.Part)!.Quantities.Count > 0)
            .Select(i => (i, q: Samples.Catalogue.Part(i.Part)!.Quantities[0]))
            .Select(x => x.q.Kind == ReadingKind.Gauge ? Samples.Every("r" + x.i.Key, x.i.Key, x.q.Quantity, 60_000) : Samples.OnChange("r" + x.i.Key, x.i.Key, x.q.Quantity)).ToList();
        var cells = sleeps ? new PowerDesign(PowerKind.Cells, "cell-18650", 1, StepUp: true) : new PowerDesign(PowerKind.Usb);
        return new NodeDesign("n", "Node", null, esp ? Samples.Esp32 : Samples.Rp2040, cells, wifi ? LinkKind.Wifi : LinkKind.LongRange, sleeps, sleeps, instances, [], readings);
    });

    [Fact]
    public void No_plan_ever_breaks_a_hard_rule() =>
        AnyNode.Sample(
            node =>
            {
                var board = Samples.Board(node.Board);
                var plan = Samples.Plan(node);
                var pins = plan.Wires.Where(w => w.Kind is WireKind.Bus or WireKind.Signal).GroupBy(w => w.Pin).Select(g => (Pin: board.Pin(g.Key), Wires: g.ToList())).ToList();
                foreach (var (pin, wires) in pins)
                {
                    Assert.Equal(PinKind.Gpio, pin.Kind);
                    Assert.False(pin.Has(Hazard.Flash) || pin.Has(Hazard.Console), pin.Name);
                    foreach (var wire in wires)
                    {
                        CheckByHand(node, plan, pin, wire);
                    }
                    // One function a pin: a shared pin is the same line of a shared bus.
                    Assert.True(wires.Count == 1 || wires.All(w => w.Kind == WireKind.Bus), pin.Name);
                }
                foreach (var bus in plan.Parts.Where(p => p.Address is not null).GroupBy(p => p.Bus))
                {
                    Assert.Equal(bus.Count(), bus.Select(p => p.Address).Distinct().Count());
                }
                Assert.Equal(plan.Complete, plan.Findings.All(f => f.Code != "BENCH-CONFLICT"));
            },
            iter: 400);

    /// <summary>The must-nots of the 38-pin board written out once more, independently of the planner's own rules.</summary>
    private static void CheckByHand(NodeDesign node, BenchPlan plan, Pin pin, PlannedWire wire)
    {
        if (node.Board != Samples.Esp32)
        {
            return;
        }
        var gpio = pin.Gpio!.Value;
        var part = wire.Part == "board" ? null : Samples.Catalogue.Part(node.Part(wire.Part)!.Part);
        var driven = wire.Line is "IN" or "PWR" or "TRIG" or "SDA" or "SCL" or "DQ" or "SCK" or "MOSI" or "NSS" or "CSB" or "RST" or "RX";
        Assert.False(driven && gpio is 34 or 35 or 36 or 39, $"{wire.Line} driven on input-only {gpio}");
        if (part?.Id == "relay-5v-1ch")
        {
            Assert.DoesNotContain(gpio, new[] { 0, 1, 3, 5, 14, 15 });
        }
        if (part?.Id == "reed-contact" && gpio is 34 or 35 or 36 or 39)
        {
            Assert.Contains(plan.Components, c => c.For == $"{wire.Part}.{wire.Line}" && c.Key.EndsWith("pull-up"));
        }
        if (wire.Line == "SUPPLY")
        {
            Assert.NotNull(pin.Adc);
            Assert.False(node.Link == LinkKind.Wifi && gpio is 0 or 2 or 4 or (>= 12 and <= 15) or (>= 25 and <= 27), $"analog on {gpio} beside Wi-Fi");
        }
        if (gpio is 12 or 2)
        {
            Assert.DoesNotContain(wire.Line, new[] { "SDA", "SCL", "DQ", "TX", "RX", "NSS", "A" });
        }
        if (node.Sleeps && part?.Id is "reed-contact" or "pir-hc-sr501")
        {
            Assert.Contains(gpio, new[] { 0, 2, 4, 12, 13, 14, 15, 25, 26, 27, 32, 33, 34, 35, 36, 39 });
        }
        if (part?.Id is "hc-sr04" && wire.Line is "ECHO")
        {
            Assert.DoesNotContain(gpio, new[] { 36, 39 });
        }
    }

    [Fact]
    public void The_same_node_gives_the_same_plan() =>
        AnyNode.Sample(node => System.Text.Json.JsonSerializer.Serialize(Samples.Plan(node), CenoticJson.Options) == System.Text.Json.JsonSerializer.Serialize(Samples.Plan(node), CenoticJson.Options), iter: 40);

    [Fact]
    public void Adding_a_part_moves_no_soldered_wire_where_that_is_possible() =>
        Gen.Select(AnyNode, Gen.Int[0, AllParts.Length - 1].Select(i => AllParts[i])).Sample(
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
