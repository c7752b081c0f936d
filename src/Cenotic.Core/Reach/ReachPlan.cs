using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Who hears whom, and who is in whose way.</summary>
/// <param name="Channels">Radios that do not listen before they send, each with its slots.</param>
/// <param name="Findings">Of channels, links and law.</param>
/// <param name="Links">Nodes that send by radio and who hears them, through the walls that are drawn.</param>
/// <param name="Law">What radio modules use of what the law of the region allows; none while no region is said.</param>
/// <param name="Fits">What was measured of the radio of the house, by frequency; the links are planned with it.</param>
/// <param name="Relays">Over whom messages reach their gateways.</param>
/// <param name="Hearers">Keys of the nodes that others may be heard through: they hear at any time, and send for themselves or pass on by radio.</param>
public sealed record ReachPlan(
    IReadOnlyList<ChannelPlan> Channels,
    IReadOnlyList<Finding> Findings,
    IReadOnlyList<PlannedLink> Links,
    IReadOnlyList<LawBudget> Law,
    IReadOnlyList<FittedModel> Fits,
    RelayPlan Relays,
    IReadOnlyList<string> Hearers
);

/// <summary>One radio channel: sends with a slot, and sends without.</summary>
/// <param name="Key">Frequency and rate: "868.1 MHz, SF9 at 125 kHz".</param>
/// <param name="Verdict">Of the slots; null when no node here keeps one.</param>
/// <param name="RingMs">Time after which the slots repeat, or the longest period where that is too long to draw.</param>
/// <param name="Busy">Part of the time that something is on the air.</param>
/// <param name="Overlap">Part of the slotted sends that meet another one; null without slots.</param>
public sealed record ChannelPlan(
    string Key,
    string Label,
    SlotVerdict? Verdict,
    string How,
    long RingMs,
    IReadOnlyList<PlannedSlot> Slots,
    IReadOnlyList<FreeSender> Free,
    Figure Busy,
    Figure? Overlap
);

/// <summary>A node's place in the common period.</summary>
/// <param name="OffsetMs">Start of the slot; the send starts half a guard later.</param>
/// <param name="DurationMs">Sends with all tries and the guard.</param>
/// <param name="Clear">Part of its sends that meet none of the senders without a slot.</param>
/// <param name="LongestResync">Time between time references with which it still meets nobody, s.</param>
public sealed record PlannedSlot(
    string Node,
    string Label,
    long PeriodMs,
    long OffsetMs,
    long DurationMs,
    Figure Air,
    Figure Guard,
    Figure LongestResync,
    Figure Clear
);

/// <summary>A sender without a slot.</summary>
/// <param name="Every">Time between its sends on average, s.</param>
/// <param name="OffsetMs">Its first send after start, spread over its period by its key.</param>
/// <param name="Clear">Part of its sends that meet no other.</param>
public sealed record FreeSender(string Node, string Label, Figure Every, long OffsetMs, Figure Clear);
