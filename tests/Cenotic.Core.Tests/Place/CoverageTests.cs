using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Tests.Place;

/// <summary>What the sensors of a room see together, what they leave, and where they should hang.</summary>
public class CoverageTests
{
    private static Wall[] Walls(double width, double depth) =>
        [
            new("n", new(0, 0), new(width, 0), WallMaterial.Brick),
            new("e", new(width, 0), new(width, depth), WallMaterial.Brick),
            new("s", new(width, depth), new(0, depth), WallMaterial.Brick),
            new("w", new(0, depth), new(0, 0), WallMaterial.Brick),
        ];

    private static Room Box(double width, double depth) => new("room", "Room", [new(0, 0), new(width, 0), new(width, depth), new(0, depth)], []);

    private static SiteDesign Site(Room room, Wall[] walls, params (string Part, Spot Spot)[] hung) =>
        SiteDesign.Empty("Test site") with
        {
            Place = new([room], walls, [.. hung.Select(h => h.Spot)]),
            Nodes = [.. hung.Select((h, i) => Samples.Node(("eye", h.Part)) with { Key = $"n{i}", Label = $"Node {i}", Spot = h.Spot.Key })],
        };

    private static CoveragePlan Plan(SiteDesign site) => PlacePlanner.Plan(site, HardwareCatalogue.BuiltIn).Coverage;

    /// <summary>A round microwave sensor of 6 m in the middle of 4 m by 3 m sees all of it, whatever its spread of range.</summary>
    [Fact]
    public void A_small_room_is_seen_whole()
    {
        var plan = Plan(Site(Box(4, 3), Walls(4, 3), ("rcwl-0516", new("s", "s", "room", 2, 1.5, 2.2, 0))));
        Assert.Equal(100, plan.Rooms.Single().Share.Value!.Value, 0.1);
        var seen = plan.Sights.Single().Sees;
        Assert.Equal((12, 12, 12), (Math.Round(seen.Low!.Value, 2), Math.Round(seen.Value!.Value, 2), Math.Round(seen.High!.Value, 2)));
        Assert.Empty(plan.Rooms.Single().Blind);
        Assert.Equal("", plan.Rooms.Single().BlindAt);
    }

    /// <summary>110 degrees in 13 zones at 6 m: a zone is 8.46 degrees, its chord 2 · 6 · sin 4.23° = 0.885 m. Of the small one they are not known.</summary>
    [Fact]
    public void Who_goes_sideways_by_a_zone_of_the_lens_is_seen_where_the_range_ends()
    {
        var spot = new Spot("s", "s", "room", 0.01, 2, 2.2, 90);
        var step = Plan(Site(Box(10, 4), Walls(10, 4), ("pir-hc-sr501", spot))).Sights.Single().Step!;
        Assert.Equal(0.885, step.Value!.Value, 1e-3);
        Assert.Equal(0.600, step.Low!.Value, 1e-3);
        Assert.Equal(1.220, step.High!.Value, 1e-3);
        Assert.Null(Plan(Site(Box(10, 4), Walls(10, 4), ("pir-am312", spot))).Sights.Single().Step);
    }

    /// <summary>From the middle of the short side of 10 m by 4 m at the height of a body, 5 m by radar: one half of the room bounded by a circle.</summary>
    [Fact]
    public void What_is_left_lies_where_nobody_looks()
    {
        var plan = Plan(Site(Box(10, 4), Walls(10, 4), ("ld2410", new("s", "s", "room", 0.01, 2, 1, 90))));
        // Between the sides at 60 degrees, that is 2 m up and down at 2 / tan 60, and the arc of 5 m.
        static double Under(double y) => 0.5 * (y * Math.Sqrt(25 - y * y) + 25 * Math.Asin(y / 5));
        var seen = 2 * Under(2) - 2 * 2 / Math.Tan(Math.PI / 3);
        Assert.Equal(seen, plan.Sights.Single().Sees.Value!.Value, 0.03);
        Assert.Equal(40 - seen, plan.Rooms.Single().BlindSquareMetres, 0.03);
        Assert.Equal("at the right side", plan.Rooms.Single().BlindAt);
        Assert.True(plan.Sights.Single().Sees.Low < seen && plan.Sights.Single().Sees.High > seen);
    }

    /// <summary>Two that look at each other from both ends of 8 m see together what one of them sees twice, less what both see.</summary>
    [Fact]
    public void What_two_see_both_is_counted_once()
    {
        var room = Box(8, 4);
        var both = Plan(Site(room, Walls(8, 4), ("ld2410", new("a", "a", "room", 0.01, 2, 1, 90)), ("ld2410", new("b", "b", "room", 7.99, 2, 1, 270))));
        var one = both.Sights[0].Sees.Value!.Value;
        var overlap = both.Rooms.Single().Overlaps.Single();
        Assert.Equal(("n0", "n1"), (overlap.FirstNode, overlap.SecondNode));
        Assert.Equal(32 - both.Rooms.Single().BlindSquareMetres, 2 * one - overlap.SquareMetres, 0.1);
    }

    /// <summary>Through a passage it sees on, and no wall is between; through plasterboard radar sees, infrared does not.</summary>
    [Fact]
    public void Other_rooms_are_named_that_it_sees()
    {
        Room[] rooms = [Box(4, 3), new("next", "Next", [new(4, 0), new(8, 0), new(8, 3), new(4, 3)], [])];
        SeenBeyond? Seen(string part, params Opening[] openings) =>
            Plan(
                Site(
                    rooms[0],
                    [new("m", new(4, 0), new(4, 3), WallMaterial.Plasterboard) { Openings = openings }],
                    (part, new("s", "s", "room", 1, 1.5, 1, 90))
                )
                    is var s
                    ? s with
                    {
                        Place = s.Place with { Rooms = rooms },
                    }
                    : s
            )
                .Sights.Single()
                .Beyond.SingleOrDefault();
        Assert.Equal(("next", true), (Seen("ld2410")!.Room, Seen("ld2410")!.ThroughWalls));
        Assert.Null(Seen("pir-hc-sr501"));
        Assert.Equal(("next", false), Seen("pir-hc-sr501", new Opening(OpeningKind.Passage, 1, 1)) is { } p ? (p.Room, p.ThroughWalls) : default);
    }

    /// <summary>Where it should hang is as good as the best of some thousand places, directions and tilts that are tried one by one.</summary>
    [Theory]
    [InlineData(4, 2.6, "pir-hc-sr501")]
    [InlineData(6, 5, "pir-hc-sr501")]
    [InlineData(7, 3, "ld2410")]
    [InlineData(3, 3, "pir-am312")]
    public void The_best_spot_is_as_good_as_any(double width, double depth, string part)
    {
        var spot = new Spot("s", "s", "room", 0.2, depth / 2, 2.2, 90);
        var site = Site(Box(width, depth), Walls(width, depth), (part, spot));
        var choices = PlacePlanner.BestSpots(site, HardwareCatalogue.BuiltIn, "n0");
        Assert.Equal(choices.OrderByDescending(c => c.SharePercent), choices);
        var view = HardwareCatalogue.BuiltIn.Part(part)!.View!;
        var room = Shapes.Inside(site.Place.Rooms[0].Corners);
        double Share(Spot s) => 100 * Shapes.Common(new SeenArea(site.Place, s, view).Within(view.RangeMetres.Likely), room).Area / room.Area;
        Point[] places =
        [
            .. Enumerable.Range(0, 11).Select(i => new Point(0.2 + i * (width - 0.4) / 10, 0.12)),
            .. Enumerable.Range(0, 11).Select(i => new Point(0.12, 0.2 + i * (depth - 0.4) / 10)),
        ];
        var best = places
            .SelectMany(p =>
                Enumerable
                    .Range(0, 24)
                    .SelectMany(f => new[] { 0.0, 20, 40 }.Select(t => Share(spot with { X = p.X, Y = p.Y, FacingDegrees = f * 15, TiltDegrees = t })))
            )
            .Max();
        Assert.True(choices[0].SharePercent >= best - 2, $"{choices[0].SharePercent} of {choices[0].Spot}, where {best} is to be had");
        // What is promised is what is seen when it hangs there, and the runner-up is another place.
        Assert.All(choices, c => Assert.Equal(Share(c.Spot), c.SharePercent, 0.1));
        var moved = choices.Where(c => !c.Stays).ToList();
        Assert.True(moved.Count < 2 || Math.Sqrt(Math.Pow(moved[0].Spot.X - moved[1].Spot.X, 2) + Math.Pow(moved[0].Spot.Y - moved[1].Spot.Y, 2)) >= 1);
    }

    /// <summary>Not in a door or over a window, not beside an access point, not where it looks at a window if another place does as well.</summary>
    [Fact]
    public void The_best_spot_keeps_off_windows_doors_and_antennas()
    {
        var walls = Walls(4, 3);
        walls[1] = walls[1] with { Openings = [new(OpeningKind.Window, 0.5, 2, 0.9, 1.2)] };
        walls[3] = walls[3] with { Openings = [new(OpeningKind.Door, 0.1, 1, 0, 2.1)] };
        var site = Site(Box(4, 3), walls, ("pir-hc-sr501", new("s", "s", "room", 0.2, 1.5, 2, 90)));
        site = site with
        {
            Place = site.Place with
            {
                AccessPoints = [new("ap", "Access point", "corner")],
                Spots = [.. site.Place.Spots, new("corner", "c", "room", 3.8, 0.2, 2, 0)],
            },
        };
        var moved = PlacePlanner.BestSpots(site, HardwareCatalogue.BuiltIn, "n0").Where(c => !c.Stays).ToList();
        Assert.NotEmpty(moved);
        Assert.All(moved, c => Assert.Equal(0, c.Windows));
        Assert.All(moved, c => Assert.True(c.Spot.X < 3.9 || c.Spot.Y is < 0.4 or > 2.6, "over the window"));
        Assert.All(moved, c => Assert.True(Math.Abs(c.Spot.X - 3.8) > 0.3 || Math.Abs(c.Spot.Y - 0.2) > 0.3, "beside the antenna"));
    }

    /// <summary>15 degrees to 4 m: 1.05 m wide. Looking along a wall 0.2 m beside it, its edge meets that at 0.2 / sin 7.5 degrees.</summary>
    [Fact]
    public void A_beam_keeps_clear_of_the_wall_beside_it()
    {
        var site = Site(Box(6, 4), Walls(6, 4), ("hc-sr04", new("s", "s", "room", 0.1, 0.2, 1, 90)));
        var sight = Plan(site).Sights.Single();
        Assert.Equal((false, 1.05), (sight.Watches, Math.Round(sight.Sees.Value!.Value, 2)));
        Assert.Empty(Plan(site).Rooms);
        Finding? Found(SiteDesign s) => PlacePlanner.Plan(s, HardwareCatalogue.BuiltIn).Findings.SingleOrDefault(f => f.Code == "PLACE-BEAM-BESIDE");
        var found = Found(site)!;
        Assert.Contains($"after {0.2 / Math.Sin(7.5 * Math.PI / 180):0.0} m; ahead there are 4.0 m", found.What, StringComparison.Ordinal);
        var moved = EditBatch.Apply(site, found.Remedies.Single().Edits).Value.After;
        Assert.Null(Found(moved));
        Assert.True(moved.Place.Spots[0].Y is > 0.4 and < 0.8);
        // In a shaft of 0.6 m no place is far enough from both walls, and none is offered.
        var shaft = Site(Box(6, 0.6), Walls(6, 0.6), ("hc-sr04", new("s", "s", "room", 0.1, 0.2, 1, 90)));
        Assert.Empty(Found(shaft)!.Remedies);
        Assert.Contains("too narrow", Found(shaft)!.Advice, StringComparison.Ordinal);
        // Into a cistern there is no wall beside it.
        Assert.Null(Found(site with { Place = site.Place with { Spots = [site.Place.Spots[0] with { TiltDegrees = 90 }] } }));
    }

    [Fact]
    public void A_node_that_watches_nothing_has_no_best_spot()
    {
        var site = Site(Box(4, 3), Walls(4, 3), ("bme280", new("s", "s", "room", 2, 1.5, 2.2, 0)));
        Assert.Empty(PlacePlanner.BestSpots(site, HardwareCatalogue.BuiltIn, "n0"));
        Assert.Empty(PlacePlanner.BestSpots(site, HardwareCatalogue.BuiltIn, "nobody"));
        Assert.Empty(Plan(site).Sights);
    }

    /// <summary>Two hundred are looked at and the rest counted; remedies are worked out for few; who waits no longer ends it.</summary>
    [Fact]
    public void A_site_full_of_sensors_takes_a_bounded_time()
    {
        var spot = new Spot("s", "s", "room", 0.2, 1.3, 2, 90);
        var full = Site(Box(4, 2.6), Walls(4, 2.6), ("pir-am312", spot));
        full = full with { Nodes = [full.Nodes[0] with { Parts = [.. Enumerable.Range(0, 100).Select(i => Samples.Part($"eye{i}", "pir-am312"))] }] };
        full = full with { Nodes = [full.Nodes[0], full.Nodes[0] with { Key = "n1" }, full.Nodes[0] with { Key = "n2" }] };
        Assert.Equal((200, 100), (Plan(full).Sights.Count, Plan(full).LeftOut));
        // A wall of two thousand doors is too much for more than a few.
        var doors = Walls(4, 2.6);
        doors[1] = doors[1] with { Openings = [.. Enumerable.Range(0, 2_000).Select(i => new Opening(OpeningKind.Passage, i * 0.001, 0.001))] };
        var many = Plan(full with { Place = full.Place with { Walls = doors } });
        Assert.InRange(many.Sights.Count, 1, 5);
        Assert.Equal(300, many.Sights.Count + many.LeftOut);
        using var nobody = new CancellationTokenSource();
        nobody.Cancel();
        Assert.Throws<OperationCanceledException>(() => PlacePlanner.BestSpots(full, HardwareCatalogue.BuiltIn, "n0", nobody.Token));
    }
}
