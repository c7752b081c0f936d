using Cenotic.Core.Design;
using Cenotic.Core.Place;
using CsCheck;

namespace Cenotic.Core.Tests.Place;

/// <summary>Which walls a line meets: by hand, and against another way of telling.</summary>
public class WallCrossingsTests
{
    private static Wall Wall(double x1, double y1, double x2, double y2, WallMaterial material = WallMaterial.Brick, string key = "w") =>
        new(key, new(x1, y1), new(x2, y2), material);

    /// <summary>The walls of one storey that a level line at the height of a breast meets.</summary>
    private static IReadOnlyList<WallCrossing> Met(IReadOnlyList<Wall> walls, Point from, Point to) =>
        WallCrossings.Walls(new([], walls, []), new(from.X, from.Y, 1.2), new(to.X, to.Y, 1.2));

    [Fact]
    public void Walls_are_met_in_order_with_their_distance_and_angle()
    {
        Wall[] walls = [Wall(6, 0, 6, 4, key: "far"), Wall(2, 0, 2, 4, WallMaterial.Glass, "near"), Wall(3, 3, 9, 3, key: "beside")];
        var met = Met(walls, new(0, 1), new(8, 1));
        Assert.Equal(["near", "far"], met.Select(c => c.Wall.Key));
        Assert.Equal([2, 6], met.Select(c => Math.Round(c.AtMetres, 9)));
        Assert.All(met, c => Assert.Equal(0, c.Degrees, 1e-6));
        // A line that rises as much as it goes on meets an upright wall at 45 degrees.
        Assert.Equal(45, Met(walls, new(1, 1), new(3, 3)).Single().Degrees, 1e-6);
    }

    [Fact]
    public void A_corner_is_one_wall_and_what_only_touches_is_none()
    {
        Wall[] corner = [Wall(0, 0, 4, 0), Wall(4, 0, 4, 4)];
        Assert.Single(Met(corner, new(3, 1), new(5, -1)));
        Assert.Equal(2, Met([corner[0], corner[1] with { Material = WallMaterial.Glass }], new(3, 1), new(5, -1)).Count);
        Assert.Empty(Met(corner, new(1, 0), new(3, 0)));
        Assert.Empty(Met(corner, new(2, 0), new(2, 3)));
        Assert.Empty(Met([Wall(1, 1, 1, 1)], new(0, 0), new(2, 2)));
        Assert.Empty(Met(corner, new(2, 2), new(2, 2)));
    }

    /// <summary>A line that rises from 1 m to 5 m over 8 m of plan: at the wall at 2 m it is 2 m high, at the one at 6 m 4 m high.</summary>
    [Fact]
    public void A_wall_is_met_as_high_as_its_storey_reaches()
    {
        var place = new PlaceDesign(
            [],
            [Wall(2, 0, 2, 4, key: "below"), Wall(6, 0, 6, 4, key: "too low"), Wall(6, 0, 6, 4, key: "above") with { Floor = "up" }],
            []
        )
        {
            Floors = [new("up", "Upstairs", 2.7, 2.4, WallMaterial.Timber)],
        };
        var met = WallCrossings.Walls(place, new(0, 1, 1), new(8, 1, 5));
        Assert.Equal(["below", "above"], met.Select(c => c.Wall.Key));
        // The line rises 1 in 2: it meets an upright wall at atan(1/2).
        Assert.All(met, c => Assert.Equal(26.565, c.Degrees, 0.001));
        var floor = Assert.Single(WallCrossings.Floors(place, new(0, 1, 1), new(8, 1, 5)));
        Assert.Equal(("up", 63.435), (floor.Floor.Key, Math.Round(floor.Degrees, 3)));
        Assert.Empty(WallCrossings.Floors(place, new(0, 1, 3), new(8, 1, 5)));
    }

    /// <summary>The same line is at 2.7 m after 3.4 m of plan: a floor is there only where it has rooms.</summary>
    [Theory]
    [InlineData(0, 3.3, false)]
    [InlineData(0, 3.5, true)]
    [InlineData(3.5, 8, false)]
    public void A_floor_is_gone_through_only_below_its_rooms(double left, double right, bool through)
    {
        Room room = new("attic", "Attic", [new(left, 0), new(right, 0), new(right, 4), new(left, 4)], [], "up");
        var place = new PlaceDesign([room], [], []) { Floors = [new("up", "Upstairs", 2.7)] };
        Assert.Equal(through ? 1 : 0, WallCrossings.Floors(place, new(0, 1, 1), new(8, 1, 5)).Count);
    }

    /// <summary>Through an L: into it at 1, out at 3, in again at 6 and out at 8, of a line of 10.</summary>
    [Fact]
    public void The_part_of_a_line_in_an_outline_is_that_between_its_sides()
    {
        Point[] horseshoe = [new(1, 0), new(8, 0), new(8, 5), new(6, 5), new(6, 2), new(3, 2), new(3, 5), new(1, 5)];
        Assert.Equal(0.4, WallCrossings.PartInside(horseshoe, new(0, 4, 1), new(10, 4, 2)), 1e-9);
        Assert.Equal(0.7, WallCrossings.PartInside(horseshoe, new(10, 1, 1), new(0, 1, 1)), 1e-9);
        Assert.Equal(0, WallCrossings.PartInside(horseshoe, new(4, 3, 1), new(5, 4, 1)), 1e-9);
        Assert.Equal(1, WallCrossings.PartInside(horseshoe, new(2, 1, 1), new(7, 1, 1)), 1e-9);
    }

    /// <summary>A door of 0.9 m from 1 m on, a window with its sill at 0.9 m: 1.2 m high, 1 m wide, from 3 m on.</summary>
    [Theory]
    [InlineData(1.5, 1.0, OpeningKind.Door)]
    [InlineData(1.5, 2.2, null)]
    [InlineData(0.5, 1.0, null)]
    [InlineData(1.95, 1.0, null)]
    [InlineData(3.5, 0.5, null)]
    [InlineData(3.5, 1.5, OpeningKind.Window)]
    [InlineData(3.5, 2.2, null)]
    public void A_line_goes_through_a_door_or_window_where_it_meets_one(double y, double z, OpeningKind? through)
    {
        var wall = Wall(2, 0, 2, 5) with { Openings = [new(OpeningKind.Door, 1, 0.9), new(OpeningKind.Window, 3, 1, 0.9, 1.2)] };
        var met = Assert.Single(WallCrossings.Walls(new([], [wall], []), new(0, y, z), new(4, y, z)));
        Assert.Equal(through, met.Opening?.Kind);
    }

    /// <summary>Two lines cross when each has the ends of the other on both its sides: told by areas alone.</summary>
    [Fact]
    public void A_wall_is_met_just_where_each_line_parts_the_ends_of_the_other()
    {
        static double Side((double X, double Y) a, (double X, double Y) b, (double X, double Y) c) => (b.X - a.X) * (c.Y - a.Y) - (b.Y - a.Y) * (c.X - a.X);
        var point = Gen.Select(Gen.Double[0, 10], Gen.Double[0, 10]);
        var (met, missed) = (0, 0);
        Gen.Select(point, point, point, point)
            .Sample(
                (a, b, c, d) =>
                {
                    double[] sides = [Side(a, b, c), Side(a, b, d), Side(c, d, a), Side(c, d, b)];
                    if (sides.Any(s => Math.Abs(s) < 1e-6))
                    {
                        return true;
                    }
                    var crosses = sides[0] * sides[1] < 0 && sides[2] * sides[3] < 0;
                    Interlocked.Increment(ref crosses ? ref met : ref missed);
                    var found = Met([Wall(c.Item1, c.Item2, d.Item1, d.Item2)], new(a.Item1, a.Item2), new(b.Item1, b.Item2));
                    return crosses == found.Count > 0 && found.All(f => f.AtMetres >= 0 && f.Degrees is >= 0 and <= 90);
                },
                iter: 5_000
            );
        Assert.True(met > 500 && missed > 500, $"{met} met, {missed} missed");
    }
}
