using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Place;

namespace Cenotic.Core.Reach;

/// <summary>What takes a part of the signal on its way: a wall, a door, a floor.</summary>
/// <param name="Low">Least that it takes, dB.</param>
/// <param name="Mean">What it takes on average, dB.</param>
/// <param name="High">Most that it takes, dB.</param>
/// <param name="Kind">What it has in common with others of its kind: "brick wall", "floor"; null for nothing in the way.</param>
internal readonly record struct PathTerm(string Label, double Low, double Mean, double High, string Source, string? Kind);

/// <summary>The distance alone, before anything stands in the way.</summary>
/// <param name="LossDb">Loss over it, dB.</param>
/// <param name="Working">How that is worked out.</param>
/// <param name="IsRoom">Whether it falls as in a room, by its exponent.</param>
/// <param name="SigmaDb">Spread between places that the plan cannot tell apart, dB.</param>
internal sealed record OpenWay(double Metres, double LossDb, IReadOnlyList<WorkingInput> Working, bool IsRoom, double SigmaDb, string SigmaSource);

/// <summary>The straight way of a signal between two places.</summary>
/// <param name="Terms">What stands in the way, from the sender on.</param>
internal sealed record SignalPath(Point3 From, Point3 To, OpenWay Open, IReadOnlyList<PathTerm> Terms)
{
    /// <summary>All loss, dB.</summary>
    internal double LossDb => Open.LossDb + Terms.Sum(t => t.Mean);

    /// <summary>With the least that everything in the way may take, dB.</summary>
    internal double LeastLossDb => Open.LossDb + Terms.Sum(t => t.Low);

    /// <summary>With the most, dB.</summary>
    internal double MostLossDb => Open.LossDb + Terms.Sum(t => t.High);
}

/// <summary>Losses through a drawn place at one frequency. Keeps what a wall takes at each angle; for one thread.</summary>
/// <param name="fitted">What was measured there; null where the book alone is known.</param>
internal sealed class SignalPaths(PlaceDesign place, double megahertz, FittedModel? fitted = null)
{
    private const double OpenRoom = 2,
        WallsNotDrawn = 3,
        NearestMetres = 0.1,
        LowestMetres = 0.3,
        MetalDb = 30,
        WorstWallDb = 35,
        CoatingDb = 25,
        PaneMetres = 0.008,
        BesideMetres = 0.05,
        InRoomSigma = 3,
        OutdoorSigma = 4;

    /// <summary>Spread from place to place in a house, dB; from memory, 5 to 7.</summary>
    internal const double HouseSigma = 6;
    private const int SteepestDegrees = 80;
    private const string FloorKind = "floor",
        TreesKind = "trees",
        BoxKind = "metal box",
        CrossedKind = "crossed antennas";

    /// <summary>Trees of a garden, and how high they are at most, m. Common practice, no source.</summary>
    private const double TreesMetres = 6;

    /// <summary>A metal box with a slot or a lid, dB; from memory, 15 to 30.</summary>
    private static readonly (double Low, double Mean, double High) Box = (15, 22, 30);

    /// <summary>One antenna upright and the other flat, dB; from memory: 20 and more in free space, and so much less as walls turn the waves about.</summary>
    private static readonly (double Low, double Mean, double High) Crossed = (3, 6, 15);

    /// <summary>What moisture in brick or concrete beside a wet room takes besides, dB; from memory, 2 to 5 where it is wet, nothing where it is not.</summary>
    private static readonly (double Low, double Mean, double High) Moist = (0, 2, 5);

    private static readonly string[] Kinds = [.. Enum.GetValues<WallMaterial>().Select(m => $"{m.ToString().ToLowerInvariant()} wall")];

    private readonly double _atOneMetre = PathLoss.FreeSpaceDb(megahertz, 1);
    private readonly bool _drawn = place.Walls.Count > 0;
    private readonly double _exponent = fitted?.Exponent.Value ?? BookExponent(place);
    private readonly List<(IReadOnlyList<Point> Corners, Point UpperLeft, Point LowerRight)> _indoors =
    [
        .. place
            .Rooms.Where(r => !r.Tags.Contains(RoomTag.Outdoor) && r.Corners.Count > 0)
            .Select(r => (r.Corners, new Point(r.Corners.Min(c => c.X), r.Corners.Min(c => c.Y)), new Point(r.Corners.Max(c => c.X), r.Corners.Max(c => c.Y)))),
    ];
    private readonly List<Room> _wet = [.. place.Rooms.Where(r => r.Tags.Contains(RoomTag.Wet))];
    private readonly List<Room> _trees = [.. place.Rooms.Where(r => r.Tags.Contains(RoomTag.Trees))];
    private readonly Dictionary<(BuildingMaterial Material, double Metres, int Degrees), (double Low, double Mean, double High)> _slabs = [];

    /// <summary>MHz.</summary>
    internal double Megahertz => megahertz;

    /// <summary>How fast the signal falls with distance, by the book: as in an open room where the walls are counted, else as in a house.</summary>
    internal static double BookExponent(PlaceDesign place) => place.Walls.Count > 0 ? OpenRoom : WallsNotDrawn;

    /// <summary>The way between two places with everything that is in it.</summary>
    internal SignalPath Between(Point3 from, Point3 to)
    {
        var walls = WallCrossings.Walls(place, from, to);
        var floors = OfFloors(WallCrossings.Floors(place, from, to)).ToList();
        return new(
            from,
            to,
            Open(from, to, walls.Count + floors.Count),
            [.. walls.Select(w => OfWall(w, IsMoist(w, from, to))), .. floors, .. OfTrees(from, to)]
        );
    }

    /// <summary>The way between two ends that hang, with the boxes round their antennas.</summary>
    internal SignalPath Between(RadioEnd sender, RadioEnd receiver)
    {
        var path = Between(sender.At!.Value, receiver.At!.Value);
        return sender.InMetal || receiver.InMetal || sender.Flat != receiver.Flat
            ? path with
            {
                Terms = [.. OfBox(sender), .. path.Terms, .. OfBox(receiver), .. OfCrossed(sender, receiver)],
            }
            : path;
    }

    /// <summary>All loss of <see cref="Between(RadioEnd, RadioEnd)"/>, and its spread by the book between places that the plan cannot tell apart, dB.</summary>
    internal (double LossDb, double SigmaDb) Loss(RadioEnd sender, RadioEnd receiver)
    {
        var (loss, sigma) = Loss(sender.At!.Value, receiver.At!.Value);
        return (loss + BoxDb(sender) + BoxDb(receiver) + (sender.Flat == receiver.Flat ? 0 : Fitted(CrossedKind, Crossed).Mean), sigma);
    }

    private IEnumerable<PathTerm> OfCrossed(RadioEnd sender, RadioEnd receiver)
    {
        if (sender.Flat == receiver.Flat)
        {
            yield break;
        }
        var (low, mean, high) = Fitted(CrossedKind, Crossed);
        yield return new(
            $"antenna of {(sender.Flat ? sender : receiver).Label} flat, the other upright",
            low,
            mean,
            high,
            "from memory: 3 to 15 dB in a house, more in sight" + FittedSource(CrossedKind),
            CrossedKind
        );
    }

    /// <summary>What the box round the antenna of an end takes, dB.</summary>
    internal double BoxDb(RadioEnd end) => end.InMetal ? Fitted(BoxKind, Box).Mean : 0;

    private IEnumerable<PathTerm> OfBox(RadioEnd end)
    {
        if (end.InMetal)
        {
            var (low, mean, high) = Fitted(BoxKind, Box);
            yield return new(
                $"metal box of {end.Label}",
                low,
                mean,
                high,
                "its antenna inside, from memory: 15 to 30 dB by its slots" + FittedSource(BoxKind),
                BoxKind
            );
        }
    }

    /// <summary>All loss between two places, dB: that of <see cref="Between(Point3, Point3)"/>, without how it comes about.</summary>
    internal double LossDb(Point3 from, Point3 to) => OpenLossDb(from, to) + TakenDb(from, to, out _);

    /// <summary>All loss between two places, and its spread by the book between places that the plan cannot tell apart, dB: those of
    /// <see cref="Between(Point3, Point3)"/>, without how they come about.</summary>
    private (double LossDb, double SigmaDb) Loss(Point3 from, Point3 to)
    {
        var loss = OpenLossDb(from, to) + TakenDb(from, to, out var crossed);
        return (loss, Sigma(crossed, Outdoors(from) && Outdoors(to)).Db);
    }

    /// <summary>What everything in the way takes, dB.</summary>
    /// <param name="crossed">How many walls and floors that are.</param>
    private double TakenDb(Point3 from, Point3 to, out int crossed)
    {
        var walls = WallCrossings.Walls(place, from, to);
        var taken = 0.0;
        foreach (var wall in walls)
        {
            taken += Fitted(KindOf(wall), Taken(wall, IsMoist(wall, from, to))).Mean;
        }
        crossed = walls.Count;
        if (_trees.Count > 0)
        {
            taken += OfTrees(from, to).Sum(t => t.Mean);
        }
        // Where there is but one storey no floor lies between.
        if (place.Floors.Count == 0)
        {
            return taken;
        }
        var floors = OfFloors(WallCrossings.Floors(place, from, to)).ToList();
        crossed += floors.Count;
        return taken + floors.Sum(t => t.Mean);
    }

    private static double Metres(Point3 from, Point3 to)
    {
        var (dx, dy, dz) = (to.X - from.X, to.Y - from.Y, to.Z - from.Z);
        return Math.Max(NearestMetres, Math.Sqrt(dx * dx + dy * dy + dz * dz));
    }

    private bool Outdoors(Point3 at)
    {
        foreach (var (corners, upperLeft, lowerRight) in _indoors)
        {
            if (
                at.X >= upperLeft.X - 1e-6
                && at.X <= lowerRight.X + 1e-6
                && at.Y >= upperLeft.Y - 1e-6
                && at.Y <= lowerRight.Y + 1e-6
                && PlacePlanner.Contains(corners, new(at.X, at.Y))
            )
            {
                return false;
            }
        }
        return place.Rooms.Count > 0;
    }

    private double OpenLossDb(Point3 from, Point3 to) =>
        Outdoors(from) && Outdoors(to)
            ? PathLoss.OverGroundDb(megahertz, Metres(from, to), Math.Max(LowestMetres, from.Z), Math.Max(LowestMetres, to.Z))
            : PathLoss.LogDistanceDb(_atOneMetre, 1, _exponent, Metres(from, to));

    private OpenWay Open(Point3 from, Point3 to, int crossed)
    {
        var metres = Metres(from, to);
        var loss = OpenLossDb(from, to);
        var outdoors = Outdoors(from) && Outdoors(to);
        IReadOnlyList<WorkingInput> working = outdoors
            ?
            [
                new("L(d)", loss, Unit.Decibel, $"over ground, {from.Z:0.0} and {to.Z:0.0} m high: free space, 40 log10 d beyond the break point"),
                new("d", metres, Unit.Metre, "the two spots"),
            ]
            :
            [
                new("L1", _atOneMetre, Unit.Decibel, "free space at 1 m, ITU-R P.525"),
                new(
                    "n",
                    _exponent,
                    "",
                    fitted is not null ? $"fitted to {fitted.Measured.Count} places that were measured"
                        : _drawn ? "an open room: the walls are counted one by one"
                        : "a house whose walls are not drawn, from memory: 2.7 to 4"
                ),
                new("d", metres, Unit.Metre, "the two spots"),
            ];
        var (sigma, source) = Sigma(crossed, outdoors);
        return new(metres, loss, working, !outdoors, sigma, source);
    }

    private (double Db, string Source) Sigma(int crossed, bool outdoors) =>
        crossed > 0 || (!_drawn && !outdoors) ? (HouseSigma, "a house, from memory: 5 to 7")
        : outdoors ? (OutdoorSigma, "a garden, from memory")
        : (InRoomSigma, "within a room, from memory");

    private PathTerm OfWall(WallCrossing crossing, bool moist)
    {
        var kind = KindOf(crossing);
        var (low, mean, high) = Fitted(kind, Taken(crossing, moist));
        var source = SourceOf(crossing) + (moist ? "; beside a wet room, from memory: up to 5 dB more" : "");
        return new($"{kind ?? "passage"} at {crossing.AtMetres:0.0} m", low, mean, high, source + FittedSource(kind), kind);
    }

    /// <summary>Whether a wall that soaks up water is met where a wet room lies on one side of it.</summary>
    private bool IsMoist(WallCrossing crossing, Point3 from, Point3 to)
    {
        if (_wet.Count == 0 || crossing is not { Opening: null, Wall.Material: WallMaterial.Brick or WallMaterial.Concrete })
        {
            return false;
        }
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        var over = Math.Sqrt(dx * dx + dy * dy);
        var beside = WallCrossings.ThicknessMetres(crossing.Wall) / 2 / Math.Max(0.1, Math.Cos(crossing.Degrees * Math.PI / 180)) + BesideMetres;
        bool Wet(double along) =>
            _wet.Exists(r => r.Floor == crossing.Wall.Floor && PlacePlanner.Contains(r.Corners, new(from.X + along * dx / over, from.Y + along * dy / over)));
        return Wet(crossing.AtMetres - beside) || Wet(crossing.AtMetres + beside);
    }

    private static string? KindOf(WallCrossing crossing) =>
        crossing.Opening?.Kind switch
        {
            OpeningKind.Door => "door",
            OpeningKind.Window => "window",
            OpeningKind.CoatedWindow => "coated window",
            OpeningKind.Passage => null,
            _ => Kinds[(int)crossing.Wall.Material],
        };

    /// <summary>What is taken, with what was measured beyond the book; never less than nothing.</summary>
    private (double Low, double Mean, double High) Fitted(string? kind, (double Low, double Mean, double High) book)
    {
        var extra = kind is null ? 0 : fitted?.Extra(kind) ?? 0;
        return extra == 0 ? book : (Math.Max(0, book.Low + extra), Math.Max(0, book.Mean + extra), Math.Max(0, book.High + extra));
    }

    private string FittedSource(string? kind) =>
        kind is not null && fitted?.Extra(kind) is { } extra and not 0
            ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $"; with {extra:+0.0;−0.0} dB that were measured")
            : "";

    private static string SourceOf(WallCrossing crossing)
    {
        var at = $"at {crossing.Degrees:0} degrees";
        return crossing.Opening?.Kind switch
        {
            OpeningKind.Door => $"timber of {WallCrossings.UsualMetres(WallMaterial.Timber) * 100:0.#} cm, {at}",
            OpeningKind.Window => $"two panes of 4 mm, {at}",
            OpeningKind.CoatedWindow => $"two panes and a coating, from memory: 20 to 30 dB more, {at}",
            OpeningKind.Passage => "nothing in the way",
            _ when crossing.Wall.Material == WallMaterial.Metal => "metal, from memory: 15 to 35 dB, by its slots and edges",
            _ => $"{WallCrossings.ThicknessMetres(crossing.Wall) * 100:0.#} cm, {How(crossing.Wall)}, {at}",
        };
    }

    private static string How(Wall wall) => wall.ThicknessMetres is null ? "usual thickness" : "as drawn";

    private (double Low, double Mean, double High) Taken(WallCrossing crossing, bool moist)
    {
        var dry = Dry(crossing);
        return moist
            ? (Math.Min(WorstWallDb, dry.Low + Moist.Low), Math.Min(WorstWallDb, dry.Mean + Moist.Mean), Math.Min(WorstWallDb, dry.High + Moist.High))
            : dry;
    }

    private (double Low, double Mean, double High) Dry(WallCrossing crossing) =>
        crossing.Opening?.Kind switch
        {
            OpeningKind.Door => Slab(WallMaterial.Timber, WallCrossings.UsualMetres(WallMaterial.Timber), crossing.Degrees),
            OpeningKind.Window => Slab(WallMaterial.Glass, PaneMetres, crossing.Degrees),
            OpeningKind.CoatedWindow => Coated(Slab(WallMaterial.Glass, PaneMetres, crossing.Degrees)),
            OpeningKind.Passage => default,
            _ => Slab(crossing.Wall.Material, WallCrossings.ThicknessMetres(crossing.Wall), crossing.Degrees),
        };

    private static (double Low, double Mean, double High) Coated((double Low, double Mean, double High) pane) =>
        (Math.Min(WorstWallDb, pane.Low + CoatingDb - 5), Math.Min(WorstWallDb, pane.Mean + CoatingDb), WorstWallDb);

    private (double Low, double Mean, double High) Slab(WallMaterial material, double metres, double degrees)
    {
        if (SlabOf(material) is not { } slab)
        {
            return (MetalDb / 2, MetalDb, WorstWallDb);
        }
        var key = (slab, metres, (int)Math.Min(SteepestDegrees, Math.Round(degrees)));
        if (!_slabs.TryGetValue(key, out var taken))
        {
            var (low, mean, high) = WallLoss.Db(slab, metres, megahertz, key.Item3);
            // The edges of a wall let some through.
            _slabs[key] = taken = (Math.Min(WorstWallDb, low), Math.Min(WorstWallDb, mean), Math.Min(WorstWallDb, high));
        }
        return taken;
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

    /// <summary>Trees that the line goes through, each area of them by itself.</summary>
    private IEnumerable<PathTerm> OfTrees(Point3 from, Point3 to)
    {
        if (_trees.Count == 0 || Math.Min(from.Z, to.Z) > TreesMetres)
        {
            yield break;
        }
        foreach (var trees in _trees)
        {
            var metres = Metres(from, to) * WallCrossings.PartInside(trees.Corners, from, to);
            if (metres < 0.1)
            {
                continue;
            }
            var book = PathLoss.FoliageDb(megahertz, metres);
            // Bare of leaves they take about half; from memory.
            var (low, mean, high) = Fitted(TreesKind, (book / 2, book, book));
            yield return new(
                $"{metres:0.0} m of {trees.Label}",
                low,
                mean,
                high,
                "leaves: Weissberger; bare about half, from memory" + FittedSource(TreesKind),
                TreesKind
            );
        }
    }

    /// <summary>Floors by what lies under them; those of which that is not known together, since each further one costs less.</summary>
    private IEnumerable<PathTerm> OfFloors(IReadOnlyList<FloorCrossing> floors)
    {
        foreach (var (floor, degrees) in floors)
        {
            if (floor.Slab is { } material)
            {
                var metres = floor.SlabMetres ?? WallCrossings.UsualMetres(material);
                var (low, mean, high) = Fitted(FloorKind, Slab(material, metres, degrees));
                yield return new(
                    $"floor of {floor.Label}",
                    low,
                    mean,
                    high,
                    $"{material.ToString().ToLowerInvariant()} of {metres * 100:0.#} cm, at {degrees:0} degrees" + FittedSource(FloorKind),
                    FloorKind
                );
            }
        }
        if (floors.Count(f => f.Floor.Slab is null) is > 0 and var unknown)
        {
            var book = PathLoss.FloorsDb(unknown);
            var (low, mean, high) = Fitted(FloorKind, (book, book, book));
            var source = "what they are of is not said: COST 231, 4.7, at 1.8 GHz" + FittedSource(FloorKind);
            yield return new(unknown == 1 ? "a floor" : $"{unknown} floors", low, mean, high, source, FloorKind);
        }
    }
}
