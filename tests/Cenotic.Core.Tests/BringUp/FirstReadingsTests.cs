using Cenotic.Core.BringUp;
using Cenotic.Core.Design;
using Cenotic.Tests;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>First values as a maker would see them, each with the one that is put right.</summary>
public class FirstReadingsTests
{
    private static readonly Neighbour Shelf = new("Shelf temperature", 21, 0.5);

    private static FirstVerdict Judge(string part, string quantity, double[] values, Neighbour[]? neighbours = null, int decimals = 3)
    {
        var node = Samples.Node(("p", part)) with { Readings = [Samples.Every("r", "p", quantity, 60_000) with { Decimals = decimals }] };
        return FirstReadings.Judge(
            node,
            node.Readings[0],
            Samples.Catalogue.Part(part)!,
            [.. values.Select((v, at) => new FirstValue(1_790_000_000_000 + at * 60_000, v))],
            neighbours ?? []
        );
    }

    private static double[] Steady(double value) => [.. Enumerable.Range(0, 8).Select(i => value + 0.07 * Math.Sin(i * 2.1))];

    /// <summary>Code, part, quantity, what is seen, and what is seen when it is put right.</summary>
    public static readonly TheoryData<string, string, string, double[], double[]> Cases = new()
    {
        { "FIRST-SILENT", "ds18b20", "temperature", [], Steady(20) },
        { "FIRST-FAULT-VALUE", "ds18b20", "temperature", [85], Steady(20) },
        { "FIRST-FAULT-VALUE", "ds18b20", "temperature", [-127], Steady(20) },
        { "FIRST-BEYOND", "bme280", "temperature", [2150], Steady(21.5) },
        { "FIRST-BEYOND", "bme280", "humidity", [155], Steady(55) },
        { "FIRST-STUCK", "bme280", "humidity", [100, 100, 100, 100, 100, 100, 100, 100], Steady(55) },
        { "FIRST-STUCK", "bme280", "humidity", [5, 5, 5, 5, 5, 5, 5, 5], Steady(55) },
        { "FIRST-STUCK", "bme280", "temperature", [21.5, 21.5, 21.5, 21.5, 21.5, 21.5, 21.5, 21.5], Steady(21.5) },
        { "FIRST-NOTHING", "bh1750", "illuminance", [0, 0, 0, 0, 0, 0, 0, 0], [60, 61, 60.5, 61, 60, 61, 60.4, 61] },
        { "FIRST-NOISY", "ds18b20", "temperature", [20, 26, 19, 25, 18, 26, 19, 25], Steady(20) },
        { "FIRST-APART", "ds18b20", "temperature", Steady(29), Steady(21) },
    };

    [Theory]
    [MemberData(nameof(Cases))]
    public void What_a_maker_would_see_makes_it_appear_and_go(string code, string part, string quantity, double[] seen, double[] right)
    {
        Neighbour[] neighbours = code == "FIRST-APART" ? [Shelf] : [];
        var finding = Assert.Single(Judge(part, quantity, seen, neighbours).Findings, f => f.Code == code);
        Assert.True(finding.What.Length > 20 && finding.Advice!.Length > 20);
        var good = Judge(part, quantity, right, neighbours);
        Assert.True(good.Good, string.Join("; ", good.Findings.Select(f => f.What)));
    }

    [Fact]
    public void A_temperature_that_rises_is_no_noise_and_a_contact_needs_one_value()
    {
        Assert.True(Judge("ds18b20", "temperature", [20, 21, 22.1, 23, 24.1, 25, 26, 27.1]).Good);
        Assert.True(Judge("reed-contact", "contact", [1]).Good);
        // A quiet room: with one decimal it stands still, and so does a part of a sixteenth of a degree.
        Assert.True(Judge("bme280", "temperature", [.. Enumerable.Repeat(21.5, 8)], decimals: 1).Good);
        Assert.True(Judge("ds18b20", "temperature", [.. Enumerable.Repeat(21.5, 8)]).Good);
        Assert.False(Judge("ds18b20", "temperature", [20.1]).Good);
    }

    [Fact]
    public void What_a_part_shows_while_it_warms_up_counts_for_nothing()
    {
        var node = Samples.Node(("p", "pir-hc-sr501")) with { Readings = [Samples.OnChange("r", "p", "motion")] };
        var part = Samples.Catalogue.Part("pir-hc-sr501")!;
        const long Start = 1_790_000_000_000;
        var warm = Start + (long)part.WarmUpMs!.High;
        FirstVerdict At(long now) => FirstReadings.Judge(node, node.Readings[0], part, [new(Start + 1_000, 1), new(warm + 1_000, 0)], [], Start, now);
        Assert.Equal(warm, At(warm - 1).WarmUntilMs);
        Assert.False(At(warm - 1).Good);
        Assert.Equal((null, 1, 0.0), (At(warm + 2_000).WarmUntilMs, At(warm + 2_000).Count, At(warm + 2_000).Newest));
        Assert.True(At(warm + 2_000).Good);
    }

    [Fact]
    public void No_code_is_left_untested_or_undocumented()
    {
        var source = File.ReadAllText(Path.Combine(Floors.Root, "src", "Cenotic.Core", "BringUp", "FirstReadings.cs"));
        var codes = System.Text.RegularExpressions.Regex.Matches(source, "\"(FIRST-[A-Z0-9-]+)\"").Select(m => m.Groups[1].Value).Distinct().ToList();
        Assert.Equal(codes.Order(StringComparer.Ordinal), Cases.Select(c => (string)c[0]).Distinct().Order(StringComparer.Ordinal));
        var documented = File.ReadAllText(Path.Combine(Floors.Root, "docs", "formulas.md"));
        Assert.All(codes, code => Assert.Contains(code, documented));
    }
}
