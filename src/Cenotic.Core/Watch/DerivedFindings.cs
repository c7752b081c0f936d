using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>Checks of readings that are worked out.</summary>
public static class DerivedFindings
{
    /// <summary>Why a sum adds what cannot be added; null when all its readings come in one unit, or it is no sum.</summary>
    public static string? UnlikeUnits(SiteDesign site, HardwareCatalogue catalogue, DerivedDesign derived)
    {
        if (derived.From is not SumOf sum)
        {
            return null;
        }
        var units = sum
            .Inputs.Select(i => (Reading: site.Reading(i)?.Label, DerivedFacts.Quantity(site, catalogue, i)?.Unit))
            .Where(u => u.Unit is not null)
            .ToList();
        return units.Find(u => u.Unit != units[0].Unit) is { Unit: not null } other
            ? $"{derived.Label} adds {units[0].Reading} in {Named(units[0].Unit!)} and {other.Reading} in {Named(other.Unit)}."
            : null;

        static string Named(string unit) => unit.Length > 0 ? unit : "plain numbers";
    }

    /// <summary>Findings of all of a site.</summary>
    public static IEnumerable<Finding> Of(SiteDesign site, HardwareCatalogue catalogue)
    {
        foreach (var derived in site.Derived)
        {
            var subject = new Subject("watch", null, derived.Key);
            var remove = new Remedy("Leave it out", [new RemoveDerived(derived.Key)]);
            var gone = derived.From.Inputs.Where(i => site.Reading(i) is null).Select(i => i.ToString()).ToList();
            if (derived.From.About is { } node && site.Node(node) is null)
            {
                gone.Add(node);
            }
            if (gone.Count > 0)
            {
                yield return new(
                    "WATCH-INPUT-GONE",
                    Severity.Stop,
                    subject,
                    $"{derived.Label} is worked out of {string.Join(", ", gone)}, which is gone.",
                    "It has no values any more.",
                    [remove],
                    null,
                    "design"
                );
            }
            if (UnlikeUnits(site, catalogue, derived) is { } unlike)
            {
                yield return new(
                    "WATCH-SUM-UNITS",
                    Severity.Stop,
                    subject,
                    unlike,
                    "A sum of unlike things means nothing.",
                    [remove],
                    "Choose readings of one unit.",
                    "design"
                );
            }
            foreach (var (input, at) in derived.From.Inputs.Select((r, i) => (r, i)))
            {
                if (
                    DerivedFacts.Wanted(derived.From, at) is { Count: > 0 } wanted
                    && DerivedFacts.Quantity(site, catalogue, input) is { } quantity
                    && !wanted.Contains(quantity.Unit)
                )
                {
                    yield return new(
                        "WATCH-INPUT-UNIT",
                        Severity.Stop,
                        subject,
                        $"{derived.Label} takes {site.Reading(input)!.Label} for {string.Join(" or ", wanted)}; it comes in "
                            + $"{(quantity.Unit.Length > 0 ? quantity.Unit : "a plain number")}.",
                        "Its values mean nothing.",
                        [remove],
                        "Choose another reading.",
                        "formula of the reading"
                    );
                }
            }
        }
    }
}
