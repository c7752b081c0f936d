namespace Cenotic.Core.Electrical;

/// <summary>Heat and headroom of a linear regulator. Source: energy balance; thermal resistance by data sheet.</summary>
public static class LinearRegulator
{
    /// <summary>Heat in mW: (Vin - Vout) · I, with the regulator's own current.</summary>
    public static double Milliwatts(double inputVolts, double outputVolts, double milliamps, double quiescentMilliamps = 0) =>
        (inputVolts - outputVolts) * milliamps + inputVolts * quiescentMilliamps;

    /// <summary>Rise above the air around it, K.</summary>
    public static double RiseKelvin(double milliwatts, double kelvinPerWatt) => milliwatts / 1000 * kelvinPerWatt;
}
