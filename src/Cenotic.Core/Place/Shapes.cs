using Cenotic.Core.Design;
using NetTopologySuite.Geometries;
using NetTopologySuite.Geometries.Utilities;
using NetTopologySuite.Operation.OverlayNG;
using NetTopologySuite.Simplify;
using Point = Cenotic.Core.Design.Point;

namespace Cenotic.Core.Place;

/// <summary>Areas on the plan of a floor, m, y down, and what they have in common.</summary>
internal static class Shapes
{
    /// <summary>Outlines that are drawn are true to this, m.</summary>
    private const double DrawnMetres = 0.01;

    private static readonly GeometryFactory Factory = new();

    internal static readonly Geometry None = Factory.CreatePolygon();

    /// <summary>The area inside corners that follow each other; none for fewer than three.</summary>
    /// <param name="exact">Corners nearer than this to a line without them are left out, m; 0 for none.</param>
    internal static Geometry Inside(IEnumerable<Point> corners, double exact = 0)
    {
        var ring = corners.Select(c => new Coordinate(c.X, c.Y)).ToList();
        if (ring.Count < 3)
        {
            return None;
        }
        ring.Add(ring[0].Copy());
        Coordinate[] outline = exact > 0 ? DouglasPeuckerLineSimplifier.Simplify([.. ring], exact) : [.. ring];
        if (outline.Length < 4)
        {
            return None;
        }
        var polygon = Factory.CreatePolygon(outline);
        return polygon.IsValid ? polygon : GeometryFixer.Fix(polygon);
    }

    /// <summary>A place well inside of corners that follow each other; null for fewer than three.</summary>
    internal static Point? PointInside(IReadOnlyList<Point> corners) =>
        Inside(corners) is { IsEmpty: false } area ? new(Math.Round(area.InteriorPoint.X, 2), Math.Round(area.InteriorPoint.Y, 2)) : null;

    internal static Geometry Common(Geometry a, Geometry b) =>
        a.IsEmpty || b.IsEmpty || !a.EnvelopeInternal.Intersects(b.EnvelopeInternal)
            ? None
            : OverlayNGRobust.Overlay(a, b, NetTopologySuite.Operation.Overlay.SpatialFunction.Intersection);

    internal static Geometry Without(Geometry a, Geometry b) =>
        a.IsEmpty || b.IsEmpty ? a : OverlayNGRobust.Overlay(a, b, NetTopologySuite.Operation.Overlay.SpatialFunction.Difference);

    internal static Geometry Together(IReadOnlyList<Geometry> shapes) =>
        shapes.Count switch
        {
            0 => None,
            1 => shapes[0],
            _ => OverlayNGRobust.Union(shapes),
        };

    /// <summary>Outlines to draw, in whole centimetres: those of its parts and of the holes in them, to be filled by the even-odd rule.</summary>
    internal static IReadOnlyList<IReadOnlyList<Point>> Outlines(Geometry shape)
    {
        if (shape.IsEmpty)
        {
            return [];
        }
        var drawn = TopologyPreservingSimplifier.Simplify(shape, DrawnMetres);
        return
        [
            .. PolygonExtracter
                .GetPolygons(drawn)
                .Cast<Polygon>()
                .Where(p => p.Area > DrawnMetres)
                .SelectMany(p => p.Holes.Prepend(p.Shell))
                .Select(r => (IReadOnlyList<Point>)[.. r.Coordinates.Skip(1).Select(c => new Point(Math.Round(c.X, 2), Math.Round(c.Y, 2)))]),
        ];
    }

    /// <summary>Whether no line between two places inside leaves it.</summary>
    internal static bool IsConvex(Geometry shape) => shape.ConvexHull().Area - shape.Area < 1e-9;

    /// <summary>Whether a wall goes through an area, not only along its edge.</summary>
    internal static bool GoesThrough(Wall wall, Geometry inner) =>
        inner.Intersects(Factory.CreateLineString([new(wall.From.X, wall.From.Y), new(wall.To.X, wall.To.Y)]));

    /// <summary>The largest of the pieces of an area; none where it is empty.</summary>
    internal static Geometry Largest(Geometry shape) => PolygonExtracter.GetPolygons(shape).MaxBy(p => p.Area) ?? None;
}
