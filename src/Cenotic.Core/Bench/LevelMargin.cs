using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;

namespace Cenotic.Core.Bench;

/// <summary>How far the high level of a line lies above what its reader takes for high, where nothing stands between that has figures of its own.</summary>
internal static class LevelMargin
{
    /// <summary>From where an input reads high, as a part of its supply: I2C lines by UM10204; other inputs as usual CMOS, from memory.</summary>
    private const double HighOfSupply = 0.7;

    /// <summary>The margin, volts; null for a line that is no level, and where the reader's threshold is not known.</summary>
    internal static Figure? Of(PartLine line, Connection connection, Board board, NodeSupply supply)
    {
        var between = LineRules.Of(line, connection, board, supply);
        if (
            between is not (LineSupport.None or LineSupport.OwnPullUp or LineSupport.PullUp or LineSupport.SeriesResistor)
            || line.ForwardVolts is not null
            || connection.Behind is not null
            || LineRules.NeedsShifter(connection, board, supply)
        )
        {
            return null;
        }
        var rail = supply.For(connection.Part, board)?.Volts ?? board.LogicVolts;
        return line.Role switch
        {
            LineRole.I2cSda or LineRole.I2cScl => Pulled(
                board,
                Math.Max(HighOfSupply * rail, board.I2cHighAtLeastVolts ?? board.HighAtLeastVolts),
                "UM10204: 0.7 of the supply; the board's pins"
            ),
            LineRole.OneWire or LineRole.SingleWire or LineRole.Contact => Pulled(board, board.HighAtLeastVolts, $"{board.Mcu} data sheet, from memory"),
            LineRole.DigitalToBoard or LineRole.UartToBoard or LineRole.SpiMiso => ToBoard(line, board, rail),
            LineRole.DigitalToPart or LineRole.UartToPart or LineRole.SpiSck or LineRole.SpiMosi or LineRole.SpiSelect => ToPart(line, connection, board, rail),
            _ => null,
        };
    }

    private static Figure Pulled(Board board, double reads, string source) =>
        AdditionList.HighMargin(board.LogicVolts, reads, "pull-up to the logic supply", source);

    private static Figure ToBoard(PartLine line, Board board, double rail) =>
        line.Drive == LineDrive.PushPull
            ? AdditionList.HighMargin(
                line.HighVolts ?? rail * LineRules.SureHighOfSupply,
                board.HighAtLeastVolts,
                line.HighVolts is null ? "0.8 of the part's supply, which an output surely gives" : "part data",
                $"{board.Mcu} data sheet, from memory"
            )
            : Pulled(board, board.HighAtLeastVolts, $"{board.Mcu} data sheet, from memory");

    private static Figure? ToPart(PartLine line, Connection connection, Board board, double rail)
    {
        var gives = board.LogicVolts * LineRules.SureHighOfSupply;
        if (LineRules.ReadsHighFrom(line, rail) is > 0 and var reads)
        {
            return AdditionList.HighMargin(gives, reads, $"0.8 of the {board.LogicVolts} V of the board, which a pin surely gives", connection.Part.Source);
        }
        return rail > board.LogicVolts + 0.01
            ? null
            : AdditionList.HighMargin(
                gives,
                HighOfSupply * rail,
                $"0.8 of the {board.LogicVolts} V of the board",
                "usual CMOS input, 0.7 of its supply: the part's own is not recorded"
            );
    }
}
