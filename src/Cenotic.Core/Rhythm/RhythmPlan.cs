using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>When a node reads and sends, and what that costs.</summary>
/// <param name="PeriodMs">Length of the cycle: the shortest interval of its readings.</param>
/// <param name="Segments">The cycle in order; the last is sleep or waiting.</param>
/// <param name="Life">Days on its cells; null when it has none.</param>
/// <param name="Drains">What takes the charge, the most first.</param>
public sealed record RhythmPlan(
    string Node, bool Sleeps, long PeriodMs, IReadOnlyList<CycleSegment> Segments, Figure Charge, Figure Average, Figure? Life, IReadOnlyList<Drain> Drains,
    IReadOnlyList<ReadingTiming> Readings, IReadOnlyList<Finding> Findings);

/// <summary>One stretch of the cycle.</summary>
/// <param name="StartMs">From the start of the cycle, likely value.</param>
/// <param name="Current">At the cell or supply, mA.</param>
public sealed record CycleSegment(string Key, string Label, double StartMs, Figure Duration, Figure Current, Figure Charge);

/// <summary>A share of the average current.</summary>
public sealed record Drain(string Label, double Milliamps, double Share);

/// <summary>How often a reading really comes, and how late it can be.</summary>
/// <param name="EveryWakes">Read at every n-th wake; 0 for a reading sent when it changes.</param>
/// <param name="Lateness">From the event to its arrival, worst case.</param>
public sealed record ReadingTiming(string Reading, string Label, string Quantity, string Unit, int EveryWakes, long? IntervalMs, Figure Lateness);
