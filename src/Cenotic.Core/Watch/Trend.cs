namespace Cenotic.Core.Watch;

/// <summary>Where a reading is going. Pure.</summary>
public static class Trend
{
    private const int LeastPoints = 4;

    /// <summary>Slope of the least-squares line through points, per hour; null for fewer than four, or where it is no larger than twice its standard error:
    /// then it goes nowhere that could be told from noise.</summary>
    /// <param name="points">Time in UTC ms, and value.</param>
    public static double? PerHour(IReadOnlyList<(long T, double V)> points)
    {
        if (points.Count < LeastPoints)
        {
            return null;
        }
        var (slope, error) = Line(points);
        return Math.Abs(slope ?? 0) > 2 * error ? slope : null;
    }

    /// <summary>Slope of the least-squares line, per hour, and its standard error; the slope is null where all
    /// points are of one moment, and the error where there are fewer than three.</summary>
    internal static (double? Slope, double? Error) Line(IReadOnlyList<(long T, double V)> points)
    {
        var (meanT, meanV) = (points.Average(p => (double)p.T), points.Average(p => p.V));
        double Hours(long t) => (t - meanT) / 3_600_000;
        var spread = points.Sum(p => Hours(p.T) * Hours(p.T));
        if (spread <= 0)
        {
            return (null, null);
        }
        var slope = points.Sum(p => Hours(p.T) * (p.V - meanV)) / spread;
        var rest = points.Sum(p => Math.Pow(p.V - meanV - slope * Hours(p.T), 2));
        return (slope, points.Count < 3 ? null : Math.Sqrt(rest / (points.Count - 2) / spread));
    }
}
