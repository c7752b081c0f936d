namespace Cenotic.Core.Rhythm;

/// <summary>Charge bookkeeping of a wake cycle. Arithmetic; no published source needed.</summary>
public static class Energy
{
    /// <summary>Hours of a year of 365.25 days.</summary>
    public const double HoursPerYear = 8766;

    /// <summary>Charge of a cycle in mA·s: the phases, and sleep for the rest of the period.</summary>
    /// <param name="phases">Current in mA and time in ms of each phase.</param>
    /// <param name="periodSeconds">Length of the cycle, s.</param>
    /// <exception cref="ArgumentException">The phases are longer than the period.</exception>
    public static double ChargeMilliampSeconds(IReadOnlyCollection<(double Milliamps, double Milliseconds)> phases, double sleepMicroamps, double periodSeconds)
    {
        var awake = phases.Sum(p => p.Milliseconds) / 1000;
        if (awake > periodSeconds)
        {
            throw new ArgumentException($"The phases take {awake} s and the cycle only {periodSeconds} s.", nameof(phases));
        }
        return phases.Sum(p => p.Milliamps * p.Milliseconds) / 1000 + sleepMicroamps / 1000 * (periodSeconds - awake);
    }

    /// <summary>Average current of a cycle, µA.</summary>
    public static double AverageMicroamps(double chargeMilliampSeconds, double periodSeconds) => chargeMilliampSeconds / periodSeconds * 1000;

    /// <summary>Days until a cell is used up: <c>C·u / (Iavg + C·s/8766 h) / 24</c>.</summary>
    /// <param name="usableFraction">0..1.</param>
    /// <param name="selfDischargePerYear">Loss a year as a fraction of the nominal capacity.</param>
    /// <returns>Null when nothing draws on the cell.</returns>
    public static double? LifeDays(double capacityMilliampHours, double usableFraction, double averageMicroamps, double selfDischargePerYear)
    {
        var milliamps = averageMicroamps / 1000 + capacityMilliampHours * selfDischargePerYear / HoursPerYear;
        return milliamps > 0 ? capacityMilliampHours * usableFraction / milliamps / 24 : null;
    }
}
