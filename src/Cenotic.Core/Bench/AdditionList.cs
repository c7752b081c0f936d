using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Bench;

/// <summary>The components that a solution needs besides the parts, with their values and workings.</summary>
public static class AdditionList
{
    private const double Tolerance = 0.05,
        LedMilliamps = 3,
        BaseOhms = 4700,
        SwitchBaseOhms = 10_000,
        GateOhms = 150,
        HoldOhms = 100_000,
        PullUpOhms = 10_000,
        ChannelPullUpOhms = 4700;

    /// <summary>What drives an isolated input whose maker has not said, volts: planning value.</summary>
    internal const double UsualInputVolts = 12;

    /// <summary>Lists them; each names the line it belongs to ("part.LINE"), a bus or a part.</summary>
    public static IReadOnlyList<Addition> Of(Board board, NodeDesign node, NodeSupply supply, PinSolution solution)
    {
        var list = new List<Addition>();
        foreach (var connection in solution.Structure.Connections)
        {
            foreach (var line in connection.Interface.Lines.Where(l => !l.Optional))
            {
                Line(list, board, supply, connection, line);
            }
            AtSupply(list, board, supply, connection);
            if (connection.Part.Opto is { } opto)
            {
                list.Add(IsolatedInput(connection.Instance, opto));
            }
            if (connection is { Behind: not null, Part.PullUpOhms: null })
            {
                list.Add(ChannelPullUps(board, supply, connection));
            }
        }
        foreach (var bus in solution.Structure.I2cBuses.Where(b => b.Any(c => c.Behind is null && LineRules.NeedsShifter(c, board, supply))))
        {
            list.Add(BusShifter(board, supply, bus.Key, [.. bus.Where(c => c.Behind is null && LineRules.NeedsShifter(c, board, supply))]));
        }
        foreach (var (demand, fit) in solution.List.Demands.Zip(solution.Fits))
        {
            AtPin(list, board, node, supply, solution, demand, fit);
        }
        return list;
    }

    /// <summary>What a line of the whole needs once its pin is known.</summary>
    private static void AtPin(List<Addition> list, Board board, NodeDesign node, NodeSupply supply, PinSolution solution, Demand demand, PinFit fit)
    {
        var wire = demand.Wires[0].Key;
        var logic = Logic(board, supply);
        if (demand.Role == LineRole.OneWire)
        {
            var metres = solution.Structure.Connections.Where(c => demand.Wires.Any(w => w.Part == c.Instance.Key)).Sum(c => c.Instance.LeadMetres);
            var ohms = OneWire.PullUpOhms(metres, demand.Wires.Count);
            var key = $"{demand.Key}/pull-up";
            list.Add(
                new(
                    key,
                    demand.Key,
                    $"{Ohms(ohms)} resistor",
                    Ohms(ohms),
                    $"From the line to {board.LogicVolts} V, once for the whole line.",
                    [],
                    [Pieces.Resistor(key, "R1", ohms, demand.Key, logic)]
                )
            );
        }
        if (demand.Role == LineRole.Contact && (demand.Needs.Wake || fit.Adds.Count > 0))
        {
            var ohms = demand.Needs.Wake ? 1_000_000 : PullUpOhms;
            var why = demand.Needs.Wake ? "internal pull-ups may be off in deep sleep; 3.3 µA while closed." : $"{fit.Adds[0]}.";
            list.Add(PullUp(wire, ohms, wire, logic, $"From the contact to {board.LogicVolts} V: {why}"));
        }
        if (wire == DemandList.SupplySense.Key && supply.Cell is { } cell)
        {
            list.Add(SupplySense(wire, cell, SupplyChain.CellNet(board, node.Power, supply)));
        }
    }

    /// <summary>What stands at the supply pin of a part: a switch, a capacitor.</summary>
    private static void AtSupply(List<Addition> list, Board board, NodeSupply supply, Connection connection)
    {
        var (key, label, part) = (connection.Instance.Key, connection.Instance.Label, connection.Part);
        if (part.SupplyPin is not { } pin || supply.For(part, board) is not { } rail)
        {
            return;
        }
        if (connection.Instance.SwitchSupply)
        {
            var wire = $"{key}.PWR";
            var (addition, gate, basis, from) = ($"{wire}/switch", $"{wire}/gate", $"{wire}/base", Circuit.Rail(rail.Id));
            list.Add(
                new(
                    addition,
                    wire,
                    "P-channel MOSFET as a high-side switch, NPN transistor to drive it, 100 kΩ gate to source",
                    "100 kΩ, 10 kΩ",
                    $"Between the rail and {pin}: off while the board starts and sleeps.",
                    [],
                    [
                        Pieces.PMosfet(addition, "Q1", gate, SupplyNet(connection, rail), from),
                        Pieces.Resistor(addition, "R1", HoldOhms, gate, from),
                        Pieces.Npn(addition, "Q2", basis, gate, Circuit.Ground),
                        Pieces.Resistor(addition, "R2", SwitchBaseOhms, wire, basis),
                        Pieces.Resistor(addition, "R3", HoldOhms, basis, Circuit.Ground),
                    ]
                )
            );
        }
        if (part.BulkMicrofarads is { } bulk && part.GroundPin is { } ground)
        {
            var addition = $"{key}/capacitor";
            var piece = Pieces.Capacitor(addition, "C1", bulk.Likely, SupplyNet(connection, rail), Circuit.Ground) with { At = key };
            list.Add(
                new(
                    addition,
                    key,
                    $"{piece.Value} capacitor",
                    piece.Value,
                    $"Across {pin} and {ground} of {label}, close to them{(bulk.Likely > 1 ? ", plus at " + pin : "")}.",
                    [],
                    [piece]
                )
            );
        }
    }

    /// <summary>The resistor before an isolated input, and what drives it: a side of its own, without a joint to the node's ground.</summary>
    private static Addition IsolatedInput(PartInstance instance, OptoInput opto)
    {
        var volts = instance.Variant?.InputVolts ?? UsualInputVolts;
        var (key, plus) = ($"{instance.Key}/input", $"{instance.Key}/input/plus");
        var ohms = SeriesResistor.LedOhmsE24(volts, opto.ForwardVolts, opto.Milliamps);
        return new(
            key,
            $"{instance.Key}.IN+",
            $"{Ohms(ohms)} resistor",
            Ohms(ohms),
            $"From the plus of the pulse source ({volts:0.#} V) to IN+, its minus to IN-. Leave this side apart from the node's ground: that is what "
                + "the optocoupler is for.",
            [LedFigure(volts, opto.ForwardVolts, opto.Milliamps, ohms)],
            [
                Pieces.Resistor(key, "R1", ohms, plus, Circuit.IsolatedPlus(instance.Key)),
                Pieces.PulseSource(key, volts, plus, Circuit.IsolatedMinus(instance.Key)),
            ]
        );
    }

    private static Addition ChannelPullUps(Board board, NodeSupply supply, Connection connection)
    {
        var key = $"{connection.Instance.Key}/pull-ups";
        var pieces = connection
            .Interface.Lines.Where(l => l.Role is LineRole.I2cSda or LineRole.I2cScl)
            .Select((l, at) => Pieces.Resistor(key, $"R{at + 1}", ChannelPullUpOhms, LineNets.Of(connection, l, board, supply).AtPart, Logic(board, supply)))
            .ToList();
        return new(
            key,
            $"{connection.Instance.Key}.SDA",
            $"two {Ohms(ChannelPullUpOhms)} resistors",
            Ohms(ChannelPullUpOhms),
            $"From SDA and SCL of the channel to {board.LogicVolts} V.",
            [],
            pieces
        );
    }

    private static Addition BusShifter(Board board, NodeSupply supply, int number, IReadOnlyList<Connection> beyond)
    {
        var name = $"I2C {number}";
        var rail = supply.For(beyond[0].Part, board)!;
        var (key, logic, far) = ($"{name}/shifter", Logic(board, supply), Circuit.Rail(rail.Id));
        var higher = rail.Volts > board.LogicVolts;
        (string Low, string High) Channel(string line) => higher ? ($"{name}.{line}", $"{name}.{line}/shifted") : ($"{name}.{line}/shifted", $"{name}.{line}");
        return new(
            key,
            name,
            "level shifter, two channels (BSS138 type)",
            $"{Math.Min(rail.Volts, board.LogicVolts)} V to {Math.Max(rail.Volts, board.LogicVolts)} V",
            $"SDA and SCL of {string.Join(", ", beyond.Select(c => c.Instance.Label))} on its {rail.Volts} V side, the bus of the board on its "
                + $"{board.LogicVolts} V side.",
            [],
            [Pieces.Shifter(key, "U1", higher ? logic : far, higher ? far : logic, Channel("SDA"), Channel("SCL"))]
        );
    }

    /// <summary>The pair of pull-ups of a bus.</summary>
    internal static Addition BusPullUps(Board board, NodeSupply supply, string bus, double ohms)
    {
        var key = $"{bus}/pull-ups";
        return new(
            key,
            bus,
            $"two {Ohms(ohms)} resistors",
            Ohms(ohms),
            $"From SDA and from SCL to {board.LogicVolts} V.",
            [],
            [Pieces.Resistor(key, "R1", ohms, $"{bus}.SDA", Logic(board, supply)), Pieces.Resistor(key, "R2", ohms, $"{bus}.SCL", Logic(board, supply))]
        );
    }

    /// <summary>Key of the net that supplies a part: its rail, or what its switch lets through.</summary>
    internal static string SupplyNet(Connection connection, Rail rail) =>
        connection.Instance.SwitchSupply ? $"{connection.Instance.Key}/supply" : Circuit.Rail(rail.Id);

    /// <summary>Key of the net of the board's logic supply.</summary>
    internal static string Logic(Board board, NodeSupply supply) =>
        Circuit.Rail(
            (
                supply.Rails.FirstOrDefault(r => Math.Abs(r.Volts - board.LogicVolts) < 0.01)
                ?? board.Rails.First(r => Math.Abs(r.Volts - board.LogicVolts) < 0.01)
            ).Id
        );

    private static Addition PullUp(string wire, double ohms, string line, string to, string where)
    {
        var key = $"{wire}/pull-up";
        return new(key, wire, $"{Ohms(ohms)} resistor", Ohms(ohms), where, [], [Pieces.Resistor(key, "R1", ohms, line, to)]);
    }

    private static void Line(List<Addition> list, Board board, NodeSupply supply, Connection connection, PartLine line)
    {
        if (LineRules.Of(line, connection, board, supply) is var support and not LineSupport.None)
        {
            list.Add(Support(support, board, supply, connection, line));
        }
    }

    private static Addition Support(LineSupport support, Board board, NodeSupply supply, Connection connection, PartLine line)
    {
        var wire = $"{connection.Instance.Key}.{line.Name}";
        var rail = supply.For(connection.Part, board);
        var railVolts = rail?.Volts ?? board.LogicVolts;
        var volts = LineRules.Volts(line, connection, board, supply);
        var nets = LineNets.Of(connection, line, board, supply);
        var logic = Logic(board, supply);
        var own = rail is null ? logic : SupplyNet(connection, rail);
        return support switch
        {
            LineSupport.DividerToBoard => LevelDivider(
                board,
                new(wire, line.Name, nets, own, logic, ToBoard: true, volts, board.LogicVolts, board.HighAtLeastVolts)
            ),
            LineSupport.DividerToPart => LevelDivider(
                board,
                new(wire, line.Name, nets, own, logic, ToBoard: false, board.LogicVolts, line.MaxVolts ?? railVolts, 0.6 * (line.MaxVolts ?? railVolts))
            ),
            LineSupport.OwnPullUp => PullUp(
                wire,
                PullUpOhms,
                nets.AtPart,
                logic,
                $"From {line.Name} to {board.LogicVolts} V. Take the module's own pull-up to {volts} V off first: it would lift the pin to {volts} V."
            ),
            LineSupport.Buffer => BufferToPart(board, wire, line, nets, own, railVolts),
            LineSupport.BufferDown => BufferDown(board, wire, line, nets, own, railVolts),
            LineSupport.BufferToBoard => BufferToBoard(board, wire, line, nets, logic, volts),
            LineSupport.Transistor => InverterTransistor(board, wire, line, nets, volts),
            LineSupport.LoadSwitch or LineSupport.LoadSwitchWithDiode => LoadSwitch(
                board,
                wire,
                line,
                nets,
                own,
                railVolts,
                support == LineSupport.LoadSwitchWithDiode
            ),
            LineSupport.Gate => Gate(wire, nets),
            LineSupport.SeriesResistor => Series(board, wire, line, nets),
            LineSupport.PullUp => PullUp(
                wire,
                PullUpOhms,
                nets.AtPart,
                logic,
                line.Role == LineRole.SpiSelect
                    ? $"From {line.Name} to {board.LogicVolts} V: the part stays off the bus while the board starts."
                    : $"From {line.Name} to {board.LogicVolts} V."
            ),
            LineSupport.Reference => Reference(board, wire, line, nets, logic, connection.Interface.Resistive!),
            _ => throw new InvalidOperationException($"No component for {support}."),
        };
    }

    private static Addition InverterTransistor(Board board, string wire, PartLine line, LineNets nets, double volts)
    {
        var key = $"{wire}/transistor";
        var basis = $"{wire}/base";
        return new(
            key,
            wire,
            "NPN transistor, 4.7 kΩ to its base, 100 kΩ from base to ground",
            "4.7 kΩ, 100 kΩ",
            $"Base from the pin, collector to {line.Name}, emitter to ground. It turns the sense round: high switches on. A {board.LogicVolts} V pin "
                + $"straight on {line.Name} may never switch off, since {line.Name} rests at {volts} V.",
            [BaseCurrent(board)],
            [
                Pieces.Npn(key, "Q1", basis, nets.AtPart, Circuit.Ground),
                Pieces.Resistor(key, "R1", BaseOhms, nets.AtPin, basis),
                Pieces.Resistor(key, "R2", HoldOhms, basis, Circuit.Ground),
            ]
        );
    }

    private static Addition Gate(string wire, LineNets nets)
    {
        var key = $"{wire}/gate";
        return new(
            key,
            wire,
            "150 Ω to the gate, 100 kΩ from gate to ground",
            "150 Ω, 100 kΩ",
            "Off while the board starts. A load with a coil wants a flyback diode across it, its cathode at the supply.",
            [],
            [Pieces.Resistor(key, "R1", GateOhms, nets.AtPin, nets.AtPart), Pieces.Resistor(key, "R2", HoldOhms, nets.AtPart, Circuit.Ground)]
        );
    }

    private static Addition BufferToPart(Board board, string wire, PartLine line, LineNets nets, string own, double rail) =>
        Buffer(
            wire,
            "74HCT1G125",
            nets.AtPin,
            nets.AtPart,
            own,
            $"Between the pin and {line.Name}, fed {rail} V: {line.Name} reads a high from {LineRules.ReadsHighFrom(line, rail):0.0#} V, the pin "
                + $"gives {board.LogicVolts} V.",
            HighMargin(board.LogicVolts * LineRules.SureHighOfSupply, 2, "pin", "74HCT1G125, data sheet, from memory")
        );

    private static Addition BufferDown(Board board, string wire, PartLine line, LineNets nets, string own, double rail) =>
        Buffer(
            wire,
            "74LVC1G125",
            nets.AtPin,
            nets.AtPart,
            own,
            $"Between the pin and {line.Name}, fed {rail} V: it takes the {board.LogicVolts} V of the board and gives {rail} V, fast enough for a clock.",
            HighMargin(board.LogicVolts * LineRules.SureHighOfSupply, 2, "pin", "74LVC1G125 at 3.3 V, data sheet, from memory")
        );

    private static Addition BufferToBoard(Board board, string wire, PartLine line, LineNets nets, string logic, double volts) =>
        Buffer(
            wire,
            "74HCT1G125",
            nets.AtPart,
            nets.AtPin,
            logic,
            $"Between {line.Name} and the pin, fed {board.LogicVolts} V: {line.Name} gives {volts:0.0#} V, the {board.Label} reads a high from "
                + $"{board.HighAtLeastVolts} V.",
            HighMargin(volts, 2, "part", "74HCT1G125, data sheet, from memory")
        );

    private static Addition Buffer(string wire, string type, string from, string to, string supply, string where, Figure margin)
    {
        var key = $"{wire}/buffer";
        return new(
            key,
            wire,
            $"buffer gate ({type} type), 100 nF",
            type,
            where,
            [margin],
            [Pieces.Buffer(key, "U1", type, from, to, supply), Pieces.Capacitor(key, "C1", 0.1, supply, Circuit.Ground)]
        );
    }

    /// <summary>How far a high level lies above what reads as high.</summary>
    internal static Figure HighMargin(double gives, double reads, string driver, string source) =>
        Figure.Exact(
            "Margin of the high level",
            gives - reads,
            Unit.Volt,
            new Working("margin = VOH − VIH", [new("VOH", gives, Unit.Volt, driver), new("VIH", reads, Unit.Volt, source)], "logic levels")
        );

    /// <summary>From a warm transistor with a low drop to a cold one with a high drop; what the resistor
    /// from base to ground takes is left out of the upper end only.</summary>
    private static Figure BaseCurrent(Board board)
    {
        const double least = 0.55,
            likely = 0.65,
            most = 0.8;
        double Milliamps(double junction, double held) => ((board.LogicVolts - junction) / BaseOhms - held / HoldOhms) * 1000;
        return new(
            "Base current",
            Milliamps(likely, likely),
            Milliamps(most, most),
            Milliamps(least, 0),
            Unit.Milliamp,
            new Working(
                "I = (V − Vbe) / R1 − Vbe / R2",
                [
                    new("V", board.LogicVolts, Unit.Volt, board.Label),
                    new("Vbe", likely, Unit.Volt, "silicon transistor, 0.55 to 0.8 V, from memory"),
                    new("R1", BaseOhms, Unit.Ohm, "IEC 60063, E12"),
                    new("R2", HoldOhms, Unit.Ohm, "IEC 60063, E12"),
                ],
                "Ohm's law"
            )
        );
    }

    private static Addition LoadSwitch(Board board, string wire, PartLine line, LineNets nets, string supply, double rail, bool diode)
    {
        var (key, gate, drain) = ($"{wire}/switch", $"{wire}/gate", nets.AtPart);
        var figures = new List<Figure>();
        var pieces = new List<Component>();
        var series = "";
        if (line.ForwardVolts is { } forward && rail > forward)
        {
            var ohms = SeriesResistor.LedOhmsE24(rail, forward, line.Milliamps!.Value);
            series = $", {Ohms(ohms)} in series";
            drain = $"{wire}/drain";
            pieces.Add(Pieces.Resistor(key, "R3", ohms, nets.AtPart, drain));
            figures.Add(LedFigure(rail, forward, line.Milliamps.Value, ohms));
        }
        figures.Add(
            Figure.Exact(
                "Current to switch",
                line.Milliamps!.Value,
                Unit.Milliamp,
                new Working("from the catalogue; above what a pin gives", [new("pin", board.PinPlanMilliamps, Unit.Milliamp, board.Label)], "part data")
            )
        );
        pieces.InsertRange(
            0,
            [
                Pieces.NMosfet(key, "Q1", gate, drain, Circuit.Ground),
                Pieces.Resistor(key, "R1", GateOhms, nets.AtPin, gate),
                Pieces.Resistor(key, "R2", HoldOhms, gate, Circuit.Ground),
            ]
        );
        if (diode)
        {
            pieces.Add(Pieces.Diode(key, "D1", "1N5819 type", drain, supply));
        }
        return new(
            key,
            wire,
            $"N-channel MOSFET (AO3400A type), 150 Ω to its gate, 100 kΩ gate to ground{(diode ? ", flyback diode (1N5819 type)" : "")}{series}",
            $"{Ohms(GateOhms)}, 100 kΩ",
            $"Gate from the pin, drain to {line.Name}, source to ground: {line.Milliamps} mA at {rail} V, which no pin "
                + $"gives.{(diode ? " The diode across the load, its cathode at the supply: the coil's spike would kill the transistor." : "")} Off while "
                + "the board starts.",
            figures,
            pieces
        );
    }

    private static Figure LedFigure(double volts, double forward, double milliamps, double ohms) =>
        Figure.Exact(
            "Resistor",
            ohms,
            Unit.Ohm,
            new Working(
                "R = (Vs − Vf) / I, next value of E24",
                [new("Vs", volts, Unit.Volt, "supply of the LED"), new("Vf", forward, Unit.Volt, "part data"), new("I", milliamps, Unit.Milliamp, "part data")],
                "Ohm's law; IEC 60063"
            )
        );

    private static Addition Series(Board board, string wire, PartLine line, LineNets nets)
    {
        var key = $"{wire}/series";
        if (line.ForwardVolts is not { } forward || board.LogicVolts <= forward)
        {
            var ohms = line.SeriesOhms ?? 330;
            ohms = line.Milliamps > board.PinPlanMilliamps ? Math.Max(ohms, SeriesResistor.LedOhmsE24(board.LogicVolts, 0, board.PinPlanMilliamps)) : ohms;
            return new(
                key,
                wire,
                $"{Ohms(ohms)} resistor",
                Ohms(ohms),
                $"In the line to {line.Name}.",
                [],
                [Pieces.Resistor(key, "R1", ohms, nets.AtPin, nets.AtPart)]
            );
        }
        // Little headroom above a blue or green LED: what is left decides the current.
        var milliamps = Math.Min(Math.Min(line.Milliamps ?? LedMilliamps, board.PinPlanMilliamps), Math.Max(0.5, (board.LogicVolts - forward) / 100 * 1000));
        var value = SeriesResistor.LedOhmsE24(board.LogicVolts, forward, milliamps);
        var dim = line.Milliamps > board.PinPlanMilliamps ? $" The pin gives {board.PinPlanMilliamps} mA, so it is dimmer than with {line.Milliamps} mA." : "";
        return new(
            key,
            wire,
            $"{Ohms(value)} resistor",
            Ohms(value),
            $"In the line to {line.Name}.{dim}",
            [LedFigure(board.LogicVolts, forward, milliamps, value)],
            [Pieces.Resistor(key, "R1", value, nets.AtPin, nets.AtPart)]
        );
    }

    private static Addition Reference(Board board, string wire, PartLine line, LineNets nets, string logic, ResistiveFacts sensor)
    {
        var key = $"{wire}/reference";
        double V(double ohms) => ResistiveSender.Volts(board.LogicVolts, sensor.ReferenceOhms, ohms);
        var inputs = new WorkingInput[]
        {
            new("Vs", board.LogicVolts, Unit.Volt, board.Label),
            new("Rtop", sensor.ReferenceOhms, Unit.Ohm, "1 % resistor"),
            new("R low", sensor.LowOhms, Unit.Ohm, "part data"),
            new("R high", sensor.HighOhms, Unit.Ohm, "part data"),
        };
        var span = new Figure(
            "Voltage at the converter",
            V(Math.Sqrt(sensor.LowOhms * sensor.HighOhms)),
            V(sensor.LowOhms),
            V(sensor.HighOhms),
            Unit.Volt,
            new Working("V = Vs · R / (Rtop + R), over the range of the sensor", inputs, "Ohm's law")
        );
        var draw = Figure.Exact(
            "Greatest current",
            board.LogicVolts / (sensor.ReferenceOhms + sensor.LowOhms) * 1000,
            Unit.Milliamp,
            new Working("I = Vs / (Rtop + R low)", inputs[..3], "Ohm's law")
        );
        var pieces = new List<Component>
        {
            Pieces.Resistor(key, "R1", sensor.ReferenceOhms, logic, nets.AtPart),
            Pieces.Capacitor(key, "C1", 0.1, nets.AtPin, Circuit.Ground),
        };
        var protection = "";
        if (line.SeriesOhms is { } series)
        {
            protection = $" {Ohms(series)} from the joint to the pin: it limits what a long lead can drive into the pin.";
            pieces.Insert(1, Pieces.Resistor(key, "R2", series, nets.AtPart, nets.AtPin));
        }
        return new(
            key,
            wire,
            $"{Ohms(sensor.ReferenceOhms)} 1 % resistor, {(line.SeriesOhms is { } s ? $"{Ohms(s)} resistor, " : "")}100 nF",
            Ohms(sensor.ReferenceOhms),
            $"From {board.LogicVolts} V to the sensor; the pin at their joint, the capacitor from the pin to ground.{protection}",
            [span, draw],
            pieces
        );
    }

    /// <summary>The divider that brings a push-pull output down to a pin, or null when no pair of E12 resistors keeps both corners.</summary>
    internal static Divider? DividerFor(double volts, double most, double readsHigh) =>
        Divider.Propose(volts * 1.05, volts * 0.95, most, readsHigh, PreferredValues.E12, Tolerance);

    /// <summary>A line whose sender is at more volts than its receiver takes.</summary>
    /// <param name="OwnNet">The supply of the part.</param>
    /// <param name="LogicNet">The logic supply of the board.</param>
    /// <param name="ToBoard">True when the part sends.</param>
    /// <param name="Volts">What is sent.</param>
    /// <param name="MostVolts">What the receiver takes.</param>
    /// <param name="HighVolts">What it reads as high for sure.</param>
    private sealed record UnequalLine(
        string Wire,
        string Name,
        LineNets Nets,
        string OwnNet,
        string LogicNet,
        bool ToBoard,
        double Volts,
        double MostVolts,
        double HighVolts
    );

    private static Addition LevelDivider(Board board, UnequalLine line)
    {
        var (wire, nets, volts, toBoard) = (line.Wire, line.Nets, line.Volts, line.ToBoard);
        var pair = DividerFor(volts, line.MostVolts, line.HighVolts);
        if (pair is null)
        {
            return Shifter(line);
        }
        var inputs = new WorkingInput[]
        {
            new("R1", pair.TopOhms, Unit.Ohm, "IEC 60063, E12"),
            new("R2", pair.BottomOhms, Unit.Ohm, "IEC 60063, E12"),
            new("Vin", volts, Unit.Volt, toBoard ? "supply of the part, ±5 %" : $"{board.Label}, ±5 %"),
            new("tolerance", Tolerance * 100, Unit.Percent, "5 % resistors"),
            new("Vmax", line.MostVolts, Unit.Volt, toBoard ? $"logic supply of the {board.Label}" : "limit of the part's input"),
            new("VIH", line.HighVolts, Unit.Volt, toBoard ? $"{board.Mcu} data sheet, from memory" : "0.6 of the part's supply: planning value"),
        };
        var pin = new Figure(
            toBoard ? "Voltage at the pin" : "Voltage at the part",
            pair.Volts(volts),
            pair.Corner(Tolerance, false).Volts(volts * 0.95),
            pair.Corner(Tolerance, true).Volts(volts * 1.05),
            Unit.Volt,
            new Working("V = Vin · R2 / (R1 + R2), at both corners of supply and resistors", inputs, "Ohm's law")
        );
        var draw = Figure.Exact(
            "Current drawn while high",
            pair.DrawMilliamps(volts),
            Unit.Milliamp,
            new Working("I = Vin / (R1 + R2)", inputs[..3], "Ohm's law")
        );
        var source = Figure.Exact("Source resistance", pair.SourceOhms, Unit.Ohm, new Working("R = R1 · R2 / (R1 + R2)", inputs[..2], "Ohm's law"));
        return new(
            $"{wire}/divider",
            wire,
            "two resistors as a divider",
            $"{Ohms(pair.TopOhms)} over {Ohms(pair.BottomOhms)}",
            toBoard
                ? $"{Ohms(pair.TopOhms)} from {line.Name} to the pin, {Ohms(pair.BottomOhms)} from the pin to ground."
                : $"{Ohms(pair.TopOhms)} from the pin to {line.Name}, {Ohms(pair.BottomOhms)} from {line.Name} to ground.",
            [pin, draw, source],
            toBoard ? Legs(nets.AtPart, nets.AtPin) : Legs(nets.AtPin, nets.AtPart)
        );

        IReadOnlyList<Component> Legs(string from, string to) =>
            [Pieces.Resistor($"{wire}/divider", "R1", pair.TopOhms, from, to), Pieces.Resistor($"{wire}/divider", "R2", pair.BottomOhms, to, Circuit.Ground)];
    }

    /// <summary>Where no two resistors will do.</summary>
    private static Addition Shifter(UnequalLine line)
    {
        var (wire, nets) = (line.Wire, line.Nets);
        var (low, high) = line.ToBoard ? (nets.AtPin, nets.AtPart) : (nets.AtPart, nets.AtPin);
        var (lowSupply, highSupply) = line.ToBoard ? (line.LogicNet, line.OwnNet) : (line.OwnNet, line.LogicNet);
        return new(
            $"{wire}/shifter",
            wire,
            "level shifter, one channel",
            "BSS138 type",
            $"No pair of 5 % resistors brings {line.Volts} V safely to {line.MostVolts} V and still reads high.",
            [],
            [Pieces.Shifter($"{wire}/shifter", "U1", lowSupply, highSupply, (low, high))]
        );
    }

    private static Addition SupplySense(string wire, Cell cell, string cellNet)
    {
        var key = $"{wire}/divider";
        // Kept inside the straight part of the converter, and slow enough to draw next to nothing.
        const double straightTo = 2.4;
        var pair = Divider.Propose(cell.FullVolts, cell.EmptyVolts, straightTo, 0.15, PreferredValues.E12, Tolerance, 0.05, 180_000, 400_000)
            ?? new Divider(100_000, 100_000);
        var figure = new Figure(
            "Voltage at the converter, cell full",
            pair.Volts(cell.FullVolts),
            pair.Corner(Tolerance, false).Volts(cell.FullVolts),
            pair.Corner(Tolerance, true).Volts(cell.FullVolts),
            Unit.Volt,
            new Working(
                "V = Vcell · R2 / (R1 + R2)",
                [
                    new("R1", pair.TopOhms, Unit.Ohm, "IEC 60063, E12"),
                    new("R2", pair.BottomOhms, Unit.Ohm, "IEC 60063, E12"),
                    new("Vcell", cell.FullVolts, Unit.Volt, cell.Source),
                ],
                "Ohm's law"
            )
        );
        return new(
            key,
            wire,
            "two resistors as a divider, 100 nF to ground",
            $"{Ohms(pair.TopOhms)} over {Ohms(pair.BottomOhms)}",
            "From the cell to the pin and from the pin to ground; the capacitor gives the converter its charge.",
            [figure],
            [
                Pieces.Resistor(key, "R1", pair.TopOhms, cellNet, wire),
                Pieces.Resistor(key, "R2", pair.BottomOhms, wire, Circuit.Ground),
                Pieces.Capacitor(key, "C1", 0.1, wire, Circuit.Ground),
            ]
        );
    }

    /// <summary>A resistance as makers write it.</summary>
    internal static string Ohms(double ohms) =>
        ohms >= 1e6 ? $"{ohms / 1e6:0.##} MΩ"
        : ohms >= 1000 ? $"{ohms / 1000:0.##} kΩ"
        : $"{ohms:0.##} Ω";
}
