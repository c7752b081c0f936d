using Cenotic.Core.Bench;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Place;
using Cenotic.Tests;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>Every diagnosis: what a maker would paste makes it appear, and what they would paste when it is put right makes it go.</summary>
public class ScanTests
{
    private const string Good1 = "28FF641E8D1603BD",
        Good2 = "28FF4A1C8D1603E0";

    private static string WithCrc(string seven) => seven + $"{OneWire.Crc8(Convert.FromHexString(seven)):X2}";

    private static NodeDesign Air => Samples.Node(("air", "bme280"), ("lux", "bh1750"));

    private static NodeDesign Twins => Samples.Node(("one", "bme280"), ("two", "bme280"));

    private static NodeDesign Probes => Samples.Node(("p1", "ds18b20"), ("p2", "ds18b20"));

    private static NodeDesign Three => Samples.Node([.. Enumerable.Range(0, 3).Select(i => ($"a{i}", "aht20"))]);

    private static NodeDesign Mixed => Samples.Node(("air", "bme280"), ("lcd", "lcd-1602-i2c"), ("io", "lcd-1602-i2c"));

    private static NodeDesign Ranges => Samples.Node(("t1", "vl53l0x"), ("t2", "vl53l0x"));

    private static string All112 => string.Join(" ", Enumerable.Range(8, 112).Select(a => $"0x{a:X2}"));

    /// <summary>Code, node, the scan that shows it, and the scan when it is put right.</summary>
    private static readonly Dictionary<string, (NodeDesign Node, string With, string Without)> Cases = new()
    {
        ["SCAN-STRAP"] = (Air, "0x77 0x23", "0x76 0x23"),
        ["SCAN-BUS-SILENT"] = (Air, "No I2C devices found", "0x76 0x23"),
        ["SCAN-EVERY-ANSWER"] = (Air, All112, "0x76 0x23"),
        ["SCAN-IN-USE"] = (Air, "20: -- -- -- 23 -- -- --\n70: -- -- -- -- -- -- UU --", "0x76 0x23"),
        ["SCAN-MISSING"] = (Air, "0x23", "0x76 0x23"),
        ["SCAN-TWO-AT-ONE"] = (Twins, "0x76", "0x76 0x77"),
        ["SCAN-OTHER-CHIP"] = (Air, "0x76 id 0x58\n0x23", "0x76 id 0x60\n0x23"),
        ["SCAN-UNKNOWN"] = (Air, "0x76 0x23 0x68", "0x76 0x23"),
        ["SCAN-RESERVED"] = (Air, "0x76 0x23 0x7C", "0x76 0x23"),
        ["SCAN-EIGHT-BIT"] = (Air, "0xEC 0xED 0x46 0x47", "0x76 0x23"),
        ["SCAN-MUX-MISSING"] = (Three, "0x38", "0x38 0x70"),
        ["SCAN-RAIL-DEAD"] = (Mixed, "0x76", "0x76 0x27 0x26"),
        ["SCAN-ADDRESS-UNWRITTEN"] = (Ranges, "0x29", "0x30 0x31 0x29"),
        ["SCAN-WIRE-SILENT"] = (Probes, "onewire: no devices", $"{Good1} {Good2}"),
        ["SCAN-WIRE-FEWER"] = (Probes, Good1, $"{Good1} {Good2}"),
        ["SCAN-WIRE-MORE"] = (Samples.Node(("p1", "ds18b20")), $"{Good1} {Good2}", Good1),
        ["SCAN-ROM-CRC"] = (Probes, $"{Good1} 28FF4A1C8D1603ED", $"{Good1} {Good2}"),
        ["SCAN-ROM-FAMILY"] = (Probes, $"{Good1} {WithCrc("10A1B2C3000800")}", $"{Good1} {Good2}"),
        ["SCAN-ROM-ZERO"] = (Probes, "0000000000000000", $"{Good1} {Good2}"),
        ["SCAN-ROM-ONES"] = (Probes, "FFFFFFFFFFFFFFFF", $"{Good1} {Good2}"),
    };

    public static readonly TheoryData<string> Codes = [.. Cases.Keys];

    private static ScanReport Report(NodeDesign node, string text, string? before = null) =>
        ScanComparison.Compare(
            node,
            BenchPlanner.Plan(node, Samples.Catalogue, Surroundings.Indoors),
            Samples.Catalogue,
            ScanText.Read(text).Value,
            before is null ? null : ScanText.Read(before).Value
        );

    [Theory]
    [MemberData(nameof(Codes))]
    public void What_a_maker_would_see_makes_it_appear_and_go(string code)
    {
        var (node, with, without) = Cases[code];
        var finding = Assert.Single(Report(node, with).Findings.DistinctBy(f => f.Code), f => f.Code == code);
        Assert.True(finding.What.Length > 20 && finding.Why.Length > 10 && finding.Advice!.Length > 10 && finding.Source.Length > 3);
        Assert.DoesNotContain(Report(node, without).Findings, f => f.Code == code);
        foreach (var remedy in finding.Remedies)
        {
            var after = EditBatch.Apply(Samples.Site(node), remedy.Edits).Value.After.Nodes[0];
            Assert.DoesNotContain(Report(after, with).Findings, f => f.Code == code);
        }
    }

    [Fact]
    public void No_diagnosis_is_left_untested_or_undocumented()
    {
        var sources = Directory.GetFiles(Path.Combine(Floors.Root, "src", "Cenotic.Core", "BringUp"), "*.cs").Select(File.ReadAllText);
        var codes = sources
            .SelectMany(s => System.Text.RegularExpressions.Regex.Matches(s, "\"(SCAN-[A-Z0-9-]+)\"").Select(m => m.Groups[1].Value))
            .Distinct()
            .Order(StringComparer.Ordinal);
        Assert.Equal(codes, Cases.Keys.Order(StringComparer.Ordinal));
        var documented = File.ReadAllText(Path.Combine(Floors.Root, "docs", "formulas.md"));
        Assert.All(Cases.Keys, code => Assert.Contains(code, documented));
    }

    [Fact]
    public void A_scan_as_planned_says_nothing_against_it()
    {
        var report = Report(Air, "0x76 id 0x60\n0x23");
        Assert.True(report.AsPlanned);
        Assert.Equal([ScanVerdict.Found, ScanVerdict.Found], report.Lines.Select(l => l.Verdict));
        // A clock module brings its memory: that is no stranger.
        Assert.True(Report(Samples.Node(("clock", "ds3231")), "0x68 0x57").AsPlanned);
    }

    [Fact]
    public void What_hangs_behind_a_multiplexer_is_not_missed()
    {
        var report = Report(Three, "0x38 0x70");
        Assert.True(report.AsPlanned, string.Join("; ", report.Findings.Select(f => f.What)));
        Assert.Contains(report.Lines, l => l.Verdict == ScanVerdict.NotSeenFromHere);
        Assert.Contains(report.Lines, l => l is { Verdict: ScanVerdict.Found, At: "0x70" });
    }

    [Fact]
    public void A_humidity_part_that_answers_as_one_without_says_what_is_lost()
    {
        var node = Air with { Readings = [Samples.Every("t", "air", "temperature", 60_000), Samples.Every("h", "air", "humidity", 60_000)] };
        var finding = Report(node, "0x76 id 0x58 0x23").Findings.Single(f => f.Code == "SCAN-OTHER-CHIP");
        Assert.Contains("no humidity", finding.Why);
        var after = EditBatch.Apply(Samples.Site(node), finding.Remedies.Single().Edits).Value.After.Nodes[0];
        Assert.Equal(("bmp280", "t"), (after.Part("air")!.Part, Assert.Single(after.Readings).Key));
    }

    [Fact]
    public void At_another_address_its_identity_is_looked_at_too()
    {
        Assert.Equal(["SCAN-OTHER-CHIP", "SCAN-STRAP"], Report(Air, "0x77 id 0x58\n0x23").Findings.Select(f => f.Code).Order());
    }

    [Fact]
    public void A_probe_that_was_just_plugged_in_is_the_first_without_a_name_and_a_named_one_is_found_by_its_code()
    {
        Assert.Equal([Good2, Good1], Report(Probes, $"{Good1} {Good2}", before: Good1).Unnamed.Select(r => r.Hex));
        var named = EditBatch.Apply(Samples.Site(Probes), [new PutPart("n", Probes.Part("p1")! with { Rom = Good1 })]).Value.After.Nodes[0];
        var report = Report(named, Good2);
        Assert.Equal([Good2], report.Unnamed.Select(r => r.Hex));
        Assert.Equal((ScanVerdict.Missing, Good1), report.Lines.Where(l => l.Part == "p1").Select(l => (l.Verdict, l.At)).Single());
        Assert.Contains(named.Part("p1")!.Label, report.Findings.Single(f => f.Code == "SCAN-WIRE-FEWER").What);
        Assert.False(EditBatch.Apply(Samples.Site(Probes), [new PutPart("n", Probes.Part("p1")! with { Rom = "28FF4A1C8D1603ED" })]).Ok);
    }
}
