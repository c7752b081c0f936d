namespace Cenotic.Core.Design;

/// <summary>Sums over points of the plan, m, y down.</summary>
internal static class PlanGeometry
{
    /// <summary>From one point to another, m.</summary>
    internal static double Between(Point a, Point b) => Math.Sqrt(Math.Pow(b.X - a.X, 2) + Math.Pow(b.Y - a.Y, 2));

    /// <summary>Twice the area inside an outline, m²; above 0 where it goes round clockwise as it is drawn. Source: shoelace formula.</summary>
    internal static double TwiceArea(IReadOnlyList<Point> corners) =>
        corners.Select((c, i) => (c, n: corners[(i + 1) % corners.Count])).Sum(p => p.c.X * p.n.Y - p.n.X * p.c.Y);
}
