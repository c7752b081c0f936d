using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Bench;

/// <summary>The components that a solution needs besides the parts, with their values and workings.</summary>
public static class SupportList
{
    private const double Tolerance = 0.05;

    /// <summary>Lists them; each names the wire it belongs to ("part.LINE" or a bus).</summary>
    public static IReadOnlyList<SupportComponent> Of(Board board, NodeDesign node, NodeSupply supply, PinSolution solution)
    {
        var list = new List<SupportComponent>();
        foreach (var connection in solution.Structure.Connections)
        {
            foreach (var line in connection.Interface.Lines)
            {
                var wire = $"{connection.Instance.Key}.{line.Name}";
                var rail = supply.For(connection.Part, board);
                var volts = line.HighVolts ?? rail?.Volts ?? connection.Part.SupplyMinVolts ?? board.LogicVolts;
                if (line.Role is LineRole.DigitalToBoard or LineRole.UartToBoard && volts > board.PinMaxVolts && line.Drive == LineDrive.PushPull)
                {
                    list.Add(LevelDivider(board, wire, volts));
                }
                else if (line.FloatsToSupply && volts > board.PinMaxVolts)
                {
                    list.Add(new($"{wire}/transistor", wire, "NPN transistor, 4.7 kΩ to its base, 100 kΩ from base to ground", "4.7 kΩ, 100 kΩ",
                        $"Base from the pin, collector to {line.Name}, emitter to ground. It turns the sense round: high switches on. A {board.LogicVolts} V pin straight on {line.Name} may never switch off, since {line.Name} rests at {volts} V.",
                        []));
                }
                else if (line.Role == LineRole.SpiSelect)
                {
                    list.Add(new($"{wire}/pull-up", wire, "10 kΩ resistor", "10 kΩ", $"From {line.Name} to {board.LogicVolts} V: the part stays off the bus while the board starts.", []));
                }
            }
            if (connection.Instance.SwitchSupply)
            {
                var wire = $"{connection.Instance.Key}.PWR";
                list.Add(new($"{wire}/switch", wire, "P-channel MOSFET as a high-side switch, NPN transistor to drive it, 100 kΩ gate to source", "100 kΩ, 10 kΩ",
                    $"Between the rail and {connection.Part.SupplyPin}: off while the board starts and sleeps.", []));
            }
        }
        foreach (var (demand, fit) in solution.List.Demands.Zip(solution.Fits))
        {
            var wire = demand.Wires[0].Key;
            if (demand.Role == LineRole.OneWire)
            {
                var metres = solution.Structure.Connections.Where(c => c.Interface.Kind == InterfaceKind.OneWire).Sum(c => c.Instance.LeadMetres);
                var ohms = OneWire.PullUpOhms(metres);
                list.Add(new($"{demand.Key}/pull-up", demand.Key, $"{Ohms(ohms)} resistor", Ohms(ohms), $"From the line to {board.LogicVolts} V, once for the whole line.", []));
            }
            if (demand.Role == LineRole.Contact && (demand.Wake || fit.Adds.Count > 0))
            {
                var value = demand.Wake ? "1 MΩ" : "10 kΩ";
                list.Add(new($"{wire}/pull-up", wire, $"{value} resistor", value,
                    demand.Wake ? $"From the contact to {board.LogicVolts} V: internal pull-ups may be off in deep sleep; 3.3 µA while closed." : $"From the contact to {board.LogicVolts} V: {fit.Adds[0]}.", []));
            }
            if (demand.Analog && supply.Cell is { } cell)
            {
                list.Add(SupplySense(wire, cell));
            }
        }
        return list;
    }

    /// <summary>The divider that brings a push-pull output down to a pin, or null when no pair of E12 resistors keeps both corners.</summary>
    internal static Divider? DividerFor(Board board, double volts) => Divider.Propose(volts * 1.05, volts * 0.95, board.LogicVolts, board.HighAtLeastVolts, PreferredValues.E12, Tolerance);

    private static SupportComponent LevelDivider(Board board, string wire, double volts)
    {
        var pair = DividerFor(board, volts);
        if (pair is null)
        {
            return new($"{wire}/shifter", wire, "level shifter, one channel", "BSS138 type", $"No pair of 5 % resistors brings {volts} V safely to {board.LogicVolts} V and still reads high.", []);
        }
        var inputs = new WorkingInput[]
        {
            new("R1", pair.TopOhms, Unit.Ohm, "IEC 60063, E12"), new("R2", pair.BottomOhms, Unit.Ohm, "IEC 60063, E12"), new("Vin", volts, Unit.Volt, "supply of the part, ±5 %"),
            new("tolerance", Tolerance * 100, Unit.Percent, "5 % resistors"), new("Vmax", board.LogicVolts, Unit.Volt, $"logic supply of the {board.Label}"),
            new("VIH", board.HighAtLeastVolts, Unit.Volt, $"{board.Mcu} data sheet, from memory"),
        };
        var pin = new Figure("Voltage at the pin", pair.Volts(volts), pair.Corner(Tolerance, false).Volts(volts * 0.95), pair.Corner(Tolerance, true).Volts(volts * 1.05), Unit.Volt,
            new Working("V = Vin · R2 / (R1 + R2), at both corners of supply and resistors", inputs, "Ohm's law"));
        var draw = Figure.Exact("Current drawn while high", pair.DrawMilliamps(volts), Unit.Milliamp, new Working("I = Vin / (R1 + R2)", inputs[..3], "Ohm's law"));
        var source = Figure.Exact("Source resistance", pair.SourceOhms, Unit.Ohm, new Working("R = R1 · R2 / (R1 + R2)", inputs[..2], "Ohm's law"));
        return new($"{wire}/divider", wire, "two resistors as a divider", $"{Ohms(pair.TopOhms)} over {Ohms(pair.BottomOhms)}",
            $"{Ohms(pair.TopOhms)} from {wire.Split('.')[1]} to the pin, {Ohms(pair.BottomOhms)} from the pin to ground.", [pin, draw, source]);
    }

    private static SupportComponent SupplySense(string wire, Cell cell)
    {
        // Kept inside the straight part of the converter, and slow enough to draw next to nothing.
        const double straightTo = 2.4;
        var pair = Divider.Propose(cell.FullVolts, cell.EmptyVolts, straightTo, 0.15, PreferredValues.E12, Tolerance, 0.05, 180_000, 400_000) ?? new Divider(100_000, 100_000);
        var figure = new Figure("Voltage at the converter, cell full", pair.Volts(cell.FullVolts), pair.Corner(Tolerance, false).Volts(cell.FullVolts), pair.Corner(Tolerance, true).Volts(cell.FullVolts), Unit.Volt,
            new Working("V = Vcell · R2 / (R1 + R2)", [new("R1", pair.TopOhms, Unit.Ohm, "IEC 60063, E12"), new("R2", pair.BottomOhms, Unit.Ohm, "IEC 60063, E12"), new("Vcell", cell.FullVolts, Unit.Volt, cell.Source)], "Ohm's law"));
        return new($"{wire}/divider", wire, "two resistors as a divider, 100 nF to ground", $"{Ohms(pair.TopOhms)} over {Ohms(pair.BottomOhms)}", "From the cell to the pin and from the pin to ground; the capacitor gives the converter its charge.", [figure]);
    }

    /// <summary>A resistance as makers write it.</summary>
    internal static string Ohms(double ohms) => ohms >= 1e6 ? $"{ohms / 1e6:0.##} MΩ" : ohms >= 1000 ? $"{ohms / 1000:0.##} kΩ" : $"{ohms:0.##} Ω";
}
