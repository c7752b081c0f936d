namespace Cenotic.Core.Electrical;

/// <summary>Pull-up and timing limits of an I2C bus. Source: UM10204 (I2C-bus specification), pull-up resistor sizing.</summary>
public static class I2cBus
{
    /// <summary>ln(0.7/0.3): time from 0.3 VDD to 0.7 VDD in RC units.</summary>
    public const double RiseFactor = 0.8473;

    /// <summary>
    /// What every part must be able to pull the line low to, V, and with which current, mA: 0.4 V at 3 mA, on a supply of 2 V or less a fifth of it at 2 mA
    /// (UM10204, characteristics of the SDA and SCL stages). Fast-mode plus asks for 20 mA, which few parts are made for: plans do not count on it.
    /// </summary>
    public static (double Volts, double Milliamps) LowLevel(double supplyVolts) => supplyVolts <= 2 ? (0.2 * supplyVolts, 2) : (0.4, 3);

    /// <summary>Smallest pull-up in ohm: below it a part cannot pull the line to the low level with the current of <see cref="LowLevel"/>.</summary>
    public static double SmallestPullUpOhms(double supplyVolts)
    {
        var (volts, milliamps) = LowLevel(supplyVolts);
        return SmallestPullUpOhms(supplyVolts, volts, milliamps);
    }

    /// <summary>Smallest pull-up in ohm: below it a device cannot pull the line to <paramref name="lowMaxVolts"/> with
    /// <paramref name="sinkMilliamps"/>.</summary>
    public static double SmallestPullUpOhms(double supplyVolts, double lowMaxVolts, double sinkMilliamps) =>
        (supplyVolts - lowMaxVolts) / (sinkMilliamps / 1000);

    /// <summary>Largest pull-up in ohm for a rise time in ns on a bus of <paramref name="busPicofarads"/>.</summary>
    public static double LargestPullUpOhms(double riseNanoseconds, double busPicofarads) => riseNanoseconds * 1000 / (RiseFactor * busPicofarads);

    /// <summary>Rise time in ns of a pull-up (ohm) and a bus capacitance (pF).</summary>
    public static double RiseNanoseconds(double pullUpOhms, double busPicofarads) => RiseFactor * pullUpOhms * busPicofarads / 1000;

    /// <summary>Greatest rise time in ns of a bus clock in kHz: 1000 up to 100 kHz, 300 up to 400 kHz, 120 up to 1 MHz.</summary>
    public static double RiseLimitNanoseconds(double clockKilohertz) =>
        clockKilohertz <= 100 ? 1000
        : clockKilohertz <= 400 ? 300
        : 120;

    /// <summary>Resistors in parallel, ohm.</summary>
    /// <exception cref="ArgumentException">There is no resistor.</exception>
    public static double ParallelOhms(IReadOnlyCollection<double> ohms) =>
        ohms.Count > 0 ? 1 / ohms.Sum(r => 1 / r) : throw new ArgumentException("At least one resistor.", nameof(ohms));

    /// <summary>Bits of a transaction: 9 a byte, an address byte before each direction, START,
    /// STOP and repeated START one bit each (a counting convention).</summary>
    public static int TransactionBits(int writeBytes, int readBytes)
    {
        var directions = (writeBytes > 0 || readBytes == 0 ? 1 : 0) + (readBytes > 0 ? 1 : 0);
        return 2 + (directions - 1) + 9 * (writeBytes + readBytes + directions);
    }

    /// <summary>Bus time in µs without clock stretching.</summary>
    public static double TransactionMicroseconds(int writeBytes, int readBytes, double clockKilohertz) =>
        TransactionBits(writeBytes, readBytes) * 1000.0 / clockKilohertz;
}
