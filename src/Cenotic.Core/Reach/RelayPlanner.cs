using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>The ways that are decided, compared with the best, and what relaying costs.</summary>
internal static class RelayPlanner
{
    internal static RelayPlan Of(SiteDesign site, IReadOnlyList<PlacedRhythm> nodes, IReadOnlyList<PlannedLink> links, RelayTree tree) =>
        new(
            [.. nodes.Where(n => n.Node.SendsPackets).Select(n => Route(site, n.Node, links, tree)).OfType<PlannedRoute>()],
            [.. nodes.Where(n => n.Node is { SendsPackets: true, Hears: true } && n.Setting.Relayed.ForOthers.Count > 0).Select(n => Relay(site, n, tree))]
        );

    private static RouteStop Stop(NodeDesign node) => new(node.Key, node.Label);

    /// <summary>Null for a node that nobody in the plan hears, nor could hear.</summary>
    private static PlannedRoute? Route(SiteDesign site, NodeDesign node, IReadOnlyList<PlannedLink> links, RelayTree tree)
    {
        var over = Relaying.UntilGateway(site, node);
        var best = tree.Best(node.Key);
        if (over.Count == 0 && best is null)
        {
            return null;
        }
        var arrives = over.LastOrDefault() is { } last && RelayTree.IsGateway(last) && over.All(n => n.Hears);
        return new(
            node.Key,
            node.Label,
            [.. over.Select(Stop)],
            arrives,
            arrives ? Transmissions("Transmissions", site, [node, .. over], tree) : Figure.Unknown("Transmissions", Unit.Count, "a way to a gateway"),
            Delivered([node, .. over.SkipLast(1)], arrives, links),
            [.. best?.Over.Select(k => Stop(site.Node(k)!)) ?? []],
            best is null
                ? Figure.Unknown("Transmissions of the best way", Unit.Count, "a gateway that hears it, or a relay that may pass it on")
                : Transmissions("Transmissions of the best way", site, [node, .. best.Over.Select(k => site.Node(k)!)], tree)
        );
    }

    private static Figure Transmissions(string label, SiteDesign site, IReadOnlyList<NodeDesign> way, RelayTree tree)
    {
        var hops = way.Zip(way.Skip(1))
            .Select(h => (Label: $"{h.First.Label} to {h.Second.Label}", Count: tree.Transmissions(h.First.Key, h.Second.Key)))
            .ToList();
        return hops.Find(h => h.Count is null) is { Label: { } broken }
            ? Figure.Unknown(label, Unit.Count, $"a link from {broken}: it is too weak, or where they hang is not said")
            : Figure.Exact(
                label,
                hops.Sum(h => h.Count!.Value),
                Unit.Count,
                new Working(
                    "Σ of the hops of 1 / mean over places of (p there · p back)",
                    [.. hops.Select(h => new WorkingInput(h.Label, h.Count!.Value, "", "margins of the hop, there and back"))],
                    RelayTree.Source
                )
            );
    }

    private static Figure Delivered(IReadOnlyList<NodeDesign> senders, bool arrives, IReadOnlyList<PlannedLink> links)
    {
        var hops = senders.Select(s => links.FirstOrDefault(l => l.Node == s.Key)?.Delivered).ToList();
        if (!arrives || hops.Exists(d => d?.Value is null))
        {
            return Figure.Unknown("Delivered", Unit.Percent, "the link of each hop");
        }
        double All(Func<Figure, double?> of) => hops.Aggregate(100.0, (share, hop) => share * of(hop!)!.Value / 100);
        return new("Delivered", All(f => f.Value), All(f => f.Low), All(f => f.High), Unit.Percent, () =>
            new Working(
                "Π of the hops",
                [.. senders.Zip(hops).Select(h => new WorkingInput($"from {h.First.Label}", h.Second!.Value!.Value, Unit.Percent, "its link"))],
                "independent hops",
                [.. hops.Select(h => h!)]
            )
        );
    }

    private static PlannedRelay Relay(SiteDesign site, PlacedRhythm relay, RelayTree tree)
    {
        var heard = relay.Setting.Relayed.ForOthers;
        var others = heard.Select(m => m.From).Distinct().Select(k => site.Node(k)!).ToList();
        var without = tree.Without(relay.Node.Key);
        return new(
            relay.Node.Key,
            relay.Node.Label,
            [.. others.Select(Stop)],
            [.. others.Where(o => tree.Best(o.Key) is not null && !without.ContainsKey(o.Key)).Select(Stop)],
            Figure.Exact(
                "Messages passed on",
                heard.Sum(m => m.PerDay),
                "a day",
                new Working(
                    "Σ of those that it hears",
                    [.. heard.Select(m => new WorkingInput(m.Label, m.PerDay, "a day", $"timetable; {m.Bytes} bytes each"))],
                    "counting"
                )
            ),
            relay.Rhythm.Life,
            Alone(relay)
        );
    }

    private static Figure? Alone(PlacedRhythm relay) =>
        (relay.Setting with { Relayed = Relayed.None }).LikelyLife("Life without passing on", relay.Node with { Relays = false }, relay.Bench);
}
