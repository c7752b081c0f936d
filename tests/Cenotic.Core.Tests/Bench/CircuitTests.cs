using Cenotic.Core.Bench;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

/// <summary>The circuit of a node, walked by a checker that knows nothing of how it was planned.</summary>
public class CircuitTests
{
    /// <summary>Stops that leave a part or the board without a supply, or two supplies at once:
    /// there the circuit is not whole by what the maker chose.</summary>
    internal static readonly string[] Unfed =
    [
        "BENCH-NO-RAIL",
        "BENCH-NO-INPUT",
        "BENCH-STEP-DOWN",
        "BENCH-BACKFEED",
        "BENCH-CHARGE-WRONG",
        "BENCH-NO-CELL",
        "BENCH-SUPPLY-UNFIT",
        "BENCH-MODULE-OVER",
    ];

    internal static IReadOnlyList<CircuitFault> Faults(NodeDesign node, BenchPlan plan) =>
        CircuitCheck.Faults(plan.Circuit, Samples.Board(node.Board), plan.Parts, Samples.Catalogue);

    [Fact]
    public void The_checker_finds_nothing_in_a_thousand_random_nodes_on_every_board_and_supply()
    {
        var (whole, all) = (0, 0);
        Gen.OneOf(EveryBoard.Small, EveryBoard.Small, EveryBoard.Powered)
            .Sample(
                node =>
                {
                    var plan = Samples.Plan(node);
                    Interlocked.Increment(ref all);
                    if (plan.Findings.Any(f => Unfed.Contains(f.Code)) || plan.Circuit.Components.Count == 0)
                    {
                        return;
                    }
                    Interlocked.Increment(ref whole);
                    var faults = Faults(node, plan);
                    Assert.True(
                        faults.Count == 0,
                        $"{node.Board} {node.Power} {string.Join(",", node.Parts.Select(p => p.Part + (p.SwitchSupply ? "*" : "")))}: "
                            + $"{string.Join(" | ", faults.Select(f => $"{f.Component} {f.What}"))}"
                    );
                },
                iter: 2400,
                seed: "0001ttW6PqY2"
            );
        Assert.True(whole > 1000, $"{whole} of {all} are whole");
    }

    [Fact]
    public void An_LED_or_sounder_to_ground_is_fed_by_its_pin_on_every_board_and_takes_no_more_than_that_gives()
    {
        foreach (var board in Samples.Catalogue.Boards.Where(b => b.Id != "esp32-eth-rmii-26"))
        {
            var plan = Samples.Plan(Samples.Node(("light", "rgb-led-cc"), ("tone", "piezo-passive")) with { Board = board.Id, Link = LinkKind.LongRange });
            var all = plan.Circuit.Components.Where(c => c.Kind == ComponentKind.Resistor).ToList();
            var resistors = all.Where(c => c.Key.StartsWith("light", StringComparison.Ordinal)).ToList();
            Assert.Equal((3, 4), (resistors.Count, all.Count));
            // Uncharged the sounder is a short: its 3 mA are asked of the pin, or what the pin gives.
            Assert.True(board.LogicVolts / all.Except(resistors).Single().Ohms!.Value * 1000 <= board.PinPlanMilliamps || board.PinPlanMilliamps >= 3);
            Assert.DoesNotContain(plan.Circuit.Components, c => c.Kind == ComponentKind.NMosfet);
            // Red at 2 V, green and blue at 3 V: Ohm's law.
            foreach (var (resistor, forward) in resistors.Zip([2.0, 3.0, 3.0]))
            {
                Assert.InRange((board.LogicVolts - forward) / resistor.Ohms!.Value * 1000, 0.4, board.PinPlanMilliamps);
            }
        }
    }

    [Fact]
    public void The_wiring_table_joins_what_the_circuit_joins_and_nothing_else() =>
        EveryBoard.Powered.Sample(
            node =>
            {
                var plan = Samples.Plan(node);
                if (plan.Findings.Any(f => Unfed.Contains(f.Code)))
                {
                    return;
                }
                // Every joint that is soldered, from end to end; the pins of one rail or ground are one on the board itself.
                var joined = new Dictionary<string, string>();
                string Root(string end) => joined.TryGetValue(end, out var to) && to != end ? Root(to) : end;
                foreach (var wire in plan.Wires)
                {
                    joined[Root($"{wire.Part}:{wire.Line}")] = Root(
                        wire.Form == WireForm.Plug ? $"board:{wire.PinName}"
                        : wire.Pin.Contains(':') ? wire.Pin
                        : $"board:{wire.Pin}"
                    );
                }
                foreach (
                    var inside in plan.Circuit.Component(Circuit.BoardKey)?.Terminals.Where(t => t.Net is not null).GroupBy(t => t.Net).Select(g => g.ToList())
                        ?? []
                )
                {
                    inside.ForEach(t => joined[Root($"board:{t.Name}")] = Root($"board:{inside[0].Name}"));
                }
                var nets = plan
                    .Circuit.Components.SelectMany(c => c.Terminals.Where(t => t.Net is not null).Select(t => (End: $"{c.Key}:{t.Name}", t.Net)))
                    .GroupBy(t => t.Net)
                    .ToList();
                Assert.All(nets, net => Assert.Single(net.Select(t => Root(t.End)).Distinct()));
                Assert.All(nets.GroupBy(net => Root(net.First().End)), one => Assert.True(one.Count() == 1, string.Join(" and ", one.Select(n => n.Key))));
                // What feeds or drives a net is on it, and nothing is above what the supply gives at its highest.
                string[] Of(Net net) => [.. plan.Circuit.Components.SelectMany(c => c.Terminals.Where(t => t.Net == net.Key).Select(t => $"{c.Key}:{t.Name}"))];
                Assert.All(plan.Circuit.Nets.Where(n => n.Driver is not null), n => Assert.Contains(n.Driver, Of(n)));
                Assert.All(plan.Circuit.Nets.Where(n => n.Kind is WireKind.Bus or WireKind.Signal), n => Assert.InRange(n.HighVolts, 0.5, 30));
                // No pin of a header has more supply or ground wires than it takes.
                Assert.All(
                    plan.Wires.Where(w => w is { Kind: WireKind.Ground or WireKind.Supply, Form: WireForm.Wire } && !w.Pin.Contains(':')).GroupBy(w => w.Pin),
                    g => Assert.InRange(g.Count(), 1, 4)
                );
                // No joint twice, no tick twice.
                Assert.All(plan.Wires.GroupBy(w => (w.Part, w.Line, w.Pin)), g => Assert.Single(g));
                Assert.All(plan.Wires.Where(w => w.Tick is not null).GroupBy(w => w.Tick), g =>
                    Assert.True(g.Count() == 1, string.Join(" and ", g.Select(w => $"{w.Tick}: {w.Part}.{w.Line} to {w.Pin}")))
                );
                Assert.All(plan.Wires.Where(w => w.Form == WireForm.Wire), w => Assert.True(w.LengthMetres > 0 && w.Colour.Length > 0));
            },
            iter: 1000,
            seed: "0003hGfWq1z8"
        );

    [Fact]
    public void The_netlist_alone_builds_the_circuit_again() =>
        EveryBoard.Powered.Sample(
            node =>
            {
                var plan = Samples.Plan(node);
                using var table = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(BenchExports.NetlistCsv(plan)));
                using var reader = CsvHelper.CsvReader.Create(table, CsvHelper.CsvReaderOptions.Default with { HasHeader = true }, true);
                var rows = new List<(string Component, string What, string Value, string Terminal, string Net)>();
                while (reader.Read())
                {
                    var f = reader.Current.ToArray();
                    rows.Add((f[0], f[1], f[2], f[3], f[4]));
                }
                Assert.Equal(
                    plan.Circuit.Components.SelectMany(c =>
                            c.Terminals.Where(t => t.Net is not null || c.Kind == ComponentKind.Part)
                                .Select(t => (Bare(c.Key), c.Kind.ToString().ToLowerInvariant(), Bare(c.Value), Bare(t.Name), Bare(t.Net ?? "")))
                        )
                        .Order(),
                    rows.Select(r => (Bare(r.Component), r.What, Bare(r.Value), Bare(r.Terminal), Bare(r.Net))).Order()
                );
            },
            iter: 300,
            seed: "0004ls9TPQx9"
        );

    /// <summary>Without the mark that keeps a cell of a table from being read as a formula.</summary>
    private static string Bare(string text) => text.TrimStart('\'');

    [Fact]
    public void Grounds_are_spread_over_the_pins_and_a_soldered_wire_keeps_its_pin_and_colour()
    {
        var node = Samples.Node([.. Enumerable.Range(0, 9).Select(i => ($"p{i:00}", i % 2 == 0 ? "bh1750" : "pir-am312"))]);
        node = node with { Parts = [.. node.Parts.Select((p, i) => i is 0 or 2 or > 2 && i % 2 == 0 ? p with { Part = "ds18b20" } : p)] };
        var plan = Samples.Plan(node);
        var grounds = plan.Wires.Where(w => w is { Kind: WireKind.Ground, Form: WireForm.Wire }).GroupBy(w => w.Pin).Select(g => g.Count()).ToList();
        Assert.Equal(3, grounds.Count);
        Assert.True(grounds.Max() - grounds.Min() <= 1);
        var (ground, line) = (plan.Wires.First(w => w is { Kind: WireKind.Ground, Tick: not null }), plan.Lines.First(l => l.Part == "p01"));
        var soldered = node with
        {
            Wires =
            [
                new(ground.Part, ground.Line, plan.Wires.First(w => w.Kind == WireKind.Ground && w.Pin != ground.Pin).Pin, WireHold.Soldered, "black"),
                new(line.Part, line.Line, line.Pin, WireHold.Soldered, "pink"),
            ],
        };
        var again = Samples.Plan(soldered with { Parts = [Samples.Part("new", "pir-am312"), .. soldered.Parts] });
        Assert.Equal(soldered.Wires[0].Pin, again.Wires.Single(w => w.Tick == ground.Tick).Pin);
        Assert.Equal(WireHold.Soldered, again.Wires.Single(w => w.Tick == ground.Tick).Hold);
        Assert.Equal("pink", again.Line("p01", "OUT")!.Colour);
        Assert.Equal("pink", again.Wires.Single(w => w.Tick == "p01.OUT").Colour);
        Assert.Empty(again.Moves);
    }

    [Fact]
    public void Soldering_a_wire_where_it_is_planned_moves_and_recolours_no_other() =>
        Gen.Select(EveryBoard.Powered, Gen.Int[1, 1_000_000])
            .Sample(
                (node, pick) =>
                {
                    static string Table(BenchPlan plan) =>
                        string.Join("\n", plan.Wires.Select(w => $"{w.Part}.{w.Line} {w.Form} {w.Pin} {w.Colour}").Order(StringComparer.Ordinal));
                    var plan = Samples.Plan(node);
                    var some = plan
                        .Wires.Where((w, at) => w.Tick is not null && (pick >> (at % 20) & 1) == 1)
                        .Select(w => (Key: w.Tick!.Split('.', 2), Wire: w))
                        .Where(w => w.Key[0] == Circuit.BoardKey || node.Part(w.Key[0]) is not null);
                    var soldered = node with
                    {
                        Wires =
                        [
                            .. some.Select(w => new WireDesign(
                                w.Key[0],
                                w.Key[1],
                                w.Wire.Pin,
                                WireHold.Soldered,
                                w.Wire.Colour.Length > 0 ? w.Wire.Colour : null
                            )),
                        ],
                    };
                    Assert.Equal(Table(plan), Table(Samples.Plan(soldered)));
                },
                iter: 300,
                seed: "bQh6Ntj3EHx3"
            );
}
