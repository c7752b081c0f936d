using System.Globalization;
using System.Xml.Linq;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Formats;

/// <summary>A floor of the plan as a drawing, 1 : 50. Source: SVG 1.1.</summary>
public static class PlaceSvg
{
    private const double MillimetresPerMetre = 20,
        EdgeMetres = 1,
        LetterMetres = 0.28,
        HeaterMetres = 0.6,
        BarMetres = 2;
    private const string Ink = "#20303a",
        Paper = "#ffffff";
    private static readonly XNamespace Svg = "http://www.w3.org/2000/svg";

    /// <summary>Draws rooms, walls with their doors and windows, heaters and vents, and spots.</summary>
    /// <param name="floor">Key of the floor; null for the ground.</param>
    public static string Write(PlaceDesign place, string? floor)
    {
        var rooms = place.Rooms.Where(r => place.Floor(r.Floor)?.Key == floor).ToList();
        var walls = place.Walls.Where(w => place.Floor(w.Floor)?.Key == floor).ToList();
        var spots = place.Spots.Where(s => place.FloorOf(s)?.Key == floor).ToList();
        List<Point> points = [.. rooms.SelectMany(r => r.Corners), .. walls.SelectMany(w => new[] { w.From, w.To }), .. spots.Select(s => new Point(s.X, s.Y))];
        var (left, up) = (points.Select(p => p.X).DefaultIfEmpty(0).Min() - EdgeMetres, points.Select(p => p.Y).DefaultIfEmpty(0).Min() - EdgeMetres);
        var (wide, deep) = (
            points.Select(p => p.X).DefaultIfEmpty(0).Max() + EdgeMetres - left,
            points.Select(p => p.Y).DefaultIfEmpty(0).Max() + 2 * EdgeMetres - up
        );
        return new XElement(
            Svg + "svg",
            new XAttribute("viewBox", $"{N(left)} {N(up)} {N(wide)} {N(deep)}"),
            new XAttribute("width", $"{N(wide * MillimetresPerMetre)}mm"),
            new XAttribute("height", $"{N(deep * MillimetresPerMetre)}mm"),
            new XAttribute("font-family", "sans-serif"),
            new XElement(Svg + "title", place.Floor(floor)?.Label ?? "Ground"),
            rooms.Select(Draw),
            walls.Select(Draw),
            place.HeatSources.Where(h => place.Floor(h.Floor)?.Key == floor).Select(Draw),
            spots.Select(Draw),
            Bar(left + EdgeMetres, up + deep - EdgeMetres)
        ).ToString(SaveOptions.DisableFormatting);
    }

    private static string N(double metres) => Math.Round(metres, 3).ToString(CultureInfo.InvariantCulture);

    private static object[] Draw(Room room)
    {
        var outline = new XElement(
            Svg + "polygon",
            new XAttribute("points", string.Join(' ', room.Corners.Select(c => $"{N(c.X)},{N(c.Y)}"))),
            new XAttribute("fill", "none"),
            new XAttribute("stroke", Ink),
            new XAttribute("stroke-width", "0.02"),
            new XAttribute("stroke-dasharray", "0.15 0.1")
        );
        return Shapes.PointInside(room.Corners) is { } middle ? [outline, Words(room.Label, middle.X, middle.Y)] : [outline];
    }

    private static object[] Draw(Wall wall)
    {
        var thick = WallCrossings.ThicknessMetres(wall);
        return [Line(wall.From, wall.To, thick, Ink), .. wall.Openings.SelectMany(o => Draw(wall, o, thick))];
    }

    /// <summary>The wall is broken there; a window is a line along it.</summary>
    private static IEnumerable<XElement> Draw(Wall wall, Opening opening, double thick)
    {
        var (from, to) = (PlanGeometry.Along(wall, opening.AtMetres), PlanGeometry.Along(wall, opening.AtMetres + opening.WidthMetres));
        yield return Line(from, to, thick * 1.05, Paper);
        if (opening.Kind != OpeningKind.Passage)
        {
            yield return Line(from, to, opening.Kind == OpeningKind.Door ? 0.06 : 0.02, Ink);
        }
    }

    private static object[] Draw(HeatSource source) =>
        [
            Line(new(source.X - HeaterMetres / 2, source.Y), new(source.X + HeaterMetres / 2, source.Y), 0.12, Ink),
            Words(source.Label, source.X, source.Y + 1.3 * LetterMetres),
        ];

    private static object[] Draw(Spot spot) =>
        [
            new XElement(
                Svg + "circle",
                new XAttribute("cx", N(spot.X)),
                new XAttribute("cy", N(spot.Y)),
                new XAttribute("r", "0.1"),
                new XAttribute("fill", Ink)
            ),
            Words($"{spot.Label}, {N(spot.HeightMetres)} m", spot.X, spot.Y + 1.3 * LetterMetres),
        ];

    private static XElement Line(Point from, Point to, double width, string colour) =>
        new(
            Svg + "line",
            new XAttribute("x1", N(from.X)),
            new XAttribute("y1", N(from.Y)),
            new XAttribute("x2", N(to.X)),
            new XAttribute("y2", N(to.Y)),
            new XAttribute("stroke", colour),
            new XAttribute("stroke-width", N(width))
        );

    private static XElement Words(string text, double x, double y) =>
        new(
            Svg + "text",
            new XAttribute("x", N(x)),
            new XAttribute("y", N(y)),
            new XAttribute("font-size", N(LetterMetres)),
            new XAttribute("text-anchor", "middle"),
            new XAttribute("fill", Ink),
            text
        );

    private static object[] Bar(double x, double y) =>
        [Line(new(x, y), new(x + BarMetres, y), 0.04, Ink), Words("2 m", x + BarMetres / 2, y + 1.2 * LetterMetres)];
}
