namespace Cenotic.Core.Design;

/// <summary>A corner of a room that is put elsewhere, with all that meets there: corners of other rooms of the floor, and ends of walls. Pure geometry, in
/// metres.</summary>
internal static class CornerMove
{
    /// <param name="from">Where the corner was.</param>
    internal static PlaceDesign Apply(PlaceDesign place, string? floor, Point from, Point to)
    {
        bool Meets(Point p) => PlanGeometry.Between(p, from) < SideMove.OnMetres;
        Point Put(Point p) => Meets(p) ? to : p;
        return place with
        {
            Rooms = [.. place.Rooms.Select(r => r.Floor == floor && r.Corners.Any(Meets) ? r with { Corners = [.. r.Corners.Select(Put)] } : r)],
            Walls = [.. place.Walls.Select(w => w.Floor == floor && (Meets(w.From) || Meets(w.To)) ? SideMove.WithEnds(w, Put(w.From), Put(w.To)) : w)],
        };
    }
}
