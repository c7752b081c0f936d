using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Tests.Place;

/// <summary>What a sensor sees against areas of plane geometry, and against rays of another make from thousands of places back to the sensor.</summary>
public class SeenAreaTests
{
    private const double Body = 1;

    private static FieldOfView View(SeesBy by, double horizontal, double vertical, double range, double light = 0, double glass = 0, double brick = 0) =>
        new(by, horizontal, vertical, Fact.Of(range, "made up for this test"), light, glass, brick);

    private static PlaceDesign Of(params Wall[] walls) => new([], walls, []);

    private static double Area(PlaceDesign place, FieldOfView view, double x = 0, double y = 0, double height = Body, double facing = 90, double tilt = 0) =>
        new SeenArea(place, new("s", "s", null, x, y, height, facing, tilt), view).Within(view.RangeMetres.Likely).Area;

    /// <summary>Part of a disc beyond a chord at a distance from its middle.</summary>
    private static double Segment(double radius, double metres) =>
        radius * radius * Math.Acos(metres / radius) - metres * Math.Sqrt(radius * radius - metres * metres);

    private static Wall Upright(double x, WallMaterial material, params Opening[] openings) =>
        new("w", new(x, -20), new(x, 20), material) { Openings = openings };

    [Theory]
    [InlineData(60)]
    [InlineData(90)]
    [InlineData(110)]
    [InlineData(160)]
    public void In_an_empty_room_it_is_a_sector(double degrees)
    {
        var sector = Math.PI * 25 * degrees / 360;
        foreach (var facing in new[] { 0.0, 33, 90, 201.5, 359 })
        {
            Assert.Equal(sector, Area(Of(), View(SeesBy.Infrared, degrees, 160, 5), facing: facing), sector * 0.002);
        }
    }

    /// <summary>A hedge from 2 to 3 m ahead, wider than anything that is seen: an infrared sensor sees as if a wall stood at its edge, one by microwaves as if
    /// nothing stood there. On another floor it hides nothing.</summary>
    [Fact]
    public void Leaves_hide_warmth_and_let_microwaves_through()
    {
        Room Hedge(string? floor) =>
            new("hedge", "Hedge", [new(2, -20), new(3, -20), new(3, 20), new(2, 20)], [RoomTag.Outdoor, RoomTag.Trees]) { Floor = floor };
        var infrared = View(SeesBy.Infrared, 120, 160, 6);
        var microwave = View(SeesBy.Microwave, 360, 360, 6, light: 1, glass: 1, brick: 0.5);
        var grown = Of() with { Rooms = [Hedge(null)] };
        Assert.Equal(Area(Of(Upright(2, WallMaterial.Brick)), infrared), Area(grown, infrared), 1e-6);
        Assert.Equal(4 * Math.Tan(Math.PI / 3), Area(grown, View(SeesBy.Infrared, 120, 160, 3.99)), 0.02);
        Assert.Equal(Math.PI * 36, Area(grown, microwave), 0.2);
        var above = Of() with { Rooms = [Hedge("up")], Floors = [new("up", "Upstairs", 2.7)] };
        Assert.Equal(Area(Of(), infrared), Area(above, infrared), 1e-6);
    }

    /// <summary>A wall 2 m ahead cuts a sector of 120 degrees and 3 m: a triangle up to the wall, and what is left of the sector beside it.</summary>
    [Fact]
    public void A_wall_cuts_a_sector()
    {
        var half = Math.Acos(2 / 3.0);
        var seen = 4 * Math.Tan(half) + 9 * (Math.PI / 3 - half);
        Assert.Equal(seen, Area(Of(Upright(2, WallMaterial.Brick)), View(SeesBy.Infrared, 120, 160, 3)), seen * 0.002);
    }

    /// <summary>Round, 6 m: through plasterboard a whole disc; through brick half the range is left; through two bricks a quarter, which ends at the
    /// second.</summary>
    [Fact]
    public void A_circle_goes_on_behind_light_walls_and_shrinks_behind_brick()
    {
        var round = View(SeesBy.Microwave, 360, 360, 6, light: 1, glass: 1, brick: 0.5);
        Assert.Equal(Math.PI * 36, Area(Of(Upright(2, WallMaterial.Plasterboard)), round), 0.2);
        var behind = Segment(3, 2);
        Assert.Equal(Math.PI * 36 - Segment(6, 2) + behind, Area(Of(Upright(2, WallMaterial.Brick)), round), 0.2);
        Assert.Equal(
            Math.PI * 36 - Segment(6, 2) + behind - Segment(3, 2.5),
            Area(Of(Upright(2, WallMaterial.Brick), Upright(2.5, WallMaterial.Brick)), round),
            0.2
        );
        Assert.Equal(Math.PI * 36 - Segment(6, 2), Area(Of(Upright(2, WallMaterial.Metal)), round), 0.2);
    }

    /// <summary>From a ceiling at 3 m straight down, 60 degrees both ways: a square 2 tan 30 to each side of it on the height of a body.</summary>
    [Fact]
    public void From_the_ceiling_it_is_a_square()
    {
        var side = 2 * 2 * Math.Tan(Math.PI / 6);
        Assert.Equal(side * side, Area(Of(), View(SeesBy.Infrared, 60, 60, 5), height: 3, tilt: 90), 0.005);
        // Its range is along the slope: 2 m from 3 m up ends in a point, 2.1 m in a small disc.
        Assert.Equal(Math.PI * (2.1 * 2.1 - 4), Area(Of(), View(SeesBy.Infrared, 160, 160, 2.1), height: 3, tilt: 90), 0.005);
        Assert.Equal(0, Area(Of(), View(SeesBy.Infrared, 160, 160, 1.9), height: 3, tilt: 90));
    }

    /// <summary>Level at 2.2 m with 100 degrees from top to bottom: who stands nearer than 1.2 / tan 50 is under it; tilted, nobody is.</summary>
    [Fact]
    public void Under_a_level_sensor_nobody_is_seen()
    {
        var view = View(SeesBy.Infrared, 90, 100, 6);
        var foot = 1.2 / Math.Tan(50 * Math.PI / 180);
        var radius = Math.Sqrt(36 - 1.2 * 1.2);
        // Between the sides, which meet the height of a body 45 degrees from straight ahead.
        var seen = Math.PI * radius * radius / 4 - foot * foot;
        Assert.Equal(seen, Area(Of(), view, height: 2.2), seen * 0.002);
        Assert.True(Area(Of(), view, height: 2.2, tilt: 40) > seen);
    }

    [Fact]
    public void A_passage_lets_it_see_on_a_door_and_a_window_do_not()
    {
        var view = View(SeesBy.Infrared, 90, 160, 6);
        double Through(OpeningKind kind, FieldOfView v, double sill = 0) => Area(Of(Upright(2, WallMaterial.Brick, new Opening(kind, 19.5, 1, sill))), v);
        var wall = Area(Of(Upright(2, WallMaterial.Brick)), view);
        // 1 m wide, 2 m away: a sector of 2 atan 1/4, without the triangle before the wall.
        var strip = 36 * Math.Atan(0.25) - 2 * 0.5;
        Assert.Equal(wall + strip, Through(OpeningKind.Passage, view), 0.02);
        Assert.Equal(wall, Through(OpeningKind.Door, view), 0.001);
        Assert.Equal(wall, Through(OpeningKind.Window, view), 0.001);
        Assert.Equal(wall + strip, Through(OpeningKind.Door, View(SeesBy.Radar, 90, 160, 6, light: 1)), 0.02);
        Assert.Equal(wall, Through(OpeningKind.CoatedWindow, View(SeesBy.Microwave, 90, 160, 6, glass: 1)), 0.001);
        // A hatch above the head is a wall to it.
        Assert.Equal(wall, Through(OpeningKind.Passage, view, sill: 1.5), 0.001);
    }

    /// <summary>
    /// Random walls, doors, windows, heights, tilts: places on a fine grid look back to the sensor, by angles taken apart in azimuth and elevation after a
    /// turn of the axes, and by sides of segments. What they count is what is seen.
    /// </summary>
    [Fact]
    public void It_is_what_places_see_that_look_back()
    {
        var random = new Random(20);
        for (var site = 0; site < 60; site++)
        {
            double Between(double low, double high) => low + random.NextDouble() * (high - low);
            Wall One(int i)
            {
                var from = new Point(Between(-6, 6), Between(-6, 6));
                var wall = new Wall($"w{i}", from, new(from.X + Between(-5, 5), from.Y + Between(-5, 5)), (WallMaterial)random.Next(6));
                return wall.LengthMetres < 1.2 ? wall : wall with { Openings = [new((OpeningKind)random.Next(4), Between(0, wall.LengthMetres - 1), 1)] };
            }
            var walls = Enumerable.Range(0, random.Next(1, 9)).Select(One).ToArray();
            var round = random.Next(4) == 0;
            var view = View(
                SeesBy.Radar,
                round ? 360 : Between(20, 160),
                round ? 360 : Between(20, 160),
                Between(2, 6),
                random.Next(2),
                random.Next(2),
                Between(0, 1) * random.Next(2)
            );
            var spot = new Spot("s", "s", null, Between(-1, 1), Between(-1, 1), Between(0.3, 3), Between(0, 360), random.Next(3) * Between(0, 45));
            var seen = new SeenArea(Of(walls), spot, view).Within(view.RangeMetres.Likely).Area;
            const double step = 0.04;
            var counted = 0;
            for (var x = spot.X - 7; x < spot.X + 7; x += step)
            {
                for (var y = spot.Y - 7; y < spot.Y + 7; y += step)
                {
                    counted += LooksBack(walls, spot, view, x, y) ? 1 : 0;
                }
            }
            var area = counted * step * step;
            Assert.True(Math.Abs(area - seen) <= 0.02 * area + 0.06, $"site {site}: {seen} against {area}, {view}, {spot}");
        }
    }

    private static bool LooksBack(Wall[] walls, Spot spot, FieldOfView view, double x, double y)
    {
        var (dx, dy, dz) = (x - spot.X, y - spot.Y, Body - spot.HeightMetres);
        // Turned so that the sensor looks along the first axis, and then tilted up to the level.
        var (f, t) = ((spot.FacingDegrees - 90) * Math.PI / 180, spot.TiltDegrees * Math.PI / 180);
        var (ahead, right) = (dx * Math.Cos(f) + dy * Math.Sin(f), -dx * Math.Sin(f) + dy * Math.Cos(f));
        var (forward, up) = (ahead * Math.Cos(t) - dz * Math.Sin(t), ahead * Math.Sin(t) + dz * Math.Cos(t));
        bool Within(double side, double degrees) => degrees >= 360 || Math.Abs(Math.Atan2(side, forward)) * 180 / Math.PI <= degrees / 2;
        if (!Within(right, view.HorizontalDegrees) || !Within(up, view.VerticalDegrees))
        {
            return false;
        }
        var left = view.RangeMetres.Likely;
        var met = walls.Where(w => Sides(w, spot, x, y)).Select(w => Behind(w, spot, view, x, y));
        return Math.Sqrt(dx * dx + dy * dy + dz * dz) <= met.Aggregate(left, (l, m) => l * m);
    }

    private static bool Sides(Wall w, Spot s, double x, double y)
    {
        static double Turn(double ax, double ay, double bx, double by, double cx, double cy) => (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
        return Turn(s.X, s.Y, x, y, w.From.X, w.From.Y) * Turn(s.X, s.Y, x, y, w.To.X, w.To.Y) < 0
            && Turn(w.From.X, w.From.Y, w.To.X, w.To.Y, s.X, s.Y) * Turn(w.From.X, w.From.Y, w.To.X, w.To.Y, x, y) < 0;
    }

    private static double Behind(Wall wall, Spot s, FieldOfView view, double x, double y)
    {
        double OnSegment(double part)
        {
            var (px, py) = (wall.From.X + part * (wall.To.X - wall.From.X), wall.From.Y + part * (wall.To.Y - wall.From.Y));
            return (x - s.X) * (py - s.Y) - (y - s.Y) * (px - s.X);
        }
        // Where the two lines meet, by halving.
        var (low, high) = (0.0, 1.0);
        for (var i = 0; i < 40; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = OnSegment(low) * OnSegment(middle) <= 0 ? (low, middle) : (middle, high);
        }
        var along = low * wall.LengthMetres;
        var opening = wall.Openings.FirstOrDefault(o => along > o.AtMetres && along < o.AtMetres + o.WidthMetres)?.Kind;
        return (opening, wall.Material) switch
        {
            (OpeningKind.Passage, _) => 1,
            (OpeningKind.Door, _) or (null, WallMaterial.Plasterboard or WallMaterial.Timber) => view.ThroughLight,
            (OpeningKind.Window, _) or (null, WallMaterial.Glass) => view.ThroughGlass,
            (null, WallMaterial.Brick) => view.ThroughBrick,
            _ => 0,
        };
    }
}
