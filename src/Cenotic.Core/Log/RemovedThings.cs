using Cenotic.Core.Design;

namespace Cenotic.Core.Log;

/// <summary>What a batch of edits removed, and how it is put back into the site as it is by now, days later. Pure.</summary>
public static class RemovedThings
{
    /// <summary>The edits that put back what a batch removed and what is missing still; empty for none. What has changed since is left as it is. People
    /// are entered anew: what was known of them is forgotten when they go.</summary>
    /// <param name="now">The site as it is.</param>
    /// <param name="edits">The batch.</param>
    /// <param name="inverse">What took it back when it was carried out: it tells what was there before.</param>
    public static IReadOnlyList<DesignEdit> PutBack(SiteDesign now, IReadOnlyList<DesignEdit> edits, IReadOnlyList<DesignEdit> inverse)
    {
        var place = now.Place;
        return [.. edits.Reverse().SelectMany(Missing)];

        IEnumerable<DesignEdit> Missing(DesignEdit edit) =>
            edit switch
            {
                RemoveRoom e => Put<PutRoom>(p => p.Room.Key == e.Key, place.Rooms.Any(r => r.Key == e.Key)),
                RemoveWall e => Put<PutWall>(p => p.Wall.Key == e.Key, place.Walls.Any(w => w.Key == e.Key)),
                RemoveSpot e => Put<PutSpot>(p => p.Spot.Key == e.Key, place.Spots.Any(s => s.Key == e.Key)),
                RemoveFloor e => Put<PutFloor>(p => p.Floor.Key == e.Key, place.Floors.Any(f => f.Key == e.Key)),
                RemoveAccessPoint e => Put<PutAccessPoint>(p => p.AccessPoint.Key == e.Key, place.AccessPoints.Any(a => a.Key == e.Key)),
                RemoveHeatSource e => Put<PutHeatSource>(p => p.HeatSource.Key == e.Key, place.HeatSources.Any(h => h.Key == e.Key)),
                RemoveNode e => Put<PutNode>(p => p.Node == e.Node, now.Node(e.Node) is not null).Select(Placed),
                RemovePart e when now.Node(e.Node) is { } node => PutPart(e, node, Was(e.Node)),
                RemoveReading e when now.Node(e.Node) is { } node && node.Reading(e.Key) is null && Was(e.Node)?.Reading(e.Key) is { } reading =>
                [
                    new PutReading(e.Node, reading),
                ],
                RemoveRule e => Put<PutRule>(p => p.Rule.Key == e.Key, now.Rule(e.Key) is not null),
                RemoveZone e => Put<PutZone>(p => p.Zone.Key == e.Key, now.Zones.Any(z => z.Key == e.Key)),
                RemoveView e => Put<PutView>(p => p.View.Key == e.Key, now.Views.Any(v => v.Key == e.Key)),
                RemoveDerived e => Put<PutDerived>(p => p.Derived.Key == e.Key, now.Derived.Any(d => d.Key == e.Key)),
                RemoveLine e => Put<PutLine>(p => p.Line.Key == e.Key, now.Lines.Any(l => l.Key == e.Key)),
                RemoveOwnBoard e => Put<PutOwnBoard>(p => p.Board.Id == e.Id, now.OwnBoards.Any(b => b.Id == e.Id)),
                RemoveOwnPart e => Put<PutOwnPart>(p => p.Part.Id == e.Id, now.OwnParts.Any(p => p.Id == e.Id)),
                RemoveOwnCell e => Put<PutOwnCell>(p => p.Cell.Id == e.Id, now.OwnCells.Any(c => c.Id == e.Id)),
                _ => [],
            };

        // Of what was moved out of the way to keep an order, only what was removed itself comes back.
        IEnumerable<DesignEdit> Put<T>(Func<T, bool> isIt, bool isThere)
            where T : DesignEdit => isThere ? [] : inverse.OfType<T>().Where(isIt).TakeLast(1);

        NodeDesign? Was(string node) => inverse.OfType<PutNode>().LastOrDefault(n => n.Node == node)?.Design;

        DesignEdit Placed(DesignEdit edit) => edit is PutNode put && !Has(put.Design.Spot) ? new PutNode(put.Design with { Spot = null }) : edit;

        bool Has(string? spot) => place.Spots.Any(s => s.Key == spot) || edits.OfType<RemoveSpot>().Any(s => s.Key == spot);
    }

    /// <summary>A part with the readings and held wires that went with it.</summary>
    private static IEnumerable<DesignEdit> PutPart(RemovePart removed, NodeDesign now, NodeDesign? was)
    {
        if (now.Part(removed.Key) is not null || was?.Part(removed.Key) is not { } part)
        {
            return [];
        }
        return
        [
            new PutPart(removed.Node, part),
            .. was.Readings.Where(r => r.Part == removed.Key && now.Reading(r.Key) is null).Select(r => new PutReading(removed.Node, r)),
            .. was.Wires.Where(w => w.Part == removed.Key && now.Wires.All(n => n.Pin != w.Pin)).Select(w => new PutWire(removed.Node, w)),
        ];
    }
}
