using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What relays are to a node: what it passes on for others, and how long its own messages take from who hears it to the gateway.</summary>
/// <param name="ForOthers">What it hears of others; empty for a node that is told to listen and hears nobody yet.</param>
/// <param name="OnwardMs">Time that the relays between it and its gateway take, ms; null where there are none.</param>
internal sealed record Relayed(IReadOnlyList<RelayedMessages> ForOthers, Fact? OnwardMs = null)
{
    internal static Relayed None { get; } = new([]);

    /// <summary>Whether the rhythm of a node is the same with another's. A gateway passes on over its network: of what it hears only counts which modules
    /// listen.</summary>
    internal bool IsSameFor(NodeDesign node, Relayed other) =>
        OnwardMs == other.OnwardMs && (node.SendsPackets ? ForOthers.SequenceEqual(other.ForOthers) : Listeners(node).SequenceEqual(other.Listeners(node)));

    /// <summary>By what a node listens all the time, as far as that adds to what it draws. A relay hears with what it sends by. Of a gateway only modules add,
    /// those on whose channel somebody sends: the radio of its board is on for its network, or always fed.</summary>
    internal IReadOnlyList<(LinkKind Link, string? Channel)> Listeners(NodeDesign node)
    {
        bool Adds(LinkKind link) => node.SendsPackets ? link == node.Link : link.IsByModule();
        var sorted = ForOthers.Where(m => Adds(m.Link)).OrderBy(m => m.Link).ThenBy(m => m.Channel, StringComparer.Ordinal);
        var heard = sorted.Select(m => (m.Link, (string?)m.Channel)).Distinct().ToList();
        return !node.Hears || (heard.Count == 0 && !node.Relays) ? []
            : node.SendsPackets ? [(node.Link, null)]
            : heard.Count == 0 ? [(LinkKind.LongRange, null)]
            : heard;
    }
}
