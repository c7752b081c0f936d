using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Planning;

/// <summary>Everything worked out about one node.</summary>
public sealed record NodePlan(string Node, BenchPlan Bench, RhythmPlan Rhythm);

/// <summary>The plan of a site.</summary>
/// <param name="EngineVersion">Changes when the same design may give another plan.</param>
/// <param name="Findings">Of all stations, by severity and then by order of work.</param>
public sealed record SitePlan(string EngineVersion, PlacePlan Place, IReadOnlyList<NodePlan> Nodes, IReadOnlyList<Finding> Findings)
{
    public NodePlan? Node(string key) => Nodes.FirstOrDefault(n => n.Node == key);

    /// <summary>True when nothing stops the site.</summary>
    public bool Sound => Findings.All(f => f.Severity != Severity.Stop);
}

/// <summary>The one door out: from what people decided and what was measured to figures, findings and drawings. Pure.</summary>
public static class SitePlanner
{
    public const string EngineVersion = "2";

    private static readonly string[] Order = ["place", "bench", "rhythm", "reach", "bring-up", "watch", "alerts", "log"];

    /// <summary>Plans a site. The same design, catalogue and evidence give the same plan.</summary>
    public static SitePlan Plan(SiteDesign site, HardwareCatalogue catalogue, Evidence evidence)
    {
        catalogue = catalogue.With(site.OwnBoards, site.OwnParts);
        var place = PlacePlanner.Plan(site);
        var nodes = new List<NodePlan>();
        foreach (var node in site.Nodes)
        {
            var around = Surroundings.Of(site, node);
            var bench = BenchPlanner.Plan(node, catalogue, around);
            nodes.Add(new(node.Key, bench, RhythmPlanner.Plan(node, bench, catalogue, evidence, around.Cold || around.Outdoor)));
        }
        var findings = place.Findings.Concat(nodes.SelectMany(n => n.Bench.Findings.Concat(n.Rhythm.Findings))).Concat(Alerts.RuleFindings.Of(site, catalogue));
        return new(EngineVersion, place, nodes, [.. findings.OrderBy(f => f.Severity).ThenBy(f => Array.IndexOf(Order, f.Subject.Station))]);
    }
}
