using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What the rhythms of all nodes make together.</summary>
/// <param name="Rules">How late each notice can be.</param>
/// <param name="Due">When cells are due, the earliest first.</param>
public sealed record SiteRhythm(IReadOnlyList<RuleTiming> Rules, IReadOnlyList<Figure> Totals, IReadOnlyList<CellDue> Due, IReadOnlyList<Finding> Findings);

/// <summary>How late the notice of a rule can be.</summary>
public sealed record RuleTiming(string Rule, string Label, string Node, Figure Lateness, Figure UsualLateness);

/// <summary>When the cells of a node are due. Cells that light keeps charged are not among them.</summary>
/// <param name="Early">Low end of its life from the day they were fitted; null when that day is not noted.</param>
/// <param name="Likely">Likely end.</param>
public sealed record CellDue(string Node, string Label, string Cell, DateOnly? FittedOn, DateOnly? Early, DateOnly? Likely, Figure Life);

/// <summary>A node with what earlier steps worked out about it.</summary>
internal sealed record PlacedRhythm(NodeDesign Node, BenchPlan Bench, RhythmPlan Rhythm, RhythmSetting Setting);

/// <summary>Works out what the nodes make together. Pure.</summary>
internal static class SiteRhythms
{
    internal static SiteRhythm Of(SiteDesign site, IReadOnlyList<PlacedRhythm> nodes, HardwareCatalogue catalogue)
    {
        var findings = new List<Finding>();
        var rules = RuleLateness.Of(site, nodes, findings);
        OutputFindings.Gateways(site, nodes, findings);
        double Sum(string label) => nodes.SelectMany(n => n.Rhythm.Figures).Where(f => f.Label == label).Sum(f => f.Value ?? 0);
        Figure Total(string label) =>
            Figure.Exact(
                label,
                Sum(label),
                "a day",
                new Working(
                    "Σ of the nodes",
                    [
                        .. nodes.Select(n => new WorkingInput(
                            n.Node.Label,
                            n.Rhythm.Figures.FirstOrDefault(f => f.Label == label)?.Value ?? 0,
                            "a day",
                            "timetable"
                        )),
                    ],
                    "counting"
                )
            );
        return new(
            rules,
            [Total("Messages"), Total("Values sent")],
            [.. nodes.Select(n => Due(n, catalogue)).OfType<CellDue>().OrderBy(d => d.Early ?? DateOnly.MaxValue).ThenBy(d => d.Life.Value)],
            findings
        );
    }

    private static CellDue? Due(PlacedRhythm placed, HardwareCatalogue catalogue)
    {
        if (
            placed.Rhythm.CarriedByLight
            || placed.Rhythm.Life is not { Value: { } days, Low: { } low } life
            || catalogue.Cell(placed.Node.Power.Cell ?? "")?.InSeries(placed.Node.Power.Series) is not { } cell
        )
        {
            return null;
        }
        DateOnly? After(double count) =>
            placed.Node.Power.FittedOn is { } on && on.DayNumber + count < DateOnly.MaxValue.DayNumber ? on.AddDays((int)count) : null;
        return new(
            placed.Node.Key,
            placed.Node.Label,
            placed.Node.Power.Parallel > 1 ? $"{placed.Node.Power.Parallel} × {cell.Label}" : cell.Label,
            placed.Node.Power.FittedOn,
            After(low),
            After(days),
            life
        );
    }
}
