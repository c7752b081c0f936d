using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>
/// One decision of a person. The set is closed: a click, a remedy, an import and an undo are
/// all lists of these. <see cref="EditBatch.Apply"/> carries them out.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(SetSite), "setSite")]
[JsonDerivedType(typeof(SetAnchor), "setAnchor")]
[JsonDerivedType(typeof(PutRoom), "putRoom")]
[JsonDerivedType(typeof(RemoveRoom), "removeRoom")]
[JsonDerivedType(typeof(MoveSide), "moveSide")]
[JsonDerivedType(typeof(MoveCorner), "moveCorner")]
[JsonDerivedType(typeof(PutWall), "putWall")]
[JsonDerivedType(typeof(RemoveWall), "removeWall")]
[JsonDerivedType(typeof(PutSpot), "putSpot")]
[JsonDerivedType(typeof(RemoveSpot), "removeSpot")]
[JsonDerivedType(typeof(PutFloor), "putFloor")]
[JsonDerivedType(typeof(RemoveFloor), "removeFloor")]
[JsonDerivedType(typeof(PutScan), "putScan")]
[JsonDerivedType(typeof(FitScan), "fitScan")]
[JsonDerivedType(typeof(RemoveScan), "removeScan")]
[JsonDerivedType(typeof(PutAccessPoint), "putAccessPoint")]
[JsonDerivedType(typeof(RemoveAccessPoint), "removeAccessPoint")]
[JsonDerivedType(typeof(PutHeatSource), "putHeatSource")]
[JsonDerivedType(typeof(RemoveHeatSource), "removeHeatSource")]
[JsonDerivedType(typeof(PutNode), "putNode")]
[JsonDerivedType(typeof(SetNode), "setNode")]
[JsonDerivedType(typeof(RemoveNode), "removeNode")]
[JsonDerivedType(typeof(PutPart), "putPart")]
[JsonDerivedType(typeof(RemovePart), "removePart")]
[JsonDerivedType(typeof(PutWire), "putWire")]
[JsonDerivedType(typeof(RemoveWire), "removeWire")]
[JsonDerivedType(typeof(PutReading), "putReading")]
[JsonDerivedType(typeof(RemoveReading), "removeReading")]
[JsonDerivedType(typeof(PutRule), "putRule")]
[JsonDerivedType(typeof(RemoveRule), "removeRule")]
[JsonDerivedType(typeof(PutLine), "putLine")]
[JsonDerivedType(typeof(RemoveLine), "removeLine")]
[JsonDerivedType(typeof(PutOwnBoard), "putOwnBoard")]
[JsonDerivedType(typeof(RemoveOwnBoard), "removeOwnBoard")]
[JsonDerivedType(typeof(PutOwnPart), "putOwnPart")]
[JsonDerivedType(typeof(RemoveOwnPart), "removeOwnPart")]
[JsonDerivedType(typeof(PutOwnCell), "putOwnCell")]
[JsonDerivedType(typeof(RemoveOwnCell), "removeOwnCell")]
[JsonDerivedType(typeof(PutStock), "putStock")]
[JsonDerivedType(typeof(RemoveStock), "removeStock")]
[JsonDerivedType(typeof(PutPerson), "putPerson")]
[JsonDerivedType(typeof(RemovePerson), "removePerson")]
[JsonDerivedType(typeof(PutZone), "putZone")]
[JsonDerivedType(typeof(RemoveZone), "removeZone")]
[JsonDerivedType(typeof(PutView), "putView")]
[JsonDerivedType(typeof(RemoveView), "removeView")]
[JsonDerivedType(typeof(PutDerived), "putDerived")]
[JsonDerivedType(typeof(RemoveDerived), "removeDerived")]
public abstract record DesignEdit
{
    /// <summary>The document this edit changes: "site", "place", "node:KEY", "rule:KEY", "line:KEY", "board:ID", "part:ID",
    /// "stock:ID", "person:KEY", "zone:KEY", "view:KEY" or "derived:KEY".</summary>
    [JsonIgnore]
    public abstract string Document { get; }
}

/// <summary>An edit of one node.</summary>
public abstract record NodeEdit(string Node) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "node:" + Node;
}

/// <summary>An edit of the plan of the place.</summary>
public abstract record PlaceEdit : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "place";
}

/// <summary>Names the site, its time zone and radio region.</summary>
public sealed record SetSite(SiteSettings Settings) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "site";
}

/// <summary>Says where on the earth the plan lies; null for nowhere.</summary>
public sealed record SetAnchor(SiteAnchor? Anchor) : PlaceEdit;

/// <summary>Adds a room or changes the one with its key.</summary>
public sealed record PutRoom(Room Room) : PlaceEdit;

/// <summary>Removes a room.</summary>
public sealed record RemoveRoom(string Key) : PlaceEdit;

/// <summary>Moves a side of a room across, with the walls along it and that end at it, what rooms beyond share of it, and the spots that hang on it.</summary>
/// <param name="Key">Of the room.</param>
/// <param name="Side">0 for the side from its first corner to its second.</param>
/// <param name="Metres">Out of the room; below 0 into it.</param>
public sealed record MoveSide(string Key, int Side, double Metres) : PlaceEdit;

/// <summary>Moves a corner of a room, with the corners of other rooms of its floor and the ends of walls that meet there.</summary>
/// <param name="Key">Of the room.</param>
/// <param name="Corner">0 for its first.</param>
/// <param name="To">Where it goes.</param>
public sealed record MoveCorner(string Key, int Corner, Point To) : PlaceEdit;

/// <summary>Adds a wall, or replaces the one with its key.</summary>
public sealed record PutWall(Wall Wall) : PlaceEdit;

/// <summary>Removes a wall.</summary>
public sealed record RemoveWall(string Key) : PlaceEdit;

/// <summary>Adds a spot, or replaces the one with its key.</summary>
public sealed record PutSpot(Spot Spot) : PlaceEdit;

/// <summary>Removes a spot.</summary>
public sealed record RemoveSpot(string Key) : PlaceEdit;

/// <summary>Adds a floor, or changes the one with its key.</summary>
public sealed record PutFloor(Floor Floor) : PlaceEdit;

/// <summary>Removes a floor; what stands on it counts as on the ground until it is put elsewhere.</summary>
public sealed record RemoveFloor(string Key) : PlaceEdit;

/// <summary>Lays a picture of a paper plan under a floor, in place of the one that lies there.</summary>
public sealed record PutScan(FloorScan Scan) : PlaceEdit;

/// <summary>Scales the picture under a floor by two points of it whose distance was measured; the first stays where it is.</summary>
/// <param name="Floor">Key of the floor; null for the ground.</param>
/// <param name="From">Where the first point lies on the plan now.</param>
/// <param name="To">Where the second lies.</param>
/// <param name="Metres">How far they are apart.</param>
/// <param name="Level">True where the line between them runs along the sheet: the picture is turned until it does.</param>
public sealed record FitScan(string? Floor, Point From, Point To, double Metres, bool Level) : PlaceEdit;

/// <summary>Takes the picture under a floor away.</summary>
public sealed record RemoveScan(string? Floor) : PlaceEdit;

/// <summary>Adds an access point, or changes the one with its key.</summary>
public sealed record PutAccessPoint(AccessPoint AccessPoint) : PlaceEdit;

/// <summary>Removes an access point; its spot stays.</summary>
public sealed record RemoveAccessPoint(string Key) : PlaceEdit;

/// <summary>Adds a heater or a vent, or changes the one with its key.</summary>
public sealed record PutHeatSource(HeatSource HeatSource) : PlaceEdit;

/// <summary>Removes a heater or a vent.</summary>
public sealed record RemoveHeatSource(string Key) : PlaceEdit;

/// <summary>Adds a whole node, or puts a whole node in place of the one with its key (an import, an undo of a removal).</summary>
public sealed record PutNode(NodeDesign Design) : NodeEdit(Design?.Key ?? "");

/// <summary>Changes what a node is, leaving its parts, wires and readings.</summary>
public sealed record SetNode(
    string Node,
    string Label,
    string? Spot,
    string Board,
    PowerDesign Power,
    LinkKind Link,
    bool Sleeps,
    bool MeasuresSupply,
    bool AddsModules = true,
    Housing? Housing = null,
    SendDesign? Sending = null,
    string? Via = null,
    bool CorrectsItself = false,
    RadioDesign? Radio = null,
    bool Relays = false
) : NodeEdit(Node);

/// <summary>Removes a node with its parts, wires and readings.</summary>
public sealed record RemoveNode(string Node) : NodeEdit(Node);

/// <summary>Adds a part to a node, or replaces the one with its key.</summary>
public sealed record PutPart(string Node, PartInstance Part) : NodeEdit(Node);

/// <summary>Removes a part with its wires and readings.</summary>
public sealed record RemovePart(string Node, string Key) : NodeEdit(Node);

/// <summary>Holds a wire on a pin.</summary>
public sealed record PutWire(string Node, WireDesign Wire) : NodeEdit(Node);

/// <summary>Lets a wire go: the planner chooses its pin again.</summary>
public sealed record RemoveWire(string Node, string Part, string Line) : NodeEdit(Node);

/// <summary>Adds a reading to a node, or replaces the one with its key.</summary>
public sealed record PutReading(string Node, ReadingDesign Reading) : NodeEdit(Node);

/// <summary>Removes a reading.</summary>
public sealed record RemoveReading(string Node, string Key) : NodeEdit(Node);

/// <summary>Adds a rule, or replaces the one with its key.</summary>
public sealed record PutRule(RuleDesign Rule) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "rule:" + Rule?.Key;
}

/// <summary>Removes a rule.</summary>
public sealed record RemoveRule(string Key) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "rule:" + Key;
}

/// <summary>Adds a serial line, or changes the one with its key.</summary>
public sealed record PutLine(SerialLineDesign Line) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "line:" + Line?.Key;
}

/// <summary>Removes a serial line.</summary>
public sealed record RemoveLine(string Key) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "line:" + Key;
}

/// <summary>Adds a board of the maker's own, or changes the one with its id.</summary>
public sealed record PutOwnBoard(Catalogue.Board Board) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "board:" + Board?.Id;
}

/// <summary>Removes a board of the maker's own.</summary>
public sealed record RemoveOwnBoard(string Id) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "board:" + Id;
}

/// <summary>Adds a part of the maker's own, or changes the one with its id.</summary>
public sealed record PutOwnPart(Catalogue.Part Part) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "part:" + Part?.Id;
}

/// <summary>Removes a part of the maker's own.</summary>
public sealed record RemoveOwnPart(string Id) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "part:" + Id;
}

/// <summary>Adds a cell of the maker's own, or changes the one with its id.</summary>
public sealed record PutOwnCell(Catalogue.Cell Cell) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "cell:" + Cell?.Id;
}

/// <summary>Removes a cell of the maker's own.</summary>
public sealed record RemoveOwnCell(string Id) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "cell:" + Id;
}

/// <summary>Says how many of a thing are at hand and how more can be bought.</summary>
public sealed record PutStock(StockItem Item) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "stock:" + Item?.Id;
}

/// <summary>Removes a stock entry.</summary>
public sealed record RemoveStock(string Id) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "stock:" + Id;
}
