using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using NetTopologySuite.Geometries;
using Point = Cenotic.Core.Design.Point;

namespace Cenotic.Core.Place;

/// <summary>
/// The part of a floor that a sensor sees at one height, usually that of a body: as far as it reaches, between the edges of its field of view, and as far as
/// walls, trees and hedges let it.
/// It looks along rays all round, and to both sides of each corner of a wall, door or window, so that straight edges are exact and round ones chords of
/// two degrees: an area of two ten-thousandths too little.
/// </summary>
internal sealed class SeenArea
{
    /// <summary>Height at which a body is looked for, m: the chest of somebody who walks. Common practice, no source.</summary>
    internal const double BodyMetres = 1.0;

    private const double BesideCorner = 1e-6,
        NearestMetres = 0.001,
        StepDegrees = 2,
        ExactMetres = 0.001;

    private readonly Spot _spot;
    private readonly FieldOfView _view;
    private readonly double _height,
        _rise;
    private readonly IReadOnlyList<Ray> _rays;
    private readonly Geometry _edges;

    /// <summary>A direction on the plan, and what is left of the range behind each thing that is met on it.</summary>
    private sealed record Ray(double X, double Y, IReadOnlyList<(double AtMetres, double Left)> Met);

    /// <param name="height">Above the floor at which it is looked for something, m.</param>
    internal SeenArea(PlaceDesign place, Spot spot, FieldOfView view, double height = BodyMetres)
    {
        (_spot, _view, _height, _rise) = (spot, view, height, height - spot.HeightMetres);
        var radius = Radius(view.RangeMetres.High);
        var near = place with { Walls = [.. place.Walls.Concat(Hedges.Edges(place)).Where(w => Reaches(w, spot, radius))] };
        _rays =
            radius > 0 ? [.. Angles(near, spot).Where(MaySee).OrderBy(a => Math.IEEERemainder(Beside(a), 2 * Math.PI)).Select(a => Look(near, a, radius))] : [];
        _edges = Edges(spot, view, radius);
    }

    /// <summary>The walls that may hide something from a spot: all others may change without what is seen.</summary>
    internal static List<Wall> Near(PlaceDesign place, Spot spot, FieldOfView view) => [.. place.Walls.Where(w => Reaches(w, spot, view.RangeMetres.High))];

    /// <summary>How much work it is to look from a spot near to such walls: rays times what each may meet.</summary>
    internal static long Steps(List<Wall> near)
    {
        var openings = near.Sum(w => (long)w.Openings.Count);
        return ((long)(360 / StepDegrees) + 4 * (near.Count + openings)) * (near.Count + openings);
    }

    /// <summary>What it sees with a range, m.</summary>
    internal Geometry Within(double range)
    {
        var radius = Radius(range);
        if (radius <= 0 || _rays.Count < 2)
        {
            return Shapes.None;
        }
        var ends = _rays.Select(r => End(r, range));
        // Where it does not look all round the outline goes through the sensor.
        return Shapes.Common(Shapes.Inside(MayTurnAway ? ends.Append(new(_spot.X, _spot.Y)) : ends, ExactMetres), _edges);
    }

    /// <summary>True where it sees to one side only, and level, so that rays to the other side are left out.</summary>
    private bool MayTurnAway => _view.HorizontalDegrees < FieldOfView.AllRound && _spot.TiltDegrees == 0;

    /// <summary>Whether a direction lies within its field of view, or near to its edge.</summary>
    /// <param name="angle">Of the plan, rad.</param>
    private bool MaySee(double angle) =>
        !MayTurnAway || Math.Abs(Math.IEEERemainder(Beside(angle), 2 * Math.PI)) <= (_view.HorizontalDegrees / 2 + 1.5 * StepDegrees) * Math.PI / 180;

    /// <summary>An angle of the plan from straight ahead on, rad.</summary>
    private double Beside(double angle) => angle - (_spot.FacingDegrees - 90) * Math.PI / 180;

    /// <summary>What is left of the range behind a thing that is met: 1 behind a passage, 0 where nothing gets through.</summary>
    internal static double Left(FieldOfView view, WallCrossing met) =>
        met.Opening?.Kind switch
        {
            OpeningKind.Passage => 1,
            OpeningKind.Door => view.ThroughLight,
            OpeningKind.Window => view.ThroughGlass,
            OpeningKind.CoatedWindow => 0,
            _ => met.Wall.Material switch
            {
                WallMaterial.Plasterboard or WallMaterial.Timber => view.ThroughLight,
                WallMaterial.Glass => view.ThroughGlass,
                WallMaterial.Brick => view.ThroughBrick,
                _ => 0,
            },
        };

    /// <summary>How far over the plan a range goes at the height of a body, m; 0 where it does not get there.</summary>
    private double Radius(double range) => Math.Sqrt(Math.Max(0, range * range - _rise * _rise));

    private static bool Reaches(Wall wall, Spot spot, double radius) =>
        wall.LengthMetres > 0
        && Math.Min(wall.From.X, wall.To.X) <= spot.X + radius
        && Math.Max(wall.From.X, wall.To.X) >= spot.X - radius
        && Math.Min(wall.From.Y, wall.To.Y) <= spot.Y + radius
        && Math.Max(wall.From.Y, wall.To.Y) >= spot.Y - radius;

    /// <summary>Directions to look in, rad: all round, and to both sides of each corner.</summary>
    private static IEnumerable<double> Angles(PlaceDesign near, Spot spot)
    {
        List<double> angles = [.. Enumerable.Range(0, (int)(360 / StepDegrees)).Select(i => (i * StepDegrees - 180 + 0.37) * Math.PI / 180)];
        foreach (var wall in near.Walls)
        {
            var (dx, dy) = ((wall.To.X - wall.From.X) / wall.LengthMetres, (wall.To.Y - wall.From.Y) / wall.LengthMetres);
            double[] corners = [0, wall.LengthMetres, .. wall.Openings.SelectMany(o => new[] { o.AtMetres, o.AtMetres + o.WidthMetres })];
            foreach (var at in corners)
            {
                var angle = Math.Atan2(wall.From.Y + at * dy - spot.Y, wall.From.X + at * dx - spot.X);
                angles.AddRange(new[] { -BesideCorner, BesideCorner }.Select(b => Math.IEEERemainder(angle + b, 2 * Math.PI)));
            }
        }
        return angles;
    }

    private Ray Look(PlaceDesign near, double angle, double radius)
    {
        var (x, y) = (Math.Cos(angle), Math.Sin(angle));
        var level = (near.FloorOf(_spot)?.LevelMetres ?? 0) + _height;
        var met = WallCrossings.Walls(near, new(_spot.X, _spot.Y, level), new(_spot.X + radius * x, _spot.Y + radius * y, level));
        return new(x, y, [.. met.Select(m => (m.AtMetres, Left(_view, m)))]);
    }

    private Point End(Ray ray, double range)
    {
        var (end, left) = (Radius(range), 1.0);
        foreach (var (at, behind) in ray.Met)
        {
            if (at >= end)
            {
                break;
            }
            left *= behind;
            end = Math.Clamp(Radius(range * left), at, end);
        }
        end = Math.Max(NearestMetres, end);
        return new(_spot.X + end * ray.X, _spot.Y + end * ray.Y);
    }

    /// <summary>Planes through the sensor that bound its field of view: a direction is inside where no product with one is above 0.</summary>
    internal static List<(double X, double Y, double Z)> Bounds(FieldOfView view, double facing, double tilt)
    {
        var (f, t) = (facing * Math.PI / 180, tilt * Math.PI / 180);
        var ahead = (X: Math.Sin(f) * Math.Cos(t), Y: -Math.Cos(f) * Math.Cos(t), Z: -Math.Sin(t));
        var right = (X: Math.Cos(f), Y: Math.Sin(f), Z: 0.0);
        var up = (X: Math.Sin(f) * Math.Sin(t), Y: -Math.Cos(f) * Math.Sin(t), Z: Math.Cos(t));
        List<(double X, double Y, double Z)> bounds = [];
        foreach (var (degrees, side) in new[] { (view.HorizontalDegrees, right), (view.VerticalDegrees, up) }.Where(a => a.Item1 < FieldOfView.AllRound))
        {
            var tan = Math.Tan(degrees / 2 * Math.PI / 180);
            bounds.AddRange(new[] { 1, -1 }.Select(s => (s * side.X - tan * ahead.X, s * side.Y - tan * ahead.Y, s * side.Z - tan * ahead.Z)));
        }
        return bounds;
    }

    /// <summary>Whether a direction lies within such bounds.</summary>
    internal static bool IsWithin(List<(double X, double Y, double Z)> bounds, double x, double y, double z)
    {
        foreach (var bound in bounds)
        {
            if (bound.X * x + bound.Y * y + bound.Z * z > 0)
            {
                return false;
            }
        }
        return true;
    }

    /// <summary>The field of view where it meets the height of a body.</summary>
    private Geometry Edges(Spot spot, FieldOfView view, double radius)
    {
        var far = radius + 1;
        List<Point> corners = [new(-far, -far), new(far, -far), new(far, far), new(-far, far)];
        foreach (var (x, y, z) in Bounds(view, spot.FacingDegrees, spot.TiltDegrees))
        {
            corners = Cut(corners, p => x * p.X + y * p.Y + z * _rise);
        }
        return Shapes.Inside(corners.Select(c => new Point(spot.X + c.X, spot.Y + c.Y)));
    }

    /// <summary>The part of a convex outline where a linear function is not above 0 (Sutherland and Hodgman 1974).</summary>
    private static List<Point> Cut(List<Point> corners, Func<Point, double> above)
    {
        List<Point> kept = [];
        for (var i = 0; i < corners.Count; i++)
        {
            var (a, b) = (corners[i], corners[(i + 1) % corners.Count]);
            var (atA, atB) = (above(a), above(b));
            if (atA <= 0)
            {
                kept.Add(a);
            }
            if (atA < 0 && atB > 0 || atA > 0 && atB < 0)
            {
                var part = atA / (atA - atB);
                kept.Add(new(a.X + part * (b.X - a.X), a.Y + part * (b.Y - a.Y)));
            }
        }
        return kept;
    }
}
