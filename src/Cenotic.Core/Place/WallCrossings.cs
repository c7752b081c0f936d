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

    /// <summary>The walls of one storey between two points of it in the order in which they are met, at any height. One that only touches an end of the line
    /// is not gone through; one that runs along the line is not either. Where walls of one material meet in a corner, one is gone through.</summary>
    public static IReadOnlyList<WallCrossing> Of(IReadOnlyList<Wall> walls, Point from, Point to) =>
        Met(walls, new(from.X, from.Y, 0), new(to.X, to.Y, 0), (_, _, _) => new(true, null));

    /// <summary>The walls of all storeys between two places, as <see cref="Of"/>: those that reach up or down to where the line passes, and the doors and
    /// windows that it goes through.</summary>
    public static IReadOnlyList<WallCrossing> Walls(PlaceDesign place, Point3 from, Point3 to) =>
        Met(place.Walls, from, to, (wall, onWall, z) => Through(place.Floor(wall.Floor), wall, onWall, z));

    /// <summary>The floors between two places, from below to above.</summary>
    public static IReadOnlyList<FloorCrossing> Floors(PlaceDesign place, Point3 from, Point3 to)
    {
        var (dx, dy, dz) = (to.X - from.X, to.Y - from.Y, to.Z - from.Z);
        var degrees = Math.Atan2(Math.Sqrt(dx * dx + dy * dy), Math.Abs(dz)) * 180 / Math.PI;
        var (low, high) = (Math.Min(from.Z, to.Z), Math.Max(from.Z, to.Z));
        return [.. place.Floors.Where(f => f.LevelMetres > low && f.LevelMetres < high).OrderBy(f => f.LevelMetres).Select(f => new FloorCrossing(f, degrees))];
    }

    /// <summary>Whether a line meets a wall at this height, and what it meets there.</summary>
    private readonly record struct Meeting(bool Meets, Opening? Opening);

    private static Meeting Through(Floor? floor, Wall wall, double onWall, double z)
    {
        var above = z - (floor?.LevelMetres ?? 0);
        var ceiling = floor?.CeilingMetres ?? PlaceDesign.UsualCeilingMetres;
        if (above < 0 || above > ceiling)
        {
            return new(false, null);
        }
        var at = onWall * wall.LengthMetres;
        return new(
            true,
            wall.Openings.FirstOrDefault(o =>
                at > o.AtMetres && at < o.AtMetres + o.WidthMetres && above >= o.SillMetres && above < o.SillMetres + o.HeightMetres
            )
        );
    }

    private static List<WallCrossing> Met(IReadOnlyList<Wall> walls, Point3 from, Point3 to, Func<Wall, double, double, Meeting> through)
    {
        List<WallCrossing> met = [];
        foreach (var wall in walls)
        {
            if (Crossing(wall, from, to, through) is { } crossing)
            {
                met.Add(crossing);
            }
        }
        if (met.Count < 2)
        {
            return met;
        }
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

    private static WallCrossing? Crossing(Wall wall, Point3 from, Point3 to, Func<Wall, double, double, Meeting> through)
    {
        var (dx, dy, dz) = (to.X - from.X, to.Y - from.Y, to.Z - from.Z);
        var (wx, wy) = (wall.To.X - wall.From.X, wall.To.Y - wall.From.Y);
        var length = Math.Sqrt(dx * dx + dy * dy);
        var across = dx * wy - dy * wx;
        var wide = Math.Sqrt(wx * wx + wy * wy);
        if (length == 0 || wide == 0 || Math.Abs(across) < 1e-9 * length * wide)
        {
            return null;
        }
        var (ox, oy) = (wall.From.X - from.X, wall.From.Y - from.Y);
        var (along, onWall) = ((ox * wy - oy * wx) / across, (ox * dy - oy * dx) / across);
        if (!(along is > 1e-9 and < 1 - 1e-9 && onWall is >= -1e-9 and <= 1 + 1e-9))
        {
            return null;
        }
        var meeting = through(wall, onWall, from.Z + along * dz);
        var space = Math.Sqrt(length * length + dz * dz);
        return meeting.Meets ? new(wall, meeting.Opening, along * length, Math.Acos(Math.Min(1, Math.Abs(across) / (space * wide))) * 180 / Math.PI) : null;
    }
}
