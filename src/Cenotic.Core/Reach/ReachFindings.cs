using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Checks of links and of what the law of the region allows.</summary>
internal sealed class ReachFindings(
    SiteDesign site,
    HardwareCatalogue catalogue,
    Evidence evidence,
    IReadOnlyList<PlacedRhythm> nodes,
    IReadOnlyList<PlannedLink> links,
    IReadOnlyList<LawBudget> law,
    LinkTrials trials,
    RelayFindings relays
)
{
    /// <summary>Remedies are tried for so many links: each is worked out with all others.</summary>
    private const int MostTried = 20;
    private const double BetterAntennaDbi = 2.15;

    /// <summary>The lowest spreading factor that all LoRa radios have.</summary>
    private const int LeastFactor = 7;

    /// <summary>Channels that do not overlap. Source: IEEE 802.11, 20 MHz wide.</summary>
    private static readonly int[] ApartChannels = [1, 6, 11];
    private static readonly double[] Steps = [0.5, 1, 1.5, 2, 3, 4];

    internal IEnumerable<Finding> All() =>
        [
            .. Region(),
            .. AccessPoint(),
            .. links.Where(l => l.Verdict is LinkVerdict.Weak or LinkVerdict.None).Select((l, i) => Weak(l, i < MostTried)),
            .. relays.All(),
            .. site.Nodes.Where(IsWithoutRadio).Select(WithoutRadio),
            .. site.Nodes.SelectMany(BeyondItsPower),
            .. site.Nodes.Where(IsWithoutLine).Select(WithoutLine),
            .. new TextFindings(site, catalogue).All(),
            .. FramesChannel(),
            .. links.Select(HeardLess).OfType<Finding>(),
            .. Law(),
        ];

    private bool IsWithoutRadio(NodeDesign node) =>
        node.Link.IsByModule() && node.Readings.Count > 0 && !node.Parts.Any(p => Sending.SendsSo(catalogue.Part(p.Part), node.Link));

    private Finding WithoutRadio(NodeDesign node) =>
        new(
            "REACH-NO-RADIO",
            Severity.Risk,
            new("reach", node.Key),
            $"{node.Label} is to send by {(node.Link == LinkKind.LongRange ? "a radio module" : node.Link.Name())}, and none of its parts does.",
            "Nothing it reads would ever arrive.",
            [.. Modules(node).Where(r => FindsItsPins(node, r)).Take(2)],
            node.Link == LinkKind.TextMessage
                ? "A modem wants its own supply, a SIM, and a network that is still run where you are."
                : "What hears it must have the same frequency and rate.",
            "design"
        );

    /// <summary>Modules that a node could send by, those that whoever hears it hears before all others.</summary>
    private IEnumerable<Remedy> Modules(NodeDesign node)
    {
        var heard = site.Node(node.Via ?? "") is { } gateway
            ? Sending.RadiosOf(gateway, catalogue).Where(r => !r.IsOnBoard).Select(r => OtherRadios.PairOf(r, catalogue)?.Id).ToHashSet()
            : [];
        return catalogue
            .Parts.Where(p => Sending.SendsSo(p, node.Link))
            .OrderByDescending(p => heard.Contains(p.Id))
            .ThenByDescending(p => p.Modem is { IsLora: true })
            .ThenBy(p => p.Id, StringComparer.Ordinal)
            .Select(p => new Remedy($"Add a {p.Label}", [new PutPart(node.Key, new(NodeEdits.FreeKey(node, "radio"), p.Label, p.Id))]));
    }

    /// <summary>Modules that are set to a power that such a module does not have.</summary>
    private IEnumerable<Finding> BeyondItsPower(NodeDesign node) =>
        from radio in Sending.ModulesOf(node, catalogue)
        let range = radio.Modem.PowerDbm
        where range is not null && radio.Set?.PowerDbm is { } set && (set < range.Low || set > range.High)
        let nearest = Math.Clamp(radio.Set!.PowerDbm!.Value, range.Low, range.High)
        select new Finding(
            "REACH-RADIO-POWER",
            Severity.Risk,
            new("reach", node.Key),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{radio.Name} of {node.Label} is set to {radio.Set!.PowerDbm:0.#} dBm; such a module gives {range.Low:0.#} to {range.High:0.#}."
            ),
            "What is planned of its links is not what it can do.",
            [new(string.Create(CultureInfo.InvariantCulture, $"Send with {nearest:0.#} dBm"), [radio.SetTo(node, radio.Set with { PowerDbm = nearest })])],
            null,
            range.Source
        );

    private bool IsWithoutLine(NodeDesign node) =>
        node is { Link: LinkKind.SerialCable, Readings.Count: > 0 } && !site.Lines.Any(l => l.Format.Names(node.Key));

    private static Finding WithoutLine(NodeDesign node) =>
        new(
            "REACH-NO-LINE",
            Severity.Risk,
            new("reach", node.Key),
            $"{node.Label} sends over a serial cable, and no serial line of the site tells what it measures.",
            "What it sends is not read.",
            [],
            "Set the line up at the foot of Watch: its port, its rate, and what its frames hold.",
            "design"
        );

    private IEnumerable<Finding> Region()
    {
        if (site.Settings.Region != RadioRegion.Unset || site.Nodes.FirstOrDefault(n => Sending.RadioOf(n, catalogue) is not null) is not { } node)
        {
            yield break;
        }
        yield return new(
            "REACH-REGION",
            Severity.Note,
            new("reach", node.Key),
            "It is not said where the site is, so no limits of radio are checked.",
            "Power and time on the air are limited by law, in each region otherwise.",
            [.. In("Europe", RadioRegion.Europe868), .. In("America", RadioRegion.America915)],
            "Say the region at Place, or type the bands of another there. Local law comes first: these are planning values.",
            "EN 300 220-2, EN 300 328, 47 CFR 15"
        );
    }

    /// <summary>A region is offered where its law allows what the radios are set to.</summary>
    private IEnumerable<Remedy> In(string where, RadioRegion region)
    {
        var settings = site.Settings with { Region = region };
        return LawPlanner.Allows(settings, site, catalogue) ? [new($"The site is in {where}", [new SetSite(settings)])] : [];
    }

    private IEnumerable<Finding> AccessPoint()
    {
        var count = site.Nodes.Count(n => n.Link == LinkKind.Wifi);
        if (count == 0 || site.Place.AccessPoints.Count > 0 || site.Place.Walls.Count == 0)
        {
            yield break;
        }
        var free = site.FreeSpots.Take(3);
        yield return new(
            "REACH-NO-ACCESS-POINT",
            Severity.Note,
            new("reach", site.Nodes.First(n => n.Link == LinkKind.Wifi).Key),
            $"{count} {(count == 1 ? "node sends" : "nodes send")} over Wi-Fi, and no access point stands on the plan.",
            "Whether they are heard through the walls is not known.",
            [.. free.Select(s => new Remedy($"It stands at {s.Label}", [new PutAccessPoint(new("access-point", "Access point", s.Key))]))],
            "Give the access point a spot at Place, then say here that it stands there.",
            "design"
        );
    }

    /// <summary>An access point that may change its channel under the frames that are sent to its gateway.</summary>
    private IEnumerable<Finding> FramesChannel() =>
        from node in site.Nodes
        where node.Link == LinkKind.Frames
        let accessPoint = LinkPlanner.FramesChannel(site, catalogue, node)
        where accessPoint is { Channel: null }
        group node by accessPoint into frames
        select new Finding(
            "REACH-FRAMES-CHANNEL",
            Severity.Risk,
            new("reach", frames.First().Key),
            $"{frames.Key.Label} chooses its channel itself, and {string.Join(", ", frames.Select(n => n.Label))} must send frames on it.",
            "A gateway on Wi-Fi listens on the channel of its access point. When that changes, it follows, and the frames go unheard.",
            [.. ApartChannels.Select(c => new Remedy($"{frames.Key.Label} keeps channel {c}", [new PutAccessPoint(frames.Key with { Channel = c })]))],
            "Set the channel at the access point itself too.",
            "IEEE 802.11: a station listens on the channel of its access point"
        );

    private Finding Weak(PlannedLink link, bool tried) =>
        new(
            "REACH-WEAK",
            link.Verdict == LinkVerdict.None ? Severity.Stop : Severity.Risk,
            new("reach", link.Node, link.Receiver),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{link.ReceiverLabel} hears {link.Delivered.Value:0} % of the messages of {link.Label}: "
                    + $"margin {link.Margin.Value:0} dB over {link.Distance.Value:0.0} m."
            ),
            link.InTheWay.Count > 0 ? $"In the way: {string.Join(", ", link.InTheWay)}." : "The distance alone is too long.",
            tried ? [.. Remedies(link)] : [],
            "Higher and clear of metal helps most. Walk it before you screw it on; mind the ladder.",
            "log-distance and multi-wall model; 95 % is common practice, no source"
        );

    private IEnumerable<Remedy> Remedies(PlannedLink link)
    {
        var node = site.Node(link.Node)!;
        if (Moved(link, node) is { } moved)
        {
            yield return moved;
        }
        foreach (var relayed in relays.Remedies(link, node))
        {
            yield return relayed;
        }
        if (OutOfTheBox(link, node) is { } outside)
        {
            yield return outside;
        }
        if (Upright(link, node) is { } upright)
        {
            yield return upright;
        }
        if (Stronger(node) is { } stronger)
        {
            yield return stronger;
        }
        if (Slower(node) is { } slower)
        {
            yield return slower;
        }
        if (OtherRadio(node) is { } other)
        {
            yield return other;
        }
    }

    /// <summary>The nearest place in its room from where it is heard.</summary>
    private Remedy? Moved(PlannedLink link, NodeDesign node)
    {
        if (
            site.Place.Spot(link.Spot) is not { } spot
            || site.Place.Rooms.FirstOrDefault(r => r.Key == spot.Room) is not { } room
            || site.Nodes.Any(n => n.Spot == spot.Key && n.Key != node.Key)
            || site.Place.AccessPoints.Any(a => a.Spot == spot.Key)
        )
        {
            return null;
        }
        foreach (var step in Steps)
        {
            for (var degrees = 0; degrees < 360; degrees += 45)
            {
                var (sine, cosine) = Math.SinCos(degrees * Math.PI / 180);
                var there = spot with { X = Math.Round(spot.X + step * cosine, 2), Y = Math.Round(spot.Y + step * sine, 2) };
                var label = string.Create(CultureInfo.InvariantCulture, $"Move {spot.Label} by {step:0.#} m {Where(degrees)}");
                if (Place.PlacePlanner.Contains(room.Corners, new(there.X, there.Y)) && trials.Tried(label, node.Key, [new PutSpot(there)]) is { } remedy)
                {
                    return remedy;
                }
            }
        }
        return null;
    }

    private static string Where(int degrees) =>
        degrees switch
        {
            0 => "to the right",
            45 => "down and to the right",
            90 => "down the plan",
            135 => "down and to the left",
            180 => "to the left",
            225 => "up and to the left",
            270 => "up the plan",
            _ => "up and to the right",
        };

    /// <summary>The antennas led out of metal boxes.</summary>
    private Remedy? OutOfTheBox(PlannedLink link, NodeDesign node)
    {
        List<NodeDesign> boxed = [.. new[] { node, site.Node(link.Receiver ?? "") }.OfType<NodeDesign>().Where(n => n.Housing is { AntennaInMetal: true })];
        return boxed.Count == 0
            ? null
            : trials.Tried(
                $"Lead the antenna of {string.Join(" and of ", boxed.Select(n => n.Label))} out of the metal box",
                node.Key,
                [.. boxed.Select(n => SetNodes.As(n) with { Housing = n.Housing! with { AntennaInMetal = false } })]
            );
    }

    /// <summary>The antenna that lies flat stood upright as the other is.</summary>
    private Remedy? Upright(PlannedLink link, NodeDesign node)
    {
        var flat = Ends(link, node).Where(e => e.Radio.Set?.AntennaFlat == true).ToList();
        return flat.Count != 1
            ? null
            : trials.Tried(
                $"Stand the antenna of {flat[0].Node.Label} upright",
                node.Key,
                [flat[0].Radio.SetTo(flat[0].Node, flat[0].Radio.Set! with { AntennaFlat = null })]
            );
    }

    /// <summary>The radios at both ends of a link, as far as nodes have them.</summary>
    private IEnumerable<(NodeDesign Node, NodeRadio Radio)> Ends(PlannedLink link, NodeDesign node)
    {
        if (Sending.RadioOf(node, catalogue) is not { } radio)
        {
            yield break;
        }
        yield return (node, radio);
        if (site.Node(link.Receiver ?? "") is { } hears && Sending.HearsWith(hears, catalogue, node.Link, radio.Channel) is { } with)
        {
            yield return (hears, with);
        }
    }

    /// <summary>As much power as radio and law allow, and an antenna of half a wave, on both ends where the answer needs it.</summary>
    private Remedy? Stronger(NodeDesign node)
    {
        if (
            Sending.RadioOf(node, catalogue) is not { IsOnBoard: false, Modem.PowerDbm: { } power } radio
            || node.Via is not { } via
            || site.Node(via) is not { } gateway
            || Sending.HearsWith(gateway, catalogue, node.Link, radio.Channel) is not { } hears
        )
        {
            return null;
        }
        var most = LawPlanner.MostDbm(site.Settings, radio.Modem) ?? double.NegativeInfinity;
        var set = Math.Floor(Math.Min(power.High, most - BetterAntennaDbi));
        if (set < power.Low)
        {
            return null;
        }
        NodeEdit Better(NodeDesign of, NodeRadio end) => end.SetTo(of, (end.Set ?? new()) with { PowerDbm = set, AntennaGainDbi = BetterAntennaDbi });
        return trials.Tried(
            string.Create(CultureInfo.InvariantCulture, $"Send with {set:0} dBm over a half-wave antenna, at both ends"),
            node.Key,
            [Better(node, radio), Better(gateway, hears)]
        );
    }

    /// <summary>The lowest spreading factor that is enough, for all that share the channel.</summary>
    private Remedy? Slower(NodeDesign node) =>
        Sending.RadioOf(node, catalogue) is { Modem.IsLora: true } radio
            ? Enumerable
                .Range(LeastFactor, 6)
                .Where(f => f > radio.Modem.SpreadingFactor)
                .Select(f => Spread(node, radio, f))
                .FirstOrDefault(r => r is not null)
            : null;

    /// <summary>The highest spreading factor whose messages are short enough for the law, where all of the channel are still heard with it.</summary>
    private Remedy? Faster(LawBudget budget)
    {
        var node = site.Node(budget.Node)!;
        return Sending.RadioOf(node, catalogue) is { Modem.IsLora: true } radio
            ? Enumerable
                .Range(LeastFactor, Math.Max(0, radio.Modem.SpreadingFactor - LeastFactor))
                .Reverse()
                .Select(f => Spread(node, radio, f))
                .FirstOrDefault(r => r is not null && !IsForbiddenWith(r, budget.Node, l => l.TooLongAtOnce))
            : null;
    }

    private bool IsForbiddenWith(Remedy remedy, string node, Func<LawBudget, bool> forbidden)
    {
        var after = EditBatch.Apply(site, remedy.Edits).Value.After;
        return LawPlanner.Of(after, catalogue, [.. nodes.Select(n => n with { Node = after.Node(n.Node.Key)! })]).Any(l => l.Node == node && forbidden(l));
    }

    private Remedy? Spread(NodeDesign node, NodeRadio radio, int factor)
    {
        var together = Sending.OnChannel(site, catalogue, radio.Channel).ToList();
        return trials.Tried(
            $"Spreading factor {factor} for the {together.Count} radios of this channel",
            node.Key,
            [.. together.Select(r => r.Radio.SetTo(r.Node, (r.Radio.Set ?? new()) with { SpreadingFactor = factor }))]
        );
    }

    /// <summary>By another radio: the first that is enough and finds its pins. What is advertised anyone near may read, so that comes last.</summary>
    private Remedy? OtherRadio(NodeDesign node) =>
        OtherRadios
            .Tried(site, catalogue, node, trials.Paths)
            .Where(t => t is { Radio.Gateway: not null, Link.Verdict: LinkVerdict.Good })
            .OrderBy(t => t.Radio.Link.IsAdvertised())
            .Select(t => trials.Tried($"Send over {t.Radio.Radio} to {t.Radio.Gateway!.Label}", node.Key, t.Radio.Edits))
            .FirstOrDefault(r => r is not null && FindsItsPins(node, r));

    private bool FindsItsPins(NodeDesign node, Remedy remedy)
    {
        var placed = nodes.First(n => n.Node.Key == node.Key);
        var changed = EditBatch.Apply(site, remedy.Edits).Value.After.Node(node.Key)!;
        return placed.Setting.Again(changed, node, placed.Bench) is not null;
    }

    /// <summary>A prediction that everyday arrivals contradict.</summary>
    private Finding? HeardLess(PlannedLink link)
    {
        if (
            evidence.Link(link.Node) is not { Sent: >= LinkHistory.FewestSent } heard
            || heard.Link != link.Kind
            || relays.Delivered(link) is not { Value: { } planned, Low: { } low }
        )
        {
            return null;
        }
        var share = heard.Heard / (double)heard.Sent;
        // Three times the spread of a count below the low end of what was planned.
        var spread = 3 * Math.Sqrt(Math.Max(low / 100 * (1 - low / 100), 0.25 / heard.Sent) / heard.Sent);
        return share >= low / 100 - spread || share * 100 >= PlannedLink.EnoughPercent
            ? null
            : new(
                "REACH-HEARD-LESS",
                Severity.Risk,
                new("reach", link.Node, link.Receiver),
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{link.Label} is planned to deliver {planned:0} %, but {heard.Heard} of {heard.Sent} messages came: {share * 100:0} %."
                ),
                "Something stands in the way that is not drawn, or it hangs elsewhere: metal, a wet wall, a body. Rhythm takes what was heard.",
                [],
                "Walk there with the node and look for what takes the signal; draw it at Place.",
                "binomial spread of a count, three sigma"
            );
    }

    private IEnumerable<Finding> Law()
    {
        foreach (var budget in law)
        {
            if (budget.Band is null)
            {
                yield return OutsideBands(budget);
            }
            else if (budget.TooStrong)
            {
                yield return TooStrong(budget);
            }
            if (budget.TooLong)
            {
                yield return TooLong(budget);
            }
            if (budget.TooLongAtOnce)
            {
                yield return TooLongAtOnce(budget);
            }
        }
    }

    private const string LawWhy = "It disturbs others, and the law of the place forbids it. Local law comes first.";

    private Finding OutsideBands(LawBudget budget) =>
        new(
            "REACH-LAW-BAND",
            Severity.Stop,
            new("reach", budget.Node),
            $"{budget.Label} sends on {budget.Channel}, which no band of the region holds.",
            LawWhy,
            [.. BackToUsual(budget)],
            "Choose a module made for the band of your region.",
            "EN 300 220-2, EN 300 328, 47 CFR 15"
        );

    /// <summary>The usual frequency for all radios of a channel that was set to another, where a band of the region holds it.</summary>
    private IEnumerable<Remedy> BackToUsual(LawBudget budget)
    {
        var usual = Sending.OnChannel(site, catalogue, budget.Channel).Where(r => r.Radio.Set?.FrequencyMegahertz is not null);
        DesignEdit[] edits = [.. usual.Select(r => r.Radio.SetTo(r.Node, r.Radio.Set! with { FrequencyMegahertz = null }))];
        if (edits.Length == 0 || EditBatch.Apply(site, edits) is not { Ok: true } applied)
        {
            yield break;
        }
        var key = Sending.ModulesOf(site.Node(budget.Node)!, catalogue).First(r => r.Channel == budget.Channel).Key;
        var modem = Sending.ModulesOf(applied.Value.After.Node(budget.Node)!, catalogue).First(r => r.Key == key).Modem;
        if (
            modem.Megahertz is { } megahertz
            && RadioLaw.Of(site.Settings).Any(b => b.Holds(modem) && budget.Radiated.Value <= b.MostDbm && budget.OnAir.Value <= (b.DutyPercent ?? 100))
        )
        {
            yield return new(string.Create(CultureInfo.InvariantCulture, $"Back to the usual {megahertz:0.###} MHz"), edits);
        }
    }

    private Finding TooStrong(LawBudget budget)
    {
        var node = site.Node(budget.Node)!;
        var radio = Sending.RadiosOf(node, catalogue).First(r => r.Channel == budget.Channel);
        var gain = radio.Set?.AntennaGainDbi ?? 0;
        var power = radio.Modem.PowerDbm!;
        var most = Math.Floor((radio.Set?.PowerDbm ?? power.Likely) - (budget.Radiated.Value!.Value - budget.Most!.Value));
        return new(
            "REACH-LAW-POWER",
            Severity.Stop,
            new("reach", budget.Node),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{budget.Label} radiates {budget.Radiated.Value:0.#} {budget.MostUnit}; {budget.Band} allows {budget.Most:0.#}."
            ),
            LawWhy,
            [.. most >= power.Low ? [Weaker(node, radio, most)] : Array.Empty<Remedy>(), .. Hopping(budget)],
            gain > 0 ? "An antenna with gain counts: with it the radio must send with less." : null,
            budget.Source
        );
    }

    private static Remedy Weaker(NodeDesign node, NodeRadio radio, double dbm) =>
        new(string.Create(CultureInfo.InvariantCulture, $"Send with {dbm:0} dBm"), [radio.SetTo(node, (radio.Set ?? new()) with { PowerDbm = dbm })]);

    /// <summary>All radios of the channel hop, where the law allows more to those that do.</summary>
    private IEnumerable<Remedy> Hopping(LawBudget budget)
    {
        var fewest = RadioLaw.Of(site.Settings).Where(b => b.LeastChannels is not null).Select(b => b.LeastChannels!.Value).Distinct().Order();
        var together = Sending.OnChannel(site, catalogue, budget.Channel).ToList();
        foreach (var channels in together.Count > 0 ? fewest : Enumerable.Empty<int>())
        {
            var remedy = new Remedy(
                $"Hop over {channels} channels, all {together.Count} radios of this one",
                [.. together.Select(r => r.Radio.SetTo(r.Node, (r.Radio.Set ?? new()) with { HopChannels = channels }))]
            );
            if (!IsForbiddenWith(remedy, budget.Node, l => l.Band is null || l.TooStrong || l.TooLongAtOnce))
            {
                yield return remedy;
                yield break;
            }
        }
    }

    private Finding TooLong(LawBudget budget) =>
        new(
            "REACH-LAW-DUTY",
            Severity.Risk,
            new("reach", budget.Node),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{budget.Label} is on the air {budget.OnAir.Value:0.###} % of the time; {budget.Band} allows {budget.MostOnAir:0.###} %."
            ),
            LawWhy,
            [],
            "Send less often, fewer values, at a faster rate, or in a band that allows more.",
            budget.Source
        );

    private Finding TooLongAtOnce(LawBudget budget) =>
        new(
            "REACH-LAW-DWELL",
            Severity.Stop,
            new("reach", budget.Node),
            string.Create(
                CultureInfo.InvariantCulture,
                $"A message of {budget.Label} is on the air for {budget.Longest!.Value:0} ms; {budget.Band} allows {budget.MostAtOnce:0} ms at a stretch."
            ),
            LawWhy,
            Faster(budget) is { } faster ? [faster] : [],
            "Send fewer values in one message, or at a faster rate: a lower spreading factor, a wider channel.",
            budget.Source
        );
}
