using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>What is wrong at a terminal of a circuit.</summary>
/// <param name="Component">Key of the component.</param>
/// <param name="What">One sentence.</param>
public sealed record CircuitFault(string Component, string Terminal, string What);

/// <summary>
/// Walks a circuit terminal by terminal, as a second person would before it is soldered: what must
/// be joined is, no net has two supplies or two outputs, no terminal sees more
/// than it stands, and every resistor, transistor and diode stands where it does its work. It knows
/// the circuit and the catalogue, and nothing of how the circuit was planned.
/// </summary>
public sealed class CircuitCheck
{
    private const double Slack = 0.05,
        InputSlackVolts = 0.35,
        ShifterMaxVolts = 5.5;

    private readonly Circuit _circuit;
    private readonly Board _board;
    private readonly HardwareCatalogue _catalogue;
    private readonly Dictionary<string, (Part Part, PartInterface By)> _parts = [];
    private readonly Dictionary<string, List<(Component Component, Terminal Terminal)>> _on = [];
    private readonly Dictionary<string, Component> _components;
    private readonly HashSet<string> _supplies;
    private readonly HashSet<string> _pins;
    private readonly CircuitVolts _volts;
    private readonly List<CircuitFault> _faults = [];

    private CircuitCheck(Circuit circuit, Board board, IReadOnlyList<PlannedPart> parts, HardwareCatalogue catalogue)
    {
        (_circuit, _board, _catalogue) = (circuit, board, catalogue);
        foreach (var component in circuit.Components)
        {
            if (
                component.Kind == ComponentKind.Part
                && catalogue.Part(component.CatalogueId ?? "") is { } part
                && parts.FirstOrDefault(p => p.Part == component.Key) is { } planned
                && part.Interfaces.FirstOrDefault(i => i.Kind == planned.Interface && i.Label == planned.By) is { } by
            )
            {
                _parts[component.Key] = (part, by);
            }
            foreach (var terminal in component.Terminals.Where(t => t.Net is not null))
            {
                (_on.TryGetValue(terminal.Net!, out var list) ? list : _on[terminal.Net!] = []).Add((component, terminal));
            }
        }
        _components = circuit.Components.ToDictionary(c => c.Key);
        _supplies = [.. circuit.Nets.Where(n => n.Kind == WireKind.Supply).Select(n => n.Key)];
        _pins = [.. board.Pins.Where(p => p.Kind is PinKind.Gpio or PinKind.Analog).Select(p => p.Id)];
        _volts = new(circuit, board, _parts);
    }

    /// <summary>All faults; empty for a circuit that can be soldered.</summary>
    /// <param name="parts">Which interface each part uses.</param>
    public static IReadOnlyList<CircuitFault> Faults(Circuit circuit, Board board, IReadOnlyList<PlannedPart> parts, HardwareCatalogue catalogue)
    {
        if (circuit.Component(Circuit.BoardKey) is null)
        {
            return [];
        }
        var check = new CircuitCheck(circuit, board, parts, catalogue);
        foreach (var component in circuit.Components)
        {
            check.Joined(component);
            check.InPlace(component);
        }
        foreach (var net in check._on.Keys)
        {
            check.OneSupply(net);
            check.OneDriver(net);
        }
        foreach (var (key, (part, by)) in check._parts)
        {
            var component = check._components[key];
            foreach (var line in by.Lines.Where(l => !l.Optional))
            {
                check.Line(component, part, by, line);
            }
        }
        check.Limits();
        return check._faults;
    }

    private void Say(Component component, string terminal, string what) => _faults.Add(new(component.Key, terminal, what));

    private static string? Net(Component component, string terminal) => component.Terminals.FirstOrDefault(t => t.Name == terminal)?.Net;

    private IEnumerable<(Component Component, Terminal Terminal)> On(string? net) => net is not null && _on.TryGetValue(net, out var list) ? list : [];

    /// <summary>Every terminal that must be joined is, to something else, and nothing is joined past a component.</summary>
    private void Joined(Component component)
    {
        foreach (var terminal in component.Terminals)
        {
            if (
                terminal.Net is null
                    ? Must(component, terminal.Name)
                    : On(terminal.Net).All(o => o.Component.Key == component.Key) && component.Kind != ComponentKind.Board && !IsSpareRail(component, terminal)
            )
            {
                Say(component, terminal.Name, $"{component.Label} {terminal.Name} is joined to nothing.");
            }
        }
        var across = component.Kind switch
        {
            ComponentKind.Resistor or ComponentKind.Fuse => ("1", "2"),
            ComponentKind.Cable => ("+2", "-2"),
            ComponentKind.Capacitor or ComponentKind.Source or ComponentKind.Cells or ComponentKind.LightCell => ("+", "-"),
            ComponentKind.Diode or ComponentKind.Clamp => ("A", "K"),
            ComponentKind.NMosfet or ComponentKind.PMosfet => ("D", "S"),
            ComponentKind.Npn => ("C", "E"),
            ComponentKind.Buffer => ("A", "Y"),
            ComponentKind.Shifter => ("LV", "HV"),
            ComponentKind.Converter => ("OUT+", "OUT-"),
            _ => ("", ""),
        };
        if (across.Item1.Length > 0 && Net(component, across.Item1) is { } net && net == Net(component, across.Item2))
        {
            Say(component, across.Item1, $"{component.Label} is bypassed: its {across.Item1} and {across.Item2} are joined.");
        }
        if (component.Kind == ComponentKind.NMosfet && Net(component, "G") == Net(component, "D"))
        {
            Say(component, "G", $"{component.Label} is bypassed: its gate and drain are joined.");
        }
    }

    /// <summary>A rail that is made for loads may wait for one.</summary>
    private static bool IsSpareRail(Component component, Terminal terminal) =>
        (component.Key == Circuit.LoadStepUpKey || component.Key.StartsWith(Circuit.FurtherRailKey, StringComparison.Ordinal)) && terminal.Name == "OUT+";

    private bool Must(Component component, string terminal) =>
        component.Kind switch
        {
            ComponentKind.Board => _board.Supplies.Any(s => s.Pin == terminal)
                && component.Terminals.All(t => t.Net is null || t.Net == Circuit.Ground || (t.Name != "USB+" && _board.Supplies.All(s => s.Pin != t.Name))),
            ComponentKind.Part => _parts.TryGetValue(component.Key, out var known)
                && (terminal == known.Part.SupplyPin || terminal == known.Part.GroundPin || known.By.Lines.Any(l => l.Name == terminal && !l.Optional)),
            ComponentKind.Charger => !terminal.StartsWith("IN", StringComparison.Ordinal),
            _ => true,
        };

    /// <summary>Components whose place is known by what they are.</summary>
    private void InPlace(Component component)
    {
        switch (component.Kind)
        {
            case ComponentKind.NMosfet:
                Grounded(component, "S");
                Held(component, "G", Circuit.Ground);
                Through(component, "G");
                break;
            case ComponentKind.Npn:
                Grounded(component, "E");
                Held(component, "B", Circuit.Ground);
                Through(component, "B");
                break;
            case ComponentKind.PMosfet:
                Held(component, "G", Net(component, "S"));
                if (On(Net(component, "G")).All(o => o.Component.Kind != ComponentKind.Npn || o.Terminal.Name != "C"))
                {
                    Say(component, "G", $"Nothing pulls the gate of {component.Label} low.");
                }
                break;
            case ComponentKind.Shifter or ComponentKind.Buffer:
                Grounded(component, "GND");
                break;
            case ComponentKind.Converter or ComponentKind.Charger:
                Grounded(component, "OUT-");
                break;
            case ComponentKind.Clamp:
                Grounded(component, "A");
                break;
            case ComponentKind.Cable:
                Grounded(component, "-2");
                if (!On(Net(component, "-1")).Any(o => o is { Component.Kind: ComponentKind.Source, Terminal.Name: "-" }))
                {
                    Say(component, "-1", $"The minus of {component.Label} is not that of its source.");
                }
                break;
            case ComponentKind.Diode
                when component.Addition is not null
                    && !(
                        On(Net(component, "A")).Any(o => o is { Component.Kind: ComponentKind.NMosfet, Terminal.Name: "D" })
                        && _volts.Of(Net(component, "K")) > 0
                    ):
                Say(component, "A", $"{component.Label} does not stand across its load: anode at the transistor, cathode at the supply.");
                break;
            case ComponentKind.Capacitor
                when component.At is { } at
                    && _parts.TryGetValue(at, out var known)
                    && (Net(component, "+") != Net(_components[at], known.Part.SupplyPin!) || Net(component, "-") != Circuit.Ground):
                Say(component, "+", $"{component.Label} does not stand across the supply of {at}.");
                break;
            case ComponentKind.Part when _parts.TryGetValue(component.Key, out var part) && part.Part.GroundPin is { } ground:
                Grounded(component, ground);
                break;
        }
    }

    private void Grounded(Component component, string terminal)
    {
        if (Net(component, terminal) is { } net && net != Circuit.Ground)
        {
            Say(component, terminal, $"{component.Label} {terminal} is not at ground.");
        }
    }

    /// <summary>A resistor holds a gate or base at rest.</summary>
    private void Held(Component component, string terminal, string? to)
    {
        if (Net(component, terminal) is { } net && !ResistorsFrom(net).Any(r => r.Far == to))
        {
            Say(component, terminal, $"No resistor holds {component.Label} {terminal} while the pin floats.");
        }
    }

    /// <summary>A gate or base is driven through a resistor by a pin, and by no pin straight.</summary>
    private void Through(Component component, string terminal)
    {
        var net = Net(component, terminal);
        if (!ResistorsFrom(net).Any(r => On(r.Far).Any(o => IsControlPin(o.Component, o.Terminal))))
        {
            Say(component, terminal, $"No pin drives {component.Label} {terminal} through a resistor.");
        }
        if (On(net).Any(o => IsControlPin(o.Component, o.Terminal)))
        {
            Say(component, terminal, $"A pin is joined straight to {component.Label} {terminal}, past its resistor.");
        }
    }

    private IEnumerable<(Component Resistor, string? Far)> ResistorsFrom(string? net) =>
        On(net)
            .Where(o => o.Component.Kind == ComponentKind.Resistor)
            .Select(o => (o.Component, o.Component.Terminals.First(t => t.Name != o.Terminal.Name).Net));

    /// <summary>True for a pin that the program has: of the board or of a helper.</summary>
    private bool IsControlPin(Component component, Terminal terminal) =>
        component.Kind == ComponentKind.Board
            ? _pins.Contains(terminal.Name)
            : _parts.TryGetValue(component.Key, out var known)
                && known.Part.Helper is { Kind: not HelperKind.Mux } helper
                && helper.Lines.Any(l => l.Name == terminal.Name);

    /// <summary>No net has two supplies, and ground has none.</summary>
    private void OneSupply(string net)
    {
        var sources = On(net)
            .Where(o => GivesSupply(o.Component, o.Terminal))
            .GroupBy(o => o.Component.Kind == ComponentKind.Board ? $"rail {_board.Pins.First(p => p.Id == o.Terminal.Name).Rail}" : o.Component.Key)
            .Select(g => g.First())
            .ToList();
        // Cells may hang on what charges them.
        var others = sources
            .Where(o => o.Component.Kind != ComponentKind.Cells || sources.All(s => s.Component.Kind is not (ComponentKind.Harvester or ComponentKind.Charger)))
            .ToList();
        if (others.Count > 1)
        {
            Say(
                others[1].Component,
                others[1].Terminal.Name,
                $"{others[0].Component.Label} {others[0].Terminal.Name} and {others[1].Component.Label} {others[1].Terminal.Name} both feed one net."
            );
        }
        if (net == Circuit.Ground && sources.Count > 0)
        {
            Say(sources[0].Component, sources[0].Terminal.Name, $"{sources[0].Component.Label} {sources[0].Terminal.Name} is shorted to ground.");
        }
    }

    private bool GivesSupply(Component component, Terminal terminal) =>
        component.Kind switch
        {
            ComponentKind.Source or ComponentKind.Cells or ComponentKind.LightCell => terminal.Name == "+",
            ComponentKind.Converter or ComponentKind.Charger => terminal.Name == "OUT+",
            ComponentKind.Harvester => terminal.Name == "VBAT",
            ComponentKind.Board => _board.Pins.FirstOrDefault(p => p.Id == terminal.Name) is { Rail: { } rail }
                && _board.Rails.Any(r => r.Id == rail)
                && !IsInput(terminal.Net!),
            _ => false,
        };

    /// <summary>True when something outside feeds the board at this net: a source, a converter or cells, also through a fuse or diode.</summary>
    private bool IsInput(string net) =>
        On(net)
            .Any(o =>
                (o.Component.Kind != ComponentKind.Board && GivesSupply(o.Component, o.Terminal))
                || o is { Component.Kind: ComponentKind.Fuse, Terminal.Name: "2" } or { Component.Kind: ComponentKind.Cable, Terminal.Name: "+2" }
                || (o.Component is { Kind: ComponentKind.Diode, Addition: null } && o.Terminal.Name == "K")
            );

    /// <summary>One output a net; several only where each waits to be selected.</summary>
    private void OneDriver(string net)
    {
        var drivers = On(net).Where(o => Drives(o.Component, o.Terminal)).ToList();
        var selected = drivers.All(d => d.Component.Kind == ComponentKind.Part && _parts[d.Component.Key].By.Lines.Any(l => l.Role == LineRole.SpiSelect));
        if (drivers.Count > 1 && !selected)
        {
            Say(
                drivers[1].Component,
                drivers[1].Terminal.Name,
                $"{drivers[0].Component.Label} {drivers[0].Terminal.Name} and {drivers[1].Component.Label} {drivers[1].Terminal.Name} both drive one net."
            );
        }
        if (drivers.Count > 0 && (net == Circuit.Ground || On(net).Any(o => GivesSupply(o.Component, o.Terminal))))
        {
            Say(
                drivers[0].Component,
                drivers[0].Terminal.Name,
                $"{drivers[0].Component.Label} {drivers[0].Terminal.Name} is an output and is shorted to a supply or ground."
            );
        }
    }

    private bool Drives(Component component, Terminal terminal) =>
        component.Kind switch
        {
            ComponentKind.Buffer => terminal.Name == "Y",
            ComponentKind.Part => _parts.TryGetValue(component.Key, out var known)
                && known.By.Lines.Any(l => l.Name == terminal.Name && l.Drive == LineDrive.PushPull),
            _ => false,
        };

    /// <summary>A line reaches one pin of the program through what it needs.</summary>
    private void Line(Component component, Part part, PartInterface by, PartLine line)
    {
        if (Net(component, line.Name) is not { } start)
        {
            return;
        }
        var seen = new HashSet<string> { start };
        var (passed, pins) = (new HashSet<ComponentKind>(), new HashSet<string>());
        var queue = new Queue<string>(seen);
        while (queue.Count > 0)
        {
            foreach (var (on, terminal) in On(queue.Dequeue()).Where(o => o.Component.Key != component.Key))
            {
                if (IsControlPin(on, terminal) || IsChannel(on, terminal))
                {
                    pins.Add($"{on.Key}:{terminal.Name}");
                }
                foreach (var next in Onward(on, terminal).OfType<string>().Where(n => n != Circuit.Ground && !_supplies.Contains(n) && seen.Add(n)))
                {
                    passed.Add(on.Kind);
                    queue.Enqueue(next);
                }
            }
        }
        if (pins.Count != 1)
        {
            Say(
                component,
                line.Name,
                pins.Count == 0 ? $"{component.Label} {line.Name} reaches no pin." : $"{component.Label} {line.Name} is joined to {pins.Count} pins."
            );
            return;
        }
        Needs(component, part, by, line, start, passed);
    }

    private bool IsChannel(Component component, Terminal terminal) =>
        _parts.TryGetValue(component.Key, out var known)
        && known.Part.Helper is { Kind: HelperKind.Mux }
        && terminal.Name.Length == 3
        && terminal.Name.StartsWith('S')
        && char.IsAsciiDigit(terminal.Name[2]);

    /// <summary>The nets that a signal goes on to through a component.</summary>
    private static IEnumerable<string?> Onward(Component component, Terminal at) =>
        component.Kind switch
        {
            ComponentKind.Resistor => component.Terminals.Where(t => t.Name != at.Name).Select(t => t.Net),
            ComponentKind.Shifter when at.Name.Length == 3 && at.Name != "GND" => [Net(component, (at.Name[0] == 'L' ? "HV" : "LV") + at.Name[2])],
            ComponentKind.Buffer when at.Name is "A" or "Y" => [Net(component, at.Name == "A" ? "Y" : "A")],
            ComponentKind.NMosfet when at.Name == "D" => [Net(component, "G")],
            ComponentKind.Npn when at.Name == "C" => [Net(component, "B")],
            _ => [],
        };

    private void Needs(Component component, Part part, PartInterface by, PartLine line, string net, HashSet<ComponentKind> passed)
    {
        void Want(bool there, string what)
        {
            if (!there)
            {
                Say(component, line.Name, $"{component.Label} {line.Name} wants {what}.");
            }
        }
        var switched = passed.Contains(ComponentKind.NMosfet);
        if (line.Milliamps is { } wanted && part.SupplyPin is null)
        {
            Want(!switched, "a pin that feeds it: a switch to ground gives it no current");
            Want(
                (wanted <= _board.PinPlanMilliamps && line.ForwardVolts is null)
                    || ResistorsFrom(net)
                        .All(r => (_board.LogicVolts - (line.ForwardVolts ?? 0)) / r.Resistor.Ohms!.Value * 1000 <= _board.PinPlanMilliamps * 1.001),
                "a larger resistor: no pin gives this current"
            );
        }
        else
        {
            Want(line.Milliamps is not { } milliamps || milliamps <= _board.PinPlanMilliamps || switched, "a transistor: no pin gives its current");
        }
        Want(!(line.Inductive && switched) || On(net).Any(o => o is { Component.Kind: ComponentKind.Diode, Terminal.Name: "A" }), "a diode across its coil");
        Want(line.ForwardVolts is null || passed.Contains(ComponentKind.Resistor) || _board.LogicVolts <= line.ForwardVolts, "a resistor for its LED");
        Want(line.SeriesOhms is null || passed.Contains(ComponentKind.Resistor), "a resistor in its line");
        Want(
            !line.FloatsToSupply || _volts.Of(net) is not { } volts || volts <= _board.PinMaxVolts || passed.Contains(ComponentKind.Npn),
            "a transistor: it rests above what a pin stands"
        );
        Want(!line.Gate || ResistorsFrom(net).Any(r => r.Far == Circuit.Ground), "a resistor that holds its gate low");
        var pulled = Pulled(net) || passed.Contains(ComponentKind.Shifter);
        Want(
            line.Role is not (LineRole.I2cSda or LineRole.I2cScl or LineRole.OneWire or LineRole.SingleWire)
                || pulled
                || (line.Role == LineRole.SingleWire && part.PullUpOhms is not null),
            "a pull-up"
        );
        Want(
            line.Role != LineRole.SpiSelect || pulled || passed.Contains(ComponentKind.Resistor),
            "a pull-up that keeps it off the bus while the board starts"
        );
        Want(
            line.Role != LineRole.Contact
                || pulled
                || On(net).Any(o => o.Component.Kind == ComponentKind.Board && _board.Pins.Any(p => p.Id == o.Terminal.Name && p.PullUp))
                || On(net).Any(o => o.Component.Kind == ComponentKind.Part && o.Component.Key != component.Key),
            "a pull-up"
        );
        Want(by.Resistive is null || line.Role != LineRole.Analog || pulled, "a reference resistor to the logic supply");
    }

    private bool Pulled(string net) =>
        ResistorsFrom(net).Any(r => r.Far is not null && _supplies.Contains(r.Far))
        || On(net)
            .Any(o =>
                o.Component.Kind == ComponentKind.Shifter
                || (
                    _parts.TryGetValue(o.Component.Key, out var known)
                    && !o.Component.PullUpTakenOff
                    && known.Part.PullUpOhms is not null
                    && known.By.Lines.Any(l => l.Name == o.Terminal.Name && l.Drive == LineDrive.OpenDrain)
                )
            );

    /// <summary>No terminal sees more than it stands, or less than it needs.</summary>
    private void Limits()
    {
        foreach (var component in _circuit.Components)
        {
            foreach (var terminal in component.Terminals.Where(t => t.Net is not null))
            {
                if (_volts.Of(terminal.Net) is not { } volts)
                {
                    continue;
                }
                var (least, most) = Range(component, terminal);
                if (volts > most * 1.001 + Slack || volts < least - Slack)
                {
                    Say(
                        component,
                        terminal.Name,
                        $"{component.Label} {terminal.Name} sees {volts:0.00} V; it takes {(least > 0 ? $"{least:0.##} to " : "at most ")}{most:0.##} V."
                    );
                }
            }
            if (
                component.Kind == ComponentKind.Shifter
                && _volts.Of(Net(component, "LV")) is { } low
                && _volts.Of(Net(component, "HV")) is { } high
                && low > high + Slack
            )
            {
                Say(component, "LV", $"{component.Label} has its sides swapped: {low:0.0} V at LV, {high:0.0} V at HV.");
            }
            if (component is { Kind: ComponentKind.Clamp, Volts: { } clamp } && _volts.Of(Net(component, "K")) is { } held && held > clamp)
            {
                Say(component, "K", $"{component.Label} conducts all the time: {held:0.0} V at its cathode.");
            }
        }
    }

    private (double Least, double Most) Range(Component component, Terminal terminal)
    {
        const double free = double.MaxValue;
        switch (component.Kind)
        {
            case ComponentKind.Board when _board.Supplies.FirstOrDefault(s => s.Pin == terminal.Name) is { } input && IsInput(terminal.Net!):
                return (0, input.MaxVolts);
            case ComponentKind.Board when _board.Pins.FirstOrDefault(p => p.Id == terminal.Name) is { Kind: PinKind.Gpio or PinKind.Analog } pin:
                return (0, pin.MaxVolts ?? _board.PinMaxVolts);
            case ComponentKind.Board when _board.Pins.FirstOrDefault(p => p.Id == terminal.Name) is { Kind: PinKind.Ground }:
                return (0, 0);
            case ComponentKind.Shifter when terminal.Name is "LV" or "HV":
                return (0, ShifterMaxVolts);
            case ComponentKind.Buffer when terminal.Name == "VCC":
                return (2, ShifterMaxVolts);
            case ComponentKind.Converter or ComponentKind.Charger when terminal.Name == "IN+" && _catalogue.Supply(component.CatalogueId ?? "") is { } module:
                return (module.InputMinVolts, module.InputMaxVolts);
            case ComponentKind.Part when _parts.TryGetValue(component.Key, out var known):
                var supply = known.Part.SupplyPin is { } pinOf ? _volts.Of(Net(component, pinOf)) ?? free : free;
                if (terminal.Name == known.Part.SupplyPin)
                {
                    return (known.Part.SupplyMinVolts ?? 0, known.Part.SupplyMaxVolts ?? free);
                }
                // The channels of a multiplexer may be pulled up above its own supply.
                if (IsChannel(component, terminal))
                {
                    return (0, ShifterMaxVolts);
                }
                if (known.Part.Helper?.Lines.Any(l => l.Name == terminal.Name) == true)
                {
                    return (0, supply + InputSlackVolts);
                }
                var line = known.By.Lines.FirstOrDefault(l => l.Name == terminal.Name);
                return line is null or { Milliamps: not null } or { Role: LineRole.Contact or LineRole.Analog } || line.Drive == LineDrive.PushPull
                    ? (0, free)
                    : (0, line.MaxVolts ?? (supply < free ? supply + InputSlackVolts + (line.Drive == LineDrive.OpenDrain ? 0.2 : 0) : free));
            default:
                return (0, free);
        }
    }
}
