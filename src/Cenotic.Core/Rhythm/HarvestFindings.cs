using Cenotic.Core.Bench;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Rhythm;

/// <summary>Checks of harvested light and storage.</summary>
internal static class HarvestFindings
{
    private static readonly double[] Times = [1.5, 2, 3, 5, 10, 20, 50];
    private static readonly string[] Names =
    [
        "January",
        "February",
        "March",
        "April",
        "May",
        "June",
        "July",
        "August",
        "September",
        "October",
        "November",
        "December",
    ];

    internal static void Of(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, List<Finding> findings)
    {
        if (plan.Harvest is not { } harvest || node.Power.Harvest is not { } light)
        {
            return;
        }
        var subject = new Subject("rhythm", node.Key, "harvest");
        Remedy? Try(string label, NodeDesign changed, Func<HarvestPlan, bool> good) =>
            setting.Again(changed, node, bench)?.Plan.Harvest is { } then && good(then) ? new(label, NodeEdits.Between(node, changed)) : null;
        NodeDesign Larger(double times) =>
            node with
            {
                Power = node.Power with { Harvest = light with { AreaSquareCm = Math.Round(light.AreaSquareCm * times, 1) } },
            };
        Remedy? Area(Func<HarvestPlan, bool> good) =>
            Times.Select(Larger).Select(c => Try($"Use a light cell of {c.Power.Harvest!.AreaSquareCm:0.#} cm²", c, good)).FirstOrDefault(r => r is not null);
        Remedy? Capacitor(double microfarads, Func<HarvestPlan, bool> good) =>
            Rounded(microfarads) is { } value
                ? Try($"Use a capacitor of {value:0} µF", node with { Power = node.Power with { Harvest = light with { CapacitorMicrofarads = value } } }, good)
                : null;

        if (harvest.SmallestCapacitor is { Value: { } least } && light.CapacitorMicrofarads is { } has && least > has * Harvest.LeastOfCapacitor)
        {
            var larger = Capacitor(least / Harvest.LeastOfCapacitor, _ => true);
            findings.Add(CapSmall(light, subject, least, has, larger));
        }
        if (light.CapacitorMicrofarads is not null && harvest.Months.All(m => m.IntervalSeconds is null))
        {
            var larger = Area(h => h.Months.Any(m => m.IntervalSeconds is not null));
            findings.Add(CapNever(subject, larger));
        }
        else if (harvest.ShortMonths is { Count: > 0 } dark)
        {
            bool Enough(HarvestPlan then) => then.ShortMonths.Count == 0;
            var slower = Times
                .Where(t => node.Readings.All(r => r.LongestGapMs * t <= 7 * Schedule.DayMs))
                .Select(t => Try($"Read {t:0.#} times less often", Rarer(node, t), Enough))
                .FirstOrDefault(r => r is not null);
            var remedies = new[] { slower, Area(Enough) }.OfType<Remedy>().ToList();
            findings.Add(HarvestShort(harvest, subject, dark, remedies));
        }
        if (harvest.Dark is { Value: { } hours } && 24 - harvest.Months.Min(m => m.LitHours) is var night && hours < night)
        {
            var holds = light.CapacitorMicrofarads!.Value * night / Math.Max(hours, night / 1000);
            var larger = Capacitor(holds, then => then.Dark!.Value >= night);
            findings.Add(DarkHours(subject, hours, night, larger));
        }
    }

    private static NodeDesign Rarer(NodeDesign node, double times) =>
        node with
        {
            Readings =
            [
                .. node.Readings.Select(r =>
                    r with
                    {
                        IntervalMs = (long?)(r.IntervalMs * times),
                        HeartbeatMs = r.IntervalMs is null ? (long?)(r.HeartbeatMs * times) : r.HeartbeatMs,
                    }
                ),
            ],
        };

    private static Finding CapSmall(HarvestDesign light, Subject subject, double least, double has, Remedy? larger) =>
        new(
            "RHYTHM-CAP-SMALL",
            least > has ? Severity.Stop : Severity.Risk,
            subject,
            $"One wake takes {least:0} µF from {light.StartVolts} to {light.StopVolts} V; the capacitor has {has:0} µF, and may have half of that.",
            least > has ? "The node stops in the middle of its first message." : "A capacitor at the low end of its tolerance does not carry a wake.",
            larger is null ? [] : [larger],
            "Or a shorter wake: a faster radio, fewer tries.",
            "charge and energy of a capacitor"
        );

    private static Finding CapNever(Subject subject, Remedy? larger) =>
        new(
            "RHYTHM-CAP-NEVER",
            Severity.Stop,
            subject,
            "The capacitor never fills: asleep the node draws more than the light gives, in every month.",
            "It does not start, or starts once and dies.",
            larger is null ? [] : [larger],
            "Look first at what draws asleep: switch supplies off, use a board that sleeps deeper.",
            "charge balance"
        );

    private static Finding HarvestShort(HarvestPlan harvest, Subject subject, IReadOnlyList<int> dark, List<Remedy> remedies) =>
        new(
            "RHYTHM-HARVEST-SHORT",
            Severity.Risk,
            subject,
            $"The light does not carry the node in {string.Join(", ", dark.Select(m => Names[m - 1]))}.",
            $"In {Names[harvest.Months.MinBy(m => m.Left)!.Month - 1]} a day brings {harvest.Months.MinBy(m => m.Left)!.Gathered.Value:0.###} "
                + $"mAh; the node uses {harvest.Use.Value:0.###} mAh.",
            remedies,
            null,
            "charge balance"
        );

    private static Finding DarkHours(Subject subject, double hours, double night, Remedy? larger) =>
        new(
            "RHYTHM-DARK",
            Severity.Note,
            subject,
            $"From full the node runs {hours:0.#} h without light; the longest night is {night:0.#} h.",
            "Until the light is back it notices nothing.",
            larger is null ? [] : [larger],
            "Fine where nothing happens at night; else a larger capacitor or a cell.",
            "charge of a capacitor"
        );

    /// <summary>The next capacitor of E6 upwards; null beyond a farad or so.</summary>
    private static double? Rounded(double microfarads)
    {
        if (!(microfarads is > 0 and < 1e9))
        {
            return null;
        }
        var decade = Math.Pow(10, Math.Floor(Math.Log10(microfarads)));
        return new[] { 1, 1.5, 2.2, 3.3, 4.7, 6.8, 10 }.Select(v => v * decade).First(v => v >= microfarads * (1 - 1e-9));
    }
}
