using Cenotic.Core.Common;

namespace Cenotic.Core.Watch;

/// <summary>Water in air over water, −45 to 60 °C. Source: WMO-No. 8 (CIMO guide), annex on
/// humidity formulae (Magnus formula); no enhancement factor.</summary>
public static class HumidAir
{
    private const double A = 17.62,
        B = 243.12,
        AtZero = 6.112,
        GasConstant = 216.68,
        Kelvin = 273.15,
        Coldest = -45,
        Hottest = 60;

    /// <summary>Whether the formulae hold for this air.</summary>
    public static bool Holds(double celsius, double percent) => celsius is >= Coldest and <= Hottest && percent is > 0 and <= 100;

    /// <summary>Vapour pressure of saturated air, hPa: <c>6.112 · exp(17.62 · t / (243.12 + t))</c>.</summary>
    public static double SaturationHectopascals(double celsius) => AtZero * Math.Exp(A * celsius / (B + celsius));

    /// <summary>Temperature at which this air would be saturated, °C.</summary>
    /// <param name="percent">Relative humidity, above 0.</param>
    public static double DewPointCelsius(double celsius, double percent)
    {
        var g = Math.Log(percent / 100) + A * celsius / (B + celsius);
        return B * g / (A - g);
    }

    /// <summary>Water in a cubic metre, g: <c>216.68 · e / T</c> with e in hPa and T in K (ideal gas law).</summary>
    public static double GramsPerCubicMetre(double celsius, double percent) =>
        GasConstant * percent / 100 * SaturationHectopascals(celsius) / (celsius + Kelvin);

    /// <summary>Dew point and water in the air as figures, with the band that the errors of the sensor leave.</summary>
    /// <param name="celsiusError">± °C; 0 when not known.</param>
    /// <param name="percentError">± %RH; 0 when not known.</param>
    /// <returns>Empty where the formula does not hold.</returns>
    public static IReadOnlyList<Figure> Figures(double celsius, double percent, double celsiusError, double percentError)
    {
        if (!Holds(celsius, percent))
        {
            return [];
        }
        WorkingInput[] inputs = [new("t", celsius, Unit.Celsius, "this part"), new("U", percent, Unit.RelativeHumidity, "this part")];
        // Both rise with temperature and with humidity: the corners are the ends.
        var (coldest, warmest, driest, dampest) = (
            celsius - celsiusError,
            celsius + celsiusError,
            Math.Max(0.1, percent - percentError),
            Math.Min(100, percent + percentError)
        );
        Figure Of(string label, string unit, string formula, Func<double, double, double> value) =>
            new(
                label,
                value(celsius, percent),
                Math.Min(value(coldest, driest), value(celsius, percent)),
                Math.Max(value(warmest, dampest), value(celsius, percent)),
                unit,
                new Working(formula, inputs, "WMO-No. 8, Magnus formula over water; band: errors of the part")
            );
        return
        [
            Of("Dew point", Unit.Celsius, "Td = 243.12 · g / (17.62 − g); g = ln(U / 100) + 17.62 · t / (243.12 + t)", DewPointCelsius),
            Of("Water in the air", "g/m³", "a = 216.68 · U / 100 · es(t) / (t + 273.15)", GramsPerCubicMetre),
        ];
    }
}
