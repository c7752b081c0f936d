using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Rhythm;

/// <summary>Works out the wakes, the average current and the life of a node from its bench plan. Pure.</summary>
public static class RhythmPlanner
{
    /// <summary>Below this many days on its cells a node is more work than help (common practice, no source).</summary>
    public const double ShortLifeDays = 60;

    /// <summary>The rhythm of a node that stands for itself. Nonsense in its readings is left out of the timetable and named by a finding.</summary>
    /// <param name="around">What its spot does to cells; indoors when left out.</param>
    public static RhythmPlan Plan(
        NodeDesign node,
        BenchPlan bench,
        HardwareCatalogue catalogue,
        Evidence evidence,
        Surroundings? around = null,
        WorkBudget? budget = null
    ) => Plan(node, bench, new(catalogue, evidence, around ?? Surroundings.Indoors, budget ?? WorkBudget.Unbounded));

    /// <summary>The rhythm of a node of a site.</summary>
    internal static RhythmPlan Plan(NodeDesign node, BenchPlan bench, RhythmSetting setting)
    {
        var findings = new List<Finding>();
        RhythmFindings.Readings(node, bench, setting.Catalogue, findings);
        if (setting.Compute(node, bench) is not { } plan)
        {
            return RhythmPlan.None(node, findings);
        }
        RhythmFindings.Cells(node, plan, bench, setting, findings);
        HarvestFindings.Of(node, plan, bench, setting, findings);
        LimitFindings.Of(node, plan, bench, setting, findings);
        Lateness.Findings(node, plan, bench, setting, findings);
        return plan with { Findings = findings };
    }
}

/// <summary>What a rhythm is worked out from besides the node: the same for every change that is tried.</summary>
/// <param name="Budget">How much work the plans of changes may take.</param>
internal sealed record RhythmSetting(HardwareCatalogue Catalogue, Evidence Evidence, Surroundings Around, WorkBudget Budget)
{
    /// <summary>Benches of changes that were tried: several findings of a node offer the same board.</summary>
    private readonly Dictionary<NodeDesign, BenchPlan?> _planned = [];

    /// <summary>What the plan of the place says of the link of a node, changed or not; null where it is not asked.</summary>
    internal Func<NodeDesign, LinkAssumption?>? Links { get; init; }

    /// <summary>What relays are to the node.</summary>
    internal Relayed Relayed { get; init; } = Relayed.None;

    /// <summary>What is assumed of the link of a node, changed or not.</summary>
    internal LinkAssumption LinkOf(NodeDesign node) => LinkAssumption.Of(node, Evidence, Links?.Invoke(node));

    /// <summary>Figures without findings; null without a known board.</summary>
    internal RhythmPlan? Compute(NodeDesign node, BenchPlan bench)
    {
        if (Catalogue.Board(node.Board) is not { } board)
        {
            return null;
        }
        var feed = Feed.Of(node, Catalogue);
        var schedule = Schedule.Of(node);
        var cycle = new WakeCycle(node, board, bench, this);
        var wakes = WakePlan.Of(node, schedule, cycle, Catalogue, Relayed);
        var ledger = new ChargeLedger(schedule.PeriodMs, feed, cycle);
        var kinds = wakes.Select(ledger.Kind).ToList();
        var charge = ledger.PerPeriod(wakes, kinds);
        var average = ledger.Average(wakes, kinds, charge);
        var drains = ledger.Drains(wakes, average.Value!.Value);
        var life = CellLife.Of(node, Catalogue, average, Around);
        var sends = schedule.Turns.Select(t => Schedule.SendEvery(t) * schedule.PeriodMs).DefaultIfEmpty().Min();
        return new(
            node.Key,
            node.Sleeps,
            schedule.PeriodMs,
            sends > 0 ? sends : null,
            kinds,
            charge,
            average,
            life,
            drains,
            Lateness.Timings(node, schedule, wakes, this),
            Timetable.Figures(node, bench, schedule, wakes, Catalogue),
            Harvest.Of(node, average, kinds, Catalogue),
            []
        )
        {
            Sending = SendDesign.Of(node),
            LeastSendGapMs = Schedule.LeastSendGap(schedule.Turns) * schedule.PeriodMs,
        };
    }

    /// <summary>Likely days on its cells of a changed node, without planning its pins: the figure
    /// of <see cref="Again"/> where the change finds its pins.</summary>
    internal double? LikelyDays(NodeDesign changed, BenchPlan bench) =>
        LikelyMilliamps(changed, bench) is { } average ? CellLife.Likely(changed, Catalogue, average) : null;

    /// <summary>The same as a figure; null for a node without cells.</summary>
    internal Figure? LikelyLife(string label, NodeDesign changed, BenchPlan bench) =>
        LikelyMilliamps(changed, bench) is { } average ? CellLife.LikelyOf(label, changed, Catalogue, average) : null;

    private double? LikelyMilliamps(NodeDesign changed, BenchPlan bench)
    {
        if (Catalogue.Board(changed.Board) is not { } board)
        {
            return null;
        }
        var schedule = Schedule.Of(changed);
        var cycle = new WakeCycle(changed, board, Sketch(changed, bench), this);
        return new ChargeLedger(schedule.PeriodMs, Feed.Of(changed, Catalogue), cycle).Likely(WakePlan.Of(changed, schedule, cycle, Catalogue, Relayed));
    }

    /// <summary>The bench of a node before its parts were changed, with what the parts draw now; modules that the planner added stay.</summary>
    internal BenchPlan Sketch(NodeDesign changed, BenchPlan bench)
    {
        LoadProfile? Load(PartInstance instance) =>
            bench.Loads.FirstOrDefault(l => l.Part == instance.Key) is { } known ? known with { Switched = instance.SwitchSupply }
            : Catalogue.Part(instance.Part) is { } part
                ? new(
                    instance.Key,
                    instance.Label,
                    "",
                    part.SupplyMinVolts ?? 0,
                    part.SleepMicroamps,
                    part.ActiveMilliamps,
                    part.PeakMilliamps,
                    part.WarmUpMs,
                    part.ConversionMs,
                    part.StaysOn,
                    instance.SwitchSupply
                )
            : null;
        return bench with
        {
            Loads =
            [
                .. changed.Parts.Select(Load).OfType<LoadProfile>(),
                .. bench.Loads.Where(l => l.Part.StartsWith(PinSolver.AddedPrefix, StringComparison.Ordinal)),
            ],
        };
    }

    /// <summary>The rhythm of a changed node. Its pins are planned again where the change touches them.</summary>
    /// <returns>Null when it has no complete plan, or none that could be found within the budget.</returns>
    internal (RhythmPlan Plan, BenchPlan Bench)? Again(NodeDesign changed, NodeDesign before, BenchPlan bench)
    {
        var same =
            changed.Board == before.Board
            && changed.Sleeps == before.Sleeps
            && changed.Link == before.Link
            && ReferenceEquals(changed.Parts, before.Parts)
            && changed.Power with { Parallel = 1, Harvest = null } == before.Power with { Parallel = 1, Harvest = null }
            && changed.Power.Kind != PowerKind.Capacitor;
        if ((same ? bench : Planned(changed)) is not { } again)
        {
            return null;
        }
        return
            again.Complete
            && again.Findings.Count(f => f.Severity == Severity.Stop) <= bench.Findings.Count(f => f.Severity == Severity.Stop)
            && Compute(changed, again) is { } plan
            ? (plan, again)
            : null;
    }

    private BenchPlan? Planned(NodeDesign changed)
    {
        if (!_planned.TryGetValue(changed, out var bench))
        {
            try
            {
                bench = BenchPlanner.Trial(changed, Catalogue, Around, Budget);
            }
            catch (WorkBudgetException)
            {
                bench = null;
            }
            _planned[changed] = bench;
        }
        return bench;
    }
}
