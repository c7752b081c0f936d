using Cenotic.Core.BringUp;
using Cenotic.Core.Electrical;
using MathNet.Numerics.Distributions;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>A sensor beside a trusted one, and conductivity in its standards.</summary>
public class SideBySideTests
{
    /// <summary>Three days: a truth that swings, a node whose load goes up for an hour each evening.</summary>
    private static List<SideMoment> Days(int seed, double offset, double gain, double heat, double noise, bool loads = true, bool moves = true)
    {
        var random = new Random(seed);
        return
        [
            .. Enumerable
                .Range(0, 144)
                .Select(i =>
                {
                    var truth = moves ? 20 + 4 * Math.Sin(2 * Math.PI * i / 48) : 20;
                    var load = loads && i % 48 > 40 ? 60.0 : 1;
                    return new SideMoment(
                        i * 1_800_000L,
                        20 + offset + gain * (truth - 20) + heat * (load - 1) / 59 + Normal.Sample(random, 0, noise),
                        truth,
                        load
                    );
                }),
        ];
    }

    [Fact]
    public void What_was_put_in_comes_out_and_the_bands_hold_it_nineteen_times_of_twenty()
    {
        var held = new int[3];
        for (var seed = 0; seed < 200; seed++)
        {
            var moments = Days(seed, 0.4, 1.05, 0.8, 0.1);
            var found = SideBySide.Of(moments, "°C", 0.0625).Value;
            var usual = (moments.Average(m => m.Load) - 1) / 59 * 0.8;
            var truths = new[] { 0.4 + usual, 1.05, usual };
            var bands = new[] { found.Offset, found.Gain, found.SelfHeating };
            for (var i = 0; i < 3; i++)
            {
                held[i] += truths[i] >= bands[i].Low && truths[i] <= bands[i].High ? 1 : 0;
            }
            Assert.Equal(CalibrationKind.TwoPoints, found.Kind);
            Assert.Equal(0.1, found.Spread, 0.03);
        }
        // 190 of 200, three standard deviations of luck either way.
        Assert.All(held, h => Assert.InRange(h, 181, 199));
    }

    [Fact]
    public void The_calibration_that_comes_of_it_makes_the_sensor_show_the_truth()
    {
        var moments = Days(1, -0.7, 0.9, 0, 0.02, loads: false);
        var found = SideBySide.Of(moments, "°C", 0.0625).Value;
        var calibration = Calibration.Fit(found.Kind, found.Points, 0).Value;
        Assert.All(moments, m => Assert.Equal(m.Trusted, calibration.Apply(m.Raw), 0.1));
        Assert.Null(found.SelfHeating.Value);
        Assert.Contains("test mode", found.SelfHeating.Working.Formula, StringComparison.Ordinal);
    }

    [Fact]
    public void Where_the_slope_is_not_surely_wrong_an_offset_says_all_there_is_to_say()
    {
        var found = SideBySide.Of(Days(2, 0.5, 1, 0, 0.1), "°C", 0.0625).Value;
        Assert.Equal(CalibrationKind.Offset, found.Kind);
        Assert.Equal(-0.5, Calibration.Fit(found.Kind, found.Points, 0).Value.Intercept, 0.1);
        var still = SideBySide.Of(Days(3, 0.5, 1, 0, 0.1, moves: false), "°C", 0.0625).Value;
        Assert.Null(still.Gain.Value);
        Assert.Equal(0.5, still.Offset.Value!.Value, 0.05);
    }

    [Fact]
    public void Too_short_a_stretch_and_a_load_that_follows_the_truth_are_refused_with_what_to_do()
    {
        Assert.Contains("longer", SideBySide.Of(Days(1, 0, 1, 0, 0.1)[..11], "°C", null).Reasons[0], StringComparison.Ordinal);
        var together = Days(1, 0, 1, 0, 0.1).Select(m => m with { Load = m.Trusted - 15 }).ToList();
        Assert.Contains("test mode", SideBySide.Of(together, "°C", null).Reasons[0], StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>By hand: x = 1..4 against y = 2, 4, 5, 8 has slope 1.9, and its band t(0.975; 2) · s / √Sxx = 4.3027 · 0.5916 / √5 = 1.138.</summary>
    [Fact]
    public void A_slope_worked_by_hand()
    {
        List<SideMoment> moments = [.. new[] { 2.0, 4, 5, 8 }.Select((y, i) => new SideMoment(i, y, i + 1, 1))];
        // Three times over the same points: the slope stays, what is left over is spread over more of them.
        var found = SideBySide.Of([.. moments, .. moments, .. moments], "", null).Value;
        Assert.Equal(1.9, found.Gain.Value!.Value, 1e-9);
        // s² = 3 · 0.7 / (12 − 2) and Sxx = 15; t(0.975; 10) = 2.2281 (handbook tables).
        Assert.Equal(2.2281 * Math.Sqrt(0.21 / 15), found.Gain.High!.Value - 1.9, 0.0005);
        Assert.Equal(4.75 - 2.5, found.Offset.Value!.Value, 1e-9);
    }

    /// <summary>Potassium chloride 0.01 mol/L: 1413 µS/cm at 25 °C and 1278 at 20 °C; 0.1 mol/L: 12.88 mS/cm
    /// at 25 °C (published standards); alpha of Standard Methods 2510.</summary>
    [Theory]
    [InlineData(1278, 20, 0.0191, 1413, 1)]
    [InlineData(1278, 20, 0.02, 1420, 0.7)]
    [InlineData(12_880, 25, 0.02, 12_880, 1)]
    [InlineData(500, 10, 0.02, 714.286, 0.4)]
    [InlineData(850, 30, 0.019, 776.256, 0.4)]
    public void Conductivity_at_25_degrees(double measured, double celsius, double alpha, double at25, double within)
    {
        Assert.Equal(at25, Conductivity.At25(measured, celsius, alpha), within);
        Assert.Equal(measured, Conductivity.AtCelsius(Conductivity.At25(measured, celsius, alpha), celsius, alpha), 1e-6);
    }

    [Fact]
    public void A_standard_at_its_temperature_gives_the_cell_constant()
    {
        // In the standard of 1413 µS/cm at 20 °C, which has 1278 there, a meter with a cell of 0.9 shows 1420.
        var calibration = Calibration.Fit(CalibrationKind.Standard, [new(1420, 1413, Celsius: 20)], 14).Value;
        Assert.Equal(0.9, calibration.Slope, 0.001);
        Assert.Equal(1278, calibration.Apply(1420), 0.6);
        Assert.Contains("temperature", Calibration.Fit(CalibrationKind.Standard, [new(1420, 1413)], 0).Reasons[0], StringComparison.Ordinal);
        Assert.Contains("standard", Calibration.Fit(CalibrationKind.Offset, [new(1420, 1413, Celsius: 20)], 0).Reasons[0], StringComparison.Ordinal);
    }
}
