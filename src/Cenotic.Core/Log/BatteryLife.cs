using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using MathNet.Numerics.LinearAlgebra;

namespace Cenotic.Core.Log;

/// <summary>A day of cell voltages.</summary>
/// <param name="AtMs">Middle of the day, UTC ms.</param>
/// <param name="Volts">Median of what the node told.</param>
/// <param name="Celsius">Mean temperature at the cells; null where nobody measures it.</param>
public sealed record CellDay(long AtMs, double Volts, double? Celsius);

/// <summary>What the plan says is drawn, from a time on.</summary>
/// <param name="Low">Low end of the average current, mA.</param>
/// <param name="High">High end, mA.</param>
public sealed record PlannedDrain(long FromMs, double Milliamps, double Low, double High);

/// <summary>The pace at which a set of cells of the same kind went in the same node before.</summary>
/// <param name="Low">Low end of its band, nine times of ten.</param>
/// <param name="High">High end.</param>
public sealed record EarlierPace(double Pace, double Low, double High);

/// <summary>What the cells of a node have shown against what was planned.</summary>
/// <param name="DaysLeft">With the band that holds the truth nine times of ten.</param>
/// <param name="UsedMilliampHours">Taken out since they were fitted, self-discharge included.</param>
/// <param name="Pace">Charge used over charge planned, as a part of the capacity: 1 is as planned.</param>
/// <param name="Learnt">How much narrower the pace is than by the plan alone, 0..1: near 0 where the voltage tells nothing yet.</param>
public sealed record BatteryState(Figure DaysLeft, Figure UsedMilliampHours, Figure Pace, double Learnt);

/// <summary>
/// Days left on cells, from their voltage and from what the plan draws. The one unknown that matters is the pace: how fast charge is really used, as a part of the real capacity, against plan over rated capacity. For each pace
/// the voltage that the discharge curve of the chemistry gives is held against the days measured; what meter, divider and cell do to the whole curve (an offset, a tilt, a bulge, another dependence on temperature) is left open
/// within bounds and weighed out (Bayesian linear regression: Bishop, Pattern Recognition and Machine Learning, 2006, section 3.5; the pace on a grid).
/// </summary>
public static class BatteryLife
{
    private const int Grid = 81, Terms = 5, Bins = 40;
    private const double DayMs = 86_400_000, HourMs = 3_600_000, NinetyPercent = 1.645, Reach = 4, LeastSpread = 0.08, OffsetShare = 0.004, TiltShare = 0.002, BulgeShare = 0.002, NoiseShare = 0.002, TemperatureSpread = 0.5, CellSpread = 0.05, AxisSpread = 0.015, EndSpread = 0.008, LeastSeasonKelvin = 4, Reference = 20;

    /// <summary>Nodes and weights of five-point Gauss–Hermite quadrature for the standard normal (Abramowitz and Stegun, table 25.10, scaled).</summary>
    private static readonly (double At, double Weight)[] Normal = [(-2.856970, 0.011257), (-1.355626, 0.222076), (0, 0.533333), (1.355626, 0.222076), (2.856970, 0.011257)];

    /// <summary>What is left.</summary>
    /// <param name="cell">With <see cref="Cell.InSeries"/> where several stand one after another.</param>
    /// <param name="drains">What the plan said, in order of time; the first counts from <paramref name="fittedMs"/> on, the last goes on.</param>
    /// <param name="days">In order of time; may be empty, and then the plan alone speaks.</param>
    /// <param name="earlier">How the set before went: what its node draws and its kind of cell holds is known from it, all but what one set differs from the next. Null where there was none.</param>
    /// <returns>Null where the cell has no curve, or nothing is drawn.</returns>
    public static BatteryState? Of(Cell cell, int parallel, long fittedMs, long nowMs, IReadOnlyList<PlannedDrain> drains, IReadOnlyList<CellDay> days, EarlierPace? earlier = null)
    {
        if (cell.Curve is not { Count: > 1 } || drains.Count == 0 || drains[^1].Milliamps <= 0)
        {
            return null;
        }
        var capacity = cell.CapacityMilliampHours.Likely * parallel;
        var leak = cell.CapacityMilliampHours.Likely * parallel * cell.SelfDischargePerYear.Likely / Rhythm.Energy.HoursPerYear;
        double Planned(long t) => drains.Select((d, i) => (From: i == 0 ? fittedMs : Math.Max(fittedMs, d.FromMs), To: i + 1 < drains.Count ? drains[i + 1].FromMs : long.MaxValue, d.Milliamps))
            .Sum(d => Math.Max(0, Math.Min(t, d.To) - d.From) / HourMs * (d.Milliamps + leak)) / capacity;
        var last = drains[^1];
        var spread = Math.Max(LeastSpread, Math.Sqrt(Square(LogSpread(last.Low, last.High)) + Square(LogSpread(cell.CapacityMilliampHours.Low, cell.CapacityMilliampHours.High))));
        var (centre, byPlan) = (0.0, spread);
        if (earlier is not null)
        {
            // Both are known of the same unknown: the plan with its spread, and the set before with its own.
            var before = Math.Sqrt(Square(LogSpread(earlier.Low, earlier.High)) + Square(CellSpread));
            (centre, spread) = (Math.Log(earlier.Pace), Math.Min(before, spread));
        }
        var (used, perDay) = (Planned(nowMs), (last.Milliamps + leak) * 24 / capacity);
        // Errors of a curve do not shrink with the number of days: some tens of means carry all there is to know.
        var within = days.Where(d => d.AtMs >= fittedMs && d.AtMs <= nowMs).ToList();
        var seen = within.Chunk(Math.Max(1, (within.Count + Bins - 1) / Bins)).Select(c => (Used: Planned((long)c.Average(d => d.AtMs)), Volts: c.Average(d => d.Volts), Kelvin: c.Average(d => d.Celsius ?? Reference) - Reference, Days: c.Length)).ToList();
        // From day to day, so that what falls slowly is no noise (mean square successive difference, von Neumann 1941).
        var jitter = within.Count < 2 ? 0 : within.Zip(within.Skip(1), (a, b) => Square(b.Volts - a.Volts)).Average() / 2;
        var warm = seen.Count > 0 ? seen.Average(s => s.Kelvin) : 0;
        var season = cell.VoltsPerKelvin * Math.Max(LeastSeasonKelvin, seen.Count > 1 ? Math.Sqrt(seen.Average(s => Square(s.Kelvin - warm))) : 0);
        var candidates = Candidates(cell, seen, jitter, centre, spread);
        // A node that still speaks has not come to the end of its cells.
        var alive = candidates.Where(c => EndOf(cell, c.Terms, warm) > c.Pace * used).ToList();
        alive = alive.Count > 0 ? alive : candidates;
        var left = new List<(double Value, double Weight)>();
        foreach (var c in alive)
        {
            var end = EndOf(cell, c.Terms, warm);
            var basis = Basis(cell, end, warm);
            var (slope, sigma) = (Math.Max(0.05, -Slope(cell, end)), Math.Sqrt(Math.Max(0, basis * (c.Covariance * basis)) + Square(season)));
            left.AddRange(Normal.Select(n => (Math.Max(0, (Math.Clamp(end + n.At * Math.Sqrt(Square(sigma / slope) + Square(EndSpread)), 0, 1) - c.Pace * used) / (c.Pace * perDay)), c.Weight * n.Weight)));
        }
        var paces = alive.Select(c => (c.Pace, c.Weight)).ToList();
        var (slow, pace, fast) = (Quantile(paces, 0.05), Quantile(paces, 0.5), Quantile(paces, 0.95));
        WorkingInput[] inputs = [new("C", capacity, Unit.MilliampHour, cell.CapacityMilliampHours.Source), new("planned use", used * 100, "% of C", "plan, since the cells were fitted"), new("pace", pace, "", $"{within.Count} days of voltage against the discharge curve"), new("a day", perDay * 100, "% of C", "plan")];
        Figure Banded(string label, double low, double value, double high, string unit, string formula) => new(label, value, low, high, unit, new Working(formula, inputs, "Bayesian linear regression (Bishop 2006, section 3.5); discharge curve: " + cell.Source));
        return new(Banded("Days left", Quantile(left, 0.05), Quantile(left, 0.5), Quantile(left, 0.95), Unit.Day, "days = (end of the curve − pace · planned use) / (pace · planned use a day); band: 5 to 95 %"),
            Banded("Charge used", slow * used * capacity, pace * used * capacity, fast * used * capacity, Unit.MilliampHour, "Q = pace · planned use · C"),
            Banded("Pace", slow, pace, fast, "", "charge used over charge planned, as parts of the capacity"), Math.Clamp(1 - Math.Log(fast / slow) / (2 * NinetyPercent * byPlan), 0, 1));
    }

    private sealed record Candidate(double Pace, double Weight, Vector<double> Terms, Matrix<double> Covariance);

    /// <summary>Paces with their weights, and what is left open of the curve with each. Near the end the pace is known far better than one step of the grid over all of them: the grid is then laid once more over those that have a weight.</summary>
    private static List<Candidate> Candidates(Cell cell, List<(double Used, double Volts, double Kelvin, int Days)> seen, double jitter, double centre, double spread)
    {
        var coarse = Candidates(cell, seen, jitter, centre, spread, -Reach, Reach);
        const double Step = 2 * Reach / (Grid - 1);
        double At(double pace) => (Math.Log(pace) - centre) / spread;
        return Candidates(cell, seen, jitter, centre, spread, Math.Max(-Reach, At(coarse[0].Pace) - Step), Math.Min(Reach, At(coarse[^1].Pace) + Step));
    }

    /// <param name="from">First pace, in spreads from the centre.</param>
    private static List<Candidate> Candidates(Cell cell, List<(double Used, double Volts, double Kelvin, int Days)> seen, double jitter, double centre, double spread, double from, double to)
    {
        var volts = cell.NominalVolts;
        var prior = Matrix<double>.Build.DiagonalOfDiagonalArray([Square(OffsetShare * volts), Square(TiltShare * volts), Square(BulgeShare * volts), Square(Math.Max(1e-5, cell.VoltsPerKelvin * TemperatureSpread)), Square(AxisSpread)]);
        var precision = prior.Inverse();
        var list = new List<(double Pace, double Log, Vector<double> Terms, Matrix<double> Covariance)>();
        for (var i = 0; i < Grid; i++)
        {
            var at = from + (to - from) * i / (Grid - 1);
            var pace = Math.Exp(centre + at * spread);
            var (normal, right, squares) = (precision.Clone(), Vector<double>.Build.Dense(Terms), 0.0);
            foreach (var (used, measured, kelvin, days) in seen)
            {
                var noise = Square(NoiseShare * volts) + jitter / days;
                var x = Math.Min(1, pace * used);
                var basis = Basis(cell, x, kelvin);
                var residual = measured - VoltsAt(cell, x) - cell.VoltsPerKelvin * kelvin;
                normal += basis.OuterProduct(basis) / noise;
                right += basis * (residual / noise);
                squares += residual * residual / noise;
            }
            var factor = normal.Cholesky();
            var terms = factor.Solve(right);
            list.Add((pace, -0.5 * (at * at + squares - right * terms + factor.DeterminantLn), terms, normal.Inverse()));
        }
        var top = list.Max(c => c.Log);
        var sum = list.Sum(c => Math.Exp(c.Log - top));
        return [.. list.Select(c => new Candidate(c.Pace, Math.Exp(c.Log - top) / sum, c.Terms, c.Covariance)).Where(c => c.Weight > 1e-9)];
    }

    /// <summary>Offset, tilt, bulge, temperature, and charge that comes earlier or later than on the curve.</summary>
    private static Vector<double> Basis(Cell cell, double x, double kelvin) => Vector<double>.Build.Dense([1, 2 * x - 1, Math.Sin(2 * Math.PI * x), kelvin, Slope(cell, x) * 4 * x * (1 - x)]);

    /// <summary>Where on its curve the node stops.</summary>
    private static double EndOf(Cell cell, Vector<double> terms, double kelvin)
    {
        const int Steps = 200;
        for (var i = Steps; i > 0; i--)
        {
            var x = (double)i / Steps;
            if (VoltsAt(cell, x) + cell.VoltsPerKelvin * kelvin + terms * Basis(cell, x, kelvin) > cell.EmptyVolts)
            {
                return Math.Min(1, x + 0.5 / Steps);
            }
        }
        return 0;
    }

    /// <summary>Voltage on the curve, V.</summary>
    /// <param name="used">Part of the capacity taken out, 0..1.</param>
    public static double VoltsAt(Cell cell, double used)
    {
        var curve = cell.Curve!;
        for (var i = 1; i < curve.Count; i++)
        {
            if (used <= curve[i].Used)
            {
                return curve[i - 1].Volts + (curve[i].Volts - curve[i - 1].Volts) * (used - curve[i - 1].Used) / (curve[i].Used - curve[i - 1].Used);
            }
        }
        return curve[^1].Volts;
    }

    private static double Slope(Cell cell, double used) => (VoltsAt(cell, Math.Min(1, used + 0.02)) - VoltsAt(cell, Math.Max(0, used - 0.02))) / (Math.Min(1, used + 0.02) - Math.Max(0, used - 0.02));

    /// <summary>Standard deviation of the logarithm, where low and high hold the truth nine times of ten.</summary>
    private static double LogSpread(double low, double high) => low > 0 && high > low ? Math.Log(high / low) / 2 / NinetyPercent : 0;

    private static double Square(double value) => value * value;

    private static double Quantile(List<(double Value, double Weight)> values, double share)
    {
        var (sum, total) = (0.0, values.Sum(v => v.Weight));
        foreach (var (value, weight) in values.OrderBy(v => v.Value))
        {
            sum += weight;
            if (sum >= share * total)
            {
                return value;
            }
        }
        return values.Max(v => v.Value);
    }
}
