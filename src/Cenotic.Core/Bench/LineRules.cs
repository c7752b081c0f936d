using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>What must stand between a line of a part and a pin of the board, and what that weighs.
/// One place for the planner and for the list of components.</summary>
public enum LineSupport
{
    /// <summary>A plain wire.</summary>
    None,

    /// <summary>Two resistors bring a push-pull output down to the pin.</summary>
    DividerToBoard,

    /// <summary>The module's own pull-up is taken off and one to the logic voltage fitted.</summary>
    OwnPullUp,

    /// <summary>Two resistors bring the pin's output down to the part.</summary>
    DividerToPart,

    /// <summary>A buffer chip lifts the pin's high to what the part reads as high.</summary>
    Buffer,

    /// <summary>A buffer chip brings a fast line down to what the part stands.</summary>
    BufferDown,

    /// <summary>A buffer chip lifts the part's high to what the board reads as high.</summary>
    BufferToBoard,

    /// <summary>An NPN transistor pulls an input low that floats above what the pin stands.</summary>
    Transistor,

    /// <summary>A low-side MOSFET switches a load the pin cannot.</summary>
    LoadSwitch,

    /// <summary>The same with a diode for the load's voltage spike.</summary>
    LoadSwitchWithDiode,

    /// <summary>Gate resistor and pull-down for a MOSFET on the module.</summary>
    Gate,

    /// <summary>One resistor in the line.</summary>
    SeriesResistor,

    /// <summary>A pull-up that keeps the part off its bus while the board starts, or that a single-wire line needs.</summary>
    PullUp,

    /// <summary>A reference resistor that makes a divider of a resistive sensor.</summary>
    Reference,
}

/// <summary>Rules of one line of a part on a board.</summary>
internal static class LineRules
{
    /// <summary>What an output surely gives as a high, as a part of its supply, with its usual small
    /// load. Data sheets of the boards' chips, from memory: 0.8 or more.</summary>
    internal const double SureHighOfSupply = 0.8;

    /// <summary>Least distance between a part's high and what the board reads as high, volts: planning value for noise and tolerance.</summary>
    private const double LeastMarginVolts = 0.1;

    /// <summary>From where the part reads a high, volts; 0 where it is not known.</summary>
    internal static double ReadsHighFrom(PartLine line, double railVolts) => line.HighAtLeastVolts ?? (line.HighAtLeastOfSupply ?? 0) * railVolts;

    /// <summary>The highest level of the line by itself, volts.</summary>
    internal static double Volts(PartLine line, Connection connection, Board board, NodeSupply supply) =>
        connection.Interface.Resistive is not null
            ? board.LogicVolts
            : line.HighVolts ?? supply.For(connection.Part, board)?.Volts ?? connection.Part.SupplyMinVolts ?? board.LogicVolts;

    /// <summary>What must stand between.</summary>
    internal static LineSupport Of(PartLine line, Connection connection, Board board, NodeSupply supply)
    {
        var volts = Volts(line, connection, board, supply);
        var rail = supply.For(connection.Part, board)?.Volts ?? board.LogicVolts;
        var tooHigh = volts > board.PinMaxVolts;
        switch (line.Role)
        {
            case LineRole.DigitalToBoard or LineRole.UartToBoard or LineRole.SpiMiso when tooHigh:
                return line.Drive == LineDrive.OpenDrain ? LineSupport.OwnPullUp : LineSupport.DividerToBoard;
            case LineRole.DigitalToBoard or LineRole.UartToBoard when line.Drive == LineDrive.PushPull && volts < board.HighAtLeastVolts + LeastMarginVolts:
                return LineSupport.BufferToBoard;
            case LineRole.SpiSelect:
                return ToPartTooHigh() ? LineSupport.DividerToPart : LineSupport.PullUp;
            case LineRole.SingleWire when connection.Part.PullUpOhms is null:
                return LineSupport.PullUp;
            case LineRole.Analog when connection.Interface.Resistive is not null:
                return LineSupport.Reference;
            case LineRole.Analog when tooHigh:
                return LineSupport.DividerToBoard;
            case LineRole.DigitalToPart or LineRole.UartToPart or LineRole.SpiSck or LineRole.SpiMosi:
                if (line.FloatsToSupply && rail > board.PinMaxVolts)
                {
                    return LineSupport.Transistor;
                }
                if (line.Milliamps > board.PinPlanMilliamps && !IsFedByPin(line, connection.Part))
                {
                    return line.Inductive ? LineSupport.LoadSwitchWithDiode : LineSupport.LoadSwitch;
                }
                if (line.Gate)
                {
                    return LineSupport.Gate;
                }
                if (line.Milliamps is not null || line.SeriesOhms is not null)
                {
                    return LineSupport.SeriesResistor;
                }
                if (ReadsHighFrom(line, rail) > board.LogicVolts)
                {
                    return LineSupport.Buffer;
                }
                if (!ToPartTooHigh() || line.OpenDrain)
                {
                    return LineSupport.None;
                }
                // Two resistors and the input's capacitance are too slow for a clock of megahertz.
                return line.Role is LineRole.SpiSck or LineRole.SpiMosi ? LineSupport.BufferDown : LineSupport.DividerToPart;
            default:
                return LineSupport.None;
        }

        bool ToPartTooHigh() => board.LogicVolts > (line.MaxVolts ?? Math.Max(rail, connection.Part.SupplyMaxVolts ?? rail) + 0.35);
    }

    /// <summary>Number of the serial port that the program makes of two plain pins.</summary>
    internal const int SoftwareSerial = 99;

    /// <summary>Fastest rate at which a program reads a serial line without losing bits, baud: common practice, no source.</summary>
    private const int SoftwareBaud = 9600;

    /// <summary>True where a program can read this interface from plain pins: slow enough, and its pins are timed by nothing but the program.</summary>
    internal static bool CanBeSoftwareSerial(PartInterface by, Board board) =>
        by is { Kind: InterfaceKind.Uart, Baud: <= SoftwareBaud } && board.Pins.All(p => !p.Has(Hazard.SoftwareTimed));

    /// <summary>True for an LED or a sounder to ground: only its pin can feed it, so its resistor keeps to what the pin gives.</summary>
    internal static bool IsFedByPin(PartLine line, Part part) => line.Milliamps is not null && part.SupplyPin is null;

    /// <summary>Its weight in components.</summary>
    internal static int Weight(LineSupport support) =>
        support switch
        {
            LineSupport.DividerToBoard or LineSupport.DividerToPart or LineSupport.Gate => Weights.Divider,
            LineSupport.OwnPullUp or LineSupport.SeriesResistor or LineSupport.PullUp or LineSupport.Reference => Weights.Piece,
            LineSupport.Buffer or LineSupport.BufferDown or LineSupport.BufferToBoard => Weights.Buffer,
            LineSupport.Transistor or LineSupport.LoadSwitch => Weights.Transistor,
            LineSupport.LoadSwitchWithDiode => Weights.Transistor + Weights.Piece,
            _ => 0,
        };

    /// <summary>True when the part's bus lines sit at another level than the board's.</summary>
    internal static bool NeedsShifter(Connection connection, Board board, NodeSupply supply) =>
        connection.Interface.Kind == InterfaceKind.I2c && supply.For(connection.Part, board) is { } rail && Math.Abs(rail.Volts - board.LogicVolts) > 0.5;
}
