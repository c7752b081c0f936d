using System.Globalization;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Place;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Where one more relay helps most: spots that are free, the middle of each room, and half-way between a weak node and who hears it.</summary>
internal sealed class RelaySpots(
    SiteDesign site,
    HardwareCatalogue catalogue,
    IReadOnlyList<PlacedRhythm> nodes,
    IReadOnlyList<PlannedLink> links,
    RelayTree tree,
    LinkTrials trials
)
{
    /// <summary>So many spots are tried, for so many weak nodes, with so many that may hear a relay there: a bounded amount of work.</summary>
    private const int MostSpots = 40,
        MostWeak = 20,
        MostEars = 24;
    private const double UsualHeight = 2;
    private readonly Dictionary<string, (Remedy Remedy, HashSet<string> Helps)?> _byChannel = [];

    /// <param name="Onward">Transmissions from there to a gateway, and over whom.</param>
    private sealed record Candidate(Spot Spot, RadioEnd End, string Via, double Onward);

    /// <summary>The relay that helps most on the channel of a weak link, where it helps this one.</summary>
    internal Remedy? For(PlannedLink link)
    {
        if (!_byChannel.TryGetValue(link.Channel, out var best))
        {
            _byChannel[link.Channel] = best = Best(link.Channel);
        }
        return best is { } found && found.Helps.Contains(link.Node) ? found.Remedy : null;
    }

    private (Remedy, HashSet<string>)? Best(string channel)
    {
        var weak = links
            .Where(l => l.Channel == channel && l.Verdict is LinkVerdict.Weak or LinkVerdict.None)
            .Take(MostWeak)
            .Select(l => (Link: l, Node: site.Node(l.Node)!, End: RadioEnd.OfSender(site, catalogue, site.Node(l.Node)!)!))
            .ToList();
        var ears = tree.Ears(channel).OrderBy(e => e.Transmissions).Take(MostEars).ToList();
        if (weak.Count == 0 || ears.Where(e => RelayTree.IsGateway(e.Node)).Select(e => e.Node).FirstOrDefault() is not { } gateway)
        {
            return null;
        }
        var radio = Sending.RadiosOf(gateway, catalogue).First(r => r.Channel == channel && r.Modem.OneWay != OneWay.Sends);
        if (!radio.Link.CanRelay())
        {
            return null;
        }
        var like = RadioEnd.Of(site, gateway, radio) with { Listens = null };
        var places = site.FreeSpots.Concat(Middles()).Concat(weak.Select(w => HalfWay(w.Link)).OfType<Spot>()).Take(MostSpots);
        return places
            .Select(spot => Reached(spot, like, ears))
            .OfType<Candidate>()
            .Select(c => (Candidate: c, Helped: weak.Where(w => IsGood(w.End, c.End, w.Node)).ToList()))
            .Where(c => c.Helped.Count > 0)
            .OrderByDescending(c => c.Helped.Count)
            .ThenBy(c => c.Helped.Sum(w => tree.Transmissions(w.End, c.Candidate.End)) + c.Candidate.Onward)
            .Take(3)
            .Select(c => Offered(c.Candidate, gateway, radio, [.. c.Helped.Select(w => w.Node)]))
            .FirstOrDefault(r => r is not null);
    }

    private IEnumerable<Spot> Middles() =>
        site
            .Place.Rooms.Where(r => !r.Tags.Contains(RoomTag.Outdoor))
            .Select(r => Shapes.PointInside(r.Corners) is { } at ? New(r, at.X, at.Y) : null)
            .OfType<Spot>();

    private Spot? HalfWay(PlannedLink link)
    {
        if (site.Place.Spot(link.Spot) is not { } from || site.Place.Spot(link.ReceiverSpot) is not { } to)
        {
            return null;
        }
        var (x, y) = (Math.Round((from.X + to.X) / 2, 1), Math.Round((from.Y + to.Y) / 2, 1));
        return site.Place.Rooms.FirstOrDefault(r => PlacePlanner.Contains(r.Corners, new(x, y))) is { } room ? New(room, x, y) : null;
    }

    private Spot New(Room room, double x, double y) =>
        new(Keys.Free("relay", [.. site.Place.Spots.Select(s => s.Key)]), $"Relay in {room.Label}", room.Key, x, y, UsualHeight, 0);

    /// <summary>A relay like the gateway at a spot, where a gateway hears it well.</summary>
    private Candidate? Reached(Spot spot, RadioEnd like, List<(NodeDesign Node, RadioEnd End, double Transmissions)> ears)
    {
        var end = like with { Key = "", Label = spot.Label, Spot = spot, At = site.Place.At(spot) };
        return ears.Where(e => IsGood(end, e.End, null))
            .Select(e => new Candidate(spot, end, e.Node.Key, tree.Transmissions(end, e.End)!.Value + e.Transmissions))
            .MinBy(c => c.Onward);
    }

    private bool IsGood(RadioEnd from, RadioEnd to, NodeDesign? sender)
    {
        var send = sender is null ? new SendDesign() : SendDesign.Of(sender);
        return tree.Margins(from, to) is { } m
            && LinkBudget.Exchange(m.ThereDb, send.Acknowledged ? m.BackDb : null, m.SigmaDb, send.MostSent, m.Listens).Delivered * 100
                >= PlannedLink.EnoughPercent
            && tree.Transmissions(from, to) is not null;
    }

    /// <summary>A relay at a spot as it can be built there: with a supply that its board takes, in a sealed box where it is wet; null if it cannot.</summary>
    private NodeDesign? Built(Candidate at, NodeDesign gateway, NodeRadio radio)
    {
        var around = Surroundings.At(site.Place, at.Spot);
        return new[] { PowerKind.Usb, PowerKind.FiveVolt }
            .Select(power => Relay(at, gateway, radio, power) with { Housing = around.Wet || around.Outdoor ? new(false, Sealed: true, false) : null })
            .FirstOrDefault(relay =>
                BenchPlanner.Trial(relay, catalogue, around, nodes[0].Setting.Budget) is { Complete: true } bench
                && bench.Findings.All(f => f.Severity != Severity.Stop)
            );
    }

    private NodeDesign Relay(Candidate at, NodeDesign gateway, NodeRadio radio, PowerKind power) =>
        new(
            Keys.Free("relay", [.. site.Nodes.Select(n => n.Key)]),
            "Relay",
            at.Spot.Key,
            gateway.Board,
            new(power),
            radio.Link,
            Sleeps: false,
            MeasuresSupply: false,
            radio.IsOnBoard ? [] : [new("radio", radio.Label, radio.Id)],
            [],
            [],
            Via: at.Via,
            Radio: radio.Set,
            Relays: true
        );

    private (Remedy, HashSet<string>)? Offered(Candidate at, NodeDesign gateway, NodeRadio radio, List<NodeDesign> helped)
    {
        if (Built(at, gateway, radio) is not { } relay)
        {
            return null;
        }
        DesignEdit[] edits =
        [
            .. site.Place.Spot(at.Spot.Key) is null ? [new PutSpot(at.Spot)] : Array.Empty<DesignEdit>(),
            new PutNode(relay),
            .. helped.Select(n => SetNodes.As(n) with { Via = relay.Key }),
        ];
        var where = site.Place.Spot(at.Spot.Key) is null
            ? string.Create(CultureInfo.InvariantCulture, $"at {at.Spot.X:0.#}, {at.Spot.Y:0.#} m in {RoomOf(at.Spot)}")
            : $"at {at.Spot.Label}";
        var label = $"One more relay {where}, fed all the time{(helped.Count > 1 ? $": it helps {helped.Count} nodes" : "")}";
        return helped.TrueForAll(n => trials.Tried(label, n.Key, edits) is not null) ? (new(label, edits), [.. helped.Select(n => n.Key)]) : null;
    }

    private string RoomOf(Spot spot) => site.Place.Rooms.First(r => r.Key == spot.Room).Label;
}
