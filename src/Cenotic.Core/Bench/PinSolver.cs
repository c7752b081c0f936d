using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The best structure with its pins.</summary>
/// <param name="Pins">The pin of each demand, in the order of the list: of the board, or a line of a helper ("part:LINE").</param>
public sealed record PinSolution(Structure Structure, DemandList List, IReadOnlyList<Pin> Pins, IReadOnlyList<PinFit> Fits, PlanCost Cost)
{
    public Pin PinOf(Demand demand) => Pins[List.Demands.ToList().IndexOf(demand)];
}

/// <summary>
/// Finds the cheapest structure and pins together. Exact: every structure is tried or bounded, and the pins of each are an assignment problem. Helper modules are added
/// only where no plan without them is as good.
/// </summary>
/// <param name="board">The board.</param>
/// <param name="node">The node, for its readings, wires and settings.</param>
/// <param name="supply">Its supply.</param>
/// <param name="catalogue">Where helper modules come from.</param>
public sealed class PinSolver(Board board, NodeDesign node, NodeSupply supply, HardwareCatalogue catalogue)
{
    private const int MostExpanders = 2;
    private readonly Dictionary<string, PinTable> _tables = [];

    /// <summary>Why parts or structures were ruled out, collected while solving.</summary>
    public HashSet<string> Reasons { get; } = [];

    /// <summary>The optimum for these parts, or null when there is none.</summary>
    /// <param name="parts">The parts to serve; wires of others are left out of account.</param>
    /// <param name="forbid">A wire and a pin it must not use, for the runner-up.</param>
    public PinSolution? Solve(IReadOnlyList<(PartInstance Instance, Part Part)> parts, (string Wire, string Pin)? forbid = null) => Search(parts, forbid, firstOnly: false);

    /// <summary>True when these parts have a plan at all.</summary>
    public bool Serves(IReadOnlyList<(PartInstance Instance, Part Part)> parts) => Search(parts, null, firstOnly: true) is not null;

    /// <summary>The table of pins and helper lines that a solution was made with.</summary>
    internal PinTable TableOf(Structure structure) => Table(structure.Connections.Where(c => c.Part.Helper is not null).Select(c => (c.Instance, c.Part)));

    private PinSolution? Search(IReadOnlyList<(PartInstance Instance, Part Part)> parts, (string Wire, string Pin)? forbid, bool firstOnly)
    {
        PinSolution? best = null;
        foreach (var added in AddedSets(parts))
        {
            if (best is not null && (firstOnly || (best.Cost.MovedWires == 0 && Weights.AddedModule * added.Count > best.Cost.Components)))
            {
                break;
            }
            var all = parts.Concat(added).ToList();
            var table = Table(all.Where(p => p.Part.Helper is not null));
            new StructureSearch(board, node, supply, table, all, [.. added.Select(a => a.Instance)], Reasons, () => best is { Cost.MovedWires: 0 } ? best.Cost.Components : int.MaxValue, Leaf).Run();

            bool? Leaf(Structure structure)
            {
                var list = DemandList.Of(board, node, supply, structure);
                if (best is { Cost.MovedWires: 0 } && list.Components > best.Cost.Components)
                {
                    return true;
                }
                var (solution, feasible) = Assign(table, structure, list, forbid, best?.Cost.Packed ?? long.MaxValue);
                if (solution is not null && (best is null || solution.Cost.CompareTo(best.Cost) < 0))
                {
                    best = solution;
                    if (firstOnly)
                    {
                        return null;
                    }
                }
                return feasible;
            }
        }
        return best;
    }

    /// <summary>Sets of helper modules that may be added, the smaller first; the empty one only, where the maker wants none.</summary>
    private IEnumerable<IReadOnlyList<(PartInstance Instance, Part Part)>> AddedSets(IReadOnlyList<(PartInstance Instance, Part Part)> parts)
    {
        yield return [];
        if (!node.AddsModules)
        {
            yield break;
        }
        Part? Module(HelperKind kind) => catalogue.Parts.Where(p => p.Helper is { Proposable: true } h && h.Kind == kind && supply.For(p, board) is not null).OrderBy(p => p.Id, StringComparer.Ordinal).FirstOrDefault();
        bool Has(Func<PartLine, bool> line) => parts.Any(p => p.Part.Interfaces.Any(i => i.Lines.Any(l => !l.Optional && line(l))));
        var expander = Has(l => l.Role is LineRole.DigitalToBoard or LineRole.DigitalToPart or LineRole.Contact) ? Module(HelperKind.Expander) : null;
        var mux = parts.Count(p => p.Part.Interfaces.Any(i => i.Kind == InterfaceKind.I2c)) > 1 ? Module(HelperKind.Mux) : null;
        var converter = Has(l => l.Role == LineRole.Analog) ? Module(HelperKind.Converter) : null;
        var sets =
            from e in Enumerable.Range(0, expander is null ? 1 : MostExpanders + 1)
            from m in Enumerable.Range(0, mux is null ? 1 : 2)
            from c in Enumerable.Range(0, converter is null ? 1 : 2)
            where e + m + c > 0
            orderby e + m + c, e, m
            select (e, m, c);
        foreach (var (e, m, c) in sets.ToList())
        {
            yield return [.. Modules(expander, e), .. Modules(mux, m), .. Modules(converter, c)];
        }

        IEnumerable<(PartInstance, Part)> Modules(Part? part, int count) => Enumerable.Range(1, count).Select(n => (Added(part!, n), part!));
    }

    /// <summary>The instance that stands for a module the planner added: its key is the same each time, so that its wires can be held.</summary>
    internal static PartInstance Added(Part part, int number) => new($"{AddedPrefix}{part.Id}{(number > 1 ? $"-{number}" : "")}", $"{part.Label.Split(' ')[0]} (added{(number > 1 ? $" {number}" : "")})", part.Id, LeadMetres: 0.1);

    /// <summary>Begins the key of every added module.</summary>
    public const string AddedPrefix = "added-";

    private PinTable Table(IEnumerable<(PartInstance Instance, Part Part)> helpers)
    {
        var list = helpers.Where(h => h.Part.Helper is { Kind: not HelperKind.Mux }).ToList();
        var key = string.Join('|', list.Select(h => h.Instance.Key));
        return _tables.TryGetValue(key, out var table) ? table : _tables[key] = new PinTable(board, node, list.Select(h => new Connection(h.Instance, h.Part, h.Part.Interfaces[0], null, null)));
    }

    private (PinSolution? Solution, bool Feasible) Assign(PinTable table, Structure structure, DemandList list, (string Wire, string Pin)? forbid, long toBeat)
    {
        var demands = list.Demands;
        var columns = table.Columns;
        var rows = new PinRow[demands.Count];
        var cells = new long[demands.Count * columns.Count];
        Array.Fill(cells, Assignment.Forbidden);
        var total = new PlanCost(WiresWithoutDemand(structure, demands), list.Components, 0, list.Splices, 0, 0);
        var least = total.Packed;
        var locked = new HashSet<string>();
        for (var d = 0; d < demands.Count; d++)
        {
            var demand = demands[d];
            var held = LockOf(demand, locked, columns);
            if (held is not null)
            {
                locked.Add(held.Pin);
            }
            var row = rows[d] = table.RowOf(demand.Needs);
            var cheapest = Assignment.Forbidden;
            for (var p = 0; p < columns.Count; p++)
            {
                var allowed = held is null ? row.Fits[p].Fits : held.Pin == columns[p].Id;
                if (!allowed || (forbid is { } f && f.Pin == columns[p].Id && demand.Wires.Any(w => w.Key == f.Wire)))
                {
                    continue;
                }
                var cell = cells[d * columns.Count + p] = Cost(demand, columns[p], row.Costs[p]).Packed;
                cheapest = Math.Min(cheapest, cell);
            }
            if (cheapest == Assignment.Forbidden)
            {
                Reasons.Add($"No pin of the {board.Label} can serve {Name(demand)}.");
                return (null, false);
            }
            least += cheapest;
        }
        if (least >= toBeat && forbid is null)
        {
            return (null, true);
        }
        if (Assignment.Solve(cells, demands.Count, columns.Count) is not { } answer)
        {
            Reasons.Add($"The {demands.Count} lines cannot each have a fit pin of their own on the {board.Label}.");
            return (null, false);
        }
        for (var d = 0; d < demands.Count; d++)
        {
            total += Cost(demands[d], columns[answer[d]], rows[d].Costs[answer[d]]);
        }
        return (new(structure, list, [.. answer.Select(p => columns[p])], [.. answer.Select((p, d) => rows[d].Fits[p])], total), true);
    }

    /// <summary>The pin a maker fixed for a demand, or null; the first of several wins.</summary>
    private WireDesign? LockOf(Demand demand, HashSet<string> taken, IReadOnlyList<Pin> columns) =>
        node.Wires.FirstOrDefault(w => w.Hold == WireHold.Locked && demand.Wires.Any(d => d.Key == w.Key) && !taken.Contains(w.Pin) && columns.Any(p => p.Id == w.Pin));

    private PlanCost Cost(Demand demand, Pin pin, PlanCost row)
    {
        var (moved, distance) = (0, 0);
        foreach (var wire in node.Wires)
        {
            if (wire.Hold == WireHold.Soldered && wire.Pin != pin.Id && demand.Wires.Any(d => d.Key == wire.Key))
            {
                moved++;
            }
        }
        if (!HelperPins.IsHelper(pin))
        {
            foreach (var wire in demand.Wires)
            {
                distance += wire.Position is { } at ? Math.Abs(2 * pin.Position + 1 - at) : 0;
            }
        }
        return row with { MovedWires = moved, Distance = distance };
    }

    private int WiresWithoutDemand(Structure structure, IReadOnlyList<Demand> demands)
    {
        if (node.Wires.All(w => w.Hold != WireHold.Soldered))
        {
            return 0;
        }
        var served = demands.SelectMany(d => d.Wires).Select(w => w.Key).ToHashSet();
        return node.Wires.Count(w => w.Hold == WireHold.Soldered && !served.Contains(w.Key) && structure.Connections.FirstOrDefault(c => c.Instance.Key == w.Part) is { } connection && !OnChannel(connection, w));
    }

    /// <summary>True for a wire that is soldered to the multiplexer channel its part has.</summary>
    private static bool OnChannel(Connection connection, WireDesign wire) =>
        connection.Behind is { } channel && wire.Pin.StartsWith(channel.Mux + ":S", StringComparison.Ordinal) && wire.Pin.EndsWith(channel.Channel.ToString(System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal);

    internal static string Name(Demand demand) => demand.Wires.Count == 1 ? $"{demand.Wires[0].PartLabel} {demand.Wires[0].Line}" : demand.Key;
}
