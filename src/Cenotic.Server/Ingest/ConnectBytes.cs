using System.Buffers.Binary;
using System.Text;

namespace Cenotic.Server.Ingest;

/// <summary>Reads what the broker's library does not hand on of a CONNECT. Source: OASIS MQTT 3.1.1, 3.1.</summary>
internal static class ConnectBytes
{
    private const byte CleanSession = 0x02,
        Will = 0x04,
        UserName = 0x80;

    /// <summary>True when a client of version 3.1.1 wants its session to be kept and gives no id for it (3.1.3.1).</summary>
    /// <param name="packet">Begins with the packet, whole; more may follow.</param>
    /// <param name="user">The name it signs in with; empty for none.</param>
    internal static bool LacksClientId(ReadOnlySpan<byte> packet, out string user)
    {
        user = "";
        try
        {
            var rest = packet[1..];
            while ((rest[0] & 0x80) != 0)
            {
                rest = rest[1..];
            }
            rest = rest[1..];
            Take(ref rest);
            var (level, flags) = (rest[0], rest[1]);
            rest = rest[4..];
            if (level > 4 || (flags & CleanSession) != 0 || Take(ref rest).Length > 0)
            {
                return false;
            }
            if ((flags & Will) != 0)
            {
                Take(ref rest);
                Take(ref rest);
            }
            user = (flags & UserName) != 0 ? Encoding.UTF8.GetString(Take(ref rest)) : "";
            return true;
        }
        catch (ArgumentOutOfRangeException)
        {
            // No CONNECT: the broker says so.
            return false;
        }
        catch (IndexOutOfRangeException)
        {
            return false;
        }
    }

    /// <summary>A text or bytes with their length before them (1.5.3).</summary>
    private static ReadOnlySpan<byte> Take(ref ReadOnlySpan<byte> rest)
    {
        var length = BinaryPrimitives.ReadUInt16BigEndian(rest);
        var taken = rest.Slice(2, length);
        rest = rest[(2 + length)..];
        return taken;
    }
}
