using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Planning;

/// <summary>
/// Nodes that were planned before. A plan made with a memory is the same as one without; nodes for which nothing changed are not planned again. Designs are
/// immutable, so a node that is the same object is the same node. For one site; safe to use from several threads.
/// </summary>
public sealed class PlanMemory
{
    /// <summary>All that the plan of a node depends on, but for the work that it may take.</summary>
    private sealed record Asked(
        NodeDesign Node,
        string Site,
        HardwareCatalogue Catalogue,
        IReadOnlyList<Board> OwnBoards,
        IReadOnlyList<Part> OwnParts,
        IReadOnlyList<Cell> OwnCells,
        Surroundings Around,
        IReadOnlyList<MeasuredCurrent> Currents,
        LinkHistory? History,
        LinkAssumption? Link,
        Relayed Relayed
    )
    {
        internal bool IsSame(Asked other) =>
            ReferenceEquals(Node, other.Node)
            && Site == other.Site
            && ReferenceEquals(Catalogue, other.Catalogue)
            && ReferenceEquals(OwnBoards, other.OwnBoards)
            && ReferenceEquals(OwnParts, other.OwnParts)
            && ReferenceEquals(OwnCells, other.OwnCells)
            && Around == other.Around
            && Currents.SequenceEqual(other.Currents)
            && History == other.History
            && Link == other.Link
            && Relayed.IsSameFor(Node, other.Relayed);
    }

    private sealed record Kept(Asked Asked, WorkBudget Took, PlacedRhythm Planned);

    /// <summary>All that what sensors see depends on, and what they saw.</summary>
    private sealed record KeptCoverage(
        PlaceDesign Place,
        HardwareCatalogue Catalogue,
        IReadOnlyList<Part> OwnParts,
        IReadOnlyList<(string Key, string Label, string? Spot, IReadOnlyList<PartInstance> Parts)> Nodes,
        (CoveragePlan Plan, IReadOnlyList<Finding> Findings) Seen
    );

    private readonly Lock _lock = new();
    private readonly CoverageMemory _seen = new();
    private KeptCoverage? _coverage;
    private Dictionary<string, Kept> _kept = [];

    /// <summary>How many processors it may use; null for all there are.</summary>
    public int? Processors { get; init; }

    /// <summary>Steps that the plans of the nodes took which are kept.</summary>
    public long Steps
    {
        get
        {
            lock (_lock)
            {
                return _kept.Values.Sum(k => k.Took.Spent);
            }
        }
    }

    /// <summary>How many nodes were planned, not taken from the memory.</summary>
    public int Planned { get; private set; }

    /// <summary>What the sensors of a site see: worked out, or taken from the plan before where neither the place nor what hangs there changed.</summary>
    internal (CoveragePlan Plan, IReadOnlyList<Finding> Findings) Coverage(
        SiteDesign site,
        HardwareCatalogue catalogue,
        HardwareCatalogue hardware,
        CancellationToken stop
    )
    {
        lock (_lock)
        {
            var nodes = site.Nodes.Select(n => (n.Key, n.Label, n.Spot, n.Parts)).ToList();
            if (
                _coverage is not { } kept
                || !ReferenceEquals(kept.Place, site.Place)
                || !ReferenceEquals(kept.Catalogue, catalogue)
                || !ReferenceEquals(kept.OwnParts, site.OwnParts)
                || !kept.Nodes.SequenceEqual(nodes)
            )
            {
                _coverage = kept = new(site.Place, catalogue, site.OwnParts, nodes, PlacePlanner.Seen(site, hardware, _seen, stop));
            }
            return kept.Seen;
        }
    }

    /// <summary>Plans every node of a site, or takes it from the plan before. What must be planned is planned side by side.</summary>
    /// <param name="links">What the plan of the place says of the links of the nodes.</param>
    /// <param name="relayed">What relays are to the nodes.</param>
    /// <param name="steps">How much work each node may take.</param>
    internal List<PlacedRhythm> Plan(
        SiteDesign site,
        string key,
        HardwareCatalogue catalogue,
        Evidence evidence,
        IReadOnlyDictionary<string, LinkAssumption?> links,
        IReadOnlyDictionary<string, Relayed> relayed,
        long steps,
        CancellationToken stop,
        Func<NodeDesign, Surroundings, WorkBudget, PlacedRhythm> plan
    )
    {
        lock (_lock)
        {
            var before = _kept;
            var nodes = site.Nodes.AsParallel().AsOrdered().WithCancellation(stop).WithMergeOptions(ParallelMergeOptions.FullyBuffered);
            var now = (Processors is { } most ? nodes.WithDegreeOfParallelism(most) : nodes)
                .Select(node =>
                {
                    var asked = new Asked(
                        node,
                        key,
                        catalogue,
                        site.OwnBoards,
                        site.OwnParts,
                        site.OwnCells,
                        Surroundings.Of(site, node),
                        [.. evidence.Currents.Where(c => c.Node == node.Key)],
                        evidence.Link(node.Key),
                        links.GetValueOrDefault(node.Key),
                        relayed[node.Key]
                    );
                    if (before.TryGetValue(node.Key, out var kept) && kept.Asked.IsSame(asked) && Suffices(kept.Took, steps))
                    {
                        return kept;
                    }
                    var budget = new WorkBudget(steps, stop);
                    return new(asked, budget, plan(node, asked.Around, budget));
                })
                .ToList();
            Planned += now.Count(k => !ReferenceEquals(before.GetValueOrDefault(k.Asked.Node.Key), k));
            _kept = now.ToDictionary(k => k.Asked.Node.Key);
            return [.. now.Select(k => k.Planned)];
        }
    }

    /// <summary>Whether the plan with so many steps would be the one that is kept.</summary>
    private static bool Suffices(WorkBudget took, long steps) => took.Most == steps || took.Spent <= Math.Min(steps, took.Most);
}
