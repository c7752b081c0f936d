using System.Text.Json;
using System.Text.Json.Nodes;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Core.Tests.Catalogue;

public class HardwareFilesTests
{
    private static readonly string Part = HardwareFiles.Write(Samples.Catalogue.Part("bh1750")! with { Id = "mine" }),
        Board = HardwareFiles.Write(Samples.Board() with { Id = "my-board" });

    public static readonly TheoryData<string> PartIds = [.. Samples.Catalogue.Parts.Select(p => p.Id)];
    public static readonly TheoryData<string> BoardIds = [.. Samples.Catalogue.Boards.Select(b => b.Id)];

    [Theory]
    [MemberData(nameof(PartIds))]
    public void Every_shipped_part_reads_back_and_keeps_the_rules(string id)
    {
        var part = Samples.Catalogue.Part(id)!;
        var (read, faults) = HardwareFiles.ReadPart(HardwareFiles.Write(part));
        Assert.Empty(faults);
        Assert.Equal(HardwareFiles.Write(part), HardwareFiles.Write(read!));
    }

    [Theory]
    [MemberData(nameof(BoardIds))]
    public void Every_shipped_board_reads_back_and_keeps_the_rules(string id)
    {
        var (read, faults) = HardwareFiles.ReadBoard(HardwareFiles.Write(Samples.Board(id)));
        Assert.Empty(faults);
        Assert.Equal(HardwareFiles.Write(Samples.Board(id)), HardwareFiles.Write(read!));
    }

    [Theory]
    [InlineData("\"id\": \"mine\"", "\"id\": \"Mine!\"", "$.id", "small letters")]
    [InlineData("\"supplyPin\": \"VCC\"", "\"supplyPin\": \"V+\"", "$.supplyPin", "not one of the pins")]
    [InlineData("\"supplyMinVolts\": 3", "\"supplyMinVolts\": 9", "$.supplyMinVolts", "the lower first")]
    [InlineData("\"address\": 35", "\"address\": 200", "$.interfaces[0].addresses", "0x08 to 0x77")]
    [InlineData("\"name\": \"SDA\"", "\"name\": \"DAT\"", "$.interfaces[0].lines[0].name", "not one of the pins")]
    [InlineData("\"kind\": \"sensor\"", "\"kind\": \"thing\"", "$.kind", "could not be converted")]
    [InlineData("\"staysOn\": false", "\"staysOn\": false, \"colour\": \"red\"", "$.colour", "could not be mapped")]
    public void A_fault_names_its_line_and_the_rule(string was, string becomes, string member, string rule)
    {
        var broken = Part.Replace(was, becomes, StringComparison.Ordinal);
        Assert.NotEqual(Part, broken);
        var (part, faults) = HardwareFiles.ReadPart(broken);
        Assert.Null(part);
        var fault = faults.First(f => f.Member == member);
        Assert.Contains(rule, fault.Rule);
        Assert.Equal(
            Array.FindIndex(broken.Split('\n'), l => l.Contains(becomes.Split('\n')[0], StringComparison.Ordinal)) + 1,
            member == "$.interfaces[0].addresses" ? fault.Line + 2 : fault.Line
        );
    }

    [Fact]
    public void A_board_with_two_pins_of_one_id_is_refused()
    {
        var twice = Samples.Board() with { Id = "my-board", Pins = [.. Samples.Board().Pins, Samples.Board().Pins[4]] };
        Assert.Contains(HardwareFiles.ReadBoard(HardwareFiles.Write(twice)).Faults, f => f.Member == "$.pins[38].id" && f.Line > 0);
        Assert.Empty(HardwareFiles.ReadBoard(Board).Faults);
    }

    /// <summary>What would stop the plan of a whole site (a rate of nothing, a level beyond all numbers) is refused where it stands.</summary>
    [Theory]
    [InlineData("lora-sx1276", "\"spreadingFactor\": 9", "\"spreadingFactor\": 30", "$.modem.spreadingFactor")]
    [InlineData("lora-sx1276", "\"bandwidthKilohertz\": 125", "\"bandwidthKilohertz\": 0", "$.modem.bandwidthKilohertz")]
    [InlineData("lora-sx1276", "\"codingRate\": 1", "\"codingRate\": 9", "$.modem.codingRate")]
    [InlineData("lora-sx1276", "\"megahertz\": 868.1", "\"megahertz\": -1", "$.modem.megahertz")]
    [InlineData("hc-12", "\"bitsPerSecond\": 15000", "\"bitsPerSecond\": 0", "$.modem.bitsPerSecond")]
    [InlineData("hc-12", "\"typ\": -112", "\"typ\": -1e300", "$.modem.sensitivityDbm")]
    [InlineData("cc1101", "\"typ\": 10,", "\"typ\": 1e300,", "$.modem.powerDbm")]
    public void A_radio_that_cannot_be_planned_with_is_refused(string part, string right, string wrong, string member)
    {
        var text = HardwareFiles.Write(Samples.Catalogue.Part(part)!);
        var at = text.IndexOf("\"modem\"", StringComparison.Ordinal);
        var found = text.IndexOf(right.TrimEnd(','), at, StringComparison.Ordinal);
        Assert.True(found > 0, $"{right} in {text[at..]}");
        var changed = text[..found] + wrong.TrimEnd(',') + text[(found + right.TrimEnd(',').Length)..];
        Assert.Contains(HardwareFiles.ReadPart(changed).Faults, f => f.Member == member);
    }

    /// <summary>The same of packets: none of no length, none that takes no time on no channel, no level or current without a number.</summary>
    [Fact]
    public void Packets_that_cannot_be_planned_with_are_refused()
    {
        var part = Samples.Catalogue.Part("hc-12")!;
        var none = new Fact(null, null, null, "nobody knows", Confidence.Typical);
        string[] OfPart(RadioModem modem) => [.. HardwareRules.Faults(part with { Modem = modem }).Select(f => f.Member)];
        Assert.Empty(OfPart(part.Modem!));
        Assert.Equal(["$.modem.largestBytes"], OfPart(part.Modem! with { LargestBytes = 0 }));
        Assert.Equal(["$.modem.copies"], OfPart(part.Modem! with { Copies = 0 }));
        Assert.Equal(["$.modem.answerMs"], OfPart(part.Modem! with { AnswerMs = -1 }));
        Assert.Equal(["$.modem.transmitMilliamps"], OfPart(part.Modem! with { TransmitMilliamps = none }));
        Assert.Equal(["$.modem.powerDbm"], OfPart(part.Modem! with { PowerDbm = none }));

        var board = Samples.Catalogue.Board("nrf52840-module-24")!;
        var packets = board.Radios[0].Packets!;
        string[] OfBoard(BoardPackets changed) =>
            [.. HardwareRules.Faults(board with { Radios = [board.Radios[0] with { Packets = changed }] }).Select(f => f.Member)];
        Assert.Empty(OfBoard(packets));
        Assert.Equal(["$.radios[0].packets.startMs"], OfBoard(packets with { StartMs = none }));
        Assert.Equal(["$.radios[0].packets.receiveMilliamps"], OfBoard(packets with { ReceiveMilliamps = packets.ReceiveMilliamps!.Times(-1) }));
        Assert.Equal(["$.radios[0].packets.powerDbm"], OfBoard(packets with { PowerDbm = packets.PowerDbm with { Max = 1e300 } }));
        Assert.Equal(["$.radios[0].packets.sensitivityDbm"], OfBoard(packets with { SensitivityDbm = none }));
    }

    [Theory]
    [InlineData("")]
    [InlineData("null")]
    [InlineData("[1,2]")]
    [InlineData("{\"id\": 1e999}")]
    [InlineData("{")]
    public void Nonsense_is_refused_with_a_fault(string json) => Assert.NotEmpty(HardwareFiles.ReadPart(json).Faults);

    [Fact]
    public void The_schemas_are_of_draft_2020_12_and_name_every_member()
    {
        foreach (var (schema, sample) in new[] { (HardwareFiles.SchemaOf<Part>(), Part), (HardwareFiles.SchemaOf<Board>(), Board) })
        {
            var node = JsonNode.Parse(schema)!.AsObject();
            Assert.Equal("https://json-schema.org/draft/2020-12/schema", (string?)node["$schema"]);
            Assert.False((bool)node["additionalProperties"]!);
            var members = JsonNode.Parse(sample)!.AsObject().Select(p => p.Key).Order();
            Assert.Equal(members, node["properties"]!.AsObject().Select(p => p.Key).Order());
            Assert.All(node["required"]!.AsArray(), r => Assert.Contains((string?)r, members));
        }
    }

    [Fact]
    public void A_part_of_ones_own_is_planned_with_and_undone()
    {
        var mine = HardwareFiles.ReadPart(Part).Part!;
        var site = Samples.Site(Samples.Node(("light", "mine")));
        Assert.Contains(Core.Planning.SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Findings, f => f.Code == "BENCH-NO-PART");
        var with = EditBatch.Apply(site, [new PutOwnPart(mine)]).Value;
        Assert.DoesNotContain(Core.Planning.SitePlanner.Plan(with.After, Samples.Catalogue, Evidence.None).Findings, f => f.Code == "BENCH-NO-PART");
        Assert.Empty(EditBatch.Apply(with.After, with.Inverse).Value.After.OwnParts);
        Assert.Contains("not one of the pins", Assert.Single(EditBatch.Apply(site, [new PutOwnPart(mine with { SupplyPin = "V+" })]).Reasons));
        // It travels with the site file.
        Assert.Equal("mine", SiteFiles.Read(SiteFiles.Write(with.After, Evidence.None)).Value.Design.OwnParts.Single().Id);
    }

    [Fact]
    public void A_cell_of_ones_own_is_planned_with_and_a_wrong_one_is_told_by_its_member()
    {
        var shipped = Samples.Catalogue.Cell("cr2032")!;
        var (mine, none) = HardwareFiles.ReadCell(
            HardwareFiles.Write(shipped with { Id = "mine", CapacityMilliampHours = shipped.CapacityMilliampHours with { Min = 420, Typ = 450, Max = 480 } })
        );
        Assert.Empty(none);
        var node = Samples.Node(("air", "bme280")) with
        {
            Board = "nrf52840-module-24",
            Link = LinkKind.LongRange,
            Sleeps = true,
            Power = new(PowerKind.Cells, "mine"),
            Readings = [Samples.Every("t", "air", "temperature", 600_000)],
        };
        var with = EditBatch.Apply(Samples.Site(node), [new PutOwnCell(mine!)]).Value;
        double Life(SiteDesign site) => Core.Planning.SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Node("n")!.Rhythm.Life!.Value!.Value;
        // Twice the charge of the shipped cell, all else alike: twice the life but for self-discharge.
        var shippedLife = Life(Samples.Site(node with { Power = node.Power with { Cell = "cr2032" } }));
        Assert.InRange(Life(with.After) / shippedLife, 1.8, 2.2);
        Assert.Equal("mine", SiteFiles.Read(SiteFiles.Write(with.After, Evidence.None)).Value.Design.OwnCells.Single().Id);
        Assert.Empty(EditBatch.Apply(with.After, with.Inverse).Value.After.OwnCells);
        string Refused(Cell cell) => Assert.Single(EditBatch.Apply(with.After, [new PutOwnCell(cell)]).Reasons);
        Assert.Contains("$.emptyVolts", Refused(mine! with { EmptyVolts = 3.4 }));
        Assert.Contains("$.usableFraction", Refused(mine with { UsableFraction = mine.UsableFraction with { Max = 70 } }));
        Assert.Contains("$.curve", Refused(mine with { Curve = [new(0, 3), new(0.5, 3.1), new(1, 2)] }));
    }

    [Fact]
    public void The_transcribed_summary_agrees_with_the_catalogue()
    {
        // A second transcription of the parts' main facts (from memory of public data sheets), made apart from the catalogue files.
        foreach (var line in File.ReadAllLines(Path.Combine(AppContext.BaseDirectory, "parts-summary.txt")).Where(l => l.Length > 0))
        {
            var cells = line.Split('|');
            var part = Samples.Catalogue.Part(cells[0]);
            Assert.True(part is not null, cells[0]);
            var addresses = part
                .Interfaces.SelectMany(i => (i.Addresses ?? []).Where(_ => i.StartAddress is null).Select(a => a.Address).Concat(i.AlsoAddresses ?? []))
                .Distinct()
                .Order()
                .ToList();
            if (cells[1].StartsWith("0x", StringComparison.Ordinal))
            {
                var expected = cells[1]
                    .Split(',')
                    .SelectMany(a =>
                        a.Split('-') is [var one]
                            ? [Convert.ToInt32(one, 16)]
                            : Enumerable.Range(
                                Convert.ToInt32(a.Split('-')[0], 16),
                                Convert.ToInt32(a.Split('-')[1], 16) - Convert.ToInt32(a.Split('-')[0], 16) + 1
                            )
                    );
                Assert.True(expected.Order().SequenceEqual(addresses), $"{cells[0]}: {string.Join(',', addresses.Select(a => $"0x{a:X2}"))}");
            }
            // The LED is fed by the pins themselves.
            if (cells[2] != "-" && part.Id != "rgb-led-cc")
            {
                var range = cells[2].Split('-').Select(double.Parse).ToArray();
                Assert.True(
                    part.SupplyMinVolts == range[0] && part.SupplyMaxVolts == range[1],
                    $"{cells[0]}: {part.SupplyMinVolts} to {part.SupplyMaxVolts} V"
                );
            }
        }
    }
}
