using Cenotic.Core.BringUp;
using CsCheck;
using MathNet.Numerics;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>Calibration mathematics against published data, worked examples and MathNet.Numerics.</summary>
public class CalibrationTests
{
    private static Calibration Made(CalibrationKind kind, double referenceError, params (double Raw, double Reference)[] points) =>
        Calibration.Fit(kind, [.. points.Select(p => new CalibrationPoint(p.Raw, p.Reference))], referenceError).Value;

    // Linear algebra, worked by hand.
    [Theory]
    [InlineData(0.4, 0, 99.1, 100, 25, 24.924012)]
    [InlineData(1180, 4.01, 1850, 7.0, 1500, 5.43806)]
    [InlineData(310, 100, 720, 0, 480, 58.536585)]
    public void Two_points_make_a_line(double raw1, double reference1, double raw2, double reference2, double raw, double expected)
    {
        var made = Made(CalibrationKind.TwoPoints, 0, (raw1, reference1), (raw2, reference2));
        Assert.Equal(expected, made.Apply(raw), 1e-4);
        Assert.Equal(reference1, made.Apply(raw1), 1e-9);
        Assert.Equal(reference2, made.Apply(raw2), 1e-9);
        Assert.Null(made.Residual);
    }

    [Fact]
    public void Least_squares_gives_what_was_published()
    {
        // Anscombe, Graphs in statistical analysis, The American Statistician 27 (1973): slope 0.500,
        // intercept 3.00, residual sum of squares 13.75 on 9 degrees of freedom.
        double[] x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5],
            y = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68];
        var made = Made(CalibrationKind.Line, 0, [.. x.Zip(y)]);
        Assert.Equal(0.5, made.Slope, 5e-4);
        Assert.Equal(3.0, made.Intercept, 5e-4);
        Assert.Equal(Math.Sqrt(13.75 / 9), made.Residual!.Value, 1e-3);
        // An example of its own, by the formulas of ordinary least squares.
        var own = Made(CalibrationKind.Line, 0, (102, 10), (203, 20), (298, 30), (405, 40), (501, 50));
        Assert.Equal((0.0999732, -0.1719139, 0.2988468), (Math.Round(own.Slope, 7), Math.Round(own.Intercept, 7), Math.Round(own.Residual!.Value, 7)));
    }

    [Fact]
    public void Any_line_is_the_one_of_the_reference_library() =>
        Gen.Select(Gen.Double[-1000, 1000], Gen.Double[-1000, 1000])
            .Array[3, 40]
            .Where(p => p.Select(q => q.Item1).Max() - p.Select(q => q.Item1).Min() > 1)
            .Sample(points =>
            {
                var (intercept, slope) = Fit.Line([.. points.Select(p => p.Item1)], [.. points.Select(p => p.Item2)]);
                var made = Made(CalibrationKind.Line, 0, points);
                var scale = 1 + Math.Abs(intercept) + Math.Abs(slope);
                Assert.Equal(slope, made.Slope, 1e-7 * scale);
                Assert.Equal(intercept, made.Intercept, 1e-6 * scale);
                var residual = GoodnessOfFit.StandardError(points.Select(p => intercept + slope * p.Item1), points.Select(p => p.Item2), 2);
                Assert.Equal(residual, made.Residual!.Value, 1e-6 * scale);
            });

    [Fact]
    public void A_table_goes_straight_from_point_to_point_and_on_beyond_its_ends()
    {
        // A sender of 10 to 184 ohm for 0 to 10 bar (from memory; the shape is what counts here).
        var made = Made(CalibrationKind.Table, 0.1, (184, 10), (10, 0), (82, 4), (134, 7));
        Assert.Equal([0, 4, 7, 10], new[] { 10.0, 82, 134, 184 }.Select(made.Apply));
        Assert.Equal(2, made.Apply(46), 1e-12);
        Assert.Equal(8.5, made.Apply(159), 1e-12);
        Assert.Equal(10 + 3.0 / 50 * 16, made.Apply(200), 1e-12);
        Assert.Equal(-4.0 / 72 * 10, made.Apply(0), 1e-12);
        var linear = MathNet.Numerics.Interpolate.Linear([10, 82, 134, 184], [0.0, 4, 7, 10]);
        Gen.Double[-50, 300].Sample(raw => Assert.Equal(linear.Interpolate(raw), made.Apply(raw), 1e-9));
        Assert.Equal((10, 184), made.Range);
    }

    [Fact]
    public void An_offset_and_a_factor_are_the_mean_difference_and_the_ratio()
    {
        Assert.Equal(21.3, Made(CalibrationKind.Offset, 0.1, (20.8, 20.1)).Apply(22), 1e-12);
        var scale = Made(CalibrationKind.Scale, 0, (1000, 279.4));
        Assert.Equal(0.2794, scale.Apply(1), 1e-12);
        Assert.Equal("0.2794 mm × raw", scale.Formula("mm"));
        Assert.Equal("raw − 0.7 °C", Made(CalibrationKind.Offset, 0, (20.8, 20.1)).Formula("°C"));
    }

    [Fact]
    public void The_uncertainty_is_that_of_the_guide()
    {
        // JCGM 100:2008: ± 0.2 as limits is 0.2/√3; a mean of 16 values with s = 0.4 is good for 0.1; both together by their squares, twice.
        var made = Calibration.Fit(CalibrationKind.Offset, [new(20, 20.5, 0.4, 16)], 0.2).Value;
        Assert.Equal(2 * Math.Sqrt(0.04 / 3 + 0.01), made.Uncertainty, 1e-12);
        // On a line of slope 2 the noise counts twice.
        Assert.Equal(
            2 * Math.Sqrt(0.04 / 3 + 0.04),
            Calibration.Fit(CalibrationKind.TwoPoints, [new(0, 0, 0.4, 16), new(10, 20, 0.1, 16)], 0.2).Value.Uncertainty,
            1e-12
        );
    }

    [Theory]
    [InlineData(CalibrationKind.TwoPoints, "same raw value", new double[] { 5, 1, 5, 2 })]
    [InlineData(CalibrationKind.TwoPoints, "same true value", new double[] { 5, 1, 6, 1 })]
    [InlineData(CalibrationKind.TwoPoints, "wants 2 points; there are 1", new double[] { 5, 1 })]
    [InlineData(CalibrationKind.Line, "wants 3 to 50 points; there are 2", new double[] { 5, 1, 6, 2 })]
    [InlineData(CalibrationKind.Table, "rise all the way", new double[] { 1, 1, 2, 3, 3, 2 })]
    [InlineData(CalibrationKind.Table, "rise all the way", new double[] { 1, 1, 2, 1 })]
    [InlineData(CalibrationKind.Table, "same raw value", new double[] { 1, 1, 1, 2, 3, 4 })]
    [InlineData(CalibrationKind.Scale, "above 0", new double[] { 0, 5 })]
    [InlineData(CalibrationKind.Offset, "must have a number", new double[] { double.NaN, 5 })]
    [InlineData(CalibrationKind.Offset, "wants 1 to 50", new double[] { })]
    public void Points_that_make_no_correction_are_refused_with_the_reason(CalibrationKind kind, string why, double[] numbers)
    {
        var made = Calibration.Fit(kind, [.. numbers.Chunk(2).Select(p => new CalibrationPoint(p[0], p[1]))], 0.1);
        Assert.Contains(why, Assert.Single(made.Reasons));
    }

    [Fact]
    public void A_negative_error_of_the_reference_is_refused() => Assert.False(Calibration.Fit(CalibrationKind.Offset, [new(1, 2)], -0.1).Ok);

    /// <summary>A probe put from air into a bath: it nears the bath with a time constant, with noise of its own.</summary>
    private static List<FirstValue> Bath(int seed, double noise, double constantSeconds, int seconds)
    {
        var random = new Random(seed);
        double Normal() => Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        return
        [
            .. Enumerable
                .Range(0, seconds)
                .Select(s => new FirstValue(s * 1000L, Math.Round((20 - 20 * Math.Exp(-s / constantSeconds) + noise * Normal()) / 0.0625) * 0.0625)),
        ];
    }

    [Theory]
    [InlineData(0.0)]
    [InlineData(0.05)]
    [InlineData(0.2)]
    public void A_bath_is_called_steady_when_it_is_and_not_on_the_way(double noise)
    {
        var (early, taken) = (0, 0);
        for (var seed = 0; seed < 200; seed++)
        {
            // Error ±0.5, step 0.0625: a usual digital probe; the time constant is that of a sealed one in water (from memory).
            var values = Bath(seed, noise, 15, 240);
            for (var end = Steadiness.Window; end <= values.Count; end++)
            {
                if (Steadiness.Of([.. values.Take(end)], 0.5, 0.0625) is { Steady: true } verdict)
                {
                    taken++;
                    early += Math.Abs(verdict.Mean - 20) > 0.5 ? 1 : 0;
                    break;
                }
            }
        }
        Assert.Equal(200, taken);
        // A first steady verdict is more than the part's own error off in at most 5 of 100 baths.
        Assert.InRange(early, 0, 10);
    }

    [Fact]
    public void A_slow_ramp_under_noise_is_no_bath()
    {
        var steady = 0;
        for (var seed = 0; seed < 200; seed++)
        {
            var random = new Random(seed);
            // One unit over the window, noise a tenth of it: what a kettle that warms does.
            List<FirstValue> values =
            [
                .. Enumerable.Range(0, Steadiness.Window).Select(s => new FirstValue(s * 1000L, s * 0.1 + (random.NextDouble() - 0.5) * 0.2)),
            ];
            steady += Steadiness.Of(values, 0.5, 0.0625)!.Steady ? 1 : 0;
        }
        Assert.Equal(0, steady);
        Assert.Null(Steadiness.Of([], 0.5, null));
        Assert.False(Steadiness.Of([.. Enumerable.Range(0, Steadiness.Window - 1).Select(s => new FirstValue(s, 5))], 0.5, null)!.Steady);
        Assert.True(Steadiness.Of([.. Enumerable.Range(0, Steadiness.Window).Select(s => new FirstValue(s, 5))], null, null)!.Steady);
    }

    [Fact]
    public void Points_closer_than_they_scatter_are_refused_and_a_table_knows_its_ends()
    {
        foreach (var kind in new[] { CalibrationKind.TwoPoints, CalibrationKind.Table })
        {
            Assert.Contains("closer together than the sensor scatters", Calibration.Fit(kind, [new(20, 20, 0.3, 10), new(20.5, 21, 0.3, 10)], 0.1).Reasons[0]);
            Assert.True(Calibration.Fit(kind, [new(20, 20, 0.2, 10), new(20.5, 21, 0.2, 10)], 0.1).Ok);
        }
        Assert.Contains(
            "closer together",
            Calibration.Fit(CalibrationKind.Line, [new(20, 20, 0.3, 10), new(20.2, 20.5), new(20.4, 21, 0.2, 10)], 0.1).Reasons[0]
        );
        var table = Calibration.Fit(CalibrationKind.Table, [new(0, 0), new(10, 20), new(20, 30)], 0.1).Value;
        Assert.Equal((false, false, true, true), (table.IsBeyond(0), table.IsBeyond(20), table.IsBeyond(-0.1), table.IsBeyond(20.1)));
        Assert.False(Calibration.Fit(CalibrationKind.TwoPoints, [new(0, 0), new(10, 20)], 0.1).Value.IsBeyond(50));
    }

    [Fact]
    public void A_second_point_is_taken_only_once_the_value_has_moved_and_settled_anew()
    {
        static List<FirstValue> At(double value) => [.. Enumerable.Range(0, 12).Select(i => new FirstValue(i * 1000, value + i % 2 * 0.02))];
        CalibrationPoint taken = new(20.01, 0, 0.01, 12);
        Assert.True(Steadiness.Of(At(20), 0.5, null)!.Anew);
        Assert.Equal((true, false), (Steadiness.Of(At(20), 0.5, null, [taken])!.Steady, Steadiness.Of(At(20), 0.5, null, [taken])!.Anew));
        // A little further, within what counts as no drift, is the same point still.
        Assert.False(Steadiness.Of(At(20.2), 0.5, null, [taken])!.Anew);
        Assert.True(Steadiness.Of(At(60), 0.5, null, [taken])!.Anew);
        // A third point must be apart from both.
        Assert.False(Steadiness.Of(At(60), 0.5, null, [taken, new(60.02, 0, 0.01, 12)])!.Anew);
    }

    [Theory]
    [InlineData(14.9, false)]
    [InlineData(15, true)]
    [InlineData(30, true)]
    [InlineData(30.1, false)]
    public void A_standard_is_compensated_only_where_its_line_holds(double celsius, bool taken) =>
        Assert.Equal(taken, Calibration.Fit(CalibrationKind.Standard, [new(1300, 1413, Celsius: celsius)], 1).Ok);
}
