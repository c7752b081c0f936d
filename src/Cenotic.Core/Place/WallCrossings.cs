using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>A wall that a straight line goes through.</summary>
/// <param name="AtMetres">From the start of the line, over the plan, m.</param>
/// <param name="Degrees">Between the line and the straight way through, 0 to 90.</param>
public sealed record WallCrossing(Wall Wall, double AtMetres, double Degrees);

/// <summary>Which walls a straight line over the plan meets. No radio in it: a sensor's view asks the same.</summary>
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

    /// <summary>The walls between two points in the order in which they are met. One that only touches an end of the line is not gone through; one that runs
    /// along the line is not either. Where walls of one material meet in a corner, one is gone through.</summary>
    public static IReadOnlyList<WallCrossing> Of(IReadOnlyList<Wall> walls, Point from, Point to)
    {
        var length = Math.Sqrt(Square(to.X - from.X) + Square(to.Y - from.Y));
        var met = walls.Select(w => Crossing(w, from, to, length)).OfType<WallCrossing>().OrderBy(c => c.AtMetres).ToList();
        return [.. met.Where((c, i) => !met.Take(i).Any(o => o.Wall.Material == c.Wall.Material && c.AtMetres - o.AtMetres < CornerMetres))];
    }

    private static WallCrossing? Crossing(Wall wall, Point from, Point to, double length)
    {
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        var (wx, wy) = (wall.To.X - wall.From.X, wall.To.Y - wall.From.Y);
        var across = dx * wy - dy * wx;
        var wide = Math.Sqrt(wx * wx + wy * wy);
        if (length == 0 || wide == 0 || Math.Abs(across) < 1e-9 * length * wide)
        {
            return null;
        }
        var (ox, oy) = (wall.From.X - from.X, wall.From.Y - from.Y);
        var (along, onWall) = ((ox * wy - oy * wx) / across, (ox * dy - oy * dx) / across);
        return along is > 1e-9 and < 1 - 1e-9 && onWall is >= -1e-9 and <= 1 + 1e-9
            ? new(wall, along * length, Math.Acos(Math.Min(1, Math.Abs(across) / (length * wide))) * 180 / Math.PI)
            : null;
    }

    private static double Square(double x) => x * x;
}
