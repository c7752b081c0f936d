namespace Cenotic.Core.Electrical;

/// <summary>How far clocks run apart. Source: definition of ppm; worst-case sum; 32.768 kHz crystal data sheets for the parabola.</summary>
public static class ClockDrift
{
    /// <summary>Drift in seconds of a clock of <paramref name="ppm"/> after so many seconds.</summary>
    public static double Seconds(double ppm, double intervalSeconds) => ppm * 1e-6 * intervalSeconds;

    /// <summary>Guard time in ms between two clocks of opposite error, synchronised every so many seconds.</summary>
    public static double GuardMs(double ppmA, double ppmB, double resyncSeconds) => (ppmA + ppmB) * 1e-6 * resyncSeconds * 1000;

    /// <summary>Longest time between time references that a guard time (ms) covers, s; null when the clocks do not drift.</summary>
    public static double? LongestResyncSeconds(double ppmA, double ppmB, double guardMs) => ppmA + ppmB > 0 ? guardMs / 1000 / ((ppmA + ppmB) * 1e-6) : null;

    /// <summary>Error of a tuning-fork crystal in ppm at a temperature: k (t − t0)².</summary>
    public static double CrystalPpm(double celsius, double k = -0.034, double turnoverCelsius = 25) =>
        k * (celsius - turnoverCelsius) * (celsius - turnoverCelsius);
}
