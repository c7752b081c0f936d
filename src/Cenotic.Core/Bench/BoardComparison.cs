using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Bench;

/// <summary>What a node would be on another board.</summary>
/// <param name="Fits">True when every part is served and nothing stops it.</param>
/// <param name="Why">The first thing that stops it; null when it fits.</param>
/// <param name="PinsLeft">Free signal pins that are fit for a plain line.</param>
/// <param name="Modules">Modules the planner adds there.</param>
/// <param name="ActiveMilliamps">Board and parts awake; null when not known.</param>
/// <param name="SleepMilliamps">Board asleep; null when it has no sleep or it is not known.</param>
/// <param name="Price">Cheapest price of one board from the stock list; null when there is none.</param>
public sealed record BoardOption(
    string Board,
    string Label,
    bool Current,
    bool Fits,
    string? Why,
    int PinsLeft,
    int Additions,
    int MovedWires,
    IReadOnlyList<string> Modules,
    double? ActiveMilliamps,
    double? SleepMilliamps,
    int OnHand,
    double? Price
);

/// <summary>The same parts on every board of the catalogue, side by side. Wires that are held
/// on the present board are left out of account on another.</summary>
public static class BoardComparison
{
    /// <summary>One row a board: the present one first, then those that fit with the fewest additions.</summary>
    public static IReadOnlyList<BoardOption> Compare(
        NodeDesign node,
        HardwareCatalogue catalogue,
        IReadOnlyList<StockItem> stock,
        Surroundings around,
        WorkBudget? budget = null
    )
    {
        var options = catalogue.Boards.Select(board => On(node, board.Id, catalogue, stock, around, budget).Option);
        return
        [
            .. options
                .OrderByDescending(o => o.Current)
                .ThenByDescending(o => o.Fits)
                .ThenBy(o => o.Additions)
                .ThenByDescending(o => o.PinsLeft)
                .ThenBy(o => o.Board, StringComparer.Ordinal),
        ];
    }

    /// <summary>The parts of a node on one board, and how many wires are to be soldered there.</summary>
    internal static (BoardOption Option, int Wires) On(
        NodeDesign node,
        string id,
        HardwareCatalogue catalogue,
        IReadOnlyList<StockItem> stock,
        Surroundings around,
        WorkBudget? budget
    )
    {
        var board = catalogue.Board(id)!;
        var current = board.Id == node.Board;
        var trial = node with { Board = board.Id, Wires = current ? node.Wires : [] };
        var plan = BenchPlanner.Plan(trial, catalogue, around, budget);
        var stop = plan.Findings.FirstOrDefault(f => f.Severity == Severity.Stop);
        var used = plan.Wires.Select(w => w.Pin).ToHashSet();
        var plain = new PinNeeds(LineRole.DigitalToBoard, null, RestLevel.Floating) { Input = true };
        var free = board.Pins.Count(p => !used.Contains(p.Id) && p.Kind == PinKind.Gpio && PinFit.Judge(p, plain, node.UsesWifi, node.Sleeps).Fits);
        var own = node.UsesWifi ? board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps : board.Currents.ActiveMilliamps;
        var item = stock.FirstOrDefault(s => s.Id == board.Id);
        var missingRadio = !board.Sends(node.Link);
        var option = new BoardOption(
            board.Id,
            board.Label,
            current,
            stop is null && plan.Complete && !missingRadio,
            missingRadio ? $"It has no {node.Link.Name()}." : stop?.What,
            free,
            plan.Cost.Components,
            plan.Moves.Count,
            [.. plan.Helpers.Where(h => h.Added).Select(h => h.CatalogueId)],
            own.Likely + plan.Loads.Sum(l => l.ActiveMilliamps?.Likely ?? 0),
            board.Currents.DeepSleepMilliamps?.Likely,
            item?.OnHand ?? 0,
            item?.UnitPrice
        );
        return (option, plan.Wires.Count(w => w.Form == WireForm.Wire));
    }
}
