namespace Cenotic.Core.Electrical;

/// <summary>Resistor values one can buy. Source: IEC 60063.</summary>
public static class PreferredValues
{
    /// <summary>Twelve values a decade (IEC 60063), as whole numbers from 100 on.</summary>
    public static readonly IReadOnlyList<int> E12 = [100, 120, 150, 180, 220, 270, 330, 390, 470, 560, 680, 820];

    /// <summary>Twenty-four values a decade (IEC 60063), as whole numbers from 100 on.</summary>
    public static readonly IReadOnlyList<int> E24 =
    [
        100,
        110,
        120,
        130,
        150,
        160,
        180,
        200,
        220,
        240,
        270,
        300,
        330,
        360,
        390,
        430,
        470,
        510,
        560,
        620,
        680,
        750,
        820,
        910,
    ];

    /// <summary>Ninety-six values a decade (IEC 60063), as whole numbers from 100 on.</summary>
    public static readonly IReadOnlyList<int> E96 = [.. Enumerable.Range(0, 96).Select(i => (int)Math.Round(100 * Math.Pow(10, i / 96.0)))];

    /// <summary>The smallest value of the series that is not below <paramref name="ohms"/>; a value
    /// that the series holds stays, floating-point dust aside.</summary>
    /// <exception cref="ArgumentOutOfRangeException">Not above 0.</exception>
    public static double NextUp(double ohms, IReadOnlyList<int> series)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(ohms);
        var decade = Math.Pow(10, Math.Floor(Math.Log10(ohms * (1 + 1e-12))) - 2);
        foreach (var value in series)
        {
            if (value * decade >= ohms * (1 - 1e-9))
            {
                return Math.Round(value * decade, 9);
            }
        }
        return Math.Round(1000 * decade, 9);
    }

    /// <summary>All values of the series from <paramref name="from"/> to <paramref name="to"/> ohm, rising.</summary>
    public static IEnumerable<double> Between(double from, double to, IReadOnlyList<int> series)
    {
        for (var value = NextUp(from, series); value <= to * (1 + 1e-9); value = NextUp(value * 1.0001, series))
        {
            yield return value;
        }
    }
}
