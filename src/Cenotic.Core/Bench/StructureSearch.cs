using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>
/// Goes through every structure of a node's parts: interface, bus, controller, multiplexer channel. Exact; cut off only where no better plan can follow: by a sure count of
/// components, by addresses, by bus load, by lines that cannot each have a pin (an augmenting-path matching kept along the way), and where equal parts in another order were
/// already shown to have no plan.
/// </summary>
internal sealed class StructureSearch
{
    private const double LongestOneWireMetres = 100;
    private const int MostReasons = 12;

    private readonly record struct Option(PartInterface Interface, int? Controller, string? Mux);

    private enum Result { None, Found, Cut, Stopped }

    private readonly Board _board;
    private readonly NodeDesign _node;
    private readonly NodeSupply _supply;
    private readonly PinTable _pins;
    private readonly IReadOnlyList<PartInstance> _added;
    private readonly (PartInstance Instance, Part Part, int Class, IReadOnlyList<PartInterface> Interfaces)[] _parts;
    private readonly int[] _original;
    private readonly ISet<string> _reasons;
    private readonly Func<int> _mostComponents;
    private readonly Func<Structure, bool?> _leaf;
    private readonly List<Connection> _done = [];
    private readonly List<string> _codes = [];
    private readonly HashSet<string> _hopeless = [];
    private readonly Dictionary<string, int> _sharedLines = [];

    /// <param name="parts">Parts to serve with the interfaces that are open to each; added modules among them.</param>
    /// <param name="mostComponents">Component weight of the best plan so far: what surely costs more is not tried.</param>
    /// <param name="leaf">Judges a whole structure: true when it has pins, false when not, null to stop the search.</param>
    internal StructureSearch(
        Board board, NodeDesign node, NodeSupply supply, PinTable pins, IReadOnlyList<(PartInstance Instance, Part Part)> parts, IReadOnlyList<PartInstance> added,
        ISet<string> reasons, Func<int> mostComponents, Func<Structure, bool?> leaf)
    {
        (_board, _node, _supply, _pins, _added, _reasons, _mostComponents, _leaf) = (board, node, supply, pins, added, reasons, mostComponents, leaf);
        var classes = new Dictionary<string, int>();
        var all = parts.Select((p, at) =>
        {
            var interfaces = Interfaces(node, p.Instance, p.Part);
            var name = ClassOf(node, p.Instance);
            return (p.Instance, p.Part, Class: classes.TryGetValue(name, out var c) ? c : classes[name] = classes.Count, Interfaces: (IReadOnlyList<PartInterface>)interfaces, At: at);
        }).ToList();
        // Multiplexers first, since others hang on them; then those with the fewest ways; equal parts side by side.
        var order = all.OrderBy(p => p.Part.Helper?.Kind == HelperKind.Mux ? 0 : 1).ThenBy(p => p.Interfaces.Count).ThenBy(p => p.Interfaces.FirstOrDefault()?.Kind).ThenBy(p => p.Class).ThenBy(p => p.At).ToList();
        _parts = [.. order.Select(p => (p.Instance, p.Part, p.Class, p.Interfaces))];
        _original = [.. order.Select(p => p.At)];
    }

    /// <summary>Runs the search.</summary>
    internal void Run()
    {
        foreach (var part in _parts.Where(p => p.Interfaces.Count == 0))
        {
            Say($"{part.Instance.Label} has no interface that serves all its readings the way it is set.");
            return;
        }
        var matching = new Matching(_pins.Columns.Count);
        if (_node.MeasuresSupply && _supply.Cell is not null && !matching.Add(_pins.MaskOf(new(LineRole.Analog, null, RestLevel.High) { Input = true, Analog = true })))
        {
            Say($"No pin of the {_board.Label} can measure its supply.");
            return;
        }
        Extend(0, 0, matching);
    }

    private static string ClassOf(NodeDesign node, PartInstance p)
    {
        if (node.Wires.Any(w => w.Part == p.Key))
        {
            return p.Key;
        }
        var readings = node.Readings.Where(r => r.Part == p.Key).Select(r => $"{r.Quantity} {r.IntervalMs}").Order(StringComparer.Ordinal);
        return $"{p.Part}|{p.Interface}|{p.Address}|{p.SwitchSupply}|{p.LeadMetres}|{string.Join(',', readings)}";
    }

    private static List<PartInterface> Interfaces(NodeDesign node, PartInstance instance, Part part)
    {
        var wanted = node.Readings.Where(r => r.Part == instance.Key).Select(r => r.Quantity).ToHashSet();
        return [.. part.Interfaces.Where(i => (instance.Interface is null || i.Kind == instance.Interface) && (i.Quantities is null || wanted.IsSubsetOf(i.Quantities)))];
    }

    private Result Extend(int at, int components, Matching matching)
    {
        if (components > _mostComponents())
        {
            return Result.Cut;
        }
        if (at == _parts.Length)
        {
            return _leaf(Whole()) switch { null => Result.Stopped, true => Result.Found, false => Result.None };
        }
        var key = KeyOf(at);
        if (_hopeless.Contains(key))
        {
            return Result.None;
        }
        var outcome = Result.None;
        foreach (var choice in _parts[at].Interfaces)
        {
            var any = false;
            foreach (var option in Options(at, choice).ToList())
            {
                any = true;
                var step = Try(at, option, components, matching);
                if (step == Result.Stopped)
                {
                    return step;
                }
                outcome = step == Result.None ? outcome : step == Result.Found || outcome == Result.Found ? Result.Found : Result.Cut;
            }
            if (!any)
            {
                Say($"{_parts[at].Instance.Label} needs {choice.Label}, and every such controller of the {_board.Label} is taken.");
            }
        }
        if (outcome == Result.None)
        {
            _hopeless.Add(key);
        }
        return outcome;
    }

    private void Say(FormattableString reason)
    {
        // A search that fails does so a thousand times for a few reasons: the first ones are enough, and sentences cost time.
        if (_reasons.Count < MostReasons)
        {
            _reasons.Add(FormattableString.Invariant(reason));
        }
    }

    private Result Try(int at, Option option, int components, Matching before)
    {
        var (instance, part, _, _) = _parts[at];
        var behind = option.Mux is { } mux ? new MuxChannel(mux, _done.Count(c => c.Behind?.Mux == mux)) : null;
        var connection = new Connection(instance, part, option.Interface, option.Controller, null, behind);
        var added = new List<string>();
        _done.Add(connection);
        _codes.Add($"{_parts[at].Class}:{option.Interface.Label}:{option.Controller}:{option.Mux}");
        var result = Result.None;
        if (BusHolds(connection) && Match(connection, before, added) is { } matching)
        {
            result = Extend(at + 1, SureComponents(), matching);
        }
        foreach (var line in added)
        {
            _sharedLines.Remove(line);
        }
        _done.RemoveAt(_done.Count - 1);
        _codes.RemoveAt(_codes.Count - 1);
        return result;
    }

    /// <summary>The matching with the pins of one more part, or null when its lines cannot each have one.</summary>
    private Matching? Match(Connection connection, Matching before, List<string> added)
    {
        var matching = before.Copy();
        foreach (var line in connection.Interface.Lines)
        {
            if (line.Optional)
            {
                continue;
            }
            PinNeeds needs;
            if (DemandList.SharedKey(connection, line) is { } key)
            {
                if (connection.Behind is not null || !_sharedLines.TryAdd(key, 0))
                {
                    continue;
                }
                added.Add(key);
                needs = DemandList.SharedNeeds(line.Role, connection.Controller, line.AtStart == RestLevel.High ? RestLevel.High : RestLevel.Floating);
            }
            else
            {
                needs = DemandList.NeedsOf(_board, _node, _supply, connection, line);
            }
            var mask = _pins.MaskOf(needs) | _pins.LockMask(connection.Instance.Key, line.Name);
            if (!matching.Add(mask))
            {
                if (mask == UInt128.Zero)
                {
                    Say($"No pin of the {_board.Label} can serve {connection.Instance.Label} {line.Name}.");
                }
                else
                {
                    Say($"The lines cannot each have a fit pin of their own on the {_board.Label}: {connection.Instance.Label} {line.Name} is left over.");
                }
                foreach (var shared in added)
                {
                    _sharedLines.Remove(shared);
                }
                added.Clear();
                return null;
            }
        }
        if (connection.Instance.SwitchSupply && !matching.Add(_pins.MaskOf(DemandList.SwitchNeeds)))
        {
            Say($"No pin of the {_board.Label} is left to switch the supply of {connection.Instance.Label}.");
            foreach (var shared in added)
            {
                _sharedLines.Remove(shared);
            }
            added.Clear();
            return null;
        }
        return matching;
    }

    private IEnumerable<Option> Options(int at, PartInterface choice)
    {
        var (_, part, _, _) = _parts[at];
        HashSet<int> Used(InterfaceKind kind) => [.. _done.Where(c => c.Interface.Kind == kind).Select(c => c.Controller!.Value)];
        switch (choice.Kind)
        {
            case InterfaceKind.I2c:
                var used = Used(InterfaceKind.I2c);
                // Through a pin matrix all controllers are alike: of the unused ones only the first is tried.
                var unused = _board.Controllers.I2c.Where(n => !used.Contains(n));
                var open = _board.Controllers.I2c.Where(used.Contains).Concat(_board.Controllers.PinMatrix ? unused.Take(1) : unused).Order();
                var direct = open.Select(n => new Option(choice, n, null));
                if (part.Helper is not null || choice.StartAddress is not null)
                {
                    return direct;
                }
                return direct.Concat(_done.Where(c => c.Part.Helper?.Kind == HelperKind.Mux && _done.Count(d => d.Behind?.Mux == c.Instance.Key) < c.Part.Helper.Lines.Count).Select(c => new Option(choice, c.Controller, c.Instance.Key)));
            case InterfaceKind.Spi:
                // SPI parts share one bus, each with a select line of its own; one that may hold the bus has its own.
                var exclusive = _done.Where(c => c.Interface is { Kind: InterfaceKind.Spi, ExclusiveBus: true }).Select(c => c.Controller).ToHashSet();
                var shared = _done.Where(c => c.Interface is { Kind: InterfaceKind.Spi, ExclusiveBus: false }).Select(c => c.Controller).ToHashSet();
                var free = _board.Controllers.Spi.Where(n => !exclusive.Contains(n) && !shared.Contains(n));
                free = _board.Controllers.PinMatrix ? free.Take(1) : free;
                return (choice.ExclusiveBus || shared.Count == 0 ? free : _board.Controllers.Spi.Where(n => shared.Contains(n))).Select(n => new Option(choice, n, null));
            case InterfaceKind.Uart:
                var taken = Used(InterfaceKind.Uart);
                var uarts = _board.Controllers.Uart.Where(n => !taken.Contains(n));
                return (_board.Controllers.PinMatrix ? uarts.Take(1) : uarts).Select(n => new Option(choice, n, null));
            case InterfaceKind.OneWire:
                var lines = Used(InterfaceKind.OneWire);
                return lines.Order().Append(lines.Count).Select(n => new Option(choice, n, null));
            default:
                return [new Option(choice, null, null)];
        }
    }

    /// <summary>Addresses, traffic and length of the bus that the last connection joined.</summary>
    private bool BusHolds(Connection last)
    {
        if (last.Interface.Kind == InterfaceKind.OneWire)
        {
            var line = _done.Where(c => c.Interface.Kind == InterfaceKind.OneWire && c.Controller == last.Controller).ToList();
            return line.Count == 1 || line.Sum(c => c.Instance.LeadMetres) <= LongestOneWireMetres;
        }
        if (last.Interface.Kind != InterfaceKind.I2c)
        {
            return true;
        }
        var bus = _done.Where(c => c.Interface.Kind == InterfaceKind.I2c && c.Controller == last.Controller).ToList();
        if (AddressPlan.Of(bus) is null)
        {
            Say($"On one I2C bus {string.Join(", ", bus.Select(m => m.Instance.Label))} cannot all have an address of their own.");
            return false;
        }
        var bits = bus.Sum(c => BusLoad.BitsPerSecond(_node, c.Instance, c.Part, c.Interface));
        if (BusLoad.ClockKilohertz(bits, bus.Min(c => c.Interface.MaxKilohertz ?? 100)) is null)
        {
            Say($"{string.Join(", ", bus.Select(m => m.Instance.Label))} put {bits / 1000:0} kbit/s on one I2C bus, and its slowest part follows {bus.Min(c => c.Interface.MaxKilohertz ?? 100):0} kHz.");
            return false;
        }
        return true;
    }

    /// <summary>Components that every structure with these connections adds.</summary>
    private int SureComponents()
    {
        var sum = Weights.AddedModule * _added.Count;
        foreach (var connection in _done)
        {
            sum += connection.Instance.SwitchSupply ? Weights.SupplySwitch : 0;
            foreach (var line in connection.Interface.Lines)
            {
                sum += line.Optional ? 0 : LineRules.Weight(LineRules.Of(line, connection, _board, _supply));
            }
        }
        sum += Weights.SpiBus * _done.Where(c => c.Interface.Kind == InterfaceKind.Spi).Select(c => c.Controller).Distinct().Count();
        sum += Weights.Piece * _done.Where(c => c.Interface.Kind == InterfaceKind.OneWire).Select(c => c.Controller).Distinct().Count();
        var buses = _done.Where(c => c.Interface.Kind == InterfaceKind.I2c).GroupBy(c => c.Controller).ToList();
        sum += Weights.SecondI2cBus * Math.Max(0, buses.Count - 1);
        foreach (var bus in buses)
        {
            sum += AddressPlan.Of([.. bus])!.Value.Weight + bus.Count(c => c.Behind is not null) * Weights.MuxChannel;
            sum += bus.Any(c => c.Behind is null && LineRules.NeedsShifter(c, _board, _supply)) ? Weights.Shifter : 0;
        }
        return sum;
    }

    private string KeyOf(int at)
    {
        var codes = _codes.ToArray();
        Array.Sort(codes, StringComparer.Ordinal);
        return at + "|" + string.Join('|', codes);
    }

    private Structure Whole()
    {
        var result = new Connection[_parts.Length];
        for (var i = 0; i < _parts.Length; i++)
        {
            result[_original[i]] = _done[i];
        }
        foreach (var bus in result.Select((c, at) => (c, at)).Where(p => p.c.Interface.Kind == InterfaceKind.I2c).GroupBy(p => p.c.Controller!.Value))
        {
            var members = bus.ToList();
            var addresses = AddressPlan.Of([.. members.Select(m => m.c)])!.Value.Addresses;
            for (var i = 0; i < members.Count; i++)
            {
                result[members[i].at] = members[i].c with { Address = addresses[i] };
            }
        }
        return new(result, _added);
    }
}
