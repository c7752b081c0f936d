using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Place;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>A link from a node to who hears it, as the plan of the place says.</summary>
/// <param name="Receiver">Key of the node that hears it; null where none is named.</param>
/// <param name="Walls">What the straight line goes through, in order.</param>
/// <param name="Margin">Received power above sensitivity on the way there, dB.</param>
/// <param name="Back">The same for the answer, dB.</param>
/// <param name="Delivered">Part of messages that arrive with all their tries, %.</param>
public sealed record PlannedLink(
    string Node,
    string Label,
    string? Receiver,
    string? ReceiverLabel,
    string Channel,
    IReadOnlyList<string> Walls,
    Figure Distance,
    Figure Margin,
    Figure Back,
    Figure Delivered
);

/// <summary>Margin and delivery of radio links through the walls that are drawn.</summary>
internal static class LinkPlanner
{
    private const double OpenRoom = 2,
        NearestMetres = 0.1,
        SteepestDegrees = 80,
        MetalDb = 30,
        WorstWallDb = 35,
        UsualGainDbi = 0,
        InRoomSigma = 3,
        OutdoorSigma = 4,
        HouseSigma = 6;

    /// <summary>Each node with a radio module that is heard by another, in the order of the design.</summary>
    internal static IReadOnlyList<PlannedLink> Of(SiteDesign site, HardwareCatalogue catalogue) =>
        [.. site.Nodes.Where(n => Sending.RadioOf(n, catalogue) is not null).Select(n => Plan(site, catalogue, n))];

    private static PlannedLink Plan(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node)
    {
        var (sender, receiver) = (End(site, catalogue, node), node.Via is { } via && site.Node(via) is { } hears ? End(site, catalogue, hears) : null);
        if (Missing(sender, receiver) is { } missing)
        {
            Figure Open(string label, string unit) => Figure.Unknown(label, unit, missing);
            return new(
                node.Key,
                node.Label,
                receiver?.Node.Key,
                receiver?.Node.Label,
                sender.Radio!.Channel,
                [],
                Open("Distance", Unit.Metre),
                Open("Margin", "dB"),
                Open("Margin of the answer", "dB"),
                Open("Delivered", Unit.Percent)
            );
        }
        var way = Way.Between(site, sender.Spot!, receiver!.Spot!, sender.Megahertz!.Value);
        var margin = Margin("Margin", way, sender, receiver);
        var back = Margin("Margin of the answer", way, receiver, sender);
        return new(
            node.Key,
            node.Label,
            receiver.Node.Key,
            receiver.Node.Label,
            sender.Radio!.Channel,
            [.. way.Walls.Select(w => w.Label)],
            Figure.Exact("Distance", way.Metres, Unit.Metre, new Working("d = √(Δx² + Δy² + Δh²), 0.1 m at least", way.Apart, "geometry")),
            margin,
            back,
            Delivered(node, way, margin, back)
        );
    }

    private static LinkEnd End(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node) =>
        new(node, site.Place.Spots.FirstOrDefault(s => s.Key == node.Spot), Sending.ModuleOf(node, catalogue));

    private static string? Missing(LinkEnd sender, LinkEnd? receiver) =>
        receiver is null ? $"who hears {sender.Node.Label}: say it at the Bench, or give what hears it a spot"
        : sender.Spot is null ? $"where {sender.Node.Label} hangs: give it a spot"
        : receiver.Spot is null ? $"where {receiver.Node.Label} hangs: give it a spot"
        : receiver.Radio is null ? $"the radio of {receiver.Node.Label}: it has no module"
        : receiver.Radio.Channel != sender.Radio!.Channel ? $"how it is heard: {receiver.Node.Label} listens on {receiver.Radio.Channel}"
        : sender.Megahertz is null || sender.PowerDbm is null || sender.SensitivityDbm is null || receiver.PowerDbm is null
            ? $"frequency, power and sensitivity of {sender.Radio.Part.Label}"
        : null;

    private static Figure Margin(string label, Way way, LinkEnd from, LinkEnd to)
    {
        var (power, sensitivity) = (from.PowerDbm!.Value, to.SensitivityDbm!.Value);
        double At(double loss) => power + from.GainDbi + to.GainDbi - loss - sensitivity;
        return new(
            label,
            At(way.LossDb),
            At(way.Open + way.Walls.Sum(w => w.High)),
            At(way.Open + way.Walls.Sum(w => w.Low)),
            "dB",
            new Working(
                "M = P + G1 + G2 − L1 − 10 n log10(d) − Σ walls − S",
                [
                    new("P", power, "dBm", from.Node.Radio?.PowerDbm is null ? from.Radio!.Modem.PowerDbm!.Source : "design"),
                    new("G1", from.GainDbi, "dBi", from.Node.Radio?.AntennaGainDbi is null ? "planning value" : "design"),
                    new("G2", to.GainDbi, "dBi", to.Node.Radio?.AntennaGainDbi is null ? "planning value" : "design"),
                    new("L1", PathLoss.FreeSpaceDb(way.Megahertz, 1), "dB", "free space at 1 m, ITU-R P.525"),
                    new("n", OpenRoom, "", "an open room: the walls are counted one by one"),
                    new("d", way.Metres, Unit.Metre, "the two spots"),
                    .. way.Walls.Select(w => new WorkingInput(w.Label, w.Mean, "dB", w.Source)),
                    new("S", sensitivity, "dBm", to.SensitivitySource),
                ],
                "log-distance and multi-wall model (COST 231, 4.7); walls: ITU-R P.2040-1. The band is the ripple of the walls with their thickness"
            )
        );
    }

    private static Figure Delivered(NodeDesign node, Way way, Figure margin, Figure back)
    {
        var send = Sending.Of(node);
        var (tries, weakest) = (send.Acknowledged ? send.MostTries : 1, send.Acknowledged && back.Value < margin.Value ? back : margin);
        double At(double? db) => LinkBudget.Delivered(db!.Value, way.SigmaDb, tries) * 100;
        return new(
            "Delivered",
            At(weakest.Value),
            At(weakest.Low),
            At(weakest.High),
            Unit.Percent,
            new Working(
                "mean over places of 1 − (1 − p)^tries; p = e^(−10^(−M/10)) of one try at a place with margin M",
                [new("M", weakest.Value!.Value, "dB", "the weaker way"), new("sigma", way.SigmaDb, "dB", way.SigmaSource), new("tries", tries, "", "design")],
                "log-normal shadowing from place to place, Rayleigh fading from try to try",
                [margin, back]
            )
        );
    }

    /// <summary>One end of a link.</summary>
    private sealed record LinkEnd(NodeDesign Node, Spot? Spot, NodeRadio? Radio)
    {
        internal double? Megahertz => Radio?.Modem.Megahertz;

        internal double? PowerDbm => Node.Radio?.PowerDbm ?? Radio?.Modem.PowerDbm?.Likely;

        internal double GainDbi => Node.Radio?.AntennaGainDbi ?? UsualGainDbi;

        internal double? SensitivityDbm =>
            Radio is null ? null
            : Radio.Modem.IsLora ? LinkBudget.LoraSensitivityDbm(Radio.Modem.SpreadingFactor, Radio.Modem.BandwidthKilohertz)
            : Radio.Modem.SensitivityDbm?.Likely + 10 * Math.Log10((Radio.Modem.BitsPerSecond ?? 1) / (Radio.Part.Modem!.BitsPerSecond ?? 1));

        internal string SensitivitySource =>
            Radio!.Modem.IsLora
                ? $"noise figure 6 dB, {Radio.Rate} at {Radio.Modem.BandwidthKilohertz:0.###} kHz: AN1200.13"
                : Radio.Modem.SensitivityDbm!.Source;
    }

    /// <summary>A wall on the way: its loss with the ends of its ripple, dB.</summary>
    private sealed record WallOnWay(string Label, double Low, double Mean, double High, string Source);

    /// <summary>The way between two spots.</summary>
    /// <param name="Apart">How far they are apart along and across the plan, and in height.</param>
    /// <param name="Open">Loss without the walls, dB.</param>
    private sealed record Way(
        IReadOnlyList<WorkingInput> Apart,
        double Metres,
        double Megahertz,
        double Open,
        IReadOnlyList<WallOnWay> Walls,
        double SigmaDb,
        string SigmaSource
    )
    {
        internal double LossDb => Open + Walls.Sum(w => w.Mean);

        internal static Way Between(SiteDesign site, Spot from, Spot to, double megahertz)
        {
            var (dx, dy, dz) = (to.X - from.X, to.Y - from.Y, to.HeightMetres - from.HeightMetres);
            var metres = Math.Max(NearestMetres, Math.Sqrt(dx * dx + dy * dy + dz * dz));
            var walls = WallCrossings.Of(site.Place.Walls, new(from.X, from.Y), new(to.X, to.Y)).Select(c => OnWay(c, megahertz)).ToList();
            var outdoors = Outdoors(site, from) && Outdoors(site, to);
            var (sigma, source) =
                walls.Count > 0 ? (HouseSigma, "a house, from memory: 5 to 7")
                : outdoors ? (OutdoorSigma, "a garden, from memory")
                : (InRoomSigma, "within a room, from memory");
            var open = PathLoss.LogDistanceDb(PathLoss.FreeSpaceDb(megahertz, 1), 1, OpenRoom, metres);
            WorkingInput[] apart =
            [
                new("Δx", dx, Unit.Metre, "spots on the plan"),
                new("Δy", dy, Unit.Metre, "spots on the plan"),
                new("Δh", dz, Unit.Metre, "heights of the spots"),
            ];
            return new(apart, metres, megahertz, open, walls, sigma, source);
        }

        private static bool Outdoors(SiteDesign site, Spot spot) =>
            site.Place.Rooms.FirstOrDefault(r => r.Key == spot.Room)?.Tags.Contains(RoomTag.Outdoor) == true;

        private static WallOnWay OnWay(WallCrossing crossing, double megahertz)
        {
            var material = crossing.Wall.Material;
            var label = $"{material.ToString().ToLowerInvariant()} wall at {crossing.AtMetres:0.0} m";
            if (SlabOf(material) is not { } slab)
            {
                return new(label, MetalDb / 2, MetalDb, WorstWallDb, "metal, from memory: 15 to 35 dB, by its slots and edges");
            }
            var thickness = WallCrossings.UsualMetres(material);
            var (low, mean, high) = WallLoss.Db(slab, thickness, megahertz, Math.Min(SteepestDegrees, crossing.Degrees));
            return new(
                label,
                Math.Min(WorstWallDb, low),
                Math.Min(WorstWallDb, mean),
                Math.Min(WorstWallDb, high),
                $"{thickness * 100:0.#} cm, usual thickness, at {crossing.Degrees:0} degrees"
            );
        }

        private static BuildingMaterial? SlabOf(WallMaterial material) =>
            material switch
            {
                WallMaterial.Plasterboard => BuildingMaterial.Plasterboard,
                WallMaterial.Brick => BuildingMaterial.Brick,
                WallMaterial.Concrete => BuildingMaterial.Concrete,
                WallMaterial.Timber => BuildingMaterial.Wood,
                WallMaterial.Glass => BuildingMaterial.Glass,
                _ => null,
            };
    }
}
