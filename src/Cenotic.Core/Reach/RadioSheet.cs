using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>A radio that can be set, as a form shows it.</summary>
/// <param name="Radio">Where its settings stand, and what they are.</param>
/// <param name="Hears">True for the radio of who hears the node that was asked for.</param>
/// <param name="IsTunable">Whether frequency and rate can be set: not those of a standard, nor of what is keyed on and off.</param>
/// <param name="Usual">As it is unless told otherwise; of one on a board its power alone is of use.</param>
/// <param name="Together">All modules of its channel, this one among them: what both ends need alike is set on each.</param>
public sealed record RadioSheet(RadioPlace Radio, bool Hears, bool IsTunable, RadioModem? Usual, IReadOnlyList<RadioPlace> Together)
{
    /// <summary>The radios of a node, that by which it sends first, and at last that by which it is heard. Pure.</summary>
    /// <exception cref="ArgumentException">There is no such node.</exception>
    public static IReadOnlyList<RadioSheet> Of(SiteDesign site, HardwareCatalogue catalogue, string node)
    {
        var design = site.Node(node) ?? throw new ArgumentException($"There is no node \"{node}\".", nameof(node));
        var sends = Sending.RadioOf(design, catalogue);
        List<RadioSheet> sheets =
        [
            .. Sending
                .ModulesOf(design, catalogue)
                .Concat(sends is { IsOnBoard: true } ? [sends] : [])
                .OrderByDescending(r => r.Key == sends?.Key)
                .Select(r => Of(site, catalogue, design, r, hears: false)),
        ];
        if (design.Link == LinkKind.Wifi)
        {
            var set = Sending.SetOnBoard(design, catalogue);
            sheets.Insert(0, new(new(design.Key, design.Label, null, LinkKind.Wifi.Name(), set), false, false, null, []));
        }
        if (sends is not null && site.Node(design.Via ?? "") is { } gateway && Sending.HearsWith(gateway, catalogue, design.Link, sends.Channel) is { } with)
        {
            sheets.Add(Of(site, catalogue, gateway, with, hears: true));
        }
        return sheets;
    }

    private static RadioSheet Of(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, NodeRadio radio, bool hears)
    {
        var tunable = radio is { IsOnBoard: false, Modem.OneWay: null };
        return new(
            RadioPlace.Of(node, radio),
            hears,
            tunable,
            radio.Usual,
            tunable ? [.. Sending.OnChannel(site, catalogue, radio.Channel).Select(r => RadioPlace.Of(r.Node, r.Radio))] : []
        );
    }
}

/// <summary>A radio of a node, and where its settings stand.</summary>
/// <param name="Label">Of the node.</param>
/// <param name="Part">Key of the part that has the settings; null where the node has them.</param>
/// <param name="Name">What the radio is called.</param>
/// <param name="Set">As it is set; null for as usual.</param>
public sealed record RadioPlace(string Node, string Label, string? Part, string Name, RadioDesign? Set)
{
    internal static RadioPlace Of(NodeDesign node, NodeRadio radio) => new(node.Key, node.Label, radio.SetOnPart ? radio.Key : null, radio.Name, radio.Set);
}
