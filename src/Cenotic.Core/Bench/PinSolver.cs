using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The best structure with its pins.</summary>
/// <param name="Pins">The pin of each demand, in the order of the list.</param>
public sealed record PinSolution(Structure Structure, DemandList List, IReadOnlyList<Pin> Pins, IReadOnlyList<PinFit> Fits, PlanCost Cost)
{
    public Pin PinOf(Demand demand) => Pins[List.Demands.ToList().IndexOf(demand)];
}

/// <summary>Finds the cheapest structure and pins together. Exact: every structure is tried or bounded, and the pins of each are an assignment problem.</summary>
/// <param name="board">The board.</param>
/// <param name="node">The node, for its readings, wires and settings.</param>
/// <param name="supply">Its supply.</param>
public sealed class PinSolver(Board board, NodeDesign node, NodeSupply supply)
{
    private readonly Pin[] _pins = [.. board.Pins.Where(p => p.Kind == PinKind.Gpio && !p.Has(Hazard.Flash))];
    private readonly Dictionary<Demand, PinFit[]> _fits = [];
    private readonly bool _wifiOn = node.Link == LinkKind.Wifi;

    /// <summary>Why parts or structures were ruled out, collected while solving.</summary>
    public HashSet<string> Reasons { get; } = [];

    /// <summary>The optimum for these parts, or null when there is none.</summary>
    /// <param name="parts">The parts to serve; wires of others are left out of account.</param>
    /// <param name="forbid">A wire and a pin it must not use, for the runner-up.</param>
    public PinSolution? Solve(IReadOnlyList<(PartInstance Instance, Part Part)> parts, (string Wire, string Pin)? forbid = null)
    {
        PinSolution? best = null;
        foreach (var structure in Structure.All(board, node, parts, Reasons, () => best is { Cost.MovedWires: 0 } ? best.Cost.Components : int.MaxValue))
        {
            var list = DemandList.Of(board, node, supply, structure);
            if (best is { Cost.MovedWires: 0 } && list.Components > best.Cost.Components)
            {
                continue;
            }
            if (Assign(structure, list, forbid) is { } solution && (best is null || solution.Cost.CompareTo(best.Cost) < 0))
            {
                best = solution;
            }
        }
        return best;
    }

    /// <summary>The pin a maker fixed for a demand, or null; the first of several wins.</summary>
    public WireDesign? LockOf(Demand demand, IReadOnlyCollection<string> taken) =>
        node.Wires.FirstOrDefault(w => w.Hold == WireHold.Locked && demand.Wires.Any(d => d.Key == w.Key) && !taken.Contains(w.Pin) && _pins.Any(p => p.Id == w.Pin));

    private PinSolution? Assign(Structure structure, DemandList list, (string Wire, string Pin)? forbid)
    {
        var demands = list.Demands;
        var fits = new PinFit[demands.Count][];
        var costs = new PlanCost[demands.Count, _pins.Length];
        var cells = new Int128?[demands.Count, _pins.Length];
        var locked = new HashSet<string>();
        for (var d = 0; d < demands.Count; d++)
        {
            var demand = demands[d];
            var held = LockOf(demand, locked);
            if (held is not null)
            {
                locked.Add(held.Pin);
            }
            fits[d] = FitsOf(demand);
            var any = false;
            for (var p = 0; p < _pins.Length; p++)
            {
                var pin = _pins[p];
                var fit = fits[d][p];
                var allowed = held is null ? fit.Fits : held.Pin == pin.Id;
                if (!allowed || (forbid is { } f && f.Pin == pin.Id && demand.Wires.Any(w => w.Key == f.Wire)))
                {
                    continue;
                }
                costs[d, p] = Cost(demand, pin, fit);
                cells[d, p] = costs[d, p].Packed;
                any = true;
            }
            if (!any)
            {
                Reasons.Add($"No pin of the {board.Label} can serve {Name(demand)}.");
            }
        }
        var answer = Assignment.Solve(cells);
        if (answer is null)
        {
            Reasons.Add($"The {demands.Count} lines cannot each have a fit pin of their own on the {board.Label}.");
            return null;
        }
        var total = new PlanCost(WiresWithoutDemand(structure, demands), list.Components, 0, list.Splices, 0, 0);
        for (var d = 0; d < demands.Count; d++)
        {
            total += costs[d, answer[d]];
        }
        return new(structure, list, [.. answer.Select(p => _pins[p])], [.. answer.Select((p, d) => fits[d][p])], total);
    }

    /// <summary>The judgement of every pin for a demand; demands alike in all that a pin cares about share it.</summary>
    private PinFit[] FitsOf(Demand demand)
    {
        var alike = demand with { Key = "", Wires = [], Position = 0 };
        if (!_fits.TryGetValue(alike, out var fits))
        {
            _fits[alike] = fits = [.. _pins.Select(p => PinFit.Judge(p, demand, _wifiOn))];
        }
        return fits;
    }

    private PlanCost Cost(Demand demand, Pin pin, PinFit fit)
    {
        var moved = node.Wires.Count(w => w.Hold == WireHold.Soldered && w.Pin != pin.Id && demand.Wires.Any(d => d.Key == w.Key));
        return new(moved, fit.Adds.Count, fit.HazardPoints, 0, Math.Abs(2 * pin.Position + 1 - demand.Position), fit.Versatility);
    }

    private int WiresWithoutDemand(Structure structure, IReadOnlyList<Demand> demands)
    {
        var served = demands.SelectMany(d => d.Wires).Select(w => w.Key).ToHashSet();
        return node.Wires.Count(w => w.Hold == WireHold.Soldered && structure.Connections.Any(c => c.Instance.Key == w.Part) && !served.Contains(w.Key));
    }

    internal static string Name(Demand demand) => demand.Wires.Count == 1 ? $"{demand.Wires[0].PartLabel} {demand.Wires[0].Line}" : demand.Key;
}
