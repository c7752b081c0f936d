namespace Cenotic.Core.Design;

/// <summary>What a plan assumes of the link between a node and who hears it.</summary>
/// <param name="Node">Key of the node.</param>
/// <param name="Receiver">Key of the node that hears it; null where it sends for itself.</param>
/// <param name="Delivered">Part of single transmissions that arrive, 0..1.</param>
/// <param name="Low">Low end of that part.</param>
/// <param name="High">High end of it.</param>
/// <param name="Source">Where it comes from.</param>
public sealed record LinkAssumption(string Node, string? Receiver, double Delivered, double Low, double High, string Source)
{
    /// <summary>Part of the single transmissions of a radio module that arrive when nothing better is known.</summary>
    public const double UsualOfModule = 0.9;

    /// <summary>A share of single transmissions below this is not believed of a node that is heard at all.</summary>
    private const double LeastHeard = 0.05;

    /// <summary>What is assumed of a node: the maker's own figure, else what was heard of it, else what is usual for its way to send.</summary>
    public static LinkAssumption Of(NodeDesign node, Evidence evidence) =>
        node.Sending?.DeliveredShare is { } own ? new(node.Key, node.Via, own, own, own, "design")
        : node.Link != LinkKind.LongRange ? new(node.Key, node.Via, 1, 1, 1, "the network sends again until it arrived")
        : evidence.Link(node.Key) is { Link: LinkKind.LongRange, Sent: >= LinkHistory.FewestSent } heard ? Heard(node, heard)
        : new(node.Key, node.Via, UsualOfModule, 0.5, 1, "planning value");

    /// <summary>A message is missed when all its tries are: one try gets through with 1 − (share missed)^(1 / tries).</summary>
    private static LinkAssumption Heard(NodeDesign node, LinkHistory link)
    {
        var tries = node.Sending is { Acknowledged: false } ? 1 : (node.Sending ?? new()).MostTries;
        var single = Math.Clamp(1 - Math.Pow(Math.Max(0, 1 - link.Heard / (double)link.Sent), 1.0 / tries), LeastHeard, 1);
        return new(node.Key, node.Via, single, single, single, $"{link.Heard} of {link.Sent} messages came");
    }
}
