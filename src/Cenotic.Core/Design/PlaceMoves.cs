namespace Cenotic.Core.Design;

/// <summary>What is moved over the plan: a side or a corner of a room, the picture under it.</summary>
internal static class PlaceMoves
{
    /// <summary>The plan with the edit in it: of a room that is there, and a side or corner that it has.</summary>
    internal static PlaceDesign Apply(PlaceDesign place, PlaceEdit edit) =>
        edit switch
        {
            MoveSide e => SideMove.Apply(place, place.Rooms.First(r => r.Key == e.Key), e.Side, e.Metres),
            MoveCorner e when place.Rooms.First(r => r.Key == e.Key) is var room => CornerMove.Apply(place, room.Floor, room.Corners[e.Corner], e.To),
            _ => throw new ArgumentOutOfRangeException(nameof(edit), edit, "Nothing is moved by it."),
        };

    /// <summary>The picture scaled, and turned where that is wanted, about the first of two points.</summary>
    internal static FloorScan Fitted(FloorScan scan, FitScan fit)
    {
        var scale = fit.Metres / PlanGeometry.Between(fit.From, fit.To);
        var slant = Math.Atan2(fit.To.Y - fit.From.Y, fit.To.X - fit.From.X) * 180 / Math.PI;
        var turn = fit.Level ? Math.Round(slant / 90) * 90 - slant : 0;
        var (sine, cosine) = Math.SinCos(turn * Math.PI / 180);
        var (x, y) = (scan.X - fit.From.X, scan.Y - fit.From.Y);
        return scan with
        {
            X = Math.Round(fit.From.X + scale * (cosine * x - sine * y), 4),
            Y = Math.Round(fit.From.Y + scale * (sine * x + cosine * y), 4),
            MetresPerPixel = scan.MetresPerPixel * scale,
            TurnDegrees = Math.IEEERemainder(scan.TurnDegrees + turn, 360),
        };
    }
}
