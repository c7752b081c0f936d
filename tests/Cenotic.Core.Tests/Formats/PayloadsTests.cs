using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Formats;

/// <summary>What a node may send besides SenML in JSON, and that the four are told apart.</summary>
public partial class PayloadsTests
{
    /// <summary>RFC 8428 section 6, the dump of the second example in CBOR, from memory; that it resolves
    /// to the records of section 5.1.2 shows that memory served.</summary>
    private const string Rfc8428Cbor =
        "87a721781b75726e3a6465763a6f773a3130653230373361303130383030363a22fb41d303a15b00106223614120050067766f6c7461676501615602"
        + "fb405e066666666666a3006763757272656e74062402fb3ff3333333333333a3006763757272656e74062302fb3ff4cccccccccccda3006763757272"
        + "656e74062202fb3ff6666666666666a3006763757272656e74062102f93e00a3006763757272656e74062002fb3ff999999999999aa3006763757272"
        + "656e74060002fb3ffb333333333333";

    private static readonly byte[] GoodCbor = Senml.WriteCbor(
        1_700_000_000,
        [new("temp", "Cel", 21.5), new("rh", "%RH", 55, -2), new("level", null, 0.1234567), new("sys/seq", null, 70_000)]
    );

    [Fact]
    public void The_rfcs_own_example_in_cbor_resolves_like_the_one_in_json()
    {
        var json = Senml
            .Read(
                """
            [{"bn":"urn:dev:ow:10e2073a0108006:","bt":1276020076.001,"bu":"A","bver":5,"n":"voltage","u":"V","v":120.1},
             {"n":"current","t":-5,"v":1.2},{"n":"current","t":-4,"v":1.3},{"n":"current","t":-3,"v":1.4},
             {"n":"current","t":-2,"v":1.5},{"n":"current","t":-1,"v":1.6},{"n":"current","t":0,"v":1.7}]
            """u8.ToArray()
            )
            .Value;
        Assert.Equal(json, Senml.ReadCbor(Convert.FromHexString(Rfc8428Cbor)).Value);
    }

    [Fact]
    public void What_is_written_in_cbor_reads_back_and_is_shorter() =>
        Gen.Select(Gen.Double[-1e6, 1e6].Array[1, 20], Gen.Int[1_300_000_000, 2_000_000_000], Gen.Int[-86_400, 0])
            .Sample(
                (values, seconds, back) =>
                {
                    List<SenmlValue> records = [.. values.Select((v, i) => new SenmlValue($"r{i}", "Cel", v, i % 2 * back))];
                    var (cbor, json) = (Senml.WriteCbor(seconds, records), Senml.Write(seconds, records));
                    return Senml.ReadCbor(cbor).Value.SequenceEqual(Senml.Read(json).Value) && cbor.Length < json.Length;
                }
            );

    [Theory]
    [InlineData("""{"temp": 21.5, "on": true, "sys/seq": 7}""", PayloadKind.FlatJson, "temp 21.5, on 1, sys/seq 7")]
    [InlineData("""  [{"n":"temp","v":1}]""", PayloadKind.SenmlJson, "temp 1")]
    [InlineData(" 21.5\r\n", PayloadKind.Number, "one 21.5")]
    [InlineData("-3e2", PayloadKind.Number, "one -300")]
    public void The_first_byte_tells_them_apart(string text, PayloadKind kind, string records)
    {
        var read = Payloads.Read(Encoding.UTF8.GetBytes(text), "one").Value;
        Assert.Equal(kind, read.Kind);
        Assert.Equal(records, string.Join(", ", read.Records.Select(r => string.Create(CultureInfo.InvariantCulture, $"{r.Name} {r.Value}"))));
    }

    [Fact]
    public void Cbor_is_known_by_its_array_and_a_flat_object_has_its_time()
    {
        Assert.Equal(PayloadKind.SenmlCbor, Payloads.Read(GoodCbor).Value.Kind);
        var timed = Payloads.Read("""{"t": -5, "temp": 3}"""u8.ToArray()).Value.Records[0];
        Assert.Equal((-5.0, true), (timed.Time, timed.HasTime));
        Assert.False(Payloads.Read("""{"temp": 3}"""u8.ToArray()).Value.Records[0].HasTime);
    }

    [Theory]
    [InlineData("", "neither SenML")]
    [InlineData("hello", "neither SenML")]
    [InlineData("1e999", "neither SenML")]
    [InlineData("NaN", "neither SenML")]
    [InlineData("1,5", "neither SenML")]
    [InlineData("{}", "1 to 1000 members")]
    [InlineData("{\"t\":1}", "a time and no reading")]
    [InlineData("{\"a\":\"1\"}", "neither a finite number")]
    [InlineData("{\"a\":{\"b\":1}}", "neither a finite number")]
    [InlineData("{\"a\":1e999}", "neither a finite number")]
    [InlineData("{\"a b\":1}", "no name of a reading")]
    [InlineData("{\"a\":1,\"a\":2}", "twice")]
    [InlineData("{\"a\":1", "Not a flat JSON object")]
    [InlineData("{\"\\ud800\":1}", "no name of a reading")]
    [InlineData("[{\"\\ud800\":1,\"v\":1}]", "must be understood")]
    public void What_is_wrong_is_refused_with_its_reason(string text, string says) =>
        Assert.Contains(says, Assert.Single(Payloads.Read(Encoding.UTF8.GetBytes(text), "one").Reasons));

    [Theory]
    [InlineData("80", "1 to 1000 records")]
    [InlineData("81a0", "no value")]
    [InlineData("8101", "not a map")]
    [InlineData("81a10061", "Not CBOR")]
    [InlineData("81a20061610281", "Not CBOR")]
    [InlineData("81a200616102f97e00", "not a finite number")]
    [InlineData("81a2006161026131", "not a finite number")]
    [InlineData("81a300616102010202", "twice")]
    [InlineData("81a2006161020100", "bytes follow")]
    [InlineData("81a3006161020162785f01", "must be understood")]
    public void What_is_wrong_in_cbor_is_refused_with_its_reason(string hex, string says) =>
        Assert.Contains(says, Assert.Single(Payloads.Read(Convert.FromHexString(hex)).Reasons));

    [Fact]
    public void A_number_without_a_reading_says_where_it_belongs() => Assert.Contains("topic of that reading", Payloads.Read("21.5"u8.ToArray()).Reasons[0]);

    private static byte[] Mutate(byte[] good, int[] places, byte[] bytes, bool cut)
    {
        var message = good.ToArray();
        for (var i = 0; i < places.Length; i++)
        {
            message[places[i] % good.Length] = bytes[i];
        }
        return cut ? message[..(places[0] % good.Length)] : message;
    }

    private static readonly Gen<(int[], byte[], bool)> Mutations = Gen.Select(Gen.Int[0, 500].Array[1, 4], Gen.Byte.Array[4], Gen.Bool);

    [Fact]
    public void Mutated_cbor_never_throws_and_is_read_alike() =>
        Mutations.Sample(
            (places, bytes, cut) =>
            {
                var message = Mutate(GoodCbor, places, bytes, cut);
                var read = Senml.ReadCbor(message);
                return read.Ok
                    ? PlainCbor.Values(message).SequenceEqual(read.Value.Where(r => r.Value is not null).Select(r => r.Value!.Value))
                    : read.Reasons.Count > 0;
            },
            iter: 10_000
        );

    [Fact]
    public void Mutated_objects_never_throw_and_are_read_alike()
    {
        var good = """{"t":1700000000,"temp":21.5,"rh":55,"on":true,"sys/seq":12}"""u8.ToArray();
        Mutations.Sample(
            (places, bytes, cut) =>
            {
                var message = Mutate(good, places, bytes, cut);
                var read = Payloads.Read(message, "one");
                if (!read.Ok || read.Value.Kind != PayloadKind.FlatJson)
                {
                    return true;
                }
                using var plain = JsonDocument.Parse(message);
                return plain
                    .RootElement.EnumerateObject()
                    .Where(m => m.Name != "t")
                    .Select(m =>
                        (
                            m.Name,
                            m.Value.ValueKind == JsonValueKind.Number ? m.Value.GetDouble()
                            : m.Value.GetBoolean() ? 1
                            : 0
                        )
                    )
                    .SequenceEqual(read.Value.Records.Select(r => (r.Name, r.Value!.Value)));
            },
            iter: 10_000
        );
    }

    [GeneratedRegex(@"^\s*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?\s*$")]
    private static partial Regex Decimal();

    [Fact]
    public void Mutated_numbers_never_throw_and_only_numbers_are_taken() =>
        Mutations.Sample(
            (places, bytes, cut) =>
            {
                var message = Mutate("-21.5e-1"u8.ToArray(), places, bytes, cut);
                var read = Payloads.Read(message, "one");
                var text = Encoding.Latin1.GetString(message);
                return !read.Ok
                    || read.Value.Kind != PayloadKind.Number
                    || Decimal().IsMatch(text) && read.Value.Records[0].Value == double.Parse(text, CultureInfo.InvariantCulture);
            },
            iter: 10_000
        );

    /// <summary>A second reader of CBOR, straight from RFC 8949 section 3: the numbers of each record's "v" and "vb", with the base value added.</summary>
    private sealed class PlainCbor(byte[] bytes)
    {
        private int _at;

        internal static List<double> Values(byte[] bytes)
        {
            var reader = new PlainCbor(bytes);
            var (values, offset) = (new List<double>(), 0.0);
            foreach (var record in ((List<object?>)reader.Item()!).Cast<List<(object? Key, object? Value)>>())
            {
                object? Of(string name, long label) => record.FirstOrDefault(f => f.Key is string s && s == name || f.Key is double d && d == label).Value;
                offset = Of("bv", -5) is double o ? o : offset;
                if (Of("v", 2) is double v)
                {
                    values.Add(v + offset);
                }
                else if (Of("vb", 4) is bool b)
                {
                    values.Add(b ? 1 : 0);
                }
            }
            return values;
        }

        private object? Item()
        {
            var (major, info) = (bytes[_at] >> 5, bytes[_at] & 31);
            _at++;
            if (major == 7)
            {
                return info switch
                {
                    20 => false,
                    21 => true,
                    25 => (double)BinaryPrimitives.ReadHalfBigEndian(Take(2)),
                    26 => (double)BinaryPrimitives.ReadSingleBigEndian(Take(4)),
                    27 => BinaryPrimitives.ReadDoubleBigEndian(Take(8)),
                    24 => Skip(1),
                    _ => null,
                };
            }
            ulong? count = info switch
            {
                < 24 => (ulong)info,
                24 => Take(1)[0],
                25 => BinaryPrimitives.ReadUInt16BigEndian(Take(2)),
                26 => BinaryPrimitives.ReadUInt32BigEndian(Take(4)),
                27 => BinaryPrimitives.ReadUInt64BigEndian(Take(8)),
                _ => null,
            };
            bool More(ulong n) => count is { } c ? n < c : bytes[_at] != 0xFF;
            switch (major)
            {
                case 0:
                    return (double)count!.Value;
                case 1:
                    return -1 - (double)count!.Value;
                case 2 or 3:
                    var text = new List<byte>();
                    if (count is { } length)
                    {
                        text.AddRange(Take((int)length));
                    }
                    else
                    {
                        while (More(0))
                        {
                            text.AddRange(Item() is string part ? Encoding.UTF8.GetBytes(part) : []);
                        }
                        _at++;
                    }
                    return major == 3 ? Encoding.UTF8.GetString([.. text]) : text.ToArray();
                case 4:
                    var list = new List<object?>();
                    for (ulong n = 0; More(n); n++)
                    {
                        list.Add(Item());
                    }
                    _at += count is null ? 1 : 0;
                    return list;
                case 5:
                    var map = new List<(object?, object?)>();
                    for (ulong n = 0; More(n); n++)
                    {
                        var key = Item();
                        map.Add((key, Item()));
                    }
                    _at += count is null ? 1 : 0;
                    return map;
                default:
                    // A decimal fraction (RFC 8949 section 3.4.4): exponent and mantissa.
                    return Item() is List<object?> { Count: 2 } pair && count == 4 ? (double)pair[1]! * Math.Pow(10, (double)pair[0]!) : null;
            }
        }

        private ReadOnlySpan<byte> Take(int count) => bytes.AsSpan((_at += count) - count, count);

        private object? Skip(int count)
        {
            _at += count;
            return null;
        }
    }
}
