using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The pins a structure needs, and what it costs before any pin is chosen.</summary>
/// <param name="Components">Weight of the components that the structure adds whatever the pins are.</param>
/// <param name="Splices">Bus wires that join others.</param>
public sealed record DemandList(IReadOnlyList<Demand> Demands, int Components, int Splices)
{
    /// <summary>The line of the board itself that measures its supply.</summary>
    public static readonly DemandWire SupplySense = new("board", "supply", "SUPPLY", null);

    /// <summary>What that line asks of its pin.</summary>
    internal static readonly PinNeeds SupplyNeeds = new(LineRole.Analog, null, RestLevel.High) { Input = true, Analog = true };

    private sealed class Builder(Board board, NodeDesign node, NodeSupply supply, Structure structure)
    {
        private readonly List<Demand> _demands = [];
        private readonly Dictionary<string, List<(Connection At, PartLine Line)>> _shared = [];
        private int _components = Weights.AddedModule * structure.Added.Count;
        private int _splices;

        public DemandList Build()
        {
            foreach (var connection in structure.Connections)
            {
                foreach (var line in connection.Interface.Lines.Where(l => !l.Optional))
                {
                    Add(connection, line);
                }
                if (connection.Instance.SwitchSupply)
                {
                    _components += Weights.SupplySwitch;
                    _demands.Add(new($"{connection.Instance.Key}.PWR", [Wire(connection, "PWR")], SwitchNeeds));
                }
            }
            foreach (var (key, members) in _shared)
            {
                Share(key, members);
            }
            Buses();
            if (node.MeasuresSupply && supply.Cell is not null)
            {
                _components += Weights.Divider;
                _demands.Add(new(SupplySense.Key, [SupplySense], SupplyNeeds));
            }
            return new([.. _demands.OrderBy(d => d.Key, StringComparer.Ordinal)], _components, _splices);
        }

        private void Buses()
        {
            _components +=
                Weights.SpiBus * structure.Connections.Where(c => c.Interface.Kind == InterfaceKind.Spi).Select(c => c.Controller).Distinct().Count();
            _components +=
                Weights.SoftwareSerial * structure.Connections.Count(c => c is { Interface.Kind: InterfaceKind.Uart, Controller: LineRules.SoftwareSerial });
            _components +=
                structure.Connections.Where(c => c.Interface.Kind == InterfaceKind.OneWire).Select(c => c.Controller).Distinct().Count() * Weights.Piece;
            var buses = structure.I2cBuses.ToList();
            _components += Weights.SecondI2cBus * Math.Max(0, buses.Count - 1);
            foreach (var bus in buses)
            {
                _components += AddressPlan.Of([.. bus])!.Value.Weight;
                _components += bus.Where(c => c.Behind is null).All(c => c.Part.PullUpOhms is null) ? Weights.PullUpPair : 0;
                _components +=
                    bus.Count(c => c.Behind is not null) * Weights.MuxChannel
                    + bus.Count(c => c.Behind is not null && c.Part.PullUpOhms is null) * Weights.PullUpPair;
                _components += bus.Any(c => c.Behind is null && LineRules.NeedsShifter(c, board, supply)) ? Weights.Shifter : 0;
            }
        }

        private void Add(Connection connection, PartLine line)
        {
            _components += LineRules.Weight(LineRules.Of(line, connection, board, supply));
            if (SharedKey(connection, line) is { } key)
            {
                if (connection.Behind is null)
                {
                    (_shared.TryGetValue(key, out var members) ? members : _shared[key] = []).Add((connection, line));
                }
                return;
            }
            var needs = NeedsOf(board, node, supply, connection, line);
            _components += needs is { Role: LineRole.Contact, Wake: true } ? Weights.Piece : 0;
            _demands.Add(new($"{connection.Instance.Key}.{line.Name}", [Wire(connection, line.Name)], needs));
        }

        private void Share(string key, List<(Connection At, PartLine Line)> members)
        {
            var role = members[0].Line.Role;
            var rest = members.Any(m => m.Line.AtStart == RestLevel.High) ? RestLevel.High : RestLevel.Floating;
            _splices += members.Count - 1;
            _demands.Add(new(key, [.. members.Select(m => Wire(m.At, m.Line.Name))], SharedNeeds(role, members[0].At.Controller, rest)));
        }

        private DemandWire Wire(Connection connection, string line) =>
            new(connection.Instance.Key, connection.Instance.Label, line, PositionOf(board, node, connection.Instance.Key));
    }

    /// <summary>Where a part lies along the header, in half rows: parts are laid out in their order. Null for an added module.</summary>
    public static int? PositionOf(Board board, NodeDesign node, string part)
    {
        for (var at = 0; at < node.Parts.Count; at++)
        {
            if (node.Parts[at].Key == part)
            {
                return (2 * at + 1) * board.Rows / node.Parts.Count;
            }
        }
        return null;
    }

    /// <summary>Works out the demands of a structure.</summary>
    public static DemandList Of(Board board, NodeDesign node, NodeSupply supply, Structure structure) => new Builder(board, node, supply, structure).Build();

    /// <summary>What a line of its own asks of its pin, with what the plan puts between.</summary>
    internal static PinNeeds NeedsOf(Board board, NodeDesign node, NodeSupply supply, Connection connection, PartLine line)
    {
        var support = LineRules.Of(line, connection, board, supply);
        var volts = support is LineSupport.DividerToBoard or LineSupport.OwnPullUp or LineSupport.BufferToBoard
            ? board.LogicVolts
            : LineRules.Volts(line, connection, board, supply);
        var wakes =
            node.Sleeps
            && (line.Role is LineRole.DigitalToBoard or LineRole.Contact)
            && node.Readings.Any(r => r.Part == connection.Instance.Key && r.IntervalMs is null);
        var needs = new PinNeeds(line.Role, connection.Controller, line.AtStart)
        {
            Edge = line.Edge,
            Timed = line.Timed,
            Pwm = line.Pwm,
            Load = line.Load,
        };
        return line.Role switch
        {
            LineRole.UartToBoard when connection.Controller == LineRules.SoftwareSerial => needs with
            {
                Input = true,
                Edge = true,
                Timed = true,
                Volts = Math.Min(volts, board.PinMaxVolts),
            },
            LineRole.DigitalToBoard or LineRole.UartToBoard => needs with { Input = true, Wake = wakes, Volts = Math.Min(volts, board.PinMaxVolts) },
            // Internal pull-ups may be off in deep sleep: a contact that wakes gets its own.
            LineRole.Contact => needs with { Input = true, Wake = wakes, PullUp = !wakes },
            LineRole.Analog => needs with { Input = true, Analog = true, Volts = support == LineSupport.DividerToBoard ? 0 : volts },
            LineRole.Touch => needs with { Input = true, Touch = true },
            LineRole.SingleWire => needs with { Input = true, Output = true, AtStart = RestLevel.High },
            // A transistor is held off by its pull-down, so the pin rests low.
            _ when support is LineSupport.Transistor or LineSupport.LoadSwitch or LineSupport.LoadSwitchWithDiode or LineSupport.Gate => needs with
            {
                Output = true,
                AtStart = RestLevel.Low,
                Drive = true,
            },
            LineRole.UartToPart when connection.Controller == LineRules.SoftwareSerial => needs with { Output = true, Timed = true },
            _ => needs with
            {
                Output = true,
                Drive = line.Milliamps is not null || (line.Load && !line.ActiveLow),
                Volts = line.FloatsToSupply && support == LineSupport.None ? volts : 0,
            },
        };
    }

    /// <summary>What the transistor that switches a part's supply asks of its pin.</summary>
    internal static readonly PinNeeds SwitchNeeds = new(LineRole.DigitalToPart, null, RestLevel.Low)
    {
        Output = true,
        Load = true,
        Drive = true,
    };

    /// <summary>The bus line that a line of a part joins, or null for a line of its own.</summary>
    internal static string? SharedKey(Connection connection, PartLine line) =>
        line.Role switch
        {
            LineRole.I2cSda => $"I2C {connection.Controller}.SDA",
            LineRole.I2cScl => $"I2C {connection.Controller}.SCL",
            LineRole.SpiSck => $"SPI {connection.Controller}.SCK",
            LineRole.SpiMosi => $"SPI {connection.Controller}.MOSI",
            LineRole.SpiMiso => $"SPI {connection.Controller}.MISO",
            LineRole.OneWire => $"1-Wire {connection.Controller}.DQ",
            _ => null,
        };

    /// <summary>What a bus line asks of its pin.</summary>
    internal static PinNeeds SharedNeeds(LineRole role, int? controller, RestLevel rest) =>
        new(role, controller, rest)
        {
            Input = role is not (LineRole.SpiSck or LineRole.SpiMosi),
            Output = role is not LineRole.SpiMiso,
            Timed = true,
        };
}
