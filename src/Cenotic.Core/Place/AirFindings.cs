using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>Sensors of the air of a room that hang beside what warms, cools or moves it there.</summary>
internal sealed class AirFindings(PlaceDesign place)
{
    private const double FromHeat = 1,
        FromWindow = 0.5,
        OverWindow = 0.3,
        LongLead = 0.5;

    /// <summary>Something beside which the air is another, and how far a sensor stays from it, m.</summary>
    private sealed record Beside(string Label, double Metres, double Apart, Point At);

    internal IEnumerable<Finding> Of(NodeDesign node)
    {
        if (place.Spot(node.Spot) is not { } spot || place.Rooms.FirstOrDefault(r => r.Key == spot.Room) is not { } room || room.Tags.Contains(RoomTag.Outdoor))
        {
            yield break;
        }
        var parts = node
            .Parts.Where(p => p.LeadMetres <= LongLead && node.Readings.Any(r => r.Part == p.Key && r.Quantity is "temperature" or "humidity"))
            .ToList();
        if (parts.Count == 0 || Nearest(spot) is not { } near)
        {
            yield break;
        }
        yield return new(
            "PLACE-AIR-NEAR",
            Severity.Note,
            new("place", node.Key, parts[0].Key),
            $"{string.Join(" and ", parts.Select(p => p.Label))} of {node.Label} hangs {near.Metres:0.0} m from {near.Label}.",
            "It reads the air there and not that of the room.",
            [.. Away(spot, room, near).Take(1).Select(s => new Remedy($"Hang {node.Label} {near.Apart:0.#} m from there", [new PutSpot(s)]))],
            "On an inner wall, 1.5 m up, away from heaters, windows and doors.",
            "common practice, no source"
        );
    }

    private Beside? Nearest(Spot spot) => Near(spot).MinBy(b => b.Metres / b.Apart);

    private IEnumerable<Beside> Near(Spot spot)
    {
        var (floor, at) = (place.FloorOf(spot)?.Key, new Point(spot.X, spot.Y));
        var heat = place
            .HeatSources.Where(h => place.Floor(h.Floor)?.Key == floor)
            .Select(h => new Beside(h.Label, PlanGeometry.Between(at, new(h.X, h.Y)), FromHeat, new(h.X, h.Y)));
        var windows = place
            .Walls.Where(w => place.Floor(w.Floor)?.Key == floor)
            .SelectMany(w => w.Openings.Where(o => IsWindowAt(o, spot)).Select(o => OfWindow(w, o, at)));
        return heat.Concat(windows).Where(b => b.Metres < b.Apart - 0.01);
    }

    private static bool IsWindowAt(Opening opening, Spot spot) =>
        opening.Kind is OpeningKind.Window or OpeningKind.CoatedWindow
        && spot.HeightMetres > opening.SillMetres - OverWindow
        && spot.HeightMetres < opening.SillMetres + opening.HeightMetres + OverWindow;

    private static Beside OfWindow(Wall wall, Opening opening, Point at)
    {
        var nearest = PlanGeometry.Nearest(PlanGeometry.Along(wall, opening.AtMetres), PlanGeometry.Along(wall, opening.AtMetres + opening.WidthMetres), at);
        return new("a window", PlanGeometry.Between(at, nearest), FromWindow, nearest);
    }

    /// <summary>Places of the room beside nothing of that kind, the nearest first.</summary>
    private IEnumerable<Spot> Away(Spot spot, Room room, Beside near) =>
        Enumerable
            .Range(1, 6)
            .SelectMany(ring => Enumerable.Range(0, 16).Select(i => (Metres: near.Apart * (0.9 + 0.2 * ring), Angle: i * Math.PI / 8)))
            .Select(p => spot with { X = Math.Round(near.At.X + p.Metres * Math.Cos(p.Angle), 2), Y = Math.Round(near.At.Y + p.Metres * Math.Sin(p.Angle), 2) })
            .Where(s => PlacePlanner.Contains(room.Corners, new(s.X, s.Y)) && Nearest(s) is null && PlacePlanner.WallAt(place, s) is null)
            .OrderBy(s => PlanGeometry.Between(new(s.X, s.Y), new(spot.X, spot.Y)));
}
