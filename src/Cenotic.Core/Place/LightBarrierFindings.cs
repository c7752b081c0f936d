using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>Light barriers whose emitter hangs opposite: whether its light reaches the receiver.</summary>
internal sealed class LightBarrierFindings(SiteDesign site, HardwareCatalogue catalogue)
{
    /// <summary>The emitter is brought to this part of the range of the type that reaches least. Our own choice.</summary>
    private const double PartOfRange = 0.9;
    private readonly PlaceDesign _place = site.Place;

    internal IEnumerable<Finding> Of(NodeDesign node) => node.Parts.Select(p => Of(node, p)).OfType<Finding>();

    private Finding? Of(NodeDesign node, PartInstance instance)
    {
        if (
            catalogue.Part(instance.Part) is not { View: { } view } part
            || LightBarriers.EmitterOf(_place, instance, part) is not { } emitter
            || _place.Spot(node.Spot) is not { } spot
        )
        {
            return null;
        }
        var subject = new Subject("place", node.Key, instance.Key);
        if (InTheWay(emitter, spot) is { } obstacle)
        {
            return Blocked(subject, $"{instance.Label} of {node.Label}", obstacle);
        }
        var metres = LightBarriers.Metres(_place, emitter, spot);
        return metres > view.RangeMetres.Low ? TooFar(subject, $"{instance.Label} of {node.Label}", view.RangeMetres, metres, emitter, spot) : null;
    }

    /// <summary>What stands between the two, from the emitter on; null for nothing.</summary>
    private string? InTheWay(Spot emitter, Spot receiver)
    {
        var (from, to) = (_place.At(emitter), _place.At(receiver));
        if (WallCrossings.Floors(_place, from, to).Count > 0)
        {
            return "a floor";
        }
        var met = WallCrossings.Walls(_place, from, to).FirstOrDefault(c => c.Opening?.Kind != OpeningKind.Passage);
        if (met is null)
        {
            return Hedges.Between(_place, emitter, receiver) ? "a tree or a hedge" : null;
        }
        return met.Opening is null ? $"a wall {met.AtMetres:0.00} m from the emitter"
            : met.Opening.Kind == OpeningKind.Door ? $"a door {met.AtMetres:0.00} m from the emitter, when it is closed"
            : $"a window {met.AtMetres:0.00} m from the emitter";
    }

    private static Finding Blocked(Subject subject, string barrier, string obstacle) =>
        new(
            "PLACE-BARRIER-BLOCKED",
            Severity.Stop,
            subject,
            $"Between the emitter and the receiver of {barrier} stands {obstacle}.",
            "Without its light the barrier is always broken.",
            [],
            "Hang both on one side of it, each in sight of the other.",
            "geometry of the plan"
        );

    private Finding TooFar(Subject subject, string barrier, Fact range, double metres, Spot emitter, Spot receiver)
    {
        var nearer = LightBarriers.Towards(emitter, receiver, PartOfRange * range.Low / metres);
        return new(
            "PLACE-BARRIER-FAR",
            metres > range.Likely ? Severity.Stop : Severity.Risk,
            subject,
            $"The emitter of {barrier} hangs {metres:0.00} m from its receiver; its light reaches {Reaches(range)}.",
            metres > range.Likely ? "Without its light the barrier is always broken." : "Not each type reaches so far.",
            // Where something else hangs there too, that would come along.
            site.FreeSpots.Any(s => s.Key == emitter.Key)
                ? [new($"Hang the emitter {PartOfRange * range.Low:0.00} m from it", [new PutSpot(nearer)])]
                : [],
            "A wider way wants a barrier with a lens, or a sensor that sees across it.",
            range.Source
        );
    }

    private static string Reaches(Fact range) => range.Low < range.Likely ? $"{range.Low:0.##} to {range.Likely:0.##} m by type" : $"{range.Likely:0.##} m";
}
