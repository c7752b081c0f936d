using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>One end of a radio link: what it sends with and how weak a signal it understands. What is not known is null.</summary>
/// <param name="At">Where it is.</param>
/// <param name="Channel">Frequency and rate: the two ends must have the same.</param>
/// <param name="Listens">Part of the time that it listens, where it has something else to do besides.</param>
/// <param name="InMetal">Whether its antenna is in a metal box.</param>
/// <param name="Flat">Whether its antenna lies flat.</param>
internal sealed record RadioEnd(
    string Key,
    string Label,
    Spot? Spot,
    Point3? At,
    string Channel,
    double? Megahertz,
    WorkingInput? Power,
    WorkingInput Gain,
    WorkingInput? Sensitivity,
    WorkingInput? Listens = null,
    bool InMetal = false,
    bool Flat = false
)
{
    private const double UsualGainDbi = 0,
        UsualWifiMegahertz = 2442;

    /// <summary>One antenna for Wi-Fi and for Bluetooth: it listens to either in turn.</summary>
    private static readonly WorkingInput HalfTheTime = new("listens", 0.5, "", "its Wi-Fi has the antenna the other half of the time: planning value");

    /// <summary>Of what nodes have to be in common to hear each other over Wi-Fi.</summary>
    private const string Wifi = "Wi-Fi, 2.4 GHz";

    /// <summary>What the Wi-Fi of a board sends with.</summary>
    internal static readonly WorkingInput WifiOfBoard = new("P", 17, Unit.DecibelMilliwatt, "Wi-Fi of a small board, from memory: 13 to 19.5");

    private static readonly WorkingInput WifiHears = new("S", -95, Unit.DecibelMilliwatt, "802.11b at 1 Mbit/s, from memory");

    /// <summary>Power with the antenna, dBm e.i.r.p.; null where the power is not known.</summary>
    internal double? RadiatedDbm => Power?.Value + Gain.Value;

    /// <summary>Whether all is known that a link is worked out of.</summary>
    internal bool IsKnown => At is not null && Megahertz is not null && Power is not null && Sensitivity is not null;

    /// <summary>The end of a node by the way it sends; null for one that sends by no radio.</summary>
    internal static RadioEnd? OfSender(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node) =>
        node.Link == LinkKind.Wifi ? OfBoard(site, node) : OfRadio(site, catalogue, node, node.Link);

    /// <summary>The end of a radio of a node, also of one that it only listens with; null where it has none that sends so.</summary>
    internal static RadioEnd? OfRadio(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, LinkKind link) =>
        Sending.RadioFor(node, catalogue, link) is { } radio ? Of(site, node, radio) : null;

    /// <summary>The end of a node that hears others: a relay listens with what it sends by, a gateway with all that it has.</summary>
    internal static RadioEnd? OfReceiver(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, LinkKind link) =>
        node.SendsPackets && node.Link != link ? null : OfRadio(site, catalogue, node, link);

    /// <summary>The end of a radio of a node.</summary>
    internal static RadioEnd Of(SiteDesign site, NodeDesign node, NodeRadio radio)
    {
        var end = Hung(
            site,
            node.Spot,
            node.Key,
            node.Label,
            radio.Channel,
            radio.Modem.Megahertz,
            PowerOf(radio),
            GainOf(radio.Set),
            SensitivityOf(radio)
        ) with
        {
            InMetal = InMetalBox(node),
            Flat = radio.Set?.AntennaFlat == true,
        };
        return radio.Link.IsAdvertised() && node.Link == LinkKind.Wifi ? end with { Listens = HalfTheTime } : end;
    }

    /// <summary>Of a node that is to hear and has no radio for it: nothing but where it is is known.</summary>
    internal static RadioEnd OfNone(SiteDesign site, NodeDesign node) => Hung(site, node.Spot, node.Key, node.Label, "", null, null, GainOf(node.Radio), null);

    /// <summary>Of an access point.</summary>
    internal static RadioEnd Of(SiteDesign site, AccessPoint accessPoint)
    {
        var megahertz = accessPoint.Channel is { } channel ? AccessPoint.Megahertz(channel) : UsualWifiMegahertz;
        WorkingInput power = accessPoint.RadiatedDbm is { } own
            ? new("P", own, Unit.DecibelMilliwatt, "design")
            : new("P", AccessPoint.UsualRadiatedDbm, Unit.DecibelMilliwatt, "usual access point with its antenna: planning value");
        WorkingInput gain = new("G", 0, Unit.DecibelIsotropic, "counted in its power");
        return Hung(site, accessPoint.Spot, accessPoint.Key, accessPoint.Label, Wifi, megahertz, power, gain, WifiHears);
    }

    private static RadioEnd OfBoard(SiteDesign site, NodeDesign node) =>
        Hung(site, node.Spot, node.Key, node.Label, Wifi, UsualWifiMegahertz, WifiOfBoard, GainOf(node.Radio), WifiHears) with
        {
            InMetal = InMetalBox(node),
        };

    private static bool InMetalBox(NodeDesign node) => node.Housing is { AntennaInMetal: true };

    private static RadioEnd Hung(
        SiteDesign site,
        string? spot,
        string key,
        string label,
        string channel,
        double? megahertz,
        WorkingInput? power,
        WorkingInput gain,
        WorkingInput? sensitivity
    )
    {
        var hangs = site.Place.Spot(spot);
        return new(key, label, hangs, hangs is null ? null : site.Place.At(hangs), channel, megahertz, power, gain, sensitivity);
    }

    private static WorkingInput? PowerOf(NodeRadio radio) =>
        radio.Set?.PowerDbm is { } own ? new("P", own, Unit.DecibelMilliwatt, "design")
        : radio.Modem.PowerDbm is { } usual ? new("P", usual.Likely, Unit.DecibelMilliwatt, usual.Source)
        : null;

    private static WorkingInput GainOf(RadioDesign? set) =>
        set?.AntennaGainDbi is { } own
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
            ? new("S", at.Likely + 10 * Math.Log10((modem.BitsPerSecond ?? 1) / (radio.Usual.BitsPerSecond ?? 1)), Unit.DecibelMilliwatt, at.Source)
            : null;
    }
}
