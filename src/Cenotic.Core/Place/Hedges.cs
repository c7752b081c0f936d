using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>Trees and hedges where something looks: leaves hide what is behind from light and warmth; microwaves go through as through light walls.</summary>
internal static class Hedges
{
    /// <summary>The edges of all areas full of trees, as light walls.</summary>
    internal static IEnumerable<Wall> Edges(PlaceDesign place) =>
        Of(place)
            .SelectMany(area =>
                area.Corners.Select(
                    (from, at) => new Wall($"{area.Key}/{at}", from, area.Corners[(at + 1) % area.Corners.Count], WallMaterial.Timber, Floor: area.Floor)
                )
            );

    /// <summary>Whether a line goes through leaves, on the floor of its area.</summary>
    internal static bool Between(PlaceDesign place, Spot from, Spot to) =>
        Of(place).Any(area => place.FloorOf(from)?.Key == area.Floor && WallCrossings.PartInside(area.Corners, place.At(from), place.At(to)) > 0);

    private static IEnumerable<Room> Of(PlaceDesign place) => place.Rooms.Where(r => r.Tags.Contains(RoomTag.Trees));
}
