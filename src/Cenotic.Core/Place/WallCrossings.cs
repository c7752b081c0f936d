using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>A wall that a straight line goes through.</summary>
/// <param name="Opening">The door or window that it goes through; null where it meets the wall itself.</param>
/// <param name="AtMetres">From the start of the line, over the plan, m.</param>
/// <param name="Degrees">Between the line and the straight way through, 0 to 90.</param>
public sealed record WallCrossing(Wall Wall, Opening? Opening, double AtMetres, double Degrees);

/// <summary>A floor that a straight line goes through from storey to storey.</summary>
/// <param name="Degrees">Between the line and the vertical, 0 to 90.</param>
public sealed record FloorCrossing(Floor Floor, double Degrees);

/// <summary>Which walls and floors a straight line meets. No radio in it: a sensor's view asks the same.</summary>
public static class WallCrossings
{
    /// <summary>Crossings nearer to each other than this are one: walls that meet in a corner.</summary>
    private const double CornerMetres = 0.01;

    /// <summary>A floor nearer to the ground than this is the ground floor, m.</summary>
    private const double SameLevelMetres = 0.5;

    private static readonly Floor Ground = new("", "the ground", 0);

    /// <summary>Thickness of a wall of which nothing else is known, m: two boards, half a brick, a cast wall, boards, a pane, a sheet. Common practice, no
    /// source.</summary>
    public static double UsualMetres(WallMaterial material) =>
        material switch
        {
            WallMaterial.Plasterboard => 0.025,
            WallMaterial.Brick => 0.115,
            WallMaterial.Concrete => 0.20,
            WallMaterial.Timber => 0.04,
            WallMaterial.Glass => 0.006,
            _ => 0.001,
        };

    /// <summary>How thick a wall is, m: as drawn, else as usual.</summary>
    public static double ThicknessMetres(Wall wall) => wall.ThicknessMetres ?? UsualMetres(wall.Material);

    /// <summary>The walls of all storeys between two places in the order in which they are met: those that reach up or down to where the line passes, with the
    /// doors and windows that it goes through. One that only touches an end of the line is not gone through; one that runs along the line is not either. Where
    /// walls of one material meet in a corner, one is gone through.</summary>
    public static IReadOnlyList<WallCrossing> Walls(PlaceDesign place, Point3 from, Point3 to)
    {
        // Maps ask this tens of thousands of times, and most walls are not met.
        List<WallCrossing>? met = null;
        var walls = place.Walls;
        for (var i = 0; i < walls.Count; i++)
        {
            if (Crossing(place, walls[i], from, to) is { } crossing)
            {
                (met ??= []).Add(crossing);
            }
        }
        return met is null ? []
            : met.Count < 2 ? met
            : WithoutCorners(met);
    }

    /// <summary>The part of a straight line over the plan that lies inside an outline, 0 to 1.</summary>
    public static double PartInside(IReadOnlyList<Point> corners, Point3 from, Point3 to)
    {
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        List<double> cuts = [0, 1];
        for (var i = 0; i < corners.Count; i++)
        {
            var (a, b) = (corners[i], corners[(i + 1) % corners.Count]);
            var (wx, wy) = (b.X - a.X, b.Y - a.Y);
            var across = dx * wy - dy * wx;
            if (across == 0)
            {
                continue;
            }
            var (ox, oy) = (a.X - from.X, a.Y - from.Y);
            var (along, onSide) = ((ox * wy - oy * wx) / across, (ox * dy - oy * dx) / across);
            if (along is > 0 and < 1 && onSide is >= 0 and <= 1)
            {
                cuts.Add(along);
            }
        }
        cuts.Sort();
        return cuts.Zip(cuts.Skip(1))
            .Sum(c =>
                PlacePlanner.Contains(corners, new(from.X + (c.First + c.Second) / 2 * dx, from.Y + (c.First + c.Second) / 2 * dy)) ? c.Second - c.First : 0
            );
    }

    /// <summary>The floors between two places, from below to above; where rooms of a floor are drawn it is there only below them. Out of a cellar the ground is
    /// gone through also where nobody drew it as a floor.</summary>
    public static IReadOnlyList<FloorCrossing> Floors(PlaceDesign place, Point3 from, Point3 to)
    {
        var (low, high) = (Math.Min(from.Z, to.Z), Math.Max(from.Z, to.Z));
        var between = place.Floors.Where(f => f.LevelMetres > low && f.LevelMetres < high && LiesAt(place, f, from, to)).ToList();
        if (low < 0 && high > 0 && !place.Floors.Any(f => Math.Abs(f.LevelMetres) < SameLevelMetres))
        {
            between.Add(Ground);
        }
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        var degrees = Math.Atan2(Math.Sqrt(dx * dx + dy * dy), high - low) * 180 / Math.PI;
        return [.. between.OrderBy(f => f.LevelMetres).Select(f => new FloorCrossing(f, degrees))];
    }

    /// <summary>Whether a floor lies where a line passes its level: below one of its rooms, or anywhere where none is drawn.</summary>
    private static bool LiesAt(PlaceDesign place, Floor floor, Point3 from, Point3 to)
    {
        var part = (floor.LevelMetres - from.Z) / (to.Z - from.Z);
        var at = new Point(from.X + part * (to.X - from.X), from.Y + part * (to.Y - from.Y));
        var drawn = false;
        foreach (var room in place.Rooms)
        {
            if (room.Floor == floor.Key)
            {
                drawn = true;
                if (PlacePlanner.Contains(room.Corners, at))
                {
                    return true;
                }
            }
        }
        return !drawn;
    }

    private static List<WallCrossing> WithoutCorners(List<WallCrossing> met)
    {
        met.Sort((a, b) => a.AtMetres.CompareTo(b.AtMetres));
        List<WallCrossing> parted = [];
        for (var i = 0; i < met.Count; i++)
        {
            if (!IsCorner(met, i))
            {
                parted.Add(met[i]);
            }
        }
        return parted;
    }

    /// <summary>Whether a wall of the same material is met just before this one: the two meet in a corner.</summary>
    private static bool IsCorner(List<WallCrossing> met, int at)
    {
        for (var before = at - 1; before >= 0 && met[at].AtMetres - met[before].AtMetres < CornerMetres; before--)
        {
            if (met[before].Wall.Material == met[at].Wall.Material)
            {
                return true;
            }
        }
        return false;
    }

    private static WallCrossing? Crossing(PlaceDesign place, Wall wall, Point3 from, Point3 to)
    {
        var (dx, dy, dz) = (to.X - from.X, to.Y - from.Y, to.Z - from.Z);
        var (wx, wy) = (wall.To.X - wall.From.X, wall.To.Y - wall.From.Y);
        var across = dx * wy - dy * wx;
        var (ox, oy) = (wall.From.X - from.X, wall.From.Y - from.Y);
        var along = (ox * wy - oy * wx) / across;
        // Not a number where either has no length.
        if (!(along is > 1e-9 and < 1 - 1e-9))
        {
            return null;
        }
        var onWall = (ox * dy - oy * dx) / across;
        if (!(onWall is >= -1e-9 and <= 1 + 1e-9))
        {
            return null;
        }
        var (length, wide) = (Math.Sqrt(dx * dx + dy * dy), Math.Sqrt(wx * wx + wy * wy));
        if (Math.Abs(across) < 1e-9 * length * wide)
        {
            return null;
        }
        var floor = place.Floor(wall.Floor);
        var above = from.Z + along * dz - (floor?.LevelMetres ?? 0);
        if (above < 0 || above > (floor?.CeilingMetres ?? PlaceDesign.UsualCeilingMetres))
        {
            return null;
        }
        var space = Math.Sqrt(length * length + dz * dz);
        var degrees = Math.Acos(Math.Min(1, Math.Abs(across) / (space * wide))) * 180 / Math.PI;
        return new(wall, OpeningAt(wall, onWall * wide, above), along * length, degrees);
    }

    private static Opening? OpeningAt(Wall wall, double along, double above)
    {
        foreach (var o in wall.Openings)
        {
            if (along > o.AtMetres && along < o.AtMetres + o.WidthMetres && above >= o.SillMetres && above < o.SillMetres + o.HeightMetres)
            {
                return o;
            }
        }
        return null;
    }
}
