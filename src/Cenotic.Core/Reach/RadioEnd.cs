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
/// <param name="OneWay">Whether it only sends or only hears; null for both.</param>
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
    bool Flat = false,
    OneWay? OneWay = null
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
    internal bool IsKnown =>
        At is not null
        && Megahertz is not null
        && (Power is not null || OneWay == Catalogue.OneWay.Hears)
        && (Sensitivity is not null || OneWay == Catalogue.OneWay.Sends);

    /// <summary>The end of a node by the way it sends; null for one that sends by no radio.</summary>
    internal static RadioEnd? OfSender(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node) =>
        node.Link == LinkKind.Wifi ? OfBoard(site, catalogue, node)
        : Sending.RadioOf(node, catalogue) is { } radio ? Of(site, node, radio)
        : null;

    /// <summary>The end of a node that hears others: a relay listens with what it sends by, a gateway with all that it has, on the channel of the sender
    /// where it can. Null where it has no radio that hears what is sent so.</summary>
    internal static RadioEnd? OfReceiver(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, LinkKind link, string? channel)
    {
        if (node.SendsPackets)
        {
            return node.Link == link && link.CanRelay() ? OfSender(site, catalogue, node) : null;
        }
        return Sending.HearsWith(node, catalogue, link, channel) is { } radio ? Of(site, node, radio) : null;
    }

    /// <summary>The end of a radio of a node.</summary>
    internal static RadioEnd Of(SiteDesign site, NodeDesign node, NodeRadio radio)
    {
        var end = new RadioEnd(
            node.Key,
            node.Label,
            null,
            null,
            radio.Channel,
            radio.Modem.Megahertz,
            PowerOf(radio),
            GainOf(radio.Set),
            SensitivityOf(radio),
            InMetal: InMetalBox(node),
            Flat: radio.Set?.AntennaFlat == true,
            OneWay: radio.Modem.OneWay
        ).HungAt(site, node.Spot);
        return radio.IsOnBoard && radio.Link.IsAdvertised() && node.Link == LinkKind.Wifi ? end with { Listens = HalfTheTime } : end;
    }

    /// <summary>Of a node that is to hear and has no radio for it: nothing but where it is is known.</summary>
    internal static RadioEnd OfNone(SiteDesign site, NodeDesign node) =>
        new RadioEnd(node.Key, node.Label, null, null, "", null, null, GainOf(null), null).HungAt(site, node.Spot);

    /// <summary>Of an access point.</summary>
    internal static RadioEnd Of(SiteDesign site, AccessPoint accessPoint)
    {
        var megahertz = accessPoint.Channel is { } channel ? AccessPoint.Megahertz(channel) : UsualWifiMegahertz;
        WorkingInput power = accessPoint.RadiatedDbm is { } own
            ? new("P", own, Unit.DecibelMilliwatt, "design")
            : new("P", AccessPoint.UsualRadiatedDbm, Unit.DecibelMilliwatt, "usual access point with its antenna: planning value");
        WorkingInput gain = new("G", 0, Unit.DecibelIsotropic, "counted in its power");
        return new RadioEnd(accessPoint.Key, accessPoint.Label, null, null, Wifi, megahertz, power, gain, WifiHears).HungAt(site, accessPoint.Spot);
    }

    private static RadioEnd OfBoard(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node)
    {
        var gain = GainOf(Sending.SetOnBoard(node, catalogue));
        return new RadioEnd(node.Key, node.Label, null, null, Wifi, UsualWifiMegahertz, WifiOfBoard, gain, WifiHears, InMetal: InMetalBox(node)).HungAt(
            site,
            node.Spot
        );
    }

    private static bool InMetalBox(NodeDesign node) => node.Housing is { AntennaInMetal: true };

    /// <summary>This end at a spot of the place; nowhere where there is no such spot.</summary>
    private RadioEnd HungAt(SiteDesign site, string? spot)
    {
        var hangs = site.Place.Spot(spot);
        return this with { Spot = hangs, At = hangs is null ? null : site.Place.At(hangs) };
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
