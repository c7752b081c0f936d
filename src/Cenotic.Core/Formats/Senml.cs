using System.Text.Json;
using System.Text.Unicode;
using Cenotic.Core.Common;

namespace Cenotic.Core.Formats;

/// <summary>A resolved SenML record.</summary>
/// <param name="Name">Base name and name.</param>
/// <param name="Unit">SenML unit, or null.</param>
/// <param name="Time">Seconds as resolved: below 2^28 relative to now, else since 1970 UTC.</param>
/// <param name="HasTime">False when neither a base time nor a time was given.</param>
/// <param name="Value">A number; booleans are 1 and 0. Null when the record carries text, data or a sum only.</param>
public sealed record SenmlRecord(string Name, string? Unit, double Time, bool HasTime, double? Value, string? Text, double? Sum, int Version)
{
    /// <summary>True when the value was true or false, no number.</summary>
    public bool IsBoolean { get; init; }
}

/// <summary>A value to write.</summary>
/// <param name="SecondsAfter">Its time less the base time of the pack.</param>
/// <param name="Text">Text in place of the number (vs); null for a number.</param>
public sealed record SenmlValue(string Name, string? Unit, double Value, double SecondsAfter = 0, string? Text = null);

/// <summary>SenML in JSON and CBOR. Source: RFC 8428.</summary>
public static partial class Senml
{
    /// <summary>Times below this are relative to now (RFC 8428 section 4.5.3).</summary>
    public const double RelativeBelow = 1 << 28;

    /// <summary>The version of SenML that is read and written (RFC 8428 section 4.4).</summary>
    public const int Version = 10;

    private const int MostRecords = 1000;
    private static readonly JsonDocumentOptions Strict = new()
    {
        MaxDepth = 4,
        AllowTrailingCommas = false,
        CommentHandling = JsonCommentHandling.Disallow,
    };

    /// <summary>Reads a pack and resolves it (RFC 8428 section 4.6). Refuses with the record's number and the rule that it breaks.</summary>
    /// <param name="utf8">The bytes of the message.</param>
    public static Outcome<IReadOnlyList<SenmlRecord>> Read(ReadOnlyMemory<byte> utf8)
    {
        if (!Utf8.IsValid(utf8.Span))
        {
            return Refuse("Not JSON: the bytes are not UTF-8.");
        }
        JsonDocument document;
        try
        {
            document = JsonDocument.Parse(utf8, Strict);
        }
        catch (JsonException fault)
        {
            return Refuse($"Not JSON: {Plain(fault)}");
        }
        using (document)
        {
            if (document.RootElement.ValueKind != JsonValueKind.Array)
            {
                return Refuse("A SenML pack is a JSON array of records.");
            }
            if (document.RootElement.GetArrayLength() is 0 or > MostRecords)
            {
                return Refuse($"A pack holds 1 to {MostRecords} records.");
            }
            var records = new List<SenmlRecord>();
            var bases = new Base();
            var number = 0;
            foreach (var item in document.RootElement.EnumerateArray())
            {
                number++;
                if ((item.ValueKind == JsonValueKind.Object ? Resolve(Fields(item), bases, records) : "it is not an object.") is { } fault)
                {
                    return Refuse($"Record {number}: {fault}");
                }
            }
            return Outcome<IReadOnlyList<SenmlRecord>>.Of(records);
        }
    }

    /// <summary>Writes records that share a base time as a pack.</summary>
    /// <param name="baseSeconds">Seconds since 1970, or null to leave the time to the receiver.</param>
    public static byte[] Write(double? baseSeconds, IReadOnlyList<(string Name, string? Unit, double Value)> records) =>
        Write(baseSeconds, [.. records.Select(r => new SenmlValue(r.Name, r.Unit, r.Value))]);

    /// <summary>Writes records, some of them taken earlier than the base time, as a pack.</summary>
    /// <param name="baseSeconds">Seconds since 1970, or null to leave the time to the receiver.</param>
    public static byte[] Write(double? baseSeconds, IReadOnlyList<SenmlValue> records)
    {
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream))
        {
            writer.WriteStartArray();
            for (var i = 0; i < records.Count; i++)
            {
                writer.WriteStartObject();
                if (i == 0 && baseSeconds is { } seconds)
                {
                    writer.WriteNumber("bt", Math.Round(seconds, 3));
                }
                writer.WriteString("n", records[i].Name);
                if (records[i].Unit is { } unit)
                {
                    writer.WriteString("u", unit);
                }
                if (records[i].SecondsAfter is not 0 and var after)
                {
                    writer.WriteNumber("t", Math.Round(after, 3));
                }
                if (records[i].Text is { } text)
                {
                    writer.WriteString("vs", text);
                }
                else
                {
                    writer.WriteNumber("v", records[i].Value);
                }
                writer.WriteEndObject();
            }
            writer.WriteEndArray();
        }
        return stream.ToArray();
    }

    /// <summary>A field of a record as it came, whatever it was written in: a double, a string, a bool, bytes, or null for anything else.</summary>
    private readonly record struct Field(string Name, object? Value);

    private static IEnumerable<Field> Fields(JsonElement item) =>
        item.EnumerateObject()
            .Select(f => new Field(
                PlainName(f),
                f.Value.ValueKind switch
                {
                    JsonValueKind.Number => f.Value.TryGetDouble(out var number) ? number : null,
                    JsonValueKind.String => PlainText(f.Value),
                    JsonValueKind.True => true,
                    JsonValueKind.False => false,
                    _ => null,
                }
            ));

    /// <summary>The name of a member; one with half a surrogate pair is no name, and must be understood.</summary>
    internal static string PlainName(JsonProperty member)
    {
        try
        {
            return member.Name;
        }
        catch (InvalidOperationException)
        {
            return "?_";
        }
    }

    /// <summary>Text without half a surrogate pair; null when it has one.</summary>
    private static string? PlainText(JsonElement value)
    {
        try
        {
            return value.GetString();
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }

    private static string? Resolve(IEnumerable<Field> fields, Base bases, List<SenmlRecord> records)
    {
        var record = new Record();
        foreach (var field in fields)
        {
            if ((record.Seen.Add(field.Name) ? Take(field, bases, record) : $"\"{field.Name}\" stands in it twice.") is { } fault)
            {
                return fault;
            }
        }
        if (record.Values > 1)
        {
            return "it has more than one value.";
        }
        if (record.Values == 0 && record.Sum is null)
        {
            // A record of base fields only sets them for those after it.
            return record.Seen.Count > 0 && record.Seen.All(f => f.StartsWith('b')) ? null : "it has no value.";
        }
        var whole = bases.Name + record.Name;
        if (!ValidName(whole))
        {
            return $"the name \"{Shorten(whole)}\" is empty or has characters outside A-Z a-z 0-9 - : . / _, or starts with one of - : . / _.";
        }
        var (value, time) = (record.Seen.Contains("v") ? record.Value + bases.Value : record.Value, bases.Time + (record.Time ?? 0));
        if ((value is { } v && !double.IsFinite(v)) || !double.IsFinite(time))
        {
            return "a number grows beyond what can be stored.";
        }
        records.Add(
            new(
                whole,
                record.Unit ?? bases.Unit,
                time,
                bases.HasTime || record.Time is not null,
                value,
                record.Text,
                record.Sum is { } s ? s + bases.Sum : null,
                bases.Version
            )
            {
                IsBoolean = record.Seen.Contains("vb"),
            }
        );
        return null;
    }

    /// <summary>Takes a field for the record, or for all after it; says what is wrong with it.</summary>
    private static string? Take(Field field, Base bases, Record record)
    {
        switch (field.Name)
        {
            case "bn":
                return Text(field, s => bases.Name = s);
            case "bt":
                return Number(field, d => (bases.Time, bases.HasTime) = (d, true));
            case "bu":
                return Text(field, s => bases.Unit = s);
            case "bv":
                return Number(field, d => bases.Value = d);
            case "bs":
                return Number(field, d => bases.Sum = d);
            case "bver":
                return Number(field, d => bases.Version = (int)Math.Clamp(d, 0, 1_000_000))
                    ?? (bases.Version > Version ? $"its version {bases.Version} is newer than {Version}." : null);
            default:
                return record.Take(field);
        }
    }

    /// <summary>The fields that a record has itself.</summary>
    private sealed class Record
    {
        public readonly HashSet<string> Seen = [];
        public string Name = "";
        public string? Unit,
            Text;
        public double? Value,
            Sum,
            Time;
        public int Values;

        public string? Take(Field field)
        {
            switch (field.Name)
            {
                case "n":
                    return Senml.Text(field, s => Name = s);
                case "u":
                    return Senml.Text(field, s => Unit = s);
                case "v":
                    Values++;
                    return Senml.Number(field, d => Value = d);
                case "vs":
                    Values++;
                    return Senml.Text(field, s => Text = s);
                case "vd":
                    // Base64 text in JSON, a byte string in CBOR (RFC 8428 sections 5 and 6).
                    Values++;
                    return Senml.Text(field.Value is byte[] bytes ? field with { Value = Convert.ToBase64String(bytes) } : field, s => Text = s);
                case "vb":
                    Values++;
                    Value = field.Value is true ? 1 : 0;
                    return field.Value is bool ? null : "\"vb\" is true or false.";
                case "s":
                    return Senml.Number(field, d => Sum = d);
                case "t":
                    return Senml.Number(field, d => Time = d);
                case "ut":
                    return Senml.Number(field, _ => { });
                default:
                    return field.Name.EndsWith('_') ? $"\"{field.Name}\" must be understood (it ends in _) and is not." : null;
            }
        }
    }

    private static string? Number(Field field, Action<double> take)
    {
        if (field.Value is not double number || !double.IsFinite(number))
        {
            return $"\"{field.Name}\" is not a finite number.";
        }
        take(number);
        return null;
    }

    private static string? Text(Field field, Action<string> take)
    {
        if (field.Value is not string text)
        {
            return $"\"{field.Name}\" is not text.";
        }
        take(text);
        return null;
    }

    internal static bool ValidName(string name) =>
        name.Length is > 0 and <= 255
        && char.IsAsciiLetterOrDigit(name[0])
        && name.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or ':' or '.' or '/' or '_');

    private static string Plain(JsonException fault) => fault.Message.Split(" LineNumber")[0].Split(" Path:")[0];

    private static string Shorten(string text) => text.Length > 40 ? text[..40] + "…" : text;

    private static Outcome<IReadOnlyList<SenmlRecord>> Refuse(string reason) => Outcome<IReadOnlyList<SenmlRecord>>.Refused(reason);

    private sealed class Base
    {
        public string Name = "";
        public string? Unit;
        public double Time,
            Value,
            Sum;
        public bool HasTime;
        public int Version = Senml.Version;
    }
}
