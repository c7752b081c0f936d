namespace Cenotic.Core.Electrical;

/// <summary>How long a packet is on the air. A floor of the stations, since Rhythm needs it before Reach does.</summary>
public static class Airtime
{
    /// <summary>LoRa time on air in ms. Source: SX1276/77/78/79 data sheet, LoRa modem time on air; AN1200.13.</summary>
    /// <param name="codingRate">1 to 4 for 4/5 to 4/8.</param>
    /// <param name="payloadBytes">Bytes in the radio packet.</param>
    /// <exception cref="ArgumentOutOfRangeException">Spreading factor outside 6 to 12, bandwidth not above
    /// 0, coding rate outside 1 to 4, or a payload outside 0 to 255.</exception>
    public static double LoraMs(
        int spreadingFactor,
        double bandwidthKilohertz,
        int codingRate,
        int preambleSymbols,
        int payloadBytes,
        bool explicitHeader = true,
        bool crc = true
    )
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(spreadingFactor, 6);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(spreadingFactor, 12);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(bandwidthKilohertz);
        ArgumentOutOfRangeException.ThrowIfLessThan(codingRate, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(codingRate, 4);
        ArgumentOutOfRangeException.ThrowIfNegative(payloadBytes);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(payloadBytes, 255);
        var symbolMs = (1 << spreadingFactor) / bandwidthKilohertz;
        var lowDataRate = symbolMs > 16 ? 1 : 0;
        var bits = 8 * payloadBytes - 4 * spreadingFactor + 28 + (crc ? 16 : 0) - (explicitHeader ? 0 : 20);
        var groups = Math.Max(Math.Ceiling(bits / (4.0 * (spreadingFactor - 2 * lowDataRate))), 0);
        return (preambleSymbols + 4.25 + 8 + groups * (codingRate + 4)) * symbolMs;
    }

    /// <summary>Time on air in ms of a packet at a fixed rate (FSK, OOK): every bit of preamble, address, payload and check.</summary>
    /// <param name="overheadBytes">Preamble, sync word or address, length and check.</param>
    /// <exception cref="ArgumentOutOfRangeException">A rate not above 0, or negative bytes.</exception>
    public static double PacketMs(double bitsPerSecond, int overheadBytes, int payloadBytes)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(bitsPerSecond);
        ArgumentOutOfRangeException.ThrowIfNegative(overheadBytes);
        ArgumentOutOfRangeException.ThrowIfNegative(payloadBytes);
        return (overheadBytes + payloadBytes) * 8 / bitsPerSecond * 1000;
    }
}
