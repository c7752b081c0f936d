namespace Cenotic.Core.Design;

/// <summary>The scaled plan. Coordinates in metres, x to the right, y down, from the plan's top left; all floors have the same corner.</summary>
public sealed record PlaceDesign(IReadOnlyList<Room> Rooms, IReadOnlyList<Wall> Walls, IReadOnlyList<Spot> Spots)
{
    /// <summary>Height of a storey of which nothing else is known, m. Common practice, no source.</summary>
    public const double UsualCeilingMetres = 2.5;

    /// <summary>Floors of the building; empty where all stands on the ground.</summary>
    public IReadOnlyList<Floor> Floors { get; init; } = [];

    /// <summary>Where nodes that send over Wi-Fi are heard.</summary>
    public IReadOnlyList<AccessPoint> AccessPoints { get; init; } = [];

    /// <summary>Heaters and vents.</summary>
    public IReadOnlyList<HeatSource> HeatSources { get; init; } = [];

    /// <summary>Where on the earth the plan lies; null where nobody said.</summary>
    public SiteAnchor? Anchor { get; init; }

    /// <summary>Photos and scans of paper plans that lie under the plan to draw on: one a floor at most.</summary>
    public IReadOnlyList<FloorScan> Scans { get; init; } = [];

    /// <summary>The floor with a key; null for the ground.</summary>
    public Floor? Floor(string? key) => Floors.FirstOrDefault(f => f.Key == key);

    /// <summary>The spot with a key, or null.</summary>
    public Spot? Spot(string? key) => Spots.FirstOrDefault(s => s.Key == key);

    /// <summary>The floor that a spot is on: that of its room; null for the ground.</summary>
    public Floor? FloorOf(Spot spot) => Floor(Rooms.FirstOrDefault(r => r.Key == spot.Room)?.Floor);

    /// <summary>Where a spot is, its height from the ground, m.</summary>
    public Point3 At(Spot spot) => new(spot.X, spot.Y, (FloorOf(spot)?.LevelMetres ?? 0) + spot.HeightMetres);
}

/// <summary>What it is like in a room.</summary>
public enum RoomTag
{
    /// <summary>Steam or splashes.</summary>
    Wet,

    /// <summary>Open to the weather.</summary>
    Outdoor,

    /// <summary>Hotter than a house is.</summary>
    Hot,

    /// <summary>Colder than a house is.</summary>
    Cold,

    /// <summary>Dust in the air.</summary>
    Dusty,

    /// <summary>People sleep there.</summary>
    Sleeping,

    /// <summary>Outdoors, full of trees or a hedge.</summary>
    Trees,
}

/// <summary>A place on the plan, metres from its upper left corner.</summary>
public sealed record Point(double X, double Y);

/// <summary>A place in the building: on the plan, and above the ground, m.</summary>
public readonly record struct Point3(double X, double Y, double Z);

/// <summary>Where on the earth the plan's upper left corner lies, and where up the plan points. Source of the terms: RFC 7946, WGS 84.</summary>
/// <param name="LatitudeDegrees">North is positive.</param>
/// <param name="LongitudeDegrees">East is positive.</param>
/// <param name="BearingDegrees">Of up the plan: 0 is north, clockwise.</param>
public sealed record SiteAnchor(double LatitudeDegrees, double LongitudeDegrees, double BearingDegrees = 0);

/// <summary>A picture of a paper plan under a floor. A point of the picture, in pixels from its upper left corner, lies at that corner plus the point turned
/// and made as many metres as a pixel has.</summary>
/// <param name="Floor">Key of its floor; null for the ground.</param>
/// <param name="Picture">What the picture is kept as.</param>
/// <param name="X">Of its upper left corner, m.</param>
/// <param name="Y">Of its upper left corner, m.</param>
/// <param name="TurnDegrees">Clockwise about that corner.</param>
public sealed record FloorScan(string? Floor, long Picture, int PixelsWide, int PixelsHigh, double X, double Y, double MetresPerPixel, double TurnDegrees = 0);

/// <summary>A storey.</summary>
/// <param name="LevelMetres">Its floor above the ground, m; below 0 for a cellar.</param>
/// <param name="CeilingMetres">From its floor to its ceiling, m.</param>
/// <param name="Slab">What lies under it, as a wall would be of it; null where that is not known.</param>
/// <param name="SlabMetres">How thick that is, m; null for the usual thickness.</param>
public sealed record Floor(
    string Key,
    string Label,
    double LevelMetres,
    double CeilingMetres = PlaceDesign.UsualCeilingMetres,
    WallMaterial? Slab = null,
    double? SlabMetres = null
);

/// <summary>A room as a polygon of at least three corners.</summary>
/// <param name="Floor">Key of its floor; null for the ground.</param>
/// <param name="WatchedPercent">Part of it that its motion and presence sensors should see, %; null for the usual.</param>
public sealed record Room(
    string Key,
    string Label,
    IReadOnlyList<Point> Corners,
    IReadOnlyList<RoomTag> Tags,
    string? Floor = null,
    double? WatchedPercent = null
)
{
    /// <summary>With what most are content, %. Common practice, no source.</summary>
    public const double UsualWatchedPercent = 80;
}

/// <summary>What a wall is made of.</summary>
public enum WallMaterial
{
    /// <summary>Plasterboard on studs.</summary>
    Plasterboard,

    /// <summary>Brick.</summary>
    Brick,

    /// <summary>Concrete.</summary>
    Concrete,

    /// <summary>Timber.</summary>
    Timber,

    /// <summary>Glass.</summary>
    Glass,

    /// <summary>Metal.</summary>
    Metal,
}

/// <summary>A straight wall of the plan, from the floor to the ceiling.</summary>
/// <param name="ThicknessMetres">How thick it is, m; null for the usual thickness of its material.</param>
/// <param name="Floor">Key of its floor; null for the ground.</param>
public sealed record Wall(string Key, Point From, Point To, WallMaterial Material, double? ThicknessMetres = null, string? Floor = null)
{
    /// <summary>Doors and windows in it.</summary>
    public IReadOnlyList<Opening> Openings { get; init; } = [];

    /// <summary>Its length on the plan, m.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public double LengthMetres => PlanGeometry.Between(From, To);
}

/// <summary>What is in an opening of a wall.</summary>
public enum OpeningKind
{
    /// <summary>A timber door, closed.</summary>
    Door,

    /// <summary>A window.</summary>
    Window,

    /// <summary>A window with a coating of metal that keeps heat in.</summary>
    CoatedWindow,

    /// <summary>Nothing: one walks through.</summary>
    Passage,
}

/// <summary>A door or window in a wall.</summary>
/// <param name="AtMetres">Where it begins, from the start of the wall, m.</param>
/// <param name="WidthMetres">Along the wall, m.</param>
/// <param name="SillMetres">Where it begins above the floor, m.</param>
/// <param name="HeightMetres">From there up, m.</param>
public sealed record Opening(OpeningKind Kind, double AtMetres, double WidthMetres, double SillMetres = 0, double HeightMetres = 2);

/// <summary>A place for a node.</summary>
/// <param name="HeightMetres">Above the floor.</param>
/// <param name="FacingDegrees">Where a sensor there looks: 0 is up the plan, clockwise.</param>
/// <param name="TiltDegrees">How far down it looks from there: 0 is level, 90 straight down.</param>
public sealed record Spot(string Key, string Label, string? Room, double X, double Y, double HeightMetres, double FacingDegrees, double TiltDegrees = 0);

/// <summary>An access point of a wireless network: not a node, but where nodes are heard.</summary>
/// <param name="Spot">Key of the spot where it stands.</param>
/// <param name="Channel">Its channel in the 2.4 GHz band, 1 to 13; null where it chooses one itself.</param>
/// <param name="RadiatedDbm">What it sends with, antenna included, dBm e.i.r.p.; null for the usual.</param>
public sealed record AccessPoint(string Key, string Label, string Spot, int? Channel = null, double? RadiatedDbm = null)
{
    /// <summary>What most send with, dBm e.i.r.p.: the most that is allowed in Europe. Common practice, no source.</summary>
    public const double UsualRadiatedDbm = 20;

    /// <summary>Middle of a channel of the 2.4 GHz band, MHz. Source: IEEE 802.11.</summary>
    /// <param name="channel">1 to 13.</param>
    public static double Megahertz(int channel) => 2407 + 5 * channel;
}
