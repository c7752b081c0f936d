using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>A view: tiles in their order, in rows of four columns; on a phone one below the other.</summary>
/// <param name="InRotation">True when a wall shows it in turn.</param>
public sealed record ViewDesign(string Key, string Label, IReadOnlyList<TileDesign> Tiles, bool InRotation = true);

/// <param name="Label">Its title; null for the name of what it shows.</param>
/// <param name="Width">Columns, 1..4.</param>
/// <param name="Height">Rows, 1..4.</param>
public sealed record TileDesign(string Key, string? Label, int Width, int Height, TileContent Content);

/// <summary>What a tile shows.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(FigureTile), "figure")]
[JsonDerivedType(typeof(LineTile), "line")]
[JsonDerivedType(typeof(LanesTile), "lanes")]
[JsonDerivedType(typeof(VesselTile), "vessel")]
[JsonDerivedType(typeof(CounterTile), "counter")]
[JsonDerivedType(typeof(PlanTile), "plan")]
[JsonDerivedType(typeof(OutputTile), "output")]
[JsonDerivedType(typeof(NodesTile), "nodes")]
[JsonDerivedType(typeof(NoteTile), "note")]
[JsonDerivedType(typeof(ZoneTile), "zone")]
[JsonDerivedType(typeof(SequenceTile), "sequence")]
public abstract record TileContent
{
    /// <summary>Readings it needs.</summary>
    [JsonIgnore]
    public IReadOnlyList<ReadingRef> Readings =>
        this switch
        {
            FigureTile t => [t.Reading],
            LineTile t => t.Of,
            LanesTile t => t.Of,
            VesselTile t => [t.Reading],
            CounterTile t => [t.Reading],
            PlanTile t => t.Of,
            OutputTile t => [t.Output],
            SequenceTile t => [t.First, t.Second],
            _ => [],
        };
}

/// <summary>The newest value with its trend and age.</summary>
public sealed record FigureTile(ReadingRef Reading) : TileContent;

/// <summary>An earlier stretch that is drawn under a line.</summary>
public enum LineOver
{
    /// <summary>The stretch alone.</summary>
    Nothing,

    /// <summary>The day before under it.</summary>
    Yesterday,

    /// <summary>The week before under it.</summary>
    LastWeek,
}

/// <summary>Lines over time.</summary>
/// <param name="Of">One to eight readings.</param>
/// <param name="OwnAxes">Each unit has its own axis; else each unit shares one.</param>
/// <param name="Joined">Joins over gaps; else a gap is shown.</param>
public sealed record LineTile(IReadOnlyList<ReadingRef> Of, bool OwnAxes = false, bool Joined = false, LineOver Over = LineOver.Nothing) : TileContent;

/// <summary>States as lanes on one time axis.</summary>
public sealed record LanesTile(IReadOnlyList<ReadingRef> Of) : TileContent;

/// <summary>The shape of a vessel.</summary>
public enum VesselShape
{
    /// <summary>A cylinder that stands.</summary>
    Upright,

    /// <summary>A cylinder that lies.</summary>
    Lying,

    /// <summary>A box.</summary>
    Box,
}

/// <summary>How full a vessel is.</summary>
/// <param name="Reading">A distance down to the water, mm or cm or m, or a height of water.</param>
/// <param name="Down">True when the reading is the distance from the sensor down to the water.</param>
/// <param name="SensorCm">Height of the sensor above the bottom, cm; used with a distance.</param>
/// <param name="WidthCm">Inner diameter of a cylinder, or width of a box, cm.</param>
/// <param name="LengthCm">Length of a lying cylinder or a box, cm.</param>
/// <param name="HeightCm">Inner height of an upright cylinder or a box, cm.</param>
public sealed record VesselTile(ReadingRef Reading, VesselShape Shape, bool Down, double SensorCm, double WidthCm, double LengthCm, double HeightCm)
    : TileContent;

/// <summary>What a bar of a counter stands for.</summary>
public enum CountBy
{
    /// <summary>An hour by the clock on the wall.</summary>
    Hour,

    /// <summary>A day by the clock on the wall.</summary>
    Day,

    /// <summary>A month by the clock on the wall.</summary>
    Month,
}

/// <summary>What a counter counted, hour by hour, day by day or month by month.</summary>
public sealed record CounterTile(ReadingRef Reading, CountBy By = CountBy.Day) : TileContent;

/// <summary>The plan of the place with the newest values at their spots.</summary>
public sealed record PlanTile(IReadOnlyList<ReadingRef> Of) : TileContent;

/// <summary>An output with its switch, for those who may use it.</summary>
public sealed record OutputTile(ReadingRef Output) : TileContent;

/// <summary>The nodes: when heard, lost messages, what is left of their cells.</summary>
public sealed record NodesTile : TileContent;

/// <summary>Words.</summary>
public sealed record NoteTile(string Text) : TileContent;

/// <summary>A zone with its arming.</summary>
public sealed record ZoneTile(string Zone) : TileContent;

/// <summary>What two event sensors saw together and what one saw alone, counted.</summary>
/// <param name="WithinMs">Longest time between two that go together.</param>
/// <param name="InOrder">True when the second must not come before the first.</param>
/// <param name="Both">What it means when both come.</param>
/// <param name="FirstAlone">What the first alone means.</param>
/// <param name="SecondAlone">What the second alone means.</param>
public sealed record SequenceTile(ReadingRef First, ReadingRef Second, long WithinMs, bool InOrder, string Both, string FirstAlone, string SecondAlone)
    : TileContent;

/// <summary>Adds a view, or replaces the one with its key.</summary>
public sealed record PutView(ViewDesign View) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "view:" + View?.Key;
}

/// <summary>Removes a view.</summary>
public sealed record RemoveView(string Key) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "view:" + Key;
}
