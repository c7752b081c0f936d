using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Whether a link is good enough.</summary>
public enum LinkVerdict
{
    /// <summary>Nearly all messages arrive.</summary>
    Good,

    /// <summary>Too many are lost.</summary>
    Weak,

    /// <summary>Hardly any arrive.</summary>
    None,

    /// <summary>Something about it is not known.</summary>
    Unknown,
}

/// <summary>A link from a node to who hears it, as the plan of the place says.</summary>
/// <param name="Kind">By what it sends.</param>
/// <param name="Receiver">Key of the node or access point that hears it; null where there is none.</param>
/// <param name="ReceiverSpot">Where that is.</param>
/// <param name="InTheWay">What takes of the signal on the straight line, in order: walls, doors, floors, trees, boxes.</param>
/// <param name="Margin">Received power above sensitivity on the way there, dB.</param>
/// <param name="Back">The same for the answer, dB.</param>
/// <param name="Delivered">Part of messages that arrive with all their tries, %.</param>
/// <param name="Tries">Transmissions of a message on average.</param>
/// <param name="Rate">What Wi-Fi settles on, Mbit/s; null for others.</param>
public sealed record PlannedLink(
    string Node,
    string Label,
    LinkKind Kind,
    string? Spot,
    string? Receiver,
    string? ReceiverLabel,
    string? ReceiverSpot,
    string Channel,
    IReadOnlyList<string> InTheWay,
    Figure Distance,
    Figure Margin,
    Figure Back,
    Figure Delivered,
    Figure Tries,
    Figure? Rate
)
{
    /// <summary>Below the first it is weak, below the second it is none, % delivered. Common practice, no source.</summary>
    internal const double EnoughPercent = 95,
        HardlyPercent = 50;

    /// <summary>Whether it is good enough.</summary>
    public LinkVerdict Verdict =>
        Delivered.Value is not { } percent ? LinkVerdict.Unknown
        : percent >= EnoughPercent ? LinkVerdict.Good
        : percent >= HardlyPercent ? LinkVerdict.Weak
        : LinkVerdict.None;

    /// <summary>What Rhythm takes of it; null where something is not known.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public LinkAssumption? Assumption { get; init; }
}

/// <summary>Margin and delivery of radio links through the walls that are drawn.</summary>
public static class LinkPlanner
{
    /// <summary>How often a Wi-Fi frame is sent at most: the default of dot11ShortRetryLimit of IEEE 802.11.</summary>
    private const int WifiTries = 7;

    /// <summary>802.11n, 20 MHz, one stream, long guard: Mbit/s and the weakest signal that the standard asks, dBm; small chips hear 10 dB less. Source: IEEE
    /// 802.11, minimum sensitivity; the 10 dB from memory.</summary>
    private static readonly (double Megabits, double Dbm)[] WifiRates =
    [
        (65, -64),
        (58.5, -65),
        (52, -66),
        (39, -70),
        (26, -74),
        (19.5, -77),
        (13, -79),
        (6.5, -82),
        (1, -85),
    ];
    private const double ChipsHearBetterDb = 10;

    /// <summary>What the plan of the place says of the link of a node, also of one that is changed; null where something is not known.</summary>
    public static LinkAssumption? Assumption(SiteDesign site, HardwareCatalogue catalogue, Evidence evidence, NodeDesign node) =>
        Of(site, catalogue, node, new(site.Place, LinkFit.Of(site, catalogue, evidence)))?.Assumption;

    /// <summary>With what the signal of a node is sent and heard where it hangs, as both ends are set now; null where that is not known.</summary>
    public static WalkRadio? RadioNow(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node) => LinkFit.RadioNow(site, catalogue, node);

    /// <summary>Each node that sends by radio, in the order of the design.</summary>
    internal static IReadOnlyList<PlannedLink> Of(SiteDesign site, HardwareCatalogue catalogue, PathsByFrequency paths) =>
        [.. site.Nodes.Select(n => Of(site, catalogue, n, paths)).OfType<PlannedLink>()];

    /// <summary>The link of a node, also of one that is changed; null for one that sends by no radio.</summary>
    internal static PlannedLink? Of(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, PathsByFrequency paths)
    {
        if (RadioEnd.OfSender(site, catalogue, node) is not { } sender)
        {
            return null;
        }
        var receiver = Receiver(site, catalogue, node, sender, paths);
        return Missing(node, sender, receiver) is { } missing ? Unknown(node, sender, receiver, missing) : Known(node, sender, receiver!, paths);
    }

    /// <summary>Both ends of the link of a node; null where something of them is not known.</summary>
    internal static (RadioEnd Sender, RadioEnd Receiver)? Ends(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, PathsByFrequency paths) =>
        RadioEnd.OfSender(site, catalogue, node) is { } sender
        && Receiver(site, catalogue, node, sender, paths) is { } receiver
        && Missing(node, sender, receiver) is null
            ? (sender, receiver)
            : null;

    private static RadioEnd? Receiver(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, RadioEnd sender, PathsByFrequency paths) =>
        node.Link == LinkKind.Wifi ? NearestAccessPoint(site, sender, paths) : Gateway(site, catalogue, node, sender);

    /// <summary>What Rhythm may take of a planned link for a node that is tried with other settings: the link, as long as its radio is the same.</summary>
    internal static Func<NodeDesign, LinkAssumption?> ForTrials(NodeDesign node, LinkAssumption? planned, HardwareCatalogue catalogue)
    {
        var (radio, ofBoard) = (Sending.RadioOf(node, catalogue), Sending.SetOnBoard(node, catalogue));
        return tried =>
            tried.Link == node.Link
            && tried.Via == node.Via
            && Sending.RadioOf(tried, catalogue) is var now
            && (now?.Id, now?.Set) == (radio?.Id, radio?.Set)
            && Sending.SetOnBoard(tried, catalogue) == ofBoard
                ? planned
                : null;
    }

    private static RadioEnd? Gateway(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node, RadioEnd sender) =>
        node.Via is { } via && site.Node(via) is { } hears
            ? RadioEnd.OfReceiver(site, catalogue, hears, node.Link, sender.Channel) ?? RadioEnd.OfNone(site, hears)
            : null;

    /// <summary>The access point on whose channel the frames of a node must go: that of the gateway which they reach; null for a gateway on a cable, and where
    /// something of it is not known.</summary>
    internal static AccessPoint? FramesChannel(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node) =>
        Relaying.UntilGateway(site, node).LastOrDefault() is { Link: LinkKind.Wifi } gateway
        && RadioEnd.OfSender(site, catalogue, gateway) is { } end
        && NearestAccessPoint(site, end, new(site.Place, [])) is { } nearest
            ? site.Place.AccessPoints.First(a => a.Key == nearest.Key)
            : null;

    /// <summary>The access point with the least loss on the way; one without a spot only where none has one.</summary>
    private static RadioEnd? NearestAccessPoint(SiteDesign site, RadioEnd sender, PathsByFrequency paths)
    {
        var ends = site.Place.AccessPoints.Select(a => RadioEnd.Of(site, a)).ToList();
        double Heard(RadioEnd end) =>
            end.RadiatedDbm!.Value + (paths.FitAt(end.Megahertz!.Value)?.Offset(end.Key) ?? 0) - paths.At(end.Megahertz.Value).Loss(sender, end).LossDb;
        return sender.At is null ? ends.FirstOrDefault() : ends.Where(e => e.At is not null).MaxBy(Heard) ?? ends.FirstOrDefault();
    }

    private static string? Missing(NodeDesign node, RadioEnd sender, RadioEnd? receiver) =>
        receiver is null && node.Link == LinkKind.Wifi ? "where the access point stands: put it on the plan"
        : receiver is null ? $"who hears {sender.Label}: say it at the Bench, or give what hears it a spot"
        : sender.At is null ? $"where {sender.Label} hangs: give it a spot"
        : receiver.Spot is null ? $"where {receiver.Label} hangs: give it a spot"
        : receiver.Channel.Length == 0
            ? $"how {receiver.Label} hears it: it does not listen for {(node.Link == LinkKind.LongRange ? "radio modules" : node.Link.Name())}"
        : receiver.Channel != sender.Channel ? $"how it is heard: {receiver.Label} listens on {receiver.Channel}"
        : !sender.IsKnown || !receiver.IsKnown ? $"frequency, power and sensitivity of the radio of {sender.Label}"
        : null;

    private static PlannedLink Unknown(NodeDesign node, RadioEnd sender, RadioEnd? receiver, string missing)
    {
        Figure Open(string label, string unit) => Figure.Unknown(label, unit, missing);
        return new(
            node.Key,
            node.Label,
            node.Link,
            sender.Spot?.Key,
            receiver?.Key,
            receiver?.Label,
            receiver?.Spot?.Key,
            sender.Channel,
            [],
            Open("Distance", Unit.Metre),
            Open("Margin", Unit.Decibel),
            Open("Margin of the answer", Unit.Decibel),
            Open("Delivered", Unit.Percent),
            Open("Tries", Unit.Count),
            null
        );
    }

    private static PlannedLink Known(NodeDesign node, RadioEnd sender, RadioEnd receiver, PathsByFrequency paths)
    {
        var (path, offset) = Way(sender, receiver, paths);
        var margin = Margin("Margin", path, sender, receiver, offset);
        var back = sender.OneWay is null
            ? Margin("Margin of the answer", path, receiver, sender, offset)
            : Figure.Unknown("Margin of the answer", Unit.Decibel, "an answer: its transmitter hears nothing");
        var wifi = node.Link == LinkKind.Wifi;
        var send = wifi ? new SendDesign(Acknowledged: true, MostTries: WifiTries) : SendDesign.Of(node);
        var budget = new LinkTries(send, path, margin, back, receiver.Listens, wifi ? "IEEE 802.11: dot11ShortRetryLimit" : "design");
        return new(
            node.Key,
            node.Label,
            node.Link,
            sender.Spot!.Key,
            receiver.Key,
            receiver.Label,
            receiver.Spot!.Key,
            sender.Channel,
            [.. path.Terms.Select(t => t.Label)],
            Distance(path),
            margin,
            back,
            budget.Delivered(),
            budget.Tries(),
            wifi ? Rate(path, sender, receiver, offset) : null
        )
        {
            Assumption = budget.Assumption(node),
        };
    }

    /// <summary>What a link between two ends has to spare; null where something of them is not known, or they do not share a channel.</summary>
    internal static LinkMargins? Margins(RadioEnd sender, RadioEnd receiver, PathsByFrequency paths)
    {
        if (!sender.IsKnown || !receiver.IsKnown || sender.Channel != receiver.Channel)
        {
            return null;
        }
        var (loss, sigma, offset) = Brief(sender, receiver, paths);
        double Margin(RadioEnd from, RadioEnd to) => from.RadiatedDbm!.Value + to.Gain.Value + offset - loss - to.Sensitivity!.Value;
        return new(Margin(sender, receiver), sender.OneWay is null ? Margin(receiver, sender) : null, sigma, receiver.Listens?.Value ?? 1);
    }

    /// <summary>Loss, spread and offset of <see cref="Way"/>, dB. Only a fit asks what stands in the way by its kind.</summary>
    private static (double LossDb, double SigmaDb, double OffsetDb) Brief(RadioEnd sender, RadioEnd receiver, PathsByFrequency paths)
    {
        if (paths.FitAt(receiver.Megahertz!.Value) is not null)
        {
            var (path, offset) = Way(sender, receiver, paths);
            return (path.LossDb, path.Open.SigmaDb, offset);
        }
        var (loss, sigma) = paths.At(receiver.Megahertz.Value).Loss(sender, receiver);
        return (loss, sigma, 0);
    }

    /// <summary>The way between two ends with how well it is known, and what the receiver hears beyond what is planned, dB.</summary>
    private static (SignalPath Path, double OffsetDb) Way(RadioEnd sender, RadioEnd receiver, PathsByFrequency paths)
    {
        var path = paths.At(receiver.Megahertz!.Value).Between(sender, receiver);
        if (paths.FitAt(receiver.Megahertz.Value) is not { } fit)
        {
            return (path, 0);
        }
        var source = $"spread about the fit to {fit.Measured.Count} places, and how well that is known";
        return (path with { Open = path.Open with { SigmaDb = fit.SpreadDb(path, receiver.Key), SigmaSource = source } }, fit.Offset(receiver.Key));
    }

    private static Figure Distance(SignalPath path) =>
        Figure.Exact(
            "Distance",
            path.Open.Metres,
            Unit.Metre,
            new Working(
                "d = √(Δx² + Δy² + Δh²), 0.1 m at least",
                [
                    new("Δx", path.To.X - path.From.X, Unit.Metre, "spots on the plan"),
                    new("Δy", path.To.Y - path.From.Y, Unit.Metre, "spots on the plan"),
                    new("Δh", path.To.Z - path.From.Z, Unit.Metre, "heights of the spots and their floors"),
                ],
                "geometry"
            )
        );

    /// <param name="offset">What the receiver hears beyond what is planned, dB; the answer is taken to fare the same.</param>
    private static Figure Margin(string label, SignalPath path, RadioEnd from, RadioEnd to, double offset)
    {
        var (power, sensitivity) = (from.Power!, to.Sensitivity!);
        double At(double loss) => power.Value + from.Gain.Value + to.Gain.Value + offset - loss - sensitivity.Value;
        WorkingInput[] measured = offset == 0 ? [] : [new("O", offset, Unit.Decibel, "what range walks and arrivals showed beyond this: fitted")];
        var distance = path.Open.Working.Any(w => w.Name == "n") ? "L1 − 10 n log10(d)" : "L(d)";
        return new(label, At(path.LossDb), At(path.MostLossDb), At(path.LeastLossDb), Unit.Decibel, () =>
            new Working(
                $"M = P + G1 + G2{(offset == 0 ? "" : " + O")} − {distance} − Σ in the way − S",
                [
                    power,
                    from.Gain with
                    {
                        Name = "G1",
                    },
                    to.Gain with
                    {
                        Name = "G2",
                    },
                    .. measured,
                    .. path.Open.Working,
                    .. path.Terms.Select(t => new WorkingInput(t.Label, t.Mean, Unit.Decibel, t.Source)),
                    sensitivity,
                ],
                "log-distance and multi-wall model (COST 231, 4.7); walls: ITU-R P.2040-1. The band is the ripple of the walls with their thickness"
            )
        );
    }

    /// <summary>The fastest rate whose weakest signal lies below what is received on average.</summary>
    private static Figure Rate(SignalPath path, RadioEnd sender, RadioEnd receiver, double offset)
    {
        var heard = sender.RadiatedDbm!.Value + receiver.Gain.Value + offset - path.LossDb;
        var rate = WifiRates.FirstOrDefault(r => heard >= r.Dbm - ChipsHearBetterDb);
        return Figure.Exact(
            "Expected rate",
            rate.Megabits,
            "Mbit/s",
            new Working(
                "the fastest rate that is understood at the power received; 0 where none is",
                [
                    new("received", heard, Unit.DecibelMilliwatt, "power, antennas and loss"),
                    new("wanted", (rate.Megabits > 0 ? rate : WifiRates[^1]).Dbm - ChipsHearBetterDb, Unit.DecibelMilliwatt, "small chips, from memory"),
                ],
                "IEEE 802.11n, 20 MHz, minimum sensitivity; small chips hear about 10 dB less, from memory"
            )
        );
    }
}

/// <summary>What the tries of a message make of a margin.</summary>
/// <param name="Listens">Part of the time that the receiver listens; null for always.</param>
internal sealed record LinkTries(SendDesign Send, SignalPath Path, Figure Margin, Figure Back, WorkingInput? Listens, string TriesSource)
{
    private const string Source = "log-normal shadowing from place to place, Rayleigh fading from try to try; worked out over 128 places";

    private readonly Exchange _mean = At(Send, Path, Listens, Margin.Value, Back.Value);
    private readonly Exchange _low = At(Send, Path, Listens, Margin.Low, Back.Low);
    private readonly Exchange _high = At(Send, Path, Listens, Margin.High, Back.High);

    private static Exchange At(SendDesign send, SignalPath path, WorkingInput? listens, double? there, double? back) =>
        LinkBudget.Exchange(there!.Value, send.Acknowledged ? back : null, path.Open.SigmaDb, send.MostSent, listens?.Value ?? 1);

    private Working How(string formula) =>
        new(
            formula,
            [
                new("M", Margin.Value!.Value, Unit.Decibel, "there"),
                .. Back.Value is { } back ? new[] { new WorkingInput("B", back, Unit.Decibel, "back") } : [],
                new("sigma", Path.Open.SigmaDb, Unit.Decibel, Path.Open.SigmaSource),
                new("tries", Send.MostSent, "", TriesSource),
                .. Listens is null ? Array.Empty<WorkingInput>() : [Listens],
            ],
            Source,
            [Margin, Back]
        );

    internal Figure Delivered() =>
        new("Delivered", _mean.Delivered * 100, _low.Delivered * 100, _high.Delivered * 100, Unit.Percent, () =>
            How($"mean over places of 1 − (1 − p)^tries; p = {(Listens is null ? "" : "listens · ")}e^(−10^(−M/10)) of one try at a place with margin M")
        );

    internal Figure Tries() =>
        new("Tries", _mean.Tries, Math.Min(_mean.Tries, _high.Tries), Math.Max(_mean.Tries, _low.Tries), Unit.Count, () =>
            How(Send.Acknowledged ? "mean over places of (1 − (1 − q)^tries) / q; q = p of the way there · p of the answer" : "as often as it is sent")
        );

    internal LinkAssumption Assumption(NodeDesign node) =>
        new(
            node.Key,
            node.Via,
            _mean.Single,
            _low.Single,
            _high.Single,
            $"planned through the walls that are drawn, margin {Margin.Value:0} dB",
            new(Margin.Value!.Value, Back.Value, Path.Open.SigmaDb, Listens?.Value ?? 1)
        );
}

/// <summary>The ways through a place by frequency, by what was measured where it was.</summary>
internal sealed class PathsByFrequency(PlaceDesign place, IReadOnlyList<FittedModel> fits)
{
    private readonly Dictionary<double, SignalPaths> _paths = [];

    internal SignalPaths At(double megahertz) =>
        _paths.TryGetValue(megahertz, out var known) ? known : _paths[megahertz] = new SignalPaths(place, megahertz, FitAt(megahertz));

    /// <summary>What was measured at a frequency, or null.</summary>
    internal FittedModel? FitAt(double megahertz) => fits.FirstOrDefault(f => LinkFit.IsSame(f.Megahertz, megahertz));
}
