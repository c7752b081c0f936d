using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>Checks of intervals and supply.</summary>
internal static class RhythmFindings
{
    private const double DrainMicroamps = 100;

    internal static void Intervals(NodeDesign node, BenchPlan bench, HardwareCatalogue catalogue, List<Finding> findings)
    {
        if (node.Readings.Count == 0)
        {
            findings.Add(new("RHYTHM-NO-READING", Severity.Note, new("rhythm", node.Key), $"{node.Label} reads nothing yet.", "Without a reading it has nothing to send.", [], "Add a reading for one of its parts.", "design"));
        }
        foreach (var reading in node.Readings)
        {
            var part = node.Part(reading.Part) is { } instance ? catalogue.Part(instance.Part) : null;
            if (part is not null && part.Quantities.All(q => q.Quantity != reading.Quantity))
            {
                findings.Add(new("RHYTHM-NO-QUANTITY", Severity.Stop, new("rhythm", node.Key, reading.Key), $"{reading.Label}: a {part.Label} gives no {reading.Quantity}.", $"It gives {string.Join(", ", part.Quantities.Select(q => q.Quantity))}.",
                    [new("Remove the reading", [new RemoveReading(node.Key, reading.Key)])], null, part.Source));
                continue;
            }
            if (reading.IntervalMs is not { } interval || part is null)
            {
                continue;
            }
            var conversion = bench.Loads.FirstOrDefault(l => l.Part == reading.Part)?.ConversionMs?.High ?? 0;
            if (interval < conversion)
            {
                var enough = (long)Math.Ceiling(Math.Max(conversion * 2, part.MinIntervalMs?.Likely ?? 0));
                findings.Add(new("RHYTHM-CONVERSION-LONG", Severity.Stop, new("rhythm", node.Key, reading.Key), $"{reading.Label} is read every {interval} ms, but one measurement takes up to {conversion:0.##} ms.", "The next reading would start before this one is done.",
                    [new($"Read every {enough / 1000.0:0.##} s", [new PutReading(node.Key, reading with { IntervalMs = enough })])], null, part.Source));
            }
            else if (part.MinIntervalMs is { } least && interval < least.Likely)
            {
                findings.Add(new("RHYTHM-INTERVAL-SHORT", Severity.Risk, new("rhythm", node.Key, reading.Key), $"{reading.Label} is read every {interval} ms; the part wants {least.Likely:0} ms at least.", "Read faster it warms itself, or hears its own echo.",
                    [new($"Read every {least.Likely / 1000:0.##} s", [new PutReading(node.Key, reading with { IntervalMs = (long)least.Likely })])], null, least.Source));
            }
        }
    }

    /// <param name="again">The rhythm of a changed node, or null when it has no complete plan: remedies are only offered when they help.</param>
    internal static void Supply(NodeDesign node, RhythmPlan plan, BenchPlan bench, List<Finding> findings, Func<NodeDesign, RhythmPlan?> again)
    {
        NeverSleeps(node, plan, findings);
        if (node.Power.Kind != PowerKind.Cells)
        {
            return;
        }
        if (!node.Sleeps)
        {
            var asleep = node with { Sleeps = true };
            findings.Add(new("RHYTHM-AWAKE-ON-CELLS", Severity.Risk, new("rhythm", node.Key), $"{node.Label} is always on and lives on cells.", "Awake it draws its full current day and night.",
                again(asleep) is null ? [] : [new("Let it sleep between readings", [SetNodes.As(node) with { Sleeps = true }])], null, "board currents in the catalogue"));
        }
        foreach (var load in bench.Loads.Where(l => node.Sleeps && !l.Switched && !l.StaysOn && l.SleepMicroamps?.High > DrainMicroamps))
        {
            var instance = node.Part(load.Part)! with { SwitchSupply = true };
            findings.Add(new("RHYTHM-SLEEP-DRAIN", Severity.Risk, new("rhythm", node.Key, load.Part), $"{load.Label} draws up to {load.SleepMicroamps!.High / 1000:0.##} mA while the node sleeps.", "It has no sleep of its own worth the name.",
                again(node with { Parts = [.. node.Parts.Select(p => p.Key == load.Part ? instance : p)] }) is null ? [] : [new("Switch its supply off between readings", [new PutPart(node.Key, instance)])], null, load.SleepMicroamps.Source));
        }
        if (plan.Life is { Value: < RhythmPlanner.ShortLifeDays } life)
        {
            var most = string.Join(", ", plan.Drains.Take(3).Select(d => $"{d.Label} {d.Share:0 %}"));
            findings.Add(new("RHYTHM-LIFE-SHORT", Severity.Risk, new("rhythm", node.Key), $"The cells of {node.Label} last about {life.Value:0} days.", $"Most of it goes to: {most}.", LifeRemedies(node, again), "Measure the sleep current of this very board: power LEDs and regulators differ widely. A measured value replaces the catalogue's.", "charge bookkeeping"));
        }
    }

    private static void NeverSleeps(NodeDesign node, RhythmPlan plan, List<Finding> findings)
    {
        var awakeMs = plan.Segments.SkipLast(1).Sum(s => s.Duration.Value!.Value);
        if (!node.Sleeps || awakeMs < plan.PeriodMs)
        {
            return;
        }
        var enough = (long)Math.Ceiling(2 * awakeMs / 1000) * 1000;
        var rarer = node.Readings.Where(r => r.IntervalMs < enough).Select(r => new PutReading(node.Key, r with { IntervalMs = enough }))
            .Concat(node.Readings.Where(r => r.HeartbeatMs < enough).Select(r => new PutReading(node.Key, r with { HeartbeatMs = enough }))).ToList();
        findings.Add(new("RHYTHM-NEVER-SLEEPS", Severity.Risk, new("rhythm", node.Key), $"{node.Label} wakes every {plan.PeriodMs / 1000.0:0.##} s and is awake for {awakeMs / 1000:0.##} s each time.", "It never gets to sleep, and falls behind.",
            [new($"Read every {enough / 1000.0:0} s", rarer), new("Keep it always on", [SetNodes.As(node) with { Sleeps = false }])], null, "times of the board and its parts"));
    }

    private static List<Remedy> LifeRemedies(NodeDesign node, Func<NodeDesign, RhythmPlan?> again)
    {
        var ways = new List<(string Label, NodeDesign Node, List<DesignEdit> Edits)>();
        if (!node.Sleeps)
        {
            ways.Add(("Let it sleep between readings", node with { Sleeps = true }, [SetNodes.As(node) with { Sleeps = true }]));
        }
        var seldom = node.Readings.Where(r => r.IntervalMs is not null).Select(r => r with { IntervalMs = Math.Min(r.IntervalMs!.Value * 10, 86_400_000) }).ToList();
        if (seldom.Count > 0)
        {
            ways.Add(("Read ten times less often", node with { Readings = [.. node.Readings.Select(r => seldom.FirstOrDefault(s => s.Key == r.Key) ?? r)] }, [.. seldom.Select(r => new PutReading(node.Key, r))]));
        }
        var power = node.Power with { Parallel = Math.Min(20, node.Power.Parallel * 3) };
        ways.Add(($"Use {power.Parallel} cells side by side", node with { Power = power }, [SetNodes.WithPower(node, power)]));
        return [.. ways.Where(w => again(w.Node)?.Life is { Value: >= RhythmPlanner.ShortLifeDays }).Select(w => new Remedy(w.Label, w.Edits))];
    }
}
