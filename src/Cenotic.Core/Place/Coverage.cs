using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using NetTopologySuite.Geometries;
using Point = Cenotic.Core.Design.Point;

namespace Cenotic.Core.Place;

/// <summary>A sensor that looks from a spot.</summary>
/// <param name="Area">What it sees with its likely range.</param>
/// <param name="Emitter">Of a light barrier, where its emitter hangs, if that is said.</param>
internal sealed record Looker(
    NodeDesign Node,
    PartInstance Instance,
    Part Part,
    FieldOfView View,
    Spot Spot,
    string? Floor,
    SeenArea Sees,
    Geometry Area,
    Spot? Emitter = null
)
{
    /// <summary>Motion and presence count for a room; a distance or a beam does not.</summary>
    internal bool Watches { get; } = Watch(Part);

    internal static bool Watch(Part part) => part.Quantities.Any(q => q.Quantity is "motion" or "presence");
}

/// <summary>Works out what the sensors of a site see of its rooms.</summary>
internal sealed class Coverage
{
    private const string Geometry = "geometry of the plan; furniture is not on it";

    /// <summary>Less than this of another room, or blind in one piece, is not worth a word, m².</summary>
    private const double LeastBeyond = 0.1,
        LeastBlind = 0.05;

    /// <summary>So many sensors, and so many rays times walls, are looked at: about a second of one processor. Our own choice.</summary>
    private const int MostLookers = 200,
        MostCompared = 12;
    private const long MostSteps = 20_000_000;

    private readonly PlaceDesign _place;
    private readonly CancellationToken _stop;
    private long _steps;
    private int _looked,
        _leftOut;

    /// <param name="memory">What is known of the plan before.</param>
    /// <param name="stop">Ends the work, because nobody waits for it any more.</param>
    internal Coverage(SiteDesign site, HardwareCatalogue catalogue, CoverageMemory memory, CancellationToken stop)
    {
        (_place, Memory, _stop) = (site.Place, memory, stop);
        memory.Begin(site.Place);
        Lookers = [.. site.Nodes.SelectMany(n => Of(n, catalogue))];
    }

    /// <summary>What is known of the plan before.</summary>
    internal CoverageMemory Memory { get; }

    /// <summary>Sensors with a field of view that hang at a spot.</summary>
    internal IReadOnlyList<Looker> Lookers { get; }

    /// <summary>The area of a room.</summary>
    internal Geometry Room(string key) =>
        Memory.Of(("room", key), () => _place.Rooms.FirstOrDefault(r => r.Key == key) is { } room ? Shapes.Inside(room.Corners) : Shapes.None);

    /// <summary>What they see, and of which rooms.</summary>
    internal CoveragePlan Plan()
    {
        var watched = Lookers.Where(l => l.Watches).Select(l => l.Spot.Room).OfType<string>().ToHashSet();
        return new(
            [.. Lookers.Select(l => Memory.Of(("sight", new Same(l)), () => Of(l)))],
            [.. _place.Rooms.Where(r => watched.Contains(r.Key)).Select(Seen)],
            _leftOut
        );
    }

    /// <summary>Those that watch a room, wherever they hang.</summary>
    internal List<Looker> Watching(Room room) => [.. Lookers.Where(l => l.Watches && l.Floor == FloorOf(room) && !In(l, room.Key).IsEmpty)];

    private string? FloorOf(Room room) => _place.Floor(room.Floor)?.Key;

    private IEnumerable<Looker> Of(NodeDesign node, HardwareCatalogue catalogue)
    {
        if (_place.Spot(node.Spot) is not { } spot)
        {
            yield break;
        }
        foreach (var instance in node.Parts)
        {
            _stop.ThrowIfCancellationRequested();
            if (catalogue.Part(instance.Part) is { View: { } view } part)
            {
                var near = SeenArea.Near(_place, spot, view);
                var steps = SeenArea.Steps(near);
                if (_looked == MostLookers || _steps + steps > MostSteps)
                {
                    _leftOut++;
                    continue;
                }
                (_looked, _steps) = (_looked + 1, _steps + steps);
                var emitter = LightBarriers.EmitterOf(_place, instance, part);
                yield return Memory.Of(("looker", new Same(node), new Same(instance), new Same(part), spot, emitter, new SameAll(near)), () =>
                    Looking(node, instance, part, view, spot, emitter)
                );
            }
        }
    }

    private Looker Looking(NodeDesign node, PartInstance instance, Part part, FieldOfView view, Spot spot, Spot? emitter)
    {
        var sees = new SeenArea(_place, spot, view, Looker.Watch(part) ? SeenArea.BodyMetres : spot.HeightMetres);
        var area = emitter is null ? sees.Within(view.RangeMetres.Likely) : LightBarriers.Area(emitter, spot);
        return new(node, instance, part, view, spot, _place.FloorOf(spot)?.Key, sees, area, emitter);
    }

    private Geometry In(Looker looker, string room) => Memory.Of(("in", new Same(looker), room), () => Shapes.Common(looker.Area, Room(room)));

    private Sight Of(Looker l) =>
        new(
            l.Node.Key,
            l.Instance.Key,
            l.Node.Label,
            l.Instance.Label,
            l.Watches,
            l.Spot.Key,
            l.Floor,
            l.Spot.Room,
            Shapes.Outlines(l.Area),
            l.Watches ? Seen(l)
                : l.Emitter is { } emitter ? LightBarriers.Apart(_place, l.Instance, emitter, l.Spot)
                : Beam(l),
            [.. _place.Rooms.Where(r => r.Key != l.Spot.Room && l.Watches && FloorOf(r) == l.Floor).Select(r => Beyond(l, r)).OfType<SeenBeyond>()],
            l.View.Zones is { } zones ? Step(l.View, zones) : null
        );

    /// <summary>A sensor behind a lens of zones sees who goes from one into the next: across a zone at most, where its range ends.</summary>
    private static Figure Step(FieldOfView view, Fact zones)
    {
        var range = view.RangeMetres;
        double Across(double metres, double parts) => 2 * metres * Math.Sin(view.HorizontalDegrees / parts / 2 * Math.PI / 180);
        return new(
            "Sideways where its range ends",
            Across(range.Likely, zones.Likely),
            Across(range.Low, zones.High),
            Across(range.High, zones.Low),
            Unit.Metre,
            () =>
                new(
                    "2 range sin(angle / zones / 2)",
                    [
                        new("range", range.Likely, Unit.Metre, range.Source),
                        new("angle", view.HorizontalDegrees, Unit.Degree, range.Source),
                        new("zones side by side", zones.Likely, "", zones.Source),
                    ],
                    "plane geometry"
                )
        );
    }

    private SeenBeyond? Beyond(Looker looker, Room room)
    {
        _stop.ThrowIfCancellationRequested();
        var seen = In(looker, room.Key);
        if (seen.Area < LeastBeyond)
        {
            return null;
        }
        var middle = Shapes.Largest(seen).InteriorPoint.Coordinate;
        var level = (_place.Floor(looker.Floor)?.LevelMetres ?? 0) + SeenArea.BodyMetres;
        var between = WallCrossings.Walls(_place, new(looker.Spot.X, looker.Spot.Y, level), new(middle.X, middle.Y, level));
        return new(room.Key, room.Label, Math.Round(seen.Area, 1), between.Any(c => c.Opening?.Kind != OpeningKind.Passage));
    }

    private Figure Seen(Looker looker)
    {
        var room = looker.Spot.Room is { } key ? Room(key) : Shapes.None;
        var label = $"{looker.Instance.Label} sees";
        if (room.IsEmpty)
        {
            return Figure.Unknown(label, Unit.SquareMetre, "the room in which it hangs");
        }
        double Of(double range) => Shapes.Common(looker.Sees.Within(range), room).Area;
        var range = looker.View.RangeMetres;
        var likely = Shapes.Common(looker.Area, room).Area;
        var (low, high) = (range.Low < range.Likely ? Of(range.Low) : likely, range.High > range.Likely ? Of(range.High) : likely);
        return new(label, likely, Math.Min(low, likely), Math.Max(high, likely), Unit.SquareMetre, () =>
            new(
                "floor within range, between the edges of its view, with no wall in front",
                [
                    new("range", range.Likely, Unit.Metre, range.Source),
                    new("from side to side", looker.View.HorizontalDegrees, Unit.Degree, range.Source),
                    new("from top to bottom", looker.View.VerticalDegrees, Unit.Degree, range.Source),
                    new("height", looker.Spot.HeightMetres, Unit.Metre, "its spot"),
                    new("tilt", looker.Spot.TiltDegrees, Unit.Degree, "its spot"),
                    new("body", SeenArea.BodyMetres, Unit.Metre, "the chest of somebody who walks: common practice, no source"),
                ],
                Geometry
            )
        );
    }

    /// <summary>How wide a beam is where it ends.</summary>
    private static Figure Beam(Looker looker)
    {
        var (range, half) = (looker.View.RangeMetres, looker.View.HorizontalDegrees / 2);
        double Wide(double metres) => 2 * metres * Math.Tan(half * Math.PI / 180);
        return new($"Beam of {looker.Instance.Label} where it ends", Wide(range.Likely), Wide(range.Low), Wide(range.High), Unit.Metre, () =>
            new(
                "2 range tan(angle / 2)",
                [new("range", range.Likely, Unit.Metre, range.Source), new("angle", 2 * half, Unit.Degree, range.Source)],
                "plane geometry"
            )
        );
    }

    private RoomCoverage Seen(Room room)
    {
        var watching = Watching(room);
        return Memory.Of(("seen", room.Key, new SameAll(watching)), () => Of(room, watching));
    }

    private RoomCoverage Of(Room room, List<Looker> watching)
    {
        var area = Room(room.Key);
        var blind = Shapes.Without(area, Shapes.Together([.. watching.Select(l => l.Area)]));
        return new(
            room.Key,
            room.Label,
            FloorOf(room),
            Share(room.Label, area.Area, blind.Area, watching),
            Math.Round(blind.Area, 2),
            Shapes.Outlines(blind),
            Where(area, Shapes.Largest(blind)),
            [.. Overlaps(room, [.. watching.Take(MostCompared)])]
        );
    }

    private static Figure Share(string room, double area, double blind, List<Looker> watching) =>
        Figure.Exact(
            $"Sensors see of {room}",
            area > 0 ? Math.Clamp(100 * (1 - blind / area), 0, 100) : 0,
            Unit.Percent,
            new(
                "1 - blind / area",
                [
                    new("blind", blind, Unit.SquareMetre, watching.Count == 0 ? "nobody looks" : $"seen by none of {watching.Count}"),
                    new("area", area, Unit.SquareMetre, "corners of the room"),
                ],
                Geometry
            )
        );

    private IEnumerable<Overlap> Overlaps(Room room, List<Looker> watching)
    {
        for (var i = 0; i < watching.Count; i++)
        {
            for (var j = i + 1; j < watching.Count; j++)
            {
                _stop.ThrowIfCancellationRequested();
                var (a, b) = (watching[i], watching[j]);
                var both = Shapes.Common(In(a, room.Key), b.Area).Area;
                if (both >= LeastBeyond)
                {
                    yield return new(a.Node.Key, a.Instance.Key, b.Node.Key, b.Instance.Key, Math.Round(both, 1));
                }
            }
        }
    }

    /// <summary>Where a part of a room is, as one says it of the plan.</summary>
    private static string Where(Geometry room, Geometry part)
    {
        if (part.Area < LeastBlind)
        {
            return "";
        }
        var (box, at) = (room.EnvelopeInternal, part.Centroid.Coordinate);
        var (x, y) = ((at.X - box.MinX) / box.Width, (at.Y - box.MinY) / box.Height);
        var down =
            y < 0.4 ? "upper"
            : y > 0.6 ? "lower"
            : "";
        var across =
            x < 0.4 ? "left"
            : x > 0.6 ? "right"
            : "";
        return (down, across) switch
        {
            ("", "") => "in the middle",
            ("", _) => $"at the {across} side",
            (_, "") => $"at the {down} side",
            _ => $"at the {down} {across}",
        };
    }
}
