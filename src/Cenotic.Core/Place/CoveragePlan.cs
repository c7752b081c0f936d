using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>What the sensors of a site see.</summary>
/// <param name="Sights">Of each sensor with a field of view that hangs at a spot.</param>
/// <param name="Rooms">Rooms in which a motion or presence sensor hangs.</param>
/// <param name="LeftOut">Sensors that are not looked at, since a plan may take only so much work.</param>
public sealed record CoveragePlan(IReadOnlyList<Sight> Sights, IReadOnlyList<RoomCoverage> Rooms, int LeftOut);

/// <summary>What a sensor sees of a floor at the height of a body, or a beam at its own.</summary>
/// <param name="Part">Key of the part on the node.</param>
/// <param name="Label">Of the part.</param>
/// <param name="Watches">True for motion and presence: it counts for its room. False for what measures along a beam.</param>
/// <param name="Floor">Key of its floor; null for the ground.</param>
/// <param name="Room">Key of the room in which it hangs; null for none.</param>
/// <param name="Outlines">To be filled by the even-odd rule, m on the plan.</param>
/// <param name="Sees">Of the room in which it hangs, m², with the least and the most that its range may be; of a beam, how wide it is where it ends, m.</param>
/// <param name="Beyond">What it sees of other rooms.</param>
/// <param name="Step">How far somebody goes sideways where its range ends before it must be seen, m; null where the zones of its lens are not known.</param>
public sealed record Sight(
    string Node,
    string Part,
    string NodeLabel,
    string Label,
    bool Watches,
    string Spot,
    string? Floor,
    string? Room,
    IReadOnlyList<IReadOnlyList<Point>> Outlines,
    Figure Sees,
    IReadOnlyList<SeenBeyond> Beyond,
    Figure? Step = null
);

/// <summary>A room into which a sensor of another room sees.</summary>
/// <param name="ThroughWalls">True where a wall or a closed door is between.</param>
public sealed record SeenBeyond(string Room, string Label, double SquareMetres, bool ThroughWalls);

/// <summary>What the motion and presence sensors of a site see of a room in which one of them hangs.</summary>
/// <param name="Share">Part of the room that one of them sees, %.</param>
/// <param name="BlindSquareMetres">What none of them sees, m².</param>
/// <param name="Blind">Outlines of that, m on the plan.</param>
/// <param name="BlindAt">Where most of that is, as one says it of the plan: "upper left".</param>
/// <param name="Overlaps">What two of the first twelve of them see both.</param>
public sealed record RoomCoverage(
    string Room,
    string Label,
    string? Floor,
    Figure Share,
    double BlindSquareMetres,
    IReadOnlyList<IReadOnlyList<Point>> Blind,
    string BlindAt,
    IReadOnlyList<Overlap> Overlaps
);

/// <summary>A part of a room that two sensors see: one that fails there is made good by the other, and both report who stands there.</summary>
public sealed record Overlap(string FirstNode, string FirstPart, string SecondNode, string SecondPart, double SquareMetres);
