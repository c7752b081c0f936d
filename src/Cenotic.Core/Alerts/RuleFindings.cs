using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>Checks of rules before they are armed.</summary>
public static class RuleFindings
{
    /// <summary>Findings of every rule of a site.</summary>
    public static IEnumerable<Finding> Of(SiteDesign site, HardwareCatalogue catalogue)
    {
        foreach (var rule in site.Rules)
        {
            var subject = new Subject("alerts", rule.Node, rule.Key);
            if (site.Node(rule.Node) is not { } node || node.Reading(rule.Reading) is not { } reading)
            {
                yield return new("ALERT-NO-READING", Severity.Stop, subject, $"\"{rule.Label}\" watches {rule.Node}/{rule.Reading}, which is gone.", "It can never raise.", [new("Remove the rule", [new RemoveRule(rule.Key)])], null, "design");
                continue;
            }
            foreach (var finding in Told(site, rule, subject).Concat(Switched(site, rule, node, reading, subject)))
            {
                yield return finding;
            }
            if (rule.Condition is SilentFor silent)
            {
                if (reading.LongestGapMs is not { } gap)
                {
                    yield return new("ALERT-NO-HEARTBEAT", Severity.Risk, subject, $"\"{rule.Label}\" waits for {reading.Label}, which is only sent when it changes.", "It may be silent for days and well.",
                        [new("Send it every 10 min all the same", [new PutReading(node.Key, reading with { HeartbeatMs = Math.Min(600_000, silent.ForMs / 2) })])], null, "design");
                }
                else if (silent.ForMs < 2 * gap)
                {
                    yield return new("ALERT-SILENCE-SHORT", Severity.Risk, subject, $"\"{rule.Label}\" raises after {silent.ForMs / 1000.0:0.#} s of silence, and {reading.Label} comes every {gap / 1000.0:0.#} s.", "One lost message would raise it.",
                        [new($"Wait {3 * gap / 1000.0:0.#} s", [new PutRule(rule with { Condition = new SilentFor(3 * gap) })])], null, "two messages lost in a row are rare on a sound link: common practice, no source");
                }
            }
            var range = node.Part(reading.Part) is { } instance ? catalogue.Part(instance.Part)?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity) : null;
            if (rule.Condition is BeyondLimit limit && range is { } r && (limit.Side == LimitSide.Above ? limit.Limit >= r.Max : limit.Limit <= r.Min))
            {
                yield return new("ALERT-OUT-OF-RANGE", Severity.Risk, subject, $"\"{rule.Label}\" waits for {(limit.Side == LimitSide.Above ? "more" : "less")} than {limit.Limit} {r.Unit}; the sensor gives {r.Min} to {r.Max} {r.Unit}.", "It can never raise.", [], "Choose a limit inside the sensor's range.", "part data in the catalogue");
            }
        }
    }

    private static IEnumerable<Finding> Told(SiteDesign site, RuleDesign rule, Subject subject)
    {
        if (rule.Tell is { } tell && tell.Steps.Where(s => site.People.All(p => p.Key != s.Person)).Select(s => s.Person).ToList() is { Count: > 0 } gone)
        {
            var left = tell.Steps.Where(s => !gone.Contains(s.Person)).ToList();
            yield return new("ALERT-NOBODY", left.Count == 0 ? Severity.Stop : Severity.Risk, subject, $"\"{rule.Label}\" tells {string.Join(", ", gone)}, who {(gone.Count == 1 ? "is" : "are")} gone.", left.Count == 0 ? "Nobody is told." : "They are not told.",
                [new("Tell those who are left", [new PutRule(rule with { Tell = left.Count == 0 ? null : tell with { Steps = left } })])], null, "design");
        }
    }

    private static IEnumerable<Finding> Switched(SiteDesign site, RuleDesign rule, NodeDesign node, ReadingDesign reading, Subject subject)
    {
        foreach (var act in rule.Acts)
        {
            var without = new Remedy("Leave the output alone", [new PutRule(rule with { Acts = [.. rule.Acts.Where(a => a != act)] })]);
            if (site.Node(act.Node)?.Reading(act.Output) is not { Output: not null } output)
            {
                yield return new("ALERT-ACT-GONE", Severity.Risk, subject, $"\"{rule.Label}\" switches {act.Node}/{act.Output}, which is no output any more.", "It switches nothing.", [without], null, "design");
                continue;
            }
            if (act.While == ActWhile.Calm && reading.LongestGapMs is null)
            {
                yield return new("ALERT-PERMIT-UNSEEN", Severity.Stop, subject, $"\"{rule.Label}\" permits {output.Label} while it hears {reading.Label}, which is only sent when it changes.", "It cannot be told from silence that all is well: the permit is never given.",
                    [new("Send it every 10 min all the same", [new PutReading(node.Key, reading with { HeartbeatMs = 600_000 })]), without], null, "design");
            }
            if (site.Rules.TakeWhile(r => r != rule).FirstOrDefault(r => r.Armed && rule.Armed && r.Acts.Any(a => a.Node == act.Node && a.Output == act.Output)) is { } other)
            {
                yield return new("ALERT-ACTS-CROSS", Severity.Risk, subject, $"\"{rule.Label}\" and \"{other.Label}\" both switch {output.Label}.", "One switches it off while the other wants it on.", [without], null, "design");
            }
        }
    }
}
