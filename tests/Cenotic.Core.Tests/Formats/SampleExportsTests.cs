using System.Globalization;
using System.Text;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Formats;

/// <summary>What is exported is read again: SenML by the reader that is held against RFC 8428, the table by its commas.</summary>
public class SampleExportsTests
{
    private static readonly Gen<ExportedSample[]> Samples = Gen.Select(
            OneOf("hall", "rack-2"),
            OneOf("temp", "rh", "pm25"),
            Gen.Long[1_700_000_000_000, 1_900_000_000_000],
            Gen.Double[-1e6, 1e6],
            OneOf("°C", "%RH", "µg/m³"),
            OneOf("", "late", "late imported")
        )
        .Select((n, r, t, v, u, m) => new ExportedSample(n, r, t, v, r == "temp" ? "°C" : u, m))
        .Array[1, 60]
        .Select(s => s.OrderBy(x => x.Node, StringComparer.Ordinal).ThenBy(x => x.Reading, StringComparer.Ordinal).ThenBy(x => x.T).ToArray());

    /// <summary>The same but for what arithmetic leaves behind in the last digits.</summary>
    private static void AssertSame(double expected, double actual) =>
        Assert.True(Math.Abs(expected - actual) <= 1e-15 * Math.Abs(expected), $"{expected:R} and {actual:R}");

    [Theory]
    [InlineData(31.200000000000003, "31.2")]
    [InlineData(0.1 + 0.2, "0.3")]
    [InlineData(-4.999999999999999, "-5")]
    [InlineData(21.299999237060547, "21.299999237060547")]
    [InlineData(1013.25, "1013.25")]
    [InlineData(0, "0")]
    [InlineData(1.0 / 3, "0.3333333333333333")]
    public void What_arithmetic_leaves_behind_is_not_printed(double value, string printed)
    {
        var sample = new ExportedSample("hall", "temp", 0, value, "°C", "");
        Assert.Contains($",temp,{printed},", string.Concat(SampleExports.Csv([sample])), StringComparison.Ordinal);
        Assert.Contains($"\"v\":{printed}}}", string.Concat(SampleExports.Senml([sample])), StringComparison.Ordinal);
    }

    [Fact]
    public void Senml_resolves_to_the_same_samples()
    {
        Samples.Sample(
            samples =>
            {
                var records = Senml.Read(Encoding.UTF8.GetBytes(string.Concat(SampleExports.Senml(samples)))).Value;
                Assert.Equal(samples.Length, records.Count);
                foreach (var (s, r) in samples.Zip(records))
                {
                    Assert.Equal($"{s.Node}/{s.Reading}", r.Name);
                    AssertSame(s.Value, r.Value!.Value);
                    Assert.Equal(s.T, r.Time * 1000, 0.01);
                    Assert.Equal(
                        s.Unit switch
                        {
                            "°C" => "Cel",
                            "%RH" => "%RH",
                            _ => null,
                        },
                        r.Unit
                    );
                }
            },
            iter: 500
        );
    }

    [Fact]
    public void The_table_holds_the_same()
    {
        Samples.Sample(
            samples =>
            {
                var rows = string.Concat(SampleExports.Csv(samples)).Split("\r\n");
                Assert.Equal(samples.Length + 2, rows.Length);
                Assert.Equal("", rows[^1]);
                foreach (var (s, row) in samples.Zip(rows.Skip(1)))
                {
                    // Nothing in a row wants quotation marks: each comma parts two fields (RFC 4180).
                    var fields = row.Split(',');
                    Assert.Equal(6, fields.Length);
                    Assert.Equal((s.Node, s.Reading, s.Unit, s.Marks), (fields[1], fields[2], fields[4], fields[5]));
                    AssertSame(s.Value, double.Parse(fields[3], CultureInfo.InvariantCulture));
                    Assert.Equal(s.T, DateTimeOffset.Parse(fields[0], CultureInfo.InvariantCulture).ToUnixTimeMilliseconds());
                }
            },
            iter: 200
        );
    }

    [Fact]
    public void An_empty_stretch_is_a_table_with_its_heading_and_an_empty_pack()
    {
        Assert.Equal("time,node,reading,value,unit,marks\r\n", string.Concat(SampleExports.Csv([])));
        Assert.Equal("[]\n", string.Concat(SampleExports.Senml([])));
    }

    private static Gen<string> OneOf(params string[] of) => Gen.Int[0, of.Length - 1].Select(at => of[at]);

    [Theory]
    [InlineData("=1+1", "\"'=1+1\"")]
    [InlineData("@SUM(A1)", "\"'@SUM(A1)\"")]
    [InlineData("a,b", "\"a,b\"")]
    [InlineData("he said \"x\"", "\"he said \"\"x\"\"\"")]
    [InlineData("°C", "°C")]
    [InlineData("Cel", "Cel")]
    public void A_unit_of_an_own_part_is_no_formula_and_breaks_no_table(string unit, string cell) =>
        Assert.EndsWith($",21.5,{cell},\r\n", string.Concat(SampleExports.Csv([new ExportedSample("hall", "temp", 0, 21.5, unit, "")])));
}
