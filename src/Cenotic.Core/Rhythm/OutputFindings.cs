using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>Outputs that nobody limited, and nodes that cannot hear what they are told.</summary>
internal static class OutputFindings
{
    private const long ShortMs = 180_000,
        UsualMs = 1_800_000;

    /// <summary>Longest time on that still looks like a limit: a sounder at night, a heater left alone. Planning
    /// values, from memory; local rules for sounders outdoors come first.</summary>
    private static readonly Dictionary<OutputLoad, long> Prudent = new() { [OutputLoad.Sounder] = 15 * 60_000, [OutputLoad.Heater] = 2 * 3_600_000 };

    internal static void Of(NodeDesign node, HardwareCatalogue catalogue, List<Finding> findings)
    {
        foreach (var reading in node.Readings)
        {
            if (
                node.Part(reading.Part) is not { } instance
                || catalogue.Part(instance.Part) is not { Kind: PartKind.Output } part
                || part.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity) is not { Kind: ReadingKind.State }
            )
            {
                continue;
            }
            var subject = new Subject("rhythm", node.Key, reading.Key);
            var sounds = reading.Quantity is "siren" or "tone";
            if (reading.Output is null && (sounds || part.Interfaces.Any(i => i.Lines.Any(l => l.Load))))
            {
                findings.Add(OutputUnlimited(node, reading, subject, sounds));
            }
            if (reading.Output is { } output && Prudent.TryGetValue(output.Load, out var most) && output.MaxOnMs > most)
            {
                findings.Add(OutputLong(node, reading, subject, output, most));
            }
            if (reading.Output is not null && (node.Sleeps || !node.IsOnNetwork))
            {
                findings.Add(OutputDeaf(node, reading, subject));
            }
        }
    }

    private static Finding OutputUnlimited(NodeDesign node, ReadingDesign reading, Subject subject, bool sounds) =>
        new(
            "RHYTHM-OUTPUT-UNLIMITED",
            sounds ? Severity.Stop : Severity.Risk,
            subject,
            $"How long {reading.Label} may be on is not said.",
            "The node counts that time itself and switches off when nobody does: after a lost link, a forgotten switch, a fault of this program.",
            sounds
                ? [Limit(node, reading, OutputLoad.Sounder, ShortMs)]
                : [Limit(node, reading, OutputLoad.Fan, UsualMs), Limit(node, reading, OutputLoad.Heater, UsualMs)],
            "Never the only safety cut-off of a heater, motor or machine: that is a certified limiter beside it. Mains wiring by a "
                + "competent person, to local code.",
            "common practice, no source"
        );

    private static Finding OutputLong(NodeDesign node, ReadingDesign reading, Subject subject, OutputDesign output, long most) =>
        new(
            "RHYTHM-OUTPUT-LONG",
            Severity.Risk,
            subject,
            $"{reading.Label}, a {output.Load.ToString().ToLowerInvariant()}, may be on for {Lateness.Say(output.MaxOnMs / 1000.0)}.",
            $"With a fault it stays on that long unseen; {Lateness.Say(most / 1000.0)} is a usual limit.",
            [Limit(node, reading, output.Load, most)],
            "Local rules say how long a sounder outdoors may sound.",
            "planning value, from memory"
        );

    private static Finding OutputDeaf(NodeDesign node, ReadingDesign reading, Subject subject) =>
        new(
            "RHYTHM-OUTPUT-DEAF",
            Severity.Note,
            subject,
            $"{reading.Label} cannot be switched from a page: {node.Label} "
                + $"{(node.Sleeps ? "sleeps between its wakes" : "is not on the network itself")}.",
            "Commands reach nodes that are always on and on Wi-Fi or a network cable.",
            [],
            "Let the node switch it by itself, or put the output on another node.",
            "docs/formats.md: commands"
        );

    private static Remedy Limit(NodeDesign node, ReadingDesign reading, OutputLoad load, long ms) =>
        new(
            $"{reading.Label}: a {load.ToString().ToLowerInvariant()}, on for {Lateness.Say(ms / 1000.0)} at most",
            [new PutReading(node.Key, reading with { Output = new(load, ms) })]
        );

    /// <summary>Nodes that are heard through one that is gone, sleeps without listening, or cannot pass on what it hears.</summary>
    internal static void Gateways(SiteDesign site, IReadOnlyList<PlacedRhythm> nodes, List<Finding> findings)
    {
        foreach (var node in site.Nodes.Where(n => n.Via is not null))
        {
            var gateway = site.Node(node.Via!);
            var why =
                gateway is null ? "which is gone"
                : !gateway.Hears ? "which sleeps"
                : gateway.Via is not null && !gateway.SendsPackets ? "which is heard through another itself, but not by radio"
                : site.HeardThrough(gateway).LastOrDefault()?.Via is { } last && site.Node(last) is not null ? "in a ring that reaches no gateway"
                : null;
            if (why is not null)
            {
                findings.Add(
                    new(
                        "RHYTHM-GATEWAY-UNFIT",
                        gateway is null ? Severity.Stop : Severity.Risk,
                        new("rhythm", node.Key),
                        $"{node.Label} is heard through {gateway?.Label ?? node.Via}, {why}.",
                        "What it sends is not passed on.",
                        [
                            new($"{node.Label} sends for itself", [SetNodes.As(node) with { Via = null }]),
                            .. nodes
                                .Where(n => n.Node.Key == node.Via && !n.Node.Hears && n.Node.SendsPackets)
                                .Select(n => new Remedy(Relaying.Told(n, []), [SetNodes.As(n.Node) with { Relays = true }])),
                            .. site
                                .Nodes.Where(g => g is { Sleeps: false, Via: null } && g.Key != node.Key && g.IsOnNetwork)
                                .Take(2)
                                .Select(g => new Remedy($"Through {g.Label}", [SetNodes.As(node) with { Via = g.Key }])),
                        ],
                        null,
                        "design"
                    )
                );
            }
        }
    }
}
