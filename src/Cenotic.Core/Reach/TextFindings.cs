using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Checks of nodes that send text messages. Where a mobile network reaches is its own matter: no margin is worked out.</summary>
internal sealed class TextFindings(SiteDesign site, HardwareCatalogue catalogue)
{
    /// <summary>So many texts a month are told of. Common practice, no source: prepaid tariffs count each.</summary>
    private const double ManyInMonth = 300;
    private const int DaysOfMonth = 30;

    /// <summary>Most readings that a batch is offered to hold.</summary>
    private const int MostBatch = 48;

    internal IEnumerable<Finding> All() =>
        site.Nodes.Where(n => n.Link == LinkKind.TextMessage && n.Readings.Count > 0).SelectMany(n => new[] { Unheard(n), Many(n) }).OfType<Finding>();

    private bool TakesTexts(NodeDesign gateway) => gateway.Hears && gateway.IsOnNetwork && Sending.TextModemOf(gateway, catalogue) is not null;

    private Finding? Unheard(NodeDesign node)
    {
        if (site.Node(node.Via ?? "") is { } via && TakesTexts(via))
        {
            return null;
        }
        var who = node.Via is { } key && site.Node(key) is { } named ? $"{named.Label} has no modem that takes them" : "no node is said to take them";
        return new(
            "REACH-TEXT-UNHEARD",
            Severity.Risk,
            new("reach", node.Key),
            $"{node.Label} sends text messages, and {who}.",
            "A text goes to a number: a gateway on the network with a modem of its own passes on what it holds.",
            [.. Takers(node).Take(3)],
            "The number stands in the program of the node, not in the plan.",
            "design"
        );
    }

    /// <summary>Gateways with a modem first, then the one that is named, then others, with a modem added.</summary>
    private IEnumerable<Remedy> Takers(NodeDesign node)
    {
        var through = SetNodes.As(node);
        var gateways = site.Nodes.Where(g => g.Key != node.Key && g is { Hears: true, IsOnNetwork: true, Via: null }).OrderBy(g => g.Key != node.Via).ToList();
        var modem = Sending.TextModemOf(node, catalogue)?.Part ?? catalogue.Parts.Where(p => p.Texts is not null).MinBy(p => p.Id, StringComparer.Ordinal);
        return
        [
            .. gateways.Where(TakesTexts).Select(g => new Remedy($"{g.Label} takes them", [through with { Via = g.Key }])),
            .. gateways
                .Where(g => modem is not null && !TakesTexts(g))
                .Select(g => new Remedy(
                    $"Add a {modem!.Label} to {g.Label}, which takes them",
                    [new PutPart(g.Key, new(NodeEdits.FreeKey(g, "modem"), modem.Label, modem.Id)), through with { Via = g.Key }]
                )),
        ];
    }

    private Finding? Many(NodeDesign node)
    {
        if (InMonth(node) is not { } texts || texts <= ManyInMonth)
        {
            return null;
        }
        return new(
            "REACH-TEXTS",
            Severity.Note,
            new("reach", node.Key),
            string.Create(CultureInfo.InvariantCulture, $"{node.Label} sends {texts:N0} text messages in {DaysOfMonth} days."),
            $"Most tariffs count each, and {ManyInMonth:0} are many. What changes less is better sent together, or only when it changes.",
            [.. Batched(node)],
            "Ask what a text costs where you are. Try with a telephone of the same network whether it reaches the place.",
            "timetable; what is many is common practice, no source"
        );
    }

    /// <summary>Texts in a month by the timetable and by the changes that are counted on; null without a modem.</summary>
    private double? InMonth(NodeDesign node) =>
        Sending.TextModemOf(node, catalogue) is { Part.Texts: { } modem }
            ? DaysOfMonth * Relaying.Messages(node).Sum(m => m.PerDay * Sending.Texts(modem, m.Bytes))
            : null;

    /// <summary>The fewest readings in a text that are enough, or as many as help most.</summary>
    private IEnumerable<Remedy> Batched(NodeDesign node)
    {
        var tried = Enumerable
            .Range(2, MostBatch - 1)
            .Select(n => (Times: n, Node: node with { Readings = [.. node.Readings.Select(r => Together(r, n))] }))
            .Select(t => (t.Times, t.Node, Texts: InMonth(t.Node)))
            .ToList();
        var best = tried.FirstOrDefault(t => t.Texts <= ManyInMonth);
        best = best.Node is null ? tried.MinBy(t => t.Texts) : best;
        return best.Texts < InMonth(node)
            ?
            [
                new(
                    string.Create(CultureInfo.InvariantCulture, $"Send {best.Times} readings together: {best.Texts:N0} texts"),
                    [.. best.Node.Readings.Where(r => r.IntervalMs is not null).Select(r => new PutReading(node.Key, r))]
                ),
            ]
            : [];
    }

    private static ReadingDesign Together(ReadingDesign reading, int times) =>
        reading.IntervalMs is null ? reading : reading with { BatchOf = Math.Max(1, reading.BatchOf) * times };
}
