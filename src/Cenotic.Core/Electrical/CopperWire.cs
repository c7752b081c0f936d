namespace Cenotic.Core.Electrical;

/// <summary>Solid copper wire by American gauge at 20 °C. Source: ASTM B258 (diameters); 100 % IACS resistivity, 1/58 ohm mm²/m.</summary>
public static class CopperWire
{
    private const double OhmSquareMillimetresPerMetre = 1 / 58.0;

    /// <summary>Diameter in mm: 0.127 · 92^((36 - AWG) / 39).</summary>
    public static double Millimetres(double awg) => 0.127 * Math.Pow(92, (36 - awg) / 39);

    /// <summary>Resistance of one conductor, ohm a metre.</summary>
    public static double OhmsPerMetre(double awg)
    {
        var d = Millimetres(awg);
        return OhmSquareMillimetresPerMetre / (Math.PI * d * d / 4);
    }

    /// <summary>Voltage lost there and back over a cable of this length, volts.</summary>
    public static double DropVolts(double awg, double metres, double amps) => 2 * metres * amps * OhmsPerMetre(awg);

    /// <summary>Current a single conductor in a small cable can carry for long, ampere: 4 A a mm² (common practice, no source).</summary>
    public static double AmpsForLong(double awg)
    {
        var d = Millimetres(awg);
        return 4 * Math.PI * d * d / 4;
    }
}
