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
/// The best ways of the nodes that send message by message to their gateways, by expected transmissions over both directions. A hop costs 1 / (p there · p
/// back) of a single transmission, as a mean over the places that the plan cannot tell apart. Source: De Couto, Aguayo, Bicket, Morris: A high-throughput path
/// metric for multi-hop wireless routing, MobiCom 2003; shortest ways by Dijkstra 1959.
/// </summary>
internal sealed class RelayTree
{
    internal const string Source = "expected transmissions: De Couto, Aguayo, Bicket, Morris 2003; there and back";

    /// <summary>A hop over which fewer single exchanges come through is none: with three tries half of the messages would be lost. Our own choice.</summary>
    private const double LeastHeard = 0.2;

    /// <summary>So many that may hear a node are looked at, the nearest: the work grows with their number times that of the nodes.</summary>
    private const int MostHearing = 24;

    /// <param name="Node">A node that sends message by message by this radio, or a gateway that can hear with it.</param>
    private sealed record Radio(NodeDesign Node, RadioEnd End, bool IsGateway, bool MayRelay)
    {
        /// <summary>A gateway hears on as many channels as it has radios.</summary>
        internal (string Node, string Channel) Id => (Node.Key, End.Channel);
    }

    private readonly PathsByFrequency _paths;
    private readonly List<Radio> _radios;
    private readonly Dictionary<(string Node, string Channel), Radio> _byId;
    private readonly Dictionary<string, Radio> _senders;
    private readonly Dictionary<(string Node, string Channel), List<Radio>> _hearing = [];
    private readonly Dictionary<(string From, string To, string Channel), double?> _hops = [];
    private readonly Dictionary<string, RelayWay> _best;

    internal RelayTree(SiteDesign site, HardwareCatalogue catalogue, PathsByFrequency paths)
    {
        _paths = paths;
        var radios = site
            .Nodes.SelectMany(n => Radios(n, catalogue).Select(r => new Radio(n, RadioEnd.Of(site, n, r), IsGateway(n), MayRelay(n))))
            .Where(r => r.End.IsKnown)
            .ToList();
        // Boards have radios that nobody here sends to.
        var channels = radios.Where(r => !r.IsGateway).Select(r => r.End.Channel).ToHashSet();
        _radios = [.. radios.Where(r => channels.Contains(r.End.Channel))];
        _byId = _radios.ToDictionary(r => r.Id);
        _senders = _radios.Where(r => !r.IsGateway).ToDictionary(r => r.Node.Key);
        foreach (var radio in _radios)
        {
            _hearing[radio.Id] = HearingOf(radio);
        }
        _best = Ways(null);
    }

    /// <summary>What a node sends by; of a gateway all that it can hear with.</summary>
    private static IEnumerable<NodeRadio> Radios(NodeDesign node, HardwareCatalogue catalogue) =>
        IsGateway(node) ? Sending.RadiosOf(node, catalogue).Where(r => r.Modem.OneWay != OneWay.Sends).DistinctBy(r => r.Channel)
        : Sending.RadioOf(node, catalogue) is { } radio ? [radio]
        : [];

    /// <summary>Hears at any time, and is on the network itself or writes to a serial line of the machine that runs the program.</summary>
    internal static bool IsGateway(NodeDesign node) => node.Hears && (node.IsOnNetwork || node.Link == LinkKind.SerialCable);

    /// <summary>One that is fed for ever relays; one on cells only when it was told.</summary>
    internal static bool MayRelay(NodeDesign node) =>
        node.Link.CanRelay() && (node.Relays || (!node.Sleeps && node.Power.Kind is not (PowerKind.Cells or PowerKind.Capacitor)));

    /// <summary>The best way of a node; null where none reaches a gateway.</summary>
    internal RelayWay? Best(string node) => _best.GetValueOrDefault(node);

    /// <summary>Whether a node still reaches a gateway when another is gone.</summary>
    internal IReadOnlyDictionary<string, RelayWay> Without(string gone) => Ways(gone);

    /// <summary>Expected transmissions of a message over one hop; null where it does not come through, or something is not known.</summary>
    internal double? Transmissions(string from, string to) =>
        _senders.TryGetValue(from, out var sender) && _byId.TryGetValue((to, sender.End.Channel), out var receiver) ? Transmissions(sender, receiver) : null;

    /// <summary>The same from or to an end that is only tried.</summary>
    internal double? Transmissions(RadioEnd from, RadioEnd to) =>
        Margins(from, to) is { } margins
        && LinkBudget.Exchange(margins.ThereDb, margins.BackDb, margins.SigmaDb, tries: 1, margins.Listens) is var one
        && (margins.BackDb is null ? one.Single : one.Acknowledged) is >= LeastHeard and var arrives
            ? 1 / arrives
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
        var key = (from.Node.Key, to.Node.Key, from.End.Channel);
        return _hops.TryGetValue(key, out var known) ? known : _hops[key] = Transmissions(from.End, to.End);
    }

    private List<Radio> HearingOf(Radio radio)
    {
        double Metres(Radio other) => PlanGeometry.InSpace(radio.End.At!.Value, other.End.At!.Value);
        return [.. _radios.Where(r => r != radio && r.End.Channel == radio.End.Channel && (r.IsGateway || r.MayRelay)).OrderBy(Metres).Take(MostHearing)];
    }

    /// <summary>From the gateways outwards: the nearest by transmissions is settled first. Of ways that cost the same that of fewest hops counts.</summary>
    private Dictionary<string, RelayWay> Ways(string? gone)
    {
        var settled = new Dictionary<(string Node, string Channel), RelayWay>();
        var heardBy = _radios.SelectMany(r => _hearing[r.Id].Select(h => (Hears: h.Id, Radio: r))).ToLookup(p => p.Hears, p => p.Radio);
        var queue = new PriorityQueue<(Radio Radio, RelayWay Way), (double, int)>();
        foreach (var gateway in _radios.Where(r => r.IsGateway && r.Node.Key != gone))
        {
            queue.Enqueue((gateway, new([], 0)), (0, 0));
        }
        while (queue.TryDequeue(out var next, out _))
        {
            if (!settled.TryAdd(next.Radio.Id, next.Way))
            {
                continue;
            }
            foreach (var radio in heardBy[next.Radio.Id].Where(r => !r.IsGateway && r.Node.Key != gone && !settled.ContainsKey(r.Id)))
            {
                if (Transmissions(radio, next.Radio) is { } hop)
                {
                    var way = new RelayWay([next.Radio.Node.Key, .. next.Way.Over], hop + next.Way.Transmissions);
                    queue.Enqueue((radio, way), (way.Transmissions, way.Over.Count));
                }
            }
        }
        return _senders.Values.Where(r => settled.ContainsKey(r.Id)).ToDictionary(r => r.Node.Key, r => settled[r.Id]);
    }
}
