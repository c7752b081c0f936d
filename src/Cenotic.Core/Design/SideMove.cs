using System.Globalization;
using static Cenotic.Core.Design.PlanGeometry;

namespace Cenotic.Core.Design;

/// <summary>
/// A side of a room that is moved across, with what stands on it: walls along it move, walls that end at it grow or shrink, rooms beyond it give way, spots on
/// it hang on. What only touches one of its ends stays. Pure geometry of one floor, in metres.
/// </summary>
internal sealed class SideMove
{
    /// <summary>What is nearer to a line than this lies on it, m.</summary>
    internal const double OnMetres = 0.02;

    /// <summary>A spot nearer than this hangs on the wall, m.</summary>
    private const double HangsMetres = 0.25;

    private readonly PlaceDesign _place;
    private readonly Room _room;
    private readonly int _side;
    private readonly Point _from;
    private readonly Point _to;
    private readonly double _length;

    /// <summary>Along the side, and out of the room, one metre each.</summary>
    private readonly Point _along;
    private readonly Point _across;

    /// <summary>By how much it moves out of the room, m, and where its ends go.</summary>
    private readonly double _metres;
    private readonly Point _fromGoes;
    private readonly Point _toGoes;

    private SideMove(PlaceDesign place, Room room, int side, double metres)
    {
        (_place, _room, _side, _metres) = (place, room, side, metres);
        (_from, _to) = (room.Corners[side], room.Corners[(side + 1) % room.Corners.Count]);
        _length = Between(_from, _to);
        _along = new((_to.X - _from.X) / _length, (_to.Y - _from.Y) / _length);
        // With y down, a room whose corners go round clockwise as it is seen has the outside on the left of each side.
        var clockwise = TwiceArea(room.Corners) > 0 ? 1 : -1;
        _across = new(clockwise * _along.Y, -clockwise * _along.X);
        var n = room.Corners.Count;
        (_fromGoes, _toGoes) = (Slid(_from, room.Corners[(side + n - 1) % n]), Slid(_to, room.Corners[(side + 2) % n]));
    }

    /// <summary>The plan with a side of a room moved across by so many metres, out of the room where that is above 0; unchanged where the side has no length.
    /// </summary>
    /// <param name="side">0 for the side from the first corner to the second.</param>
    internal static PlaceDesign Apply(PlaceDesign place, Room room, int side, double metres) =>
        Between(room.Corners[side], room.Corners[(side + 1) % room.Corners.Count]) < OnMetres ? place : new SideMove(place, room, side, metres).Moved();

    private PlaceDesign Moved()
    {
        List<Room> rooms =
        [
            .. _place.Rooms.Select(r =>
                r.Key == _room.Key ? r with { Corners = Own() }
                : OnThisFloor(r.Floor) ? Neighbour(r)
                : r
            ),
        ];
        var keys = new FreeKeys(_place.Walls);
        List<Wall> added = [];
        List<Wall> walls = [.. _place.Walls.Select(w => OnThisFloor(w.Floor) ? Moved(w, rooms, keys, added) : w).OfType<Wall>()];
        return _place with { Rooms = rooms, Walls = [.. walls, .. added], Spots = [.. _place.Spots.Select(Moved)] };
    }

    private bool OnThisFloor(string? floor) => floor == _room.Floor;

    /// <summary>The outline of the room: the sides before and after go on along themselves; where one goes on along the moved side, a step is put in.</summary>
    private List<Point> Own()
    {
        var corners = _room.Corners;
        var n = corners.Count;
        var (before, after) = (corners[(_side + n - 1) % n], corners[(_side + 2) % n]);
        List<Point> outline = [];
        for (var i = 0; i < n; i++)
        {
            var (begins, ends) = (i == _side, i == (_side + 1) % n);
            if (begins && GoesOn(_from, before))
            {
                outline.Add(_from);
            }
            outline.Add(
                begins ? _fromGoes
                : ends ? _toGoes
                : corners[i]
            );
            if (ends && GoesOn(_to, after))
            {
                outline.Add(_to);
            }
        }
        return Clean(outline);
    }

    /// <summary>Whether the side from a corner to the one beyond lies along the moved side.</summary>
    private bool GoesOn(Point corner, Point beyond) => Math.Abs(Across(beyond) - Across(corner)) < 0.1 * Between(corner, beyond);

    /// <summary>Where a corner goes: along the side beyond it, or straight across where that one lies along the moved side.</summary>
    private Point Slid(Point corner, Point beyond)
    {
        var (x, y) = (corner.X - beyond.X, corner.Y - beyond.Y);
        var rise = x * _across.X + y * _across.Y;
        return GoesOn(corner, beyond)
            ? Rounded(corner.X + _metres * _across.X, corner.Y + _metres * _across.Y)
            : Rounded(corner.X + x * _metres / rise, corner.Y + y * _metres / rise);
    }

    /// <summary>Another room: what it shares of the side moves with it.</summary>
    private Room Neighbour(Room room)
    {
        var n = room.Corners.Count;
        var shared = Enumerable.Range(0, n).Select(i => Shared(room.Corners[i], room.Corners[(i + 1) % n])).ToList();
        if (shared.TrueForAll(s => s is null))
        {
            return room;
        }
        List<Point> outline = [];
        for (var i = 0; i < n; i++)
        {
            var corner = room.Corners[i];
            var moves = Begins(shared[i], corner) || Ends(shared[(i + n - 1) % n], corner);
            outline.Add(moves ? Carried(corner) : corner);
            if (shared[i] is not var (first, last))
            {
                continue;
            }
            if (!Begins(shared[i], corner))
            {
                outline.AddRange([first, Carried(first)]);
            }
            if (!Ends(shared[i], room.Corners[(i + 1) % n]))
            {
                outline.AddRange([Carried(last), last]);
            }
        }
        return room with { Corners = Clean(outline) };
    }

    private static bool Begins((Point First, Point Last)? shared, Point corner) => shared is var (first, _) && Between(first, corner) < OnMetres;

    private static bool Ends((Point First, Point Last)? shared, Point corner) => shared is var (_, last) && Between(last, corner) < OnMetres;

    /// <summary>What a line has in common with the moved side, in the direction of the line; null where that is nothing.</summary>
    private (Point First, Point Last)? Shared(Point from, Point to)
    {
        if (Math.Abs(Across(from)) > OnMetres || Math.Abs(Across(to)) > OnMetres)
        {
            return null;
        }
        var (begins, ends) = (Along(from), Along(to));
        var (low, high) = (Math.Max(0, Math.Min(begins, ends)), Math.Min(_length, Math.Max(begins, ends)));
        if (high - low < OnMetres)
        {
            return null;
        }
        var (first, last) = begins < ends ? (low, high) : (high, low);
        return (At(first), At(last));
    }

    /// <summary>A wall: along the side it moves, cut where the side ends; at an end of the side it grows or shrinks. Null where nothing is left.</summary>
    private Wall? Moved(Wall wall, IReadOnlyList<Room> rooms, FreeKeys keys, List<Wall> added)
    {
        if (Shared(wall.From, wall.To) is var (first, last))
        {
            List<Wall> parts =
            [
                .. Part(wall, wall.From, first),
                .. Part(wall, first, last).Select(w => w with { From = Carried(w.From), To = Carried(w.To) }),
                .. Part(wall, last, wall.To),
            ];
            added.AddRange(parts.Skip(1).Select(p => p with { Key = keys.Next() }));
            return parts.FirstOrDefault();
        }
        var (from, to) = (Follows(wall.From, wall.To, rooms), Follows(wall.To, wall.From, rooms));
        if (from == wall.From && to == wall.To)
        {
            return wall;
        }
        if (Between(from, to) < OnMetres)
        {
            return null;
        }
        return WithEnds(wall, from, to);
    }

    /// <summary>A wall with other ends: its doors and windows stay where they are.</summary>
    internal static Wall WithEnds(Wall wall, Point from, Point to)
    {
        var later = ((wall.From.X - from.X) * (wall.To.X - wall.From.X) + (wall.From.Y - from.Y) * (wall.To.Y - wall.From.Y)) / wall.LengthMetres;
        return wall with { From = from, To = to, Openings = [.. wall.Openings.Select(o => o with { AtMetres = Math.Round(o.AtMetres + later, 3) })] };
    }

    /// <summary>A stretch of a wall with the openings whose middle lies in it; none where it is too short to stand.</summary>
    private static IEnumerable<Wall> Part(Wall wall, Point from, Point to)
    {
        var length = Between(from, to);
        if (length < OnMetres)
        {
            return [];
        }
        var begins = Between(wall.From, from);
        return
        [
            wall with
            {
                From = from,
                To = to,
                Openings =
                [
                    .. wall
                        .Openings.Select(o => o with { AtMetres = Math.Round(o.AtMetres - begins, 3) })
                        .Where(o => o.AtMetres + o.WidthMetres / 2 >= 0 && o.AtMetres + o.WidthMetres / 2 < length)
                        .Select(o =>
                            o with
                            {
                                AtMetres = Math.Max(0, o.AtMetres),
                                WidthMetres = Math.Round(Math.Min(o.WidthMetres, length - Math.Max(0, o.AtMetres)), 3),
                            }
                        ),
                ],
            },
        ];
    }

    /// <summary>Where an end of a wall goes that touches the side: along with it, but at an end of the side only as far as a wall is wanted.</summary>
    /// <param name="other">The wall's other end.</param>
    /// <param name="rooms">The rooms after the move.</param>
    private Point Follows(Point end, Point other, IReadOnlyList<Room> rooms)
    {
        var along = Along(end);
        if (Math.Abs(Across(end)) > OnMetres || along < -OnMetres || along > _length + OnMetres || Math.Abs(Across(other)) < OnMetres)
        {
            return end;
        }
        var carried = Carried(end);
        if (along > OnMetres && along < _length - OnMetres)
        {
            return carried;
        }
        var ahead = Across(other) * _metres > 0;
        var middle = new Point((end.X + carried.X) / 2, (end.Y + carried.Y) / 2);
        var stands = _place.Walls.Any(w => OnThisFloor(w.Floor) && IsOn(w.From, w.To, middle));
        var wanted = rooms.Any(r => OnThisFloor(r.Floor) && OnOutline(r, middle));
        return (stands && ahead && !wanted) || (!stands && !ahead && wanted) ? carried : end;
    }

    private static bool OnOutline(Room room, Point at) =>
        room.Corners.Select((c, i) => (From: c, To: room.Corners[(i + 1) % room.Corners.Count])).Any(s => IsOn(s.From, s.To, at));

    /// <summary>Whether a point lies between two others on their line, within half a centimetre.</summary>
    private static bool IsOn(Point from, Point to, Point at)
    {
        var (dx, dy, length) = (to.X - from.X, to.Y - from.Y, Between(from, to));
        var (along, off) = ((at.X - from.X) * dx + (at.Y - from.Y) * dy, (at.X - from.X) * dy - (at.Y - from.Y) * dx);
        return Math.Abs(off) < 0.005 * length && along > 0 && along < length * length;
    }

    private Spot Moved(Spot spot)
    {
        var at = new Point(spot.X, spot.Y);
        var hangs = OnThisFloor(_place.FloorOf(spot)?.Key) && Math.Abs(Across(at)) <= HangsMetres && Along(at) is var along && along >= 0 && along <= _length;
        return hangs ? spot with { X = Carried(at).X, Y = Carried(at).Y } : spot;
    }

    private double Along(Point at) => (at.X - _from.X) * _along.X + (at.Y - _from.Y) * _along.Y;

    private double Across(Point at) => (at.X - _from.X) * _across.X + (at.Y - _from.Y) * _across.Y;

    private Point At(double along) => Rounded(_from.X + along * _along.X, _from.Y + along * _along.Y);

    /// <summary>Where a point of the side goes.</summary>
    private Point Carried(Point at) =>
        Between(at, _from) < OnMetres ? _fromGoes
        : Between(at, _to) < OnMetres ? _toGoes
        : Rounded(at.X + _metres * _across.X, at.Y + _metres * _across.Y);

    private static Point Rounded(double x, double y) => new(Math.Round(x, 3), Math.Round(y, 3));

    /// <summary>An outline without corners that are the one before, that lie on a straight side, or where it goes out and back the same way.</summary>
    private static List<Point> Clean(List<Point> outline)
    {
        bool Needless(int i)
        {
            var (before, at, after) = (outline[(i + outline.Count - 1) % outline.Count], outline[i], outline[(i + 1) % outline.Count]);
            var turn = (at.X - before.X) * (after.Y - at.Y) - (at.Y - before.Y) * (after.X - at.X);
            return Between(before, at) < 0.001 || Math.Abs(turn) < 1e-6;
        }
        for (var i = 0; outline.Count > 3 && i < outline.Count; )
        {
            if (Needless(i))
            {
                outline.RemoveAt(i);
                i = 0;
            }
            else
            {
                i++;
            }
        }
        return outline;
    }

    /// <summary>Keys for walls that are new.</summary>
    private sealed class FreeKeys(IReadOnlyList<Wall> walls)
    {
        private readonly HashSet<string> _taken = [.. walls.Select(w => w.Key)];

        internal string Next()
        {
            var key = Enumerable.Range(1, int.MaxValue).Select(n => string.Create(CultureInfo.InvariantCulture, $"wall-{n}")).First(k => !_taken.Contains(k));
            _taken.Add(key);
            return key;
        }
    }
}
