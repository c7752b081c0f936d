using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The wiring table: every wire with its colour, in soldering order.</summary>
internal static class Wiring
{
    private static readonly string[] SignalColours = ["yellow", "blue", "green", "white", "violet", "grey", "brown", "orange", "pink", "turquoise"];

    internal static IReadOnlyList<PlannedWire> Of(Board board, NodeDesign node, NodeSupply supply, PinSolution solution, IReadOnlyList<SupportComponent> components)
    {
        var wires = new List<PlannedWire>();
        foreach (var connection in solution.Structure.Connections)
        {
            Supply(board, supply, connection, wires);
        }
        var colour = 0;
        foreach (var (demand, pin) in solution.List.Demands.Zip(solution.Pins).OrderBy(p => p.First.Wires.Count == 1).ThenBy(p => p.First.Key, StringComparer.Ordinal))
        {
            var insulation = SignalColours[colour++ % SignalColours.Length];
            foreach (var wire in demand.Wires)
            {
                var held = node.Wires.FirstOrDefault(w => w.Key == wire.Key && w.Pin == pin.Id)?.Hold;
                var through = components.Where(c => c.For == wire.Key || (c.For == demand.Key && wire == demand.Wires[0])).Select(c => c.Key).ToList();
                var lead = node.Part(wire.Part)?.LeadMetres ?? 0.1;
                wires.Add(new(0, demand.Wires.Count > 1 || demand.Key.Contains(' ') || demand.Key.StartsWith("1-", StringComparison.Ordinal) ? WireKind.Bus : WireKind.Signal, wire.Part, wire.PartLabel, wire.Line, pin.Id, pin.Label, pin.Name, insulation, lead, through, held, Reason(board, node, demand, pin, held)));
            }
        }
        return [.. wires.OrderBy(w => w.Kind).Select((w, at) => w with { Order = at + 1 })];
    }

    private static void Supply(Board board, NodeSupply supply, Connection connection, List<PlannedWire> wires)
    {
        var (instance, part) = (connection.Instance, connection.Part);
        var ground = board.Pins.First(p => p.Kind == PinKind.Ground);
        if (part.GroundPin is { } groundPin)
        {
            wires.Add(new(0, WireKind.Ground, instance.Key, instance.Label, groundPin, ground.Id, ground.Label, "ground", "black", instance.LeadMetres, [], null, "Common ground; spare ground pins may be used."));
        }
        if (part.SupplyPin is { } supplyPin && supply.For(part, board) is { } rail && board.Pins.FirstOrDefault(p => p.Rail == rail.Id) is { } pin)
        {
            wires.Add(new(0, WireKind.Supply, instance.Key, instance.Label, supplyPin, pin.Id, pin.Label, $"{rail.Volts} V", rail.Volts > 4 ? "red" : "orange", instance.LeadMetres,
                instance.SwitchSupply ? [$"{instance.Key}.PWR/switch"] : [], null, $"{instance.Label} takes {part.SupplyMinVolts} to {part.SupplyMaxVolts} V; {(rail.Volts > 4 ? "it needs this rail" : "the logic rail keeps its signals at the level of the board")}."));
        }
    }

    private static string Reason(Board board, NodeDesign node, Demand demand, Pin pin, WireHold? held)
    {
        if (held is { } hold)
        {
            return hold == WireHold.Soldered ? "Soldered here already, and fit." : "You fixed it here.";
        }
        var fits = board.Pins.Where(p => p.Kind == PinKind.Gpio).Select(p => (Pin: p, Fit: PinFit.Judge(p, demand, node.Link == LinkKind.Wifi))).Where(f => f.Fit.Fits).ToList();
        var own = fits.FirstOrDefault(f => f.Pin.Id == pin.Id).Fit;
        var needs = new List<string>();
        if (demand.Analog)
        {
            needs.Add("a converter that works beside Wi-Fi");
        }
        if (demand.Wake)
        {
            needs.Add("a pin that wakes the board");
        }
        if (demand.Load)
        {
            needs.Add("no pulse while the board starts");
        }
        if (demand.AtStart is RestLevel.High or RestLevel.Either)
        {
            needs.Add("a pin that may be high while the board starts");
        }
        if (demand.Controller is { } n && !board.Controllers.PinMatrix)
        {
            needs.Add($"a pin of controller {n}");
        }
        var need = needs.Count > 0 ? $"It needs {string.Join(", ", needs)}: " : "";
        var choice = own is { HazardPoints: > 0 } ? $"a second choice ({string.Join(" ", pin.Hazards.Select(h => h.What))})" : "one without hazards";
        return $"{need}{fits.Count} pins can do this; {pin.Name} is {choice} and {Math.Abs(2 * pin.Position + 1 - demand.Position) / 2.0:0.#} rows from the part.";
    }
}
