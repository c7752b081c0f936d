using System.Globalization;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Checks of the ways over relays, and relays as remedies of weak links.</summary>
internal sealed class RelayFindings(
    SiteDesign site,
    HardwareCatalogue catalogue,
    IReadOnlyList<PlacedRhythm> nodes,
    IReadOnlyList<PlannedLink> links,
    RelayPlan relays,
    RelayTree tree,
    LinkTrials trials
)
{
    /// <summary>Another way is told of where it takes this part of the transmissions or less. Our own choice.</summary>
    private const double MuchBetter = 2 / 3.0;

    /// <summary>So many nodes on cells are tried as relays of a weak one: each trial works out all links.</summary>
    private const int MostAsked = 3;
    private readonly RelaySpots _spots = new(site, catalogue, nodes, links, tree, trials);

    internal IEnumerable<Finding> All() =>
        [
            .. relays.Routes.Select(Unheard).OfType<Finding>(),
            .. relays.Routes.Select(OtherWay).OfType<Finding>(),
            .. relays.Routes.Select(LostOnTheWay).OfType<Finding>(),
            .. relays.Relays.Select(SinglePoint).OfType<Finding>(),
            .. relays.Relays.Select(Life).OfType<Finding>(),
        ];

    /// <summary>Relays that make a weak link good: one that is there, one on cells that must be told, one more.</summary>
    internal IEnumerable<Remedy> Remedies(PlannedLink link, NodeDesign node)
    {
        if (!link.Kind.IsPackets())
        {
            return [];
        }
        Remedy?[] ways = [ThroughBest(node), ToldToRelay(node), _spots.For(link)];
        return ways.OfType<Remedy>();
    }

    /// <summary>What is planned to arrive of a node: over its whole way where relays pass it on, else over its link.</summary>
    internal Figure Delivered(PlannedLink link) => relays.Routes.FirstOrDefault(r => r.Node == link.Node && r.Over.Count > 1)?.Delivered ?? link.Delivered;

    private static SetNode Through(NodeDesign node, string via) => SetNodes.As(node) with { Via = via };

    /// <summary>Another way as it is offered; none where a ring would close, since the first on it is itself heard through this node.</summary>
    private IReadOnlyList<Remedy> Through(PlannedRoute route)
    {
        var first = route.Best[0];
        DesignEdit edit = Through(site.Node(route.Node)!, first.Node);
        return EditBatch.Apply(site, [edit]).Ok ? [new($"Through {first.Label}", [edit])] : [];
    }

    private Remedy? ThroughBest(NodeDesign node) =>
        tree.Best(node.Key) is { } best && best.Over[0] != node.Via
            ? trials.Tried($"Through {site.Node(best.Over[0])!.Label}", node.Key, [Through(node, best.Over[0])])
            : null;

    /// <summary>The node on cells, reached well itself, over which the fewest transmissions are needed, with what listening costs it.</summary>
    private Remedy? ToldToRelay(NodeDesign node)
    {
        var asked = nodes
            .Where(n => n.Node is { SendsPackets: true, Relays: false } && !RelayTree.MayRelay(n.Node) && n.Node.Key != node.Key)
            .Where(n => site.HeardThrough(n.Node).All(h => h.Key != node.Key) && tree.Best(n.Node.Key) is not null)
            .Select(n => (Placed: n, Cost: tree.Transmissions(node.Key, n.Node.Key) + tree.Best(n.Node.Key)!.Transmissions))
            .Where(c => c.Cost is not null)
            .OrderBy(c => c.Cost)
            .Take(MostAsked);
        return asked.Select(c => Told(node, c.Placed)).FirstOrDefault(r => r is not null);
    }

    private Remedy? Told(NodeDesign node, PlacedRhythm relay) =>
        trials.Tried(
            Relaying.Told(relay, Relaying.WouldHear(catalogue, node)),
            node.Key,
            [SetNodes.As(relay.Node) with { Relays = true }, Through(node, relay.Node.Key)]
        );

    private Finding? Unheard(PlannedRoute route) =>
        route is { Over.Count: 0, Best.Count: > 0 } && !site.Lines.Any(l => l.Format.Names(route.Node))
            ? new(
                "REACH-UNHEARD",
                Severity.Risk,
                new("reach", route.Node),
                $"{route.Label} sends by radio, and it is not said who hears it.",
                "What nobody hears is lost, and nothing of its link can be planned.",
                Through(route),
                "Or say at the Bench which gateway or relay hears it.",
                RelayTree.Source
            )
            : null;

    private Finding? OtherWay(PlannedRoute route)
    {
        if (
            route is not { Arrives: true, Over: [var now, ..], Best: [var first, ..] }
            || first.Node == now.Node
            || route.BestTransmissions.Value is not { } best
            || !(route.Transmissions.Value is not { } decided || best <= MuchBetter * decided)
        )
        {
            return null;
        }
        var takes = route.Transmissions.Value is { } count
            ? string.Create(CultureInfo.InvariantCulture, $"takes {count:0.0} transmissions for a message")
            : "does not come through";
        return new(
            "REACH-OTHER-WAY",
            Severity.Note,
            new("reach", route.Node, now.Node),
            string.Create(CultureInfo.InvariantCulture, $"{route.Label} through {now.Label} {takes}; through {first.Label} it takes {best:0.0}."),
            "Each transmission takes charge and time on the air.",
            Through(route),
            "Your choice stands until you change it.",
            RelayTree.Source
        );
    }

    /// <summary>Where each hop is good enough and all together are not.</summary>
    private Finding? LostOnTheWay(PlannedRoute route)
    {
        bool Good(string node) => links.FirstOrDefault(l => l.Node == node)?.Verdict == LinkVerdict.Good;
        return route.Delivered.Value < PlannedLink.EnoughPercent && Good(route.Node) && route.Over.SkipLast(1).All(s => Good(s.Node))
            ? new(
                "REACH-WAY-WEAK",
                Severity.Risk,
                new("reach", route.Node),
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{route.Delivered.Value:0} % of the messages of {route.Label} get over all {route.Over.Count} hops."
                ),
                "Each hop is good by itself; what they lose adds up.",
                [],
                "A gateway nearer to it, or a better antenna on the weakest hop.",
                "independent hops; 95 % is common practice, no source"
            )
            : null;
    }

    private static string Names(IReadOnlyList<RouteStop> stops) =>
        stops.Count == 1 ? stops[0].Label : $"{string.Join(", ", stops.SkipLast(1).Select(s => s.Label))} and {stops[^1].Label}";

    private static Finding? SinglePoint(PlannedRelay relay) =>
        relay.OnlyWayOf.Count == 0
            ? null
            : new(
                "REACH-SINGLE-POINT",
                Severity.Note,
                new("reach", relay.Node),
                $"Without {relay.Label} nothing of {Names(relay.OnlyWayOf)} reaches a gateway.",
                "When it fails or is flashed anew, they are silent too.",
                [],
                "Keep a spare, or place a second relay or gateway that hears them.",
                "shortest ways without it"
            );

    private Finding? Life(PlannedRelay relay)
    {
        if (relay is not { Life.Value: { } days, LifeAlone.Value: { } alone } || days >= alone)
        {
            return null;
        }
        var placed = nodes.First(n => n.Node.Key == relay.Node);
        return new(
            "REACH-RELAY-LIFE",
            days < RhythmPlanner.ShortLifeDays ? Severity.Risk : Severity.Note,
            new("reach", relay.Node),
            $"{relay.Label} listens all the time for {Names(relay.PassesOn)}: its cells last {Lateness.Months(days)} instead of {Lateness.Months(alone)}.",
            "A receiver that is always on takes more than all its own messages.",
            [.. Fed(placed)],
            "Feed a relay from a socket where you can. Work on the mains is for a licensed trade.",
            "charge bookkeeping"
        );
    }

    private static IEnumerable<Remedy> Fed(PlacedRhythm relay)
    {
        var power = new PowerDesign(PowerKind.Usb) { Rails = relay.Node.Power.Rails };
        if (relay.Setting.Again(relay.Node with { Power = power }, relay.Node, relay.Bench) is not null)
        {
            yield return new($"Feed {relay.Node.Label} over USB", [SetNodes.WithPower(relay.Node, power)]);
        }
    }
}
