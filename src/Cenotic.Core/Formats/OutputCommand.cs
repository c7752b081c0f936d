using System.Text.Json;
using Cenotic.Core.Common;

namespace Cenotic.Core.Formats;

/// <summary>
/// What a node is told about one of its outputs. On is a lease: it ends by itself at <paramref name="ExpiresMs"/> unless a later command with the same number
/// renews it. Never retained by a broker; described in docs/formats.md.
/// </summary>
/// <param name="Id">Rises with every switching; a node does not obey one lower than the last it heard.</param>
/// <param name="Output">Key of the reading that tells the output's state.</param>
/// <param name="ExpiresMs">After this the command is void, UTC ms.</param>
/// <param name="MaxOnMs">Longest time on that the node counts itself, from when it switched on for this number, ms; 0 for off.</param>
public sealed record OutputCommand(long Id, string Output, bool On, long ExpiresMs, long MaxOnMs)
{
    /// <summary>How a node tells that it took a command: a record of this name in its next message, with the command's number.</summary>
    public const string Taken = "sys/ack";

    /// <summary>How it tells that it refused one.</summary>
    public const string Refused = "sys/nak";

    /// <summary>An output that every node has: on, it is in test mode, reads and sends every <see cref="TestEveryMs"/>,
    /// and lights the lamp of its board.</summary>
    public const string Test = "sys/test";

    /// <summary>Time between messages in test mode, and the longest that it lasts, ms.</summary>
    public const long TestEveryMs = 1_000,
        TestMostMs = 600_000;

    /// <summary>The command as JSON text; times in seconds.</summary>
    public byte[] Write()
    {
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream))
        {
            writer.WriteStartObject();
            writer.WriteNumber("id", Id);
            writer.WriteString("out", Output);
            writer.WriteBoolean("on", On);
            writer.WriteNumber("expires", ExpiresMs / 1000.0);
            writer.WriteNumber("maxOn", MaxOnMs / 1000.0);
            writer.WriteEndObject();
        }
        return stream.ToArray();
    }

    /// <summary>Reads a command. Refused is what lacks a member or has one of another kind; members that are not known are passed over.</summary>
    public static Outcome<OutputCommand> Read(ReadOnlyMemory<byte> utf8)
    {
        try
        {
            using var document = JsonDocument.Parse(utf8, new() { MaxDepth = 2 });
            var root = document.RootElement;
            var (expires, most) = (root.GetProperty("expires").GetDouble(), root.GetProperty("maxOn").GetDouble());
            var output = root.GetProperty("out").GetString();
            return output is not null && expires is >= 0 and < 1e11 && most is >= 0 and < 1e6
                ? new OutputCommand(
                    root.GetProperty("id").GetInt64(),
                    output,
                    root.GetProperty("on").GetBoolean(),
                    (long)Math.Round(expires * 1000),
                    (long)Math.Round(most * 1000)
                )
                : Outcome<OutputCommand>.Refused("\"expires\" or \"maxOn\" is out of range, or \"out\" is no text.");
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException or FormatException or KeyNotFoundException)
        {
            return Outcome<OutputCommand>.Refused($"No command: {fault.Message}");
        }
    }
}
