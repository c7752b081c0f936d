using Cenotic.Core.Watch;

namespace Cenotic.Core.Tests.Watch;

/// <summary>Water in air, against published tables and the formulae of WMO-No. 8.</summary>
public class HumidAirTests
{
    /// <summary>The constant of the formula at 0 °C; steam tables (IAPWS) give 23.39, 31.70 and 42.47 hPa
    /// at 20, 25 and 30 °C, and a Magnus formula lies within 0.5 % of them.</summary>
    [Theory]
    [InlineData(0, 6.112, 0.0001)]
    [InlineData(20, 23.32596, 0.00001)]
    [InlineData(-10, 2.87031, 0.00002)]
    [InlineData(20, 23.39, 0.005)]
    [InlineData(25, 31.70, 0.005)]
    [InlineData(30, 42.47, 0.005)]
    public void Saturation_is_that_of_the_tables(double celsius, double hectopascals, double share) =>
        Assert.Equal(hectopascals, HumidAir.SaturationHectopascals(celsius), hectopascals * share);

    [Theory]
    [InlineData(20, 50, 9.2552)]
    [InlineData(25, 60, 16.6931)]
    [InlineData(30, 100, 30)]
    [InlineData(5, 80, 1.834)]
    public void Dew_point(double celsius, double percent, double dew)
    {
        Assert.Equal(dew, HumidAir.DewPointCelsius(celsius, percent), 0.0005);
        // At its dew point the same water saturates the air.
        Assert.Equal(
            HumidAir.SaturationHectopascals(celsius) * percent / 100,
            HumidAir.SaturationHectopascals(HumidAir.DewPointCelsius(celsius, percent)),
            1e-9
        );
    }

    /// <summary>Handbook tables: saturated air of 20 °C holds 17.3 g/m³; the formula gives 17.24.</summary>
    [Theory]
    [InlineData(20, 100, 17.2412)]
    [InlineData(20, 50, 8.6206)]
    [InlineData(25, 60, 13.7794)]
    [InlineData(0, 100, 4.8484)]
    public void Water_in_a_cubic_metre(double celsius, double percent, double grams)
    {
        Assert.Equal(grams, HumidAir.GramsPerCubicMetre(celsius, percent), 0.0005);
        Assert.InRange(HumidAir.GramsPerCubicMetre(20, 100), 17.3 * 0.995, 17.3 * 1.005);
    }

    [Fact]
    public void Errors_of_the_part_make_the_band_and_what_the_formula_does_not_reach_is_not_told()
    {
        var dew = HumidAir.Figures(20, 50, 1, 3)[0];
        Assert.Equal((HumidAir.DewPointCelsius(19, 47), HumidAir.DewPointCelsius(21, 53)), (dew.Low, dew.High));
        Assert.Equal(
            (9.2552, 9.2552),
            (Math.Round(HumidAir.Figures(20, 50, 0, 0)[0].Low!.Value, 4), Math.Round(HumidAir.Figures(20, 50, 0, 0)[0].High!.Value, 4))
        );
        // Saturated, with a sensor that may be off either way.
        Assert.Equal(100, HumidAir.Figures(20, 100, 0, 3)[1].High!.Value / HumidAir.GramsPerCubicMetre(20, 100) * 100, 1e-9);
        Assert.All(new[] { (-50.0, 50.0), (70, 50), (20, 0), (20, 101), (double.NaN, 50) }, p => Assert.Empty(HumidAir.Figures(p.Item1, p.Item2, 0, 0)));
    }
}
