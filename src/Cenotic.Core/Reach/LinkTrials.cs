using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Reach;

/// <summary>Remedies that are offered only where they help.</summary>
internal sealed class LinkTrials(SiteDesign site, HardwareCatalogue catalogue, IReadOnlyList<PlannedLink> links, PathsByFrequency paths)
{
    private readonly Lazy<bool> _lawful = new(() => IsLawful(site, catalogue));

    internal PathsByFrequency Paths => paths;

    /// <summary>A remedy where the link of a node is good enough with it, nobody else's becomes bad, that of a node that it adds is good, and no radio
    /// becomes stronger than the law of the region allows.</summary>
    internal Remedy? Tried(string label, string node, IReadOnlyList<DesignEdit> edits)
    {
        if (EditBatch.Apply(site, edits) is not { Ok: true } applied)
        {
            return null;
        }
        if (_lawful.Value && !IsLawful(applied.Value.After, catalogue))
        {
            return null;
        }
        var after = LinkPlanner.Of(applied.Value.After, catalogue, paths);
        var must = links.Where(l => l.Verdict == LinkVerdict.Good).Select(l => l.Node).Append(node).ToHashSet();
        var known = links.Select(l => l.Node).ToHashSet();
        return after.Where(l => must.Contains(l.Node) || !known.Contains(l.Node)).All(l => l.Verdict == LinkVerdict.Good) && after.Any(l => l.Node == node)
            ? new(label, edits)
            : null;
    }

    private static bool IsLawful(SiteDesign at, HardwareCatalogue catalogue) =>
        at.Settings.Region == RadioRegion.Unset || LawPlanner.Allows(at.Settings, at, catalogue);
}
