using System.Formats.Cbor;
using Cenotic.Core.Common;

namespace Cenotic.Core.Formats;

/// <summary>SenML in CBOR (RFC 8428, 6).</summary>
public static partial class Senml
{
    /// <summary>Labels of the fields as integers (RFC 8428 section 6, table 4).</summary>
    private static readonly Dictionary<string, int> Labels = new()
    {
        ["bver"] = -1,
        ["bn"] = -2,
        ["bt"] = -3,
        ["bu"] = -4,
        ["bv"] = -5,
        ["bs"] = -6,
        ["n"] = 0,
        ["u"] = 1,
        ["v"] = 2,
        ["vs"] = 3,
        ["vb"] = 4,
        ["s"] = 5,
        ["t"] = 6,
        ["ut"] = 7,
        ["vd"] = 8,
    };

    private static readonly Dictionary<int, string> Names = Labels.ToDictionary(l => l.Value, l => l.Key);

    /// <summary>Reads a pack in CBOR (RFC 8428 section 6) and resolves it as <see cref="Read"/> does.</summary>
    public static Outcome<IReadOnlyList<SenmlRecord>> ReadCbor(ReadOnlyMemory<byte> bytes)
    {
        var reader = new CborReader(bytes, CborConformanceMode.Lax);
        var (records, bases, number) = (new List<SenmlRecord>(), new Base(), 0);
        try
        {
            if (reader.PeekState() != CborReaderState.StartArray)
            {
                return Refuse("A SenML pack in CBOR is an array of records.");
            }
            reader.ReadStartArray();
            while (reader.PeekState() != CborReaderState.EndArray)
            {
                if (++number > MostRecords)
                {
                    return Refuse($"A pack holds 1 to {MostRecords} records.");
                }
                if ((reader.PeekState() == CborReaderState.StartMap ? Resolve(CborFields(reader), bases, records) : "it is not a map.") is { } fault)
                {
                    return Refuse($"Record {number}: {fault}");
                }
            }
            reader.ReadEndArray();
            if (reader.BytesRemaining > 0)
            {
                return Refuse($"{reader.BytesRemaining} bytes follow the pack.");
            }
        }
        catch (Exception fault) when (fault is CborContentException or InvalidOperationException or OverflowException)
        {
            return Refuse($"Not CBOR{(number > 0 ? $", in record {number}" : "")}: {fault.Message.Split('.')[0]}.");
        }
        return number == 0 ? Refuse($"A pack holds 1 to {MostRecords} records.") : Outcome<IReadOnlyList<SenmlRecord>>.Of(records);
    }

    /// <summary>Writes records as a pack in CBOR: numbers as short as they go without loss.</summary>
    /// <inheritdoc cref="Write(double?, IReadOnlyList{SenmlValue})"/>
    public static byte[] WriteCbor(double? baseSeconds, IReadOnlyList<SenmlValue> records)
    {
        var writer = new CborWriter(CborConformanceMode.Lax);
        writer.WriteStartArray(records.Count);
        for (var i = 0; i < records.Count; i++)
        {
            var record = records[i];
            var time = i == 0 ? baseSeconds : null;
            writer.WriteStartMap(2 + (time is null ? 0 : 1) + (record.Unit is null ? 0 : 1) + (record.SecondsAfter == 0 ? 0 : 1));
            if (time is { } seconds)
            {
                writer.WriteInt32(Labels["bt"]);
                Shortest(writer, Math.Round(seconds, 3));
            }
            writer.WriteInt32(Labels["n"]);
            writer.WriteTextString(record.Name);
            if (record.Unit is { } unit)
            {
                writer.WriteInt32(Labels["u"]);
                writer.WriteTextString(unit);
            }
            if (record.SecondsAfter != 0)
            {
                writer.WriteInt32(Labels["t"]);
                Shortest(writer, Math.Round(record.SecondsAfter, 3));
            }
            if (record.Text is { } text)
            {
                writer.WriteInt32(Labels["vs"]);
                writer.WriteTextString(text);
            }
            else
            {
                writer.WriteInt32(Labels["v"]);
                Shortest(writer, record.Value);
            }
            writer.WriteEndMap();
        }
        writer.WriteEndArray();
        return writer.Encode();
    }

    private static void Shortest(CborWriter writer, double value)
    {
        if (value == Math.Truncate(value) && Math.Abs(value) < 1L << 53)
        {
            writer.WriteInt64((long)value);
        }
        else if ((double)(Half)value == value)
        {
            writer.WriteHalf((Half)value);
        }
        else if ((float)value == value)
        {
            writer.WriteSingle((float)value);
        }
        else
        {
            writer.WriteDouble(value);
        }
    }

    private static IEnumerable<Field> CborFields(CborReader reader)
    {
        reader.ReadStartMap();
        while (reader.PeekState() != CborReaderState.EndMap)
        {
            var name = reader.PeekState() switch
            {
                CborReaderState.UnsignedInteger or CborReaderState.NegativeInteger => reader.ReadInt32() is var label && Names.TryGetValue(label, out var known)
                    ? known
                    : $"label {label}",
                _ => reader.ReadTextString(),
            };
            yield return new(name, CborValue(reader));
        }
        reader.ReadEndMap();
    }

    private static object? CborValue(CborReader reader)
    {
        switch (reader.PeekState())
        {
            case CborReaderState.UnsignedInteger:
                return (double)reader.ReadUInt64();
            case CborReaderState.NegativeInteger:
                return -1 - (double)reader.ReadCborNegativeIntegerRepresentation();
            case CborReaderState.HalfPrecisionFloat or CborReaderState.SinglePrecisionFloat or CborReaderState.DoublePrecisionFloat:
                return reader.ReadDouble();
            case CborReaderState.TextString or CborReaderState.StartIndefiniteLengthTextString:
                return reader.ReadTextString();
            case CborReaderState.ByteString or CborReaderState.StartIndefiniteLengthByteString:
                return reader.ReadByteString();
            case CborReaderState.Boolean:
                return reader.ReadBoolean();
            case CborReaderState.Tag when reader.PeekTag() == CborTag.DecimalFraction:
                return (double)reader.ReadDecimal();
            default:
                reader.SkipValue();
                return null;
        }
    }
}
