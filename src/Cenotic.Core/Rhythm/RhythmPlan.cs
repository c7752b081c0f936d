using System.Text.Json.Serialization;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>When a node reads and sends, and what that costs.</summary>
/// <param name="PeriodMs">Time between wakes: the shortest interval of its readings.</param>
/// <param name="SendEveryMs">Time between the sends of its timetable; null when it sends nothing by the clock.</param>
/// <param name="Wakes">The sorts of its wakes, the most frequent first.</param>
/// <param name="Charge">Of a period, on average over its wakes.</param>
/// <param name="Life">Days on its cells; null when it has none.</param>
/// <param name="Drains">What takes the charge, the most first.</param>
/// <param name="Figures">Message size, bus load and what else follows from the timetable.</param>
/// <param name="Harvest">What its light cell brings; null when it has none.</param>
public sealed record RhythmPlan(
    string Node,
    bool Sleeps,
    long PeriodMs,
    long? SendEveryMs,
    IReadOnlyList<WakeKind> Wakes,
    Figure Charge,
    Figure Average,
    Figure? Life,
    IReadOnlyList<Drain> Drains,
    IReadOnlyList<ReadingTiming> Readings,
    IReadOnlyList<Figure> Figures,
    HarvestPlan? Harvest,
    IReadOnlyList<Finding> Findings
)
{
    /// <summary>Least time between two sends of its timetable that do not fall together, ms; null when it sends nothing by the clock.</summary>
    public long? LeastSendGapMs { get; init; }

    /// <summary>How it sends, with what is usual of its way filled in.</summary>
    public required SendDesign Sending { get; init; }

    /// <summary>True when light carries the node through the year, so that its cells need no change.</summary>
    [JsonIgnore]
    public bool CarriedByLight => Harvest is { ShortMonths.Count: 0 };

    /// <summary>Of a node that cannot be planned.</summary>
    internal static RhythmPlan None(NodeDesign node, IReadOnlyList<Finding> findings)
    {
        var none = Figure.Unknown("Average current", Unit.Milliamp, "a board from the catalogue");
        return new(node.Key, node.Sleeps, Schedule.DayMs, null, [], none, none, null, [], [], [], null, findings) { Sending = SendDesign.Of(node) };
    }
}

/// <summary>A change and the life on cells with it.</summary>
/// <param name="Months">Gained, of 30.44 days.</param>
public sealed record LifeGain(string Label, IReadOnlyList<DesignEdit> Edits, Figure Life, double Months);

/// <summary>A sort of wake.</summary>
/// <param name="Label">What happens in it, in few words.</param>
/// <param name="Share">Part of the wakes that are of this sort; 0 for one that comes by events.</param>
/// <param name="PerDay">How many come on a day.</param>
/// <param name="Reads">Keys of the readings taken.</param>
/// <param name="Sends">Keys of the readings sent.</param>
/// <param name="Segments">In order; the last is sleep or waiting, but for a wake by an event.</param>
public sealed record WakeKind(
    string Label,
    double Share,
    double PerDay,
    IReadOnlyList<string> Reads,
    IReadOnlyList<string> Sends,
    IReadOnlyList<CycleSegment> Segments,
    Figure Charge
);

/// <summary>One stretch of the cycle.</summary>
/// <param name="StartMs">From the start of the cycle, likely value.</param>
/// <param name="Current">At the cell or supply, mA.</param>
public sealed record CycleSegment(string Key, string Label, double StartMs, Figure Duration, Figure Current, Figure Charge);

/// <summary>A share of the average current.</summary>
public sealed record Drain(string Label, double Milliamps, double Share);

/// <summary>How often a reading really comes, and how late it can be.</summary>
/// <param name="EveryWakes">Read at every n-th wake; 0 for a reading sent when it changes.</param>
/// <param name="IntervalMs">As it really comes; null for a reading sent when it changes.</param>
/// <param name="Lateness">From the event to its arrival, worst case.</param>
/// <param name="UsualLateness">From the event to its arrival, on average.</param>
public sealed record ReadingTiming(
    string Reading,
    string Label,
    string Quantity,
    string Unit,
    int EveryWakes,
    long? IntervalMs,
    Figure Lateness,
    Figure UsualLateness
)
{
    /// <summary>True when it can come later than it is wanted.</summary>
    public bool IsLate { get; init; }
}

/// <summary>What a light cell brings and how far it carries.</summary>
/// <param name="Months">The balance of a day in each month.</param>
/// <param name="Burst">Charge of the wake that takes most, without sleep; null when cells are charged.</param>
/// <param name="SmallestCapacitor">That carries one wake; null when cells are charged.</param>
/// <param name="Bursts">Wakes from one charge of the capacitor, over its tolerance.</param>
/// <param name="Interval">Between wakes that the light of the worst month carries; null when never.</param>
/// <param name="Dark">How long it runs without light from full.</param>
/// <param name="ShortMonths">Months, 1 to 12, in which the light with what the storage gives
/// does not carry the node; none when it runs through the year.</param>
public sealed record HarvestPlan(
    IReadOnlyList<HarvestMonth> Months,
    Figure Use,
    Figure? Burst,
    Figure? SmallestCapacitor,
    Figure? Bursts,
    Figure? Interval,
    Figure? Dark,
    IReadOnlyList<int> ShortMonths
);

/// <summary>A day of a month.</summary>
/// <param name="Month">1 to 12.</param>
/// <param name="Left">mAh gathered less mAh used.</param>
/// <param name="LitHours">Hours of light.</param>
/// <param name="IntervalSeconds">Between wakes that the light carries while it is there; null when it never does.</param>
public sealed record HarvestMonth(int Month, Figure Gathered, double Left, double LitHours, double? IntervalSeconds);
