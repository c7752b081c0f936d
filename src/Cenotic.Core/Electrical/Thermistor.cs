namespace Cenotic.Core.Electrical;

/// <summary>NTC thermistors. Source: the Beta equation and the Steinhart-Hart equation.</summary>
public static class Thermistor
{
    private const double Zero = 273.15;

    /// <summary>Resistance in ohm: R25 exp(B (1/T - 1/298.15)).</summary>
    public static double Ohms(double nominalOhms, double beta, double celsius) => nominalOhms * Math.Exp(beta * (1 / (celsius + Zero) - 1 / 298.15));

    /// <summary>Temperature in °C by the Beta equation.</summary>
    public static double Celsius(double nominalOhms, double beta, double ohms) => 1 / (1 / 298.15 + Math.Log(ohms / nominalOhms) / beta) - Zero;

    /// <summary>Beta in K from two points: ln(R1/R2) / (1/T1 - 1/T2).</summary>
    public static double Beta(double celsius1, double ohms1, double celsius2, double ohms2) =>
        Math.Log(ohms1 / ohms2) / (1 / (celsius1 + Zero) - 1 / (celsius2 + Zero));

    /// <summary>Temperature in °C by Steinhart-Hart: 1/T = A + B ln R + C (ln R)^3.</summary>
    public static double SteinhartHart(double a, double b, double c, double ohms)
    {
        var ln = Math.Log(ohms);
        return 1 / (a + b * ln + c * ln * ln * ln) - Zero;
    }

    /// <summary>A, B and C of Steinhart-Hart through three points (°C, ohm).</summary>
    public static (double A, double B, double C) Fit(ReadOnlySpan<(double Celsius, double Ohms)> points)
    {
        if (points.Length != 3)
        {
            throw new ArgumentException("Three points.", nameof(points));
        }
        Span<double> l = stackalloc double[3];
        Span<double> y = stackalloc double[3];
        for (var i = 0; i < 3; i++)
        {
            (l[i], y[i]) = (Math.Log(points[i].Ohms), 1 / (points[i].Celsius + Zero));
        }
        var (g2, g3) = ((y[1] - y[0]) / (l[1] - l[0]), (y[2] - y[0]) / (l[2] - l[0]));
        var c = (g3 - g2) / (l[2] - l[1]) / (l[0] + l[1] + l[2]);
        var b = g2 - c * (l[0] * l[0] + l[0] * l[1] + l[1] * l[1]);
        return (y[0] - (b + l[0] * l[0] * c) * l[0], b, c);
    }
}
