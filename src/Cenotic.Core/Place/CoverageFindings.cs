using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>Findings of what sensors see, and where they should hang.</summary>
internal sealed class CoverageFindings(SiteDesign site, Coverage coverage, CoveragePlan plan, CancellationToken stop)
{
    private const string Practice = "common practice, no source";

    /// <summary>A sensor that sees less of its room than this sees nothing, m².</summary>
    private const double Nothing = 0.3;

    /// <summary>What one sees of another room is told from here on, m².</summary>
    private const double MuchBeyond = 1;
    private const double FromAntenna = 0.3,
        MostOfIt = 0.8,
        FarMetres = 200;

    /// <summary>Remedies that try many places are worked out so often in a plan.</summary>
    private const int MostQuestions = 8;
    private int _questions;

    internal IEnumerable<Finding> All() =>
        plan
            .Rooms.SelectMany(Blind)
            .Concat(plan.Sights.Where(s => s.Watches).SelectMany(NoView))
            .Concat(plan.Sights.Where(s => s.Watches).SelectMany(Beyond))
            .Concat(coverage.Lookers.Where(l => l.Watches).SelectMany(Windows))
            .Concat(coverage.Lookers.Where(l => l.Watches).SelectMany(Heat))
            .Concat(coverage.Lookers.Where(l => !l.Watches).SelectMany(Beside))
            .Concat(Disturbed());

    /// <summary>Where a sensor of a room should hang, the best first; empty where it watches no room.</summary>
    /// <param name="fine">False for one question among many.</param>
    internal static IReadOnlyList<SpotChoice> Choices(SiteDesign site, Coverage coverage, string node, bool fine, CancellationToken stop = default)
    {
        var own = coverage.Lookers.Where(l => l.Watches && l.Node.Key == node).ToList();
        if (own.Count == 0 || site.Place.Rooms.FirstOrDefault(r => r.Key == own[0].Spot.Room) is not { } room)
        {
            return [];
        }
        var others = coverage.Watching(room).Where(l => l.Spot.Key != own[0].Spot.Key).ToList();
        var here = coverage.Lookers.Where(l => l.Watches && l.Spot.Key == own[0].Spot.Key).ToList();
        // Not in front of antennas: where they are counts too.
        var antennas = string.Join(' ', site.Place.AccessPoints.Select(a => site.Place.Spot(a.Spot)).OfType<Spot>().Select(s => $"{s.X:R},{s.Y:R}"));
        var near = new SameAll(BestSpot.Near(site.Place, coverage.Room(room.Key)));
        return coverage.Memory.Of(("choices", room.Key, new SameAll(here), new SameAll(others), near, antennas, new Same(site.Place.HeatSources), fine), () =>
            new BestSpot(site.Place, room, own[0].Spot, here.ConvertAll(l => l.View), Shapes.Together(others.ConvertAll(l => l.Area)), fine).Choices(stop)
        );
    }

    /// <summary>Where the sensors of a node should hang; none once that was asked often enough.</summary>
    private IReadOnlyList<SpotChoice> Choices(string node) => _questions++ < MostQuestions ? Choices(site, coverage, node, fine: false, stop) : [];

    private static double Wanted(Room room) => room.WatchedPercent ?? Room.UsualWatchedPercent;

    private Room RoomOf(string key) => site.Place.Rooms.First(r => r.Key == key);

    private IEnumerable<Finding> Blind(RoomCoverage seen)
    {
        var room = RoomOf(seen.Room);
        var share = seen.Share.Value ?? 0;
        if (share >= Wanted(room) || room.Tags.Contains(RoomTag.Outdoor))
        {
            yield break;
        }
        var nodes = coverage.Lookers.Where(l => l.Watches && l.Spot.Room == room.Key).Select(l => l.Node).DistinctBy(n => n.Key).ToList();
        var better = nodes.Take(2).SelectMany(n => Choices(n.Key).Where(c => c.SharePercent >= Wanted(room)).Select(c => Hang(n, c))).ToList();
        yield return new(
            "PLACE-BLIND",
            Severity.Note,
            new("place", nodes.Count > 0 ? nodes[0].Key : null, room.Key),
            $"Sensors see {share:0} % of {room.Label}; {seen.BlindSquareMetres:0.0} m² are blind, most of it {seen.BlindAt}.",
            "Who stands there is not noticed.",
            [.. better.Take(3), new($"{Math.Floor(share):0} % is enough here", [new PutRoom(room with { WatchedPercent = Math.Floor(share) })])],
            better.Count > 0
                ? "From a ladder only if somebody holds it; no hole where a mains line may run."
                : "Another place does not help enough: a second sensor would.",
            "geometry of the plan"
        );
    }

    /// <summary>A choice as a remedy: it turns there, or hangs elsewhere.</summary>
    private static Remedy Hang(NodeDesign node, SpotChoice choice)
    {
        var s = choice.Spot;
        var at = string.Create(CultureInfo.InvariantCulture, $"{s.X:0.##}, {s.Y:0.##} m");
        var what = choice.Stays ? $"Turn {node.Label} to look" : $"Hang {node.Label} at {at}, to look";
        return new($"{what} {choice.Looks}: {choice.SharePercent:0} %", [new PutSpot(s)]);
    }

    private IEnumerable<Finding> NoView(Sight sight)
    {
        if (sight.Room is null || sight.Sees.Value is not < Nothing || site.Node(sight.Node) is not { } node)
        {
            yield break;
        }
        yield return new(
            "PLACE-NO-VIEW",
            Severity.Risk,
            new("place", sight.Node, sight.Part),
            $"{sight.Label} of {sight.NodeLabel} sees next to nothing of its room: {sight.Sees.Value:0.0} m².",
            "It looks at a wall, or hangs behind one.",
            [.. Choices(sight.Node).Where(c => Sees(c.Spot, sight)).Take(2).Select(c => Hang(node, c))],
            null,
            "geometry of the plan"
        );
    }

    /// <summary>Whether a sensor would see something of its room from a spot.</summary>
    private bool Sees(Spot spot, Sight sight)
    {
        var view = coverage.Lookers.First(l => l.Node.Key == sight.Node && l.Instance.Key == sight.Part).View;
        return Shapes.Common(new SeenArea(site.Place, spot, view).Within(view.RangeMetres.Likely), coverage.Room(sight.Room!)).Area >= Nothing;
    }

    private IEnumerable<Finding> Beyond(Sight sight)
    {
        var through = sight.Beyond.Where(b => b.ThroughWalls && b.SquareMetres >= MuchBeyond).ToList();
        if (through.Count == 0 || site.Node(sight.Node) is not { } node)
        {
            yield break;
        }
        var looker = coverage.Lookers.First(l => l.Node.Key == sight.Node && l.Instance.Key == sight.Part);
        yield return new(
            "PLACE-SEES-BEYOND",
            Severity.Note,
            new("place", sight.Node, sight.Part),
            $"{sight.Label} of {sight.NodeLabel} also sees {string.Join(", ", through.Select(b => $"{b.SquareMetres:0.0} m² of {b.Label}"))} through the wall.",
            "What moves there counts as if it moved here.",
            [.. Turned(looker)],
            "Shorten its range by its settings, or take an infrared sensor: no wall lets that through.",
            Practice
        );
    }

    /// <summary>Directions in which it sees next to nothing of other rooms through walls, and most of its own.</summary>
    private IEnumerable<Remedy> Turned(Looker looker)
    {
        return looker.View.HorizontalDegrees >= FieldOfView.AllRound || looker.Spot.Room is not { } room || _questions++ >= MostQuestions
            ? []
            : coverage.Memory.Of(("turned", new Same(looker)), () => TurnedAway(looker, room));
    }

    private List<Remedy> TurnedAway(Looker looker, string room)
    {
        var own = Shapes.Common(looker.Area, coverage.Room(room)).Area;
        var others = site.Place.Rooms.Where(r => r.Key != room && r.Floor == RoomOf(room).Floor).Select(r => coverage.Room(r.Key)).ToList();
        var turned = Enumerable
            .Range(0, 24)
            .SelectMany(f => new[] { 0.0, 30, 60 }.Select(t => looker.Spot with { FacingDegrees = f * 15, TiltDegrees = t }))
            .Select(s => (Spot: s, Area: new SeenArea(site.Place, s, looker.View).Within(looker.View.RangeMetres.Likely)))
            .Where(c => others.TrueForAll(o => Shapes.Common(c.Area, o).Area < MuchBeyond))
            .Select(c => (c.Spot, Own: Shapes.Common(c.Area, coverage.Room(room)).Area))
            .Where(c => c.Own > MostOfIt * own)
            .OrderByDescending(c => c.Own)
            .Take(1)
            .Select(c => new Remedy($"Turn {looker.Node.Label} to look {SpotChoice.Direction(c.Spot)}: {c.Own:0.0} m² of its room", [new PutSpot(c.Spot)]));
        return [.. turned];
    }

    /// <summary>Windows that an infrared sensor looks at.</summary>
    private IEnumerable<Finding> Windows(Looker looker)
    {
        if (looker.View.By != SeesBy.Infrared)
        {
            yield break;
        }
        var looked = site
            .Place.Walls.Where(w => site.Place.Floor(w.Floor)?.Key == looker.Floor)
            .SelectMany(w => w.Openings.Where(o => o.Kind is OpeningKind.Window or OpeningKind.CoatedWindow).Select(o => BestSpot.Middle(w, o)))
            .Where(m => Looks(looker, m))
            .ToList();
        if (looked.Count == 0)
        {
            yield break;
        }
        var nearest = looked.Min(m => PlanGeometry.Between(m, new(looker.Spot.X, looker.Spot.Y)));
        yield return new(
            "PLACE-WINDOW-IN-VIEW",
            Severity.Note,
            new("place", looker.Node.Key, looker.Instance.Key),
            $"{looker.Instance.Label} of {looker.Node.Label} looks at {(looked.Count == 1 ? "a window" : $"{looked.Count} windows")}, {nearest:0.0} m away.",
            "Sun on it, clouds over it and what is warm behind it can look like somebody who moves.",
            [.. LookingAway(looker, c => c.Windows == 0)],
            "A blind or a strip of tape over that part of the lens helps too.",
            Practice
        );
    }

    /// <summary>Heaters and vents that an infrared sensor looks at.</summary>
    private IEnumerable<Finding> Heat(Looker looker)
    {
        if (looker.View.By != SeesBy.Infrared)
        {
            yield break;
        }
        foreach (var source in site.Place.HeatSources.Where(h => site.Place.Floor(h.Floor)?.Key == looker.Floor && Looks(looker, new(h.X, h.Y))))
        {
            var metres = PlanGeometry.Between(new(source.X, source.Y), new(looker.Spot.X, looker.Spot.Y));
            yield return new(
                "PLACE-HEAT-IN-VIEW",
                Severity.Note,
                new("place", looker.Node.Key, looker.Instance.Key),
                $"{looker.Instance.Label} of {looker.Node.Label} looks at {source.Label}, {metres:0.0} m away.",
                "Warm air that rises or is blown about can look like somebody who moves.",
                [.. LookingAway(looker, c => c.HeatSources == 0)],
                "A strip of tape over that part of the lens helps too.",
                Practice
            );
        }
    }

    /// <summary>Places from which enough of the room is seen and that a sensor does not look at.</summary>
    private IEnumerable<Remedy> LookingAway(Looker looker, Func<SpotChoice, bool> away) =>
        site.Place.Rooms.FirstOrDefault(r => r.Key == looker.Spot.Room) is { } room
            ? Choices(looker.Node.Key).Where(c => away(c) && c.SharePercent >= Wanted(room)).Take(2).Select(c => Hang(looker.Node, c))
            : [];

    /// <summary>Whether a sensor sees as far as just before a place: what is at it may be in a wall.</summary>
    private static bool Looks(Looker looker, Point at)
    {
        var before = new NetTopologySuite.Geometries.Coordinate(looker.Spot.X + 0.97 * (at.X - looker.Spot.X), looker.Spot.Y + 0.97 * (at.Y - looker.Spot.Y));
        return looker.Area.Contains(looker.Area.Factory.CreatePoint(before));
    }

    /// <summary>A wall beside a beam that meets its edge before its middle: the distance to that is what is measured.</summary>
    private IEnumerable<Finding> Beside(Looker looker)
    {
        if (looker.View.By != SeesBy.Ultrasound || Met(looker, looker.Spot) is not { } met)
        {
            yield break;
        }
        // So far to the other side that its edge meets the wall no sooner than its middle meets what is ahead.
        var by = (met.Ahead - met.Metres) * Math.Sin(looker.View.HorizontalDegrees / 2 * Math.PI / 180) + 0.05;
        var facing = looker.Spot.FacingDegrees * Math.PI / 180;
        var (x, y) = (looker.Spot.X - met.Side * by * Math.Cos(facing), looker.Spot.Y - met.Side * by * Math.Sin(facing));
        var moved = looker.Spot with { X = Math.Round(x, 2), Y = Math.Round(y, 2) };
        var room = site.Place.Rooms.FirstOrDefault(r => r.Key == looker.Spot.Room);
        var helps = Met(looker, moved) is null && (room is null || PlacePlanner.Contains(room.Corners, new(moved.X, moved.Y)));
        yield return new(
            "PLACE-BEAM-BESIDE",
            Severity.Risk,
            new("place", looker.Node.Key, looker.Instance.Key),
            $"The beam of {looker.Instance.Label} of {looker.Node.Label} meets the wall on its {(met.Side < 0 ? "left" : "right")} after {met.Metres:0.0} m; "
                + $"ahead there are {met.Ahead:0.0} m.",
            "The nearest thing in the beam is what it measures.",
            helps ? [new($"Move it {by:0.0#} m away from that wall", [new PutSpot(moved)])] : [],
            helps ? "Or turn it away from the wall." : "It is too narrow there for this beam: turn it, or take a sensor with a narrower one.",
            "part data: angle of the beam"
        );
    }

    /// <summary>On which side the edge of a beam meets a wall too early, after how far, and what is ahead, m; null where it is clear, or not level.</summary>
    private (int Side, double Metres, double Ahead)? Met(Looker looker, Spot spot)
    {
        var half = looker.View.HorizontalDegrees / 2;
        if (Math.Abs(spot.TiltDegrees) > half)
        {
            return null;
        }
        var ahead = Math.Min(looker.View.RangeMetres.Likely, Clear(spot, 0));
        foreach (var side in new[] { -1, 1 })
        {
            var met = Clear(spot, side * half);
            if (met < MostOfIt * ahead)
            {
                return (side, met, ahead);
            }
        }
        return null;
    }

    /// <summary>From a spot to the first wall in a direction beside straight ahead, m; very far for none.</summary>
    private double Clear(Spot spot, double degrees)
    {
        var angle = (spot.FacingDegrees + degrees) * Math.PI / 180;
        var start = site.Place.At(spot);
        var end = new Point3(start.X + FarMetres * Math.Sin(angle), start.Y - FarMetres * Math.Cos(angle), start.Z);
        var met = WallCrossings.Walls(site.Place, start, end).Where(c => c.Opening?.Kind != OpeningKind.Passage);
        return met.Select(c => c.AtMetres).DefaultIfEmpty(double.MaxValue).Min();
    }

    /// <summary>Sensors that stand too near to an access point, or to one of their kind.</summary>
    private IEnumerable<Finding> Disturbed()
    {
        foreach (var looker in coverage.Lookers.Where(l => l.Watches))
        {
            var at = site.Place.At(looker.Spot);
            var antenna = site.Place.AccessPoints.FirstOrDefault(a =>
                site.Place.Spot(a.Spot) is { } s && PlanGeometry.InSpace(at, site.Place.At(s)) < FromAntenna
            );
            if (antenna is not null)
            {
                yield return TooNear(looker, site.Place.Spot(antenna.Spot)!, antenna.Label, FromAntenna, "Each transmission can look like motion to it.");
            }
            var twin = coverage.Lookers.FirstOrDefault(o =>
                looker.View.ApartMetres is { } apart
                && (o.Node.Key, o.Instance.Key) != (looker.Node.Key, looker.Instance.Key)
                && o.View.By == looker.View.By
                && PlanGeometry.InSpace(at, site.Place.At(o.Spot)) < apart
            );
            if (twin is not null)
            {
                var apart = looker.View.ApartMetres!.Value;
                yield return TooNear(looker, twin.Spot, $"{twin.Instance.Label} of {twin.Node.Label}", apart, "Each hears the other and reports motion.");
            }
        }
    }

    private Finding TooNear(Looker looker, Spot other, string what, double metres, string why) =>
        new(
            "PLACE-TOO-NEAR",
            Severity.Risk,
            new("place", looker.Node.Key, looker.Instance.Key),
            $"{looker.Instance.Label} of {looker.Node.Label} is nearer than {metres:0.#} m to {what}.",
            why,
            [.. Away(looker.Spot, other, metres).Take(1).Select(s => new Remedy($"Put it {1.1 * metres:0.0#} m from there", [new PutSpot(s)]))],
            "Move one of them on the plan, and then on the wall.",
            Practice
        );

    /// <summary>Places of a spot in its room that far from another, the nearest first.</summary>
    private IEnumerable<Spot> Away(Spot spot, Spot other, double metres)
    {
        var room = site.Place.Rooms.FirstOrDefault(r => r.Key == spot.Room);
        return Enumerable
            .Range(0, 32)
            .Select(i => i * Math.PI / 16)
            .Select(a => spot with { X = Math.Round(other.X + 1.1 * metres * Math.Cos(a), 2), Y = Math.Round(other.Y + 1.1 * metres * Math.Sin(a), 2) })
            .Where(s => other.Key != spot.Key && (room is null || PlacePlanner.Contains(room.Corners, new(s.X, s.Y))))
            .OrderBy(s => Math.Pow(s.X - spot.X, 2) + Math.Pow(s.Y - spot.Y, 2));
    }
}
