using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using MathNet.Numerics.Statistics;

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

/// <summary>Cells whose voltage does not go along the curve of those that were entered.</summary>
/// <param name="Likelier">The kind whose curve fits; null where none that is known does.</param>
public sealed record UnlikeCells(string? Likelier)
{
    /// <summary>What is to be said of them.</summary>
    public string Words =>
        "These cells do not behave like the cells entered"
        + (Likelier is null ? ": another kind, or not full when they were put in." : $"; {Likelier} is likelier. Or they were not full when they were put in.");
}

/// <summary>What the cells of a node have shown against what was planned.</summary>
/// <param name="DaysLeft">With the band that holds the truth nine times of ten; unknown where the cells are <paramref name="Unlike"/> those entered.</param>
/// <param name="UsedMilliampHours">Taken out since they were fitted, self-discharge included.</param>
/// <param name="Pace">Charge used over charge planned, as a part of the capacity: 1 is as planned.</param>
/// <param name="Learnt">How much narrower the pace is than by the plan alone, 0..1: near 0 where the voltage tells nothing yet.</param>
/// <param name="Unlike">Null where the voltage goes along the curve.</param>
public sealed record BatteryState(Figure DaysLeft, Figure UsedMilliampHours, Figure Pace, double Learnt, UnlikeCells? Unlike = null);

/// <summary>
/// Days left on cells, from their voltage and from what the plan draws. The one unknown that matters is the pace: how fast charge is really used, as a part of
/// the real capacity, against plan over rated capacity. What the voltage says of it comes from <see cref="DischargeFit"/>;
/// cells that go along no curve like the one entered are told, not guessed at.
/// </summary>
public static class BatteryLife
{
    private const int Bins = 24,
        LeastDays = 5;
    private const double DayMs = 86_400_000,
        HourMs = 3_600_000,
        NinetyPercent = 1.645,
        LeastSpread = 0.08,
        CellSpread = 0.05,
        EndSpread = 0.01,
        LeastSeasonKelvin = 4,
        Reference = 20;

    /// <summary>What the curve itself is not known to, as a part of the nominal voltage, from one stretch to the next. Common practice, no source.</summary>
    private const double NoiseShare = 0.003;

    /// <summary>Variance of a median over that of a mean, of normal noise: π / 2.</summary>
    private const double MedianVariance = Math.PI / 2;

    /// <summary>Median of the differences of two normal values to their standard deviation: 1 / (0.6745 √2).</summary>
    private const double JitterByMedian = 1.0484;

    /// <summary>99.9 % of chi-squared with eight degrees of freedom (Abramowitz and Stegun, table 26.8): a curve bent further is another curve.</summary>
    private const double MostBend = 26.1;

    /// <summary>A ratio that counts as very strong evidence: 150 to 1 (Kass and Raftery, Journal of the American Statistical
    /// Association 90, 1995), here of best fits; and the bend with which it is heard.</summary>
    private static readonly double VeryStrong = Math.Log(150);
    private const double BendWithEvidence = 12.0;

    /// <summary>Nodes and weights of five-point Gauss–Hermite quadrature for the standard normal (Abramowitz and Stegun, table 25.10, scaled).</summary>
    private static readonly (double At, double Weight)[] Normal =
    [
        (-2.856970, 0.011257),
        (-1.355626, 0.222076),
        (0, 0.533333),
        (1.355626, 0.222076),
        (2.856970, 0.011257),
    ];

    /// <summary>What is left.</summary>
    /// <param name="cell">With <see cref="Cell.InSeries"/> where several stand one after another.</param>
    /// <param name="drains">What the plan said, in order of time; the first counts from <paramref name="fittedMs"/> on, the last goes on.</param>
    /// <param name="days">In order of time; may be empty, and then the plan alone speaks.</param>
    /// <param name="earlier">How the set before went: what its node draws and its kind of cell holds is known from
    /// it, all but what one set differs from the next. Null where there was none.</param>
    /// <param name="others">What may stand there in place of the cells entered (<see cref="CellKinds.InPlaceOf"/>);
    /// null where nothing is to be compared.</param>
    /// <returns>Null where the cell has no curve, or nothing is drawn.</returns>
    public static BatteryState? Of(
        Cell cell,
        int parallel,
        long fittedMs,
        long nowMs,
        IReadOnlyList<PlannedDrain> drains,
        IReadOnlyList<CellDay> days,
        EarlierPace? earlier = null,
        IReadOnlyList<Cell>? others = null
    )
    {
        if (cell.Curve is not { Count: > 1 } || drains.Count == 0 || drains[^1].Milliamps <= 0)
        {
            return null;
        }
        var capacity = cell.CapacityMilliampHours.Likely * parallel;
        var leak = capacity * cell.SelfDischargePerYear.Likely / Rhythm.Energy.HoursPerYear;
        double Planned(long t) => PlannedUse(drains, fittedMs, t, leak) / capacity;
        var last = drains[^1];
        var (centre, spread, byPlan) = Believed(cell, last, earlier);
        var (used, perDay) = (Planned(nowMs), (last.Milliamps + leak) * 24 / capacity);
        var within = days.Where(d => d.AtMs >= fittedMs && d.AtMs <= nowMs).ToList();
        var seen = Points(cell, within, Planned);
        others ??= [];
        // Makers of one chemistry draw different curves: each that is known of it may be the one.
        var explained = others
            .Where(k => k.Chemistry == cell.Chemistry)
            .Select(k => cell with { Curve = k.Curve, VoltsPerKelvin = k.VoltsPerKelvin })
            .Prepend(cell)
            .SelectMany(c => DischargeFit.Explain(c, seen, centre, spread))
            .ToList();
        var unlike = within.Count < LeastDays ? null : Unlike(cell, [.. others.Where(k => k.Chemistry != cell.Chemistry)], explained, seen, centre, spread);
        if (unlike is not null)
        {
            Figure Open(string label, string unit) => Figure.Unknown(label, unit, "which cells are fitted. " + unlike.Words);
            return new(Open("Days left", Unit.Day), Open("Charge used", Unit.MilliampHour), Open("Pace", ""), 0, unlike);
        }
        var warm = seen.Count > 0 ? seen.Average(s => s.Kelvin) : 0;
        var season = cell.VoltsPerKelvin * Math.Max(LeastSeasonKelvin, seen.Count > 1 ? Math.Sqrt(seen.Average(s => Square(s.Kelvin - warm))) : 0);
        var (paces, left) = Outlook(explained, used, perDay, warm, season);
        return Stated(cell, capacity, used, perDay, within.Count, byPlan, paces, left);
    }

    /// <summary>Charge that was to be drawn between the fitting of the cells and a time by the plans of that time, mAh.</summary>
    private static double PlannedUse(IReadOnlyList<PlannedDrain> drains, long fittedMs, long t, double leak) =>
        drains
            .Select(
                (d, i) => (From: i == 0 ? fittedMs : Math.Max(fittedMs, d.FromMs), To: i + 1 < drains.Count ? drains[i + 1].FromMs : long.MaxValue, d.Milliamps)
            )
            .Sum(d => Math.Max(0, Math.Min(t, d.To) - d.From) / HourMs * (d.Milliamps + leak));

    /// <summary>What is left, with the band that the paces which the voltages allow leave.</summary>
    private static BatteryState Stated(
        Cell cell,
        double capacity,
        double used,
        double perDay,
        int days,
        double byPlan,
        List<(double Value, double Weight)> paces,
        List<(double Value, double Weight)> left
    )
    {
        var (slow, pace, fast) = (Quantile(paces, 0.05), Quantile(paces, 0.5), Quantile(paces, 0.95));
        WorkingInput[] inputs =
        [
            new("C", capacity, Unit.MilliampHour, cell.CapacityMilliampHours.Source),
            new("planned use", used * 100, "% of C", "plan, since the cells were fitted"),
            new("pace", pace, "", $"{days} days of voltage against the discharge curve"),
            new("a day", perDay * 100, "% of C", "plan"),
        ];
        Figure Banded(string label, double low, double value, double high, string unit, string formula) =>
            new(
                label,
                value,
                low,
                high,
                unit,
                new Working(formula, inputs, "Bayesian linear regression (Bishop 2006, section 3.5); discharge curve: " + cell.Source)
            );
        return new(
            Banded(
                "Days left",
                Quantile(left, 0.02),
                Quantile(left, 0.5),
                Quantile(left, 0.97),
                Unit.Day,
                "days = (end of the curve − pace · planned use) / (pace · planned use a day); band: 2 to 97 %"
            ),
            Banded("Charge used", slow * used * capacity, pace * used * capacity, fast * used * capacity, Unit.MilliampHour, "Q = pace · planned use · C"),
            Banded("Pace", slow, pace, fast, "", "charge used over charge planned, as parts of the capacity"),
            Math.Clamp(1 - Math.Log(fast / slow) / (2 * NinetyPercent * byPlan), 0, 1)
        );
    }

    /// <summary>What is believed of the logarithm of the pace before any voltage: its centre, its standard deviation, and that by the plan alone.</summary>
    private static (double Centre, double Spread, double ByPlan) Believed(Cell cell, PlannedDrain last, EarlierPace? earlier)
    {
        var byPlan = Math.Max(
            LeastSpread,
            Math.Sqrt(Square(LogSpread(last.Low, last.High)) + Square(LogSpread(cell.CapacityMilliampHours.Low, cell.CapacityMilliampHours.High)))
        );
        if (earlier is null)
        {
            return (0, byPlan, byPlan);
        }
        // Both are known of the same unknown: the plan with its spread, and the set before with its own.
        var before = Math.Sqrt(Square(LogSpread(earlier.Low, earlier.High)) + Square(CellSpread));
        return (Math.Log(earlier.Pace), Math.Min(before, byPlan), byPlan);
    }

    /// <summary>The days in some tens of points: errors of a curve do not shrink with the number of days.</summary>
    private static List<VoltagePoint> Points(Cell cell, List<CellDay> days, Func<long, double> planned)
    {
        // From day to day, so that what falls slowly is no noise; by the median, so that one wild value is none.
        var steps = days.Zip(days.Skip(1), (a, b) => Math.Abs(b.Volts - a.Volts)).ToList();
        var jitter = steps.Count == 0 ? 0 : JitterByMedian * steps.Median();
        return
        [
            .. days.Chunk(Math.Max(1, (days.Count + Bins - 1) / Bins))
                .Select(c => new VoltagePoint(
                    planned((long)c.Average(d => d.AtMs)),
                    c.Select(d => d.Volts).Median(),
                    c.Average(d => d.Celsius ?? Reference) - Reference,
                    Square(NoiseShare * cell.NominalVolts) + MedianVariance * Square(jitter) / c.Length
                )),
        ];
    }

    /// <summary>Whether the curve had to be bent further than makers differ, or another kind explains the voltage far better.</summary>
    private static UnlikeCells? Unlike(Cell cell, List<Cell> others, List<Explanation> explained, List<VoltagePoint> seen, double centre, double spread)
    {
        var bend = DischargeFit.Bend(explained.MaxBy(e => e.Log)!);
        if (bend < BendWithEvidence)
        {
            return null;
        }
        var own = DischargeFit.Evidence(cell, seen, centre, spread);
        var best = others
            .Select(o =>
                (
                    Cell: o,
                    Log: DischargeFit.Evidence(
                        o,
                        seen,
                        centre + Math.Log(cell.CapacityMilliampHours.Likely / o.CapacityMilliampHours.Likely),
                        Math.Sqrt(Square(spread) + Square(0.3))
                    )
                )
            )
            .OrderByDescending(o => o.Log)
            .FirstOrDefault();
        var likelier = best.Cell is not null && best.Log > own + VeryStrong ? best.Cell.Label : null;
        return bend > MostBend || likelier is not null ? new(likelier) : null;
    }

    /// <summary>Paces and days left, each with its weight. A node that still speaks has not come to the end of its cells.</summary>
    private static (List<(double Value, double Weight)> Paces, List<(double Value, double Weight)> Left) Outlook(
        List<Explanation> explained,
        double used,
        double perDay,
        double warm,
        double season
    )
    {
        var top = explained.Max(e => e.Log);
        List<(double Value, double Weight)> paces = [],
            left = [],
            ended = [];
        foreach (var e in explained.Where(e => e.Log > top - 12))
        {
            var (weight, (at, spread)) = (Math.Exp(e.Log - top), e.End(warm, season));
            var (alive, sigma) = (0.0, Math.Sqrt(Square(spread) + Square(EndSpread)));
            foreach (var n in Normal)
            {
                var days = (e.Axis.Inverse(Math.Clamp(at + n.At * sigma, 0, 1)) - e.Pace * used) / (e.Pace * perDay);
                if (days > 0)
                {
                    left.Add((days, weight * n.Weight));
                    alive += n.Weight;
                }
            }
            (alive > 0 ? paces : ended).Add((e.Pace, weight * (alive > 0 ? alive : 1)));
        }
        return paces.Count > 0 ? (paces, left) : (ended, [(0, 1)]);
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
