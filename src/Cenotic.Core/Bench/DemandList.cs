using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The pins a structure needs, and what it costs before any pin is chosen.</summary>
/// <param name="Components">Weight of the components that the structure adds whatever the pins are.</param>
/// <param name="Splices">Bus wires that join others.</param>
public sealed record DemandList(IReadOnlyList<Demand> Demands, int Components, int Splices)
{
    /// <summary>The line of the board itself that measures its supply.</summary>
    public static readonly DemandWire SupplySense = new("board", "supply", "SUPPLY");

    private sealed class Builder(Board board, NodeDesign node, NodeSupply supply, Structure structure)
    {
        private readonly List<Demand> _demands = [];
        private readonly Dictionary<string, List<(Connection At, PartLine Line)>> _shared = [];
        private int _components = structure.StrapsChanged;
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
                    // P-channel transistor, the small transistor that drives it, and its pull-down.
                    _components += 3;
                    _demands.Add(new Demand($"{connection.Instance.Key}.PWR", [Wire(connection, "PWR")], LineRole.DigitalToPart, null, RestLevel.Low, Position(connection)) { Output = true, Load = true });
                }
            }
            foreach (var (key, members) in _shared)
            {
                Share(key, members);
            }
            var buses = structure.I2cBuses.ToList();
            _components += structure.Connections.Any(c => c.Interface.Kind == InterfaceKind.Spi) ? Structure.SpiBusWeight : 0;
            _components += Structure.SecondBusWeight * Math.Max(0, buses.Count - 1) + 2 * buses.Count(b => b.All(c => c.Part.PullUpOhms is null));
            if (node.MeasuresSupply && supply.Cell is not null)
            {
                _components += 2;
                _demands.Add(new Demand("board.SUPPLY", [SupplySense], LineRole.DigitalToBoard, null, RestLevel.High, 0) { Input = true, Analog = true });
            }
            return new([.. _demands.OrderBy(d => d.Key, StringComparer.Ordinal)], _components, _splices);
        }

        private void Add(Connection connection, PartLine line)
        {
            var key = line.Role switch
            {
                LineRole.I2cSda => $"I2C {connection.Controller}.SDA",
                LineRole.I2cScl => $"I2C {connection.Controller}.SCL",
                LineRole.SpiSck => $"SPI {connection.Controller}.SCK",
                LineRole.SpiMosi => $"SPI {connection.Controller}.MOSI",
                LineRole.SpiMiso => $"SPI {connection.Controller}.MISO",
                LineRole.OneWire => "1-Wire.DQ",
                _ => null,
            };
            if (key is not null)
            {
                (_shared.TryGetValue(key, out var members) ? members : _shared[key] = []).Add((connection, line));
                return;
            }
            var volts = line.HighVolts ?? supply.For(connection.Part, board)?.Volts ?? connection.Part.SupplyMinVolts ?? board.LogicVolts;
            var tooHigh = volts > board.PinMaxVolts;
            var demand = new Demand($"{connection.Instance.Key}.{line.Name}", [Wire(connection, line.Name)], line.Role, connection.Controller, line.AtStart, Position(connection)) { Load = line.Load };
            var wakes = node.Sleeps && line.Edge && node.Readings.Any(r => r.Part == connection.Instance.Key && r.IntervalMs is null);
            switch (line.Role)
            {
                case LineRole.DigitalToBoard or LineRole.UartToBoard:
                    _components += tooHigh ? 2 : 0;
                    demand = demand with { Input = true, Edge = line.Edge, Wake = wakes };
                    break;
                case LineRole.DigitalToPart when line.FloatsToSupply && tooHigh:
                    // The transistor inverts: its base is held low, so the pin rests low.
                    _components += 3;
                    demand = demand with { Output = true, AtStart = RestLevel.Low };
                    break;
                case LineRole.SpiSelect:
                    _components += 1;
                    demand = demand with { Output = true };
                    break;
                case LineRole.DigitalToPart or LineRole.UartToPart:
                    demand = demand with { Output = true };
                    break;
                case LineRole.Contact:
                    // Internal pull-ups may be off in deep sleep: a contact that wakes gets its own.
                    _components += wakes ? 1 : 0;
                    demand = demand with { Input = true, Edge = line.Edge, Wake = wakes, PullUp = !wakes };
                    break;
            }
            _demands.Add(demand);
        }

        private void Share(string key, List<(Connection At, PartLine Line)> members)
        {
            var role = members[0].Line.Role;
            var rest = members.Any(m => m.Line.AtStart == RestLevel.High) ? RestLevel.High : RestLevel.Floating;
            var position = (int)Math.Round(members.Average(m => Position(m.At)));
            var demand = new Demand(key, [.. members.Select(m => Wire(m.At, m.Line.Name))], role, members[0].At.Controller, rest, position)
            {
                Input = role is not (LineRole.SpiSck or LineRole.SpiMosi),
                Output = role is not LineRole.SpiMiso,
            };
            _components += role == LineRole.OneWire ? 1 : 0;
            _splices += members.Count - 1;
            _demands.Add(demand);
        }

        private int Position(Connection connection)
        {
            var at = node.Parts.ToList().FindIndex(p => p.Key == connection.Instance.Key);
            return (2 * at + 1) * board.Rows / node.Parts.Count;
        }

        private static DemandWire Wire(Connection connection, string line) => new(connection.Instance.Key, connection.Instance.Label, line);
    }

    /// <summary>Works out the demands of a structure.</summary>
    public static DemandList Of(Board board, NodeDesign node, NodeSupply supply, Structure structure) => new Builder(board, node, supply, structure).Build();
}
