using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>What a node's radio uses of what the law of the region allows.</summary>
/// <param name="Band">The band that it is judged by; null where none holds its signal.</param>
/// <param name="Radiated">Power with the antenna.</param>
/// <param name="Most">Highest that is allowed; null outside of every band.</param>
/// <param name="OnAir">Part of an hour on the air, on average.</param>
/// <param name="MostOnAir">Highest that is allowed, %; null for no limit.</param>
/// <param name="MessagesLeft">Messages an hour that may be sent besides; null for no limit.</param>
/// <param name="Longest">How long its longest message is on the air at a stretch; null where there is no limit of that.</param>
/// <param name="MostAtOnce">The longest that is allowed, ms; null for no limit.</param>
public sealed record LawBudget(
    string Node,
    string Label,
    string Channel,
    string? Band,
    Figure Radiated,
    double? Most,
    string MostUnit,
    Figure OnAir,
    double? MostOnAir,
    Figure? MessagesLeft,
    string Source,
    Figure? Longest = null,
    double? MostAtOnce = null
)
{
    /// <summary>Whether it radiates more than is allowed.</summary>
    internal bool TooStrong => Most is { } most && Radiated.Value > most + 1e-9;

    /// <summary>Whether it is on the air longer than is allowed.</summary>
    internal bool TooLong => MostOnAir is { } most && OnAir.Value > most + 1e-9;

    /// <summary>Whether a message is on the air longer at a stretch than is allowed.</summary>
    internal bool TooLongAtOnce => MostAtOnce is { } most && Longest?.Value > most + 1e-9;
}

/// <summary>Power and time on the air of radios against the law of the region. Wi-Fi keeps to it by itself.</summary>
internal static class LawPlanner
{
    /// <summary>The narrowest channel of such radios, kHz.</summary>
    private const double NarrowKilohertz = 25;
    private const double HourMs = 3_600_000;

    /// <summary>Each radio that sends messages, or answers to those that it hears; none while no region is said.</summary>
    internal static IReadOnlyList<LawBudget> Of(SiteDesign site, HardwareCatalogue catalogue, IReadOnlyList<PlacedRhythm> nodes) =>
        site.Settings.Region == RadioRegion.Unset
            ? []
            : [.. nodes.SelectMany(n => Sending.RadiosOf(n.Node, catalogue).Select(r => Of(site, n, r, nodes))).OfType<LawBudget>()];

    /// <summary>Whether a region has a band for each radio that sends, and none is too strong there.</summary>
    internal static bool Allows(SiteSettings region, SiteDesign site, HardwareCatalogue catalogue)
    {
        bool Fits(NodeDesign node, NodeRadio radio)
        {
            var end = RadioEnd.Of(site, node, radio);
            return radio.Modem.Megahertz is null
                || end.Power is null
                || RadioLaw.Of(region).Any(b => b.Holds(radio.Modem) && end.RadiatedDbm <= b.MostIsotropicDbm + 1e-9);
        }
        bool Answers(NodeDesign node, NodeRadio radio) =>
            node.Hears && site.Nodes.Any(n => n.Via == node.Key && SendDesign.Of(n).Acknowledged && Hears(node, radio, n, catalogue));
        return site.Nodes.All(n => Sending.RadiosOf(n, catalogue).Where(r => r.Link == n.Link || Answers(n, r)).All(r => Fits(n, r)));
    }

    /// <summary>The most that a radio may radiate in any band that holds its signal, dBm e.i.r.p.; null where none does.</summary>
    internal static double? MostDbm(SiteSettings region, RadioModem modem) =>
        RadioLaw.Of(region).Where(b => b.Holds(modem)).Max(b => (double?)b.MostIsotropicDbm);

    /// <summary>Whether it is with this radio that a node hears another, and answers it.</summary>
    private static bool Hears(NodeDesign node, NodeRadio radio, NodeDesign sender, HardwareCatalogue catalogue) =>
        sender.Link == radio.Link
        && Sending.HearsWith(node, catalogue, radio.Link, Sending.RadioOf(sender, catalogue)?.Channel) is { } with
        && with.Key == radio.Key;

    private static LawBudget? Of(SiteDesign site, PlacedRhythm placed, NodeRadio radio, IReadOnlyList<PlacedRhythm> nodes)
    {
        var end = RadioEnd.Of(site, placed.Node, radio);
        if (radio.Modem.Megahertz is null || end.Power is null)
        {
            return null;
        }
        var sends = Messages(placed, radio).Concat(Answers(placed, radio, nodes)).ToList();
        if (sends.Count == 0)
        {
            return null;
        }
        var onAir = sends.Sum(s => s.PerHour * s.AirMs) / HourMs * 100;
        var longest = Longest(sends);
        var bands = RadioLaw.Of(site.Settings).Where(b => b.Holds(radio.Modem)).ToList();
        bool Kept(LawBand band) =>
            end.RadiatedDbm <= band.MostIsotropicDbm + 1e-9
            && onAir <= (band.DutyPercent ?? 100)
            && longest.Value <= (band.LongestMs ?? double.PositiveInfinity);
        var band = bands.Find(Kept) ?? bands.Find(b => end.RadiatedDbm <= b.MostIsotropicDbm + 1e-9) ?? bands.MaxBy(b => b.MostIsotropicDbm);
        return new(
            placed.Node.Key,
            placed.Node.Label,
            radio.Channel,
            band?.What,
            Radiated(end, band),
            band?.MostDbm,
            band?.PowerUnit ?? Unit.DecibelMilliwatt,
            OnAir(onAir, sends),
            band?.DutyPercent,
            band?.DutyPercent is { } most ? Left(most, onAir, sends) : null,
            band?.Source ?? "no band of the region holds it",
            band?.LongestMs is null ? null : longest,
            band?.LongestMs
        );
    }

    private static Figure Longest(List<Sent> sends)
    {
        var longest = sends.MaxBy(s => s.AirMs)!;
        return Figure.Exact(
            "At a stretch",
            longest.AirMs,
            Unit.Millisecond,
            new Working(
                "time on air of the longest message",
                [new($"time on air, {longest.What}", longest.AirMs, Unit.Millisecond, "bytes of the message and rate")],
                "arithmetic"
            )
        );
    }

    /// <summary>Width of a signal: of one that shifts its frequency, by Carson's rule with a shift of half its rate.</summary>
    internal static double Kilohertz(RadioModem modem) =>
        modem.IsLora ? modem.BandwidthKilohertz : Math.Max(NarrowKilohertz, 2 * (modem.BitsPerSecond ?? 0) / 1000);

    private static Figure Radiated(RadioEnd end, LawBand? band)
    {
        var dipole = band?.Power == PowerReference.Effective ? LawBand.DipoleDbi : 0;
        return Figure.Exact(
            "Radiated",
            end.RadiatedDbm!.Value - dipole,
            band?.PowerUnit ?? Unit.DecibelMilliwatt,
            new Working(
                dipole > 0 ? "P + G − 2.15: e.r.p. is measured against a dipole" : "P + G: e.i.r.p.",
                [end.Power!, end.Gain],
                "ITU Radio Regulations, 1.161 and 1.162"
            )
        );
    }

    private static Figure OnAir(double percent, List<Sent> sends) =>
        Figure.Exact(
            "On the air",
            percent,
            Unit.Percent,
            new Working(
                "Σ messages an hour · tries · time on air / hour",
                [
                    .. sends.SelectMany(s =>
                        new WorkingInput[]
                        {
                            new($"transmissions an hour, {s.What}", s.PerHour, "", s.Source),
                            new($"time on air, {s.What}", s.AirMs, Unit.Millisecond, "bytes of the message and rate"),
                        }
                    ),
                ],
                "arithmetic; an hour of the timetable, and events as many as expected"
            )
        );

    private static Figure Left(double most, double onAir, List<Sent> sends)
    {
        var longest = sends.Max(s => s.AirMs);
        return Figure.Exact(
            "Messages an hour left",
            Math.Max(0, Math.Floor((most - onAir) / 100 * HourMs / longest)),
            Unit.Count,
            new Working(
                "(limit − used) · hour / time on air of the longest message",
                [
                    new("limit", most, Unit.Percent, "law of the region"),
                    new("used", onAir, Unit.Percent, "timetable"),
                    new("time on air", longest, Unit.Millisecond, "longest message"),
                ],
                "arithmetic"
            )
        );
    }

    /// <summary>What is sent: how often an hour, with all its tries on average, and how long each is on the air.</summary>
    private sealed record Sent(string What, double PerHour, double AirMs, string Source);

    private static IEnumerable<Sent> Messages(PlacedRhythm placed, NodeRadio radio)
    {
        if (placed.Node.Link != radio.Link || Sending.RadioOf(placed.Node, placed.Setting.Catalogue)?.Key != radio.Key)
        {
            yield break;
        }
        var tries = placed.Setting.LinkOf(placed.Node).Tries(SendDesign.Of(placed.Node));
        foreach (var wake in placed.Rhythm.Wakes.Where(w => w is { Sends.Count: > 0, PerDay: > 0 }))
        {
            yield return new(
                wake.Label.ToLowerInvariant(),
                wake.PerDay / 24 * tries,
                Sending.AirMs(radio.Modem, Bytes(placed.Node, wake)),
                $"timetable; {tries:0.##} tries of a message"
            );
        }
        foreach (var heard in placed.Node.Hears ? placed.Setting.Relayed.ForOthers : [])
        {
            yield return new(
                $"passed on for {heard.Label}",
                heard.PerDay / 24 * tries,
                Sending.AirMs(radio.Modem, heard.Bytes),
                $"timetable of {heard.Label}; {tries:0.##} tries of a message"
            );
        }
    }

    private static int Bytes(NodeDesign node, WakeKind wake) => Sending.Bytes(Sending.Values([.. node.Readings.Where(r => wake.Sends.Contains(r.Key))]));

    /// <summary>A gateway or a relay answers each message that wants it.</summary>
    private static IEnumerable<Sent> Answers(PlacedRhythm placed, NodeRadio radio, IReadOnlyList<PlacedRhythm> nodes)
    {
        foreach (var heard in placed.Node.Hears ? placed.Setting.Relayed.ForOthers.GroupBy(m => m.Last) : [])
        {
            if (
                nodes.FirstOrDefault(n => n.Node.Key == heard.Key) is { } from
                && SendDesign.Of(from.Node).Acknowledged
                && Hears(placed.Node, radio, from.Node, placed.Setting.Catalogue)
            )
            {
                yield return new(
                    $"answers to {from.Node.Label}",
                    heard.Sum(m => m.PerDay) / 24 * from.Setting.LinkOf(from.Node).Tries(SendDesign.Of(from.Node)),
                    Sending.AnswerMs(radio.Modem),
                    "one for each try of its messages"
                );
            }
        }
    }
}
