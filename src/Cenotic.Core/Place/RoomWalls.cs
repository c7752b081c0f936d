using System.Globalization;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>A side of a room where no wall stands.</summary>
/// <param name="Shared">True where another room lies beyond it.</param>
public sealed record OpenSide(Point From, Point To, bool Shared);

/// <summary>Walls from rooms: which sides of rooms have none.</summary>
public static class RoomWalls
{
    /// <summary>A wall nearer to the middle of a side than this stands there, m.</summary>
    private const double NearMetres = 0.1;

    /// <summary>Sides of rooms without a wall, each once: those between two rooms are shared. Rooms outdoors have none.</summary>
    /// <param name="wanted">The rooms whose sides are looked at.</param>
    public static IReadOnlyList<OpenSide> Open(PlaceDesign place, string? floor, Func<Room, bool> wanted)
    {
        var indoors = place.Rooms.Where(r => r.Floor == floor && !r.Tags.Contains(RoomTag.Outdoor)).ToList();
        var walls = place.Walls.Where(w => w.Floor == floor).ToList();
        return
        [
            .. indoors
                .SelectMany(r => Sides(r).Select(s => (Side: s, Wanted: wanted(r))))
                .GroupBy(s => s.Side.Line)
                .SelectMany(g => Parts([.. g]))
                .Where(p => !walls.Exists(w => Covers(w, p))),
        ];
    }

    /// <summary>Whether a wall stands along some side of a room.</summary>
    public static bool HasWall(PlaceDesign place, Room room) =>
        Sides(room).Any(s => place.Walls.Any(w => w.Floor == room.Floor && Covers(w, new(s.At(s.Low), s.At(s.High), false))));

    /// <summary>A line over the plan: its direction as an angle, and how far it lies from the corner of the plan.</summary>
    private readonly record struct Line(double Degrees, double Offset);

    /// <summary>A side of a room as a stretch of a line.</summary>
    private readonly record struct Side(Line Line, double Low, double High)
    {
        internal Point At(double along)
        {
            var (sine, cosine) = Math.SinCos(Line.Degrees * Math.PI / 180);
            return new(Math.Round(along * cosine - Line.Offset * sine, 3), Math.Round(along * sine + Line.Offset * cosine, 3));
        }
    }

    private static IEnumerable<Side> Sides(Room room) =>
        room.Corners.Select((c, i) => (From: c, To: room.Corners[(i + 1) % room.Corners.Count])).Where(s => s.From != s.To).Select(s => Of(s.From, s.To));

    private static Side Of(Point from, Point to)
    {
        var degrees = Math.Round(Math.Atan2(to.Y - from.Y, to.X - from.X) * 180 / Math.PI, 2);
        degrees = (degrees + 360) % 180;
        var (sine, cosine) = Math.SinCos(degrees * Math.PI / 180);
        double Along(Point p) => p.X * cosine + p.Y * sine;
        // Sides within a centimetre lie on one line.
        return new(new(degrees, Math.Round(from.Y * cosine - from.X * sine, 2)), Math.Min(Along(from), Along(to)), Math.Max(Along(from), Along(to)));
    }

    /// <summary>The stretches of one line, cut where sides begin and end; neighbours of one sort are one.</summary>
    private static List<OpenSide> Parts(IReadOnlyList<(Side Side, bool Wanted)> sides)
    {
        var cuts = sides.SelectMany(s => new[] { Math.Round(s.Side.Low, 2), Math.Round(s.Side.High, 2) }).Distinct().Order().ToList();
        List<(double Low, double High, bool Shared)> parts = [];
        foreach (var (low, high) in cuts.Zip(cuts.Skip(1)))
        {
            var over = sides.Where(s => s.Side.Low <= (low + high) / 2 && s.Side.High >= (low + high) / 2).ToList();
            if (!over.Exists(s => s.Wanted))
            {
                continue;
            }
            if (parts.Count > 0 && parts[^1] is var last && last.High == low && last.Shared == over.Count > 1)
            {
                parts[^1] = last with { High = high };
            }
            else
            {
                parts.Add((low, high, over.Count > 1));
            }
        }
        return [.. parts.Select(p => new OpenSide(sides[0].Side.At(p.Low), sides[0].Side.At(p.High), p.Shared))];
    }

    /// <summary>Whether a wall runs by the middle of a side, along it.</summary>
    private static bool Covers(Wall wall, OpenSide side)
    {
        var (x, y) = ((side.From.X + side.To.X) / 2, (side.From.Y + side.To.Y) / 2);
        var (dx, dy) = (wall.To.X - wall.From.X, wall.To.Y - wall.From.Y);
        var (sx, sy) = (side.To.X - side.From.X, side.To.Y - side.From.Y);
        var along = ((x - wall.From.X) * dx + (y - wall.From.Y) * dy) / (dx * dx + dy * dy);
        var apart = Math.Abs((x - wall.From.X) * dy - (y - wall.From.Y) * dx) / wall.LengthMetres;
        var parallel = Math.Abs(dx * sy - dy * sx) < 0.1 * wall.LengthMetres * Math.Sqrt(sx * sx + sy * sy);
        return parallel && apart < NearMetres && along is >= 0 and <= 1;
    }

    /// <summary>Walls for these sides: of one material outside, of another between rooms.</summary>
    public static IReadOnlyList<DesignEdit> Put(PlaceDesign place, string? floor, IReadOnlyList<OpenSide> sides, WallMaterial outside, WallMaterial between)
    {
        var taken = place.Walls.Select(w => w.Key).ToHashSet();
        var free = Enumerable.Range(1, int.MaxValue).Select(n => string.Create(CultureInfo.InvariantCulture, $"wall-{n}")).Where(k => !taken.Contains(k));
        return [.. sides.Zip(free).Select(p => new PutWall(new(p.Second, p.First.From, p.First.To, p.First.Shared ? between : outside, null, floor)))];
    }
}
