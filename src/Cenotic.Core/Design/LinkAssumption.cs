using Cenotic.Core.Electrical;

namespace Cenotic.Core.Design;

/// <summary>What a plan assumes of the link between a node and who hears it.</summary>
/// <param name="Node">Key of the node.</param>
/// <param name="Receiver">Key of the node that hears it; null where it sends for itself.</param>
/// <param name="Delivered">Part of single transmissions that arrive, 0..1.</param>
/// <param name="Low">Low end of that part.</param>
/// <param name="High">High end of it.</param>
/// <param name="Source">Where it comes from.</param>
/// <param name="Margins">Of a link that the plan of the place was asked about; null where the part alone is known.</param>
public sealed record LinkAssumption(string Node, string? Receiver, double Delivered, double Low, double High, string Source, LinkMargins? Margins = null)
{
    /// <summary>Part of the single transmissions of a radio that arrive when nothing better is known.</summary>
    public const double UsualOfModule = 0.9;

    /// <summary>A share of single transmissions below this is not believed of a node that is heard at all.</summary>
    private const double LeastHeard = 0.05;

    /// <summary>What is assumed of a node: the maker's own figure, else what was heard of it, else what the plan of the place says, else what is usual for its
    /// way to send.</summary>
    /// <param name="planned">From the walls that are drawn; null where they do not say.</param>
    public static LinkAssumption Of(NodeDesign node, Evidence evidence, LinkAssumption? planned = null) =>
        node.Sending?.DeliveredShare is { } own ? new(node.Key, node.Via, own, own, own, "design")
        : !node.SendsPackets ? new(node.Key, node.Via, 1, 1, 1, "the network sends again until it arrived")
        : evidence.Link(node.Key) is { Sent: >= LinkHistory.FewestSent } heard && heard.Link == node.Link ? Heard(node, heard)
        : planned ?? new(node.Key, node.Via, UsualOfModule, 0.5, 1, "planning value");

    /// <summary>Transmissions of a message on average: as many as are sent without an answer, or until its answer comes.</summary>
    public double Tries(SendDesign send) =>
        !send.Acknowledged ? send.Repeats
        : Margins is { } m ? LinkBudget.Exchange(m.ThereDb, m.BackDb, m.SigmaDb, send.MostTries, m.Listens).Tries
        : (1 - Math.Pow(1 - Delivered, send.MostTries)) / Delivered;

    /// <summary>A message is missed when all its tries are: one try gets through with 1 − (share missed)^(1 / tries).</summary>
    private static LinkAssumption Heard(NodeDesign node, LinkHistory link)
    {
        var tries = SendDesign.Of(node).MostSent;
        var single = Math.Clamp(1 - Math.Pow(Math.Max(0, 1 - link.Heard / (double)link.Sent), 1.0 / tries), LeastHeard, 1);
        return new(node.Key, node.Via, single, single, single, $"{link.Heard} of {link.Sent} messages came");
    }
}

/// <summary>What a link has to spare, dB.</summary>
/// <param name="ThereDb">On the way there.</param>
/// <param name="BackDb">Of the answer; null where the sender could not hear one.</param>
/// <param name="SigmaDb">Spread from place to place.</param>
/// <param name="Listens">Part of the time that who hears it listens, above 0 and up to 1.</param>
public sealed record LinkMargins(double ThereDb, double? BackDb, double SigmaDb, double Listens = 1);
