using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>A way to send that a node could have.</summary>
/// <param name="Link">By what it would send.</param>
/// <param name="Radio">The radio in a sentence.</param>
/// <param name="Gateway">Who would hear it; null for the access point.</param>
/// <param name="Edits">What makes it so.</param>
internal sealed record OtherRadio(LinkKind Link, string Radio, NodeDesign? Gateway, IReadOnlyList<DesignEdit> Edits);

/// <summary>The same with what comes of it.</summary>
internal sealed record TriedRadio(OtherRadio Radio, SiteDesign After, NodeDesign Node, PlannedLink Link);

/// <summary>What a node could send by instead: Wi-Fi and the other radios of its board, and the modules of each gateway.</summary>
internal static class OtherRadios
{
    /// <summary>Each with its link: Wi-Fi, the modules of each gateway, and of each radio of the board the gateway that hears it best.</summary>
    internal static IEnumerable<TriedRadio> Tried(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, PathsByFrequency paths)
    {
        var tried = Of(site, catalogue, node).Select(o => Tried(site, catalogue, node, paths, o)).OfType<TriedRadio>().ToList();
        return tried
            .Where(t => !IsOfBoard(t.Radio))
            .Concat(tried.Where(t => IsOfBoard(t.Radio)).GroupBy(t => t.Radio.Link).Select(g => g.MaxBy(t => t.Link.Margin.Value ?? double.NegativeInfinity)!));
    }

    private static bool IsOfBoard(OtherRadio radio) => LinkKinds.OfBoards.Contains(radio.Link);

    private static TriedRadio? Tried(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, PathsByFrequency paths, OtherRadio radio) =>
        EditBatch.Apply(site, radio.Edits) is { Ok: true } applied
        && applied.Value.After.Node(node.Key) is { } changed
        && LinkPlanner.Of(applied.Value.After, catalogue, changed, paths) is { } link
            ? new(radio, applied.Value.After, changed, link)
            : null;

    private static IEnumerable<OtherRadio> Of(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node)
    {
        var own = Sending.ModuleOf(node, catalogue);
        // Who hears others with its module keeps it.
        var spare = own is not null && site.Nodes.All(n => n.Via != node.Key) ? own.Key : null;
        DesignEdit[] without = spare is null ? [] : [new RemovePart(node.Key, spare)];
        // Settings of the node that were those of a module which goes are none of its board.
        var kept = own is { SetOnPart: false } && spare is not null ? null : node.Radio;
        var board = catalogue.Board(node.Board);
        if (node.Link != LinkKind.Wifi && board is { ConnectMs: not null } && board.Sends(LinkKind.Wifi))
        {
            yield return new(
                LinkKind.Wifi,
                "Wi-Fi",
                null,
                [.. without, SetNodes.As(node) with { Link = LinkKind.Wifi, Via = null, Relays = false, Radio = kept }]
            );
        }
        foreach (var gateway in site.Nodes.Where(g => RelayTree.IsGateway(g) && g.Key != node.Key))
        {
            foreach (
                var radio in Sending
                    .RadiosOf(gateway, catalogue)
                    .Where(r => !(node.Link == r.Link && node.Via == gateway.Key && (r.IsOnBoard || r.Channel == own?.Channel)))
            )
            {
                if (radio.IsOnBoard && board?.Sends(radio.Link) == true)
                {
                    yield return new(
                        radio.Link,
                        radio.Label,
                        gateway,
                        [.. without, SetNodes.As(node) with { Link = radio.Link, Via = gateway.Key, Radio = null }]
                    );
                }
                else if (!radio.IsOnBoard && PairOf(radio, catalogue) is { } module)
                {
                    yield return new(radio.Link, $"a {module.Label}", gateway, ByModule(site.Settings, node, own, radio, module, gateway.Key, without));
                }
            }
        }
    }

    /// <summary>The module with which a node sends to one of a gateway: the same, or the transmitter for a receiver. Null where there is none.</summary>
    internal static Part? PairOf(NodeRadio radio, HardwareCatalogue catalogue) =>
        radio.Modem.OneWay switch
        {
            null => catalogue.Part(radio.Id),
            OneWay.Hears => catalogue
                .Parts.Where(p => p.Modem is { OneWay: OneWay.Sends } m && m.Megahertz == radio.Modem.Megahertz && m.BitsPerSecond == radio.Modem.BitsPerSecond)
                .MinBy(p => p.Id, StringComparer.Ordinal),
            _ => null,
        };

    private static IReadOnlyList<DesignEdit> ByModule(
        SiteSettings region,
        NodeDesign node,
        NodeRadio? own,
        NodeRadio radio,
        Part part,
        string gateway,
        DesignEdit[] without
    )
    {
        // What both ends need alike is as at the gateway; power and antenna are the node's own.
        var power = own?.Set?.PowerDbm ?? Lawful(region, radio.Modem, part.Modem!, own?.Set?.AntennaGainDbi ?? 0);
        var alike = (radio.Set ?? new()) with { PowerDbm = power, AntennaGainDbi = own?.Set?.AntennaGainDbi, AntennaFlat = own?.Set?.AntennaFlat };
        var set = alike == new RadioDesign() ? null : alike;
        var sends = SetNodes.As(node) with { Link = radio.Link, Via = gateway, Relays = node.Relays && radio.Link.CanRelay() };
        if (own?.Id == part.Id)
        {
            return own.SetOnPart ? [sends, own.SetTo(node, set)] : [sends with { Radio = set }];
        }
        var module = new PartInstance(NodeEdits.FreeKey(node, "radio"), part.Label, part.Id, Radio: set);
        // Settings of the node are those of a module that stays.
        return [.. without, new PutPart(node.Key, module), sends with { Radio = own is not null && without.Length == 0 ? node.Radio : null }];
    }

    /// <summary>The power of a module that sends with more than the law allows, turned down; null where the usual is allowed, or no less can be set.</summary>
    /// <param name="channel">As its channel is set.</param>
    private static double? Lawful(SiteSettings region, RadioModem channel, RadioModem module, double gainDbi) =>
        module.PowerDbm is { } power && LawPlanner.MostDbm(region, channel) - gainDbi is { } most && power.Likely > most && Math.Floor(most) >= power.Low
            ? Math.Floor(most)
            : null;
}
