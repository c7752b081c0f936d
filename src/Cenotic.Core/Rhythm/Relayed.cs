using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What relays are to a node: what it passes on for others, and how long its own messages take from who hears it to the gateway.</summary>
/// <param name="ForOthers">What it hears of others; empty for a node that is told to listen and hears nobody yet.</param>
/// <param name="OnwardMs">Time that the relays between it and its gateway take, ms; null where there are none.</param>
internal sealed record Relayed(IReadOnlyList<RelayedMessages> ForOthers, Fact? OnwardMs = null)
{
    internal static Relayed None { get; } = new([]);

    /// <summary>Whether the rhythm of a node is the same with another's. A gateway passes on over its network: of what it hears only counts whether its module
    /// listens.</summary>
    internal bool IsSameFor(NodeDesign node, Relayed other) =>
        OnwardMs == other.OnwardMs && (node.SendsPackets ? ForOthers.SequenceEqual(other.ForOthers) : Listener(node) == other.Listener(node));

    /// <summary>By which radio a node listens all the time, as far as that adds to what it draws; null for by none. A relay hears with what it sends by. Of a
    /// gateway only a module adds: the radio of its board is on for its network, or always fed.</summary>
    internal LinkKind? Listener(NodeDesign node)
    {
        var link = node.SendsPackets ? node.Link : LinkKind.LongRange;
        return node.Hears && (node.Relays || ForOthers.Any(m => m.Link == link)) ? link : null;
    }
}
