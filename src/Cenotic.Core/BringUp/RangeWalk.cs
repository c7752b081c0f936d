using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>A message while a node is carried round.</summary>
/// <param name="Boot">Count of its starts; null when it keeps none.</param>
/// <param name="Number">Message number; null when it sends none: then loss cannot be seen.</param>
/// <param name="Rssi">Signal, dBm; null when the way in does not tell it.</param>
public sealed record WalkMessage(long T, long? Boot, long? Number, double? Rssi);

/// <summary>How well a node is heard from where it is.</summary>
/// <param name="Lost">Missing between the numbers that came; null when it sends none.</param>
/// <param name="Heard">Share that came, %, with its band (Wilson score interval, 95 %).</param>
/// <param name="RssiMedian">dBm; null where nobody tells.</param>
public sealed record WalkSummary(int Count, int? Lost, Figure Heard, double? RssiMedian, double? RssiLow);

/// <summary>Sums up a range walk. Pure.</summary>
public static class RangeWalk
{
    /// <summary>Where less comes, a node does not stay (common practice, no source).</summary>
    public const double PoorBelowPercent = 90;

    private const double Z = 1.959964;

    /// <summary>The part of what was sent at a spot that came, %.</summary>
    public static double HeardPercent(SpotWalk walk) => 100.0 * walk.Heard / Math.Max(1, walk.Heard + walk.Lost);

    /// <summary>Of the messages from one place.</summary>
    /// <param name="messages">In order of arrival.</param>
    public static WalkSummary Of(IReadOnlyList<WalkMessage> messages)
    {
        var numbered = messages.Where(m => m.Number is not null).ToList();
        int? lost =
            numbered.Count == 0
                ? null
                : (int)
                    numbered
                        .GroupBy(m => (m.Boot, m.Number / MessageNumbers.RunLength))
                        .Sum(g => MessageNumbers.Lost(g.Min(m => m.Number)!.Value, g.Max(m => m.Number)!.Value, g.Select(m => m.Number).Distinct().Count()));
        var signals = messages.Select(m => m.Rssi).OfType<double>().Order().ToList();
        return new(
            messages.Count,
            lost,
            Share(numbered.Count, lost),
            signals.Count > 0 ? (signals[(signals.Count - 1) / 2] + signals[signals.Count / 2]) / 2 : null,
            signals.Count > 0 ? signals[0] : null
        );
    }

    private static Figure Share(int heard, int? lost)
    {
        if (lost is not { } missing || heard + missing == 0)
        {
            return Figure.Unknown("Heard", Unit.Percent, "message numbers (sys/seq)");
        }
        double n = heard + missing,
            p = heard / n,
            z2 = Z * Z / n;
        var (centre, half) = ((p + z2 / 2) / (1 + z2), Z * Math.Sqrt(p * (1 - p) / n + z2 / (4 * n)) / (1 + z2));
        return new(
            "Heard",
            100 * p,
            Math.Max(0, Math.Min(100 * p, 100 * (centre - half))),
            Math.Min(100, Math.Max(100 * p, 100 * (centre + half))),
            Unit.Percent,
            new Working(
                "p = heard / sent; band: (p + z²/2n ± z √(p(1−p)/n + z²/4n²)) / (1 + z²/n)",
                [new("heard", heard, "", "messages that came"), new("sent", n, "", "by their numbers"), new("z", Z, "", "95 %")],
                "Wilson 1927, score interval"
            )
        );
    }
}
