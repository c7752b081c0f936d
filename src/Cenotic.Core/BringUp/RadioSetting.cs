using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Reach;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.BringUp;

/// <summary>How the program of a node sets its radio, and for whom it relays. What the radio does not have, or nobody knows, is null.</summary>
/// <param name="Part">Key of the module; for a radio of the board what it sends: frames, advertising, ieee802154.</param>
/// <param name="Megahertz">Of Wi-Fi frames the channel of the access point that the gateway is connected to, where both are known.</param>
/// <param name="CodingRate">Of LoRa, 1 for 4/5 to 4 for 4/8.</param>
/// <param name="PowerDbm">Transmit power at the antenna's foot, dBm.</param>
/// <param name="MostTries">Transmissions of a message at most; as many as are sent where no answer is waited for.</param>
/// <param name="PassesOn">Keys of the nodes whose messages it passes on; none for one that is no relay.</param>
/// <param name="HopChannels">Channels side by side that it changes between; null for one alone.</param>
/// <param name="IsUsual">Whether all of it is as usual for the part: then it changes no hash.</param>
public sealed record RadioSetting(
    string Part,
    double? Megahertz,
    int? SpreadingFactor,
    double? BandwidthKilohertz,
    int? CodingRate,
    double? BitsPerSecond,
    double? PowerDbm,
    int MostTries,
    IReadOnlyList<string> PassesOn,
    bool IsUsual,
    int? HopChannels = null
)
{
    /// <summary>What it adds to what a program acts by.</summary>
    internal IEnumerable<(string Key, object?[] Values)> Lines() =>
        IsUsual
            ? []
            :
            [
                (
                    $"radio.{Part}",
                    [
                        Megahertz,
                        SpreadingFactor,
                        BandwidthKilohertz,
                        CodingRate,
                        BitsPerSecond,
                        PowerDbm,
                        MostTries,
                        .. HopChannels is { } hops ? new object?[] { hops } : [],
                    ]
                ),
                .. PassesOn.Select(n => ($"relay.{n}", new object?[] { "on" })),
            ];

    /// <summary>Of a node that sends by a radio message by message, or has a module; null for another.</summary>
    internal static RadioSetting? Of(NodeDesign node, HardwareCatalogue hardware, SiteDesign? site) =>
        Main(node, hardware) is { } radio ? Of(node, radio, hardware, site) : null;

    /// <summary>Of the modules that a node has besides.</summary>
    internal static IReadOnlyList<RadioSetting> Further(NodeDesign node, HardwareCatalogue hardware)
    {
        var main = Main(node, hardware)?.Key;
        return [.. Sending.ModulesOf(node, hardware).Where(m => m.Key != main).Select(m => Of(node, m, hardware, null))];
    }

    private static NodeRadio? Main(NodeDesign node, HardwareCatalogue hardware) => Sending.RadioOf(node, hardware) ?? Sending.ModuleOf(node, hardware);

    private static RadioSetting Of(NodeDesign node, NodeRadio radio, HardwareCatalogue hardware, SiteDesign? site)
    {
        var (modem, send) = (radio.Modem, SendDesign.Of(node));
        var tries = send.MostSent;
        List<string> passesOn = node.SendsPackets && site is not null ? [.. site.Nodes.Where(IsPassedOn).Select(n => n.Key)] : [];
        return new(
            radio.Key ?? radio.Id,
            radio.Link == LinkKind.Frames ? ChannelMegahertz(node, hardware, site) : modem.Megahertz,
            modem.IsLora ? modem.SpreadingFactor : null,
            modem.IsLora ? modem.BandwidthKilohertz : null,
            modem.IsLora ? modem.CodingRate : null,
            modem.BitsPerSecond,
            radio.Set?.PowerDbm ?? modem.PowerDbm?.Likely,
            tries,
            passesOn,
            // Of its antenna the program knows nothing. A board that sends otherwise than over its Wi-Fi runs another program.
            !radio.IsOnBoard
                && (radio.Set ?? new()) with { AntennaGainDbi = null, AntennaFlat = null } == new RadioDesign()
                && tries == new SendDesign().MostTries
                && passesOn.Count == 0,
            modem.HopChannels
        );

        bool IsPassedOn(NodeDesign other) => site.HeardThrough(other).Any(h => h.Key == node.Key);
    }

    /// <summary>A gateway on Wi-Fi hears frames on the channel of its access point only; null where that is not said.</summary>
    private static double? ChannelMegahertz(NodeDesign node, HardwareCatalogue hardware, SiteDesign? site) =>
        site is not null && LinkPlanner.FramesChannel(site, hardware, node) is { Channel: { } channel } ? AccessPoint.Megahertz(channel) : null;
}
