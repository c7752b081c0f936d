using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>Makes the circuit of a solution: the board, the parts, what is added between them, and what feeds them.</summary>
internal sealed class CircuitBuilder
{
    private readonly Board _board;
    private readonly NodeDesign _node;
    private readonly NodeSupply _supply;
    private readonly PinSolution _solution;
    private readonly IReadOnlyList<Addition> _additions;
    private readonly List<Component> _components = [];
    private readonly Dictionary<string, Net> _nets = [];

    /// <summary>The net of each pin of the board and each line of a helper that carries a line.</summary>
    private readonly Dictionary<string, string> _netOfPin = [];

    private CircuitBuilder(Board board, NodeDesign node, NodeSupply supply, PinSolution solution, IReadOnlyList<Addition> additions) =>
        (_board, _node, _supply, _solution, _additions) = (board, node, supply, solution, additions);

    internal static Circuit Of(
        Board board,
        NodeDesign node,
        NodeSupply supply,
        HardwareCatalogue catalogue,
        PinSolution solution,
        IReadOnlyList<Addition> additions
    )
    {
        var builder = new CircuitBuilder(board, node, supply, solution, additions);
        builder.LineNetsOf();
        var (chain, between) = SupplyChain.Of(board, node.Power, supply, catalogue);
        builder.Rails(chain);
        foreach (var net in between)
        {
            builder._nets[net.Key] = net;
        }
        foreach (var connection in solution.Structure.Connections)
        {
            builder._components.Add(builder.Part(connection));
        }
        builder._components.AddRange(additions.SelectMany(a => a.Pieces));
        builder._components.AddRange(chain);
        builder._components.Insert(0, builder.BoardComponent());
        builder.Inside();
        builder._components.AddRange(Strips.Of(builder._components, builder._nets.Values));
        var used = builder._components.SelectMany(c => c.Terminals).Select(t => t.Net).OfType<string>().ToHashSet();
        return builder.WithVolts(new(builder._components, [.. builder._nets.Values.Where(n => used.Contains(n.Key))]));
    }

    /// <summary>The highest voltage of each signal follows from the whole: sources, outputs, pull-ups and dividers.</summary>
    private Circuit WithVolts(Circuit circuit)
    {
        var volts = new CircuitVolts(circuit, _board, _solution.Structure.Connections.ToDictionary(c => c.Instance.Key, c => (c.Part, c.Interface)));
        return circuit with
        {
            Nets = [.. circuit.Nets.Select(n => n.Kind is WireKind.Bus or WireKind.Signal ? n with { HighVolts = volts.Of(n.Key) ?? _board.LogicVolts } : n)],
        };
    }

    /// <summary>Nets of the lines: at their pins, and on the far side of what stands between.</summary>
    private void LineNetsOf()
    {
        foreach (var (demand, pin) in _solution.List.Demands.Zip(_solution.Pins))
        {
            var connection = Connection(demand.Wires[0].Part);
            var line = connection?.Interface.Lines.FirstOrDefault(l => l.Name == demand.Wires[0].Line);
            var net = connection is null || line is null ? demand.Key : LineNets.Of(connection, line, _board, _supply).AtPin;
            _netOfPin[pin.Id] = net;
            var bus = demand.Key.Contains(' ', StringComparison.Ordinal);
            var label = bus ? demand.Key.Replace(".", " ", StringComparison.Ordinal) : $"{demand.Wires[0].PartLabel} {demand.Wires[0].Line}";
            var driver =
                !IsDriven(demand) ? null
                : HelperPins.IsHelper(pin) ? pin.Id
                : $"{Circuit.BoardKey}:{pin.Id}";
            _nets[net] = new(net, label, bus ? WireKind.Bus : WireKind.Signal, 0, 0, driver, Why(demand), [.. demand.Wires.Select(w => w.Key)]);
        }
        foreach (var connection in _solution.Structure.Connections)
        {
            foreach (var line in connection.Interface.Lines.Where(l => !l.Optional))
            {
                var (atPart, atPin) = LineNets.Of(connection, line, _board, _supply);
                if (_nets.ContainsKey(atPart))
                {
                    continue;
                }
                var (key, channel) = ($"{connection.Instance.Key}.{line.Name}", connection.Behind is not null);
                var shared = channel || atPart.Contains(' ', StringComparison.Ordinal);
                var label = shared
                    ? atPart.Replace(".", " ", StringComparison.Ordinal).Replace("/shifted", ", shifted", StringComparison.Ordinal)
                    : $"{connection.Instance.Label} {line.Name}, its side";
                var reason = channel ? "A channel of the multiplexer." : "On the part's side of what stands between.";
                _nets[atPart] = new(atPart, label, shared ? WireKind.Bus : WireKind.Signal, 0, 0, null, reason, channel ? [key] : []);
            }
        }
    }

    /// <summary>Nets inside an addition, between its pieces.</summary>
    private void Inside()
    {
        foreach (var addition in _additions)
        {
            foreach (var net in addition.Pieces.SelectMany(p => p.Terminals).Select(t => t.Net).OfType<string>().Where(n => !_nets.ContainsKey(n)))
            {
                var owner = addition.For.Split('.');
                _nets[net] = net.EndsWith("/supply", StringComparison.Ordinal)
                    ? new(
                        net,
                        $"{Label(owner[0])}, switched supply",
                        WireKind.Supply,
                        0,
                        SwitchedVolts(owner[0]),
                        null,
                        "On only while the part is wanted.",
                        []
                    )
                    : new(net, $"{Label(owner[0])} {owner[^1]}, {net.Split('/')[^1]}", WireKind.Signal, 0, 0, null, "Between the pieces of an addition.", []);
            }
        }
    }

    private double SwitchedVolts(string part) => Connection(part) is { } connection ? _supply.For(connection.Part, _board)?.Volts ?? 0 : 0;

    private void Rails(IReadOnlyList<Component> chain)
    {
        _nets[Circuit.Ground] = new(Circuit.Ground, "ground", WireKind.Ground, 0, 0, null, "Common to all.", []);
        foreach (var rail in _supply.Rails)
        {
            var key = Circuit.Rail(rail.Id);
            _nets[key] = new(key, rail.Label, WireKind.Supply, rail.LowVolts, HighestOf(rail), DriverOf(key, chain), rail.BudgetMilliamps.Source, []);
        }
        if (SupplyChain.InputNet(_board, _supply) is { } input && !_nets.ContainsKey(input))
        {
            _nets[input] = new(
                input,
                _supply.Input!.Label,
                WireKind.Supply,
                _supply.Input.MinVolts,
                Math.Min(_supply.Input.MaxVolts, _supply.Cell?.FullVolts ?? _supply.SourceVolts ?? 5),
                DriverOf(input, chain),
                _supply.Input.Note,
                []
            );
        }
        if (_node.Power.AlsoUsb && !_nets.ContainsKey("usb"))
        {
            _nets["usb"] = new("usb", "USB socket", WireKind.Supply, 4.75, 5.25, "supply/usb:+", "Plugged in now and then.", []);
        }
        // A pull-up goes to the logic supply of the board also where this supply feeds nothing.
        var logic = AdditionList.Logic(_board, _supply);
        _nets.TryAdd(logic, new(logic, "logic supply", WireKind.Supply, _board.LogicVolts, _board.LogicVolts, null, "Of the board.", []));
    }

    private double HighestOf(Rail rail) => rail.Id == NodeSupply.SourceRail ? _supply.HighestSourceVolts ?? rail.Volts : rail.Volts;

    /// <summary>What gives a supply net its voltage: an output of the chain, else the board.</summary>
    private string? DriverOf(string net, IReadOnlyList<Component> chain)
    {
        foreach (var component in chain)
        {
            var output = component.Kind switch
            {
                ComponentKind.Source or ComponentKind.Cells or ComponentKind.LightCell => "+",
                ComponentKind.Converter or ComponentKind.Charger => "OUT+",
                ComponentKind.Fuse => "2",
                ComponentKind.Cable => "+2",
                ComponentKind.Diode => "K",
                ComponentKind.Harvester => "VBAT",
                _ => null,
            };
            if (output is not null && component.Terminals.Any(t => t.Name == output && t.Net == net))
            {
                return $"{component.Key}:{output}";
            }
        }
        return _board.Pins.FirstOrDefault(p => p.Rail is { } rail && Circuit.Rail(rail) == net) is { } pin ? $"{Circuit.BoardKey}:{pin.Id}" : null;
    }

    private Component BoardComponent()
    {
        var used = _components.SelectMany(c => c.Terminals).Select(t => t.Net).OfType<string>().ToHashSet();
        var input = SupplyChain.InputNet(_board, _supply);
        var terminals = _board
            .Pins.Select(p => new Terminal(
                p.Id,
                p.Kind == PinKind.Ground ? Circuit.Ground
                    : p.Id == _supply.Input?.Pin ? input
                    : p.Rail is { } rail && used.Contains(Circuit.Rail(rail)) ? Circuit.Rail(rail)
                    : _netOfPin.GetValueOrDefault(p.Id)
            ))
            .ToList();
        var usb = used.Contains("usb");
        return new(
            Circuit.BoardKey,
            ComponentKind.Board,
            _board.Label,
            _board.Form,
            [.. terminals, new("USB+", usb ? "usb" : null), new("USB-", usb ? Circuit.Ground : null)]
        )
        {
            CatalogueId = _board.Id,
        };
    }

    private Component Part(Connection connection)
    {
        var (instance, part) = (connection.Instance, connection.Part);
        var rail = _supply.For(part, _board);
        var own = rail is null ? null : AdditionList.SupplyNet(connection, rail);
        var lines = connection.Interface.Lines.Where(l => !l.Optional).ToDictionary(l => l.Name, l => LineNets.Of(connection, l, _board, _supply).AtPart);
        string? Isolated(string pin) =>
            part.Opto is null ? null
            : pin == "IN+" ? Circuit.IsolatedPlus(instance.Key)
            : pin == "IN-" ? Circuit.IsolatedMinus(instance.Key)
            : null;
        string? NetOf(string pin) =>
            pin == part.SupplyPin ? own
            : pin == part.GroundPin ? Circuit.Ground
            : lines.GetValueOrDefault(pin) ?? Isolated(pin) ?? LentNet(connection, pin);
        var terminals = part.Pins.Distinct().Select(p => new Terminal(p, NetOf(p))).ToList();
        // A line that the print does not name is a terminal all the same.
        terminals.AddRange(lines.Keys.Where(l => !part.Pins.Contains(l)).Select(l => new Terminal(l, lines[l])));
        var straps = Straps.Of(connection, terminals, own);
        return new(
            instance.Key,
            ComponentKind.Part,
            instance.Label,
            part.Label,
            [.. terminals.Select(t => t.Net is null && straps.TryGetValue(t.Name, out var to) ? t with { Net = to } : t)]
        )
        {
            CatalogueId = part.Id,
            Strap = Straps.Text(connection),
            PullUpTakenOff = connection.Interface.Lines.Any(l => LineRules.Of(l, connection, _board, _supply) == LineSupport.OwnPullUp),
        };
    }

    /// <summary>The net of a line that a helper lends, or of a channel of a multiplexer.</summary>
    private string? LentNet(Connection helper, string pin)
    {
        var key = $"{helper.Instance.Key}:{pin}";
        return _netOfPin.GetValueOrDefault(key) ?? (_nets.ContainsKey(key) ? key : null);
    }

    /// <summary>True for a line that its pin drives. What a part, a buffer or a shifter drives is
    /// seen in the circuit; a bus that all pull low has no driver.</summary>
    private static bool IsDriven(Demand demand) =>
        demand.Role is LineRole.DigitalToPart or LineRole.UartToPart or LineRole.SpiSck or LineRole.SpiMosi or LineRole.SpiSelect;

    private static string Why(Demand demand) =>
        demand.Role switch
        {
            LineRole.I2cSda or LineRole.I2cScl => "Every part pulls it low; resistors pull it high.",
            LineRole.OneWire => "Every probe pulls it low; one resistor pulls it high.",
            LineRole.SpiMiso => "Only the part that is selected drives it.",
            _ => "",
        };

    private Connection? Connection(string part) => _solution.Structure.Connections.FirstOrDefault(c => c.Instance.Key == part);

    private string Label(string part) => Connection(part)?.Instance.Label ?? part;
}
