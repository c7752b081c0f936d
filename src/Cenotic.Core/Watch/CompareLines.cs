using Cenotic.Core.Common;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.Statistics;

namespace Cenotic.Core.Watch;

/// <summary>What two readings showed in the same stretch.</summary>
public sealed record PairedMoment(long T, double A, double B);

/// <summary>How two readings compare.</summary>
/// <param name="Bias">Mean of A − B.</param>
/// <param name="Agreement">Where 95 % of the differences lie: low and high are the limits of agreement, the value is the bias.</param>
/// <param name="Correlation">Pearson's r; unknown where one stood still.</param>
/// <param name="Drift">How the difference changes, in the unit a day, 95 % band.</param>
/// <param name="Lag">By how much A follows B; negative when it leads. Unknown where one stood still,
/// the stretch is too short, or they do not follow each other.</param>
public sealed record LineComparison(int Moments, Figure Bias, Figure Agreement, Figure Correlation, Figure Drift, Figure Lag);

/// <summary>Compares two continuous readings. Pure.</summary>
public static class CompareLines
{
    /// <summary>Fewest moments that make a verdict.</summary>
    public const int Fewest = 10;

    private const double DayMs = 86_400_000,
        Agreement = 1.96,
        Confidence = 0.975;

    /// <summary>The comparison, or why there is none.</summary>
    /// <param name="moments">In order of time, equal steps apart where both have values.</param>
    /// <param name="stepMs">The step.</param>
    /// <param name="samplingMs">How far apart the values of the slower of them are; null for the step.</param>
    public static Outcome<LineComparison> Of(IReadOnlyList<PairedMoment> moments, long stepMs, string unit, long? samplingMs = null)
    {
        if (moments.Count < Fewest)
        {
            return Outcome<LineComparison>.Refused($"{moments.Count} stretches have values of both; {Fewest} are wanted.");
        }
        double[] a = [.. moments.Select(m => m.A)],
            b = [.. moments.Select(m => m.B)],
            difference = [.. moments.Select(m => m.A - m.B)];
        var (bias, spread) = (difference.Mean(), difference.StandardDeviation());
        WorkingInput[] inputs = [new("n", moments.Count, "", "stretches"), new("s", spread, unit, "standard deviation of the differences")];
        var half = StudentT.InvCDF(0, 1, moments.Count - 1, Confidence) * spread / Math.Sqrt(moments.Count);
        Figure With(string label, double value, double low, double high, string of, string formula, string source) =>
            new(label, value, low, high, of, new Working(formula, inputs, source));
        var moves = a.StandardDeviation() > 0 && b.StandardDeviation() > 0;
        return Outcome<LineComparison>.Of(
            new(
                moments.Count,
                With("Bias", bias, bias - half, bias + half, unit, "mean of A − B; band by Student's t, 95 %", "Student's t"),
                With(
                    "95 % of the differences",
                    bias,
                    bias - Agreement * spread,
                    bias + Agreement * spread,
                    unit,
                    "bias ± 1.96 s",
                    "limits of agreement: Bland and Altman 1986"
                ),
                moves
                    ? Figure.Exact(
                        "Correlation",
                        MathNet.Numerics.Statistics.Correlation.Pearson(a, b),
                        "",
                        new Working("r = cov(A, B) / (sA · sB)", inputs, "Pearson 1895")
                    )
                    : Figure.Unknown("Correlation", "", "values that move"),
                Drift(moments, difference, unit),
                moves ? CompareLag.Of(moments, stepMs, samplingMs ?? stepMs) : Figure.Unknown("Lag", Unit.Second, "values that move")
            )
        );
    }

    private static Figure Drift(IReadOnlyList<PairedMoment> moments, double[] difference, string unit)
    {
        double[] days = [.. moments.Select(m => (m.T - moments[0].T) / DayMs)];
        var (centre, mean) = (days.Mean(), difference.Mean());
        var sxx = days.Sum(d => (d - centre) * (d - centre));
        if (sxx == 0)
        {
            return Figure.Unknown("Drift a day", unit, "a stretch of time");
        }
        var slope = days.Zip(difference, (d, y) => (d - centre) * (y - mean)).Sum() / sxx;
        var left = Math.Sqrt(days.Zip(difference, (d, y) => Math.Pow(y - mean - slope * (d - centre), 2)).Sum() / (days.Length - 2));
        var half = StudentT.InvCDF(0, 1, days.Length - 2, Confidence) * left / Math.Sqrt(sxx);
        return new(
            "Drift a day",
            slope,
            slope - half,
            slope + half,
            unit,
            new Working(
                "slope of A − B over time; band by Student's t, 95 %",
                [new("n", days.Length, "", "stretches"), new("s", left, unit, "left over")],
                "ordinary least squares"
            )
        );
    }
}
