using Cenotic.Core.Catalogue;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Factorization;

namespace Cenotic.Core.Log;

/// <summary>Some days of cell voltage in one.</summary>
/// <param name="Used">Charge planned until then, as a part of the rated capacity.</param>
/// <param name="Volts">Median of the days, V.</param>
/// <param name="Kelvin">Mean temperature above 20 °C, K.</param>
/// <param name="Variance">Of the median, V².</param>
internal readonly record struct VoltagePoint(double Used, double Volts, double Kelvin, double Variance);

/// <summary>One way in which the voltage may have come about.</summary>
/// <param name="Curve">The shape it is held against.</param>
/// <param name="Pace">Charge used over charge planned, as parts of the capacity.</param>
/// <param name="Log">Logarithm of its weight: prior times likelihood of the best fit. The volume of fits is left out:
/// a curve that is bent more freely at one pace than at another is no reason for either.</param>
/// <param name="Terms">What was found of the terms of <see cref="DischargeFit.Terms"/>, V.</param>
/// <param name="Precision">Inverse of the covariance of the terms, 1/V², factored.</param>
internal sealed record Explanation(Cell Curve, ChargeAxis Axis, double Pace, double Log, Vector<double> Terms, Cholesky<double> Precision)
{
    private const int Steps = 200;

    /// <summary>Voltage at a point of the charge axis, V.</summary>
    internal double VoltsAt(double u, double kelvin)
    {
        Span<double> basis = stackalloc double[DischargeFit.Terms];
        DischargeFit.Fill(basis, u, kelvin);
        var volts = BatteryLife.VoltsAt(Curve, u) + Curve.VoltsPerKelvin * kelvin;
        for (var i = 0; i < basis.Length; i++)
        {
            volts += Terms[i] * basis[i];
        }
        return volts;
    }

    /// <summary>Where the node stops, as a point of the charge axis; and by how much that may be off, standard deviation.</summary>
    /// <param name="kelvin">Mean temperature above 20 °C, K.</param>
    /// <param name="season">Standard deviation of the voltage by the season, V.</param>
    internal (double At, double Spread) End(double kelvin, double season)
    {
        var step = Steps;
        while (step > 0 && VoltsAt((double)step / Steps, kelvin) <= Curve.EmptyVolts)
        {
            step--;
        }
        var end = Math.Min(1, (step + 0.5) / Steps);
        var basis = DischargeFit.Basis(end, kelvin);
        var sigma = Math.Sqrt(Math.Max(0, basis * Precision.Solve(basis)) + season * season);
        var (left, right) = (Math.Max(0, end - 0.02), Math.Min(1, end + 0.02));
        var slope = (VoltsAt(left, kelvin) - VoltsAt(right, kelvin)) / (right - left);
        return (end, sigma / Math.Max(0.05, slope));
    }
}

/// <summary>
/// How one maker's charge axis lies on another's: u = 1 − (1 − x^a)^b bends the early part by a and the knee by b and
/// keeps both ends (the distribution function of Kumaraswamy, Journal of Hydrology 46, 1980).
/// </summary>
internal readonly record struct ChargeAxis(double Early, double Knee)
{
    internal double Of(double used) => used >= 1 ? 1 : 1 - Math.Pow(1 - Math.Pow(Math.Max(0, used), Early), Knee);

    internal double Inverse(double at) => at >= 1 ? 1 : Math.Pow(1 - Math.Pow(1 - Math.Max(0, at), 1 / Knee), 1 / Early);
}

/// <summary>
/// The voltage of a node's cells held against one discharge curve. For each pace on a grid, and each of nine charge axes, what meter, divider and maker do to
/// the curve (an offset, a tilt, a bulge and shorter waves, another dependence on temperature) is left open within bounds and weighed out (Bayesian linear
/// regression: Bishop, Pattern Recognition and Machine Learning, 2006, section 3.5).
/// </summary>
internal static class DischargeFit
{
    private const int Coarse = 41,
        Fine = 25;
    private const double Reach = 4,
        LeastWeight = 1e-6,
        CoarseStep = 2 * Reach / (Coarse - 1);

    /// <summary>Paces over all that is believed, in spreads from the centre.</summary>
    private static readonly double[] CoarseGrid = [.. Enumerable.Range(0, Coarse).Select(i => -Reach + i * CoarseStep)];

    /// <summary>The axis on which the curve lies as it is.</summary>
    private static readonly ChargeAxis AsItIs = new(1, 1);

    /// <summary>Standard deviation of the temperature coefficient, as a part of it; and of an offset of meter and divider, as a part of the nominal voltage.
    /// Common practice, no source.</summary>
    private const double TemperatureSpread = 0.5,
        OffsetShare = 0.01;

    /// <summary>Standard deviations of the waves cos(kπu) by which the curves of makers differ, as a part
    /// of the nominal voltage: 2 % together. From memory of data sheets.</summary>
    private static readonly double[] WaveShares = [0.015, 0.012, 0.008, 0.005, 0.003];

    /// <summary>Standard deviations of the logarithms of <see cref="ChargeAxis"/>.</summary>
    private const double EarlySpread = 0.11,
        KneeSpread = 0.15;

    /// <summary>Nodes and weights of three-point Gauss–Hermite quadrature for the standard normal (Abramowitz and Stegun, table 25.10, scaled).</summary>
    private static readonly (double At, double Weight)[] Three = [(-1.732051, 1 / 6.0), (0, 2 / 3.0), (1.732051, 1 / 6.0)];

    /// <summary>How high above its curve a full cell begins, as a part of the nominal voltage, and within which part of
    /// the charge that is gone: the exponential zone of Shepherd's equation (1965).</summary>
    private const double StartShare = 0.025,
        StartLength = 0.04;

    /// <summary>The terms: offset, the waves, the start, temperature.</summary>
    internal static int Terms => WaveShares.Length + 3;

    /// <summary>Explanations with their logarithms. A coarse grid of paces over all that is believed, on the curve as it is, says where to lay a finer one:
    /// near the end the pace is known far better than one coarse step.</summary>
    /// <param name="centre">Logarithm of the pace that is believed beforehand.</param>
    /// <param name="spread">Its standard deviation.</param>
    internal static List<Explanation> Explain(Cell curve, IReadOnlyList<VoltagePoint> seen, double centre, double spread)
    {
        var coarse = Fits(curve, seen, AsItIs, 0, centre, spread, CoarseGrid);
        var top = coarse.Max(e => e.Log);
        var weighty = coarse.Zip(CoarseGrid).Where(e => e.First.Log > top + Math.Log(LeastWeight)).Select(e => e.Second).ToList();
        var (from, to) = (Math.Max(-Reach, weighty[0] - 2 * CoarseStep), Math.Min(Reach, weighty[^1] + 2 * CoarseStep));
        var step = (to - from) / (Fine - 1);
        double[] paces = [.. Enumerable.Range(0, Fine).Select(i => from + i * step)];
        // Each stands for one step of its own grid, so that those of several curves can be put together.
        return
        [
            .. from early in Three
            from knee in Three
            from e in Fits(
                curve,
                seen,
                new(Math.Exp(early.At * EarlySpread), Math.Exp(knee.At * KneeSpread)),
                Math.Log(early.Weight * knee.Weight * step),
                centre,
                spread,
                paces
            )
            select e,
        ];
    }

    /// <summary>
    /// Logarithm of how well a curve explains what was seen, by its best fits (a profile of the likelihood, its prior with
    /// it), up to a number that is the same for all curves; a rough one, on the curve as it is.
    /// </summary>
    internal static double Evidence(Cell curve, IReadOnlyList<VoltagePoint> seen, double centre, double spread)
    {
        var fits = Fits(curve, seen, AsItIs, 0, centre, spread, CoarseGrid);
        var top = fits.Max(e => e.Log);
        return top + Math.Log(fits.Sum(e => Math.Exp(e.Log - top)));
    }

    /// <summary>How far the curve was bent, squared standard deviations: chi-squared with as many degrees of freedom as there are terms.</summary>
    internal static double Bend(Explanation explanation) => explanation.Terms * (Precision(explanation.Curve) * explanation.Terms);

    /// <param name="axisLog">Logarithm of what is believed of the axis.</param>
    /// <param name="paces">In spreads from the centre.</param>
    private static List<Explanation> Fits(
        Cell curve,
        IReadOnlyList<VoltagePoint> seen,
        ChargeAxis axis,
        double axisLog,
        double centre,
        double spread,
        double[] paces
    )
    {
        var list = new List<Explanation>(paces.Length);
        var believed = Precision(curve).Diagonal().ToArray();
        Span<double> basis = stackalloc double[Terms];
        foreach (var at in paces)
        {
            var pace = Math.Exp(centre + at * spread);
            var (normal, right, squares) = (new double[Terms * Terms], new double[Terms], 0.0);
            for (var term = 0; term < Terms; term++)
            {
                normal[term * Terms + term] = believed[term];
            }
            foreach (var point in seen)
            {
                var u = axis.Of(pace * point.Used);
                Fill(basis, u, point.Kelvin);
                var residual = point.Volts - BatteryLife.VoltsAt(curve, u) - curve.VoltsPerKelvin * point.Kelvin;
                Add(normal, right, basis, residual, point.Variance);
                squares += residual * residual / point.Variance;
            }
            var vector = Vector<double>.Build.Dense(right);
            var factor = Matrix<double>.Build.Dense(Terms, Terms, normal).Cholesky();
            var terms = factor.Solve(vector);
            list.Add(new(curve, axis, pace, axisLog - 0.5 * (at * at + squares - vector * terms), terms, factor));
        }
        return list;
    }

    private static void Add(double[] normal, double[] right, ReadOnlySpan<double> basis, double residual, double variance)
    {
        for (var row = 0; row < basis.Length; row++)
        {
            var scaled = basis[row] / variance;
            right[row] += scaled * residual;
            for (var column = 0; column < basis.Length; column++)
            {
                normal[row * basis.Length + column] += scaled * basis[column];
            }
        }
    }

    internal static Vector<double> Basis(double u, double kelvin)
    {
        var basis = new double[Terms];
        Fill(basis, u, kelvin);
        return Vector<double>.Build.Dense(basis);
    }

    /// <summary>The terms at a point of the charge axis; cos(kθ) by its recurrence (Abramowitz and Stegun, 4.3.34).</summary>
    internal static void Fill(Span<double> basis, double u, double kelvin)
    {
        var cosine = Math.Cos(Math.PI * u);
        (basis[0], basis[1]) = (1, cosine);
        for (var k = 2; k <= WaveShares.Length; k++)
        {
            basis[k] = 2 * cosine * basis[k - 1] - basis[k - 2];
        }
        (basis[^2], basis[^1]) = (Math.Exp(-u / StartLength), kelvin);
    }

    private static Matrix<double> Precision(Cell curve)
    {
        double[] spreads =
        [
            OffsetShare * curve.NominalVolts,
            .. WaveShares.Select(w => w * curve.NominalVolts),
            StartShare * curve.NominalVolts,
            Math.Max(1e-4, curve.VoltsPerKelvin * TemperatureSpread),
        ];
        return Matrix<double>.Build.DenseOfDiagonalArray([.. spreads.Select(s => 1 / (s * s))]);
    }
}
