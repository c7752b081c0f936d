using Cenotic.Core.Design;

namespace Cenotic.Server.Samples;

/// <summary>How the log knows that a node was silent: an outage is noted once the node is heard again, after three times the
/// time in which it must send something.</summary>
internal static class Outages
{
    private const long ShortestMs = 15 * 60_000;

    /// <summary>The longest silence of a node that is no outage, ms: a quarter of an hour at least. Null for one that need not send.</summary>
    internal static long? LongestSilenceMs(NodeDesign? node) => node?.Readings.Min(r => r.MessageGapMs) is { } gap ? Math.Max(ShortestMs, 3 * gap) : null;

    /// <summary>Whether a message ends an outage.</summary>
    /// <param name="heardMs">When its node was heard before, UTC ms.</param>
    internal static bool EndsWith(DecodedMessage message, long heardMs) => message.ReceivedMs - heardMs > message.LongestSilenceMs;
}
