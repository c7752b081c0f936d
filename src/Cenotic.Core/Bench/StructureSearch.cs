using System.Runtime.InteropServices;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>
/// Goes through every structure of a node's parts (interface, bus, controller, multiplexer channel) with the pins of its lines. Exact; cut off only where no
/// better plan can follow: by a cost that is sure (components of the structure, the best pins of the lines so far), by addresses, by bus load, by lines that
/// cannot each have a pin, and where equal parts in another order were already shown to have no plan.
/// </summary>
internal sealed class StructureSearch
{
    private const double LongestOneWireMetres = 100;
    private const int MostReasons = 12;

    private readonly record struct Option(PartInterface Interface, int? Controller, string? Mux);

    private readonly record struct Candidate(PartInstance Instance, Part Part, int Class, IReadOnlyList<PartInterface> Interfaces, int At);

    /// <summary>What a line asks for, worked out once for each way to connect its part. A bus line has a key and no row.</summary>
    private sealed record LineFacts(string Name, string Wire, int Weight, string? SharedKey, UInt128 Mask, long[]? Row);

    private enum Result
    {
        None,
        Found,
        Cut,
        Stopped,
    }

    /// <summary>Where pins are looked for, and how many steps that may take.</summary>
    internal sealed record SearchSpace(Board Board, NodeDesign Node, NodeSupply Supply, PinTable Table, PinRows Rows, WorkBudget Budget);

    /// <summary>Called with a plan better than the best so far: its structure, the column of each demand, and its cost. False stops the search.</summary>
    internal delegate bool Found(Structure structure, IReadOnlyDictionary<string, int> columns, PlanCost cost);

    private readonly Board _board;
    private readonly NodeDesign _node;
    private readonly NodeSupply _supply;
    private readonly PinTable _table;
    private readonly PinRows _rows;
    private readonly IReadOnlyList<PartInstance> _added;
    private readonly Candidate[] _parts;
    private readonly ISet<string> _reasons;
    private readonly Func<PlanCost?> _best;
    private readonly Found _found;
    private readonly List<Connection> _done = [];
    private readonly List<char> _codes = [];
    private readonly List<string> _lines = [];
    private readonly HashSet<string> _hopeless = [];
    private readonly HashSet<string> _shared = [];
    private readonly Dictionary<(int At, PartInterface Interface, int? Controller), LineFacts[]> _facts = [];
    private readonly Dictionary<(int Class, PartInterface Interface, int? Controller, string? Mux), char> _letters = [];
    private readonly Dictionary<string, int?> _addressWeights = [];
    private readonly Dictionary<int, double> _traffic = [];
    private readonly bool _relaxed;

    /// <summary>True when a line of an SPI bus is held on a pin.</summary>
    private readonly bool _holdsSpi;
    private readonly WorkBudget _budget;

    /// <param name="parts">Parts to serve, added modules among them.</param>
    /// <param name="best">Cost of the best plan so far, or null.</param>
    /// <param name="relaxed">True to let equal addresses stand on one bus, as if multiplexers were to be had: what has no plan then has none.</param>
    internal StructureSearch(
        SearchSpace space,
        IReadOnlyList<(PartInstance Instance, Part Part)> parts,
        IReadOnlyList<PartInstance> added,
        ISet<string> reasons,
        Func<PlanCost?> best,
        Found found,
        bool relaxed = false
    )
    {
        (_board, _node, _supply, _table, _rows, _budget) = space;
        (_added, _reasons, _best, _found, _relaxed) = (added, reasons, best, found, relaxed);
        var node = space.Node;
        var classes = new Dictionary<string, int>();
        // What has one way and scarce means first; then what can choose; then I2C, multiplexers before what
        // may hang on them, fixed addresses before free ones. Equal parts side by side.
        _parts =
        [
            .. parts
                .Select(
                    (p, at) =>
                    {
                        var name = ClassOf(node, p.Instance, p.Part);
                        return new Candidate(
                            p.Instance,
                            p.Part,
                            classes.TryGetValue(name, out var c) ? c : classes[name] = classes.Count,
                            Interfaces(node, p.Instance, p.Part),
                            at
                        );
                    }
                )
                .OrderBy(p => p.Interfaces.Any(i => i.Kind == InterfaceKind.I2c))
                .ThenBy(p => p.Part.Helper?.Kind == HelperKind.Mux ? 0 : 1)
                .ThenBy(p => p.Interfaces.Count > 1)
                .ThenByDescending(p => p.Interfaces.FirstOrDefault()?.Kind is InterfaceKind.Uart or InterfaceKind.Spi)
                .ThenBy(p => p.Interfaces.FirstOrDefault()?.Addresses?.Count ?? 0)
                .ThenBy(p => p.Class)
                .ThenBy(p => p.At),
        ];
        _holdsSpi = Array.Exists(_parts, p => HoldsSpi(node, p));
    }

    private static bool HoldsSpi(NodeDesign node, Candidate part) =>
        part.Interfaces.Any(i =>
            i.Kind == InterfaceKind.Spi
            && i.Lines.Any(l =>
                l.Role is LineRole.SpiSck or LineRole.SpiMosi or LineRole.SpiMiso && node.Wires.Any(w => w.Part == part.Instance.Key && w.Line == l.Name)
            )
        );

    /// <summary>After a relaxed run, whether it found anything.</summary>
    internal bool IsPossible { get; private set; }

    /// <summary>Runs the search.</summary>
    internal void Run()
    {
        if (_parts.FirstOrDefault(p => p.Interfaces.Count == 0) is { Instance: not null } silent)
        {
            Say($"{silent.Instance.Label} has no interface that serves all its readings the way it is set.");
            return;
        }
        var state = new State(new Matching(_table.Columns.Count), new Assignment(_table.Columns.Count), Weights.AddedModule * _added.Count, 0);
        if (_node.MeasuresSupply && _supply.Cell is not null)
        {
            state = state with { Components = state.Components + Weights.Divider };
            if (
                !AddOwn(
                    state,
                    Own(DemandList.SupplySense.Part, DemandList.SupplySense.Line, DemandList.SupplySense.Key, Weights.Divider, DemandList.SupplyNeeds)
                )
            )
            {
                Say($"No pin of the {_board.Label} can measure its supply.");
                return;
            }
        }
        Extend(0, state);
    }

    /// <summary>What is sure after some parts: lines that have a pin, the cost of lines of their own, components, wires joined on a bus line.</summary>
    private readonly record struct State(Matching Matching, Assignment Own, int Components, int Splices);

    /// <summary>Parts of one class can change places: the same part, connected and read alike. How
    /// often it is read counts only where it shares the time of a bus.</summary>
    private static string ClassOf(NodeDesign node, PartInstance p, Part part)
    {
        if (node.Wires.Any(w => w.Part == p.Key))
        {
            return p.Key;
        }
        var sharesTime = part.Interfaces.Any(i => i.Kind == InterfaceKind.I2c);
        var readings = node
            .Readings.Where(r => r.Part == p.Key)
            .Select(r => $"{r.Quantity} {(sharesTime ? r.IntervalMs : r.IntervalMs is null ? null : 1)}")
            .Order(StringComparer.Ordinal);
        return $"{p.Part}|{p.Interface}|{p.Address}|{p.SwitchSupply}|{p.LeadMetres}|{string.Join(',', readings)}";
    }

    private static List<PartInterface> Interfaces(NodeDesign node, PartInstance instance, Part part)
    {
        var wanted = node.Readings.Where(r => r.Part == instance.Key).Select(r => r.Quantity).ToHashSet();
        return
        [
            .. part.Interfaces.Where(i =>
                (instance.Interface is null || i.Kind == instance.Interface) && (i.Quantities is null || wanted.IsSubsetOf(i.Quantities))
            ),
        ];
    }

    private Result Extend(int at, State state)
    {
        if (_best() is { } best && new PlanCost(0, state.Components + BusComponents(), 0, state.Splices, 0, 0).Packed + state.Own.Total >= best.Packed)
        {
            return Result.Cut;
        }
        if (at == _parts.Length)
        {
            return Whole(state);
        }
        var key = KeyOf();
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
                var step = Try(at, option, state);
                if (step == Result.Stopped)
                {
                    return step;
                }
                outcome =
                    step == Result.None ? outcome
                    : step == Result.Found || outcome == Result.Found ? Result.Found
                    : Result.Cut;
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

    private Result Try(int at, Option option, State before)
    {
        // What a step takes grows with the parts that are connected already.
        _budget.Spend(1 + _done.Count);
        var part = _parts[at];
        var behind = option.Mux is { } mux ? new MuxChannel(mux, _done.Count(c => c.Behind?.Mux == mux)) : null;
        var connection = new Connection(part.Instance, part.Part, option.Interface, option.Controller, null, behind);
        var (joined, lines) = (new List<string>(), _lines.Count);
        _done.Add(connection);
        var code = (part.Class, option.Interface, option.Controller, option.Mux);
        _codes.Add(_letters.TryGetValue(code, out var letter) ? letter : _letters[code] = (char)(_letters.Count + 1));
        var result = Result.None;
        if (BusHolds(connection) && Lines(connection, before, joined) is { } state)
        {
            result = Extend(at + 1, state);
        }
        joined.ForEach(j => _shared.Remove(j));
        _lines.RemoveRange(lines, _lines.Count - lines);
        _done.RemoveAt(_done.Count - 1);
        _codes.RemoveAt(_codes.Count - 1);
        return result;
    }

    /// <summary>The state with the lines of one more part, or null when they cannot each have a pin.</summary>
    private State? Lines(Connection connection, State before, List<string> joined)
    {
        var state = before with { Matching = before.Matching.Copy() };
        var splices = before.Splices;
        var (own, components) = ((Assignment?)null, before.Components + (connection.Instance.SwitchSupply ? Weights.SupplySwitch : 0));
        foreach (var line in FactsOf(connection))
        {
            components += line.Weight;
            if (line.SharedKey is { } key)
            {
                if (connection.Behind is not null)
                {
                    continue;
                }
                if (!_shared.Add(key))
                {
                    splices++;
                    continue;
                }
                joined.Add(key);
                // A member that joins later can only ask for more: what has no pin now has none then.
                if (!state.Matching.Add(line.Mask))
                {
                    Left(connection.Instance.Label, line.Name);
                    return null;
                }
                continue;
            }
            own ??= before.Own.Copy();
            if (!AddOwn(state with { Own = own }, line))
            {
                Left(connection.Instance.Label, line.Name);
                return null;
            }
        }
        return new State(state.Matching, own ?? before.Own, components, splices);
    }

    private LineFacts[] FactsOf(Connection connection)
    {
        var key = (_done.Count - 1, connection.Interface, connection.Controller);
        if (_facts.TryGetValue(key, out var facts))
        {
            return facts;
        }
        var list = new List<LineFacts>();
        foreach (var line in connection.Interface.Lines.Where(l => !l.Optional))
        {
            var weight = LineRules.Weight(LineRules.Of(line, connection, _board, _supply));
            var wire = $"{connection.Instance.Key}.{line.Name}";
            if (DemandList.SharedKey(connection, line) is { } shared)
            {
                var needs = DemandList.SharedNeeds(line.Role, connection.Controller, line.AtStart == RestLevel.High ? RestLevel.High : RestLevel.Floating);
                list.Add(new(line.Name, wire, weight, shared, _rows.Mask(wire, needs), null));
                continue;
            }
            var own = DemandList.NeedsOf(_board, _node, _supply, connection, line);
            list.Add(Own(connection.Instance.Key, line.Name, wire, weight + (own is { Role: LineRole.Contact, Wake: true } ? Weights.Piece : 0), own));
        }
        if (connection.Instance.SwitchSupply)
        {
            list.Add(Own(connection.Instance.Key, "PWR", $"{connection.Instance.Key}.PWR", 0, DemandList.SwitchNeeds));
        }
        return _facts[key] = [.. list];
    }

    private LineFacts Own(string part, string name, string wire, int weight, PinNeeds needs) =>
        new(name, wire, weight, null, _rows.Mask(wire, needs), _rows.Own(part, wire, needs));

    private bool AddOwn(State state, LineFacts line)
    {
        _lines.Add(line.Wire);
        return state.Matching.Add(line.Mask) && state.Own.Add(line.Row!);
    }

    private void Left(string part, string line) => Say($"{part} {line} is left without a fit pin of its own on the {_board.Label}.");

    /// <summary>The pins of a whole structure: the bus lines beside the lines of their own.</summary>
    private Result Whole(State state)
    {
        var buses = _done
            .Where(c => c.Behind is null)
            .SelectMany(c => c.Interface.Lines.Where(l => !l.Optional).Select(l => (Connection: c, Line: l, Key: DemandList.SharedKey(c, l))))
            .Where(m => m.Key is not null)
            .GroupBy(m => m.Key!)
            .ToList();
        var pins = state.Own.Copy();
        foreach (var bus in buses)
        {
            var (first, rest) = (bus.First(), bus.Any(m => m.Line.AtStart == RestLevel.High) ? RestLevel.High : RestLevel.Floating);
            var wires = bus.Select(m => (m.Connection.Instance.Key, $"{m.Connection.Instance.Key}.{m.Line.Name}")).ToList();
            if (!pins.Add(_rows.Row(wires, DemandList.SharedNeeds(first.Line.Role, first.Connection.Controller, rest))))
            {
                Say($"No pin of the {_board.Label} is left for {bus.Key}.");
                return Result.None;
            }
        }
        var fix = new PlanCost(Unserved(), state.Components + BusComponents() + PullUps(), 0, state.Splices, 0, 0).Packed;
        if (_best() is { } best && fix + pins.Total >= best.Packed)
        {
            return Result.Found;
        }
        if (_relaxed)
        {
            IsPossible = true;
            return Result.Stopped;
        }
        List<string> lines = [.. _lines, .. buses.Select(b => b.Key)];
        var columns = pins.FirstColumns(InOrder(lines));
        var found = lines.Select((key, row) => (key, row)).ToDictionary(l => l.key, l => columns[l.row]);
        return _found(Structure(), found, PlanCost.Unpacked(fix + pins.Total)) ? Result.Found : Result.Stopped;
    }

    /// <summary>
    /// Rows of lines in an order of their own: bus lines, then by part. Of plans of equal cost it decides which is taken, so it does not depend on which
    /// wires are held: soldering one where it is planned moves no other.
    /// </summary>
    private IEnumerable<int> InOrder(List<string> lines)
    {
        var places = _parts.ToDictionary(p => p.Instance.Key, p => p.At);
        return Enumerable.Range(0, lines.Count).OrderBy(row => PlaceOf(lines[row])).ThenBy(row => row);

        int PlaceOf(string line) => line.IndexOf('.', StringComparison.Ordinal) is var dot and > 0 && places.TryGetValue(line[..dot], out var at) ? at : -1;
    }

    /// <summary>Soldered wires of served parts whose line is not in this structure.</summary>
    private int Unserved()
    {
        var count = 0;
        foreach (var (wire, pin) in _rows.Soldered)
        {
            var part = wire[..wire.IndexOf('.', StringComparison.Ordinal)];
            if (_done.FirstOrDefault(c => c.Instance.Key == part) is not { } connection)
            {
                continue;
            }
            var name = wire[(part.Length + 1)..];
            if (name == connection.Part.SupplyPin || name == connection.Part.GroundPin)
            {
                // Supplies and grounds are no choice of the search.
                continue;
            }
            var served =
                (name == "PWR" && connection.Instance.SwitchSupply)
                || connection.Interface.Lines.Any(l =>
                    !l.Optional && l.Name == name && (connection.Behind is null || DemandList.SharedKey(connection, l) is null)
                );
            var onChannel =
                connection.Behind is { } channel
                && pin.StartsWith($"{channel.Mux}:S", StringComparison.Ordinal)
                && pin.EndsWith($"{channel.Channel}", StringComparison.Ordinal);
            count += served || onChannel ? 0 : 1;
        }
        return count;
    }

    private IEnumerable<Option> Options(int at, PartInterface choice)
    {
        var part = _parts[at].Part;
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
                return direct.Concat(
                    _done
                        .Where(c => c.Part.Helper?.Kind == HelperKind.Mux && _done.Count(d => d.Behind?.Mux == c.Instance.Key) < c.Part.Helper.Lines.Count)
                        .Select(c => new Option(choice, c.Controller, c.Instance.Key))
                );
            case InterfaceKind.Spi:
                // SPI parts share one bus, each with a select line of its own; one that may hold the bus has its own. A further bus costs more and gives
                // nothing but for parts whose wires are held apart already.
                var exclusive = _done.Where(c => c.Interface is { Kind: InterfaceKind.Spi, ExclusiveBus: true }).Select(c => c.Controller).ToHashSet();
                var shared = _done.Where(c => c.Interface is { Kind: InterfaceKind.Spi, ExclusiveBus: false }).Select(c => c.Controller).ToHashSet();
                var free = _board.Controllers.Spi.Where(n => !exclusive.Contains(n) && !shared.Contains(n));
                free = _board.Controllers.PinMatrix ? free.Take(1) : free;
                var joined = _board.Controllers.Spi.Where(n => !choice.ExclusiveBus && shared.Contains(n));
                return (choice.ExclusiveBus || shared.Count == 0 || _holdsSpi ? joined.Concat(free) : joined).Select(n => new Option(choice, n, null));
            case InterfaceKind.Uart:
                var taken = Used(InterfaceKind.Uart);
                var uarts = _board.Controllers.Uart.Where(n => !taken.Contains(n));
                var software =
                    LineRules.CanBeSoftwareSerial(choice, _board) && !taken.Contains(LineRules.SoftwareSerial) ? new[] { LineRules.SoftwareSerial } : [];
                return (_board.Controllers.PinMatrix ? uarts.Take(1) : uarts).Concat(software).Select(n => new Option(choice, n, null));
            case InterfaceKind.OneWire:
                // Equal parts can change places: each joins the line of the one before it or a later
                // one, so that every way to share them out is gone through once.
                var lines = Used(InterfaceKind.OneWire);
                var first =
                    at > 0 && _parts[at - 1].Class == _parts[at].Class && _done[at - 1] is { Interface.Kind: InterfaceKind.OneWire, Controller: { } line }
                        ? line
                        : 0;
                return lines.Order().Append(lines.Count).Where(n => n >= first).Select(n => new Option(choice, n, null));
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
        if (!_relaxed && AddressWeight(last.Controller!.Value) is null)
        {
            Say($"On one I2C bus {string.Join(", ", bus.Select(m => m.Instance.Label))} cannot all have an address of their own.");
            return false;
        }
        var bits = 0.0;
        for (var i = 0; i < _done.Count; i++)
        {
            bits += _done[i].Interface.Kind == InterfaceKind.I2c && _done[i].Controller == last.Controller ? TrafficOf(i) : 0;
        }
        var slowest = BusLoad.SlowestKilohertz(_board, bus);
        if (BusLoad.ClockKilohertz(bits, slowest) is null)
        {
            var parts = string.Join(", ", bus.Select(m => m.Instance.Label));
            Say($"{parts} put {bits / 1000:0} kbit/s on one I2C bus, and its slowest part follows {slowest:0} kHz.");
            return false;
        }
        return true;
    }

    /// <summary>Components that the buses of these connections surely add, whatever joins them.</summary>
    private int BusComponents()
    {
        var (sum, i2c, seen) = (0, 0, 0UL);
        for (var i = 0; i < _done.Count; i++)
        {
            var connection = _done[i];
            if (connection.Controller is not { } controller || connection.Interface.Kind == InterfaceKind.Uart)
            {
                sum += connection is { Interface.Kind: InterfaceKind.Uart, Controller: LineRules.SoftwareSerial } ? Weights.SoftwareSerial : 0;
                continue;
            }
            var kind = connection.Interface.Kind;
            var bit =
                1UL
                << (
                    controller
                    + (
                        kind == InterfaceKind.I2c ? 0
                        : kind == InterfaceKind.Spi ? 8
                        : 16
                    )
                ) % 64;
            if ((seen & bit) == 0)
            {
                seen |= bit;
                sum +=
                    kind == InterfaceKind.Spi ? Weights.SpiBus
                    : kind == InterfaceKind.OneWire ? Weights.Piece
                    : 0;
                if (kind == InterfaceKind.I2c)
                {
                    i2c++;
                    sum +=
                        (AddressWeight(controller) ?? 0)
                        + (
                            _done.Any(c =>
                                c.Interface.Kind == InterfaceKind.I2c
                                && c.Controller == controller
                                && c.Behind is null
                                && LineRules.NeedsShifter(c, _board, _supply)
                            )
                                ? Weights.Shifter
                                : 0
                        );
                }
            }
            sum += connection.Behind is null ? 0 : Weights.MuxChannel + (connection.Part.PullUpOhms is null ? Weights.PullUpPair : 0);
        }
        return sum + Weights.SecondI2cBus * Math.Max(0, i2c - 1);
    }

    /// <summary>Pairs of pull-ups for buses on which no module has any.</summary>
    private int PullUps() =>
        Weights.PullUpPair
        * _done
            .Where(c => c.Interface.Kind == InterfaceKind.I2c)
            .GroupBy(c => c.Controller)
            .Count(b => b.Where(c => c.Behind is null).All(c => c.Part.PullUpOhms is null));

    /// <summary>What the addresses of a bus cost, or null when they cannot all differ. Equal parts are alike: worked out once for each company.</summary>
    private int? AddressWeight(int controller)
    {
        Span<char> letters = stackalloc char[_done.Count];
        var count = 0;
        for (var i = 0; i < _done.Count; i++)
        {
            if (_done[i].Interface.Kind == InterfaceKind.I2c && _done[i].Controller == controller)
            {
                letters[count++] = _codes[i];
            }
        }
        letters = letters[..count];
        letters.Sort();
        var lookup = _addressWeights.GetAlternateLookup<ReadOnlySpan<char>>();
        if (!lookup.TryGetValue(letters, out var weight))
        {
            lookup[letters] = weight = AddressPlan.Of([.. _done.Where(c => c.Interface.Kind == InterfaceKind.I2c && c.Controller == controller)])?.Weight;
        }
        return weight;
    }

    /// <summary>Bits a second that the part of a connection puts on its bus.</summary>
    private double TrafficOf(int at)
    {
        if (!_traffic.TryGetValue(_codes[at], out var bits))
        {
            _traffic[_codes[at]] = bits = BusLoad.BitsPerSecond(_node, _done[at].Instance, _done[at].Part, _done[at].Interface);
        }
        return bits;
    }

    /// <summary>The parts so far with how they are connected, in any order: equal parts are alike.</summary>
    private string KeyOf() => string.Create(_codes.Count, _codes, (key, codes) =>
        {
            CollectionsMarshal.AsSpan(codes).CopyTo(key);
            key.Sort();
        });

    private void Say(FormattableString reason)
    {
        // A search that fails does so a thousand times for a few reasons: the first ones are enough, and sentences cost time.
        if (_reasons.Count < MostReasons)
        {
            _reasons.Add(FormattableString.Invariant(reason));
        }
    }

    private Structure Structure()
    {
        var result = new Connection[_parts.Length];
        for (var i = 0; i < _parts.Length; i++)
        {
            result[_parts[i].At] = _done[i];
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
