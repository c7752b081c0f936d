using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The line by which an expander tells the board that an input has changed, so that it need not be asked fifty times a second. It takes a pin
/// that nothing else wants, and none that is a second choice: a plan never gets worse for it. Once it is soldered it is a line like any other.</summary>
internal static class InterruptLines
{
    /// <summary>A part with those of its optional lines that the maker holds on a pin as lines to serve.</summary>
    internal static Part WithHeld(Part part, string key, NodeDesign node)
    {
        bool Held(PartLine line) => line.Optional && node.Wires.Any(w => w.Part == key && w.Line == line.Name);
        return !part.Interfaces.Any(i => i.Lines.Any(Held))
            ? part
            : part with
            {
                Interfaces = [.. part.Interfaces.Select(i => i with { Lines = [.. i.Lines.Select(l => Held(l) ? l with { Optional = false } : l)] })],
            };
    }

    /// <summary>The solution with an interrupt line for each expander that serves an input, where a free pin is fit for it.</summary>
    internal static PinSolution With(PinSolution solution, Board board, NodeDesign node, NodeSupply supply, PinTable table)
    {
        foreach (var expander in solution.Structure.Connections.Where(c => c.Part.Helper is { Kind: HelperKind.Expander }).ToList())
        {
            var prefix = $"{expander.Instance.Key}:";
            var serves = solution.List.Demands.Zip(solution.Pins).Any(p => p.First.Needs.Input && p.Second.Id.StartsWith(prefix, StringComparison.Ordinal));
            if (
                serves
                && !expander.Interface.Lines.Any(l => l is { Optional: false, Role: LineRole.DigitalToBoard })
                && expander.Interface.Lines.FirstOrDefault(l => l is { Optional: true, Role: LineRole.DigitalToBoard }) is { } line
            )
            {
                solution = WithLine(solution, board, node, supply, table, expander, line);
            }
        }
        return solution;
    }

    private static PinSolution WithLine(
        PinSolution solution,
        Board board,
        NodeDesign node,
        NodeSupply supply,
        PinTable table,
        Connection expander,
        PartLine line
    )
    {
        var served = expander with
        {
            Interface = expander.Interface with { Lines = [.. expander.Interface.Lines.Select(l => l == line ? l with { Optional = false, Edge = true } : l)] },
        };
        var needs = DemandList.NeedsOf(board, node, supply, served, line with { Edge = true }) with { PullUp = line.Drive == LineDrive.OpenDrain };
        var row = table.RowOf(needs);
        var taken = solution.Pins.Select(p => p.Id).Concat(node.Wires.Select(w => w.Pin)).ToHashSet();
        var free = Enumerable
            .Range(0, table.Columns.Count)
            .Where(c => row.Fits[c] is { Fits: true, HazardPoints: 0, Adds.Count: 0 } && !taken.Contains(table.Columns[c].Id))
            .ToList();
        if (free.Count == 0)
        {
            return solution;
        }
        var at = free.OrderByDescending(c => node.Sleeps && table.Columns[c].Wakes).ThenBy(c => row.Fits[c].Versatility).ThenBy(c => c).First();
        var wire = new DemandWire(served.Instance.Key, served.Instance.Label, line.Name, DemandList.PositionOf(board, node, served.Instance.Key))
        {
            IsInterrupt = true,
        };
        // Where it would stand if it were soldered: no colour of another line changes then.
        var before = solution.List.Demands.Count(d => string.CompareOrdinal(d.Key, wire.Key) < 0);
        return solution with
        {
            Structure = solution.Structure with { Connections = [.. solution.Structure.Connections.Select(c => c == expander ? served : c)] },
            List = solution.List with { Demands = With(solution.List.Demands, before, new Demand(wire.Key, [wire], needs)) },
            Pins = With(solution.Pins, before, table.Columns[at]),
            Fits = With(solution.Fits, before, row.Fits[at]),
        };
    }

    private static T[] With<T>(IReadOnlyList<T> list, int at, T item) => [.. list.Take(at), item, .. list.Skip(at)];
}
