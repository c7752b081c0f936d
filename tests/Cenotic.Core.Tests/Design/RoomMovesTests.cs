using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Tests.Design;

/// <summary>Sides and corners of rooms that are moved: by hand on small plans, and by looking at many places of random ones.</summary>
public class RoomMovesTests
{
    /// <summary>Kitchen and hall side by side over a corridor, brick outside in long walls, plasterboard between.</summary>
    private static readonly PlaceDesign House = new(
        [Rectangle("kitchen", 0, 0, 4, 3), Rectangle("hall", 4, 0, 8, 3), Rectangle("corridor", 0, 3, 8, 5)],
        [
            new("north", new(0, 0), new(8, 0), WallMaterial.Brick)
            {
                Openings = [new(OpeningKind.Window, 1, 1.2, 0.9, 1.2), new(OpeningKind.Window, 5.5, 1, 0.9, 1.2)],
            },
            new("west", new(0, 0), new(0, 5), WallMaterial.Brick),
            new("east", new(8, 5), new(8, 0), WallMaterial.Brick),
            new("south", new(0, 5), new(8, 5), WallMaterial.Brick),
            new("between", new(4, 0), new(4, 3), WallMaterial.Plasterboard) { Openings = [new(OpeningKind.Door, 1, 0.8)] },
            new("across", new(0, 3), new(8, 3), WallMaterial.Plasterboard) { Openings = [new(OpeningKind.Door, 6, 0.8)] },
        ],
        [new("sill", "Sill", "kitchen", 2, 2.9, 1.2, 0), new("table", "Table", "kitchen", 2, 1.5, 0.8, 0)]
    );

    private static Room Rectangle(string key, double left, double top, double right, double bottom) =>
        new(key, key, [new(left, top), new(right, top), new(right, bottom), new(left, bottom)], []);

    private static SiteDesign Site(PlaceDesign place) => Samples.Fernhollow().Design with { Place = place };

    private static PlaceDesign Moved(PlaceDesign place, PlaceEdit edit) => EditBatch.Apply(Site(place), [edit]).Value.After.Place;

    private static Wall Wall(PlaceDesign place, string key) => place.Walls.Single(w => w.Key == key);

    private static string Ends(Wall wall) => FormattableString.Invariant($"{wall.From.X},{wall.From.Y} {wall.To.X},{wall.To.Y}");

    private static string Outline(PlaceDesign place, string room) =>
        string.Join(" ", place.Rooms.Single(r => r.Key == room).Corners.Select(c => FormattableString.Invariant($"{c.X},{c.Y}")));

    [Fact]
    public void A_wall_between_rooms_moves_with_its_door_and_both_rooms()
    {
        var after = Moved(House, new MoveSide("kitchen", 1, 0.5));
        Assert.Equal("0,0 4.5,0 4.5,3 0,3", Outline(after, "kitchen"));
        Assert.Equal("4.5,0 8,0 8,3 4.5,3", Outline(after, "hall"));
        Assert.Equal("4.5,0 4.5,3", Ends(Wall(after, "between")));
        Assert.Equal(1, Wall(after, "between").Openings.Single().AtMetres);
        Assert.Equal("0,0 8,0", Ends(Wall(after, "north")));
        Assert.Equal(House.Walls.Count, after.Walls.Count);
    }

    [Fact]
    public void A_side_that_is_longer_beyond_is_cut_and_a_step_is_put_in()
    {
        var after = Moved(House, new MoveSide("kitchen", 2, 0.5));
        Assert.Equal("0,0 4,0 4,3.5 0,3.5", Outline(after, "kitchen"));
        Assert.Equal("0,3.5 4,3.5 4,3 8,3 8,5 0,5", Outline(after, "corridor"));
        Assert.Equal("4,0 8,0 8,3 4,3", Outline(after, "hall"));
        // The wall across is cut at the hall: the door stays in the part that stays; the wall between grows to meet the moved part.
        Assert.Equal(["0,3.5 4,3.5", "4,3 8,3"], after.Walls.Where(w => w.Material == WallMaterial.Plasterboard && w.From.Y == w.To.Y).Select(Ends).Order());
        Assert.Equal(2, after.Walls.Single(w => Ends(w) == "4,3 8,3").Openings.Single().AtMetres);
        Assert.Equal("4,0 4,3.5", Ends(Wall(after, "between")));
        Assert.Equal("0,0 0,5", Ends(Wall(after, "west")));
        // What hangs on the wall goes with it; what stands in the room does not.
        Assert.Equal((3.4, 1.5), (after.Spots[0].Y, after.Spots[1].Y));
    }

    [Fact]
    public void An_outer_side_takes_its_part_of_a_long_wall_and_leaves_the_other_room()
    {
        var after = Moved(House, new MoveSide("kitchen", 0, 1));
        Assert.Equal("0,-1 4,-1 4,3 0,3", Outline(after, "kitchen"));
        Assert.Equal("4,0 8,0 8,3 4,3", Outline(after, "hall"));
        var north = after.Walls.Where(w => w.Material == WallMaterial.Brick && w.From.Y == w.To.Y && w.From.Y < 1).OrderBy(w => w.From.X).ToList();
        Assert.Equal(["0,-1 4,-1", "4,0 8,0"], north.Select(Ends));
        Assert.Equal([1, 1.5], north.Select(w => w.Openings.Single().AtMetres));
        Assert.Equal("4,-1 4,3", Ends(Wall(after, "between")));
        // Its door is where it was, a metre further from where the wall begins now.
        Assert.Equal(2, Wall(after, "between").Openings.Single().AtMetres);
        Assert.Equal("0,-1 0,5", Ends(Wall(after, "west")));
    }

    [Fact]
    public void An_outer_side_moved_in_leaves_the_wall_that_the_room_beside_has_there()
    {
        var after = Moved(House, new MoveSide("kitchen", 0, -1));
        Assert.Equal("4,0 4,3", Ends(Wall(after, "between")));
        Assert.Equal("0,1 0,5", Ends(Wall(after, "west")));
    }

    [Fact]
    public void A_corner_takes_along_what_meets_there()
    {
        var after = Moved(House, new MoveCorner("hall", 3, new(4.4, 3.2)));
        Assert.Equal("0,0 4,0 4.4,3.2 0,3", Outline(after, "kitchen"));
        Assert.Equal("4,0 4.4,3.2", Ends(Wall(after, "between")));
        Assert.Equal("0,3 8,3 8,5 0,5", Outline(after, "corridor"));
    }

    [Fact]
    public void A_side_slides_along_slanted_neighbours()
    {
        var roof = new PlaceDesign([new("attic", "Attic", [new(2, 0), new(4, 0), new(6, 2), new(0, 2)], [])], [], []);
        Assert.Equal("1,1 5,1 6,2 0,2", Outline(Moved(roof, new MoveSide("attic", 0, -1)), "attic"));
    }

    [Theory]
    [InlineData(0, -3, "That leaves nothing of kitchen.")]
    [InlineData(0, -4, "That leaves nothing of kitchen.")]
    [InlineData(2, 2.5, "corridor: Its outline crosses itself")]
    [InlineData(4, 1, "kitchen has 4 sides and corners")]
    [InlineData(-1, 1, "kitchen has 4 sides and corners")]
    [InlineData(0, double.NaN, "The distance is")]
    [InlineData(0, 1e9, "The distance is")]
    public void What_cannot_be_is_refused_and_says_whose_it_is(int side, double metres, string says)
    {
        var refused = EditBatch.Apply(Site(House), [new MoveSide("kitchen", side, metres)]);
        Assert.Contains(says, string.Join(" ", refused.Reasons));
    }

    [Fact]
    public void A_door_that_no_longer_fits_is_named_with_its_wall()
    {
        var door = new Wall("west", new(0, 5), new(0, 3), WallMaterial.Timber) { Openings = [new(OpeningKind.Door, 0.7, 0.9)] };
        var refused = EditBatch.Apply(Site(new([Rectangle("shed", 0, 3, 4, 5)], [door], [])), [new MoveSide("shed", 0, -1)]);
        Assert.Equal(["The wall from 0, 5 to 0, 4 m: It goes from 0.7 to 1.6 m of a wall that is 1 m long."], refused.Reasons);
    }

    /// <summary>Rooms never come to lie over each other, nothing between them is left free, each has a wall wherever it ends and none within, and undo is
    /// exact.</summary>
    [Fact]
    public void Random_houses_stay_whole()
    {
        var carried = 0;
        for (var seed = 0; seed < 300; seed++)
        {
            var random = new Random(seed);
            var before = Random(random);
            var room = before.Rooms[random.Next(before.Rooms.Count)];
            var side = random.Next(room.Corners.Count);
            var metres = Math.Round((random.NextDouble() * 2 - 1) * 1.1, 1);
            var applied = EditBatch.Apply(Site(before), [new MoveSide(room.Key, side, metres)]);
            if (metres == 0 || !applied.TryGet(out var done))
            {
                continue;
            }
            carried++;
            var after = done.After.Place;
            var outer = new[] { (0, 0.0), (1, Wide), (2, Deep), (3, 0.0) }.Any(e =>
                e.Item1 == side && (side % 2 == 0 ? room.Corners[side].Y : room.Corners[side].X) == e.Item2
            );
            Looked(after, outer, $"{seed}: {room.Key} side {side} by {metres}");
            Assert.Equal(Json(before), Json(EditBatch.Apply(done.After, done.Inverse).Value.After.Place));
        }
        Assert.InRange(carried, 200, 300);
    }

    private const double Wide = 9,
        Deep = 7,
        Step = 0.19;

    private static string Json(PlaceDesign place) => JsonSerializer.Serialize(place, CenoticJson.Options);

    private static PlaceDesign Random(Random random)
    {
        List<(double Left, double Top, double Right, double Bottom)> parts = [(0, 0, Wide, Deep)];
        for (var cut = 0; cut < 6; cut++)
        {
            var p = parts[random.Next(parts.Count)];
            var upright = random.Next(2) == 0;
            var (low, high) = upright ? (p.Left, p.Right) : (p.Top, p.Bottom);
            if (high - low < 3)
            {
                continue;
            }
            var at = Math.Round(low + 1.4 + random.NextDouble() * (high - low - 2.8), 1);
            parts.Remove(p);
            parts.AddRange(
                upright ? [(p.Left, p.Top, at, p.Bottom), (at, p.Top, p.Right, p.Bottom)] : [(p.Left, p.Top, p.Right, at), (p.Left, at, p.Right, p.Bottom)]
            );
        }
        var bare = new PlaceDesign([.. parts.Select((p, i) => Rectangle($"room-{i}", p.Left, p.Top, p.Right, p.Bottom))], [], []);
        var walls = RoomWalls.Put(bare, null, RoomWalls.Open(bare, null, _ => true), WallMaterial.Brick, WallMaterial.Plasterboard);
        return bare with { Walls = [.. walls.Cast<PutWall>().Select(w => w.Wall)] };
    }

    /// <summary>Looks at a raster over the house and round it, whose points lie on no wall.</summary>
    private static void Looked(PlaceDesign place, bool outer, string about)
    {
        string? In(double x, double y)
        {
            var rooms = place.Rooms.Where(r => PlacePlanner.Contains(r.Corners, new(x, y))).ToList();
            Assert.True(rooms.Count < 2, $"{about}: two rooms at {x}, {y}");
            var inside = x > 0 && y > 0 && x < Wide && y < Deep;
            Assert.True(outer || rooms.Count == (inside ? 1 : 0), $"{about}: {rooms.Count} rooms at {x}, {y}");
            return rooms.FirstOrDefault()?.Key;
        }
        for (var x = -1.913; x < Wide + 2; x += Step)
        {
            for (var y = -1.917; y < Deep + 2; y += Step)
            {
                var here = In(x, y);
                Between(place, (x, y, here), (x + Step, y, In(x + Step, y)), about);
                Between(place, (x, y, here), (x, y + Step, In(x, y + Step)), about);
            }
        }
    }

    private static void Between(PlaceDesign place, (double X, double Y, string? Room) a, (double X, double Y, string? Room) b, string about)
    {
        var walls = place.Walls.Count(w => Crosses(w, a.X, a.Y, b.X, b.Y));
        Assert.True(a.Room == b.Room ? walls is 0 or 2 : walls == 1, $"{about}: {walls} walls from {a} to {b}");
    }

    private static bool Crosses(Wall wall, double x, double y, double toX, double toY)
    {
        static double Turn(double ax, double ay, double bx, double by, double cx, double cy) => (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
        return Turn(x, y, toX, toY, wall.From.X, wall.From.Y) * Turn(x, y, toX, toY, wall.To.X, wall.To.Y) < 0
            && Turn(wall.From.X, wall.From.Y, wall.To.X, wall.To.Y, x, y) * Turn(wall.From.X, wall.From.Y, wall.To.X, wall.To.Y, toX, toY) < 0;
    }
}
