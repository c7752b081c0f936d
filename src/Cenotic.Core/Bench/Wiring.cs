using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The wiring table as a view of the circuit: which pin each line has, and every joint in soldering order.</summary>
internal sealed class Wiring
{
    private const double ShortMetres = 0.1;

    private readonly Circuit _circuit;
    private readonly Board _board;
    private readonly NodeDesign _node;
    private readonly Dictionary<string, PlannedLine> _lines;
    private readonly Dictionary<string, string> _colours;
    private readonly Dictionary<string, List<(Component Component, Terminal Terminal)>> _on = [];
    private readonly Dictionary<string, Component> _components;
    private readonly Dictionary<string, string> _purpose;
    private readonly Dictionary<string, string> _where;
    private readonly Dictionary<string, int> _used = [];
    private readonly List<PlannedWire> _wires = [];

    private Wiring(Circuit circuit, Board board, NodeDesign node, IReadOnlyList<Addition> additions, IReadOnlyList<PlannedLine> lines)
    {
        (_circuit, _board, _node) = (circuit, board, node);
        _components = circuit.Components.ToDictionary(c => c.Key);
        _purpose = additions.ToDictionary(a => a.Key, a => a.For);
        _where = additions.ToDictionary(a => a.Key, a => a.Where);
        _lines = lines.ToDictionary(l => $"{l.Part}.{l.Line}");
        _colours = lines.ToDictionary(l => $"{l.Part}.{l.Line}", l => l.Colour);
        foreach (var component in circuit.Components)
        {
            foreach (var terminal in component.Terminals.Where(t => t.Net is not null))
            {
                (_on.TryGetValue(terminal.Net!, out var list) ? list : _on[terminal.Net!] = []).Add((component, terminal));
            }
        }
    }

    /// <summary>The pin of each line.</summary>
    internal static IReadOnlyList<PlannedLine> Lines(Circuit circuit, Board board, NodeDesign node, NodeSupply supply, PinTable table, PinSolution solution)
    {
        var colours = WireColours.OfNets(circuit, node);
        var lines = new List<PlannedLine>();
        foreach (var net in circuit.Nets.Where(n => n.Serves.Count > 0))
        {
            foreach (var key in net.Serves)
            {
                var (part, line) = (key[..key.IndexOf('.', StringComparison.Ordinal)], key[(key.IndexOf('.', StringComparison.Ordinal) + 1)..]);
                var at = solution.List.Demands.Select((d, i) => (Demand: d, Pin: solution.Pins[i])).FirstOrDefault(p => p.Demand.Wires.Any(w => w.Key == key));
                var wire = at.Demand?.Wires.First(w => w.Key == key);
                var pin = at.Pin?.Id ?? net.Key;
                var held = node.Wires.FirstOrDefault(w => w.Key == key && w.Pin == pin)?.Hold;
                var (label, name) = at.Pin is { } own && !HelperPins.IsHelper(own) ? (own.Label, own.Name) : HelperNames(circuit, pin);
                lines.Add(
                    new(
                        net.Kind,
                        part,
                        wire?.PartLabel ?? circuit.Component(part)?.Label ?? part,
                        line,
                        pin,
                        label,
                        name,
                        net.Key,
                        colours[net.Key],
                        held,
                        wire is null
                            ? $"Its address is taken on the bus: channel {pin[^1]} of the multiplexer keeps the two apart."
                            : Reason(node, table, at.Demand!, at.Pin!, held, wire)
                    )
                    {
                        HighMargin = MarginOf(board, supply, solution, part, line),
                        BusLine = at.Demand is { } demand ? PinFit.BusLine(demand.Role, demand.Needs.Controller) : null,
                    }
                );
            }
        }
        return lines;
    }

    private static Figure? MarginOf(Board board, NodeSupply supply, PinSolution solution, string part, string line) =>
        solution.Structure.Connections.FirstOrDefault(c => c.Instance.Key == part) is { } connection
        && connection.Interface.Lines.FirstOrDefault(l => l.Name == line) is { } own
            ? LevelMargin.Of(own, connection, board, supply)
            : null;

    /// <summary>Every joint, in soldering order.</summary>
    internal static IReadOnlyList<PlannedWire> Of(
        Circuit circuit,
        Board board,
        NodeDesign node,
        IReadOnlyList<Addition> additions,
        IReadOnlyList<PlannedLine> lines
    ) => new Wiring(circuit, board, node, additions, lines).Joints();

    /// <summary>Wires that join before they reach a pin; on a strip each has its own place.</summary>
    internal static IReadOnlyList<Splice> Splices(IReadOnlyList<PlannedWire> wires) =>
        [
            .. wires
                .Where(w => w.Form == WireForm.Wire && !w.Pin.StartsWith(Circuit.StripKey, StringComparison.Ordinal))
                .GroupBy(w => w.Pin)
                .Where(g => g.Count() > 1)
                .Select(g => new Splice(g.Key, g.First().PinLabel, g.First().Kind, g.First().Colour, [.. g.Select(w => $"{w.PartLabel} {w.Line}")])),
        ];

    private static (string Label, string Name) HelperNames(Circuit circuit, string pin)
    {
        var (key, line) = (pin[..pin.LastIndexOf(':')], pin[(pin.LastIndexOf(':') + 1)..]);
        var helper = circuit.Component(key)!;
        return ($"{helper.Label} {line}", $"{helper.Value.Split(' ')[0]} {line}");
    }

    private List<PlannedWire> Joints()
    {
        foreach (var net in _circuit.Nets)
        {
            Net(net);
        }
        var order = _circuit.Components.Select((c, at) => (c.Key, at)).ToDictionary(c => c.Key, c => c.at);
        var at = 0;
        return [.. _wires.OrderBy(w => w.Kind).ThenBy(w => order[OwnerOf(w, order)]).ThenBy(w => order[w.Part]).Select(w => w with { Order = ++at })];
    }

    /// <summary>The component in whose turn a joint is made: an addition comes with the part that it is for.</summary>
    private string OwnerOf(PlannedWire wire, Dictionary<string, int> order) =>
        _components[wire.Part].Addition is { } key && _purpose[key] is var owner && owner.Split('.')[0] is var part && order.ContainsKey(part)
            ? part
            : wire.Part;

    private void Net(Net net)
    {
        if (!_on.TryGetValue(net.Key, out var all))
        {
            return;
        }
        var pins = all.Where(t => t.Component.Kind == ComponentKind.Board && !IsSocket(t.Terminal)).ToList();
        var sockets = all.Where(t => t.Component.Kind == ComponentKind.Board && IsSocket(t.Terminal)).ToList();
        var clusters = all.Where(t => t.Component.Kind != ComponentKind.Board).GroupBy(t => ClusterOf(t.Component, t.Terminal)).Select(Cluster).ToList();
        foreach (var (first, others) in clusters)
        {
            foreach (var other in others)
            {
                Join(net, other, first, first.Component.Addition is null ? WireForm.Bridge : WireForm.Leg);
            }
        }
        var plugged = clusters.Select(c => c.First).Where(e => e.Component.Kind == ComponentKind.Source && sockets.Count > 0 && IsUsb(e.Component)).ToList();
        plugged.ForEach(plug => Join(net, plug, sockets[0], WireForm.Plug));
        var ends = clusters.Select(c => c.First).Except(plugged).ToList();
        if (ends.Count == 0)
        {
            return;
        }
        var strip = ends.FirstOrDefault(e => e.Component.Kind == ComponentKind.Strip);
        var hub =
            strip.Component is not null ? strip
            : pins.Count > 0 ? default
            : HubOf(net, ends);
        if (strip.Component is not null && pins.Count > 0)
        {
            Join(net, strip, PinFor(strip, pins), WireForm.Wire);
        }
        foreach (var end in ends.Where(e => e != hub))
        {
            if (end.Component.At is { } at && ends.FirstOrDefault(e => e.Component.Key == at) is { Component: not null } beside)
            {
                Join(net, end, beside, WireForm.Leg);
            }
            else
            {
                var to = pins.Count > 0 && (hub == default || IsHeld(end, pins)) ? PinFor(end, pins) : hub;
                Join(net, end, to, IsLegged(end.Component) ? WireForm.Leg : WireForm.Wire);
            }
        }
    }

    /// <summary>What is soldered as one lump: the pieces of an addition, the pins of a module. Modules
    /// of the supply have a wire for each of their terminals.</summary>
    internal static string ClusterOf(Component component, Terminal terminal) =>
        component.Addition ?? (component.Kind == ComponentKind.Part ? component.Key : $"{component.Key}:{terminal.Name}");

    private static ((Component Component, Terminal Terminal) First, List<(Component, Terminal)> Others) Cluster(
        IEnumerable<(Component Component, Terminal Terminal)> cluster
    )
    {
        var ordered = cluster.OrderBy(t => IsLegged(t.Component)).ThenBy(t => t.Component.Strap is not null && IsStrapped(t.Component, t.Terminal)).ToList();
        return (ordered[0], ordered[1..]);
    }

    /// <summary>True for a pin of a module that only its strap ties.</summary>
    private static bool IsStrapped(Component module, Terminal terminal) =>
        module
            .Strap!.Split(';', StringSplitOptions.TrimEntries)
            .Any(strap =>
                strap.StartsWith(terminal.Name + " ", StringComparison.Ordinal)
                || (strap.Contains('=', StringComparison.Ordinal) && strap.Split('=')[0].Split(' ').Contains(terminal.Name))
            );

    private static bool IsLegged(Component component) =>
        component.Kind is ComponentKind.Resistor or ComponentKind.Capacitor or ComponentKind.Diode or ComponentKind.Clamp && !Circuit.IsOfSupply(component.Key);

    internal static bool IsSocket(Terminal terminal) => terminal.Name.StartsWith("USB", StringComparison.Ordinal);

    private bool IsUsb(Component source) => source.Key == "supply/usb" || _node.Power.Kind == PowerKind.Usb;

    /// <summary>Where wires of a net meet that no pin of the board is on: the line of a helper,
    /// a module of the supply, what stands between, else a part.</summary>
    private (Component Component, Terminal Terminal) HubOf(Net net, List<(Component Component, Terminal Terminal)> ends)
    {
        int Rank((Component Component, Terminal Terminal) end)
        {
            if (net.Serves.Count > 0 && _lines.TryGetValue(net.Serves[0], out var line) && line.Pin == $"{end.Component.Key}:{end.Terminal.Name}")
            {
                return 0;
            }
            return end.Component switch
            {
                { Kind: ComponentKind.Converter or ComponentKind.Charger or ComponentKind.Harvester } => 1,
                { Addition: null } => 4,
                _ => IsLegged(end.Component) ? 3 : 2,
            };
        }
        return ends.MinBy(Rank);
    }

    /// <summary>The pin of the board for an end: where it is soldered already, else the one with the fewest wires, of those the nearest.</summary>
    private (Component Component, Terminal Terminal) PinFor((Component Component, Terminal Terminal) end, List<(Component Component, Terminal Terminal)> pins)
    {
        var held = _node.Wires.FirstOrDefault(w => w.Part == end.Component.Key && w.Line == end.Terminal.Name && pins.Any(p => p.Terminal.Name == w.Pin));
        var at = DemandList.PositionOf(_board, _node, end.Component.Key) ?? 0;
        var chosen = held is not null
            ? pins.First(p => p.Terminal.Name == held.Pin)
            : pins.OrderBy(p => Used(p.Terminal.Name)).ThenBy(p => Math.Abs(2 * _board.Pin(p.Terminal.Name).Position + 1 - at)).First();
        _used[chosen.Terminal.Name] = Used(chosen.Terminal.Name) + 1;
        return chosen;
    }

    private bool IsHeld((Component Component, Terminal Terminal) end, List<(Component Component, Terminal Terminal)> pins) =>
        _node.Wires.Any(w => w.Part == end.Component.Key && w.Line == end.Terminal.Name && pins.Any(p => p.Terminal.Name == w.Pin));

    private int Used(string pin) => _used.GetValueOrDefault(pin);

    private void Join(Net net, (Component Component, Terminal Terminal) from, (Component Component, Terminal Terminal) to, WireForm form)
    {
        var serves = ServedBy(net, from.Component, from.Terminal);
        var onBoard = to.Component.Kind == ComponentKind.Board;
        var pin = onBoard ? to.Terminal.Name : $"{to.Component.Key}:{to.Terminal.Name}";
        var line = serves is not null ? _lines.GetValueOrDefault(serves) : null;
        var (label, name) = LabelsOf(net, to, form, line?.Pin == pin ? line : null);
        var tick = TickOf(
            net,
            from.Component,
            from.Terminal,
            line,
            serves,
            endsOnPin: line is null ? (onBoard || to.Component.Kind == ComponentKind.Strip) && form == WireForm.Wire : line.Pin == pin
        );
        var hold = tick is null ? null : _node.Wires.FirstOrDefault(w => w.Key == tick && w.Pin == pin);
        _wires.Add(
            new(
                0,
                net.Kind,
                form,
                net.Key,
                from.Component.Key,
                NameOf(from.Component),
                from.Terminal.Name,
                pin,
                label,
                name,
                form == WireForm.Wire ? hold?.Colour ?? WireColours.Of(net, serves is null ? null : _colours.GetValueOrDefault(serves)) : "",
                form == WireForm.Wire ? LengthOf(from.Component) : 0,
                serves,
                tick,
                hold?.Hold,
                ReasonOf(net, from.Component, line)
            )
        );
    }

    /// <summary>What a component is called: a piece of an addition with what it is for, since there may be several alike.</summary>
    private string NameOf(Component component)
    {
        if (component.Addition is not { } key)
        {
            return component.Label;
        }
        var owner = _purpose[key].Split('.');
        return owner is [var part, var line] && _components.TryGetValue(part, out var known)
            ? $"{component.Label}, {known.Label} {line}"
            : $"{component.Label}, {(_components.TryGetValue(owner[0], out var whole) ? whole.Label : _purpose[key].Replace('.', ' '))}";
    }

    /// <summary>What is printed where a joint ends, and what a program calls it.</summary>
    /// <param name="ending">The line whose pin it ends on; null for any other end.</param>
    private (string Label, string Name) LabelsOf(Net net, (Component Component, Terminal Terminal) to, WireForm form, PlannedLine? ending)
    {
        if (to.Component.Kind != ComponentKind.Board)
        {
            var own = to.Component.Kind == ComponentKind.Strip ? to.Component.Label : $"{NameOf(to.Component)} {to.Terminal.Name}";
            return ending is null ? (own, own) : (ending.PinLabel, ending.PinName);
        }
        if (form == WireForm.Plug)
        {
            return ("USB socket", to.Terminal.Name);
        }
        var pin = _board.Pin(to.Terminal.Name);
        return (
            pin.Label,
            net.Kind switch
            {
                WireKind.Ground => "ground",
                WireKind.Supply => $"{net.HighVolts:0.##} V",
                _ => pin.Name,
            }
        );
    }

    /// <summary>The line that a joint is for: the part's own, that of its addition, or of a bus behind
    /// a shifter the first that has no wire of its own to the pin.</summary>
    private string? ServedBy(Net net, Component from, Terminal terminal)
    {
        if (net.Kind is WireKind.Ground or WireKind.Supply)
        {
            return null;
        }
        var own = $"{from.Key}.{terminal.Name}";
        if (from.Kind == ComponentKind.Part && _lines.ContainsKey(own))
        {
            return own;
        }
        if (from.Addition is { } key && _lines.ContainsKey(_purpose[key]))
        {
            return _purpose[key];
        }
        return from.Kind == ComponentKind.Shifter ? net.Serves.FirstOrDefault(s => !HasOwnWire(net, s)) : null;
    }

    /// <summary>True when the part's terminal is on the net itself.</summary>
    private bool HasOwnWire(Net net, string line) => _on[net.Key].Any(t => line == $"{t.Component.Key}.{t.Terminal.Name}");

    /// <summary>What is held when a joint is ticked: a line where its last joint ends on its pin, a supply or ground pin of a part.</summary>
    private string? TickOf(Net net, Component from, Terminal terminal, PlannedLine? line, string? serves, bool endsOnPin)
    {
        var own = $"{from.Key}.{terminal.Name}";
        if (line is not null)
        {
            return endsOnPin && (own == serves || !HasOwnWire(net, serves!)) ? serves : null;
        }
        return net.Kind is WireKind.Ground or WireKind.Supply && endsOnPin && from.Kind == ComponentKind.Part ? own : null;
    }

    private double LengthOf(Component from) =>
        from.Kind switch
        {
            ComponentKind.Part => _node.Part(from.Key)?.LeadMetres ?? ShortMetres,
            _ => ShortMetres,
        };

    private string ReasonOf(Net net, Component from, PlannedLine? line)
    {
        if (from.Addition is { } key)
        {
            return _where[key];
        }
        return line?.Reason
            ?? net.Kind switch
            {
                _ when from.Kind == ComponentKind.Strip => "More wires than a pin takes meet on a strip, and one goes on to the pin.",
                WireKind.Ground => "Common ground, spread over the ground pins of the board.",
                WireKind.Supply => $"{from.Label} is fed by {net.Label}.",
                _ => net.Reason,
            };
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
            return demand.Needs.Analog
                ? "On the converter: its steps are finer and straighter than those of the board."
                : "A slow line: the expander serves it, and a pin of the board stays free.";
        }
        if (demand.Wires[0].IsInterrupt)
        {
            return $"It tells of a changed input, so that the expander need not be asked all the time; {pin.Name} is free.";
        }
        var needs = new List<string>();
        if (demand.Needs.Analog)
        {
            needs.Add("a converter" + (node.UsesWifi ? " that works beside Wi-Fi" : ""));
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
            needs.Add(PinFit.BusLine(demand.Role, n) is { } line ? $"a pin for {line}" : $"a pin of controller {n}");
        }
        var need = needs.Count > 0 ? $"It needs {string.Join(", ", needs)}: " : "";
        var usual = pin.Usual == demand.Role ? "the usual one of the board for it" : "one without hazards";
        var choice = own is { HazardPoints: > 0 } ? $"a second choice ({string.Join(" ", pin.Hazards.Select(h => h.What))})" : usual;
        var away = wire.Position is { } at ? $" and {Rows(Math.Abs(2 * pin.Position + 1 - at) / 2.0)} from the part" : "";
        return $"{need}{fits} {(fits == 1 ? "pin" : "pins")} can do this; {pin.Name} is {choice}{away}.";
    }

    private static string Rows(double rows) => rows == 1 ? "1 row" : $"{rows:0.#} rows";
}
