using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Log;
using Cenotic.Tests;

namespace Cenotic.Core.Tests.Log;

/// <summary>What was removed comes back as it was, days and edits later, and nothing else is changed by it.</summary>
public class RemovedThingsTests
{
    private static readonly SiteDesign Site = Samples.Fernhollow().Design;

    /// <summary>Removals of everything in the demo that can come back, each with what was there.</summary>
    private static IEnumerable<(DesignEdit Remove, Func<SiteDesign, object?> Of)> Removals() =>
        [
            .. Site.Nodes.Select(n => Removal(new RemoveNode(n.Key), s => s.Node(n.Key))),
            .. Site.Nodes.SelectMany(n => n.Readings.Select(r => Removal(new RemoveReading(n.Key, r.Key), s => s.Node(n.Key)!.Reading(r.Key)))),
            .. Site.Nodes.SelectMany(n => n.Parts.Select(p => Removal(new RemovePart(n.Key, p.Key), s => s.Node(n.Key)!.Part(p.Key)))),
            .. Site.Place.Rooms.Select(r => Removal(new RemoveRoom(r.Key), s => s.Place.Rooms.FirstOrDefault(x => x.Key == r.Key))),
            .. Site.Rules.Select(r => Removal(new RemoveRule(r.Key), s => s.Rule(r.Key))),
            .. Site.Views.Select(v => Removal(new RemoveView(v.Key), s => s.Views.FirstOrDefault(x => x.Key == v.Key))),
            .. Site.Zones.Select(z => Removal(new RemoveZone(z.Key), s => s.Zones.FirstOrDefault(x => x.Key == z.Key))),
            .. Site.Derived.Select(d => Removal(new RemoveDerived(d.Key), s => s.Derived.FirstOrDefault(x => x.Key == d.Key))),
        ];

    private static (DesignEdit Remove, Func<SiteDesign, object?> Of) Removal(DesignEdit remove, Func<SiteDesign, object?> of) => (remove, of);

    private static string Text(object? thing) => System.Text.Json.JsonSerializer.Serialize(thing, CenoticJson.Options);

    [Fact]
    public void Everything_comes_back_as_it_was_and_what_changed_meanwhile_stays_changed()
    {
        var back = 0;
        foreach (var (remove, of) in Removals())
        {
            if (EditBatch.Apply(Site, [remove]) is not { Ok: true, Value: var removed })
            {
                continue;
            }
            // Days later: a node has another name, and there is a new rule.
            var other = Site.Nodes.First(n => (remove as NodeEdit)?.Node != n.Key).Key;
            var rule = Site.Rules[^1] with { Key = "later", Label = "Later" };
            var later = EditBatch.Apply(removed.After, [new PutNode(removed.After.Node(other)! with { Label = "Renamed" }), new PutRule(rule)]).Value.After;
            var put = RemovedThings.PutBack(later, [remove], removed.Inverse);
            Assert.NotEmpty(put);
            var after = EditBatch.Apply(later, put).Value.After;
            Assert.Equal(Text(of(Site)), Text(of(after)));
            Assert.Equal("Renamed", after.Node(other)!.Label);
            Assert.NotNull(after.Rule("later"));
            // There again it is not put back twice, and removed again the site is as it was: nothing else came along.
            Assert.Empty(RemovedThings.PutBack(after, [remove], removed.Inverse));
            Assert.Equal(Documents(later), Documents(EditBatch.Apply(after, [remove]).Value.After));
            back++;
        }
        Assert.True(back > 60, $"{back} things came back");
    }

    /// <summary>What a site holds, whatever the order of its lists.</summary>
    private static SortedSet<string> Documents(SiteDesign site) =>
        [
            .. site.Nodes.Select(n => Text(n with { Readings = [], Parts = [], Wires = [] })),
            .. site.Nodes.SelectMany(n =>
                n.Readings.Select(r => n.Key + Text(r)).Concat(n.Parts.Select(p => n.Key + Text(p))).Concat(n.Wires.Select(w => n.Key + Text(w)))
            ),
            .. site.Rules.Select(Text),
            .. site.Place.Rooms.Select(Text),
            .. site.Place.Spots.Select(Text),
            .. site.Views.Select(Text),
            .. site.Zones.Select(Text),
            .. site.Derived.Select(Text),
        ];

    [Fact]
    public void A_node_whose_spot_is_gone_comes_back_without_one_and_a_person_does_not_come_back()
    {
        var node = Site.Nodes.First(n => n.Spot is not null);
        DesignEdit[] both = [new RemoveNode(node.Key), new RemoveSpot(node.Spot!)];
        var removed = EditBatch.Apply(Site, both).Value;
        var alone = RemovedThings.PutBack(removed.After, both[..1], removed.Inverse);
        Assert.Null(EditBatch.Apply(removed.After, alone).Value.After.Node(node.Key)!.Spot);
        // Both of one step come back together.
        var together = RemovedThings.PutBack(removed.After, both, removed.Inverse);
        Assert.Equal(node.Spot, EditBatch.Apply(removed.After, together).Value.After.Node(node.Key)!.Spot);
        var ann = new PersonDesign("ann", "Ann", [new(WayKind.Mail, "ann@house.example")]);
        Assert.Empty(RemovedThings.PutBack(Site, [new RemovePerson("ann")], [new PutPerson(ann)]));
    }
}
