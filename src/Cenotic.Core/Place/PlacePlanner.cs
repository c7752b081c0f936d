using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>What is worked out about the place.</summary>
/// <param name="Areas">Floor area of each room by key, m².</param>
/// <param name="Coverage">What sensors see.</param>
public sealed record PlacePlan(IReadOnlyDictionary<string, Figure> Areas, CoveragePlan Coverage, IReadOnlyList<Finding> Findings);

/// <summary>Geometry and checks of rooms and spots.</summary>
public static class PlacePlanner
{
    /// <summary>Areas of the rooms, what sensors see of them, and findings for spots and nodes.</summary>
    public static PlacePlan Plan(SiteDesign site, HardwareCatalogue catalogue) => Plan(site, Seen(site, catalogue, new(), default));

    /// <summary>What sensors see, and what is found of that.</summary>
    internal static (CoveragePlan Plan, IReadOnlyList<Finding> Findings) Seen(
        SiteDesign site,
        HardwareCatalogue catalogue,
        CoverageMemory memory,
        CancellationToken stop
    )
    {
        var coverage = new Coverage(site, catalogue, memory, stop);
        var plan = coverage.Plan();
        List<Finding> findings =
        [
            .. new CoverageFindings(site, coverage, plan, stop).All(),
            .. site.Nodes.SelectMany(new AirFindings(site.Place).Of),
            .. site.Nodes.SelectMany(new LightBarrierFindings(site, catalogue).Of),
        ];
        memory.End();
        return (plan, findings);
    }

    /// <summary>The plan of a site of which it is known what its sensors see.</summary>
    internal static PlacePlan Plan(SiteDesign site, (CoveragePlan Plan, IReadOnlyList<Finding> Findings) seen)
    {
        List<Finding> findings =
        [
            .. site.Place.Spots.Select(s => Outside(site.Place, s) ?? InWall(site.Place, s)).OfType<Finding>(),
            .. FloorsGone(site.Place),
            .. NoWalls(site.Place),
            .. seen.Findings,
        ];
        var free = site.FreeSpots.Take(3).ToList();
        findings.AddRange(site.Nodes.Where(n => site.Place.Spot(n.Spot) is null).Select(n => NoSpot(n, free)));
        return new(site.Place.Rooms.ToDictionary(r => r.Key, Area), seen.Plan, findings);
    }

    private static Finding? Outside(PlaceDesign place, Spot spot)
    {
        var inside = place.Rooms.Where(r => Contains(r.Corners, new Point(spot.X, spot.Y))).ToList();
        if (spot.Room is not { } key || inside.Exists(r => r.Key == key))
        {
            return null;
        }
        var real = inside.FirstOrDefault();
        return new(
            "PLACE-SPOT-OUTSIDE",
            Severity.Risk,
            new("place", null, spot.Key),
            $"{spot.Label} is said to be in {place.Rooms.FirstOrDefault(r => r.Key == key)?.Label ?? "a room that is gone"} but lies "
                + $"{(real is null ? "in no room" : $"in {real.Label}")}.",
            "Walls, damp and cold are judged by the room.",
            [new(real is null ? "Let it be in no room" : $"Put it in {real.Label}", [new PutSpot(spot with { Room = real?.Key })])],
            null,
            "geometry"
        );
    }

    /// <summary>A spot that lies in the thickness of a wall of its floor.</summary>
    private static Finding? InWall(PlaceDesign place, Spot spot)
    {
        if (WallAt(place, spot) is not { } wall)
        {
            return null;
        }
        var moved = Beside(place, wall, spot);
        return new(
            "PLACE-SPOT-IN-WALL",
            Severity.Note,
            new("place", null, spot.Key),
            $"{spot.Label} lies in a {wall.Material.ToString().ToLowerInvariant()} wall.",
            "On which side of it a node hangs decides what it measures and who hears it.",
            moved is null ? [] : [new("Put it on the wall's face", [new PutSpot(moved)])],
            "Drag it to the side on which it hangs.",
            "geometry"
        );
    }

    /// <summary>The wall in whose thickness a spot lies, or null.</summary>
    internal static Wall? WallAt(PlaceDesign place, Spot spot)
    {
        var floor = place.FloorOf(spot)?.Key;
        return place.Walls.FirstOrDefault(w => w.Floor == floor && Apart(w, new(spot.X, spot.Y)) < Half(w));
    }

    /// <summary>The spot on that face of a wall that looks into its room, or on the nearer one, a centimetre off.</summary>
    private static Spot? Beside(PlaceDesign place, Wall wall, Spot spot)
    {
        var (along, across) = ((X: (wall.To.X - wall.From.X) / wall.LengthMetres, Y: (wall.To.Y - wall.From.Y) / wall.LengthMetres), Half(wall) + 0.01);
        var by = (spot.X - wall.From.X) * along.X + (spot.Y - wall.From.Y) * along.Y;
        var (footX, footY) = (wall.From.X + by * along.X, wall.From.Y + by * along.Y);
        var room = place.Rooms.FirstOrDefault(r => r.Key == spot.Room);
        return new[] { 1, -1 }
            .Select(side => spot with { X = Math.Round(footX - side * across * along.Y, 2), Y = Math.Round(footY + side * across * along.X, 2) })
            .Where(s => room is null || Contains(room.Corners, new(s.X, s.Y)))
            .Where(s => place.Walls.All(w => w.Floor != wall.Floor || Apart(w, new(s.X, s.Y)) >= Half(w)))
            .OrderBy(s => Math.Abs(s.X - spot.X) + Math.Abs(s.Y - spot.Y))
            .FirstOrDefault();
    }

    private static double Half(Wall wall) => WallCrossings.ThicknessMetres(wall) / 2;

    /// <summary>From a point to the middle line of a wall, m.</summary>
    private static double Apart(Wall wall, Point at) => PlanGeometry.Between(at, PlanGeometry.Nearest(wall.From, wall.To, at));

    /// <summary>Rooms and walls of floors that are gone: they count as on the ground.</summary>
    private static IEnumerable<Finding> FloorsGone(PlaceDesign place)
    {
        var gone = place.Rooms.Select(r => r.Floor).Concat(place.Walls.Select(w => w.Floor)).OfType<string>().Distinct();
        foreach (var key in gone.Where(f => place.Floor(f) is null))
        {
            var (rooms, walls) = (place.Rooms.Where(r => r.Floor == key).ToList(), place.Walls.Where(w => w.Floor == key).ToList());
            IReadOnlyList<DesignEdit> To(string? floor) =>
                [.. rooms.Select(r => new PutRoom(r with { Floor = floor })), .. walls.Select(w => new PutWall(w with { Floor = floor }))];
            yield return new(
                "PLACE-FLOOR-GONE",
                Severity.Risk,
                new("place", null, key),
                $"Rooms ({rooms.Count}) and walls ({walls.Count}) are on a floor that is gone; they count as on the ground.",
                "Heights and what lies between floors are judged by it.",
                [new("Put them on the ground", To(null)), .. place.Floors.Select(f => new Remedy($"Put them on {f.Label}", To(f.Key)))],
                null,
                "design"
            );
        }
    }

    /// <summary>Rooms that nothing walls in, floor by floor, with walls for their sides.</summary>
    private static IEnumerable<Finding> NoWalls(PlaceDesign place)
    {
        foreach (var on in place.Rooms.Where(r => !r.Tags.Contains(RoomTag.Outdoor) && !RoomWalls.HasWall(place, r)).GroupBy(r => r.Floor))
        {
            var bare = on.ToHashSet();
            var sides = RoomWalls.Open(place, on.Key, bare.Contains);
            Remedy Of(string label, WallMaterial outside, WallMaterial between) => new(label, RoomWalls.Put(place, on.Key, sides, outside, between));
            yield return new(
                "PLACE-NO-WALLS",
                Severity.Note,
                new("place", null, bare.First().Key),
                bare.Count == 1 ? $"{bare.First().Label} has no walls." : $"{bare.First().Label} and {bare.Count - 1} more have no walls.",
                "What walls take from a radio signal, and what they hide from a sensor, is not known.",
                [
                    Of("Brick outside, plasterboard between", WallMaterial.Brick, WallMaterial.Plasterboard),
                    Of("Timber outside, plasterboard between", WallMaterial.Timber, WallMaterial.Plasterboard),
                    Of("Concrete outside, brick between", WallMaterial.Concrete, WallMaterial.Brick),
                ],
                "Then give each wall what it is of, its thickness, doors and windows.",
                "geometry"
            );
        }
    }

    /// <summary>Where the motion and presence sensors of a node should hang to see as much as possible of their room: turned where they are, at the best place
    /// on its walls, and at the runner-up; the best first. Empty where none of them hangs in a room.</summary>
    public static IReadOnlyList<SpotChoice> BestSpots(SiteDesign site, HardwareCatalogue catalogue, string node, CancellationToken stop = default) =>
        CoverageFindings.Choices(site, new(site, catalogue, new(), stop), node, fine: true, stop);

    private static Finding NoSpot(NodeDesign node, IReadOnlyList<Spot> free) =>
        new(
            "PLACE-NO-SPOT",
            Severity.Note,
            new("place", node.Key),
            $"{node.Label} has no spot on the plan.",
            "What is wet, cold or far away there is not known.",
            [.. free.Select(s => new Remedy($"Put it at {s.Label}", [SetNodes.As(node) with { Spot = s.Key }]))],
            null,
            "design"
        );

    /// <summary>Whether a point lies inside a polygon, by the even-odd rule; a point on an edge counts as inside.</summary>
    public static bool Contains(IReadOnlyList<Point> corners, Point at)
    {
        var inside = false;
        for (int i = 0, j = corners.Count - 1; i < corners.Count; j = i++)
        {
            var (a, b) = (corners[i], corners[j]);
            var cross = (b.X - a.X) * (at.Y - a.Y) - (b.Y - a.Y) * (at.X - a.X);
            if (Math.Abs(cross) < 1e-9 && at.X >= Math.Min(a.X, b.X) && at.X <= Math.Max(a.X, b.X) && at.Y >= Math.Min(a.Y, b.Y) && at.Y <= Math.Max(a.Y, b.Y))
            {
                return true;
            }
            if (a.Y > at.Y != b.Y > at.Y && at.X < (b.X - a.X) * (at.Y - a.Y) / (b.Y - a.Y) + a.X)
            {
                inside = !inside;
            }
        }
        return inside;
    }

    private static Figure Area(Room room)
    {
        var corners = room.Corners;
        return Figure.Exact(
            $"Area of {room.Label}",
            Math.Abs(PlanGeometry.TwiceArea(corners)) / 2,
            Unit.SquareMetre,
            new Working("A = ½ |Σ (x·y' − x'·y)|", [new("corners", corners.Count, "", "plan")], "shoelace formula")
        );
    }
}
