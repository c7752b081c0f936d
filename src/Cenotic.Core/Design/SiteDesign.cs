using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>Everything a person decided about a site. Immutable; changed only by <see cref="EditBatch.Apply"/>.</summary>
public sealed record SiteDesign(SiteSettings Settings, PlaceDesign Place, IReadOnlyList<NodeDesign> Nodes, IReadOnlyList<RuleDesign> Rules)
{
    /// <summary>Boards the maker added to the catalogue; one with the id of a shipped board stands in its place.</summary>
    public IReadOnlyList<Catalogue.Board> OwnBoards { get; init; } = [];

    /// <summary>Parts the maker added to the catalogue.</summary>
    public IReadOnlyList<Catalogue.Part> OwnParts { get; init; } = [];

    /// <summary>What lies in the drawer, and what more of it costs.</summary>
    public IReadOnlyList<StockItem> Stock { get; init; } = [];

    /// <summary>The version that documents are written in.</summary>
    public const int FormatVersion = 1;

    /// <summary>A site with nothing in it yet.</summary>
    public static SiteDesign Empty(string name, string timeZone = "Etc/UTC") => new(new(name, timeZone, RadioRegion.Unset), new([], [], []), [], []);

    public NodeDesign? Node(string key) => Nodes.FirstOrDefault(n => n.Key == key);

    public RuleDesign? Rule(string key) => Rules.FirstOrDefault(r => r.Key == key);
}

/// <summary>Stock and price of one thing: a board, part, cell or supply by its catalogue id, or a component by its value ("10 kΩ").</summary>
/// <param name="OnHand">How many lie in the drawer.</param>
/// <param name="Offers">How more can be bought.</param>
public sealed record StockItem(string Id, int OnHand, IReadOnlyList<StockOffer> Offers);

/// <summary>One way to buy: a pack of so many, its price in the maker's own currency, and the days until it is here.</summary>
public sealed record StockOffer(string From, int PackSize, double PackPrice, int Days);

/// <summary>Radio rules that apply; unset until the maker says where the site is.</summary>
public enum RadioRegion { Unset, Europe868, America915 }

/// <param name="TimeZone">IANA name, such as Europe/London.</param>
public sealed record SiteSettings(string Name, string TimeZone, RadioRegion Region);

/// <summary>The scaled plan. Coordinates in metres, x to the right, y down, from the plan's top left.</summary>
public sealed record PlaceDesign(IReadOnlyList<Room> Rooms, IReadOnlyList<Wall> Walls, IReadOnlyList<Spot> Spots);

public enum RoomTag { Wet, Outdoor, Hot, Cold, Dusty, Sleeping }

public sealed record Point(double X, double Y);

/// <summary>A room as a polygon of at least three corners.</summary>
public sealed record Room(string Key, string Label, IReadOnlyList<Point> Corners, IReadOnlyList<RoomTag> Tags);

public enum WallMaterial { Plasterboard, Brick, Concrete, Timber, Glass, Metal }

public sealed record Wall(string Key, Point From, Point To, WallMaterial Material);

/// <summary>A place for a node.</summary>
/// <param name="HeightMetres">Above the floor.</param>
/// <param name="FacingDegrees">Where a sensor there looks: 0 is up the plan, clockwise.</param>
public sealed record Spot(string Key, string Label, string? Room, double X, double Y, double HeightMetres, double FacingDegrees);

/// <summary>How a node sends.</summary>
public enum LinkKind { Wifi, LongRange }

public enum PowerKind { Usb, FiveVolt, Cells, TwelveVolt, TwentyFourVolt, OverCable }

/// <summary>What feeds a node, and what protects it.</summary>
/// <param name="Cell">Catalogue id of the cell; with <see cref="PowerKind.Cells"/> only.</param>
/// <param name="Parallel">Cells side by side.</param>
/// <param name="StepUp">True when a converter makes 5 V from the cells.</param>
/// <param name="Module">Catalogue id of the step-down or powered-device module between a higher supply and the board.</param>
/// <param name="TwelveVoltStepUp">True when a step-up module makes 12 V for a load beside the board.</param>
/// <param name="FuseAmps">Rating of the fuse at the source, ampere; null when there is none.</param>
/// <param name="ReverseGuard">True when a diode or MOSFET blocks a reversed supply.</param>
/// <param name="SurgeGuard">True when clamps stand at the cables that leave the building or are long.</param>
/// <param name="LeadMetres">Length of the cable from the source.</param>
/// <param name="LeadAwg">Its gauge; null when not known.</param>
/// <param name="AlsoUsb">True when USB is plugged in beside this supply now and then.</param>
/// <param name="BackfeedGuard">True when a diode keeps the two apart.</param>
/// <param name="Charger">Catalogue id of a charger for the cells, or null.</param>
/// <param name="ChargerMeasuresCell">True when the charger measures the temperature of the cell.</param>
/// <param name="CellCutOff">True when a protection board cuts an empty or shorted cell off.</param>
public sealed record PowerDesign(
    PowerKind Kind, string? Cell = null, int Parallel = 1, bool StepUp = false, string? Module = null, bool TwelveVoltStepUp = false, double? FuseAmps = null,
    bool ReverseGuard = false, bool SurgeGuard = false, double LeadMetres = 0, int? LeadAwg = null, bool AlsoUsb = false, bool BackfeedGuard = false,
    string? Charger = null, bool ChargerMeasuresCell = false, bool CellCutOff = true);

/// <summary>One node: a board, what hangs on it, what it reads and how it sends.</summary>
/// <param name="Sleeps">True when it sleeps between wakes; false when it is always on.</param>
/// <param name="MeasuresSupply">True when it measures its own cell through a divider and the converter.</param>
/// <param name="AddsModules">True when the planner may add expanders, a multiplexer or a converter where there is no plan without.</param>
/// <param name="Housing">What stands around the board; null when it is open.</param>
public sealed record NodeDesign(
    string Key, string Label, string? Spot, string Board, PowerDesign Power, LinkKind Link, bool Sleeps, bool MeasuresSupply,
    IReadOnlyList<PartInstance> Parts, IReadOnlyList<WireDesign> Wires, IReadOnlyList<ReadingDesign> Readings, bool AddsModules = true, Housing? Housing = null)
{
    public PartInstance? Part(string key) => Parts.FirstOrDefault(p => p.Key == key);

    public ReadingDesign? Reading(string key) => Readings.FirstOrDefault(r => r.Key == key);
}

/// <summary>What stands around a node's board and the parts with short leads.</summary>
/// <param name="Vented">True when air passes through.</param>
/// <param name="Sealed">True when no water gets in.</param>
/// <param name="ClearLid">True when light gets in.</param>
public sealed record Housing(bool Vented, bool Sealed, bool ClearLid);

/// <summary>One part on a node.</summary>
/// <param name="Part">Catalogue id.</param>
/// <param name="Interface">The interface the maker chose, or null: the planner chooses.</param>
/// <param name="Address">The I2C address the maker strapped, or null.</param>
/// <param name="LeadMetres">Length of its lead.</param>
/// <param name="SwitchSupply">True when a transistor cuts its supply between readings.</param>
/// <param name="Bits">Resolution, where the part has a choice.</param>
public sealed record PartInstance(
    string Key, string Label, string Part, Catalogue.InterfaceKind? Interface = null, int? Address = null, double LeadMetres = 0.2, bool SwitchSupply = false, int? Bits = null);

/// <summary>What holds a wire where it is.</summary>
public enum WireHold
{
    /// <summary>The maker wants this pin.</summary>
    Locked,

    /// <summary>The wire is soldered there: moving it costs.</summary>
    Soldered,
}

/// <summary>A wire that is decided: a line of a part on a pin of the board.</summary>
public sealed record WireDesign(string Part, string Line, string Pin, WireHold Hold)
{
    [JsonIgnore]
    public string Key => $"{Part}.{Line}";
}

/// <summary>One quantity read from one part, and when.</summary>
/// <param name="IntervalMs">Time between readings; null for a reading that is sent when it changes.</param>
/// <param name="HeartbeatMs">For on-change readings, the longest silence; null for none.</param>
public sealed record ReadingDesign(string Key, string Label, string Part, string Quantity, long? IntervalMs, long? HeartbeatMs, int Decimals)
{
    /// <summary>The longest time that may pass between two samples when all is well, or null when there is no such time.</summary>
    [JsonIgnore]
    public long? LongestGapMs => IntervalMs ?? HeartbeatMs;
}

/// <summary>When to be told. The condition is judged on arrival, live and on the past, by the same code.</summary>
/// <param name="Note">What to do about it, in the maker's words.</param>
public sealed record RuleDesign(string Key, string Label, string Node, string Reading, RuleCondition Condition, string Note, bool Armed);

/// <summary>What a rule watches for.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(BeyondLimit), "beyondLimit")]
[JsonDerivedType(typeof(SilentFor), "silentFor")]
public abstract record RuleCondition;

public enum LimitSide { Above, Below }

/// <summary>Above or below <paramref name="Limit"/> for <paramref name="ForMs"/>; over when it is back at <paramref name="Clear"/> or better.</summary>
public sealed record BeyondLimit(LimitSide Side, double Limit, double Clear, long ForMs) : RuleCondition;

/// <summary>Nothing heard for <paramref name="ForMs"/>.</summary>
public sealed record SilentFor(long ForMs) : RuleCondition;

/// <summary>A current the maker measured on a node; replaces the catalogue's value.</summary>
public enum PowerState { Asleep, Active }

public sealed record MeasuredCurrent(string Node, PowerState State, double Milliamps, string How, long AtMs);

/// <summary>What was measured and changes a plan.</summary>
public sealed record Evidence(IReadOnlyList<MeasuredCurrent> Currents)
{
    public static readonly Evidence None = new([]);

    /// <summary>The latest measured current of a node in a state, or null.</summary>
    public MeasuredCurrent? Current(string node, PowerState state) =>
        Currents.Where(c => c.Node == node && c.State == state).OrderByDescending(c => c.AtMs).FirstOrDefault();
}

/// <summary>A site as a file: what the interface exports and <c>./run plan</c> reads.</summary>
public sealed record SiteFile(string Format, int FormatVersion, SiteDesign Design, Evidence Evidence)
{
    public const string FormatName = "cenotic-site";
}
