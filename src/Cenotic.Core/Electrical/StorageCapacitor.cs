namespace Cenotic.Core.Electrical;

/// <summary>Capacitors that carry a load over a burst. Source: charge and energy of a capacitor.</summary>
public static class StorageCapacitor
{
    /// <summary>Capacitance in µF that gives a charge (µC) between two voltages: C = Q / (V1 - V2), for a direct or linear load.</summary>
    public static double FromCharge(double microcoulombs, double fromVolts, double toVolts) => microcoulombs / Window(fromVolts, toVolts, fromVolts - toVolts);

    /// <summary>Capacitance in µF that gives an energy (µJ): C = 2E / (V1² - V2²), for a load behind a switching converter.</summary>
    public static double FromEnergy(double microjoules, double fromVolts, double toVolts) =>
        2 * microjoules / Window(fromVolts, toVolts, fromVolts * fromVolts - toVolts * toVolts);

    /// <summary>Energy in µJ of a capacitor (µF) between two voltages.</summary>
    public static double Microjoules(double microfarads, double fromVolts, double toVolts) => microfarads * (fromVolts * fromVolts - toVolts * toVolts) / 2;

    /// <summary>Whole bursts of a charge (µC) from a capacitor (µF) between two voltages: ⌊C (V1 − V2) / Q⌋, for a direct or linear load.</summary>
    public static int Bursts(double microfarads, double microcoulombs, double fromVolts, double toVolts) =>
        Whole(microfarads * Window(fromVolts, toVolts, fromVolts - toVolts) / microcoulombs);

    /// <summary>Whole bursts of an energy (µJ) from a capacitor (µF) between two voltages, for a load behind a switching converter.</summary>
    public static int BurstsOfEnergy(double microfarads, double microjoules, double fromVolts, double toVolts) =>
        Whole(Microjoules(microfarads, fromVolts, toVolts) / microjoules);

    /// <summary>How long a capacitor (µF) holds a constant current (mA) between two voltages, ms.</summary>
    public static double HoldMs(double microfarads, double milliamps, double fromVolts, double toVolts) => microfarads * (fromVolts - toVolts) / milliamps;

    /// <summary>Time in s to gather a charge (µC) from a harvest (µA) less a drain (µA); null when it never does.</summary>
    public static double? HarvestSeconds(double microcoulombs, double harvestMicroamps, double drainMicroamps) =>
        harvestMicroamps > drainMicroamps ? microcoulombs / (harvestMicroamps - drainMicroamps) : null;

    /// <summary>Rounds down, but for a whole number that arithmetic left a hair below itself.</summary>
    private static int Whole(double bursts) => (int)Math.Min(int.MaxValue, Math.Floor(bursts * (1 + 1e-12)));

    private static double Window(double from, double to, double value) =>
        from > to && to >= 0 ? value : throw new ArgumentOutOfRangeException(nameof(from), from, "The voltage must fall.");
}
