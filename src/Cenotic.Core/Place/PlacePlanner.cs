using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>What is worked out about the place.</summary>
/// <param name="Areas">Floor area of each room by key, m².</param>
public sealed record PlacePlan(IReadOnlyDictionary<string, Figure> Areas, IReadOnlyList<Finding> Findings);

/// <summary>Geometry and checks of rooms and spots.</summary>
public static class PlacePlanner
{
    /// <summary>Areas of the rooms, and findings for spots and nodes.</summary>
    public static PlacePlan Plan(SiteDesign site)
    {
        var findings = new List<Finding>();
        foreach (var spot in site.Place.Spots)
        {
            var inside = site.Place.Rooms.Where(r => Contains(r.Corners, new Point(spot.X, spot.Y))).ToList();
            if (spot.Room is { } key && inside.All(r => r.Key != key))
            {
                var real = inside.FirstOrDefault();
                findings.Add(
                    new(
                        "PLACE-SPOT-OUTSIDE",
                        Severity.Risk,
                        new("place", null, spot.Key),
                        $"{spot.Label} is said to be in {Room(site, key)?.Label ?? "a room that is gone"} but lies "
                            + $"{(real is null ? "in no room" : $"in {real.Label}")}.",
                        "Walls, damp and cold are judged by the room.",
                        [new(real is null ? "Let it be in no room" : $"Put it in {real.Label}", [new PutSpot(spot with { Room = real?.Key })])],
                        null,
                        "geometry"
                    )
                );
            }
        }
        foreach (var node in site.Nodes)
        {
            var spot = site.Place.Spots.FirstOrDefault(s => s.Key == node.Spot);
            if (spot is null)
            {
                findings.Add(
                    new(
                        "PLACE-NO-SPOT",
                        Severity.Note,
                        new("place", node.Key),
                        $"{node.Label} has no spot on the plan.",
                        "What is wet, cold or far away there is not known.",
                        [
                            .. site
                                .Place.Spots.Where(s => site.Nodes.All(n => n.Spot != s.Key))
                                .Take(3)
                                .Select(s => new Remedy($"Put it at {s.Label}", [SetNodes.As(node) with { Spot = s.Key }])),
                        ],
                        null,
                        "design"
                    )
                );
            }
        }
        return new(site.Place.Rooms.ToDictionary(r => r.Key, Area), findings);
    }

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
        var twice = corners.Select((c, i) => (c, n: corners[(i + 1) % corners.Count])).Sum(p => p.c.X * p.n.Y - p.n.X * p.c.Y);
        return Figure.Exact(
            $"Area of {room.Label}",
            Math.Abs(twice) / 2,
            "m²",
            new Working("A = ½ |Σ (x·y' − x'·y)|", [new("corners", corners.Count, "", "plan")], "shoelace formula")
        );
    }

    private static Room? Room(SiteDesign site, string key) => site.Place.Rooms.FirstOrDefault(r => r.Key == key);
}
