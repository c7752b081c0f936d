using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What a load at the board takes from the cell or supply: the same current, or through a step-up converter more.</summary>
internal sealed record Feed(double OutVolts, double CellVolts, Fact? Efficiency, Fact? IdleMilliamps)
{
    private static readonly Feed Straight = new(1, 1, null, null);

    internal static Feed Of(NodeDesign node, HardwareCatalogue catalogue)
    {
        double? volts =
            node.Power is not { StepUp: true } ? null
            : node.Power.Kind == PowerKind.Capacitor && node.Power.Harvest is { } h ? (h.StartVolts + h.StopVolts) / 2
            : node.Power.Kind == PowerKind.Cells ? catalogue.Cell(node.Power.Cell ?? "")?.InSeries(node.Power.Series).MeanVolts
            : null;
        return volts is { } cell && catalogue.Supply("boost-mt3608") is { Efficiency: { } efficiency, QuiescentMilliamps: { } idle }
            ? new(5, cell, efficiency, idle)
            : Straight;
    }

    internal double AtCell(double milliamps) => Efficiency is { } e ? milliamps * OutVolts / (CellVolts * e.Likely) : milliamps;

    /// <summary>The current of a step at the cell or supply, with its working.</summary>
    internal Figure Current(Step step)
    {
        double At(Func<Fact, double> end) => step.Loads.Sum(l => end(l.Milliamps));
        var (likely, low, high) = (At(f => f.Likely), At(f => f.Low), At(f => f.High));
        Figure Board(string label) =>
            new(label, likely, low, high, Unit.Milliamp, () =>
                new Working(
                    "I = Σ loads",
                    [.. step.Loads.Select(l => new WorkingInput(l.Label, l.Milliamps.Likely, Unit.Milliamp, l.Milliamps.Source))],
                    "charge bookkeeping",
                    [.. step.Loads.Select(l => Figures.Band(l.Label, l.Milliamps, Unit.Milliamp))]
                )
            );
        if (Efficiency is not { } efficiency)
        {
            return Board($"{step.Label}: current");
        }
        double Cell(double mA, double eff, double idle) => mA * OutVolts / (CellVolts * eff) + idle;
        var idleFact = IdleMilliamps!;
        return new(
            $"{step.Label}: current from the cell",
            Cell(likely, efficiency.Likely, idleFact.Likely),
            Cell(low, efficiency.High, idleFact.Low),
            Cell(high, efficiency.Low, idleFact.High),
            Unit.Milliamp,
            () =>
                new Working(
                    "Icell = I · Vout / (Vcell · η) + Iidle",
                    [
                        new("I", likely, Unit.Milliamp, "board and parts"),
                        new("Vout", OutVolts, Unit.Volt, "converter"),
                        new("Vcell", CellVolts, Unit.Volt, "mean of its curve, or of the capacitor's window"),
                        new("η", efficiency.Likely, "", efficiency.Source),
                        new("Iidle", idleFact.Likely, Unit.Milliamp, idleFact.Source),
                    ],
                    "energy balance of a switching converter",
                    [Board($"{step.Label}: at the board")]
                )
        );
    }
}

/// <summary>Figures from facts and from other figures.</summary>
internal static class Figures
{
    internal static Figure Band(string label, Fact fact, string unit) =>
        new(label, fact.Likely, fact.Low, fact.High, unit, () =>
            new Working("from the catalogue or a measurement", [new(label, fact.Likely, unit, fact.Source)], fact.Source)
        );

    internal static Figure Sum(string label, IReadOnlyList<Figure> parts, string unit, string formula) =>
        new(label, parts.Sum(p => p.Value), parts.Sum(p => p.Low), parts.Sum(p => p.High), unit, () =>
            new Working(formula, [.. parts.Select(p => new WorkingInput(p.Label, p.Value!.Value, unit, p.Working.Source))], "charge bookkeeping", parts)
        );

    /// <summary>A figure whose band is widened where rounding or a bound would leave the likely value outside.</summary>
    internal static Figure Wide(string label, double value, double low, double high, string unit, Func<Working> working) =>
        new(label, value, Math.Min(low, value), Math.Max(high, value), unit, working);
}
