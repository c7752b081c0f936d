using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using Cenotic.Core.Design;

namespace Cenotic.Core.Formats;

/// <summary>A number of a frame, scaled to its reading's unit.</summary>
/// <param name="Time">As in a message: seconds, relative below 2^28, 0 or absent for now.</param>
public sealed record FrameValue(string Node, string Reading, double Value, double Time = 0, bool HasTime = false);

/// <summary>A frame that was taken, or a stretch that was not and why.</summary>
/// <param name="Bytes">The bytes it was made of.</param>
public sealed record Frame(byte[] Bytes, IReadOnlyList<FrameValue> Values, string? Refusal);

/// <summary>
/// Reads the frames of a serial line as its bytes come. After noise it is in step again within one longest frame: a binary frame is looked for at every byte, a
/// line at every line feed, a lettered value at every letter. Nothing that comes throws, and no more than one longest frame is kept.
/// </summary>
public sealed class FrameDecoder
{
    /// <summary>Longest line or value of the text forms, bytes.</summary>
    public const int LongestText = 200;

    /// <summary>Longest message of <see cref="FrameKind.LengthPrefixed"/>, bytes.</summary>
    public const int LongestMessage = 1024;

    private const int CheckBytes = 2;

    private readonly FrameFormat _format;
    private readonly byte[] _start;
    private readonly List<byte> _kept = [];
    private bool _cut;

    /// <param name="midStream">True when the first bytes may be the end of a frame: the text forms, which cannot show it, leave them out.</param>
    public FrameDecoder(FrameFormat format, bool midStream = true) => (_format, _start, _cut) = (format, Convert.FromHexString(format.Start), midStream);

    /// <summary>Bytes that belonged to no frame: noise, and what was cut.</summary>
    public long Skipped { get; private set; }

    /// <summary>Bytes that may be the beginning of a frame.</summary>
    public int Waiting => _kept.Count;

    /// <summary>Longest frame of a format, bytes.</summary>
    public static int LongestFrame(FrameFormat format) =>
        format.Kind switch
        {
            FrameKind.Binary => BinaryLength(format),
            FrameKind.LengthPrefixed => format.Start.Length / 2
                + format.LengthBytes
                + Math.Min(LongestMessage, format.LengthBytes == 1 ? 255 : 65_535)
                + CheckLength(format),
            _ => LongestText,
        };

    /// <summary>Takes bytes in. The frames that they complete, in order.</summary>
    public IReadOnlyList<Frame> Push(ReadOnlySpan<byte> bytes)
    {
        var frames = new List<Frame>();
        foreach (var octet in bytes)
        {
            _kept.Add(octet);
            switch (_format.Kind)
            {
                case FrameKind.LetteredValues:
                    Lettered(octet, frames);
                    break;
                case FrameKind.ValuePerLine or FrameKind.SeparatedValues:
                    Line(octet, frames);
                    break;
                default:
                    Framed(frames);
                    break;
            }
        }
        return frames;
    }

    private static int CheckLength(FrameFormat format) => format.Check == FrameCheck.None ? 0 : CheckBytes;

    private static int BinaryLength(FrameFormat format) => format.Start.Length / 2 + format.Fields.Sum(f => SizeOf(f.Number)) + CheckLength(format);

    private static int SizeOf(FrameNumber number) =>
        number switch
        {
            FrameNumber.U8 or FrameNumber.I8 => 1,
            FrameNumber.U16Le or FrameNumber.U16Be or FrameNumber.I16Le or FrameNumber.I16Be => 2,
            _ => 4,
        };

    // Text forms

    private void Line(byte octet, List<Frame> frames)
    {
        if (octet != '\n')
        {
            TooLong(frames);
            return;
        }
        var bytes = Take();
        if (_cut)
        {
            (_cut, Skipped) = (false, Skipped + bytes.Length);
            return;
        }
        var text = Encoding.Latin1.GetString(bytes).Trim();
        if (text.Length == 0)
        {
            return;
        }
        var parts = _format.Kind == FrameKind.ValuePerLine ? [text] : text.Split(_format.Separator);
        if (parts.Length != _format.Fields.Count)
        {
            Refuse(frames, bytes, $"It holds {parts.Length} value{(parts.Length == 1 ? "" : "s")}; the line's frames have {_format.Fields.Count}.");
            return;
        }
        var values = new List<FrameValue>();
        foreach (var (part, field) in parts.Zip(_format.Fields))
        {
            if (Number(part) is not { } number)
            {
                Refuse(frames, bytes, $"\"{Shorten(part)}\" is no number.");
                return;
            }
            values.Add(Scaled(field, number));
        }
        frames.Add(new(bytes, values, null));
    }

    private void Lettered(byte octet, List<Frame> frames)
    {
        if (octet is (>= (byte)'0' and <= (byte)'9') or (byte)'+' or (byte)'-' or (byte)'.' or (byte)' ' or (byte)'\t' or (byte)'\r' or (byte)'\n')
        {
            TooLong(frames);
            return;
        }
        var bytes = Take();
        var field = _format.Fields.FirstOrDefault(f => f.Letter is [var letter] && letter == octet);
        if (_cut)
        {
            // What stands before the first letter may be the end of a longer number.
            (_cut, Skipped) = (field is null, Skipped + bytes.Length);
            return;
        }
        var text = Encoding.Latin1.GetString(bytes.AsSpan(..^1)).Trim();
        if (field is null)
        {
            Refuse(
                frames,
                bytes,
                char.IsAsciiLetter((char)octet)
                    ? $"The letter \"{(char)octet}\" stands for no reading."
                    : $"The byte 0x{octet:X2} is neither a number nor a letter."
            );
            _cut = true;
        }
        else if (Number(text) is { } number)
        {
            frames.Add(new(bytes, [Scaled(field, number)], null));
        }
        else
        {
            Refuse(frames, bytes, $"\"{Shorten(text)}\" before \"{field.Letter}\" is no number.");
        }
    }

    private void TooLong(List<Frame> frames)
    {
        if (_kept.Count < LongestText)
        {
            return;
        }
        var bytes = Take();
        if (_cut)
        {
            Skipped += bytes.Length;
            return;
        }
        Refuse(frames, bytes, $"More than {LongestText} bytes came without an end.");
        _cut = true;
    }

    // Binary forms

    private void Framed(List<Frame> frames)
    {
        while (_kept.Count > 0)
        {
            var bytes = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_kept);
            var length = LengthOf(bytes);
            if (length is null)
            {
                // Not enough to tell yet.
                return;
            }
            if (length == 0 || bytes.Length >= length && !Fits(bytes[..length.Value]))
            {
                // No frame begins here; perhaps one does at the next byte.
                Skipped++;
                _kept.RemoveAt(0);
                continue;
            }
            if (bytes.Length < length)
            {
                return;
            }
            var frame = bytes[..length.Value].ToArray();
            _kept.RemoveRange(0, length.Value);
            frames.Add(Read(frame));
        }
    }

    /// <summary>Length of the frame that begins here; 0 when none does, null when more bytes must come first.</summary>
    private int? LengthOf(ReadOnlySpan<byte> bytes)
    {
        var known = Math.Min(bytes.Length, _start.Length);
        if (!bytes[..known].SequenceEqual(_start.AsSpan(0, known)))
        {
            return 0;
        }
        if (_format.Kind == FrameKind.Binary)
        {
            return BinaryLength(_format);
        }
        var head = _start.Length + _format.LengthBytes;
        if (bytes.Length < head)
        {
            return null;
        }
        var body = _format.LengthBytes == 1 ? bytes[_start.Length] : BinaryPrimitives.ReadUInt16BigEndian(bytes[_start.Length..]);
        return body is 0 or > LongestMessage ? 0 : head + body + CheckLength(_format);
    }

    private bool Fits(ReadOnlySpan<byte> frame)
    {
        if (_format.Check == FrameCheck.None)
        {
            return true;
        }
        var crc = Crc16.Of(_format.Check, frame[_start.Length..^CheckBytes]);
        return crc
            == (
                _format.Check == FrameCheck.Modbus
                    ? BinaryPrimitives.ReadUInt16LittleEndian(frame[^CheckBytes..])
                    : BinaryPrimitives.ReadUInt16BigEndian(frame[^CheckBytes..])
            );
    }

    private Frame Read(byte[] frame)
    {
        var body = frame.AsMemory(_start.Length, frame.Length - _start.Length - CheckLength(_format));
        if (_format.Kind == FrameKind.LengthPrefixed)
        {
            var read = Payloads.Read(body[_format.LengthBytes..]);
            return read.TryGet(out var message)
                ? new(
                    frame,
                    [
                        .. message
                            .Records.Where(r => r.Value is not null)
                            .Select(r => new FrameValue(_format.Node ?? "", r.Name, r.Value!.Value, r.Time, r.HasTime)),
                    ],
                    null
                )
                : new(frame, [], read.Reasons[0]);
        }
        var values = new List<FrameValue>();
        var at = 0;
        foreach (var field in _format.Fields)
        {
            var number = NumberAt(body.Span[at..], field.Number);
            at += SizeOf(field.Number);
            if (!double.IsFinite(number))
            {
                return new(frame, [], $"The number of \"{field.Reading}\" is not finite.");
            }
            values.Add(Scaled(field, number));
        }
        return new(frame, values, null);
    }

    private static double NumberAt(ReadOnlySpan<byte> bytes, FrameNumber number) =>
        number switch
        {
            // The first says double: else all would become single with the last two, and large whole numbers would be rounded.
            FrameNumber.U8 => (double)bytes[0],
            FrameNumber.I8 => (sbyte)bytes[0],
            FrameNumber.U16Le => BinaryPrimitives.ReadUInt16LittleEndian(bytes),
            FrameNumber.U16Be => BinaryPrimitives.ReadUInt16BigEndian(bytes),
            FrameNumber.I16Le => BinaryPrimitives.ReadInt16LittleEndian(bytes),
            FrameNumber.I16Be => BinaryPrimitives.ReadInt16BigEndian(bytes),
            FrameNumber.U32Le => BinaryPrimitives.ReadUInt32LittleEndian(bytes),
            FrameNumber.U32Be => BinaryPrimitives.ReadUInt32BigEndian(bytes),
            FrameNumber.I32Le => BinaryPrimitives.ReadInt32LittleEndian(bytes),
            FrameNumber.I32Be => BinaryPrimitives.ReadInt32BigEndian(bytes),
            FrameNumber.F32Le => BinaryPrimitives.ReadSingleLittleEndian(bytes),
            _ => BinaryPrimitives.ReadSingleBigEndian(bytes),
        };

    private byte[] Take()
    {
        byte[] bytes = [.. _kept];
        _kept.Clear();
        return bytes;
    }

    private void Refuse(List<Frame> frames, byte[] bytes, string reason)
    {
        Skipped += bytes.Length;
        frames.Add(new(bytes, [], reason));
    }

    private static FrameValue Scaled(FrameField field, double number) => new(field.Node, field.Reading, number * field.Scale + field.Offset);

    private static double? Number(string text)
    {
        text = text.Trim();
        return
            text.All(c => char.IsAsciiDigit(c) || c is '+' or '-' or '.' or 'e' or 'E')
            && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
            && double.IsFinite(value)
            ? value
            : null;
    }

    private static string Shorten(string text) => text.Length > 30 ? text[..30] + "…" : text;
}
