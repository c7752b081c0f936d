namespace Cenotic.Core.Electrical;

/// <summary>Resistors in series with an LED or a load. Source: Ohm's law; values by IEC 60063.</summary>
public static class SeriesResistor
{
    /// <summary>Resistor in ohm for an LED: (Vs - Vf) / I.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The supply is not above the forward voltage, or the current is not above 0.</exception>
    public static double LedOhms(double supplyVolts, double forwardVolts, double milliamps)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(milliamps);
        ArgumentOutOfRangeException.ThrowIfLessThanOrEqual(supplyVolts, forwardVolts);
        return (supplyVolts - forwardVolts) / milliamps * 1000;
    }

    /// <summary>The next E24 value at or above <see cref="LedOhms"/>; an exact hit stays.</summary>
    public static double LedOhmsE24(double supplyVolts, double forwardVolts, double milliamps) =>
        PreferredValues.NextUp(LedOhms(supplyVolts, forwardVolts, milliamps), PreferredValues.E24);

    /// <summary>Power in a resistor, mW, for its current in mA.</summary>
    public static double Milliwatts(double ohms, double milliamps) => ohms * milliamps * milliamps / 1000;
}
