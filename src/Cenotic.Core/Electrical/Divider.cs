namespace Cenotic.Core.Electrical;

/// <summary>Two resistors that bring a voltage down: R1 on top, R2 to ground. Ohm's law.</summary>
/// <param name="TopOhms">R1.</param>
/// <param name="BottomOhms">R2.</param>
public sealed record Divider(double TopOhms, double BottomOhms)
{
    /// <summary>Unloaded output, volts.</summary>
    public double Volts(double inputVolts) => inputVolts * BottomOhms / (TopOhms + BottomOhms);

    /// <summary>Output with a load to ground, volts.</summary>
    public double LoadedVolts(double inputVolts, double loadOhms) => (this with { BottomOhms = I2cBus.ParallelOhms([BottomOhms, loadOhms]) }).Volts(inputVolts);

    /// <summary>Current drawn from the source, mA.</summary>
    public double DrawMilliamps(double inputVolts) => inputVolts / (TopOhms + BottomOhms) * 1000;

    /// <summary>Resistance the pin sees, ohm.</summary>
    public double SourceOhms => I2cBus.ParallelOhms([TopOhms, BottomOhms]);

    /// <summary>The divider with both resistors at the corner that gives the highest (or lowest) output; <paramref name="tolerance"/> as a fraction.</summary>
    public Divider Corner(double tolerance, bool highest) =>
        highest ? new(TopOhms * (1 - tolerance), BottomOhms * (1 + tolerance)) : new(TopOhms * (1 + tolerance), BottomOhms * (1 - tolerance));

    /// <summary>
    /// The pair with the highest nominal output that stays at or below <paramref name="pinVolts"/> at the highest supply and resistor corner, still reads high
    /// at the lowest, and draws at most <paramref name="maxMilliamps"/>; of equal outputs the lower resistances. Null when no pair of the series does.
    /// </summary>
    /// <param name="minTotalOhms">Least R1 + R2 wanted, so that the source is spared.</param>
    public static Divider? Propose(
        double highestVolts,
        double lowestVolts,
        double pinVolts,
        double readsHighVolts,
        IReadOnlyList<int> series,
        double tolerance = 0.05,
        double maxMilliamps = 4,
        double minTotalOhms = 20_000,
        double maxTotalOhms = 60_000
    )
    {
        Divider? best = null;
        foreach (var top in PreferredValues.Between(1_000, maxTotalOhms, series))
        {
            foreach (var bottom in PreferredValues.Between(1_000, maxTotalOhms, series))
            {
                var pair = new Divider(top, bottom);
                if (
                    top + bottom < minTotalOhms
                    || top + bottom > maxTotalOhms
                    || pair.Corner(tolerance, highest: true).Volts(highestVolts) > pinVolts
                    || pair.Corner(tolerance, highest: false).Volts(lowestVolts) < readsHighVolts
                    || (pair with { TopOhms = top * (1 - tolerance), BottomOhms = bottom * (1 - tolerance) }).DrawMilliamps(highestVolts) > maxMilliamps
                )
                {
                    continue;
                }
                if (best is null || pair.Volts(1) > best.Volts(1) + 1e-9)
                {
                    best = pair;
                }
            }
        }
        return best;
    }

    /// <summary>The pair of a series with the highest output not above <paramref name="maxVolts"/>, over all decades
    /// of both, each 1 kΩ and more. Compared exactly, as decimal numbers.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A voltage is not above 0, or they lie further apart than a million to one.</exception>
    public static Divider HighestNotAbove(double inputVolts, double maxVolts, IReadOnlyList<int> series)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(inputVolts);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(maxVolts);
        Divider? best = null;
        foreach (var top in series)
        {
            for (var decade = -6; decade <= 6; decade++)
            {
                // Where the bottom is small, both are raised together: what counts is their ratio.
                var (tops, bottoms) = decade < 0 ? (Math.Pow(10, 1 - decade), 10.0) : (10.0, Math.Pow(10, decade + 1));
                foreach (var bottom in series)
                {
                    var pair = new Divider(top * tops, bottom * bottoms);
                    var exactlyAbove = (decimal)inputVolts * (decimal)pair.BottomOhms > (decimal)maxVolts * ((decimal)pair.TopOhms + (decimal)pair.BottomOhms);
                    if (!exactlyAbove && (best is null || pair.Volts(inputVolts) > best.Volts(inputVolts) + 1e-12))
                    {
                        best = pair;
                    }
                }
            }
        }
        return best ?? throw new ArgumentOutOfRangeException(nameof(maxVolts), maxVolts, "No pair divides by that much.");
    }
}
