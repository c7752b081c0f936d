using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The best structure with its pins.</summary>
/// <param name="Pins">The pin of each demand, in the order of the list: of the board, or a line of a helper ("part:LINE").</param>
public sealed record PinSolution(Structure Structure, DemandList List, IReadOnlyList<Pin> Pins, IReadOnlyList<PinFit> Fits, PlanCost Cost)
{
    /// <summary>The pin of a demand of the list.</summary>
    public Pin PinOf(Demand demand) => Pins[List.Demands.ToList().IndexOf(demand)];
}

/// <summary>
/// Finds the cheapest structure and pins together. Exact: every structure is tried or bounded, and the pins of each are
/// an assignment problem. Helper modules are added only where no plan without them is as good.
/// </summary>
/// <param name="board">The board.</param>
/// <param name="node">The node, for its readings, wires and settings.</param>
/// <param name="supply">Its supply.</param>
/// <param name="catalogue">Where helper modules come from.</param>
/// <param name="budget">How many steps the search may take.</param>
public sealed class PinSolver(Board board, NodeDesign node, NodeSupply supply, HardwareCatalogue catalogue, WorkBudget budget)
{
    private const int MostExpanders = 2;
    private Dictionary<string, PinTable> _tables = [];

    /// <summary>Why parts or structures were ruled out, collected while solving.</summary>
    public HashSet<string> Reasons { get; } = [];

    /// <summary>A solver for the same board and node, with the same judgement of its pins, that has ruled nothing out yet.</summary>
    internal PinSolver Fresh() => new(board, node, supply, catalogue, budget) { _tables = _tables };

    /// <summary>The optimum for these parts, or null when there is none.</summary>
    /// <param name="parts">The parts to serve; wires of others are left out of account.</param>
    /// <param name="forbid">A wire and a pin it must not use, for the runner-up.</param>
    public PinSolution? Solve(IReadOnlyList<(PartInstance Instance, Part Part)> parts, (string Wire, string Pin)? forbid = null) =>
        Search(parts, forbid, firstOnly: false);

    /// <summary>True when these parts have a plan at all.</summary>
    public bool Serves(IReadOnlyList<(PartInstance Instance, Part Part)> parts) => Search(parts, null, firstOnly: true) is not null;

    /// <summary>The table of pins and helper lines that a solution was made with.</summary>
    internal PinTable TableOf(Structure structure) => Table(structure.Connections.Where(c => c.Part.Helper is not null).Select(c => (c.Instance, c.Part)));

    private PinSolution? Search(IReadOnlyList<(PartInstance Instance, Part Part)> parts, (string Wire, string Pin)? forbid, bool firstOnly)
    {
        PinSolution? best = null;
        bool? possible = null;
        foreach (var added in AddedSets(parts))
        {
            if (best is not null && (firstOnly || (best.Cost.MovedWires == 0 && Weights.AddedModule * added.Count > best.Cost.Components)))
            {
                break;
            }
            if (added.Count > 0 && best is null && !(possible ??= Possible(parts)))
            {
                return null;
            }
            var all = parts.Concat(added).ToList();
            var table = Table(all.Where(p => p.Part.Helper is not null));
            new StructureSearch(Space(table, forbid), all, [.. added.Select(a => a.Instance)], Reasons, () => best?.Cost, Found).Run();

            bool Found(Structure structure, IReadOnlyDictionary<string, int> columns, PlanCost cost)
            {
                var list = DemandList.Of(board, node, supply, structure);
                var pins = list.Demands.Select(d => table.Columns[columns[d.Key]]).ToList();
                var fits = list.Demands.Select(d => table.RowOf(d.Needs).Fits[columns[d.Key]]).ToList();
                best = new(structure, list, pins, fits, cost);
                return !firstOnly;
            }
        }
        return best is null || firstOnly ? best : InterruptLines.With(best, board, node, supply, TableOf(best.Structure));
    }

    private StructureSearch.SearchSpace Space(PinTable table, (string Wire, string Pin)? forbid) =>
        new(board, node, supply, table, new(board, node, table, forbid), budget);

    /// <summary>False when not even all modules that may be added, with lines for nothing, would give a plan.</summary>
    private bool Possible(IReadOnlyList<(PartInstance Instance, Part Part)> parts)
    {
        var table = Table(parts.Where(p => p.Part.Helper is not null).Concat(AddedSets(parts).Last()));
        var search = new StructureSearch(Space(table, null), parts, [], new HashSet<string>(), () => null, (_, _, _) => true, relaxed: true);
        search.Run();
        return search.IsPossible;
    }

    /// <summary>Sets of helper modules that may be added, the smaller first; the empty one only, where the maker wants none.</summary>
    private IEnumerable<IReadOnlyList<(PartInstance Instance, Part Part)>> AddedSets(IReadOnlyList<(PartInstance Instance, Part Part)> parts)
    {
        yield return [];
        if (!node.AddsModules)
        {
            yield break;
        }
        Part? Module(HelperKind kind) =>
            catalogue
                .Parts.Where(p => p.Helper is { Proposable: true } h && h.Kind == kind && supply.For(p, board) is not null)
                .OrderBy(p => p.Id, StringComparer.Ordinal)
                .FirstOrDefault();
        bool Has(Func<PartLine, bool> line) => parts.Any(p => p.Part.Interfaces.Any(i => i.Lines.Any(l => !l.Optional && line(l))));
        var expander =
            parts.Any(p => p.Instance.SwitchSupply) || Has(l => l.Role is LineRole.DigitalToBoard or LineRole.DigitalToPart or LineRole.Contact)
                ? Module(HelperKind.Expander)
                : null;
        var mux = parts.Count(p => p.Part.Interfaces.Any(i => i.Kind == InterfaceKind.I2c)) > 1 ? Module(HelperKind.Mux) : null;
        var converter = node.MeasuresSupply || Has(l => l.Role == LineRole.Analog) ? Module(HelperKind.Converter) : null;
        var sets =
            from e in Enumerable.Range(0, expander is null ? 1 : MostExpanders + 1)
            from m in Enumerable.Range(0, mux is null ? 1 : 2)
            from c in Enumerable.Range(0, converter is null ? 1 : 2)
            where e + m + c > 0
            orderby e + m + c, e, m
            select (e, m, c);
        foreach (var (e, m, c) in sets.ToList())
        {
            yield return [.. e > 0 ? Modules(expander, e) : [], .. m > 0 ? Modules(mux, m) : [], .. c > 0 ? Modules(converter, c) : []];
        }

        // A module that became one of the parts keeps its key: the next one takes the next number.
        IEnumerable<(PartInstance, Part)> Modules(Part? part, int count) =>
            Enumerable
                .Range(1, MostExpanders + node.Parts.Count)
                .Select(n => Added(part!, n))
                .Where(a => node.Part(a.Key) is null)
                .Take(count)
                .Select(a => (a, InterruptLines.WithHeld(part!, a.Key, node)));
    }

    /// <summary>The instance that stands for a module the planner added: its key is the same each time, so that its wires can be held.</summary>
    internal static PartInstance Added(Part part, int number) =>
        new(
            $"{AddedPrefix}{part.Id}{(number > 1 ? $"-{number}" : "")}",
            $"{part.Label.Split(' ')[0]} (added{(number > 1 ? $" {number}" : "")})",
            part.Id,
            LeadMetres: 0.1
        );

    /// <summary>Begins the key of every added module.</summary>
    public const string AddedPrefix = "added-";

    private PinTable Table(IEnumerable<(PartInstance Instance, Part Part)> helpers)
    {
        var list = helpers.Where(h => h.Part.Helper is { Kind: not HelperKind.Mux }).ToList();
        var key = string.Join('|', list.Select(h => h.Instance.Key));
        return _tables.TryGetValue(key, out var table)
            ? table
            : _tables[key] = new PinTable(board, node, supply, list.Select(h => new Connection(h.Instance, h.Part, h.Part.Interfaces[0], null, null)));
    }

    internal static string Name(Demand demand) => demand.Wires.Count == 1 ? $"{demand.Wires[0].PartLabel} {demand.Wires[0].Line}" : demand.Key;
}
