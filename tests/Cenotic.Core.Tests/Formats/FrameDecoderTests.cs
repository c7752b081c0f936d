using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Formats;

/// <summary>Frames of serial lines: examples, noise, cut frames, and a second reading of the same bytes that shares nothing with the decoder.</summary>
public class FrameDecoderTests
{
    private static readonly FrameFormat Single = new(FrameKind.ValuePerLine, [new("mast", "rain")]);
    private static readonly FrameFormat Lettered = new(
        FrameKind.LetteredValues,
        [new("mast", "temp", "t"), new("mast", "rh", "h"), new("shed", "light", "L", Scale: 10)]
    );
    private static readonly FrameFormat Separated = new(FrameKind.SeparatedValues, [new("mast", "temp"), new("mast", "rh")], Separator: ";");
    private static readonly FrameFormat Binary = new(
        FrameKind.Binary,
        [
            new("mast", "temp", Number: FrameNumber.I16Le, Scale: 0.01),
            new("mast", "rain", Number: FrameNumber.U32Be),
            new("mast", "bat", Number: FrameNumber.U8, Scale: 0.02, Offset: 1),
        ],
        Start: "AA55",
        Check: FrameCheck.CcittFalse
    );
    private static readonly FrameFormat Prefixed = new(FrameKind.LengthPrefixed, [], Start: "7E", Check: FrameCheck.Modbus, LengthBytes: 2, Node: "mast");

    public static readonly TheoryData<FrameKind> Kinds = [.. Enum.GetValues<FrameKind>()];

    private static FrameFormat Of(FrameKind kind) => new[] { Single, Lettered, Separated, Binary, Prefixed }.Single(f => f.Kind == kind);

    private static byte[] Ascii(string text) => Encoding.Latin1.GetBytes(text);

    private static string Say(IEnumerable<Frame> frames) =>
        string.Join(
            " | ",
            frames.Select(f =>
                f.Refusal ?? string.Join(" ", f.Values.Select(v => string.Create(CultureInfo.InvariantCulture, $"{v.Node}/{v.Reading}={v.Value:0.####}")))
            )
        );

    private static string Read(FrameFormat format, byte[] bytes, bool midStream = false) => Say(new FrameDecoder(format, midStream).Push(bytes));

    /// <summary>A frame of a format around whole numbers.</summary>
    private static byte[] Make(FrameFormat format, int a, int b) =>
        format.Kind switch
        {
            FrameKind.ValuePerLine => Ascii($"{a}\n"),
            FrameKind.LetteredValues => Ascii($"{a}t{b}h"),
            FrameKind.SeparatedValues => Ascii($"{a};{b}\r\n"),
            FrameKind.Binary => WithCrc(
                [0xAA, 0x55, (byte)a, (byte)(a >> 8), (byte)(b >> 24), (byte)(b >> 16), (byte)(b >> 8), (byte)b, (byte)(a ^ b)],
                2,
                little: false,
                0x1021,
                0xFFFF
            ),
            _ => Message($"{{\"temp\":{a},\"rh\":{b}}}"),
        };

    private static byte[] Message(string body) => WithCrc([0x7E, (byte)(body.Length >> 8), (byte)body.Length, .. Ascii(body)], 1, little: true, 0x8005, 0xFFFF);

    private static byte[] WithCrc(byte[] frame, int from, bool little, int polynomial, int start)
    {
        var crc = SlowCrc(frame.AsSpan(from), polynomial, start, little);
        return little ? [.. frame, (byte)crc, (byte)(crc >> 8)] : [.. frame, (byte)(crc >> 8), (byte)crc];
    }

    /// <summary>A CRC as a long division of the message's bits, reflected or not: written from its definition, not from the code.</summary>
    private static int SlowCrc(ReadOnlySpan<byte> bytes, int polynomial, int start, bool reflected)
    {
        var register = start;
        foreach (var octet in bytes)
        {
            for (var bit = 0; bit < 8; bit++)
            {
                var next = reflected ? octet >> bit & 1 : octet >> 7 - bit & 1;
                var carry = register >> 15 & 1;
                register = register << 1 & 0xFFFF;
                if ((next ^ carry) == 1)
                {
                    register ^= polynomial;
                }
            }
        }
        if (!reflected)
        {
            return register;
        }
        var turned = 0;
        for (var bit = 0; bit < 16; bit++)
        {
            turned |= (register >> bit & 1) << 15 - bit;
        }
        return turned;
    }

    /// <summary>Check values of the CRC of "123456789": CRC-16/IBM-3740 (CCITT-FALSE), CRC-16/XMODEM,
    /// CRC-16/MODBUS in the catalogue of parametrised CRC algorithms.</summary>
    [Theory]
    [InlineData(FrameCheck.CcittFalse, 0x29B1)]
    [InlineData(FrameCheck.Xmodem, 0x31C3)]
    [InlineData(FrameCheck.Modbus, 0x4B37)]
    public void Checks_have_their_published_values(FrameCheck check, int expected) => Assert.Equal(expected, Crc16.Of(check, "123456789"u8));

    /// <summary>The example of Modbus over serial line V1.02, appendix B: the check of 02 07 is 41 12, low byte first.</summary>
    [Fact]
    public void The_modbus_example_fits() => Assert.Equal(0x1241, Crc16.Of(FrameCheck.Modbus, [0x02, 0x07]));

    [Fact]
    public void There_is_no_check_without_a_kind() => Assert.Throws<ArgumentOutOfRangeException>(() => Crc16.Of(FrameCheck.None, [1]));

    [Fact]
    public void Each_form_is_read()
    {
        Assert.Equal("mast/rain=21.5 | mast/rain=-3", Read(Single, Ascii("21.5\n\r\n-3\r\n")));
        Assert.Equal("mast/temp=21.5 | mast/rh=55 | shed/light=1200", Read(Lettered, Ascii("21.5t55h 120L\r\n")));
        Assert.Equal("mast/temp=21.5 mast/rh=55", Read(Separated, Ascii("21.5; 55\n")));
        Assert.Equal(
            "mast/temp=21.5 mast/rain=70000 mast/bat=3.3",
            Read(Binary, WithCrc([0xAA, 0x55, 0x66, 0x08, 0x00, 0x01, 0x11, 0x70, 115], 2, little: false, 0x1021, 0xFFFF))
        );
        Assert.Equal("mast/temp=21.5 mast/sys/seq=7", Read(Prefixed, Message("""{"temp":21.5,"sys/seq":7}""")));
    }

    [Fact]
    public void What_is_wrong_is_said()
    {
        Assert.Equal("\"2l.5\" is no number.", Read(Single, Ascii("2l.5\n")));
        Assert.Equal("It holds 3 values; the line's frames have 2.", Read(Separated, Ascii("1;2;3\n")));
        Assert.Equal("The letter \"x\" stands for no reading.", Read(Lettered, Ascii("5x6t")));
        Assert.Equal("\"5-6\" before \"t\" is no number.", Read(Lettered, Ascii("5-6t")));
        Assert.Equal("The byte 0xC3 is neither a number nor a letter.", Read(Lettered, [0x31, 0xC3]));
        Assert.Equal($"More than {FrameDecoder.LongestText} bytes came without an end.", Read(Single, Ascii(new string('1', 300) + "\n")));
        Assert.Contains("neither SenML", Read(Prefixed, Message("xyz")));
        Assert.Equal("The number of \"v\" is not finite.", Read(new(FrameKind.Binary, [new("n", "v", Number: FrameNumber.F32Be)]), [0x7F, 0xC0, 0, 0]));
    }

    [Fact]
    public void Every_number_is_read_as_the_runtime_writes_it()
    {
        Gen.Int.Sample(
            value =>
            {
                var bytes = new byte[4];
                double One(FrameNumber number, int length) =>
                    new FrameDecoder(new(FrameKind.Binary, [new("n", "v", Number: number)])).Push(bytes.AsSpan(0, length)).Single().Values[0].Value;
                BinaryPrimitives.WriteInt32LittleEndian(bytes, value);
                Assert.Equal(
                    (value, (double)(uint)value, (short)value, (ushort)value, (sbyte)value, (double)(byte)value),
                    (
                        One(FrameNumber.I32Le, 4),
                        One(FrameNumber.U32Le, 4),
                        One(FrameNumber.I16Le, 2),
                        One(FrameNumber.U16Le, 2),
                        One(FrameNumber.I8, 1),
                        One(FrameNumber.U8, 1)
                    )
                );
                BinaryPrimitives.WriteInt32BigEndian(bytes, value);
                Assert.Equal(
                    (value, (double)(uint)value, value >> 16, (double)((uint)value >> 16)),
                    (One(FrameNumber.I32Be, 4), One(FrameNumber.U32Be, 4), One(FrameNumber.I16Be, 2), One(FrameNumber.U16Be, 2))
                );
                var single = value / 7f;
                BinaryPrimitives.WriteSingleLittleEndian(bytes, single);
                Assert.Equal(single, One(FrameNumber.F32Le, 4));
                BinaryPrimitives.WriteSingleBigEndian(bytes, single);
                Assert.Equal(single, One(FrameNumber.F32Be, 4));
            },
            iter: 500
        );
    }

    /// <summary>The values in a whole stream, read a second way: by regular expressions, and by a window over the finished array.</summary>
    private static List<double> Second(FrameFormat format, byte[] bytes)
    {
        var text = Encoding.Latin1.GetString(bytes);
        const string number = @"[ \t\r\f\v\u0085\u00A0]*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?[ \t\r\f\v\u0085\u00A0]*";
        var found = new List<double>();
        double Value(string part) => double.Parse(part.Trim(), NumberStyles.Float, CultureInfo.InvariantCulture);
        switch (format.Kind)
        {
            case FrameKind.ValuePerLine or FrameKind.SeparatedValues:
                foreach (var line in text.Split('\n').SkipLast(1).Where(l => l.Length < FrameDecoder.LongestText))
                {
                    var parts = format.Kind == FrameKind.ValuePerLine ? [line] : line.Split(';');
                    if (
                        parts.Length == format.Fields.Count
                        && parts.All(p => Regex.IsMatch(p, $"^{number}$", RegexOptions.ECMAScript | RegexOptions.None) && double.IsFinite(Value(p)))
                    )
                    {
                        found.AddRange(parts.Zip(format.Fields, (p, f) => Value(p) * f.Scale + f.Offset));
                    }
                }
                break;
            case FrameKind.Binary:
                for (var at = 0; at + 11 <= bytes.Length; )
                {
                    var w = bytes.AsSpan(at, 11);
                    if (w[0] == 0xAA && w[1] == 0x55 && SlowCrc(w[2..9], 0x1021, 0xFFFF, false) == (w[9] << 8 | w[10]))
                    {
                        found.AddRange([
                            BitConverter.ToInt16([w[2], w[3]]) * 0.01,
                            ((uint)w[4] << 24) + ((uint)w[5] << 16) + ((uint)w[6] << 8) + w[7],
                            w[8] * 0.02 + 1,
                        ]);
                        at += 11;
                        continue;
                    }
                    at++;
                }
                break;
            case FrameKind.LengthPrefixed:
                for (var at = 0; at + 3 <= bytes.Length; )
                {
                    var length = bytes[at + 1] << 8 | bytes[at + 2];
                    if (bytes[at] != 0x7E || length == 0 || length > FrameDecoder.LongestMessage)
                    {
                        at++;
                        continue;
                    }
                    if (at + length + 5 > bytes.Length)
                    {
                        break;
                    }
                    if (SlowCrc(bytes.AsSpan(at + 1, length + 2), 0x8005, 0xFFFF, true) != (bytes[at + length + 3] | bytes[at + length + 4] << 8))
                    {
                        at++;
                        continue;
                    }
                    // Damage may pass the check by chance, one time in 65,536: what it leaves is no message.
                    var whole = Regex.Match(text.Substring(at + 3, length), "^\\{\"temp\":(-?[0-9]+),\"rh\":(-?[0-9]+)\\}$");
                    found.AddRange(whole.Success ? [Value(whole.Groups[1].Value), Value(whole.Groups[2].Value)] : []);
                    at += length + 5;
                }
                break;
        }
        return found;
    }

    private static readonly Gen<byte[]> Mutations =
        from count in Gen.Int[1, 6]
        from kinds in Gen.Int[0, 3].Array[count]
        from places in Gen.Int[0, 1_000_000].Array[count]
        from octets in Gen.Byte.Array[count]
        select (byte[])[.. kinds.SelectMany((k, i) => (byte[])[(byte)k, (byte)(places[i] >> 8), (byte)places[i], octets[i]])];

    private static byte[] Mutate(byte[] bytes, byte[] plan)
    {
        var list = bytes.ToList();
        for (var i = 0; i + 3 < plan.Length; i += 4)
        {
            var at = (plan[i + 1] << 8 | plan[i + 2]) % list.Count;
            switch (plan[i])
            {
                case 0:
                    list[at] = plan[i + 3];
                    break;
                case 1:
                    list.Insert(at, plan[i + 3]);
                    break;
                case 2 when list.Count > 1:
                    list.RemoveAt(at);
                    break;
                default:
                    list[at] ^= (byte)(1 << plan[i + 3] % 8);
                    break;
            }
        }
        return [.. list];
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Ten_thousand_damaged_streams_are_read_as_a_second_reading_reads_them_in_pieces_of_any_size(FrameKind kind)
    {
        var format = Of(kind);
        Gen.Select(Gen.Int[-3000, 3000].Array[1, 6], Mutations, Gen.Int[1, 40])
            .Sample(
                (numbers, plan, piece) =>
                {
                    var stream = Mutate([.. numbers.SelectMany(n => Make(format, n, n + 1))], plan);
                    var decoder = new FrameDecoder(format, midStream: false);
                    var frames = stream.Chunk(piece).SelectMany(p => decoder.Push(p)).ToList();
                    var values = frames
                        .SelectMany(f => f.Values)
                        .Where(v => v.Reading is "temp" or "rh" or "rain" or "bat" or "light")
                        .Select(v => v.Value)
                        .ToList();
                    Assert.All(values, v => Assert.True(double.IsFinite(v)));
                    if (kind == FrameKind.LetteredValues)
                    {
                        // A letter ends a value; after a letter of no reading one value is left out.
                        var cut = false;
                        var expected = new List<double>();
                        foreach (
                            Match m in Regex.Matches(Encoding.Latin1.GetString(stream), @"([0-9+\-. \t\r\n]*)([^0-9+\-. \t\r\n])", RegexOptions.Singleline)
                        )
                        {
                            var scale = m.Groups[2].Value switch
                            {
                                "t" or "h" => 1,
                                "L" => 10,
                                _ => 0,
                            };
                            if (cut || scale == 0)
                            {
                                cut = scale == 0;
                                continue;
                            }
                            if (Regex.IsMatch(m.Groups[1].Value.Trim(), @"^[+-]?(\d+\.?\d*|\.\d+)$", RegexOptions.ECMAScript))
                            {
                                expected.Add(double.Parse(m.Groups[1].Value.Trim(), CultureInfo.InvariantCulture) * scale);
                            }
                        }
                        Assert.Equal(expected, values);
                        return;
                    }
                    var second = Second(format, stream);
                    Assert.Equal(second.Count, values.Count);
                    Assert.All(second.Zip(values), p => Assert.Equal(p.First, p.Second, 1e-9));
                },
                iter: 10_000
            );
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void After_noise_it_is_in_step_within_one_longest_frame(FrameKind kind)
    {
        var format = Of(kind);
        Gen.Select(Gen.Byte.Array[0, 400], Gen.Int[1, 29])
            .Sample(
                (noise, seed) =>
                {
                    List<byte[]> frames = [.. Enumerable.Range(0, 300).Select(i => Make(format, seed + i, 5000 + i))];
                    var decoder = new FrameDecoder(format);
                    decoder.Push(noise);
                    var (sent, inStep) = (0, 0);
                    foreach (var frame in frames)
                    {
                        List<double> Values(FrameDecoder by) => [.. by.Push(frame).SelectMany(f => f.Values).Select(v => v.Value)];
                        var read = Values(decoder);
                        sent += frame.Length;
                        if (sent > FrameDecoder.LongestFrame(format) + 2 * frame.Length)
                        {
                            Assert.Equal(Values(new FrameDecoder(format, midStream: false)), read);
                            inStep++;
                        }
                    }
                    Assert.True(inStep > 0);
                },
                iter: 300
            );
    }

    /// <summary>
    /// With a check of 16 bits a candidate of noise passes with 2^-16. Without start bytes each byte begins a candidate: over 20 times 100,000 bytes about 30.5
    /// pass (Poisson). The interval is four standard deviations: outside of it with a chance of about 1 in 10,000, and the noise is the same each time.
    /// </summary>
    [Fact]
    public void Noise_passes_a_check_as_seldom_as_its_bits_say()
    {
        var open = Binary with { Start = "" };
        var passed = 0;
        for (var seed = 0; seed < 20; seed++)
        {
            var noise = new byte[100_000];
            new Random(seed).NextBytes(noise);
            var decoder = new FrameDecoder(open);
            passed += decoder.Push(noise).Count;
        }
        var expected = 20 * 100_000 / 65_536.0;
        Assert.InRange(passed, expected - 4 * Math.Sqrt(expected), expected + 4 * Math.Sqrt(expected));
        // Two start bytes leave a 65,536th of the candidates.
        var guarded = new FrameDecoder(Binary);
        var more = new byte[100_000];
        new Random(99).NextBytes(more);
        Assert.Empty(guarded.Push(more));
        Assert.InRange(guarded.Skipped, 99_000, 100_000);
    }

    [Fact]
    public void A_stream_that_begins_in_the_middle_loses_its_first_value_only()
    {
        Assert.Equal("mast/rain=7", Read(Single, Ascii("1.5\n7\n"), midStream: true));
        Assert.Equal("mast/rh=55", Read(Lettered, Ascii(".5t55h"), midStream: true));
        Assert.False(Single.Checked);
        Assert.True(Binary.Checked);
        Assert.False((Binary with { Check = FrameCheck.None }).Checked);
    }
}
