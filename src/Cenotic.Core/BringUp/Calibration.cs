using System.Globalization;
using System.Text.Json.Serialization;
using Cenotic.Core.Common;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.BringUp;

/// <summary>How raw values become true ones.</summary>
public enum CalibrationKind
{
    /// <summary>A constant is added.</summary>
    Offset,

    /// <summary>A straight line through two points.</summary>
    TwoPoints,

    /// <summary>The straight line of least squares through three points or more.</summary>
    Line,

    /// <summary>Straight from point to point, rising or falling all the way.</summary>
    Table,

    /// <summary>A factor: pulses of a counter in the unit that is wanted.</summary>
    Scale,

    /// <summary>A factor, the cell constant: conductivity in a standard solution at its temperature.</summary>
    Standard,
}

/// <summary>What the sensor showed while the truth was known.</summary>
/// <param name="Raw">Mean of what it showed, before any calibration.</param>
/// <param name="Reference">What it was, by the reference, in the reading's unit.</param>
/// <param name="Spread">Standard deviation of what it showed; 0 when it is not known.</param>
/// <param name="Count">How many values the mean is of; 1 for a value that was typed in.</param>
/// <param name="Celsius">For a standard solution its temperature: the reference is what it has at 25 °C.</param>
public sealed record CalibrationPoint(double Raw, double Reference, double Spread = 0, int Count = 1, double? Celsius = null)
{
    /// <summary>What it was in truth, in the reading's unit.</summary>
    [JsonIgnore]
    public double Truth => Celsius is { } celsius ? Conductivity.AtCelsius(Reference, celsius) : Reference;
}

/// <summary>A correction of one reading. Immutable; made by <see cref="Fit"/>.</summary>
/// <param name="Points">In order of their raw values.</param>
/// <param name="ReferenceError">How good the reference is, ± in the unit.</param>
/// <param name="Slope">Of the line; of no meaning for a table.</param>
/// <param name="Intercept">Of the line, in the unit.</param>
/// <param name="Residual">Residual standard error, in the unit: how far the points lie off the line; null where the points leave nothing over.</param>
/// <param name="Uncertainty">Expanded uncertainty (k = 2) of a value within the points, ± in the unit.</param>
public sealed record Calibration(
    CalibrationKind Kind,
    IReadOnlyList<CalibrationPoint> Points,
    double ReferenceError,
    double Slope,
    double Intercept,
    double? Residual,
    double Uncertainty
)
{
    private const int MostPoints = 50;

    /// <summary>Lowest and highest raw value among the points: beyond them it is a guess.</summary>
    [JsonIgnore]
    public (double Low, double High) Range => (Points[0].Raw, Points[^1].Raw);

    /// <summary>Whether a raw value lies beyond the ends of a table: what it gives there is a guess, and is marked.</summary>
    public bool IsBeyond(double raw) => Kind == CalibrationKind.Table && (raw < Range.Low || raw > Range.High);

    /// <summary>The true value to a raw one. A table goes on straight beyond its ends: see <see cref="IsBeyond"/>.</summary>
    public double Apply(double raw)
    {
        if (Kind != CalibrationKind.Table)
        {
            return Intercept + Slope * raw;
        }
        var upper = 1;
        while (upper < Points.Count - 1 && raw > Points[upper].Raw)
        {
            upper++;
        }
        var (a, b) = (Points[upper - 1], Points[upper]);
        return a.Truth + (b.Truth - a.Truth) * (raw - a.Raw) / (b.Raw - a.Raw);
    }

    /// <summary>
    /// The correction that points make. Source: ordinary least squares; uncertainty by JCGM 100:2008 (GUM), 4.3.7 for
    /// a reference that is good for ± a (a/√3), 4.2.3 for a mean (s/√n), 6.2.1 for the factor 2.
    /// </summary>
    /// <param name="referenceError">How good the reference is, ± in the unit; at least 0.</param>
    /// <returns>The correction, or why the points make none.</returns>
    public static Outcome<Calibration> Fit(CalibrationKind kind, IReadOnlyList<CalibrationPoint> points, double referenceError)
    {
        if (Fault(kind, points, referenceError) is { } fault)
        {
            return Outcome<Calibration>.Refused(fault);
        }
        IReadOnlyList<CalibrationPoint> ordered = [.. points.OrderBy(p => p.Raw)];
        var (slope, intercept) = kind switch
        {
            CalibrationKind.Offset => (1.0, ordered.Average(p => p.Truth - p.Raw)),
            CalibrationKind.Scale or CalibrationKind.Standard => (ordered.Sum(p => p.Raw * p.Truth) / ordered.Sum(p => p.Raw * p.Raw), 0.0),
            _ => Line(ordered),
        };
        var free = ordered.Count - (kind is CalibrationKind.Offset or CalibrationKind.Scale or CalibrationKind.Standard ? 1 : 2);
        double? residual =
            kind is CalibrationKind.Table || free <= 0 ? null : Math.Sqrt(ordered.Sum(p => Math.Pow(p.Truth - intercept - slope * p.Raw, 2)) / free);
        // How steep it is where it is steepest: noise of the sensor counts by that.
        var steepest =
            kind == CalibrationKind.Table ? ordered.Zip(ordered.Skip(1), (a, b) => Math.Abs((b.Truth - a.Truth) / (b.Raw - a.Raw))).Max() : Math.Abs(slope);
        var mean = ordered.Max(p => p.Spread / Math.Sqrt(p.Count)) * steepest;
        var standard = Math.Sqrt(referenceError * referenceError / 3 + mean * mean + (residual ?? 0) * (residual ?? 0));
        return double.IsFinite(slope) && double.IsFinite(intercept) && double.IsFinite(standard)
            ? Outcome<Calibration>.Of(new(kind, ordered, referenceError, slope, intercept, residual, 2 * standard))
            : Outcome<Calibration>.Refused("The points lie so that no finite line goes through them.");
    }

    /// <summary>The rule in the words of a formula.</summary>
    public string Formula(string unit)
    {
        string Number(double value) => value.ToString("G6", CultureInfo.InvariantCulture);
        return Kind switch
        {
            CalibrationKind.Offset => $"raw {(Intercept < 0 ? "−" : "+")} {Number(Math.Abs(Intercept))} {unit}",
            CalibrationKind.Scale => $"{Number(Slope)} {unit} × raw",
            CalibrationKind.Standard => $"{Number(Slope)} × raw",
            CalibrationKind.Table => $"{Points.Count} points, straight between them",
            _ => $"{Number(Slope)} × raw {(Intercept < 0 ? "−" : "+")} {Number(Math.Abs(Intercept))} {unit}",
        };
    }

    private static string? Fault(CalibrationKind kind, IReadOnlyList<CalibrationPoint> points, double referenceError)
    {
        if (
            points.Any(p => !double.IsFinite(p.Raw) || !double.IsFinite(p.Reference) || !double.IsFinite(p.Spread) || p.Spread < 0 || p.Count < 1)
            || !double.IsFinite(referenceError)
            || referenceError < 0
        )
        {
            return "A point must have a number for what was shown and one for what it was; how good the reference is must be 0 or more.";
        }
        var (least, most) = kind switch
        {
            CalibrationKind.TwoPoints => (2, 2),
            CalibrationKind.Line => (3, MostPoints),
            CalibrationKind.Table => (2, MostPoints),
            _ => (1, MostPoints),
        };
        if (points.Count < least || points.Count > most)
        {
            return least == most ? $"This wants {least} points; there are {points.Count}." : $"This wants {least} to {most} points; there are {points.Count}.";
        }
        if (
            kind == CalibrationKind.Standard
                ? points.Any(p =>
                    p.Celsius is not (>= Conductivity.StandardFromCelsius and <= Conductivity.StandardToCelsius) || p.Raw <= 0 || p.Reference <= 0
                )
                : points.Any(p => p.Celsius is not null)
        )
        {
            return kind == CalibrationKind.Standard
                ? "A standard wants its temperature, 15 to 30 °C, and values above 0: beyond that its 1.91 % a °C does not hold. Warm or cool the bottle."
                : "Only a standard solution has a temperature of its own.";
        }
        return kind switch
        {
            CalibrationKind.Standard or CalibrationKind.Offset => null,
            CalibrationKind.Scale => points.Any(p => p.Raw <= 0 || p.Reference <= 0) ? "A factor wants a count and an amount that are both above 0." : null,
            _ => SlopeFault(kind, points),
        };
    }

    /// <summary>Why no slope can be told from the points; null where it can.</summary>
    private static string? SlopeFault(CalibrationKind kind, IReadOnlyList<CalibrationPoint> points)
    {
        var ordered = points.OrderBy(p => p.Raw).ToList();
        if (kind == CalibrationKind.Table ? ordered.Zip(ordered.Skip(1)).Any(p => p.First.Raw == p.Second.Raw) : ordered[0].Raw == ordered[^1].Raw)
        {
            return "Two points have the same raw value: the sensor did not move between them, so nothing can be told from the pair.";
        }
        var pairs = kind == CalibrationKind.Line ? [(First: ordered[0], Second: ordered[^1])] : ordered.Zip(ordered.Skip(1)).ToList();
        if (pairs.Any(p => p.Second.Raw - p.First.Raw <= p.First.Spread + p.Second.Spread))
        {
            return "Two points lie closer together than the sensor scatters at them: the slope between them would be noise. Take them further apart, or let "
                + "it settle longer.";
        }
        if (
            kind == CalibrationKind.Table
            && ordered.Zip(ordered.Skip(1)).Select(p => Math.Sign(p.Second.Truth - p.First.Truth)).Distinct().ToList() is not [not 0]
        )
        {
            return "A table must rise all the way or fall all the way: one of its points is out of order, or two are alike.";
        }
        return kind is CalibrationKind.TwoPoints or CalibrationKind.Line && ordered.All(p => p.Reference == ordered[0].Reference)
            ? "All points have the same true value: every reading would become that."
            : null;
    }

    private static (double Slope, double Intercept) Line(IReadOnlyList<CalibrationPoint> points)
    {
        var (x, y) = (points.Average(p => p.Raw), points.Average(p => p.Truth));
        var slope = points.Sum(p => (p.Raw - x) * (p.Truth - y)) / points.Sum(p => (p.Raw - x) * (p.Raw - x));
        return (slope, y - slope * x);
    }
}
