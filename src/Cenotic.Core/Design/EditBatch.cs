using System.Collections.Immutable;
using Cenotic.Core.Common;

namespace Cenotic.Core.Design;

/// <summary>A batch that was carried out.</summary>
/// <param name="After">The site with the edits in it.</param>
/// <param name="Inverse">The edits that undo the batch, in the order to apply them.</param>
/// <param name="Documents">The documents that changed.</param>
public sealed record AppliedEdits(SiteDesign After, IReadOnlyList<DesignEdit> Inverse, IReadOnlySet<string> Documents);

/// <summary>The one door in for what people decide.</summary>
public static class EditBatch
{
    /// <summary>
    /// Carries out edits in order, all or none. Pure. Nonsense is refused with a sentence for each fault of the first edit that has one.
    /// </summary>
    public static Outcome<AppliedEdits> Apply(SiteDesign design, IReadOnlyList<DesignEdit> edits)
    {
        if (edits.Count == 0)
        {
            return Outcome<AppliedEdits>.Refused("There is nothing to do: the batch holds no edit.");
        }
        var inverse = new List<DesignEdit>();
        var touched = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var edit in edits)
        {
            if (DesignLimits.Misshapen(edit) is { } misshapen)
            {
                return Outcome<AppliedEdits>.Refused(misshapen);
            }
            var faults = EditChecks.Faults(design, edit);
            if (faults.Count > 0)
            {
                return Outcome<AppliedEdits>.Refused(faults);
            }
            var (after, undo) = One(design, edit);
            if (DesignLimits.TooMany(design, after) is { } tooMany)
            {
                return Outcome<AppliedEdits>.Refused(tooMany);
            }
            inverse.InsertRange(0, undo);
            touched.Add(edit.Document);
            design = after;
        }
        return new AppliedEdits(design, inverse, touched.ToImmutableSortedSet(StringComparer.Ordinal));
    }

    private static (SiteDesign After, DesignEdit[] Undo) One(SiteDesign site, DesignEdit edit) =>
        edit switch
        {
            SetSite e => (site with { Settings = e.Settings }, [new SetSite(site.Settings)]),
            SetAnchor e => InPlace(site, p => p with { Anchor = e.Anchor }, [new SetAnchor(site.Place.Anchor)]),
            PutRoom e => InPlace(
                site,
                p => p with { Rooms = Put(p.Rooms, e.Room, r => r.Key) },
                Undo(site.Place.Rooms, r => r.Key, e.Room.Key, r => new PutRoom(r), new RemoveRoom(e.Room.Key))
            ),
            RemoveRoom e => InPlace(
                site,
                p => p with { Rooms = Without(p.Rooms, r => r.Key == e.Key) },
                [.. Restore(site.Place.Rooms, r => r.Key == e.Key, r => new PutRoom(r), r => new RemoveRoom(r.Key))]
            ),
            MoveSide or MoveCorner => Reshaped(site, PlaceMoves.Apply(site.Place, (PlaceEdit)edit)),
            PutWall e => InPlace(
                site,
                p => p with { Walls = Put(p.Walls, e.Wall, w => w.Key) },
                Undo(site.Place.Walls, w => w.Key, e.Wall.Key, w => new PutWall(w), new RemoveWall(e.Wall.Key))
            ),
            RemoveWall e => InPlace(
                site,
                p => p with { Walls = Without(p.Walls, w => w.Key == e.Key) },
                [.. Restore(site.Place.Walls, w => w.Key == e.Key, w => new PutWall(w), w => new RemoveWall(w.Key))]
            ),
            PutSpot e => InPlace(
                site,
                p => p with { Spots = Put(p.Spots, e.Spot, s => s.Key) },
                Undo(site.Place.Spots, s => s.Key, e.Spot.Key, s => new PutSpot(s), new RemoveSpot(e.Spot.Key))
            ),
            RemoveSpot e => InPlace(
                site,
                p => p with { Spots = Without(p.Spots, s => s.Key == e.Key) },
                [.. Restore(site.Place.Spots, s => s.Key == e.Key, s => new PutSpot(s), s => new RemoveSpot(s.Key))]
            ),
            PutFloor e => InPlace(
                site,
                p => p with { Floors = Put(p.Floors, e.Floor, f => f.Key) },
                Undo(site.Place.Floors, f => f.Key, e.Floor.Key, f => new PutFloor(f), new RemoveFloor(e.Floor.Key))
            ),
            RemoveFloor e => InPlace(
                site,
                p => p with { Floors = Without(p.Floors, f => f.Key == e.Key) },
                [.. Restore(site.Place.Floors, f => f.Key == e.Key, f => new PutFloor(f), f => new RemoveFloor(f.Key))]
            ),
            PutScan e => InPlace(
                site,
                p => p with { Scans = Put(p.Scans, e.Scan, s => s.Floor ?? "") },
                Undo(site.Place.Scans, s => s.Floor ?? "", e.Scan.Floor ?? "", s => new PutScan(s), new RemoveScan(e.Scan.Floor))
            ),
            FitScan e when site.Place.Scans.First(s => s.Floor == e.Floor) is var scan => InPlace(
                site,
                p => p with { Scans = Put(p.Scans, PlaceMoves.Fitted(scan, e), s => s.Floor ?? "") },
                [new PutScan(scan)]
            ),
            RemoveScan e => InPlace(
                site,
                p => p with { Scans = Without(p.Scans, s => s.Floor == e.Floor) },
                [.. Restore(site.Place.Scans, s => s.Floor == e.Floor, s => new PutScan(s), s => new RemoveScan(s.Floor))]
            ),
            PutAccessPoint e => InPlace(
                site,
                p => p with { AccessPoints = Put(p.AccessPoints, e.AccessPoint, a => a.Key) },
                Undo(site.Place.AccessPoints, a => a.Key, e.AccessPoint.Key, a => new PutAccessPoint(a), new RemoveAccessPoint(e.AccessPoint.Key))
            ),
            RemoveAccessPoint e => InPlace(
                site,
                p => p with { AccessPoints = Without(p.AccessPoints, a => a.Key == e.Key) },
                [.. Restore(site.Place.AccessPoints, a => a.Key == e.Key, a => new PutAccessPoint(a), a => new RemoveAccessPoint(a.Key))]
            ),
            PutHeatSource e => InPlace(
                site,
                p => p with { HeatSources = Put(p.HeatSources, e.HeatSource, h => h.Key) },
                Undo(site.Place.HeatSources, h => h.Key, e.HeatSource.Key, h => new PutHeatSource(h), new RemoveHeatSource(e.HeatSource.Key))
            ),
            RemoveHeatSource e => InPlace(
                site,
                p => p with { HeatSources = Without(p.HeatSources, h => h.Key == e.Key) },
                [.. Restore(site.Place.HeatSources, h => h.Key == e.Key, h => new PutHeatSource(h), h => new RemoveHeatSource(h.Key))]
            ),
            PutNode e => (
                site with
                {
                    Nodes = Put(site.Nodes, e.Design, n => n.Key),
                },
                Undo(site.Nodes, n => n.Key, e.Design.Key, n => new PutNode(n), new RemoveNode(e.Design.Key))
            ),
            RemoveNode e => (
                site with
                {
                    Nodes = Without(site.Nodes, n => n.Key == e.Node),
                },
                [.. Restore(site.Nodes, n => n.Key == e.Node, n => new PutNode(n), n => new RemoveNode(n.Key))]
            ),
            PutRule e => (
                site with
                {
                    Rules = Put(site.Rules, e.Rule, r => r.Key),
                },
                Undo(site.Rules, r => r.Key, e.Rule.Key, r => new PutRule(r), new RemoveRule(e.Rule.Key))
            ),
            RemoveRule e => (
                site with
                {
                    Rules = Without(site.Rules, r => r.Key == e.Key),
                },
                [.. Restore(site.Rules, r => r.Key == e.Key, r => new PutRule(r), r => new RemoveRule(r.Key))]
            ),
            PutLine e => (
                site with
                {
                    Lines = Put(site.Lines, e.Line, l => l.Key),
                },
                Undo(site.Lines, l => l.Key, e.Line.Key, l => new PutLine(l), new RemoveLine(e.Line.Key))
            ),
            RemoveLine e => (
                site with
                {
                    Lines = Without(site.Lines, l => l.Key == e.Key),
                },
                [.. Restore(site.Lines, l => l.Key == e.Key, l => new PutLine(l), l => new RemoveLine(l.Key))]
            ),
            PutOwnBoard e => (
                site with
                {
                    OwnBoards = Put(site.OwnBoards, e.Board, b => b.Id),
                },
                Undo(site.OwnBoards, b => b.Id, e.Board.Id, b => new PutOwnBoard(b), new RemoveOwnBoard(e.Board.Id))
            ),
            RemoveOwnBoard e => (
                site with
                {
                    OwnBoards = Without(site.OwnBoards, b => b.Id == e.Id),
                },
                [.. Restore(site.OwnBoards, b => b.Id == e.Id, b => new PutOwnBoard(b), b => new RemoveOwnBoard(b.Id))]
            ),
            PutOwnPart e => (
                site with
                {
                    OwnParts = Put(site.OwnParts, e.Part, p => p.Id),
                },
                Undo(site.OwnParts, p => p.Id, e.Part.Id, p => new PutOwnPart(p), new RemoveOwnPart(e.Part.Id))
            ),
            PutOwnCell e => (
                site with
                {
                    OwnCells = Put(site.OwnCells, e.Cell, c => c.Id),
                },
                Undo(site.OwnCells, c => c.Id, e.Cell.Id, c => new PutOwnCell(c), new RemoveOwnCell(e.Cell.Id))
            ),
            RemoveOwnCell e => (
                site with
                {
                    OwnCells = Without(site.OwnCells, c => c.Id == e.Id),
                },
                [.. Restore(site.OwnCells, c => c.Id == e.Id, c => new PutOwnCell(c), c => new RemoveOwnCell(c.Id))]
            ),
            RemoveOwnPart e => (
                site with
                {
                    OwnParts = Without(site.OwnParts, p => p.Id == e.Id),
                },
                [.. Restore(site.OwnParts, p => p.Id == e.Id, p => new PutOwnPart(p), p => new RemoveOwnPart(p.Id))]
            ),
            PutStock e => (
                site with
                {
                    Stock = Put(site.Stock, e.Item, i => i.Id),
                },
                Undo(site.Stock, i => i.Id, e.Item.Id, i => new PutStock(i), new RemoveStock(e.Item.Id))
            ),
            RemoveStock e => (
                site with
                {
                    Stock = Without(site.Stock, i => i.Id == e.Id),
                },
                [.. Restore(site.Stock, i => i.Id == e.Id, i => new PutStock(i), i => new RemoveStock(i.Id))]
            ),
            PutPerson e => (
                site with
                {
                    People = Put(site.People, e.Person, p => p.Key),
                },
                Undo(site.People, p => p.Key, e.Person.Key, p => new PutPerson(p), new RemovePerson(e.Person.Key))
            ),
            RemovePerson e => (
                site with
                {
                    People = Without(site.People, p => p.Key == e.Key),
                },
                [.. Restore(site.People, p => p.Key == e.Key, p => new PutPerson(p), p => new RemovePerson(p.Key))]
            ),
            PutZone e => (
                site with
                {
                    Zones = Put(site.Zones, e.Zone, z => z.Key),
                },
                Undo(site.Zones, z => z.Key, e.Zone.Key, z => new PutZone(z), new RemoveZone(e.Zone.Key))
            ),
            RemoveZone e => (
                site with
                {
                    Zones = Without(site.Zones, z => z.Key == e.Key),
                },
                [.. Restore(site.Zones, z => z.Key == e.Key, z => new PutZone(z), z => new RemoveZone(z.Key))]
            ),
            PutView e => (
                site with
                {
                    Views = Put(site.Views, e.View, v => v.Key),
                },
                Undo(site.Views, v => v.Key, e.View.Key, v => new PutView(v), new RemoveView(e.View.Key))
            ),
            RemoveView e => (
                site with
                {
                    Views = Without(site.Views, v => v.Key == e.Key),
                },
                [.. Restore(site.Views, v => v.Key == e.Key, v => new PutView(v), v => new RemoveView(v.Key))]
            ),
            PutDerived e => (
                site with
                {
                    Derived = Put(site.Derived, e.Derived, d => d.Key),
                },
                Undo(site.Derived, d => d.Key, e.Derived.Key, d => new PutDerived(d), new RemoveDerived(e.Derived.Key))
            ),
            RemoveDerived e => (
                site with
                {
                    Derived = Without(site.Derived, d => d.Key == e.Key),
                },
                [.. Restore(site.Derived, d => d.Key == e.Key, d => new PutDerived(d), d => new RemoveDerived(d.Key))]
            ),
            NodeEdit e => InNode(site, e),
            _ => throw new InvalidOperationException($"No way to carry out {edit.GetType().Name}."),
        };

    private static (SiteDesign, DesignEdit[]) InNode(SiteDesign site, NodeEdit edit)
    {
        var node = site.Node(edit.Node)!;
        var after = edit switch
        {
            SetNode e => node with
            {
                Label = e.Label,
                Spot = e.Spot,
                Board = e.Board,
                Power = e.Power,
                Link = e.Link,
                Sleeps = e.Sleeps,
                MeasuresSupply = e.MeasuresSupply,
                AddsModules = e.AddsModules,
                Housing = e.Housing,
                Sending = e.Sending,
                Via = e.Via,
                CorrectsItself = e.CorrectsItself,
                Radio = e.Radio,
                Relays = e.Relays,
            },
            PutPart e => node with { Parts = Put(node.Parts, e.Part, p => p.Key) },
            RemovePart e => node with
            {
                Parts = Without(node.Parts, p => p.Key == e.Key),
                Wires = Without(node.Wires, w => w.Part == e.Key),
                Readings = Without(node.Readings, r => r.Part == e.Key),
            },
            PutWire e => node with { Wires = Put(node.Wires, e.Wire, w => w.Key) },
            RemoveWire e => node with { Wires = Without(node.Wires, w => w.Part == e.Part && w.Line == e.Line) },
            PutReading e => node with { Readings = Put(node.Readings, e.Reading, r => r.Key) },
            RemoveReading e => node with { Readings = Without(node.Readings, r => r.Key == e.Key) },
            _ => throw new InvalidOperationException($"No way to carry out {edit.GetType().Name}."),
        };
        // The node as it was undoes any edit inside it, in order and whole.
        return (site with { Nodes = Put(site.Nodes, after, n => n.Key) }, [new PutNode(node)]);
    }

    private static (SiteDesign, DesignEdit[]) InPlace(SiteDesign site, Func<PlaceDesign, PlaceDesign> change, DesignEdit[] undo) =>
        (site with { Place = change(site.Place) }, undo);

    /// <summary>The site with rooms, walls and spots moved; undone by putting each back as it was.</summary>
    private static (SiteDesign, DesignEdit[]) Reshaped(SiteDesign site, PlaceDesign after)
    {
        var before = site.Place;
        var gone = before.Walls.Any(w => after.Walls.All(a => a.Key != w.Key));
        DesignEdit[] undo =
        [
            .. before.Rooms.Where(r => !after.Rooms.Contains(r)).Select(r => new PutRoom(r)),
            .. before.Spots.Where(s => !after.Spots.Contains(s)).Select(s => new PutSpot(s)),
            // Where a wall is gone all are put again, so that the order is the old one.
            .. after.Walls.Where(a => gone || before.Walls.All(w => w.Key != a.Key)).Select(a => new RemoveWall(a.Key)),
            .. before.Walls.Where(w => gone || !after.Walls.Contains(w)).Select(w => new PutWall(w)),
        ];
        return (site with { Place = after }, undo);
    }

    private static ImmutableArray<T> Put<T>(IReadOnlyList<T> list, T item, Func<T, string> key)
    {
        var at = list.ToList().FindIndex(i => key(i) == key(item));
        return at < 0 ? [.. list, item] : [.. list.Take(at), item, .. list.Skip(at + 1)];
    }

    private static ImmutableArray<T> Without<T>(IReadOnlyList<T> list, Func<T, bool> gone) => [.. list.Where(i => !gone(i))];

    private static DesignEdit[] Undo<T>(IReadOnlyList<T> list, Func<T, string> key, string wanted, Func<T, DesignEdit> put, DesignEdit remove) =>
        list.Where(i => key(i) == wanted).Select(put).DefaultIfEmpty(remove).ToArray();

    /// <summary>Puts a removed item back where it stood: what followed it is taken out and put again, so that the order is the old one.</summary>
    private static IEnumerable<DesignEdit> Restore<T>(IReadOnlyList<T> list, Func<T, bool> gone, Func<T, DesignEdit> put, Func<T, DesignEdit> remove)
    {
        var at = list.ToList().FindIndex(i => gone(i));
        var after = list.Skip(at + 1).ToList();
        return [.. after.Select(remove), put(list[at]), .. after.Select(put)];
    }
}
