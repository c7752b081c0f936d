using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>One end of a radio link: what it sends with and how weak a signal it understands. What is not known is null.</summary>
/// <param name="Node">The node that it is of; null for an access point.</param>
/// <param name="At">Where it is.</param>
/// <param name="Channel">Frequency and rate: the two ends must have the same.</param>
internal sealed record RadioEnd(
    NodeDesign? Node,
    string Key,
    string Label,
    Spot? Spot,
    Point3? At,
    string Channel,
    double? Megahertz,
    WorkingInput? Power,
    WorkingInput Gain,
    WorkingInput? Sensitivity
)
{
    private const double UsualGainDbi = 0,
        WifiDbm = 17,
        WifiSensitivityDbm = -95,
        AccessPointDbm = 20,
        UsualWifiMegahertz = 2442;

    /// <summary>Of what nodes have to be in common to hear each other over Wi-Fi.</summary>
    internal const string Wifi = "Wi-Fi, 2.4 GHz";

    /// <summary>Power with the antenna, dBm e.i.r.p.; null where the power is not known.</summary>
    internal double? RadiatedDbm => Power?.Value + Gain.Value;

    /// <summary>The end of a node by the way it sends; null for one that sends by no radio.</summary>
    internal static RadioEnd? OfSender(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node) =>
        node.Link switch
        {
            LinkKind.Wifi => OfBoard(site, node),
            LinkKind.LongRange => OfModule(site, catalogue, node),
            _ => null,
        };

    /// <summary>The end of a node's radio module, also of one that only listens with it; null where it has none.</summary>
    internal static RadioEnd? OfModule(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node)
    {
        if (Sending.ModuleOf(node, catalogue) is not { } radio)
        {
            return null;
        }
        var spot = site.Place.Spot(node.Spot);
        return new(
            node,
            node.Key,
            node.Label,
            spot,
            spot is null ? null : site.Place.At(spot),
            radio.Channel,
            radio.Modem.Megahertz,
            PowerOf(node, radio),
            GainOf(node),
            SensitivityOf(radio)
        );
    }

    /// <summary>Of an access point.</summary>
    internal static RadioEnd Of(SiteDesign site, AccessPoint accessPoint)
    {
        var spot = site.Place.Spot(accessPoint.Spot);
        return new(
            null,
            accessPoint.Key,
            accessPoint.Label,
            spot,
            spot is null ? null : site.Place.At(spot),
            Wifi,
            accessPoint.Channel is { } channel ? 2407 + 5 * channel : UsualWifiMegahertz,
            new(
                "P",
                accessPoint.RadiatedDbm ?? AccessPointDbm,
                Unit.DecibelMilliwatt,
                accessPoint.RadiatedDbm is null ? "usual access point with its antenna: planning value" : "design"
            ),
            new("G", 0, Unit.DecibelIsotropic, "counted in its power"),
            new("S", WifiSensitivityDbm, Unit.DecibelMilliwatt, "802.11b at 1 Mbit/s, from memory")
        );
    }

    private static RadioEnd OfBoard(SiteDesign site, NodeDesign node)
    {
        var spot = site.Place.Spot(node.Spot);
        return new(
            node,
            node.Key,
            node.Label,
            spot,
            spot is null ? null : site.Place.At(spot),
            Wifi,
            UsualWifiMegahertz,
            new("P", WifiDbm, Unit.DecibelMilliwatt, "Wi-Fi of a small board, from memory: 13 to 19.5"),
            GainOf(node),
            new("S", WifiSensitivityDbm, Unit.DecibelMilliwatt, "802.11b at 1 Mbit/s, from memory")
        );
    }

    private static WorkingInput? PowerOf(NodeDesign node, NodeRadio radio) =>
        node.Radio?.PowerDbm is { } own ? new("P", own, Unit.DecibelMilliwatt, "design")
        : radio.Modem.PowerDbm is { } usual ? new("P", usual.Likely, Unit.DecibelMilliwatt, usual.Source)
        : null;

    private static WorkingInput GainOf(NodeDesign node) =>
        node.Radio?.AntennaGainDbi is { } own
            ? new("G", own, Unit.DecibelIsotropic, "design")
            : new("G", UsualGainDbi, Unit.DecibelIsotropic, "quarter-wave wire or printed antenna: planning value");

    private static WorkingInput? SensitivityOf(NodeRadio radio)
    {
        var modem = radio.Modem;
        if (modem.IsLora)
        {
            var source = string.Create(CultureInfo.InvariantCulture, $"noise figure 6 dB, {radio.Rate} at {modem.BandwidthKilohertz:0.###} kHz: AN1200.13");
            return new("S", LinkBudget.LoraSensitivityDbm(modem.SpreadingFactor, modem.BandwidthKilohertz), Unit.DecibelMilliwatt, source);
        }
        // Ten times the rate wants ten times the power.
        return modem.SensitivityDbm is { } at
            ? new("S", at.Likely + 10 * Math.Log10((modem.BitsPerSecond ?? 1) / (radio.Part.Modem!.BitsPerSecond ?? 1)), Unit.DecibelMilliwatt, at.Source)
            : null;
    }
}
