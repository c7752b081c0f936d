namespace Cenotic.Core.Design;

/// <summary>A corner of a room that is put elsewhere, with all that meets there: corners of other rooms of the floor, and ends of walls. Pure geometry, in
/// metres.</summary>
internal static class CornerMove
{
    /// <param name="from">Where the corner was.</param>
    internal static PlaceDesign Apply(PlaceDesign place, string? floor, Point from, Point to)
    {
        Point Put(Point p) => SideMove.Between(p, from) < SideMove.OnMetres ? to : p;
        bool Meets(Point p) => SideMove.Between(p, from) < SideMove.OnMetres;
        return place with
        {
            Rooms = [.. place.Rooms.Select(r => r.Floor == floor && r.Corners.Any(Meets) ? r with { Corners = [.. r.Corners.Select(Put)] } : r)],
            Walls = [.. place.Walls.Select(w => w.Floor == floor && (Meets(w.From) || Meets(w.To)) ? SideMove.WithEnds(w, Put(w.From), Put(w.To)) : w)],
        };
    }
}
