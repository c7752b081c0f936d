using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.BringUp;

/// <summary>How the program of a node sets its radio module, and for whom it relays. What the module does not have, or nobody knows, is null.</summary>
/// <param name="Part">Key of the module.</param>
/// <param name="CodingRate">Of LoRa, 1 for 4/5 to 4 for 4/8.</param>
/// <param name="PowerDbm">Transmit power at the antenna's foot, dBm.</param>
/// <param name="MostTries">Transmissions of a message at most; 1 where no answer is waited for.</param>
/// <param name="PassesOn">Keys of the nodes whose messages it passes on; none for one that is no relay.</param>
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
    bool IsUsual
)
{
    /// <summary>What it adds to what a program acts by.</summary>
    internal IEnumerable<(string Key, object?[] Values)> Lines() =>
        IsUsual
            ? []
            :
            [
                ($"radio.{Part}", [Megahertz, SpreadingFactor, BandwidthKilohertz, CodingRate, BitsPerSecond, PowerDbm, MostTries]),
                .. PassesOn.Select(n => ($"relay.{n}", new object?[] { "on" })),
            ];

    /// <summary>Of a node with a radio module; null for one without.</summary>
    internal static RadioSetting? Of(NodeDesign node, HardwareCatalogue hardware, SiteDesign? site)
    {
        if (Sending.ModuleOf(node, hardware) is not { } radio)
        {
            return null;
        }
        var (modem, send) = (radio.Modem, Sending.Of(node));
        var tries = send.Acknowledged ? send.MostTries : 1;
        List<string> passesOn = node.Link == LinkKind.LongRange && site is not null ? [.. site.Nodes.Where(IsPassedOn).Select(n => n.Key)] : [];
        return new(
            radio.Instance.Key,
            modem.Megahertz,
            modem.IsLora ? modem.SpreadingFactor : null,
            modem.IsLora ? modem.BandwidthKilohertz : null,
            modem.IsLora ? modem.CodingRate : null,
            modem.BitsPerSecond,
            node.Radio?.PowerDbm ?? modem.PowerDbm?.Likely,
            tries,
            passesOn,
            // Of its antenna the program knows nothing.
            (node.Radio ?? new()) with
            {
                AntennaGainDbi = null,
            } == new RadioDesign()
                && tries == new SendDesign().MostTries
                && passesOn.Count == 0
        );

        bool IsPassedOn(NodeDesign other) => site.HeardThrough(other).Any(h => h.Key == node.Key);
    }
}
