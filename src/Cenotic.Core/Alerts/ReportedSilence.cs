using System.Globalization;
using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>Silence is judged by what a node runs, not by what it should run: one that was flashed
/// with a slower plan is not silent before it could have spoken. Pure.</summary>
public static class ReportedSilence
{
    /// <summary>One message may be lost.</summary>
    private const int Messages = 2;

    /// <summary>The rule as it is judged.</summary>
    /// <param name="ran">By node the lines of the settings that it reported, where they are another plan's
    /// than that on the screen; null when they are the plan's, or not known.</param>
    public static RuleDesign Of(RuleDesign rule, Func<string, IReadOnlyList<string>?> ran)
    {
        RulePart Judged(RulePart part) =>
            part.Condition is SilentFor silent
            && ran(part.Reading.Node) is { } lines
            && LongestGap(part.Reading.Reading, lines) is { } gap
            && Messages * gap > silent.ForMs
                ? part with
                {
                    Condition = new SilentFor(Messages * gap),
                }
                : part;
        return rule.Parts.Any(p => p.Condition is SilentFor)
            ? rule with
            {
                Condition = Judged(rule.Parts[0]).Condition,
                Also = [.. rule.Also.Select(Judged)],
            }
            : rule;
    }

    /// <summary>The longest time between two values of a reading by settings that were kept ("reading.KEY=part
    /// quantity interval heartbeat batch decimals"), ms.</summary>
    private static long? LongestGap(string reading, IReadOnlyList<string> lines)
    {
        if (
            lines.FirstOrDefault(l => l.StartsWith($"reading.{reading}=", StringComparison.Ordinal))?.Split('=', 2)[1].Split(' ') is not { Length: >= 5 } fields
        )
        {
            return null;
        }
        long? Number(int at) => long.TryParse(fields[at], CultureInfo.InvariantCulture, out var value) ? value : null;
        return (Number(2) * Math.Max(1, Number(4) ?? 1)) ?? Number(3);
    }
}
