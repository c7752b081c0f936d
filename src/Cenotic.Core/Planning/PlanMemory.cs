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
    private sealed record Kept(NodeInputs Inputs, WorkBudget Took, PlacedRhythm Planned);

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

    /// <summary>Plans nodes, or takes them from the plan before. What must be planned is planned side by side.</summary>
    /// <param name="inputs">What the plan of each node depends on.</param>
    /// <param name="steps">How much work each node may take.</param>
    internal List<PlacedRhythm> Plan(IEnumerable<NodeInputs> inputs, long steps, CancellationToken stop, Func<NodeInputs, WorkBudget, PlacedRhythm> plan)
    {
        lock (_lock)
        {
            var before = _kept;
            var nodes = inputs.ToList().AsParallel().AsOrdered().WithCancellation(stop).WithMergeOptions(ParallelMergeOptions.FullyBuffered);
            var now = (Processors is { } most ? nodes.WithDegreeOfParallelism(most) : nodes)
                .Select(wanted =>
                {
                    if (before.TryGetValue(wanted.Node.Key, out var kept) && kept.Inputs.IsSame(wanted) && Suffices(kept.Took, steps))
                    {
                        return kept;
                    }
                    var budget = new WorkBudget(steps, stop);
                    return new(wanted, budget, plan(wanted, budget));
                })
                .ToList();
            Planned += now.Count(k => !ReferenceEquals(before.GetValueOrDefault(k.Inputs.Node.Key), k));
            _kept = now.ToDictionary(k => k.Inputs.Node.Key);
            return [.. now.Select(k => k.Planned)];
        }
    }

    /// <summary>Whether the plan with so many steps would be the one that is kept.</summary>
    private static bool Suffices(WorkBudget took, long steps) => took.Most == steps || took.Spent <= Math.Min(steps, took.Most);
}
