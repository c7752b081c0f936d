using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>From the physical event to the notice of a rule.</summary>
internal static class RuleLateness
{
    internal static IReadOnlyList<RuleTiming> Of(SiteDesign site, IReadOnlyList<PlacedRhythm> nodes, List<Finding> findings)
    {
        var timings = new List<RuleTiming>();
        // How late several conditions come together is not told by any one of them.
        foreach (var rule in site.Rules.Where(r => r.Also.Count == 0))
        {
            if (
                nodes.FirstOrDefault(n => n.Node.Key == rule.Node) is not { } placed
                || placed.Node.Readings.FirstOrDefault(r => r.Key == rule.Reading) is not { } reading
                || Timing(rule, placed.Rhythm) is not { } timing
            )
            {
                continue;
            }
            timings.Add(timing);
            if (rule.WantedWithinMs is > 0 and var wish && timing.Lateness.Value > wish / 1000.0)
            {
                findings.Add(
                    new(
                        "RHYTHM-RULE-LATE",
                        Severity.Risk,
                        new("rhythm", rule.Node, rule.Key),
                        $"The notice of \"{rule.Label}\" can come {Lateness.Say(timing.Lateness.Value!.Value)} late; you want it within "
                            + $"{Lateness.Say(wish / 1000.0)}.",
                        "The reading's own lateness and the time that the rule waits add up.",
                        [.. Remedies(rule, reading, placed, wish / 1000.0)],
                        null,
                        "arithmetic"
                    )
                );
            }
        }
        return timings;
    }

    private static RuleTiming? Timing(RuleDesign rule, RhythmPlan plan)
    {
        if (plan.Readings.FirstOrDefault(r => r.Reading == rule.Reading) is not { Lateness.Value: { } late, UsualLateness.Value: { } usual } timing)
        {
            return null;
        }
        var every = (timing.IntervalMs ?? 0) / 1000.0;
        // How long the rule waits from when the condition began to hold, ms.
        var waits = rule.Condition switch
        {
            BeyondLimit limit => limit.ForMs,
            OutsideBand band => band.ForMs,
            UnlikeUsual unlike => unlike.ForMs,
            InARow row => (row.Times - 1) * (timing.IntervalMs ?? 0),
            InSequence { Outcome: not SequenceOutcome.Both } sequence => sequence.WithinMs,
            _ => 0,
        };
        var (worst, likely, formula, inputs) = rule.Condition switch
        {
            // It falls silent after a sample at the earliest: the rule waits from there.
            SilentFor silent => (
                silent.ForMs / 1000.0,
                Math.Max(0, silent.ForMs / 1000.0 - every / 2),
                "t = silence that the rule waits for",
                new List<WorkingInput> { new("silence", silent.ForMs / 1000.0, Unit.Second, "rule") }
            ),
            // A duration ends with the first sample at or after it.
            _ when waits > 0 => (
                late + Held(waits / 1000.0, every),
                usual + Held(waits / 1000.0, every),
                "t = lateness of the reading + duration, up to the next reading",
                [
                    new("lateness of the reading", late, Unit.Second, "timetable"),
                    new("duration", waits / 1000.0, Unit.Second, "rule"),
                    new("interval", every, Unit.Second, "timetable"),
                ]
            ),
            _ => (late, usual, "t = lateness of the reading", [new("lateness of the reading", late, Unit.Second, "timetable")]),
        };
        return new(
            rule.Key,
            rule.Label,
            rule.Node,
            Figure.Exact("Worst lateness of the notice", worst, Unit.Second, new Working(formula, inputs, "arithmetic", [timing.Lateness])),
            Figure.Exact(
                "Usual lateness of the notice",
                likely,
                Unit.Second,
                new Working(
                    formula,
                    [new("usual lateness of the reading", usual, Unit.Second, "timetable"), .. inputs.Skip(1)],
                    "arithmetic",
                    [timing.UsualLateness]
                )
            )
        );
    }

    private static double Held(double forSeconds, double every) => every > 0 ? Math.Ceiling(forSeconds / every - 1e-9) * every : forSeconds;

    private static IEnumerable<Remedy> Remedies(RuleDesign rule, ReadingDesign reading, PlacedRhythm placed, double wanted)
    {
        if (rule.Condition is SilentFor)
        {
            var sooner = rule with { Condition = new SilentFor((long)(wanted * 1000)) };
            if (reading.LongestGapMs is { } gap && wanted * 1000 >= 2 * gap)
            {
                yield return new($"Tell after {Lateness.Say(wanted)} of silence", [new PutRule(sooner)]);
            }
            yield break;
        }
        foreach (var way in Lateness.Ways(placed.Node, reading, wanted, placed.Setting.Catalogue))
        {
            if (
                placed.Setting.Again(Lateness.With(placed.Node, way.Reading), placed.Node, placed.Bench)?.Plan is { } then
                && Timing(rule, then)?.Lateness.Value <= wanted
                && Lateness.Keeps(placed.Rhythm, then)
            )
            {
                yield return new(way.Label + Lateness.Cost(placed.Rhythm, then), [new PutReading(placed.Node.Key, way.Reading)]);
            }
        }
        if (rule.Condition is BeyondLimit { ForMs: > 0 } limit)
        {
            var at = rule with { Condition = limit with { ForMs = 0 } };
            if (Timing(at, placed.Rhythm)?.Lateness.Value <= wanted)
            {
                yield return new("Tell at the first reading beyond the limit", [new PutRule(at)]);
            }
        }
    }
}
