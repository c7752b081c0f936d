using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>Checks of what rules and zones switch.</summary>
public static class OutputFindings
{
    /// <summary>Outputs that several rules or zones want: who has such an output, and who waits.</summary>
    public static IEnumerable<Finding> Of(SiteDesign site)
    {
        var rules = site
            .Rules.Where(r => r.Armed)
            .SelectMany(r =>
                r.Acts.Select(a =>
                    (
                        Of: (a.Node, a.Output),
                        Who: $"\"{r.Label}\"{(a.While == ActWhile.Calm ? " (a permit)" : "")}",
                        Rank: a.While == ActWhile.Calm ? WishRank.Permit : WishRank.Rule,
                        Key: r.Key
                    )
                )
            );
        var zones = site.Zones.SelectMany(z =>
            z.Sounders.Select(s => (Of: (s.Node, s.Output), Who: $"the alarm of \"{z.Label}\"", Rank: WishRank.Alarm, Key: z.Key))
        );
        foreach (var shared in rules.Concat(zones).GroupBy(w => w.Of).Where(g => g.Count() > 1))
        {
            var (node, output) = shared.Key;
            var label = site.Node(node)?.Reading(output)?.Label ?? $"{node}/{output}";
            var order = shared.OrderByDescending(w => w.Rank).ThenBy(w => w.Key, StringComparer.Ordinal).Select(w => w.Who).ToList();
            yield return new(
                "ALERT-ACTS-CROSS",
                Severity.Note,
                new("alerts", node, output),
                $"{label} is switched by {string.Join(", ", order)}.",
                "At a time one of them has it: a person for as long as they said, then an alarm, a rule, a permit; it goes off when the last of them "
                    + "is over, and at once when a permit is withdrawn.",
                [
                    .. site
                        .Rules.Where(r => r.Armed && r.Acts.Any(a => (a.Node, a.Output) == shared.Key))
                        .TakeLast(1)
                        .Select(r => new Remedy(
                            $"Leave it out of \"{r.Label}\"",
                            [new PutRule(r with { Acts = [.. r.Acts.Where(a => (a.Node, a.Output) != shared.Key)] })]
                        )),
                ],
                "Let one rule do it, where they should not add up.",
                "design"
            );
        }
    }
}
