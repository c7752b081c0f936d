using System.Text;
using System.Text.Json;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Formats;

public class SenmlTests
{
    private static Cenotic.Core.Common.Outcome<IReadOnlyList<SenmlRecord>> Read(string json) => Senml.Read(Encoding.UTF8.GetBytes(json));

    [Fact]
    public void Rfc_8428_first_example()
    {
        // RFC 8428 section 5.1.2, text from memory: no time given means now.
        var records = Read("""[{"bn":"urn:dev:ow:10e2073a01080063:","n":"voltage","u":"V","v":120.1},{"n":"current","u":"A","v":1.2}]""").Value;
        Assert.Equal(["urn:dev:ow:10e2073a01080063:voltage", "urn:dev:ow:10e2073a01080063:current"], records.Select(r => r.Name));
        Assert.Equal(["V", "A"], records.Select(r => r.Unit));
        Assert.Equal([120.1, 1.2], records.Select(r => r.Value!.Value));
        Assert.All(records, r => Assert.False(r.HasTime));
    }

    [Fact]
    public void Rfc_8428_second_example()
    {
        // RFC 8428 section 5.1.2, text from memory: base time, base unit and version.
        var records = Read(
            """
            [{"bn":"urn:dev:ow:10e2073a0108006:","bt":1276020076.001,"bu":"A","bver":5,"n":"voltage","u":"V","v":120.1},
             {"n":"current","t":-5,"v":1.2},{"n":"current","t":-4,"v":1.3},{"n":"current","t":-3,"v":1.4},
             {"n":"current","t":-2,"v":1.5},{"n":"current","t":-1,"v":1.6},{"n":"current","v":1.7}]
            """
        ).Value;
        Assert.Equal(7, records.Count);
        Assert.Equal(["V", "A", "A", "A", "A", "A", "A"], records.Select(r => r.Unit));
        double[] times = [1276020076.001, 1276020071.001, 1276020072.001, 1276020073.001, 1276020074.001, 1276020075.001, 1276020076.001];
        Assert.All(times.Zip(records), p => Assert.Equal(p.First, p.Second.Time, 0.001));
        Assert.All(records, r => Assert.Equal(5, r.Version));
    }

    [Fact]
    public void Base_fields_hold_until_given_again()
    {
        var records = Read(
            """
            [{"bn":"node7/","bt":1700000000,"bu":"Cel","bv":20,"n":"t","v":0.5},{"n":"t","t":60,"v":-1.25},
             {"n":"rh","u":"%RH","t":60,"bv":0,"v":55},{"bn":"node8/","bt":1700003600,"n":"t","v":18.75}]
            """
        ).Value;
        Assert.Equal(
            [("node7/t", 20.5, 1700000000.0), ("node7/t", 18.75, 1700000060.0), ("node7/rh", 55.0, 1700000060.0), ("node8/t", 18.75, 1700003600.0)],
            records.Select(r => (r.Name, r.Value!.Value, r.Time))
        );
    }

    [Fact]
    public void A_record_of_base_fields_only_sets_them() => Assert.Equal("a/b", Assert.Single(Read("""[{"bn":"a/"},{"n":"b","vb":true}]""").Value).Name);

    [Theory]
    [InlineData("", "Not JSON")]
    [InlineData("{}", "JSON array")]
    [InlineData("[]", "1 to 1000")]
    [InlineData("[1]", "not an object")]
    [InlineData("[{\"n\":\"a\"}]", "no value")]
    [InlineData("[{\"n\":\"a\",\"v\":1,\"vb\":true}]", "more than one value")]
    [InlineData("[{\"n\":\"a\",\"v\":NaN}]", "Not JSON")]
    [InlineData("[{\"n\":\"a\",\"v\":\"1\"}]", "not a finite number")]
    [InlineData("[{\"n\":\"a\",\"v\":1e999}]", "not a finite number")]
    [InlineData("[{\"n\":\"a\",\"bv\":1e308,\"v\":1e308}]", "grows beyond")]
    [InlineData("[{\"n\":\"a\",\"v\":1,\"v\":2}]", "twice")]
    [InlineData("[{\"v\":1}]", "the name \"\"")]
    [InlineData("[{\"n\":\"-a\",\"v\":1}]", "starts with")]
    [InlineData("[{\"n\":\"a b\",\"v\":1}]", "outside")]
    [InlineData("[{\"bver\":11,\"n\":\"a\",\"v\":1}]", "newer than 10")]
    [InlineData("[{\"n\":\"a\",\"v\":1,\"x_\":1}]", "must be understood")]
    [InlineData("[{\"n\":\"a\",\"v\":1}", "Not JSON")]
    public void What_is_wrong_is_refused_with_its_reason(string json, string says) => Assert.Contains(says, Assert.Single(Read(json).Reasons));

    [Fact]
    public void Unknown_fields_without_an_underscore_are_passed_over() => Assert.True(Read("""[{"n":"a","v":1,"extra":{"deep":1}}]""").Ok);

    [Fact]
    public void What_is_written_reads_back() =>
        Gen.Select(Gen.Double[-1e6, 1e6].Array[1, 20], Gen.Int[1_300_000_000, 2_000_000_000])
            .Sample(
                (values, seconds) =>
                {
                    var back = Senml.Read(Senml.Write(seconds, [.. values.Select((v, i) => ($"r{i}", (string?)"Cel", v))])).Value;
                    return back.Select(r => r.Value!.Value).SequenceEqual(values) && back.All(r => r.Time == seconds && r.HasTime);
                }
            );

    /// <summary>Mutated messages: never an exception, and what is accepted equals an independent reading by a plain JSON parser.</summary>
    [Fact]
    public void Mutated_messages_never_throw_and_are_read_alike()
    {
        var good = Encoding.UTF8.GetBytes("""[{"bt":1700000000,"n":"temp","u":"Cel","v":21.5},{"n":"rh","t":-2,"v":55},{"n":"on","vb":true}]""");
        Gen.Select(Gen.Int[0, good.Length - 1].Array[1, 4], Gen.Byte.Array[4], Gen.Bool)
            .Sample(
                (places, bytes, cut) =>
                {
                    var message = good.ToArray();
                    for (var i = 0; i < places.Length; i++)
                    {
                        message[places[i]] = bytes[i];
                    }
                    if (cut)
                    {
                        message = message[..places[0]];
                    }
                    var read = Senml.Read(message);
                    if (!read.Ok)
                    {
                        return read.Reasons.Count > 0;
                    }
                    using var plain = JsonDocument.Parse(message);
                    double offset = 0,
                        time = 0;
                    var expected = new List<double>();
                    foreach (var record in plain.RootElement.EnumerateArray())
                    {
                        offset = record.TryGetProperty("bv", out var bv) ? bv.GetDouble() : offset;
                        time = record.TryGetProperty("bt", out var bt) ? bt.GetDouble() : time;
                        if (record.TryGetProperty("v", out var v))
                        {
                            expected.Add(v.GetDouble() + offset);
                        }
                        else if (record.TryGetProperty("vb", out var vb))
                        {
                            expected.Add(vb.GetBoolean() ? 1 : 0);
                        }
                    }
                    return expected.SequenceEqual(read.Value.Where(r => r.Value is not null).Select(r => r.Value!.Value));
                },
                iter: 10_000
            );
    }
}
