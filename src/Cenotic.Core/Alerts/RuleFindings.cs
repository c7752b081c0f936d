using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;

namespace Cenotic.Core.Alerts;

/// <summary>Checks of rules before they are armed.</summary>
public static class RuleFindings
{
    /// <summary>Findings of every rule of a site.</summary>
    /// <param name="waysOut">Ways that lead out of the house; null where that is not known.</param>
    public static IEnumerable<Finding> Of(SiteDesign site, HardwareCatalogue catalogue, IReadOnlyCollection<WayKind>? waysOut)
    {
        var telling = new TellFindings(site, waysOut);
        foreach (var rule in site.Rules)
        {
            var subject = new Subject("alerts", rule.Node == DerivedDesign.Node ? null : rule.Node, rule.Key);
            if (rule.Inputs.Where(i => site.Reading(i) is null).ToList() is { Count: > 0 } gone)
            {
                var left = rule
                    .Parts.Where(p => site.Reading(p.Reading) is not null && !(p.Condition is InSequence sequence && site.Reading(sequence.Other) is null))
                    .ToList();
                yield return new(
                    "ALERT-NO-READING",
                    left.Count == 0 || rule.Join == RuleJoin.All ? Severity.Stop : Severity.Risk,
                    subject,
                    $"\"{rule.Label}\" watches {string.Join(", ", gone)}, which {(gone.Count == 1 ? "is" : "are")} gone.",
                    left.Count == 0 || rule.Join == RuleJoin.All ? "It can never raise." : "It raises by its other conditions only.",
                    [
                        left.Count == 0
                            ? new("Remove the rule", [new RemoveRule(rule.Key)])
                            : new(
                                "Watch the others",
                                [
                                    new PutRule(
                                        rule with
                                        {
                                            Node = left[0].Reading.Node,
                                            Reading = left[0].Reading.Reading,
                                            Condition = left[0].Condition,
                                            Also = [.. left.Skip(1)],
                                        }
                                    ),
                                ]
                            ),
                    ],
                    null,
                    "design"
                );
                continue;
            }
            foreach (
                var finding in telling
                    .Of(rule.Label, rule.Tell, rule.Acts.Count > 0, subject, tell => new PutRule(rule with { Tell = tell }))
                    .Concat(Switched(site, rule, subject))
                    .Concat(rule.Parts.SelectMany((part, at) => Watched(site, catalogue, rule, part, at, subject)))
            )
            {
                yield return finding;
            }
        }
    }

    /// <summary>The rule with another condition in the place of one.</summary>
    private static PutRule With(RuleDesign rule, int at, RuleCondition condition) =>
        new(
            at == 0
                ? rule with
                {
                    Condition = condition,
                }
                : rule with
                {
                    Also = [.. rule.Also.Select((p, i) => i == at - 1 ? p with { Condition = condition } : p)],
                }
        );

    private static IEnumerable<Finding> Watched(SiteDesign site, HardwareCatalogue catalogue, RuleDesign rule, RulePart part, int at, Subject subject)
    {
        var reading = site.Reading(part.Reading)!;
        if (part.Condition is SilentFor silent)
        {
            if (reading.LongestGapMs is not { } gap)
            {
                yield return new(
                    "ALERT-NO-HEARTBEAT",
                    Severity.Risk,
                    subject,
                    $"\"{rule.Label}\" waits for {reading.Label}, which is only sent when it changes.",
                    "It may be silent for days and well.",
                    Heartbeat(site, part.Reading, reading, Math.Min(600_000, silent.ForMs / 2)),
                    reading.Part.Length == 0 ? "Watch what it is worked out of instead." : null,
                    "design"
                );
            }
            else if (silent.ForMs < 2 * gap)
            {
                yield return new(
                    "ALERT-SILENCE-SHORT",
                    Severity.Risk,
                    subject,
                    $"\"{rule.Label}\" raises after {silent.ForMs / 1000.0:0.#} s of silence, and {reading.Label} comes every {gap / 1000.0:0.#} s.",
                    "One lost message would raise it.",
                    [new($"Wait {3 * gap / 1000.0:0.#} s", [With(rule, at, new SilentFor(3 * gap))])],
                    null,
                    "two messages lost in a row are rare on a sound link: common practice, no source"
                );
            }
        }
        if (
            part.Condition is BeyondLimit limit
            && DerivedFacts.Quantity(site, catalogue, part.Reading) is { } r
            && (limit.Side == LimitSide.Above ? limit.Limit >= r.Max : limit.Limit <= r.Min)
        )
        {
            yield return new(
                "ALERT-OUT-OF-RANGE",
                Severity.Risk,
                subject,
                $"\"{rule.Label}\" waits for {(limit.Side == LimitSide.Above ? "more" : "less")} than {limit.Limit} {r.Unit}; "
                    + $"{(limit.Side == LimitSide.Above ? $"it is never more than {r.Max}" : $"it is never less than {r.Min}")} {r.Unit}.",
                "It can never raise.",
                [],
                "Choose a limit inside the sensor's range.",
                "part data in the catalogue"
            );
        }
    }

    /// <summary>Lets a reading be sent now and then though nothing changes; nothing where it is worked out.</summary>
    private static IReadOnlyList<Remedy> Heartbeat(SiteDesign site, ReadingRef of, ReadingDesign reading, long everyMs) =>
        site.Node(of.Node) is { } node ? [new("Send it every 10 min all the same", [new PutReading(node.Key, reading with { HeartbeatMs = everyMs })])] : [];

    private static IEnumerable<Finding> Switched(SiteDesign site, RuleDesign rule, Subject subject)
    {
        foreach (var act in rule.Acts)
        {
            var without = new Remedy("Leave the output alone", [new PutRule(rule with { Acts = [.. rule.Acts.Where(a => a != act)] })]);
            if (site.Node(act.Node)?.Reading(act.Output) is not { Output: not null } output)
            {
                yield return new(
                    "ALERT-ACT-GONE",
                    Severity.Risk,
                    subject,
                    $"\"{rule.Label}\" switches {act.Node}/{act.Output}, which is no output any more.",
                    "It switches nothing.",
                    [without],
                    null,
                    "design"
                );
                continue;
            }
            if (act.While == ActWhile.Calm && rule.Inputs.FirstOrDefault(i => site.Reading(i)!.LongestGapMs is null) is { } unseen)
            {
                var reading = site.Reading(unseen)!;
                yield return new(
                    "ALERT-PERMIT-UNSEEN",
                    Severity.Stop,
                    subject,
                    $"\"{rule.Label}\" permits {output.Label} while it hears {reading.Label}, which is only sent when it changes.",
                    "It cannot be told from silence that all is well: the permit is never given.",
                    [.. Heartbeat(site, unseen, reading, 600_000), without],
                    null,
                    "design"
                );
            }
        }
    }
}
