namespace Cenotic.Core.BringUp;

/// <summary>Whether a sensor has settled, so that a calibration point can be taken.</summary>
/// <param name="Steady">True when what it shows does not drift more than is allowed.</param>
/// <param name="Mean">Of the values looked at.</param>
/// <param name="Spread">Standard deviation around their trend.</param>
/// <param name="Count">Values looked at.</param>
/// <param name="Wanted">Values that are wanted.</param>
/// <param name="DriftPerMinute">Of the trend, in the unit a minute.</param>
/// <param name="Allowed">Drift over the values looked at that counts as none, in the unit.</param>
public sealed record Steadiness(bool Steady, double Mean, double Spread, int Count, int Wanted, double DriftPerMinute, double Allowed)
{
    /// <summary>True when it is another value than at every point that was taken before: what has not moved is no second point.</summary>
    public bool Anew { get; init; } = true;

    /// <summary>Fewest values that a verdict is made from.</summary>
    public const int Window = 10;

    /// <summary>Most values that one is made from: with noise more are wanted until the trend is known well enough.</summary>
    public const int Longest = 60;

    private const double PartOfError = 2,
        Steps = 2,
        ErrorsOfNoise = 8;

    /// <summary>
    /// Judges the newest values. Steady is a trend whose far end (two standard errors of the slope, ordinary least squares) stays within the allowed drift over
    /// the values looked at: half the error of the part, or two of its steps.
    /// </summary>
    /// <param name="values">In order of time.</param>
    /// <param name="error">How good the part is, ± in the unit; null when not known.</param>
    /// <param name="resolution">Smallest step of the part; null when not known.</param>
    /// <param name="taken">Points that were taken already; <paramref name="values"/> came after the last of them.</param>
    /// <returns>Null without values.</returns>
    public static Steadiness? Of(IReadOnlyList<FirstValue> values, double? error, double? resolution, IReadOnlyList<CalibrationPoint>? taken = null) =>
        Newest(values, error, resolution) is { } newest ? newest with { Anew = (taken ?? []).All(p => Moved(newest, p)) } : null;

    /// <summary>Whether a value is apart from a point by more than noise and drift explain: three
    /// standard deviations of both, and what counts as no drift.</summary>
    private static bool Moved(Steadiness now, CalibrationPoint point) =>
        Math.Abs(now.Mean - point.Raw) > Math.Max(now.Allowed, 3 * Math.Sqrt(now.Spread * now.Spread + point.Spread * point.Spread));

    private static Steadiness? Newest(IReadOnlyList<FirstValue> values, double? error, double? resolution)
    {
        Steadiness? first = null;
        for (var n = Math.Min(Window, values.Count); n <= Math.Min(Longest, values.Count) && n > 0; n++)
        {
            var verdict = Over([.. values.TakeLast(n)], error, resolution);
            if (verdict.Steady)
            {
                return verdict;
            }
            first ??= verdict;
        }
        return first;
    }

    private static Steadiness Over(List<FirstValue> values, double? error, double? resolution)
    {
        var (n, mean) = (values.Count, values.Average(v => v.Value));
        var centre = values.Average(v => (double)v.T);
        var sxx = values.Sum(v => Math.Pow(v.T - centre, 2));
        var slope = sxx > 0 ? values.Sum(v => (v.T - centre) * (v.Value - mean)) / sxx : 0;
        var spread = n > 2 ? Math.Sqrt(values.Sum(v => Math.Pow(v.Value - mean - slope * (v.T - centre), 2)) / (n - 2)) : 0;
        double span = values[^1].T - values[0].T;
        var drift = (Math.Abs(slope) + (sxx > 0 ? 2 * spread / Math.Sqrt(sxx) : 0)) * span;
        // Of a part whose error is not known only its own noise can be the measure: twice what noise feigns as a trend.
        var allowed = error is { } known
            ? Math.Max(known / PartOfError, Steps * (resolution ?? 0))
            : Math.Max(Steps * (resolution ?? 0), ErrorsOfNoise * spread / Math.Sqrt(n));
        return new(n >= Window && drift <= allowed, mean, spread, n, Window, slope * 60_000, allowed);
    }
}
