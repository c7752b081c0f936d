using System.Reflection;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;

namespace Cenotic.Core.Tests.Log;

/// <summary>The words of the log, and the log for other tools.</summary>
public class LogTests
{
    private static readonly SiteDesign Site = Samples.Fernhollow().Design;

    private static IReadOnlyList<string> Said(params DesignEdit[] edits) =>
        EditSentences.Of(edits, EditBatch.Apply(Site, edits).Value.Inverse, key => Site.Node(key)?.Label ?? key);

    [Fact]
    public void What_is_new_what_changed_and_what_is_gone_are_told_apart()
    {
        var hall = Site.Node("hall")!;
        var (part, reading) = (hall.Parts.First(p => p.Part == "bme280"), hall.Readings.First(r => r.IntervalMs == 30_000));
        Assert.Equal(
            [$"{part.Label} (bme280) on {hall.Label}: address none → 0x77, lead metres {part.LeadMetres} → 1.5"],
            Said(new PutPart("hall", part with { Address = 0x77, LeadMetres = 1.5 }))
        );
        Assert.Equal([$"Reading {reading.Label} on {hall.Label}: interval 30 s → 15 min"], Said(new PutReading("hall", reading with { IntervalMs = 900_000 })));
        Assert.Equal([$"Lamp (reed-contact) added on {hall.Label}"], Said(new PutPart("hall", new("lamp", "Lamp", "reed-contact"))));
        Assert.Equal([$"Node {hall.Label} removed"], Said(new RemoveNode("hall")));
        Assert.Equal([$"Room {Site.Place.Rooms[0].Label} removed"], Said(new RemoveRoom(Site.Place.Rooms[0].Key)));
        Assert.Equal([$"Rule {Site.Rules[0].Label} removed"], Said(new RemoveRule(Site.Rules[0].Key)));
        Assert.Equal(
            [$"Rule Renamed: label {Site.Rules[0].Label} → Renamed"],
            Said(new PutRule(Site.Rules[0] with { Label = "Renamed" })).Select(t => t.Replace("rule.", "", StringComparison.Ordinal))
        );
        // A name goes with its person.
        Assert.Equal(["Person removed"], Said(new RemovePerson(Site.People[0].Key)));
        Assert.Equal(
            [$"Site {Site.Settings.Name}: time zone {Site.Settings.TimeZone} → Etc/UTC"],
            Said(new SetSite(Site.Settings with { TimeZone = "Etc/UTC" }))
        );
    }

    [Fact]
    public void Many_of_a_sort_are_counted()
    {
        var plan = Samples.Plan(Site.Node("landing")!);
        var wires = plan
            .Wires.Where(w => w.Hold is null && !w.Pin.Contains(':', StringComparison.Ordinal) && w.Part != "board")
            .DistinctBy(w => (w.Part, w.Line))
            .Where(w => Site.Node("landing")!.Part(w.Part) is not null)
            .Take(6)
            .Select(w => new PutWire("landing", new(w.Part, w.Line, w.Pin, WireHold.Soldered)))
            .ToArray<DesignEdit>();
        Assert.True(wires.Length > 3);
        Assert.Equal([$"{wires.Length} wires set on Landing"], Said(wires));
        Assert.Equal("landing", EditSentences.NodeOf(wires));
        Assert.Null(EditSentences.NodeOf([.. wires, new RemoveNode("hall")]));
        Assert.Null(EditSentences.NodeOf([new RemoveRoom("x")]));
    }

    [Fact]
    public void Every_edit_has_words()
    {
        // The closed set, each with empty members: none may be without a sentence.
        var types = typeof(DesignEdit)
            .GetCustomAttributes<System.Text.Json.Serialization.JsonDerivedTypeAttribute>()
            .Select(a => a.DerivedType)
            .Where(t => t.Name.StartsWith("Remove", StringComparison.Ordinal))
            .ToList();
        Assert.Equal(21, types.Count);
        foreach (var type in types)
        {
            var edit = (DesignEdit)Activator.CreateInstance(type, [.. type.GetConstructors()[0].GetParameters().Select(_ => (object)"thing")])!;
            Assert.EndsWith(" removed", EditSentences.Of([edit], [], key => key).Single().Replace(" on thing", "", StringComparison.Ordinal));
        }
        var place = Site.Place;
        DesignEdit[] puts =
        [
            new PutRoom(place.Rooms[0]),
            new PutSpot(place.Spots[0]),
            new PutNode(Site.Nodes[0]),
            new PutRule(Site.Rules[0]),
            new PutOwnPart(Samples.Catalogue.Part("bme280")!),
            new PutOwnBoard(Samples.Board()),
            new PutStock(new("bme280", 3, [])),
            new PutWall(new("w", new(0, 0), new(1, 0), WallMaterial.Brick)),
            new PutFloor(new("up", "Upstairs", 2.7)),
            new PutAccessPoint(new("ap", "Access point", "shelf")),
        ];
        Assert.All(puts, p => Assert.EndsWith(" added", EditSentences.Of([p], [], key => key).Single()));
    }

    private static readonly LogEntry[] Entries =
    [
        new("note-2", 1_790_000_000_000, LogKind.Note, "hall", "owner", "=HYPERLINK(\"x\")\nsecond *line* <b>"),
        new("edit-1", 1_789_900_000_000, LogKind.Edit, null, null, "Site Fernhollow changed"),
    ];

    [Fact]
    public void As_a_table_it_keeps_its_lines_and_no_text_becomes_a_formula()
    {
        var csv = LogExports.Csv(Entries, TimeZoneInfo.FindSystemTimeZoneById("Europe/London"));
        // 1 790 000 000 s is 2026-09-21 14:13:20 UTC: summer time in London.
        Assert.StartsWith(
            "time,kind,node,who,text\r\n2026-09-21T15:13:20+01:00,note,hall,owner,\"'=HYPERLINK(\"\"x\"\")\nsecond *line* "
                + "<b>\"\r\n2026-09-20T11:26:40+01:00,edit,,,Site Fernhollow changed",
            csv
        );
    }

    [Fact]
    public void As_markdown_it_has_days_and_no_text_becomes_mark_up() =>
        Assert.Equal(
            "# Log of Fernhollow\n\n## 2026-09-21\n\n- 14:13 **Hall presence** =HYPERLINK(\"x\") second \\*line\\* \\<b\\> (owner)\n\n## "
                + "2026-09-20\n\n- 10:26 Site Fernhollow changed\n",
            LogExports.Markdown("Log of Fernhollow", Entries, TimeZoneInfo.Utc, key => Site.Node(key)!.Label)
        );
}
