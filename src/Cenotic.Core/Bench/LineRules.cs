using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>What must stand between a line of a part and a pin of the board, and what that weighs. One place for the planner and for the list of components.</summary>
public enum LineSupport
{
    None,

    /// <summary>Two resistors bring a push-pull output down to the pin.</summary>
    DividerToBoard,

    /// <summary>The module's own pull-up is taken off and one to the logic voltage fitted.</summary>
    OwnPullUp,

    /// <summary>Two resistors bring the pin's output down to the part.</summary>
    DividerToPart,

    /// <summary>A buffer chip lifts the pin's high to what the part reads as high.</summary>
    Buffer,

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
    /// <summary>The highest level of the line by itself, volts.</summary>
    internal static double Volts(PartLine line, Connection connection, Board board, NodeSupply supply) =>
        connection.Interface.Resistive is not null ? board.LogicVolts : line.HighVolts ?? supply.For(connection.Part, board)?.Volts ?? connection.Part.SupplyMinVolts ?? board.LogicVolts;

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
                if (line.Milliamps > board.PinPlanMilliamps)
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
                if (line.HighAtLeastOfSupply * rail > board.LogicVolts)
                {
                    return LineSupport.Buffer;
                }
                return ToPartTooHigh() && !line.OpenDrain ? LineSupport.DividerToPart : LineSupport.None;
            default:
                return LineSupport.None;
        }

        bool ToPartTooHigh() => board.LogicVolts > (line.MaxVolts ?? Math.Max(rail, connection.Part.SupplyMaxVolts ?? rail)) + 0.35;
    }

    /// <summary>Its weight in components.</summary>
    internal static int Weight(LineSupport support) => support switch
    {
        LineSupport.DividerToBoard or LineSupport.DividerToPart or LineSupport.Gate => Weights.Divider,
        LineSupport.OwnPullUp or LineSupport.SeriesResistor or LineSupport.PullUp or LineSupport.Reference => Weights.Piece,
        LineSupport.Buffer => Weights.Buffer,
        LineSupport.Transistor or LineSupport.LoadSwitch => Weights.Transistor,
        LineSupport.LoadSwitchWithDiode => Weights.Transistor + Weights.Piece,
        _ => 0,
    };

    /// <summary>True when the part's bus lines sit at another level than the board's.</summary>
    internal static bool NeedsShifter(Connection connection, Board board, NodeSupply supply) =>
        connection.Interface.Kind == InterfaceKind.I2c && supply.For(connection.Part, board) is { } rail && Math.Abs(rail.Volts - board.LogicVolts) > 0.5;
}
