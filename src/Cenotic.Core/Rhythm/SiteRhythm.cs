using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What the rhythms of all nodes make together.</summary>
/// <param name="Channels">Radios that do not listen before they send, each with its slots.</param>
/// <param name="Rules">How late each notice can be.</param>
/// <param name="Due">When cells are due, the earliest first.</param>
public sealed record SiteRhythm(
    IReadOnlyList<ChannelPlan> Channels,
    IReadOnlyList<RuleTiming> Rules,
    IReadOnlyList<Figure> Totals,
    IReadOnlyList<CellDue> Due,
    IReadOnlyList<Finding> Findings
);

/// <summary>One radio channel: sends with a slot, and sends without.</summary>
/// <param name="Radio">Catalogue id of the radio.</param>
/// <param name="Verdict">Of the slots; null when no node here keeps one.</param>
/// <param name="RingMs">Time after which the slots repeat, or the longest period where that is too long to draw.</param>
/// <param name="Busy">Part of the time that something is on the air.</param>
/// <param name="Overlap">Part of the slotted sends that meet another one; null without slots.</param>
public sealed record ChannelPlan(
    string Radio,
    string Label,
    SlotVerdict? Verdict,
    string How,
    long RingMs,
    IReadOnlyList<PlannedSlot> Slots,
    IReadOnlyList<FreeSender> Free,
    Figure Busy,
    Figure? Overlap
);

/// <summary>A node's place in the common period.</summary>
/// <param name="OffsetMs">Start of the slot; the send starts half a guard later.</param>
/// <param name="DurationMs">Sends with all tries and the guard.</param>
/// <param name="Clear">Part of its sends that meet none of the senders without a slot.</param>
/// <param name="LongestResync">Time between time references with which it still meets nobody, s.</param>
public sealed record PlannedSlot(
    string Node,
    string Label,
    long PeriodMs,
    long OffsetMs,
    long DurationMs,
    Figure Air,
    Figure Guard,
    Figure LongestResync,
    Figure Clear
);

/// <summary>A sender without a slot.</summary>
/// <param name="Every">Time between its sends on average, s.</param>
/// <param name="OffsetMs">Its first send after start, spread over its period by its key.</param>
/// <param name="Clear">Part of its sends that meet no other.</param>
public sealed record FreeSender(string Node, string Label, Figure Every, long OffsetMs, Figure Clear);

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
        var channels = Channels.Of(nodes, catalogue, findings);
        var rules = RuleLateness.Of(site, nodes, findings);
        OutputFindings.Gateways(site, findings);
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
            channels,
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
