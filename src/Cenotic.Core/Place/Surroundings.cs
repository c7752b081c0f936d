using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>What the spot of a node does to electronics: the tags of its room.</summary>
public sealed record Surroundings(string Room, bool Wet, bool Outdoor, bool Hot, bool Cold)
{
    /// <summary>A dry room of ordinary warmth, or a node without a spot.</summary>
    public static readonly Surroundings Indoors = new("", false, false, false, false);

    /// <summary>True where a cell may freeze or overheat while it is charged.</summary>
    public bool BeyondCharging => Outdoor || Hot || Cold;

    /// <summary>The surroundings of a node of a site.</summary>
    public static Surroundings Of(SiteDesign site, NodeDesign node) =>
        site.Place.Spots.FirstOrDefault(s => s.Key == node.Spot)?.Room is { } key && site.Place.Rooms.FirstOrDefault(r => r.Key == key) is { } room
            ? new(
                room.Label,
                room.Tags.Contains(RoomTag.Wet),
                room.Tags.Contains(RoomTag.Outdoor),
                room.Tags.Contains(RoomTag.Hot),
                room.Tags.Contains(RoomTag.Cold)
            )
            : Indoors;
}
