using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>A way to a gateway.</summary>
/// <param name="Over">Keys of those that pass it on, the gateway last.</param>
/// <param name="Transmissions">Expected until the message is there and each hop knows so.</param>
internal sealed record RelayWay(IReadOnlyList<string> Over, double Transmissions);

/// <summary>
/// The best ways of the nodes that send by radio modules to their gateways, by expected transmissions over both directions. A hop costs 1 / (p there · p back)
/// of a single transmission, as a mean over the places that the plan cannot tell apart. Source: De Couto, Aguayo, Bicket, Morris: A high-throughput path metric
/// for multi-hop wireless routing, MobiCom 2003; shortest ways by Dijkstra 1959.
/// </summary>
internal sealed class RelayTree
{
    internal const string Source = "expected transmissions: De Couto, Aguayo, Bicket, Morris 2003; there and back";

    /// <summary>A hop over which fewer single exchanges come through is none: with three tries half of the messages would be lost. Our own choice.</summary>
    private const double LeastHeard = 0.2;

    /// <summary>So many that may hear a node are looked at, the nearest: the work grows with their number times that of the nodes.</summary>
    private const int MostHearing = 24;

    /// <param name="Node">A node with a module, also one that only listens with it.</param>
    private sealed record Radio(NodeDesign Node, RadioEnd End, bool IsGateway, bool MayRelay);

    private readonly PathsByFrequency _paths;
    private readonly List<Radio> _radios;
    private readonly Dictionary<string, Radio> _byKey;
    private readonly Dictionary<string, List<Radio>> _hearing = [];
    private readonly Dictionary<(string From, string To), double?> _hops = [];
    private readonly Dictionary<string, RelayWay> _best;

    internal RelayTree(SiteDesign site, HardwareCatalogue catalogue, PathsByFrequency paths)
    {
        _paths = paths;
        _radios =
        [
            .. site
                .Nodes.Select(n => (Node: n, End: RadioEnd.OfModule(site, catalogue, n)))
                .Where(r => r.End is { IsKnown: true })
                .Select(r => new Radio(r.Node, r.End!, IsGateway(r.Node), MayRelay(r.Node))),
        ];
        _byKey = _radios.ToDictionary(r => r.Node.Key);
        foreach (var radio in _radios)
        {
            _hearing[radio.Node.Key] = HearingOf(radio);
        }
        _best = Ways(null);
    }

    /// <summary>Hears at any time, and is on the network itself.</summary>
    internal static bool IsGateway(NodeDesign node) => node.Hears && node.Link is LinkKind.Wifi or LinkKind.Cable;

    /// <summary>One that is fed for ever relays; one on cells only when it was told.</summary>
    internal static bool MayRelay(NodeDesign node) =>
        node.Link == LinkKind.LongRange && (node.Relays || (!node.Sleeps && node.Power.Kind is not (PowerKind.Cells or PowerKind.Capacitor)));

    /// <summary>The best way of a node; null where none reaches a gateway.</summary>
    internal RelayWay? Best(string node) => _best.GetValueOrDefault(node);

    /// <summary>Whether a node still reaches a gateway when another is gone.</summary>
    internal IReadOnlyDictionary<string, RelayWay> Without(string gone) => Ways(gone);

    /// <summary>Expected transmissions of a message over one hop; null where it does not come through, or something is not known.</summary>
    internal double? Transmissions(string from, string to) =>
        _byKey.TryGetValue(from, out var sender) && _byKey.TryGetValue(to, out var receiver) ? Transmissions(sender, receiver) : null;

    /// <summary>The same from or to an end that is only tried.</summary>
    internal double? Transmissions(RadioEnd from, RadioEnd to) =>
        Margins(from, to) is { } margins
        && LinkBudget.Exchange(margins.ThereDb, margins.BackDb, margins.SigmaDb, tries: 1).Acknowledged is >= LeastHeard and var both
            ? 1 / both
            : null;

    /// <summary>What a hop has to spare; null where that is not known.</summary>
    internal LinkMargins? Margins(RadioEnd from, RadioEnd to) => LinkPlanner.Margins(from, to, _paths);

    /// <summary>Those that hear on a channel, each with what it costs from there to a gateway: gateways nothing, relays their best way.</summary>
    internal IEnumerable<(NodeDesign Node, RadioEnd End, double Transmissions)> Ears(string channel) =>
        _radios
            .Where(r => r.End.Channel == channel && (r.IsGateway || (r.MayRelay && _best.ContainsKey(r.Node.Key))))
            .Select(r => (r.Node, r.End, r.IsGateway ? 0 : _best[r.Node.Key].Transmissions));

    private double? Transmissions(Radio from, Radio to)
    {
        var key = (from.Node.Key, to.Node.Key);
        return _hops.TryGetValue(key, out var known) ? known : _hops[key] = Transmissions(from.End, to.End);
    }

    private List<Radio> HearingOf(Radio radio)
    {
        double Squared(Radio other)
        {
            var (a, b) = (radio.End.At!.Value, other.End.At!.Value);
            return Math.Pow(a.X - b.X, 2) + Math.Pow(a.Y - b.Y, 2) + Math.Pow(a.Z - b.Z, 2);
        }
        return [.. _radios.Where(r => r != radio && r.End.Channel == radio.End.Channel && (r.IsGateway || r.MayRelay)).OrderBy(Squared).Take(MostHearing)];
    }

    /// <summary>From the gateways outwards: the nearest by transmissions is settled first. Of ways that cost the same that of fewest hops counts.</summary>
    private Dictionary<string, RelayWay> Ways(string? gone)
    {
        var settled = new Dictionary<string, RelayWay>();
        var heardBy = _radios.SelectMany(r => _hearing[r.Node.Key].Select(h => (Hears: h.Node.Key, Radio: r))).ToLookup(p => p.Hears, p => p.Radio);
        var queue = new PriorityQueue<(Radio Radio, RelayWay Way), (double, int)>();
        foreach (var gateway in _radios.Where(r => r.IsGateway && r.Node.Key != gone))
        {
            queue.Enqueue((gateway, new([], 0)), (0, 0));
        }
        while (queue.TryDequeue(out var next, out _))
        {
            if (!settled.TryAdd(next.Radio.Node.Key, next.Way))
            {
                continue;
            }
            foreach (var radio in heardBy[next.Radio.Node.Key].Where(r => !r.IsGateway && r.Node.Key != gone && !settled.ContainsKey(r.Node.Key)))
            {
                if (Transmissions(radio, next.Radio) is { } hop)
                {
                    var way = new RelayWay([next.Radio.Node.Key, .. next.Way.Over], hop + next.Way.Transmissions);
                    queue.Enqueue((radio, way), (way.Transmissions, way.Over.Count));
                }
            }
        }
        foreach (var gateway in _radios.Where(r => r.IsGateway))
        {
            settled.Remove(gateway.Node.Key);
        }
        return settled;
    }
}
