using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Bench;

/// <summary>Where the parts of a node sit: near the antenna, above what gets warm, in still or wet air, under an opaque lid.</summary>
internal static class MountingCheck
{
    /// <summary>A part on a lead shorter than this sits in the box with the board, m.</summary>
    internal const double InTheBoxMetres = 0.15;

    private const double FromAntennaMetres = 0.3,
        OpenKelvinPerWatt = 4,
        VentedKelvinPerWatt = 8,
        ClosedKelvinPerWatt = 14;
    private const string Practice = "common practice, no source";

    internal static void Check(
        NodeDesign node,
        Board board,
        IReadOnlyList<(PartInstance Instance, Part Part)> parts,
        IReadOnlyList<LoadProfile> loads,
        Surroundings around,
        List<Finding> findings
    )
    {
        var sends =
            (node.Link is not LinkKind.Cable && node.Link.RadioOf() is not null && board.Sends(node.Link)) || parts.Any(p => p.Part.Kind == PartKind.Radio);
        foreach (var (instance, part) in parts)
        {
            var subject = new Subject("bench", node.Key, instance.Key);
            var inside = instance.LeadMetres < InTheBoxMetres;
            bool Gives(params string[] quantities) => part.Quantities.Any(q => quantities.Contains(q.Quantity));
            if (sends && Gives("motion") && instance.LeadMetres < FromAntennaMetres)
            {
                findings.Add(NearAntenna(node, instance, subject));
            }
            if (
                inside
                && Gives("temperature")
                && part.Quantities.First(q => q.Quantity == "temperature").Error is { } error
                && HeatOffset(node, board, parts, loads) is { } offset
                && offset.Value > error
            )
            {
                findings.Add(SelfHeat(node, instance, subject, error, offset));
            }
            if (inside && node.Housing is { Vented: false } closed && NeedsAir(part))
            {
                findings.Add(NoAirflow(node, instance, subject, closed));
            }
            if (inside && node.Housing is { ClearLid: false } dark && Gives("illuminance", "light", "dark"))
            {
                findings.Add(DarkLid(node, instance, subject, dark));
            }
            if (around.Sleeping && part.Noise is { } noise)
            {
                findings.Add(Noise(instance, subject, around, noise));
            }
        }
        if (around.Dusty && node.Housing is null or { Vented: true })
        {
            findings.Add(Dust(node, around, parts.Any(p => NeedsAir(p.Part))));
        }
        if ((around.Wet || around.Outdoor) && node.Housing is not { Sealed: true })
        {
            findings.Add(Unsealed(node, around));
        }
    }

    private static bool NeedsAir(Part part) => part.Quantities.Any(q => q.Quantity is "humidity" or "co2" or "pm25" or "voc-index" or "gas-resistance");

    private static Finding Noise(PartInstance instance, Subject subject, Surroundings around, string noise) =>
        new(
            "BENCH-NOISE",
            Severity.Note,
            subject,
            $"{instance.Label} is heard at night: {noise}, and people sleep in {around.Room}.",
            "Small sounds wake light sleepers.",
            [],
            "Hang it in the next room, or let it work while nobody sleeps.",
            Practice
        );

    private static Finding Dust(NodeDesign node, Surroundings around, bool needsAir) =>
        new(
            "BENCH-DUST",
            Severity.Note,
            new("bench", node.Key, "housing"),
            $"Dust settles in {node.Label}: {around.Room} is dusty, and {(node.Housing is null ? "it has no box" : "its box is vented")}.",
            "It keeps heat in, takes up damp and blinds what measures light or air.",
            needsAir ? [] : [Box(node, "Use a closed box", new Housing(false, node.Housing?.Sealed ?? false, node.Housing?.ClearLid ?? false))],
            needsAir ? "A fleece over the openings; look at it once a month." : "Or look at it once a month.",
            Practice
        );

    private static Finding NearAntenna(NodeDesign node, PartInstance instance, Subject subject) =>
        new(
            "BENCH-NEAR-ANTENNA",
            Severity.Risk,
            subject,
            $"{instance.Label} sits within {FromAntennaMetres} m of an antenna.",
            "Each transmission can look like motion to it.",
            [Away(node, instance, FromAntennaMetres)],
            null,
            Practice
        );

    private static Finding SelfHeat(NodeDesign node, PartInstance instance, Subject subject, double error, Figure offset) =>
        new(
            "BENCH-SELF-HEAT",
            Severity.Risk,
            subject,
            $"{instance.Label} sits beside the board and reads about {offset.Value:0.#} K too warm; it is good for ±{error} K.",
            $"Board and parts in the box turn {offset.Working.Inputs[0].Value:0.#} W into heat.",
            [Away(node, instance, 0.3)],
            null,
            Practice
        );

    private static Finding NoAirflow(NodeDesign node, PartInstance instance, Subject subject, Housing closed) =>
        new(
            "BENCH-NO-AIRFLOW",
            Severity.Risk,
            subject,
            $"{instance.Label} sits in a closed box.",
            "It measures the air in the box, not the room's.",
            [Away(node, instance, 0.3), Box(node, "Use a vented box", closed with { Vented = true, Sealed = false })],
            null,
            "part data: airflow"
        );

    private static Finding DarkLid(NodeDesign node, PartInstance instance, Subject subject, Housing dark) =>
        new(
            "BENCH-DARK-LID",
            Severity.Risk,
            subject,
            $"{instance.Label} sits under an opaque lid.",
            "It sees no light.",
            [Box(node, "Use a clear lid", dark with { ClearLid = true }), Away(node, instance, 0.3)],
            null,
            "part data"
        );

    private static Finding Unsealed(NodeDesign node, Surroundings around) =>
        new(
            "BENCH-UNSEALED",
            Severity.Risk,
            new("bench", node.Key, "housing"),
            $"{node.Label} stands in {around.Room}, which is {(around.Wet ? "wet" : "outdoors")}, and its box is not sealed.",
            "Bare electronics corrode there.",
            [new("Use a sealed box", [SetNodes.As(node) with { Housing = new Housing(false, true, node.Housing?.ClearLid ?? false) }])],
            "A breather against dew, leads out at the bottom. No mains in it; local codes and licensed trades come first.",
            Practice
        );

    private static Remedy Away(NodeDesign node, PartInstance instance, double metres) =>
        new($"Give {instance.Label} a lead of {metres} m", [new PutPart(node.Key, instance with { LeadMetres = metres })]);

    private static Remedy Box(NodeDesign node, string label, Housing housing) => new(label, [SetNodes.As(node) with { Housing = housing }]);

    /// <summary>How much warmer than the room the air in the box is.</summary>
    private static Figure? HeatOffset(NodeDesign node, Board board, IReadOnlyList<(PartInstance Instance, Part Part)> parts, IReadOnlyList<LoadProfile> loads)
    {
        if (node.Sleeps)
        {
            return null;
        }
        var own = node.UsesWifi ? board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps : board.Currents.ActiveMilliamps;
        var watts =
            own.Likely * 5 / 1000
            + loads
                .Where(l => l.StaysOn && parts.Any(p => p.Instance.Key == l.Part && p.Instance.LeadMetres < InTheBoxMetres))
                .Sum(l => (l.ActiveMilliamps?.Likely ?? 0) * l.RailVolts / 1000);
        var kelvin = node.Housing switch
        {
            null => OpenKelvinPerWatt,
            { Vented: true } => VentedKelvinPerWatt,
            _ => ClosedKelvinPerWatt,
        };
        return Figure.Exact(
            "Self-heating",
            watts * kelvin,
            "K",
            new Working(
                "ΔT = P · Rθ",
                [new("P", watts, "W", "board at 5 V, and parts that stay on beside it"), new("Rθ", kelvin, "K/W", "small plastic box: planning value")],
                Practice
            )
        );
    }
}
