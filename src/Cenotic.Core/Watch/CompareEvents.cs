using Cenotic.Core.Common;

namespace Cenotic.Core.Watch;

/// <summary>How an event sensor compares with a trusted one.</summary>
/// <param name="Agreement">Part of the time in which both said the same, %.</param>
/// <param name="Kappa">Agreement beyond chance (Cohen's kappa); unknown where one never changed.</param>
/// <param name="Seen">Detections of the trusted one.</param>
/// <param name="Missed">Of them, those in which the other was never on.</param>
/// <param name="Extra">Detections of the other in which the trusted one was never on.</param>
/// <param name="Detection">How much later the other goes on, s: median, with the middle 80 %.</param>
/// <param name="Release">How much later it goes off, s.</param>
/// <param name="Hold">The hold time of the other that agrees best, s.</param>
/// <param name="HoldAgreement">Agreement with it, %.</param>
public sealed record EventComparison(
    Figure Agreement,
    Figure Kappa,
    int Seen,
    int Missed,
    int Extra,
    Figure Detection,
    Figure Release,
    Figure Hold,
    double HoldAgreement
);

/// <summary>Compares two event sensors over a stretch: is the cheap one as good, radar or infrared here? Pure.</summary>
public static class CompareEvents
{
    private const int Holds = 61;
    private const long HoldStepMs = 5_000;

    /// <summary>The comparison.</summary>
    /// <param name="trusted">Stretches in which the trusted one was on, in order.</param>
    /// <param name="other">The same of the other.</param>
    /// <param name="toleranceMs">How far apart a detection of one and of the other may lie and be the same.</param>
    public static EventComparison Of(IReadOnlyList<Stretch> trusted, IReadOnlyList<Stretch> other, long from, long to, long toleranceMs)
    {
        var (both, a, b, whole) = (
            (double)Overlap(trusted, other, from, to),
            (double)Length(trusted, from, to),
            (double)Length(other, from, to),
            (double)(to - from)
        );
        var same = (both + whole - (a + b - both)) / whole;
        var chance = a / whole * (b / whole) + (1 - a / whole) * (1 - b / whole);
        WorkingInput[] inputs =
        [
            new("both on", both / 1000, Unit.Second, "stretch"),
            new("trusted on", a / 1000, Unit.Second, "stretch"),
            new("other on", b / 1000, Unit.Second, "stretch"),
            new("stretch", whole / 1000, Unit.Second, "chosen"),
        ];
        Stretch? Match(Stretch s, IReadOnlyList<Stretch> among) => among.FirstOrDefault(o => o.From <= s.To + toleranceMs && o.To >= s.From - toleranceMs);
        var matched = trusted.Select(s => (s, o: Match(s, other))).Where(p => p.o is not null).ToList();
        var (hold, best) = (0L, same);
        for (var i = 1; i < Holds; i++)
        {
            var held = Merge(other, i * HoldStepMs);
            var on = (double)Length(held, from, to);
            var agrees = (2 * Overlap(trusted, held, from, to) + whole - a - on) / whole;
            if (agrees > best + 1e-12)
            {
                (hold, best) = (i * HoldStepMs, agrees);
            }
        }
        return new(
            Figure.Exact("Agreement", 100 * same, Unit.Percent, new Working("(both on + both off) / stretch", inputs, "arithmetic")),
            chance < 1 - 1e-12 && a > 0 && b > 0
                ? Figure.Exact(
                    "Agreement beyond chance",
                    (same - chance) / (1 - chance),
                    "",
                    new Working("κ = (p − pc) / (1 − pc)", [new("p", same, "", "agreement"), new("pc", chance, "", "by chance")], "Cohen 1960")
                )
                : Figure.Unknown("Agreement beyond chance", "", "detections of both"),
            trusted.Count,
            trusted.Count(s => Match(s, other) is null),
            other.Count(s => Match(s, trusted) is null),
            Delay("Goes on later by", [.. matched.Select(p => (p.o!.From - p.s.From) / 1000.0)]),
            Delay("Goes off later by", [.. matched.Where(p => !p.s.Open && !p.o!.Open).Select(p => (p.o!.To - p.s.To) / 1000.0)]),
            Figure.Exact(
                "Best hold time",
                hold / 1000.0,
                Unit.Second,
                new Working(
                    "the hold time, in steps of 5 s up to 5 min, with the greatest agreement",
                    [new("agreement", 100 * best, Unit.Percent, "with it"), new("without", 100 * same, Unit.Percent, "as it is")],
                    "trial"
                )
            ),
            100 * best
        );
    }

    /// <summary>The stretches when each is held on for so long after its end.</summary>
    internal static List<Stretch> Merge(IReadOnlyList<Stretch> stretches, long holdMs)
    {
        var held = new List<Stretch>();
        foreach (var s in stretches)
        {
            if (held.Count > 0 && s.From <= held[^1].To)
            {
                held[^1] = held[^1] with { To = Math.Max(held[^1].To, s.To + holdMs) };
            }
            else
            {
                held.Add(s with { To = s.To + holdMs });
            }
        }
        return held;
    }

    private static Figure Delay(string label, List<double> seconds)
    {
        if (seconds.Count == 0)
        {
            return Figure.Unknown(label, Unit.Second, "a detection that both saw");
        }
        seconds.Sort();
        double At(double share) => seconds[(int)Math.Round(share * (seconds.Count - 1))];
        return new(
            label,
            At(0.5),
            At(0.1),
            At(0.9),
            Unit.Second,
            new Working("median; the band holds the middle 80 %", [new("n", seconds.Count, "", "detections that both saw")], "order statistics")
        );
    }

    private static long Length(IReadOnlyList<Stretch> stretches, long from, long to) =>
        stretches.Sum(s => Math.Max(0, Math.Min(s.To, to) - Math.Max(s.From, from)));

    private static long Overlap(IReadOnlyList<Stretch> one, IReadOnlyList<Stretch> two, long from, long to)
    {
        long sum = 0;
        var (i, j) = (0, 0);
        while (i < one.Count && j < two.Count)
        {
            sum += Math.Max(0, Math.Min(Math.Min(one[i].To, two[j].To), to) - Math.Max(Math.Max(one[i].From, two[j].From), from));
            (i, j) = one[i].To < two[j].To ? (i + 1, j) : (i, j + 1);
        }
        return sum;
    }
}
