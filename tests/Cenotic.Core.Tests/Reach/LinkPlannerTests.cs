using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Core.Tests.Reach;

/// <summary>Links through drawn walls, worked out by hand.</summary>
public class LinkPlannerTests
{
    private static readonly SendDesign Acknowledged = new() { Acknowledged = true, MostTries = 3 };

    private static NodeDesign Radio(string key, string? via, string spot, LinkKind link = LinkKind.LongRange, RadioDesign? radio = null) =>
        Samples.Node(("lora", "lora-sx1276")) with
        {
            Key = key,
            Label = key,
            Link = link,
            Via = via,
            Spot = spot,
            Sending = Acknowledged,
            Radio = radio,
        };

    /// <summary>A spot at each end of a line of 5 m, and what stands between.</summary>
    private static PlannedLink Link(IReadOnlyList<Wall> walls, RadioDesign? radio = null, double metres = 5)
    {
        var site = SiteDesign.Empty("Test site") with
        {
            // Far behind, so that it is a place with walls.
            Place = new(
                [],
                [.. walls, new("far", new(99, 0), new(99, 4), WallMaterial.Brick)],
                [new("a", "A", null, 0, 1, 1, 0), new("b", "B", null, metres, 1, 1, 0)]
            ),
            Nodes = [Radio("sensor", "hub", "a", radio: radio), Radio("hub", null, "b", LinkKind.Wifi)],
        };
        return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor");
    }

    private static Wall Across(double x, WallMaterial material) => new($"w{x}", new(x, 0), new(x, 4), material);

    /// <summary>14 dBm at 868.1 MHz over 5 m to SF9 at 125 kHz (−129.53 dBm): 31.22 dB to 1 m and 13.98 dB from there leave 98.33 dB.</summary>
    [Fact]
    public void In_one_room_the_margin_is_power_less_distance_less_sensitivity()
    {
        var link = Link([]);
        Assert.Equal(98.33, link.Margin.Value!.Value, 0.02);
        Assert.Equal(link.Margin.Value, link.Back.Value);
        Assert.Equal(5, link.Distance.Value!.Value, 1e-9);
        Assert.Equal(25, link.Distance.Working.Inputs.Sum(i => i.Value * i.Value), 1e-9);
        Assert.Empty(link.InTheWay);
        Assert.Equal(100, link.Delivered.Value!.Value, 1e-6);
    }

    /// <summary>Half a brick straight through takes 4.84 dB at its thickness, a pane of 6 mm 0.37 dB: ITU-R P.2040-1.</summary>
    [Fact]
    public void Each_wall_takes_its_part_and_is_named()
    {
        var link = Link([Across(2, WallMaterial.Brick), Across(3.5, WallMaterial.Glass)]);
        Assert.Equal(["brick wall at 2.0 m", "glass wall at 3.5 m"], link.InTheWay);
        Assert.Equal(98.33 - 4.84 - 0.37, link.Margin.Value!.Value, 0.35);
        Assert.True(link.Margin.Low < link.Margin.Value && link.Margin.Value < link.Margin.High);
        var working = link.Margin.Working;
        Assert.Equal(link.InTheWay, working.Inputs.Where(i => i.Name.Contains("wall")).Select(i => i.Name));
        double In(string name) => working.Inputs.Single(i => i.Name == name).Value;
        var sum = In("P") + In("G1") + In("G2") - In("L1") - 10 * In("n") * Math.Log10(In("d")) - In("S");
        Assert.Equal(link.Margin.Value.Value, sum - working.Inputs.Where(i => i.Name.Contains("wall")).Sum(i => i.Value), 1e-9);
    }

    /// <summary>The table of docs/rooms/reach.md: 6 m and half a brick, over a module and over Wi-Fi.</summary>
    [Theory]
    [InlineData(LinkKind.LongRange, 91.91)]
    [InlineData(LinkKind.Wifi, 51.38)]
    public void Two_rooms_as_they_are_worked_on_paper(LinkKind link, double margin)
    {
        Room Room(string key, double x) => new(key, key, [new(x, 0), new(x + 4, 0), new(x + 4, 3), new(x, 3)], []);
        var site = SiteDesign.Empty("Test site") with
        {
            Place = new(
                [Room("first", 0), Room("second", 4)],
                [new("between", new(4, 0), new(4, 3), WallMaterial.Brick)],
                [new("a", "A", "first", 1, 1.5, 1, 0), new("b", "B", "second", 7, 1.5, 1, 0)]
            )
            {
                AccessPoints = [new("ap", "Access point", "b")],
            },
            Nodes = [Radio("sensor", link == LinkKind.Wifi ? null : "hub", "a", link), Radio("hub", null, "b", LinkKind.Cable)],
        };
        var planned = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor");
        Assert.Equal(["brick wall at 3.0 m"], planned.InTheWay);
        Assert.Equal(margin, planned.Margin.Value!.Value, 0.35);
    }

    /// <summary>Brick and concrete beside a wet room may be wet: up to 5 dB more, 2 on average. Timber, and a wet room elsewhere, change nothing.</summary>
    [Theory]
    [InlineData(WallMaterial.Brick, 4, true)]
    [InlineData(WallMaterial.Concrete, 4, true)]
    [InlineData(WallMaterial.Brick, 0, true)]
    [InlineData(WallMaterial.Brick, 8, false)]
    [InlineData(WallMaterial.Timber, 4, false)]
    public void A_wall_beside_a_wet_room_may_be_wet(WallMaterial material, double wetFrom, bool takesMore)
    {
        Room Room(double x, bool wet) => new($"r{x}", "Room", [new(x, 0), new(x + 4, 0), new(x + 4, 3), new(x, 3)], wet ? [RoomTag.Wet] : []);
        Figure Margin(bool wet)
        {
            var site = SiteDesign.Empty("Test site") with
            {
                Place = new(
                    [.. new double[] { 0, 4, 8 }.Select(x => Room(x, wet && x == wetFrom))],
                    [new("between", new(4, 0), new(4, 3), material)],
                    [new("a", "A", "r0", 1, 1, 1, 0), new("b", "B", "r4", 7, 2, 1, 0)]
                ),
                Nodes = [Radio("sensor", "hub", "a"), Radio("hub", null, "b", LinkKind.Cable)],
            };
            return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor").Margin;
        }
        var (dry, wet) = (Margin(false), Margin(true));
        Assert.Equal(takesMore ? 2 : 0, dry.Value!.Value - wet.Value!.Value, 1e-9);
        Assert.Equal(takesMore ? 5 : 0, dry.Low!.Value - wet.Low!.Value, 1e-9);
        Assert.Equal(dry.High!.Value, wet.High!.Value, 1e-9);
        Assert.Equal(takesMore, wet.Working.Inputs.Any(i => i.Source.Contains("beside a wet room", StringComparison.Ordinal)));
    }

    /// <summary>A metal box with the antenna inside takes 22 dB there and back, 15 to 30; with the antenna led out nothing.</summary>
    [Fact]
    public void A_metal_box_is_named_at_the_end_that_it_is_round()
    {
        PlannedLink Boxed(bool sensor, bool hub)
        {
            Housing Of(bool inMetal) => new(false, true, false, inMetal);
            var site = SiteDesign.Empty("Test site") with
            {
                Place = new([], [Across(99, WallMaterial.Brick)], [new("a", "A", null, 0, 1, 1, 0), new("b", "B", null, 5, 1, 1, 0)]),
                Nodes = [Radio("sensor", "hub", "a") with { Housing = Of(sensor) }, Radio("hub", null, "b", LinkKind.Wifi) with { Housing = Of(hub) }],
            };
            return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor");
        }
        Assert.Equal(98.33, Boxed(false, false).Margin.Value!.Value, 0.02);
        var one = Boxed(true, false);
        Assert.Equal(["metal box of sensor"], one.InTheWay);
        Assert.Equal(98.33 - 22, one.Margin.Value!.Value, 0.02);
        Assert.Equal(98.33 - 30, one.Margin.Low!.Value, 0.02);
        Assert.Equal(98.33 - 15, one.Margin.High!.Value, 0.02);
        Assert.Equal(one.Margin.Value, one.Back.Value);
        var both = Boxed(true, true);
        Assert.Equal(["metal box of sensor", "metal box of hub"], both.InTheWay);
        Assert.Equal(98.33 - 44, both.Margin.Value!.Value, 0.02);
    }

    /// <summary>One antenna flat and the other upright take 6 dB there and back, 3 to 15; both alike nothing.</summary>
    [Fact]
    public void Antennas_that_lie_otherwise_than_each_other_lose_a_part()
    {
        PlannedLink Lying(bool? sensor, bool? hub)
        {
            RadioDesign? Of(bool? flat) => flat is null ? null : new(AntennaFlat: flat);
            var site = SiteDesign.Empty("Test site") with
            {
                Place = new([], [Across(99, WallMaterial.Brick)], [new("a", "A", null, 0, 1, 1, 0), new("b", "B", null, 5, 1, 1, 0)]),
                Nodes = [Radio("sensor", "hub", "a") with { Radio = Of(sensor) }, Radio("hub", null, "b", LinkKind.Wifi) with { Radio = Of(hub) }],
            };
            return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor");
        }
        Assert.Equal(98.33, Lying(null, null).Margin.Value!.Value, 0.02);
        Assert.Equal(98.33, Lying(true, true).Margin.Value!.Value, 0.02);
        Assert.Equal(98.33, Lying(false, null).Margin.Value!.Value, 0.02);
        foreach (var crossed in new[] { Lying(true, null), Lying(false, true) })
        {
            Assert.Contains("flat, the other upright", Assert.Single(crossed.InTheWay));
            Assert.Equal(98.33 - 6, crossed.Margin.Value!.Value, 0.02);
            Assert.Equal(98.33 - 15, crossed.Margin.Low!.Value, 0.02);
            Assert.Equal(98.33 - 3, crossed.Margin.High!.Value, 0.02);
            Assert.Equal(crossed.Margin.Value, crossed.Back.Value);
        }
    }

    /// <summary>The box is that of the node that is asked about, also where it is tried otherwise, and an access point has none.</summary>
    [Fact]
    public void A_box_is_taken_from_the_node_that_is_asked_about()
    {
        var sensor = Radio("sensor", null, "a", LinkKind.Wifi);
        var boxed = sensor with { Housing = new(false, true, false, AntennaInMetal: true) };
        double MarginOf(NodeDesign stands, NodeDesign asked, string accessPoint)
        {
            var place = new PlaceDesign([], [Across(99, WallMaterial.Brick)], [new("a", "A", null, 0, 1, 1, 0), new("b", "B", null, 5, 1, 1, 0)])
            {
                AccessPoints = [new(accessPoint, "Access point", "b", 6)],
            };
            var site = SiteDesign.Empty("Test site") with { Place = place, Nodes = [stands] };
            return LinkPlanner.Assumption(site, Samples.Catalogue, Evidence.None, asked)!.Margins!.ThereDb;
        }
        var open = MarginOf(sensor, sensor, "ap");
        Assert.Equal(open - 22, MarginOf(boxed, boxed, "ap"), 1e-9);
        Assert.Equal(open - 22, MarginOf(sensor, boxed, "ap"), 1e-9);
        Assert.Equal(open, MarginOf(boxed, sensor, "ap"), 1e-9);
        Assert.Equal(open - 22, MarginOf(boxed, boxed, "sensor"), 1e-9);
    }

    /// <summary>Weissberger's model, published: 10 m of leaves take 4.32 dB at 868 MHz. A line of 20 m at a slant of 3 to 4 over a square of trees, whose sides
    /// it meets at 5 and 15 m.</summary>
    [Theory]
    [InlineData(1, 4.32)]
    [InlineData(7, 0)]
    public void Trees_take_their_part_of_the_way_as_long_as_it_is(double height, double taken)
    {
        Room trees = new("trees", "Orchard", [new(3, 0), new(9, 0), new(9, 20), new(3, 20)], [RoomTag.Outdoor, RoomTag.Trees]);
        Room garden = new("garden", "Garden", [new(0, 0), new(30, 0), new(30, 30), new(0, 30)], [RoomTag.Outdoor]);
        PlannedLink Over(params Room[] rooms)
        {
            var site = SiteDesign.Empty("Test site") with
            {
                Place = new(rooms, [Across(99, WallMaterial.Brick)], [new("a", "A", "garden", 0, 1, height, 0), new("b", "B", "garden", 12, 17, height, 0)]),
                Nodes = [Radio("sensor", "hub", "a"), Radio("hub", null, "b", LinkKind.Wifi)],
            };
            return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor");
        }
        var (open, through) = (Over(garden), Over(garden, trees));
        Assert.Equal(taken, open.Margin.Value!.Value - through.Margin.Value!.Value, 0.02);
        Assert.Equal(taken > 0 ? ["10.0 m of Orchard"] : [], through.InTheWay);
    }

    /// <summary>Two metal walls and −60 dBm of power leave nothing: what gets through falls with the margin, and a band stays a band.</summary>
    [Fact]
    public void A_link_without_margin_delivers_little_and_power_moves_it_by_as_much()
    {
        var weak = Link([Across(1, WallMaterial.Metal), Across(4, WallMaterial.Metal)], new(PowerDbm: -24));
        Assert.Equal(98.33 - 38 - 60, weak.Margin.Value!.Value, 0.02);
        Assert.Equal(weak.Margin.Value.Value + 38, weak.Back.Value!.Value, 1e-9);
        Assert.InRange(weak.Delivered.Value!.Value, 20, 98);
        Assert.True(weak.Delivered.Low < weak.Delivered.Value && weak.Delivered.Value < weak.Delivered.High);
    }

    [Fact]
    public void What_is_not_known_is_named()
    {
        var site = SiteDesign.Empty("Test site") with { Place = new([], [], [new("a", "A", null, 0, 1, 1, 0), new("b", "B", null, 5, 1, 1, 0)]) };
        string Of(params NodeDesign[] nodes) =>
            SitePlanner.Plan(site with { Nodes = nodes }, Samples.Catalogue, Evidence.None).Reach.Links.First().Margin is { Value: null } margin
                ? margin.Working.Formula
                : "known";
        Assert.Contains("who hears sensor", Of(Radio("sensor", null, "a")));
        Assert.Contains("where sensor hangs", Of(Radio("sensor", "hub", "gone"), Radio("hub", null, "b", LinkKind.Wifi)));
        Assert.Contains("where hub hangs", Of(Radio("sensor", "hub", "a"), Radio("hub", null, "gone", LinkKind.Wifi)));
        Assert.Contains("does not listen for radio modules", Of(Radio("sensor", "hub", "a"), Radio("hub", null, "b", LinkKind.Wifi) with { Parts = [] }));
        Assert.Contains("listens on", Of(Radio("sensor", "hub", "a", radio: new(SpreadingFactor: 12)), Radio("hub", null, "b", LinkKind.Wifi)));
    }

    /// <summary>A door in a brick wall takes what its boards take; a floor of timber what timber takes, one that nobody described 18.3 dB: COST 231, 4.7.
    /// </summary>
    [Fact]
    public void Doors_and_floors_on_the_way_are_named_with_what_they_take()
    {
        var door = Link([Across(2, WallMaterial.Brick) with { Openings = [new(OpeningKind.Door, 0.5, 1)] }]);
        Assert.Equal(["door at 2.0 m"], door.InTheWay);
        Assert.Equal(98.33 - 0.58, door.Margin.Value!.Value, 0.35);

        PlannedLink Upstairs(WallMaterial? slab)
        {
            Point[] corners = [new(0, 0), new(8, 0), new(8, 4), new(0, 4)];
            var place = new PlaceDesign(
                [new("attic", "Attic", corners, [], "up"), new("hall", "Hall", corners, [])],
                [Across(9, WallMaterial.Brick)],
                [new("a", "A", "attic", 3, 1, 1, 0), new("b", "B", "hall", 3, 1, 1, 0)]
            )
            {
                Floors = [new("up", "Upstairs", 3, Slab: slab)],
            };
            var site = SiteDesign.Empty("Test site") with { Place = place, Nodes = [Radio("sensor", "hub", "a"), Radio("hub", null, "b", LinkKind.Wifi)] };
            return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor");
        }
        // 3 m straight down: 98.33 dB at 5 m, 4.44 dB more at 3 m.
        Assert.Equal(98.33 + 4.44 - 18.3, Upstairs(null).Margin.Value!.Value, 0.02);
        Assert.Equal(["a floor"], Upstairs(null).InTheWay);
        Assert.Equal(98.33 + 4.44 - 0.58, Upstairs(WallMaterial.Timber).Margin.Value!.Value, 0.1);
        Assert.Equal(["floor of Upstairs"], Upstairs(WallMaterial.Timber).InTheWay);
    }

    /// <summary>Out of a cellar the signal goes through the ground, which nobody draws: 18.3 dB; a ground floor that is drawn counts once, as what it is of.
    /// </summary>
    [Fact]
    public void A_cellar_lies_under_the_ground()
    {
        Point[] corners = [new(0, 0), new(8, 0), new(8, 4), new(0, 4)];
        PlannedLink Out(params Floor[] more)
        {
            var place = new PlaceDesign(
                [new("store", "Store", corners, [], "cellar"), new("hall", "Hall", corners, [])],
                [Across(9, WallMaterial.Brick)],
                [new("a", "A", "store", 3, 1, 1, 0), new("b", "B", "hall", 3, 1, 1, 0)]
            )
            {
                Floors = [new("cellar", "Cellar", -3), .. more],
            };
            var site = SiteDesign.Empty("Test site") with { Place = place, Nodes = [Radio("sensor", "hub", "a"), Radio("hub", null, "b", LinkKind.Wifi)] };
            return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single(l => l.Node == "sensor");
        }
        Assert.Equal(98.33 + 4.44 - 18.3, Out().Margin.Value!.Value, 0.02);
        Assert.Equal(["floor of Ground"], Out(new Floor("ground", "Ground", 0, Slab: WallMaterial.Timber)).InTheWay);
    }

    /// <summary>The cistern of the demo with poor antennas, and a wall of brick more before it: more tries, more charge, fewer months.</summary>
    [Fact]
    public void One_more_wall_costs_months()
    {
        var file = Samples.Fernhollow();
        // Without walks: they would be held against a wall that did not stand when they were made.
        var weak = new RadioDesign(SpreadingFactor: 7, BandwidthKilohertz: 500, PowerDbm: 2, AntennaGainDbi: -20);
        var nodes = file.Design.Nodes.Select(n => n.Key is "cistern" or "gateway" ? n with { Radio = weak } : n);
        var site = file.Design with { Nodes = [.. nodes] };
        var wall = new Wall("more", new(6.5, 4.8), new(9, 4.8), WallMaterial.Brick, 0.24);
        var (before, after) = (Plan(site), Plan(EditBatch.Apply(site, [new PutWall(wall)]).Value.After));
        PlannedLink Of(SitePlan plan) => plan.Reach.Links.Single(l => l.Node == "cistern");
        Assert.Equal(Of(before).InTheWay.Count + 1, Of(after).InTheWay.Count);
        Assert.True(Of(after).Tries.Value > Of(before).Tries.Value + 0.1, $"{Of(before).Tries.Value} to {Of(after).Tries.Value}");
        double Months(SitePlan plan) => plan.Node("cistern")!.Rhythm.Life!.Value!.Value / 30.44;
        Assert.True(Months(after) < Months(before), $"{Months(before)} to {Months(after)} months");
        double OnAir(SitePlan plan) => plan.Reach.Law.Single(l => l.Node == "cistern").OnAir.Value!.Value;
        Assert.Equal(OnAir(before) / Of(before).Tries.Value!.Value, OnAir(after) / Of(after).Tries.Value!.Value, 1e-9);
        // A message takes its time for each try, and its channel is busier: others meet it more often.
        double Usual(SitePlan plan) => plan.Node("cistern")!.Rhythm.Readings.First(r => r.IntervalMs is not null).UsualLateness.Value!.Value;
        Assert.True(Usual(after) > Usual(before), $"{Usual(before)} to {Usual(after)} s");
        ChannelPlan Shared(SitePlan plan) =>
            plan.Reach.Channels.Single(c => c.Slots.Select(s => s.Node).Concat(c.Free.Select(f => f.Node)).Contains("cistern"));
        var more = Of(after).Tries.Value!.Value / Of(before).Tries.Value!.Value;
        Assert.Equal(more, On(Shared(after)) / On(Shared(before)), 1e-9);

        double On(ChannelPlan channel) => channel.Busy.Working.Inputs.Where(i => i.Name.StartsWith("Cistern", StringComparison.Ordinal)).Sum(i => i.Value);
        SitePlan Plan(SiteDesign design) => SitePlanner.Plan(design, Samples.Catalogue, file.Evidence with { Walks = [] });
    }

    /// <summary>All links of the demo get through but one: the corner of the house stands between the rain mast and the radio in the pottery.</summary>
    [Fact]
    public void One_more_relay_rescues_the_rain_mast_of_the_demo()
    {
        var file = Samples.Fernhollow();
        var before = Plan(file.Design);
        Assert.Equal(["hall", "drying", "cistern", "landing", "parcel", "kiln", "rain", "gateway"], before.Reach.Links.Select(l => l.Node));
        Assert.All(before.Reach.Links.Where(l => l.Node != "rain"), l => Assert.True(l.Delivered.Value > 95, $"{l.Node}: {l.Delivered.Value} %"));
        var mast = before.Reach.Links.Single(l => l.Node == "rain");
        Assert.Equal(["brick wall", "brick wall"], mast.InTheWay.Where(w => w.Contains("wall")).Select(w => w[..10]));
        Assert.InRange(mast.Delivered.Value!.Value, 50, 65);

        var remedy = before.Findings.Single(f => f.Code == "REACH-WEAK").Remedies.Single(r => r.Label.StartsWith("One more relay", StringComparison.Ordinal));
        var after = Plan(EditBatch.Apply(file.Design, remedy.Edits).Value.After);
        var way = after.Reach.Relays.Routes.Single(r => r.Node == "rain");
        Assert.Equal(["relay", "glaze"], way.Over.Select(o => o.Node));
        Assert.True(way.Delivered.Value > 99, $"{way.Delivered.Value} %");
        Assert.DoesNotContain(after.Findings, f => f.Severity == Severity.Stop || f.Code == "REACH-WEAK");

        SitePlan Plan(SiteDesign design) => SitePlanner.Plan(design, Samples.Catalogue, file.Evidence);
    }

    /// <summary>A steel box at the gate, behind the brick of the kiln shed and of the house: half of what it sent over Wi-Fi would be lost.</summary>
    [Fact]
    public void The_parcel_box_of_the_demo_fails_by_wifi_and_reaches_by_long_range_radio()
    {
        var file = Samples.Fernhollow();
        var box = file.Design.Node("parcel")!;
        var byWifi = file.Design with { Nodes = [.. file.Design.Nodes.Select(n => n == box ? n with { Link = LinkKind.Wifi, Via = null } : n)] };
        var (now, wifi) = (Plan(file.Design), Plan(byWifi));
        Assert.Equal(LinkVerdict.Good, now.Reach.Links.Single(l => l.Node == "parcel").Verdict);
        var link = wifi.Reach.Links.Single(l => l.Node == "parcel");
        Assert.Contains("metal box of Parcel box", link.InTheWay);
        Assert.InRange(link.Delivered.Value!.Value, 30, 60);
        var finding = wifi.Findings.Single(f => f is { Code: "REACH-WEAK", Subject.Node: "parcel" });
        var radio = finding.Remedies.Single(r => r.Label.StartsWith("Send over a SX1276", StringComparison.Ordinal));
        var after = Plan(EditBatch.Apply(byWifi, radio.Edits).Value.After);
        Assert.DoesNotContain(after.Findings, f => f is { Code: "REACH-WEAK", Subject.Node: "parcel" });

        SitePlan Plan(SiteDesign design) => SitePlanner.Plan(design, Samples.Catalogue, file.Evidence);
    }
}
