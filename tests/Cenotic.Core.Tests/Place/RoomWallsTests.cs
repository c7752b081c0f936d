using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Tests.Place;

/// <summary>Walls from rooms, counted by hand.</summary>
public class RoomWallsTests
{
    private static Room Box(string key, double x, double y, double width, double depth, params RoomTag[] tags) =>
        new(key, key, [new(x, y), new(x + width, y), new(x + width, y + depth), new(x, y + depth)], tags);

    private static double Length(IEnumerable<OpenSide> sides) => sides.Sum(s => Math.Sqrt(Math.Pow(s.To.X - s.From.X, 2) + Math.Pow(s.To.Y - s.From.Y, 2)));

    /// <summary>Four rooms of 4 m by 3 m in a square: 28 m outside in four walls, 14 m between in two.</summary>
    [Fact]
    public void Four_rooms_make_four_walls_outside_and_two_between()
    {
        var place = new PlaceDesign([Box("a", 0, 0, 4, 3), Box("b", 4, 0, 4, 3), Box("c", 0, 3, 4, 3), Box("d", 4, 3, 4, 3)], [], []);
        var sides = RoomWalls.Open(place, null, _ => true);
        Assert.Equal((4, 2), (sides.Count(s => !s.Shared), sides.Count(s => s.Shared)));
        Assert.Equal(28, Length(sides.Where(s => !s.Shared)), 1e-6);
        Assert.Equal(14, Length(sides.Where(s => s.Shared)), 1e-6);
        var walled = EditBatch
            .Apply(SiteDesign.Empty("x") with { Place = place }, RoomWalls.Put(place, null, sides, WallMaterial.Brick, WallMaterial.Timber))
            .Value.After.Place;
        Assert.Equal(6, walled.Walls.Count);
        Assert.Empty(RoomWalls.Open(walled, null, _ => true));
        Assert.All(walled.Rooms, r => Assert.True(RoomWalls.HasWall(walled, r)));
    }

    /// <summary>A short room at a long one shares a part of its side; a slanting room and its neighbour share their slope; a garden has no walls.</summary>
    [Fact]
    public void Sides_are_cut_where_rooms_begin_and_end()
    {
        var place = new PlaceDesign([Box("long", 0, 0, 8, 3), Box("short", 2, 3, 3, 2), Box("garden", 0, 5, 8, 3, RoomTag.Outdoor)], [], []);
        var sides = RoomWalls.Open(place, null, _ => true);
        Assert.Equal(3, Length(sides.Where(s => s.Shared)), 1e-6);
        Assert.Equal(8 + 3 + 3 + 5 + 2 + 2 + 3, Length(sides.Where(s => !s.Shared)), 1e-6);
        Room[] slanting = [new("l", "l", [new(0, 0), new(3, 0), new(1, 4), new(0, 4)], []), new("r", "r", [new(3, 0), new(5, 0), new(5, 4), new(1, 4)], [])];
        Assert.Equal(Math.Sqrt(20), Length(RoomWalls.Open(new(slanting, [], []), null, _ => true).Where(s => s.Shared)), 0.02);
    }

    [Fact]
    public void A_side_with_a_wall_is_left_alone_and_only_what_is_wanted_is_walled()
    {
        var place = new PlaceDesign([Box("a", 0, 0, 4, 3), Box("b", 4, 0, 4, 3)], [new("w", new(0, 0), new(8, 0), WallMaterial.Glass)], []);
        Assert.Equal(3 + 3 + 3 + 8, Length(RoomWalls.Open(place, null, _ => true)), 1e-6);
        Assert.Equal(3 + 4 + 3, Length(RoomWalls.Open(place, null, r => r.Key == "a")), 1e-6);
        Assert.Empty(RoomWalls.Open(place, "up", _ => true));
    }
}
