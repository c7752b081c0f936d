using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>What would be: a node by another radio, or who hears it at another spot.</summary>
/// <param name="Radios">By which the node could send; as it sends now first.</param>
/// <param name="Spots">Where who hears it could stand; as it stands now first, then the best.</param>
public sealed record LinkComparison(IReadOnlyList<RadioChoice> Radios, IReadOnlyList<ReceiverSpot> Spots)
{
    /// <summary>Works it out. Pure.</summary>
    /// <param name="node">Key of the node.</param>
    /// <param name="bench">Its plan at the bench.</param>
    /// <param name="budget">How much work the pins of other radios may take.</param>
    /// <exception cref="ArgumentException">There is no such node.</exception>
    public static LinkComparison Of(
        SiteDesign site,
        HardwareCatalogue catalogue,
        Evidence evidence,
        string node,
        BenchPlan bench,
        WorkBudget? budget = null,
        CancellationToken stop = default
    )
    {
        var design = site.Node(node) ?? throw new ArgumentException($"There is no node \"{node}\".", nameof(node));
        var choices = new LinkChoices(site, catalogue, evidence, budget ?? WorkBudget.Unbounded);
        return new(choices.Radios(design, bench), choices.Spots(design, stop));
    }
}

/// <summary>A node by one radio.</summary>
/// <param name="Label">What it would send by, and who would hear it.</param>
/// <param name="Link">The link through the walls that are drawn.</param>
/// <param name="Life">Likely days on its cells; null for one that is fed for ever.</param>
/// <param name="FindsPins">Whether its board has the pins for it.</param>
/// <param name="Edits">What makes it so; none for the radio that it has.</param>
public sealed record RadioChoice(string Label, bool IsNow, PlannedLink Link, Figure? Life, bool FindsPins, IReadOnlyList<DesignEdit> Edits);

/// <summary>Who hears nodes, at one spot.</summary>
/// <param name="Good">Of the nodes that it hears now, so many would get through well.</param>
/// <param name="Of">Nodes that it hears now.</param>
/// <param name="Weakest">Margin of the weakest of their links.</param>
/// <param name="WeakestOf">Name of the node whose link that is.</param>
/// <param name="Edits">What makes it so; none for the spot where it is.</param>
public sealed record ReceiverSpot(string Spot, string Label, bool IsNow, int Good, int Of, Figure Weakest, string WeakestOf, IReadOnlyList<DesignEdit> Edits);

/// <summary>Tries other radios of a node, and other spots of who hears it.</summary>
internal sealed class LinkChoices(SiteDesign site, HardwareCatalogue catalogue, Evidence evidence, WorkBudget budget)
{
    /// <summary>So many spots are tried, and so many told.</summary>
    private const int MostTried = 60,
        MostTold = 6;
    private const string Life = "Life on its cells";
    private readonly PathsByFrequency _paths = new(site.Place, LinkFit.Of(site, catalogue, evidence));

    internal IReadOnlyList<RadioChoice> Radios(NodeDesign node, BenchPlan bench)
    {
        if (LinkPlanner.Of(site, catalogue, node, _paths) is not { } now)
        {
            return [];
        }
        var setting = SettingOf(site, node);
        var today = new RadioChoice(Label(node.Link, now), true, now, setting.LikelyLife(Life, node, bench), true, []);
        return [today, .. OtherRadios.Tried(site, catalogue, node, _paths).Select(t => Choice(node, bench, t))];
    }

    private static string Label(LinkKind link, PlannedLink to) => $"{(link == LinkKind.Wifi ? "Wi-Fi" : to.Channel)} to {to.ReceiverLabel ?? "nobody"}";

    private RhythmSetting SettingOf(SiteDesign at, NodeDesign node) =>
        new(catalogue, evidence with { Links = [] }, Surroundings.Of(at, node), budget)
        {
            Links = tried => LinkPlanner.Of(at, catalogue, tried, _paths)?.Assumption,
            Relayed = new([.. Relaying.Of(at, catalogue)[node.Key]]),
        };

    private RadioChoice Choice(NodeDesign node, BenchPlan bench, TriedRadio tried)
    {
        var setting = SettingOf(tried.After, tried.Node);
        return new(
            Label(tried.Node.Link, tried.Link),
            false,
            tried.Link,
            setting.LikelyLife(Life, tried.Node, bench),
            setting.Again(tried.Node, node, bench) is not null,
            tried.Radio.Edits
        );
    }

    internal IReadOnlyList<ReceiverSpot> Spots(NodeDesign node, CancellationToken stop)
    {
        if (LinkPlanner.Of(site, catalogue, node, _paths)?.Receiver is not { } receiver)
        {
            return [];
        }
        var accessPoint = site.Place.AccessPoints.FirstOrDefault(a => a.Key == receiver);
        var gateway = site.Node(receiver);
        var heard = site.Nodes.Where(n => LinkPlanner.Of(site, catalogue, n, _paths)?.Receiver == receiver).Select(n => n.Key).ToHashSet();
        DesignEdit Moved(Spot to) =>
            accessPoint is not null ? new PutAccessPoint(accessPoint with { Spot = to.Key }) : SetNodes.As(gateway!) with { Spot = to.Key };
        var at = accessPoint?.Spot ?? gateway?.Spot;
        var tried = site.FreeSpots.Take(MostTried).Select(s => At(s, heard, [Moved(s)], stop)).OfType<ReceiverSpot>();
        var now = site.Place.Spot(at) is { } here ? At(here, heard, [], stop) : null;
        return
        [
            .. now is null ? Array.Empty<ReceiverSpot>() : [now with { IsNow = true }],
            .. tried.OrderByDescending(s => s.Good).ThenByDescending(s => s.Weakest.Value).Take(MostTold),
        ];
    }

    /// <summary>Null where a link is not known from there.</summary>
    private ReceiverSpot? At(Spot spot, HashSet<string> heard, IReadOnlyList<DesignEdit> edits, CancellationToken stop)
    {
        stop.ThrowIfCancellationRequested();
        var after =
            edits.Count == 0 ? site
            : EditBatch.Apply(site, edits) is { Ok: true } applied ? applied.Value.After
            : null;
        var links = after?.Nodes.Where(n => heard.Contains(n.Key)).Select(n => LinkPlanner.Of(after, catalogue, n, _paths)).OfType<PlannedLink>().ToList()
            ?? [];
        return links.Count == 0 || links.Exists(l => l.Margin.Value is null) || links.MinBy(l => l.Margin.Value) is not { } weakest
            ? null
            : new(spot.Key, spot.Label, false, links.Count(l => l.Verdict == LinkVerdict.Good), links.Count, weakest.Margin, weakest.Label, edits);
    }
}
