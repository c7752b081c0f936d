using Cenotic.Core.Design;

namespace Cenotic.Core.Formats;

/// <summary>Cyclic redundancy checks of 16 bits.</summary>
public static class Crc16
{
    /// <summary>The check over bytes. Polynomials and start values: ITU-T V.41 (0x1021) begun at FFFF (CCITT-FALSE) or 0
    /// (XMODEM); Modbus over serial line V1.02, 6.2.2 (0x8005 reflected, begun at FFFF).</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no check of that kind.</exception>
    public static ushort Of(FrameCheck check, ReadOnlySpan<byte> bytes) =>
        check switch
        {
            FrameCheck.CcittFalse => Forward(bytes, 0xFFFF),
            FrameCheck.Xmodem => Forward(bytes, 0),
            FrameCheck.Modbus => Reflected(bytes),
            _ => throw new ArgumentOutOfRangeException(nameof(check), check, "There is no check."),
        };

    private static ushort Forward(ReadOnlySpan<byte> bytes, ushort crc)
    {
        foreach (var octet in bytes)
        {
            crc ^= (ushort)(octet << 8);
            for (var bit = 0; bit < 8; bit++)
            {
                crc = (ushort)((crc & 0x8000) != 0 ? crc << 1 ^ 0x1021 : crc << 1);
            }
        }
        return crc;
    }

    private static ushort Reflected(ReadOnlySpan<byte> bytes)
    {
        ushort crc = 0xFFFF;
        foreach (var octet in bytes)
        {
            crc ^= octet;
            for (var bit = 0; bit < 8; bit++)
            {
                crc = (ushort)((crc & 1) != 0 ? crc >> 1 ^ 0xA001 : crc >> 1);
            }
        }
        return crc;
    }
}
