using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>What feeds the node, and the rails that parts can have then.</summary>
/// <param name="Input">The board's input that is used; null when none fits the supply.</param>
/// <param name="Rails">Rails with a voltage under this supply.</param>
public sealed record NodeSupply(SupplyInput? Input, IReadOnlyList<Rail> Rails, Cell? Cell)
{
    /// <summary>What a 5 V supply of 1 A leaves for parts beside a board with Wi-Fi, mA.</summary>
    private static readonly Fact FiveVoltSupply = Fact.Of(700, "planning value for a 5 V supply of 1 A", Confidence.Prudent);

    /// <summary>Works out the input and the rails.</summary>
    public static NodeSupply Of(Board board, PowerDesign power, HardwareCatalogue catalogue)
    {
        var cell = power.Cell is { } id ? catalogue.Cell(id) : null;
        if (power.Kind == PowerKind.Usb)
        {
            return new(board.Supplies.First(s => s.Pin is null), board.Rails, null);
        }
        if (power.Kind == PowerKind.FiveVolt || power.StepUp)
        {
            var input = board.Supplies.FirstOrDefault(s => s.Pin is not null && s.MinVolts <= 5 && s.MaxVolts >= 5);
            var rails = board.Rails.Where(r => !r.UsbOnly).Select(r => r.FedFrom == "usb" ? r with { BudgetMilliamps = FiveVoltSupply } : r).ToList();
            if (input?.Pin is { } pin && rails.All(r => r.Id != input.Id))
            {
                // A board whose input pin carries no rail of its own: the 5 V supply is shared before the board.
                rails.Insert(0, new Rail(input.Id, board.Pin(pin).Label, 5, 4.75, FiveVoltSupply, input.Id));
            }
            return new(input, rails, cell);
        }
        var direct = cell is null ? null : board.Supplies.FirstOrDefault(s => s.Pin is not null && s.MinVolts <= cell.EmptyVolts && s.MaxVolts >= cell.FullVolts);
        return new(direct, direct is null ? board.Rails.Where(r => !r.UsbOnly).ToList() : [.. board.Rails.Where(r => !r.UsbOnly && r.Volts <= board.LogicVolts)], cell);
    }

    /// <summary>The rail for a part: the logic rail where its supply range allows, else the first that does; null when none does.</summary>
    public Rail? For(Part part, Board board)
    {
        if (part.SupplyPin is null)
        {
            return Rails.FirstOrDefault(r => Math.Abs(r.Volts - board.LogicVolts) < 0.01);
        }
        return Rails.Where(r => r.Volts >= part.SupplyMinVolts && r.Volts <= part.SupplyMaxVolts).OrderBy(r => Math.Abs(r.Volts - board.LogicVolts)).FirstOrDefault();
    }
}
