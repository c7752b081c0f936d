namespace Cenotic.Core.Design;

/// <summary>Sums over points of the plan, m, y down.</summary>
internal static class PlanGeometry
{
    /// <summary>From one point to another, m.</summary>
    internal static double Between(Point a, Point b) => Math.Sqrt(Math.Pow(b.X - a.X, 2) + Math.Pow(b.Y - a.Y, 2));

    /// <summary>From one place of the building to another, m.</summary>
    internal static double InSpace(Point3 a, Point3 b) => Math.Sqrt(Math.Pow(b.X - a.X, 2) + Math.Pow(b.Y - a.Y, 2) + Math.Pow(b.Z - a.Z, 2));

    /// <summary>The place so far along a wall, m from its start.</summary>
    internal static Point Along(Wall wall, double metres)
    {
        var part = metres / wall.LengthMetres;
        return new(wall.From.X + part * (wall.To.X - wall.From.X), wall.From.Y + part * (wall.To.Y - wall.From.Y));
    }

    /// <summary>The place between two ends that is nearest to a point.</summary>
    internal static Point Nearest(Point from, Point to, Point at)
    {
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        var squared = dx * dx + dy * dy;
        var part = squared > 0 ? Math.Clamp(((at.X - from.X) * dx + (at.Y - from.Y) * dy) / squared, 0, 1) : 0;
        return new(from.X + part * dx, from.Y + part * dy);
    }

    /// <summary>Twice the area inside an outline, m²; above 0 where it goes round clockwise as it is drawn. Source: shoelace formula.</summary>
    internal static double TwiceArea(IReadOnlyList<Point> corners) =>
        corners.Select((c, i) => (c, n: corners[(i + 1) % corners.Count])).Sum(p => p.c.X * p.n.Y - p.n.X * p.c.Y);
}
