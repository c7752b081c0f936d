using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What relays are to a node: what it passes on for others, and how long its own messages take from who hears it to the gateway.</summary>
/// <param name="ForOthers">What it hears of others; empty for a node that is told to listen and hears nobody yet.</param>
/// <param name="OnwardMs">Time that the relays between it and its gateway take, ms; null where there are none.</param>
internal sealed record Relayed(IReadOnlyList<RelayedMessages> ForOthers, Fact? OnwardMs = null)
{
    internal static Relayed None { get; } = new([]);

    /// <summary>Whether the rhythm of a node is the same with another's. A gateway passes on over its network: of what it hears only counts whether it
    /// listens.</summary>
    internal bool IsSameFor(NodeDesign node, Relayed other) =>
        OnwardMs == other.OnwardMs && (node.SendsPackets ? ForOthers.SequenceEqual(other.ForOthers) : Listens(node) == other.Listens(node));

    /// <summary>Whether the radio of a node listens all the time.</summary>
    internal bool Listens(NodeDesign node) => node.Hears && (node.Relays || ForOthers.Count > 0);
}
