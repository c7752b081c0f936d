using System.Text;

namespace Cenotic.Core.Electrical;

/// <summary>Bytes of an MQTT PUBLISH. Source: OASIS MQTT 3.1.1, 2.2.3 and 3.3. TCP/IP is not counted.</summary>
public static class MqttPacket
{
    /// <summary>Bytes of the remaining-length field: 7 bits a byte.</summary>
    /// <exception cref="ArgumentOutOfRangeException">Outside 0 to 268,435,455.</exception>
    public static int LengthFieldBytes(int remainingLength)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(remainingLength);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(remainingLength, 268_435_455);
        return remainingLength < 128 ? 1
            : remainingLength < 16_384 ? 2
            : remainingLength < 2_097_152 ? 3
            : 4;
    }

    /// <summary>Bytes of a PUBLISH from the bytes of its topic and payload.</summary>
    /// <param name="quality">Quality of service, 0 to 2.</param>
    public static int PublishBytes(int topicBytes, int payloadBytes, int quality)
    {
        var remaining = 2 + topicBytes + (quality > 0 ? 2 : 0) + payloadBytes;
        return 1 + LengthFieldBytes(remaining) + remaining;
    }

    /// <summary>Bytes of a PUBLISH from text: lengths are UTF-8 bytes, not characters.</summary>
    public static int PublishBytes(string topic, string payload, int quality) =>
        PublishBytes(Encoding.UTF8.GetByteCount(topic), Encoding.UTF8.GetByteCount(payload), quality);
}
