using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Rhythm;

/// <summary>Days on cells: likely, and a band from the tolerances of cell and current.</summary>
internal static class CellLife
{
    /// <summary>A hot spot loses charge about twice as fast (rule of ten degrees; common practice, no source).</summary>
    private const double HotLoss = 2;

    /// <summary>Likely days alone, without the figure; null when the node has no cells or nothing draws on them.</summary>
    internal static double? Likely(NodeDesign node, HardwareCatalogue catalogue, double milliamps) =>
        node.Power.Kind == PowerKind.Cells && catalogue.Cell(node.Power.Cell ?? "") is { } cell
            ? Energy.LifeDays(
                cell.CapacityMilliampHours.Likely * node.Power.Parallel,
                cell.UsableFraction.Likely,
                milliamps * 1000,
                cell.SelfDischargePerYear.Likely
            )
            : null;

    /// <summary>Likely days as a figure; null when the node has no cells or nothing draws on them.</summary>
    internal static Figure? LikelyOf(string label, NodeDesign node, HardwareCatalogue catalogue, double milliamps) =>
        Likely(node, catalogue, milliamps) is { } days && catalogue.Cell(node.Power.Cell ?? "") is { } cell
            ? Figure.Exact(label, days, Unit.Day, new Working(Formula, Inputs(node, cell, milliamps), "charge bookkeeping"))
            : null;

    private const string Formula = "days = C · u / (Iavg + C · s / 8766 h) / 24";

    private static WorkingInput[] Inputs(NodeDesign node, Cell cell, double milliamps) =>
        [
            new("C", cell.CapacityMilliampHours.Likely * node.Power.Parallel, Unit.MilliampHour, cell.CapacityMilliampHours.Source),
            new("u", cell.UsableFraction.Likely, "", cell.UsableFraction.Source),
            new("Iavg", milliamps, Unit.Milliamp, "average current"),
            new("s", cell.SelfDischargePerYear.Likely, "a year", cell.SelfDischargePerYear.Source),
        ];

    /// <returns>Null when the node has no cells.</returns>
    internal static Figure? Of(NodeDesign node, HardwareCatalogue catalogue, Figure average, Surroundings around)
    {
        if (node.Power.Kind != PowerKind.Cells || catalogue.Cell(node.Power.Cell ?? "") is not { } cell)
        {
            return null;
        }
        var cold = around.Cold || around.Outdoor;
        double? Days(double capacity, double usable, double milliamps, double loss) =>
            Energy.LifeDays(capacity * node.Power.Parallel, usable, milliamps * 1000, loss);
        var likely = Likely(node, catalogue, average.Value!.Value);
        var low = Days(
            cell.CapacityMilliampHours.Low,
            cell.UsableFraction.Low * (cold ? cell.ColdFactor.Likely : 1),
            average.High!.Value,
            cell.SelfDischargePerYear.High * (around.Hot ? HotLoss : 1)
        );
        var high = Days(cell.CapacityMilliampHours.High, cell.UsableFraction.High, average.Low!.Value, cell.SelfDischargePerYear.Low);
        if (likely is null || low is null || high is null)
        {
            return Figure.Unknown("Battery life", Unit.Day, "a current: nothing draws on the cell");
        }
        return new(
            node.Power.Harvest is null ? "Battery life" : "Life without light",
            likely,
            low,
            high,
            Unit.Day,
            new Working(
                Formula + (cold ? "; low end with the capacity at 0 °C" : "") + (around.Hot ? "; low end with twice the self-discharge" : ""),
                Inputs(node, cell, average.Value.Value),
                "charge bookkeeping",
                [average]
            )
        );
    }
}
