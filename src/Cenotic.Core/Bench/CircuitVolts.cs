using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>
/// The highest voltage that each net of a circuit can have: every source at its highest, every output high. In a network of resistors the voltage
/// of a node rises with each of its sources, so that is the highest of all states. It knows the
/// circuit and the catalogue, and nothing of how the circuit was planned.
/// </summary>
internal sealed class CircuitVolts
{
    private const int Sweeps = 400;

    /// <summary>An input that is pulled up through an LED and its resistor, ohm: usual relay modules, from memory.</summary>
    private const double ThroughLedOhms = 2_200;

    private readonly Circuit _circuit;
    private readonly Board _board;
    private readonly IReadOnlyDictionary<string, (Part Part, PartInterface By)> _parts;
    private readonly Dictionary<string, double> _fixed = [];

    /// <summary>Nets that a pin of the program drives, or lets go: while the board starts it drives none.</summary>
    private readonly HashSet<string> _driven = [];
    private readonly List<(string A, string B, double Ohms)> _resistors = [];
    private readonly Dictionary<string, double> _volts = [];
    private readonly Component _pins;

    /// <summary>The nets of pins that can be outputs, of the board and of helpers, each with its high, volts.</summary>
    private readonly Dictionary<string, double> _outputs = [];

    internal CircuitVolts(Circuit circuit, Board board, IReadOnlyDictionary<string, (Part Part, PartInterface By)> parts)
    {
        (_circuit, _board, _parts) = (circuit, board, parts);
        _pins = circuit.Component(Circuit.BoardKey)!;
        Supplies();
        Outputs();
        Signals();
        DrivenPins();
        Solve(_fixed);
        Solve(new(_fixed.Concat(_driven.Where(n => !_fixed.ContainsKey(n)).Select(n => KeyValuePair.Create(n, _outputs[n])))));
    }

    /// <summary>Highest voltage of a net, volts; null where nothing gives it one.</summary>
    internal double? Of(string? net) => net is not null && _volts.TryGetValue(net, out var volts) ? volts : null;

    private void Fix(string? net, double volts)
    {
        if (net is not null)
        {
            _fixed[net] = Math.Max(volts, _fixed.GetValueOrDefault(net));
        }
    }

    private static string? Net(Component component, string terminal) => component.Terminals.FirstOrDefault(t => t.Name == terminal)?.Net;

    private void Supplies()
    {
        _fixed[Circuit.Ground] = 0;
        foreach (var component in _circuit.Components)
        {
            switch (component.Kind)
            {
                case ComponentKind.Source or ComponentKind.Cells or ComponentKind.LightCell:
                    Fix(Net(component, "+"), component.Volts!.Value);
                    break;
                case ComponentKind.Converter or ComponentKind.Charger:
                    Fix(Net(component, "OUT+"), component.Volts!.Value);
                    break;
                case ComponentKind.Harvester:
                    Fix(Net(component, "VBAT"), component.Volts ?? 0);
                    break;
            }
        }
        // Through fuses, diodes and switches of supplies: as many sweeps as there can be of them in a row.
        for (var sweep = 0; sweep < 6; sweep++)
        {
            foreach (var component in _circuit.Components)
            {
                var (from, to) = component.Kind switch
                {
                    ComponentKind.Fuse => ("1", "2"),
                    ComponentKind.Cable => ("+1", "+2"),
                    ComponentKind.Diode when Circuit.IsOfSupply(component.Key) => ("A", "K"),
                    ComponentKind.PMosfet => ("S", "D"),
                    _ => ("", ""),
                };
                if (from.Length > 0 && Net(component, from) is { } source && _fixed.TryGetValue(source, out var volts))
                {
                    Fix(Net(component, to), volts);
                }
            }
            Rails();
        }
    }

    /// <summary>What the board makes of what it is fed with.</summary>
    private void Rails()
    {
        foreach (var pin in _board.Pins.Where(p => p.Rail is not null))
        {
            if (_board.Rails.FirstOrDefault(r => r.Id == pin.Rail) is { } rail && Net(_pins, pin.Id) is { } net && !_fixed.ContainsKey(net))
            {
                Fix(net, rail.Volts);
            }
        }
    }

    private void Outputs()
    {
        void Add(Component component, IEnumerable<string> lines, double volts)
        {
            foreach (var net in lines.Select(l => Net(component, l)).OfType<string>())
            {
                _outputs[net] = volts;
            }
        }
        Add(_pins, _board.Pins.Where(p => p.Kind == PinKind.Gpio && p.Output).Select(p => p.Id), _board.LogicVolts);
        foreach (var (key, (part, _)) in _parts.Where(p => p.Value.Part.Helper is { Kind: HelperKind.Expander }))
        {
            var helper = _circuit.Component(key)!;
            Add(helper, part.Helper!.Lines.Where(l => l.Output).Select(l => l.Name), SupplyOf(helper, part));
        }
    }

    private double SupplyOf(Component component, Part part) =>
        part.SupplyPin is { } pin ? _fixed.GetValueOrDefault(Net(component, pin) ?? "", 0) : _board.LogicVolts;

    private void Signals()
    {
        foreach (var component in _circuit.Components)
        {
            switch (component.Kind)
            {
                case ComponentKind.Resistor when Net(component, "1") is { } one && Net(component, "2") is { } two && one != two:
                    _resistors.Add((one, two, component.Ohms!.Value));
                    break;
                case ComponentKind.Buffer:
                    Fix(Net(component, "Y"), _fixed.GetValueOrDefault(Net(component, "VCC") ?? ""));
                    break;
                case ComponentKind.Shifter:
                    foreach (var terminal in component.Terminals.Where(t => t.Name.Length == 3 && t.Name != "GND"))
                    {
                        Fix(terminal.Net, _fixed.GetValueOrDefault(Net(component, terminal.Name[..2]) ?? ""));
                    }
                    break;
                case ComponentKind.Part when _parts.TryGetValue(component.Key, out var known):
                    Lines(component, known.Part, known.By);
                    break;
            }
        }
    }

    private void Lines(Component component, Part part, PartInterface by)
    {
        var supply = SupplyOf(component, part);
        foreach (var line in by.Lines)
        {
            if (Net(component, line.Name) is not { } net)
            {
                continue;
            }
            if (line.Drive == LineDrive.PushPull || line.Role == LineRole.Analog && by.Resistive is null)
            {
                Fix(net, line.HighVolts ?? supply);
            }
            else if (line.FloatsToSupply)
            {
                _resistors.Add((net, SupplyNet(component, part), ThroughLedOhms));
            }
            else if (line.Milliamps is { } milliamps && supply > 0)
            {
                // The load itself: off, it pulls its line to its supply. Without a supply it pulls to nothing.
                _resistors.Add((net, SupplyNet(component, part), supply / milliamps * 1000));
            }
            else if (line.Drive == LineDrive.OpenDrain && part.PullUpOhms is { } pull && !component.PullUpTakenOff && part.SupplyPin is not null)
            {
                _resistors.Add((net, SupplyNet(component, part), pull.Likely));
            }
        }
        // What the board drives: its pins, and those of helpers, on nets that no part drives.
        foreach (
            var line in by.Lines.Where(l =>
                !l.OpenDrain && l.Role is LineRole.DigitalToPart or LineRole.UartToPart or LineRole.SpiSck or LineRole.SpiMosi or LineRole.SpiSelect
            )
        )
        {
            if (Net(component, line.Name) is { } net && _outputs.ContainsKey(net))
            {
                _driven.Add(net);
            }
        }
    }

    private static string SupplyNet(Component component, Part part) => Net(component, part.SupplyPin!) ?? Circuit.Ground;

    /// <summary>Pins that reach a part only through what stands between drive their own net.</summary>
    private void DrivenPins()
    {
        foreach (var component in _circuit.Components.Where(c => c.Kind is ComponentKind.Resistor or ComponentKind.Buffer))
        {
            foreach (var net in component.Terminals.Select(t => t.Net).OfType<string>().Where(_outputs.ContainsKey))
            {
                if (component.Kind == ComponentKind.Buffer ? Net(component, "A") == net : FeedsControl(component, net))
                {
                    _driven.Add(net);
                }
            }
        }
    }

    /// <summary>True when the other end of a resistor is a base, a gate or an input of a part: the pin is the output.</summary>
    private bool FeedsControl(Component resistor, string net)
    {
        var far = resistor.Terminals.First(t => t.Net != net || resistor.Terminals.All(o => o.Net == net)).Net;
        return _circuit.Components.Any(c =>
            (c.Kind == ComponentKind.Npn && Net(c, "B") == far)
            || (c.Kind == ComponentKind.NMosfet && Net(c, "G") == far)
            || (
                c.Kind == ComponentKind.Part
                && _parts.TryGetValue(c.Key, out var known)
                && known.By.Lines.Any(l => l.Role is LineRole.DigitalToPart or LineRole.UartToPart or LineRole.SpiSelect && Net(c, l.Name) == far)
            )
        );
    }

    /// <summary>Ohm's law at every free net in turn until none moves; keeps the higher of what it finds and what was found before.</summary>
    private void Solve(Dictionary<string, double> given)
    {
        var volts = new Dictionary<string, double>(given);
        var free = _resistors.SelectMany(r => new[] { r.A, r.B }).Distinct().Where(n => !given.ContainsKey(n)).ToList();
        for (var sweep = 0; sweep < Sweeps && free.Count > 0; sweep++)
        {
            if (free.Max(net => Settle(net, volts)) < 1e-9)
            {
                break;
            }
        }
        foreach (var (net, value) in volts)
        {
            _volts[net] = Math.Max(value, _volts.GetValueOrDefault(net));
        }
    }

    /// <summary>Gives a net the mean of its neighbours, each by its conductance.</summary>
    /// <returns>How far it moved, volts.</returns>
    private double Settle(string net, Dictionary<string, double> volts)
    {
        double current = 0,
            conductance = 0;
        foreach (var (a, b, ohms) in _resistors)
        {
            if ((a == net || b == net) && volts.TryGetValue(a == net ? b : a, out var other))
            {
                current += other / ohms;
                conductance += 1 / ohms;
            }
        }
        if (conductance <= 0)
        {
            return 0;
        }
        var moved = Math.Abs(current / conductance - volts.GetValueOrDefault(net));
        volts[net] = current / conductance;
        return moved;
    }
}
