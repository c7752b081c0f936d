using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Unicode;
using Cenotic.Core.Common;

namespace Cenotic.Core.Formats;

/// <summary>What the bytes of a message are written in.</summary>
public enum PayloadKind
{
    /// <summary>SenML as JSON (RFC 8428, 5).</summary>
    SenmlJson,

    /// <summary>SenML as CBOR (RFC 8428, 6).</summary>
    SenmlCbor,

    /// <summary>One JSON object with a member for each reading.</summary>
    FlatJson,

    /// <summary>A single number; the topic names its reading.</summary>
    Number,
}

/// <summary>A message as read.</summary>
public sealed record Payload(PayloadKind Kind, IReadOnlyList<SenmlRecord> Records);

/// <summary>Reads messages of nodes: SenML in JSON or CBOR (RFC 8428), a flat JSON object of
/// readings, or a single number. They differ in their first byte.</summary>
public static class Payloads
{
    private const int MostMembers = 1000,
        LongestNumber = 40;
    private static readonly JsonDocumentOptions Strict = new()
    {
        MaxDepth = 2,
        AllowTrailingCommas = false,
        CommentHandling = JsonCommentHandling.Disallow,
    };

    /// <summary>Which of the four it is, by its first byte that is no white space.</summary>
    public static PayloadKind KindOf(ReadOnlySpan<byte> bytes)
    {
        var first = bytes.TrimStart(" \t\r\n"u8);
        return first.IsEmpty ? PayloadKind.Number
            : first[0] == '[' ? PayloadKind.SenmlJson
            : first[0] == '{' ? PayloadKind.FlatJson
            // A CBOR array: of up to 23 items, of a counted number, or open-ended (RFC 8949 section 3).
            : first[0] is >= 0x80 and <= 0x9f ? PayloadKind.SenmlCbor
            : PayloadKind.Number;
    }

    /// <summary>Reads a message.</summary>
    /// <param name="reading">The reading that a single number is of; null when the message must name its readings.</param>
    public static Outcome<Payload> Read(ReadOnlyMemory<byte> bytes, string? reading = null)
    {
        var kind = KindOf(bytes.Span);
        var read = kind switch
        {
            PayloadKind.SenmlJson => Senml.Read(bytes),
            PayloadKind.SenmlCbor => Senml.ReadCbor(bytes),
            PayloadKind.FlatJson => FlatJson(bytes),
            _ => Number(bytes.Span, reading),
        };
        return read.TryGet(out var records) ? Outcome<Payload>.Of(new(kind, records)) : Outcome<Payload>.Refused([.. read.Reasons]);
    }

    /// <summary>An object of readings and numbers, as {"temp": 21.5, "on": true}; the member "t" is the time, as in SenML.</summary>
    private static Outcome<IReadOnlyList<SenmlRecord>> FlatJson(ReadOnlyMemory<byte> bytes)
    {
        if (!Utf8.IsValid(bytes.Span))
        {
            return Refuse("Not a flat JSON object: the bytes are not UTF-8.");
        }
        JsonDocument document;
        try
        {
            document = JsonDocument.Parse(bytes, Strict);
        }
        catch (JsonException fault)
        {
            return Refuse($"Not a flat JSON object: {fault.Message.Split(" LineNumber")[0].Split(" Path:")[0]}");
        }
        using (document)
        {
            return Flat([.. document.RootElement.EnumerateObject()]);
        }
    }

    private static Outcome<IReadOnlyList<SenmlRecord>> Flat(List<JsonProperty> members)
    {
        if (members.Count is 0 or > MostMembers)
        {
            return Refuse($"An object of readings has 1 to {MostMembers} members.");
        }
        double time = 0;
        var timed = false;
        var values = new List<(string Name, double Value, bool IsBoolean)>();
        foreach (var member in members)
        {
            var name = Senml.PlainName(member);
            double? value = member.Value.ValueKind switch
            {
                JsonValueKind.Number when member.Value.TryGetDouble(out var number) && double.IsFinite(number) => number,
                JsonValueKind.True => 1,
                JsonValueKind.False => 0,
                _ => null,
            };
            if (value is not { } finite)
            {
                return Refuse($"\"{Shorten(name)}\" is neither a finite number nor true or false.");
            }
            if (name == "t")
            {
                (time, timed) = (finite, true);
            }
            else if (!Senml.ValidName(name))
            {
                return Refuse($"\"{Shorten(name)}\" is no name of a reading.");
            }
            else if (values.Any(v => v.Name == name))
            {
                return Refuse($"\"{name}\" stands in it twice.");
            }
            else
            {
                values.Add((name, finite, member.Value.ValueKind is JsonValueKind.True or JsonValueKind.False));
            }
        }
        return values.Count == 0
            ? Refuse("It holds a time and no reading.")
            : Outcome<IReadOnlyList<SenmlRecord>>.Of([
                .. values.Select(v => new SenmlRecord(v.Name, null, time, timed, v.Value, null, null, Senml.Version) { IsBoolean = v.IsBoolean }),
            ]);
    }

    /// <summary>A number as text, with a point or without, as 21.5 or -3e2.</summary>
    private static Outcome<IReadOnlyList<SenmlRecord>> Number(ReadOnlySpan<byte> bytes, string? reading)
    {
        var text = bytes.Length <= LongestNumber ? Encoding.ASCII.GetString(bytes).Trim() : "";
        if (
            text.Any(c => !char.IsAsciiDigit(c) && c is not ('+' or '-' or '.' or 'e' or 'E'))
            || !double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
            || !double.IsFinite(value)
        )
        {
            return Refuse("It is neither SenML (an array), nor a JSON object of readings, nor a number.");
        }
        return reading is null
            ? Refuse("A single number does not say which reading it is: send it to the topic of that reading.")
            : Outcome<IReadOnlyList<SenmlRecord>>.Of([new(reading, null, 0, false, value, null, null, Senml.Version)]);
    }

    private static string Shorten(string text) => text.Length > 40 ? text[..40] + "…" : text;

    private static Outcome<IReadOnlyList<SenmlRecord>> Refuse(string reason) => Outcome<IReadOnlyList<SenmlRecord>>.Refused(reason);
}
