using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;
using Cenotic.Core.Reach;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Planning;

/// <summary>Everything worked out about one node.</summary>
public sealed record NodePlan(string Node, BenchPlan Bench, RhythmPlan Rhythm);

/// <summary>The plan of a site.</summary>
/// <param name="EngineVersion">Changes when the same design may give another plan.</param>
/// <param name="Findings">Of all stations, by severity and then by order of work.</param>
public sealed record SitePlan(
    string EngineVersion,
    PlacePlan Place,
    IReadOnlyList<NodePlan> Nodes,
    SiteRhythm Rhythm,
    ReachPlan Reach,
    IReadOnlyList<Finding> Findings
)
{
    /// <summary>The plan of a node, or null.</summary>
    public NodePlan? Node(string key) => Nodes.FirstOrDefault(n => n.Node == key);

    /// <summary>Start of the slot of a node, ms into its period; null for a node without a slot.</summary>
    public long? SlotOf(string node) => Reach.Channels.SelectMany(c => c.Slots).FirstOrDefault(s => s.Node == node)?.OffsetMs;

    /// <summary>True when nothing stops the site.</summary>
    public bool Sound => Findings.All(f => f.Severity != Severity.Stop);
}

/// <summary>The one door out: from what people decided and what was measured to figures, findings and drawings. Pure.</summary>
public static class SitePlanner
{
    /// <summary>Rises when the same design gives another plan.</summary>
    public const string EngineVersion = "12";

    /// <summary>Steps of the pin search that the plan of one node may take: thousands of times what the demo's
    /// nodes take, and at most some two seconds of one processor (bench/).</summary>
    public const long MostStepsOfNode = 2_000_000;

    /// <summary>Steps that the plans of all nodes may take together; where there are many, each may take fewer.</summary>
    public const long MostStepsOfSite = 16_000_000;

    private static readonly string[] Order = ["place", "bench", "rhythm", "reach", "bring-up", "watch", "alerts", "log"];

    /// <summary>Plans a site. The same design, catalogue and evidence give the same plan.</summary>
    /// <param name="key">The site's key, which stands in the topics of its messages.</param>
    /// <param name="memory">Nodes planned before; the answer is the same without.</param>
    /// <param name="stop">Ends the planning, because nobody waits for the plan any more.</param>
    /// <exception cref="OperationCanceledException"><paramref name="stop"/> was asked for.</exception>
    public static SitePlan Plan(
        SiteDesign site,
        HardwareCatalogue catalogue,
        Evidence evidence,
        string key = "site",
        PlanMemory? memory = null,
        CancellationToken stop = default
    )
    {
        var hardware = catalogue.With(site.OwnBoards, site.OwnParts, site.OwnCells);
        var known = memory ?? new PlanMemory();
        var place = PlacePlanner.Plan(site, known.Coverage(site, catalogue, hardware, stop));
        var fits = LinkFit.Of(site, hardware, evidence);
        var paths = new PathsByFrequency(site.Place, fits);
        var links = LinkPlanner.Of(site, hardware, paths);
        var assumed = links.ToDictionary(l => l.Node, l => l.Assumption);
        var ofHops = evidence with { Links = [.. evidence.Links.Where(l => site.Node(l.Node) is not { } node || !Relaying.IsRelayed(site, node))] };
        var relayed = RelayedOf(site, hardware, ofHops, assumed);
        var steps = Math.Min(MostStepsOfNode, MostStepsOfSite / Math.Max(1, site.Nodes.Count));
        var nodes = known
            .Plan(Inputs(site, key, catalogue, ofHops, assumed, relayed), steps, stop, (node, budget) => Planned(node, hardware, ofHops, budget))
            .Select(n => n with { Setting = n.Setting with { Budget = new(steps, stop), Relayed = relayed[n.Node.Key] } })
            .ToList();
        stop.ThrowIfCancellationRequested();
        var together = SiteRhythms.Of(site, nodes, hardware);
        var (channels, collisions) = Channels.Of(nodes);
        var law = LawPlanner.Of(site, hardware, nodes);
        var tree = new RelayTree(site, hardware, paths);
        var relays = RelayPlanner.Of(site, nodes, links, tree);
        var trials = new LinkTrials(site, hardware, links, paths);
        var found = new ReachFindings(site, hardware, evidence, nodes, links, law, trials, new(site, hardware, nodes, links, relays, tree, trials)).All();
        var reach = new ReachPlan(
            channels,
            [.. collisions, .. found],
            links,
            law,
            fits,
            relays,
            [.. site.Nodes.Where(n => n.MayBeHeardThrough).Select(n => n.Key)]
        );
        var findings = place
            .Findings.Concat(nodes.SelectMany(n => n.Bench.Findings.Concat(n.Rhythm.Findings)))
            .Concat(together.Findings)
            .Concat(reach.Findings)
            .Concat(Watch.DerivedFindings.Of(site, hardware))
            .Concat(Alerts.RuleFindings.Of(site, hardware, evidence.WaysOut))
            .Concat(Alerts.ZoneFindings.Of(site, evidence.WaysOut))
            .Concat(Alerts.OutputFindings.Of(site));
        return new(
            EngineVersion,
            place,
            [.. nodes.Select(n => new NodePlan(n.Node.Key, n.Bench, n.Rhythm))],
            together,
            reach,
            [.. findings.OrderBy(f => f.Severity).ThenBy(f => Array.IndexOf(Order, f.Subject.Station))]
        );
    }

    private static IEnumerable<NodeInputs> Inputs(
        SiteDesign site,
        string key,
        HardwareCatalogue catalogue,
        Evidence evidence,
        Dictionary<string, LinkAssumption?> assumed,
        Dictionary<string, Relayed> relayed
    ) =>
        site.Nodes.Select(n => new NodeInputs(
            n,
            key,
            catalogue,
            site.OwnBoards,
            site.OwnParts,
            site.OwnCells,
            Surroundings.Of(site, n),
            [.. evidence.Currents.Where(c => c.Node == n.Key)],
            evidence.Link(n.Key),
            assumed.GetValueOrDefault(n.Key),
            relayed[n.Key]
        ));

    private static PlacedRhythm Planned(NodeInputs inputs, HardwareCatalogue hardware, Evidence evidence, WorkBudget budget)
    {
        var node = inputs.Node;
        var bench = BenchPlanner.Plan(node, hardware, inputs.Around, budget);
        var setting = new RhythmSetting(hardware, evidence, inputs.Around, budget)
        {
            Links = LinkPlanner.ForTrials(node, inputs.Link, hardware),
            Relayed = inputs.Relayed,
        };
        return new(node, bench, MessageCheck.With(RhythmPlanner.Plan(node, bench, setting), node, inputs.Site, hardware), setting);
    }

    /// <summary>The rhythm of a node, also of one that was otherwise than in the design: among those that hear it and those that it passes on, since the others
    /// do not touch it.</summary>
    public static RhythmPlan RhythmOf(SiteDesign site, NodeDesign node, HardwareCatalogue catalogue, Evidence evidence, string key)
    {
        var way = site.HeardThrough(node).Select(n => n.Key).ToHashSet();
        bool Touches(NodeDesign other) => other.Key != node.Key && (way.Contains(other.Key) || site.HeardThrough(other).Any(n => n.Key == node.Key));
        var around = site with { Nodes = [node, .. site.Nodes.Where(Touches)], Rules = [], Lines = [] };
        return Plan(around, catalogue, evidence, key).Node(node.Key)!.Rhythm;
    }

    /// <summary>What relays are to each node, by the ways that are decided.</summary>
    private static Dictionary<string, Relayed> RelayedOf(
        SiteDesign site,
        HardwareCatalogue hardware,
        Evidence evidence,
        Dictionary<string, LinkAssumption?> assumed
    )
    {
        var forOthers = Relaying.Of(site, hardware);
        double Tries(NodeDesign relay) => LinkAssumption.Of(relay, evidence, assumed.GetValueOrDefault(relay.Key)).Tries(SendDesign.Of(relay));
        return site.Nodes.ToDictionary(n => n.Key, n => new Relayed([.. forOthers[n.Key]], Relaying.OnwardMs(site, hardware, n, Tries)));
    }
}
