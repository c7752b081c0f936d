using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using NetTopologySuite.Geometries;
using Point = Cenotic.Core.Design.Point;

namespace Cenotic.Core.Place;

/// <summary>A place where the sensors of a node might hang, and what is seen of the room then.</summary>
/// <param name="SharePercent">Part of the room that this and the other sensors see, %.</param>
/// <param name="Windows">Windows that an infrared sensor there looks at.</param>
/// <param name="HeatSources">Heaters and vents that it looks at.</param>
/// <param name="Stays">True where it only turns.</param>
public sealed record SpotChoice(Spot Spot, double SharePercent, int Windows, int HeatSources, bool Stays)
{
    /// <summary>Where a sensor there looks, as one says it of the plan.</summary>
    public string Looks => Direction(Spot);

    internal static string Direction(Spot spot) => Compass(spot.FacingDegrees) + (spot.TiltDegrees > 0 ? $", {spot.TiltDegrees:0}° down" : "");

    private static string Compass(double degrees) =>
        ((int)Math.Round(degrees / 45) % 8) switch
        {
            0 => "up the plan",
            1 => "to the upper right",
            2 => "to the right",
            3 => "to the lower right",
            4 => "down the plan",
            5 => "to the lower left",
            6 => "to the left",
            _ => "to the upper left",
        };
}

/// <summary>
/// Where the sensors of a node should hang to see as much as possible of a room: along its sides and in its corners, at the height at which they hang,
/// in several directions and tilts. Places are told apart by a raster; what the best of them see is then worked out exactly.
/// </summary>
internal sealed class BestSpot
{
    private const double FromCorner = 0.15,
        FromWall = 0.05,
        BesideOpening = 0.15,
        FromAntenna = 0.3,
        RunnerUpMetres = 1,
        WindowPoints = 15,
        InnerMetres = 0.02;
    private static readonly double[] Turns = [-45, -22.5, 0, 22.5, 45];
    private static readonly double[] Tilts = [0, 15, 30, 45];

    private readonly PlaceDesign _near,
        _inner;
    private readonly double _along;
    private readonly Room _room;
    private readonly Spot _spot;
    private readonly IReadOnlyList<FieldOfView> _views;
    private readonly Geometry _area,
        _others;
    private readonly double _level;
    private readonly List<Point> _cells,
        _windows,
        _heat;
    private readonly int _all;

    /// <summary>A choice by its raster.</summary>
    private sealed record Tried(Spot Spot, double Share, int Windows, int HeatSources)
    {
        internal double Points => Share - WindowPoints * (Windows + HeatSources);
    }

    /// <param name="views">Of the sensors that hang at the spot.</param>
    /// <param name="others">What others see.</param>
    /// <param name="fine">True for a question that is asked; false for one among many, with a quarter of the raster and half the places.</param>
    internal BestSpot(PlaceDesign place, Room room, Spot spot, IReadOnlyList<FieldOfView> views, Geometry others, bool fine)
    {
        (_room, _spot, _views, _others, _area) = (room, spot, views, others, Shapes.Inside(room.Corners));
        // A very large room is tried in longer steps.
        _along = fine ? Math.Max(0.4, _area.Length / 200) : Math.Max(0.8, _area.Length / 50);
        var box = Around(_area);
        _near = place with { Walls = Near(place, _area) };
        // In a room without corners that jut into it, only walls within hide anything of it.
        var within = _area.Buffer(-InnerMetres);
        _inner = Shapes.IsConvex(_area) ? _near with { Walls = [.. _near.Walls.Where(w => Shapes.GoesThrough(w, within))] } : _near;
        _level = (place.Floor(room.Floor)?.LevelMetres ?? 0) + SeenArea.BodyMetres;
        var all = Raster(box, fine ? 400 : 100).ToList();
        _all = all.Count;
        _cells = others.IsEmpty ? all : [.. all.Where(c => !others.Covers(others.Factory.CreatePoint(new Coordinate(c.X, c.Y))))];
        _windows =
        [
            .. _near
                .Walls.Where(w => w.Floor == room.Floor)
                .SelectMany(w => w.Openings.Where(o => o.Kind is OpeningKind.Window or OpeningKind.CoatedWindow).Select(o => Middle(w, o))),
        ];
        _heat = [.. place.HeatSources.Where(h => h.Floor == room.Floor && box.Contains(h.X, h.Y)).Select(h => new Point(h.X, h.Y))];
    }

    /// <summary>The walls that matter to a room: all others may change without its choices.</summary>
    internal static List<Wall> Near(PlaceDesign place, Geometry room)
    {
        var box = Around(room);
        return [.. place.Walls.Where(w => box.Intersects(new Envelope(w.From.X, w.To.X, w.From.Y, w.To.Y)))];
    }

    private static Envelope Around(Geometry room)
    {
        var box = room.EnvelopeInternal.Copy();
        box.ExpandBy(1);
        return box;
    }

    /// <summary>The best way to turn it where it hangs, the best place, and the best of those at least 1 m from there; the best first.</summary>
    internal IReadOnlyList<SpotChoice> Choices(CancellationToken stop = default)
    {
        if (_all == 0)
        {
            return [];
        }
        var turned = Best(Enumerable.Range(0, 24).SelectMany(f => Tilts.Select(t => _spot with { FacingDegrees = f * 15, TiltDegrees = t })));
        List<Tried> moved = [];
        foreach (var place in Places())
        {
            stop.ThrowIfCancellationRequested();
            if (Best(place) is { } best)
            {
                moved.Add(best);
            }
        }
        moved = [.. moved.OrderByDescending(m => m.Points)];
        var first = moved.FirstOrDefault();
        var second = moved.FirstOrDefault(m => first is not null && Apart(m.Spot, first.Spot) >= RunnerUpMetres);
        return
        [
            .. new[] { turned, first, second }
                .OfType<Tried>()
                .Select(Exact)
                .OrderByDescending(c => c.SharePercent - WindowPoints * (c.Windows + c.HeatSources)),
        ];
    }

    private IEnumerable<Point> Raster(Envelope box, int cells)
    {
        var step = Math.Sqrt(Math.Max(0.01, _area.Area) / cells);
        for (var y = box.MinY + step / 2; y < box.MaxY; y += step)
        {
            for (var x = box.MinX + step / 2; x < box.MaxX; x += step)
            {
                if (PlacePlanner.Contains(_room.Corners, new(x, y)))
                {
                    yield return new(x, y);
                }
            }
        }
    }

    /// <summary>Places along the sides of the room, each with the directions and tilts that are tried there.</summary>
    private IEnumerable<IEnumerable<Spot>> Places()
    {
        var corners = _room.Corners;
        for (var i = 0; i < corners.Count; i++)
        {
            var (a, b) = (corners[i], corners[(i + 1) % corners.Count]);
            var length = Math.Sqrt(Math.Pow(b.X - a.X, 2) + Math.Pow(b.Y - a.Y, 2));
            // Clear of the walls that meet it at its ends.
            var begins = FromCorner + HalfWall(corners[(i + corners.Count - 1) % corners.Count], a);
            var stretch = length - FromCorner - HalfWall(b, corners[(i + 2) % corners.Count]) - begins;
            if (stretch < 0)
            {
                continue;
            }
            var (dx, dy) = ((b.X - a.X) / length, (b.Y - a.Y) / length);
            var inward = PlacePlanner.Contains(corners, new((a.X + b.X) / 2 - 0.01 * dy, (a.Y + b.Y) / 2 + 0.01 * dx)) ? (X: -dy, Y: dx) : (X: dy, Y: -dx);
            var off = FromWall + HalfWall(a, b);
            var steps = Math.Max(1, (int)Math.Ceiling(stretch / _along));
            for (var s = 0; s <= steps; s++)
            {
                var along = begins + s * stretch / steps;
                var (onX, onY) = (a.X + along * dx, a.Y + along * dy);
                var at = new Point(Math.Round(onX + off * inward.X, 2), Math.Round(onY + off * inward.Y, 2));
                if (PlacePlanner.Contains(corners, at) && !AtOpening(new(onX, onY)) && !AtAntenna(at))
                {
                    var ahead = Math.Atan2(inward.X, -inward.Y) * 180 / Math.PI;
                    yield return Turns.SelectMany(turn =>
                        Tilts.Select(tilt =>
                            _spot with
                            {
                                Room = _room.Key,
                                X = at.X,
                                Y = at.Y,
                                FacingDegrees = Math.Round((ahead + turn + 720) % 360),
                                TiltDegrees = tilt,
                            }
                        )
                    );
                }
            }
        }
    }

    /// <summary>How far the walls along a side reach into the room, m.</summary>
    private double HalfWall(Point a, Point b) =>
        _near.Walls.Where(w => w.Floor == _room.Floor && Lies(w, a, b)).Select(w => WallCrossings.ThicknessMetres(w) / 2).DefaultIfEmpty(0).Max();

    /// <summary>The best of several directions at one place; null for none.</summary>
    private Tried? Best(IEnumerable<Spot> turned)
    {
        List<(bool[] Clear, FieldOfView View)>? seen = null;
        List<Point> windows = [],
            heat = [];
        Tried? best = null;
        foreach (var spot in turned)
        {
            if (seen is null)
            {
                var place = IsInside(spot) ? _inner : _near;
                seen = [.. _views.Select(v => (_cells.Select(c => Clear(place, v, spot, c)).ToArray(), v))];
                bool Warms(Point at) => _views.Any(v => v.By == SeesBy.Infrared && Clear(place, v, spot, Before(spot, at)));
                (windows, heat) = ([.. _windows.Where(Warms)], [.. _heat.Where(Warms)]);
            }
            var tried = Try(spot, seen, windows, heat);
            best = best is null || tried.Points > best.Points + 1e-9 ? tried : best;
        }
        return best;
    }

    private Tried Try(Spot spot, List<(bool[] Clear, FieldOfView View)> seen, List<Point> windows, List<Point> heat)
    {
        var rise = SeenArea.BodyMetres - spot.HeightMetres;
        var bounds = seen.ConvertAll(s => SeenArea.Bounds(s.View, spot.FacingDegrees, spot.TiltDegrees));
        var count = 0;
        for (var c = 0; c < _cells.Count; c++)
        {
            var (x, y) = (_cells[c].X - spot.X, _cells[c].Y - spot.Y);
            for (var v = 0; v < seen.Count; v++)
            {
                if (seen[v].Clear[c] && SeenArea.IsWithin(bounds[v], x, y, rise))
                {
                    count++;
                    break;
                }
            }
        }
        bool LooksAt(Point at) =>
            seen.Zip(bounds).Any(s => s.First.View.By == SeesBy.Infrared && SeenArea.IsWithin(s.Second, at.X - spot.X, at.Y - spot.Y, rise));
        return new(spot, 100.0 * (_all - _cells.Count + count) / _all, windows.Count(LooksAt), heat.Count(LooksAt));
    }

    /// <summary>Whether a place is within range of a sensor and no wall hides it.</summary>
    private bool Clear(PlaceDesign place, FieldOfView view, Spot spot, Point at)
    {
        var (x, y, rise) = (at.X - spot.X, at.Y - spot.Y, SeenArea.BodyMetres - spot.HeightMetres);
        var range = view.RangeMetres.Likely;
        var metres = Math.Sqrt(x * x + y * y + rise * rise);
        if (metres > range)
        {
            return false;
        }
        foreach (var met in WallCrossings.Walls(place, new(spot.X, spot.Y, _level), new(at.X, at.Y, _level)))
        {
            range *= SeenArea.Left(view, met);
        }
        return metres <= range;
    }

    private bool IsInside(Spot spot) => PlacePlanner.Contains(_room.Corners, new(spot.X, spot.Y));

    private SpotChoice Exact(Tried tried)
    {
        var seen = _views.Select(v => new SeenArea(_near, tried.Spot, v).Within(v.RangeMetres.Likely)).Append(_others).Where(s => !s.IsEmpty).ToList();
        var blind = Shapes.Without(_area, Shapes.Together(seen)).Area;
        var stays = tried.Spot.X == _spot.X && tried.Spot.Y == _spot.Y;
        return new(tried.Spot, _area.Area > 0 ? 100 * (1 - blind / _area.Area) : 0, tried.Windows, tried.HeatSources, stays);
    }

    /// <summary>The middle of an opening on the plan.</summary>
    internal static Point Middle(Wall wall, Opening opening) => PlanGeometry.Along(wall, opening.AtMetres + opening.WidthMetres / 2);

    /// <summary>Just before a place, seen from a spot.</summary>
    private static Point Before(Spot spot, Point at) => new(spot.X + 0.98 * (at.X - spot.X), spot.Y + 0.98 * (at.Y - spot.Y));

    private static double Apart(Spot a, Spot b) => Math.Sqrt(Math.Pow(a.X - b.X, 2) + Math.Pow(a.Y - b.Y, 2));

    /// <summary>Whether a wall lies along a side of the room.</summary>
    private static bool Lies(Wall wall, Point a, Point b)
    {
        var side = new LineSegment(a.X, a.Y, b.X, b.Y);
        var middle = new LineSegment(wall.From.X, wall.From.Y, wall.To.X, wall.To.Y);
        return middle.Distance(side.MidPoint) < 0.1 || (side.Distance(middle.MidPoint) < 0.1 && Math.Abs(Math.Sin(side.Angle - middle.Angle)) < 0.1);
    }

    private bool AtOpening(Point at) =>
        _near.Walls.Any(w =>
            w.Floor == _room.Floor
            && w.Openings.Any(o =>
                o.SillMetres - BesideOpening < _spot.HeightMetres
                && o.SillMetres + o.HeightMetres + BesideOpening > _spot.HeightMetres
                && On(w, o).Distance(new Coordinate(at.X, at.Y)) < BesideOpening
            )
        );

    private static LineSegment On(Wall wall, Opening opening)
    {
        var line = new LineSegment(wall.From.X, wall.From.Y, wall.To.X, wall.To.Y);
        return new(line.PointAlong(opening.AtMetres / line.Length), line.PointAlong((opening.AtMetres + opening.WidthMetres) / line.Length));
    }

    private bool AtAntenna(Point at) =>
        _near.AccessPoints.Select(a => _near.Spot(a.Spot)).OfType<Spot>().Any(s => Math.Abs(s.X - at.X) < FromAntenna && Math.Abs(s.Y - at.Y) < FromAntenna);
}
