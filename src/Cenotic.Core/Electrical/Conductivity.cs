namespace Cenotic.Core.Electrical;

/// <summary>Conductivity of water and its temperature: κ(T) = κ25 · (1 + α · (T − 25)). Source: linear compensation;
/// α = 1.91 % a °C is the value of Standard Methods 2510, 2 % is common practice.</summary>
public static class Conductivity
{
    /// <summary>α of the potassium chloride standards, 1 a °C. It is a line through a curve, and holds from 15 to 30 °C only.</summary>
    public const double StandardAlpha = 0.0191;

    /// <summary>Where <see cref="StandardAlpha"/> holds, °C.</summary>
    public const double StandardFromCelsius = 15,
        StandardToCelsius = 30;

    /// <summary>What a solution has at its temperature, in the unit of <paramref name="at25"/>.</summary>
    /// <param name="at25">At 25 °C, as it stands on the bottle.</param>
    public static double AtCelsius(double at25, double celsius, double alpha = StandardAlpha) => at25 * (1 + alpha * (celsius - 25));

    /// <summary>What it would have at 25 °C.</summary>
    public static double At25(double measured, double celsius, double alpha = StandardAlpha) => measured / (1 + alpha * (celsius - 25));
}
