using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>What the spot of a node does to electronics: the tags of its room.</summary>
public sealed record Surroundings(string Room, bool Wet, bool Outdoor, bool Hot, bool Cold, bool Dusty = false, bool Sleeping = false)
{
    /// <summary>A dry room of ordinary warmth, or a node without a spot.</summary>
    public static readonly Surroundings Indoors = new("", false, false, false, false);

    /// <summary>True where a cell may freeze or overheat while it is charged.</summary>
    public bool BeyondCharging => Outdoor || Hot || Cold;

    /// <summary>The surroundings of a node of a site.</summary>
    public static Surroundings Of(SiteDesign site, NodeDesign node) => At(site.Place, site.Place.Spot(node.Spot));

    /// <summary>The surroundings at a spot, also one that the place does not have yet; those of a dry room where there is none.</summary>
    public static Surroundings At(PlaceDesign place, Spot? spot) =>
        spot?.Room is { } key && place.Rooms.FirstOrDefault(r => r.Key == key) is { } room
            ? new(
                room.Label,
                room.Tags.Contains(RoomTag.Wet),
                room.Tags.Contains(RoomTag.Outdoor),
                room.Tags.Contains(RoomTag.Hot),
                room.Tags.Contains(RoomTag.Cold),
                room.Tags.Contains(RoomTag.Dusty),
                room.Tags.Contains(RoomTag.Sleeping)
            )
            : Indoors;
}
