namespace Cenotic.Core.Electrical;

/// <summary>Arithmetic of the 1-Wire bus and its temperature probe. Source: application note 27 (CRC) and the DS18B20 data sheet.</summary>
public static class OneWire
{
    /// <summary>CRC-8 of bytes in transmission order: x^8 + x^5 + x^4 + 1, least significant
    /// bit first, initial value 0. Over data and its CRC it is 0.</summary>
    public static byte Crc8(ReadOnlySpan<byte> data)
    {
        byte crc = 0;
        foreach (var octet in data)
        {
            crc ^= octet;
            for (var bit = 0; bit < 8; bit++)
            {
                crc = (byte)((crc & 1) != 0 ? crc >> 1 ^ 0x8C : crc >> 1);
            }
        }
        return crc;
    }

    /// <summary>Temperature in °C of a DS18B20 register: two's complement, 1/16 °C a step.</summary>
    public static double Celsius(ushort register) => (short)register / 16.0;

    /// <summary>Longest conversion in ms at 9 to 12 bits: 93.75, 187.5, 375, 750.</summary>
    /// <exception cref="ArgumentOutOfRangeException">Not 9 to 12 bits.</exception>
    public static double ConversionMs(int bits) =>
        bits is >= 9 and <= 12 ? 750.0 / (1 << 12 - bits) : throw new ArgumentOutOfRangeException(nameof(bits), bits, "9 to 12 bits.");

    /// <summary>Pull-up in ohm for a line of this many metres with this many probes: 4.7 kΩ,
    /// less on long and full lines (common practice, no source).</summary>
    public static double PullUpOhms(double metres, int probes = 1) =>
        metres <= 10 && probes <= 10 ? 4700
        : metres <= 30 && probes <= 20 ? 3300
        : 2200;
}
