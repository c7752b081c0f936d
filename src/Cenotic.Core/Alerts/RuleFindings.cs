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
}
