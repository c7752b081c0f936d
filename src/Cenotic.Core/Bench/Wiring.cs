using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The wiring table: every wire with its colour, in soldering order.</summary>
internal static class Wiring
{
    private static readonly string[] SignalColours = ["yellow", "blue", "green", "white", "violet", "grey", "brown", "orange", "pink", "turquoise"];

    internal static IReadOnlyList<PlannedWire> Of(Board board, NodeDesign node, NodeSupply supply, PinTable table, PinSolution solution, IReadOnlyList<SupportComponent> components)
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
                var (label, name) = HelperPins.IsHelper(pin) ? ($"{HelperOf(solution, pin).Instance.Label} {pin.Label}", $"{HelperOf(solution, pin).Part.Label.Split(' ')[0]} {pin.Label}") : (pin.Label, pin.Name);
                wires.Add(new(0, demand.Key.Contains(' ', StringComparison.Ordinal) ? WireKind.Bus : WireKind.Signal, wire.Part, wire.PartLabel, wire.Line, pin.Id, label, name, insulation, lead, through, held, Reason(node, table, demand, pin, held, wire)));
            }
        }
        wires.AddRange(Channels(node, solution));
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

    private static Connection HelperOf(PinSolution solution, Pin pin) => solution.Structure.Connections.First(c => pin.Id.StartsWith(c.Instance.Key + ":", StringComparison.Ordinal));

    /// <summary>The two wires of each part behind a multiplexer.</summary>
    private static IEnumerable<PlannedWire> Channels(NodeDesign node, PinSolution solution)
    {
        foreach (var connection in solution.Structure.Connections.Where(c => c.Behind is not null))
        {
            var (mux, channel) = connection.Behind!;
            var module = solution.Structure.Connections.First(c => c.Instance.Key == mux);
            foreach (var line in connection.Interface.Lines.Where(l => l.Role is LineRole.I2cSda or LineRole.I2cScl))
            {
                var pin = (line.Role == LineRole.I2cSda ? "SD" : "SC") + channel;
                var held = node.Wires.FirstOrDefault(w => w.Part == connection.Instance.Key && w.Line == line.Name && w.Pin == $"{mux}:{pin}")?.Hold;
                yield return new(0, WireKind.Bus, connection.Instance.Key, connection.Instance.Label, line.Name, $"{mux}:{pin}", $"{module.Instance.Label} {pin}", $"{module.Part.Label.Split(' ')[0]} {pin}",
                    line.Role == LineRole.I2cSda ? "blue" : "yellow", connection.Instance.LeadMetres, [], held, $"Its address is taken on the bus: channel {channel} of the multiplexer keeps the two apart.");
            }
        }
    }

    private static string Reason(NodeDesign node, PinTable table, Demand demand, Pin pin, WireHold? held, DemandWire wire)
    {
        if (held is { } hold)
        {
            return hold == WireHold.Soldered ? "Soldered here already, and fit." : "You fixed it here.";
        }
        var row = table.RowOf(demand.Needs);
        var fits = row.Fits.Count(f => f.Fits);
        var own = row.Fits[table.Columns.ToList().FindIndex(p => p.Id == pin.Id)];
        if (HelperPins.IsHelper(pin))
        {
            return demand.Needs.Analog ? "On the converter: its steps are finer and straighter than those of the board." : "A slow line: the expander serves it, and a pin of the board stays free.";
        }
        var needs = new List<string>();
        if (demand.Needs.Analog)
        {
            needs.Add("a converter" + (node.Link == LinkKind.Wifi ? " that works beside Wi-Fi" : ""));
        }
        if (demand.Needs.Wake)
        {
            needs.Add("a pin that wakes the board");
        }
        if (demand.Needs.Load)
        {
            needs.Add("no pulse while the board starts");
        }
        if (demand.Needs.Pwm)
        {
            needs.Add("a pulse-width signal");
        }
        if (demand.Needs.AtStart is RestLevel.High or RestLevel.Either)
        {
            needs.Add("a pin that may be high while the board starts");
        }
        if (demand.Needs.Controller is { } n && row.Fits.Count(f => f.Fits) < 8)
        {
            needs.Add($"a pin of controller {n}");
        }
        var need = needs.Count > 0 ? $"It needs {string.Join(", ", needs)}: " : "";
        var choice = own is { HazardPoints: > 0 } ? $"a second choice ({string.Join(" ", pin.Hazards.Select(h => h.What))})" : "one without hazards";
        var away = wire.Position is { } at ? $" and {Math.Abs(2 * pin.Position + 1 - at) / 2.0:0.#} rows from the part" : "";
        return $"{need}{fits} {(fits == 1 ? "pin" : "pins")} can do this; {pin.Name} is {choice}{away}.";
    }
}
