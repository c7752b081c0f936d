using Cenotic.Core.Common;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.LinearAlgebra;

namespace Cenotic.Core.BringUp;

/// <summary>A stretch of time in which a sensor stood beside a trusted one.</summary>
/// <param name="Raw">Mean of what it showed, before any calibration.</param>
/// <param name="Trusted">Mean of what the trusted one showed.</param>
/// <param name="Load">Messages a minute that its own node sent: a measure of how warm it makes itself.</param>
public sealed record SideMoment(long T, double Raw, double Trusted, double Load);

/// <summary>How a sensor compares with a trusted one beside it.</summary>
/// <param name="Offset">How much higher it shows in the middle of what was seen, at its usual load.</param>
/// <param name="Gain">How much it shows for each unit of the truth; 1 is right. Unknown when the truth did not move.</param>
/// <param name="SelfHeating">How much higher it shows by its own load, from the least to the usual; unknown when its load did not change.</param>
/// <param name="Spread">Standard deviation of what is left, in the unit.</param>
/// <param name="Kind">The calibration that this gives reason for.</param>
/// <param name="Points">Its points.</param>
public sealed record SideResult(
    int Moments,
    Figure Offset,
    Figure Gain,
    Figure SelfHeating,
    double Spread,
    CalibrationKind Kind,
    IReadOnlyList<CalibrationPoint> Points
);

/// <summary>
/// Compares a sensor with a trusted one by ordinary least squares: raw = a + b · (trusted − mean) + c · (load − mean). Bands are 95 %, by Student's t. Pure.
/// </summary>
public static class SideBySide
{
    /// <summary>Fewest moments that make a verdict.</summary>
    public const int Fewest = 12;

    private const double Moved = 4,
        Confidence = 0.975;
    private const string Source = "ordinary least squares; band by Student's t, 95 %";

    /// <summary>The comparison, or why there is none.</summary>
    /// <param name="unit">Of the reading.</param>
    /// <param name="step">Smallest step of the part; null when not known. What moves less than some of them does not move.</param>
    public static Outcome<SideResult> Of(IReadOnlyList<SideMoment> moments, string unit, double? step)
    {
        if (moments.Count < Fewest)
        {
            return Outcome<SideResult>.Refused($"{moments.Count} stretches have values of both; {Fewest} are wanted. Let them stand side by side for longer.");
        }
        var (truth, load) = (moments.Average(m => m.Trusted), moments.Average(m => m.Load));
        var moves = Moves(moments, step);
        var works = moments.Max(m => m.Load) > 1.5 * Math.Max(0.01, moments.Min(m => m.Load));
        var columns = new Func<SideMoment, double>?[] { _ => 1, moves ? m => m.Trusted - truth : null, works ? m => m.Load - load : null }
            .OfType<Func<SideMoment, double>>()
            .ToArray();
        // Where the load follows the truth all the way the two cannot be told apart.
        if (Fit(moments, columns) is not { } solved)
        {
            return Outcome<SideResult>.Refused(
                "Its load rose and fell with the truth itself: the two cannot be told apart. Switch test mode on for some minutes and off again."
            );
        }
        var (fit, inverse, variance) = solved;
        var t = StudentT.InvCDF(0, 1, moments.Count - columns.Length, Confidence);
        Figure Banded(string label, int column, double value, double per, string of, string formula)
        {
            var half = Math.Abs(per) * t * Math.Sqrt(variance * inverse[column, column]);
            return new(
                label,
                value,
                value - half,
                value + half,
                of,
                new Working(formula, [new("n", moments.Count, "", "stretches"), new("s", Math.Sqrt(variance), unit, "what is left over")], Source)
            );
        }
        var offset = Banded("Difference", 0, fit[0] - truth, 1, unit, "a − mean of the trusted one");
        var gain = moves ? Banded("For each unit", 1, fit[1], 1, "", "b") : Figure.Unknown("For each unit", "", "a truth that moves: warm and cool both");
        var usual = load - moments.Min(m => m.Load);
        var heats = works
            ? Banded("Of that its own heat", columns.Length - 1, fit[columns.Length - 1] * usual, usual, unit, "c · (usual load − least load)")
            : Figure.Unknown("Of that its own heat", unit, "a load that changes: switch test mode on for some minutes");
        // A line only where its slope is surely not 1; else an offset says all there is to say.
        var line = moves && (gain.Low > 1 || gain.High < 1);
        var noise = Math.Sqrt(variance);
        CalibrationPoint At(double trusted) => new(fit[0] + (moves ? fit[1] * (trusted - truth) : 0), trusted, noise, moments.Count);
        return Outcome<SideResult>.Of(
            new(
                moments.Count,
                offset,
                gain,
                heats,
                noise,
                line ? CalibrationKind.TwoPoints : CalibrationKind.Offset,
                line ? [At(moments.Min(m => m.Trusted)), At(moments.Max(m => m.Trusted))] : [At(truth)]
            )
        );
    }

    /// <summary>Ordinary least squares; null where the columns hang on each other.</summary>
    private static (Vector<double> Fit, Matrix<double> Inverse, double Variance)? Fit(
        IReadOnlyList<SideMoment> moments,
        IReadOnlyList<Func<SideMoment, double>> columns
    )
    {
        var x = Matrix<double>.Build.Dense(moments.Count, columns.Count, (i, j) => columns[j](moments[i]));
        var y = Vector<double>.Build.Dense(moments.Count, i => moments[i].Raw);
        var normal = x.TransposeThisAndMultiply(x);
        if (normal.ConditionNumber() > 1e12)
        {
            return null;
        }
        var inverse = normal.Inverse();
        var fit = inverse * x.TransposeThisAndMultiply(y);
        return (fit, inverse, (y - x * fit).PointwisePower(2).Sum() / (moments.Count - columns.Count));
    }

    /// <summary>Whether what is measured moved by more than steps of the sensor.</summary>
    private static bool Moves(IReadOnlyList<SideMoment> moments, double? step) =>
        moments.Max(m => m.Trusted) - moments.Min(m => m.Trusted) > Moved * (step ?? 0) && moments.Any(m => m.Trusted != moments[0].Trusted);
}
