using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What nodes pass on for others, by who is heard through whom.</summary>
internal static class Relaying
{
    /// <summary>The messages that each node hears of others on their way, by its key. All are counted that are sent: what is lost on the way costs a relay no
    /// more than what arrives.</summary>
    internal static ILookup<string, RelayedMessages> Of(SiteDesign site, HardwareCatalogue catalogue) =>
        site.Nodes.Where(n => Sending.RadioOf(n, catalogue) is not null).SelectMany(n => OnItsWay(site, catalogue, n)).ToLookup(p => p.Hears, p => p.Messages);

    /// <summary>Who passes the messages of a node on: relays, and at last the first that sends otherwise than by radio, since from there they go over the
    /// network.</summary>
    internal static IReadOnlyList<NodeDesign> UntilGateway(SiteDesign site, NodeDesign node)
    {
        var way = site.HeardThrough(node);
        return [.. way.Take(way.TakeWhile(n => n.SendsPackets).Count() + 1)];
    }

    /// <summary>Whether a relay hears a node first, not a gateway: what arrives tells nothing of its own hop alone.</summary>
    internal static bool IsRelayed(SiteDesign site, NodeDesign node) => node.SendsPackets && node.Via is { } via && site.Node(via) is { SendsPackets: true };

    /// <summary>What a node would hear besides, if another were heard through it.</summary>
    internal static IEnumerable<RelayedMessages> WouldHear(HardwareCatalogue catalogue, NodeDesign node) =>
        Messages(node).Select(m => new RelayedMessages(node.Key, node.Label, node.Key, m.PerDay, m.Bytes, m.ByClock, node.Link, ChannelOf(node, catalogue)));

    /// <summary>Time that the relays on the way of a node take for its longest message, each with its tries, ms; null where there is none.</summary>
    /// <param name="tries">Of a message that a node sends, on average.</param>
    internal static Fact? OnwardMs(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, Func<NodeDesign, double> tries)
    {
        var relays = UntilGateway(site, node).Where(n => Sending.RadioOf(n, catalogue) is not null).ToList();
        if (relays.Count == 0 || Sending.RadioOf(node, catalogue) is null || Messages(node).ToList() is not { Count: > 0 } messages)
        {
            return null;
        }
        var bytes = messages.Max(m => m.Bytes);
        double Boot(NodeDesign relay, Func<Fact, double> end) => relay.Sleeps && catalogue.Board(relay.Board) is { } board ? end(board.BootMs) : 0;
        double Air(NodeDesign relay) => Sending.AirMs(Sending.RadioOf(relay, catalogue)!.Modem, bytes);
        return new(
            relays.Sum(r => Boot(r, f => f.Low) + Air(r)),
            relays.Sum(r => Boot(r, f => f.Likely) + Air(r) * tries(r)),
            relays.Sum(r => Boot(r, f => f.High) + Sending.LongestMs(r, catalogue, bytes)),
            $"start of the board and {bytes} bytes with all tries, of each relay",
            Confidence.Typical
        );
    }

    /// <summary>What it says when a node is told to relay, with what listening costs its cells.</summary>
    /// <param name="besides">Messages that it is to pass on besides those that it hears already.</param>
    internal static string Told(PlacedRhythm relay, IEnumerable<RelayedMessages> besides)
    {
        var told = relay.Setting with { Relayed = relay.Setting.Relayed with { ForOthers = [.. relay.Setting.Relayed.ForOthers, .. besides] } };
        var cost =
            relay.Rhythm.Life?.Value is { } now && told.LikelyDays(relay.Node with { Relays = true }, relay.Bench) is { } then
                ? $": {Lateness.Months(then)} on its cells instead of {Lateness.Months(now)}"
                : "";
        return $"{relay.Node.Label} listens all the time and passes it on{cost}";
    }

    private static string ChannelOf(NodeDesign node, HardwareCatalogue catalogue) => Sending.RadioOf(node, catalogue)?.Channel ?? "";

    private static IEnumerable<(string Hears, RelayedMessages Messages)> OnItsWay(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node)
    {
        var last = node;
        foreach (var hears in UntilGateway(site, node))
        {
            var channel = ChannelOf(last, catalogue);
            foreach (var (perDay, bytes, byClock) in Messages(node))
            {
                yield return (hears.Key, new(node.Key, node.Label, last.Key, perDay, bytes, byClock, node.Link, channel));
            }
            last = hears;
        }
    }

    /// <summary>How often a day a node sends messages of each length.</summary>
    internal static IEnumerable<(double PerDay, int Bytes, bool ByClock)> Messages(NodeDesign node)
    {
        var schedule = Schedule.Of(node);
        var byClock = schedule
            .Sorts.Where(s => s.Sent.Count > 0)
            .Select(s => (PerDay: s.Share * Schedule.DayMs / schedule.PeriodMs, Bytes: Sending.Bytes(Sending.Values(s.Sent)), ByClock: true));
        var byChange = WakePlan.Changes(node).Select(c => (c.PerDay, Bytes: Sending.Bytes(Sending.Values(c.Readings)), ByClock: false));
        return byClock.Concat(byChange).GroupBy(m => (m.Bytes, m.ByClock)).Select(g => (g.Sum(m => m.PerDay), g.Key.Bytes, g.Key.ByClock));
    }
}
