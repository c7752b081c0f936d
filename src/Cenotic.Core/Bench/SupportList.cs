using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Bench;

/// <summary>The components that a solution needs besides the parts, with their values and workings.</summary>
public static class SupportList
{
    private const double Tolerance = 0.05, LedMilliamps = 3, BaseOhms = 4700, GateOhms = 150;

    /// <summary>Lists them; each names the wire it belongs to ("part.LINE" or a bus).</summary>
    public static IReadOnlyList<SupportComponent> Of(Board board, NodeDesign node, NodeSupply supply, PinSolution solution)
    {
        var list = new List<SupportComponent>();
        foreach (var connection in solution.Structure.Connections)
        {
            foreach (var line in connection.Interface.Lines.Where(l => !l.Optional))
            {
                Line(list, board, supply, connection, line);
            }
            if (connection.Instance.SwitchSupply)
            {
                var wire = $"{connection.Instance.Key}.PWR";
                list.Add(new($"{wire}/switch", wire, "P-channel MOSFET as a high-side switch, NPN transistor to drive it, 100 kΩ gate to source", "100 kΩ, 10 kΩ",
                    $"Between the rail and {connection.Part.SupplyPin ?? "the part"}: off while the board starts and sleeps.", []));
            }
            if (connection is { Behind: not null, Part.PullUpOhms: null })
            {
                list.Add(new($"{connection.Instance.Key}/pull-ups", $"{connection.Instance.Key}.SDA", "two 4.7 kΩ resistors", "4.7 kΩ", $"From SDA and SCL of the channel to {board.LogicVolts} V.", []));
            }
        }
        foreach (var bus in solution.Structure.I2cBuses.Where(b => b.Any(c => c.Behind is null && LineRules.NeedsShifter(c, board, supply))))
        {
            var name = $"I2C {bus.Key}";
            var beyond = bus.Where(c => c.Behind is null && LineRules.NeedsShifter(c, board, supply)).ToList();
            var volts = supply.For(beyond[0].Part, board)!.Volts;
            list.Add(new($"{name}/shifter", name, "level shifter, two channels (BSS138 type)", $"{Math.Min(volts, board.LogicVolts)} V to {Math.Max(volts, board.LogicVolts)} V",
                $"SDA and SCL of {string.Join(", ", beyond.Select(c => c.Instance.Label))} on its {volts} V side, the bus of the board on its {board.LogicVolts} V side.", []));
        }
        foreach (var (demand, fit) in solution.List.Demands.Zip(solution.Fits))
        {
            var wire = demand.Wires[0].Key;
            if (demand.Role == LineRole.OneWire)
            {
                var metres = solution.Structure.Connections.Where(c => demand.Wires.Any(w => w.Part == c.Instance.Key)).Sum(c => c.Instance.LeadMetres);
                var ohms = OneWire.PullUpOhms(metres, demand.Wires.Count);
                list.Add(new($"{demand.Key}/pull-up", demand.Key, $"{Ohms(ohms)} resistor", Ohms(ohms), $"From the line to {board.LogicVolts} V, once for the whole line.", [], ohms));
            }
            if (demand.Role == LineRole.Contact && (demand.Needs.Wake || fit.Adds.Count > 0))
            {
                var value = demand.Needs.Wake ? "1 MΩ" : "10 kΩ";
                list.Add(new($"{wire}/pull-up", wire, $"{value} resistor", value,
                    demand.Needs.Wake ? $"From the contact to {board.LogicVolts} V: internal pull-ups may be off in deep sleep; 3.3 µA while closed." : $"From the contact to {board.LogicVolts} V: {fit.Adds[0]}.", []));
            }
            if (wire == DemandList.SupplySense.Key && supply.Cell is { } cell)
            {
                list.Add(SupplySense(wire, cell));
            }
        }
        return list;
    }

    private static void Line(List<SupportComponent> list, Board board, NodeSupply supply, Connection connection, PartLine line)
    {
        var wire = $"{connection.Instance.Key}.{line.Name}";
        var rail = supply.For(connection.Part, board)?.Volts ?? board.LogicVolts;
        var volts = LineRules.Volts(line, connection, board, supply);
        var support = LineRules.Of(line, connection, board, supply);
        if (support == LineSupport.None)
        {
            return;
        }
        list.Add(support switch
        {
            LineSupport.DividerToBoard => LevelDivider(board, wire, line.Name, volts, board.LogicVolts, board.HighAtLeastVolts, toBoard: true),
            LineSupport.DividerToPart => LevelDivider(board, wire, line.Name, board.LogicVolts, line.MaxVolts ?? rail, 0.6 * (line.MaxVolts ?? rail), toBoard: false),
            LineSupport.OwnPullUp => new($"{wire}/pull-up", wire, "10 kΩ resistor", "10 kΩ", $"From {line.Name} to {board.LogicVolts} V. Take the module's own pull-up to {volts} V off first: it would lift the pin to {volts} V.", []),
            LineSupport.Buffer => new($"{wire}/buffer", wire, "buffer gate (74HCT1G125 type), 100 nF", "74HCT1G125", $"Between the pin and {line.Name}, fed {rail} V: {line.Name} reads a high from {line.HighAtLeastOfSupply * rail:0.0#} V, the pin gives {board.LogicVolts} V.", []),
            LineSupport.Transistor => new($"{wire}/transistor", wire, "NPN transistor, 4.7 kΩ to its base, 100 kΩ from base to ground", "4.7 kΩ, 100 kΩ",
                $"Base from the pin, collector to {line.Name}, emitter to ground. It turns the sense round: high switches on. A {board.LogicVolts} V pin straight on {line.Name} may never switch off, since {line.Name} rests at {volts} V.",
                [BaseCurrent(board)]),
            LineSupport.LoadSwitch or LineSupport.LoadSwitchWithDiode => LoadSwitch(board, wire, line, rail, support == LineSupport.LoadSwitchWithDiode),
            LineSupport.Gate => new($"{wire}/gate", wire, "150 Ω to the gate, 100 kΩ from gate to ground", "150 Ω, 100 kΩ", "Off while the board starts. A load with a coil wants a flyback diode across it, its cathode at the supply.", []),
            LineSupport.SeriesResistor => Series(board, wire, line),
            LineSupport.PullUp => new($"{wire}/pull-up", wire, "10 kΩ resistor", "10 kΩ", line.Role == LineRole.SpiSelect ? $"From {line.Name} to {board.LogicVolts} V: the part stays off the bus while the board starts." : $"From {line.Name} to {board.LogicVolts} V.", []),
            LineSupport.Reference => Reference(board, wire, connection.Interface.Resistive!),
            _ => throw new InvalidOperationException($"No component for {support}."),
        });
    }

    private static Figure BaseCurrent(Board board)
    {
        const double junction = 0.7;
        return Figure.Exact("Base current", (board.LogicVolts - junction) / BaseOhms * 1000, Unit.Milliamp,
            new Working("I = (V − Vbe) / R", [new("V", board.LogicVolts, Unit.Volt, board.Label), new("Vbe", junction, Unit.Volt, "silicon transistor"), new("R", BaseOhms, Unit.Ohm, "IEC 60063, E12")], "Ohm's law"));
    }

    private static SupportComponent LoadSwitch(Board board, string wire, PartLine line, double rail, bool diode)
    {
        var figures = new List<Figure>();
        var series = "";
        if (line.ForwardVolts is { } forward && rail > forward)
        {
            var ohms = SeriesResistor.LedOhmsE24(rail, forward, line.Milliamps!.Value);
            series = $", {Ohms(ohms)} in series";
            figures.Add(LedFigure(rail, forward, line.Milliamps.Value, ohms));
        }
        figures.Add(Figure.Exact("Current to switch", line.Milliamps!.Value, Unit.Milliamp, new Working("from the catalogue; above what a pin gives", [new("pin", board.PinPlanMilliamps, Unit.Milliamp, board.Label)], "part data")));
        return new($"{wire}/switch", wire, $"N-channel MOSFET (AO3400A type), 150 Ω to its gate, 100 kΩ gate to ground{(diode ? ", flyback diode (1N5819 type)" : "")}{series}", $"{Ohms(GateOhms)}, 100 kΩ",
            $"Gate from the pin, drain to {line.Name}, source to ground: {line.Milliamps} mA at {rail} V, which no pin gives.{(diode ? " The diode across the load, its cathode at the supply: the coil's spike would kill the transistor." : "")} Off while the board starts.", figures);
    }

    private static Figure LedFigure(double volts, double forward, double milliamps, double ohms) => Figure.Exact("Resistor", ohms, Unit.Ohm,
        new Working("R = (Vs − Vf) / I, next value of E24", [new("Vs", volts, Unit.Volt, "supply of the LED"), new("Vf", forward, Unit.Volt, "part data"), new("I", milliamps, Unit.Milliamp, "part data")], "Ohm's law; IEC 60063"));

    private static SupportComponent Series(Board board, string wire, PartLine line)
    {
        if (line.ForwardVolts is not { } forward || board.LogicVolts <= forward)
        {
            var ohms = line.SeriesOhms ?? 330;
            return new($"{wire}/series", wire, $"{Ohms(ohms)} resistor", Ohms(ohms), $"In the line to {line.Name}.", []);
        }
        // Little headroom above a blue or green LED: what is left decides the current.
        var milliamps = Math.Min(Math.Min(line.Milliamps ?? LedMilliamps, board.PinPlanMilliamps), Math.Max(0.5, (board.LogicVolts - forward) / 100 * 1000));
        var value = SeriesResistor.LedOhmsE24(board.LogicVolts, forward, milliamps);
        return new($"{wire}/series", wire, $"{Ohms(value)} resistor", Ohms(value), $"In the line to {line.Name}.", [LedFigure(board.LogicVolts, forward, milliamps, value)]);
    }

    private static SupportComponent Reference(Board board, string wire, ResistiveFacts sensor)
    {
        double V(double ohms) => ResistiveSender.Volts(board.LogicVolts, sensor.ReferenceOhms, ohms);
        var inputs = new WorkingInput[] { new("Vs", board.LogicVolts, Unit.Volt, board.Label), new("Rtop", sensor.ReferenceOhms, Unit.Ohm, "1 % resistor"), new("R low", sensor.LowOhms, Unit.Ohm, "part data"), new("R high", sensor.HighOhms, Unit.Ohm, "part data") };
        var span = new Figure("Voltage at the converter", V(Math.Sqrt(sensor.LowOhms * sensor.HighOhms)), V(sensor.LowOhms), V(sensor.HighOhms), Unit.Volt, new Working("V = Vs · R / (Rtop + R), over the range of the sensor", inputs, "Ohm's law"));
        var draw = Figure.Exact("Greatest current", board.LogicVolts / (sensor.ReferenceOhms + sensor.LowOhms) * 1000, Unit.Milliamp, new Working("I = Vs / (Rtop + R low)", inputs[..3], "Ohm's law"));
        return new($"{wire}/reference", wire, $"{Ohms(sensor.ReferenceOhms)} 1 % resistor, 100 nF", Ohms(sensor.ReferenceOhms), $"From {board.LogicVolts} V to the sensor; the pin at their joint, the capacitor from the pin to ground.", [span, draw]);
    }

    /// <summary>The divider that brings a push-pull output down to a pin, or null when no pair of E12 resistors keeps both corners.</summary>
    internal static Divider? DividerFor(double volts, double most, double readsHigh) => Divider.Propose(volts * 1.05, volts * 0.95, most, readsHigh, PreferredValues.E12, Tolerance);

    private static SupportComponent LevelDivider(Board board, string wire, string line, double volts, double most, double readsHigh, bool toBoard)
    {
        var pair = DividerFor(volts, most, readsHigh);
        if (pair is null)
        {
            return new($"{wire}/shifter", wire, "level shifter, one channel", "BSS138 type", $"No pair of 5 % resistors brings {volts} V safely to {most} V and still reads high.", []);
        }
        var inputs = new WorkingInput[]
        {
            new("R1", pair.TopOhms, Unit.Ohm, "IEC 60063, E12"), new("R2", pair.BottomOhms, Unit.Ohm, "IEC 60063, E12"), new("Vin", volts, Unit.Volt, toBoard ? "supply of the part, ±5 %" : $"{board.Label}, ±5 %"),
            new("tolerance", Tolerance * 100, Unit.Percent, "5 % resistors"), new("Vmax", most, Unit.Volt, toBoard ? $"logic supply of the {board.Label}" : "limit of the part's input"),
            new("VIH", readsHigh, Unit.Volt, toBoard ? $"{board.Mcu} data sheet, from memory" : "0.6 of the part's supply: planning value"),
        };
        var pin = new Figure(toBoard ? "Voltage at the pin" : "Voltage at the part", pair.Volts(volts), pair.Corner(Tolerance, false).Volts(volts * 0.95), pair.Corner(Tolerance, true).Volts(volts * 1.05), Unit.Volt,
            new Working("V = Vin · R2 / (R1 + R2), at both corners of supply and resistors", inputs, "Ohm's law"));
        var draw = Figure.Exact("Current drawn while high", pair.DrawMilliamps(volts), Unit.Milliamp, new Working("I = Vin / (R1 + R2)", inputs[..3], "Ohm's law"));
        var source = Figure.Exact("Source resistance", pair.SourceOhms, Unit.Ohm, new Working("R = R1 · R2 / (R1 + R2)", inputs[..2], "Ohm's law"));
        return new($"{wire}/divider", wire, "two resistors as a divider", $"{Ohms(pair.TopOhms)} over {Ohms(pair.BottomOhms)}",
            toBoard ? $"{Ohms(pair.TopOhms)} from {line} to the pin, {Ohms(pair.BottomOhms)} from the pin to ground." : $"{Ohms(pair.TopOhms)} from the pin to {line}, {Ohms(pair.BottomOhms)} from {line} to ground.", [pin, draw, source]);
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
