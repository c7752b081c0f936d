using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Tests;

namespace Cenotic.Core.Tests.Design;

/// <summary>Another of a thing can be added as it is, and has nothing that belongs to the one that was built.</summary>
public class DuplicatesTests
{
    private static readonly SiteDesign Site = Samples.Fernhollow().Design;

    private static SiteDesign With(DesignEdit edit) => EditBatch.Apply(Site, [edit]).Value.After;

    private static string Text(object? thing) => System.Text.Json.JsonSerializer.Serialize(thing, CenoticJson.Options);

    [Fact]
    public void A_duplicate_of_any_node_has_its_parts_and_readings_and_is_wired_as_an_unbuilt_one()
    {
        foreach (var node in Site.Nodes)
        {
            var edit = Duplicates.OfNode(Site, node.Key)!;
            var after = With(edit);
            Assert.Equal(Site.Nodes.Count + 1, after.Nodes.Count);
            var copy = after.Nodes[^1];
            Assert.Equal(Text(node.Readings), Text(copy.Readings));
            Assert.Equal(node.Parts.Select(p => (p.Key, p.Part, p.Address, p.Radio)), copy.Parts.Select(p => (p.Key, p.Part, p.Address, p.Radio)));
            Assert.Equal((null, null), (copy.Spot, copy.Power.FittedOn));
            Assert.Empty(copy.Wires);
            Assert.All(copy.Parts, p => Assert.Null(p.Rom));
            Assert.DoesNotContain(Site.Nodes, n => n.Key == copy.Key || n.Label == copy.Label);
            // The others are as they were.
            Assert.Equal(Text(Site.Nodes), Text(after.Nodes.SkipLast(1)));
        }
    }

    [Fact]
    public void A_duplicate_of_any_room_has_its_shape_and_lies_on_no_other()
    {
        foreach (var room in Site.Place.Rooms)
        {
            var copy = With(Duplicates.OfRoom(Site, room.Key)!).Place.Rooms[^1];
            var (dx, dy) = (copy.Corners[0].X - room.Corners[0].X, copy.Corners[0].Y - room.Corners[0].Y);
            Assert.All(room.Corners.Zip(copy.Corners), c => Assert.Equal((dx, dy), (c.Second.X - c.First.X, c.Second.Y - c.First.Y), new Close()));
            Assert.All(Site.Place.Rooms.Where(r => r.Floor == room.Floor), r =>
                Assert.True(copy.Corners.Min(c => c.X) > r.Corners.Max(c => c.X) + 0.9, $"{copy.Label} lies on {r.Label}")
            );
            Assert.Equal(room.Tags, copy.Tags);
        }
    }

    private sealed class Close : IEqualityComparer<(double X, double Y)>
    {
        public bool Equals((double X, double Y) a, (double X, double Y) b) => Math.Abs(a.X - b.X) < 0.002 && Math.Abs(a.Y - b.Y) < 0.002;

        public int GetHashCode((double X, double Y) of) => 0;
    }

    [Fact]
    public void A_duplicate_of_a_rule_says_the_same_and_is_off()
    {
        foreach (var rule in Site.Rules)
        {
            var copy = With(Duplicates.OfRule(Site, rule.Key)!).Rules[^1];
            Assert.False(copy.Armed);
            Assert.Equal(Text(rule with { Key = "", Label = "", Armed = false }), Text(copy with { Key = "", Label = "" }));
        }
    }

    [Theory]
    [InlineData("Shed", "Shed 2")]
    [InlineData("Rack 2", "Rack 3")]
    [InlineData("7", "8")]
    [InlineData("Room 12 b", "Room 12 b 2")]
    [InlineData("A name that is as long as a name can be, which is sixty char", "A name that is as long as a name can be, which is sixty ch 2")]
    public void A_name_counts_on(string name, string next)
    {
        var site = Samples.Site(Samples.Node() with { Label = name });
        Assert.Equal(next, Duplicates.OfNode(site, "n")!.Design.Label);
        // The next one counts on from there, and a name that is taken is left out.
        var more = EditBatch.Apply(site, [Duplicates.OfNode(site, "n")!]).Value.After;
        var third = Duplicates.OfNode(more, "n")!.Design;
        Assert.DoesNotContain(more.Nodes, n => n.Label == third.Label || n.Key == third.Key);
        Assert.True(EditBatch.Apply(more, [new PutNode(third)]).Ok);
    }

    [Fact]
    public void Of_what_is_not_there_there_is_no_duplicate()
    {
        Assert.Null(Duplicates.OfNode(Site, "gone"));
        Assert.Null(Duplicates.OfRoom(Site, "gone"));
        Assert.Null(Duplicates.OfRule(Site, "gone"));
    }
}
