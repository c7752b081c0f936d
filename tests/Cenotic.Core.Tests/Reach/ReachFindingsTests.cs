using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;
using CsCheck;

namespace Cenotic.Core.Tests.Reach;

/// <summary>Links that do not get through: named, with remedies that hold.</summary>
public class ReachFindingsTests
{
    private static SitePlan Plan(SiteDesign site, Evidence? evidence = null) => SitePlanner.Plan(site, Samples.Catalogue, evidence ?? Evidence.None);

    /// <summary>A house of one room with a node in it, and a garden with another; the hub stands in the house.</summary>
    private static SiteDesign House(
        WallMaterial material,
        double? thickness,
        Point sensor,
        LinkKind link,
        RadioDesign? radio = null,
        bool accessPoint = true,
        string part = "lora-sx1276"
    )
    {
        Room[] rooms =
        [
            new("room", "Room", [new(0, 0), new(8, 0), new(8, 6), new(0, 6)], []),
            new("garden", "Garden", [new(8, 0), new(90, 0), new(90, 6), new(8, 6)], [RoomTag.Outdoor]),
        ];
        Spot[] spots =
        [
            new("post", "Post", "garden", sensor.X, sensor.Y, 1.2, 0),
            new("shelf", "Shelf", "room", 1, 3, 1.5, 0),
            new("desk", "Desk", "room", 1, 1, 1, 0),
        ];
        var far = Samples.Node(("air", "bme280")) with
        {
            Key = "far",
            Label = "Far",
            Link = link,
            Spot = "post",
            Via = link == LinkKind.LongRange ? "hub" : null,
            Readings = [Samples.Every("temp", "air", "temperature", 600_000)],
            Radio = radio,
        };
        return SiteDesign.Empty("Test site") with
        {
            Settings = new("Test site", "Etc/UTC", RadioRegion.Europe868),
            Place = new(rooms, [new("w", new(8, -5), new(8, 11), material, thickness)], spots)
            {
                AccessPoints = accessPoint ? [new("ap", "Access point", "desk")] : [],
            },
            Nodes =
            [
                link == LinkKind.LongRange ? far with { Parts = [.. far.Parts, Samples.Part("radio", part)] } : far,
                Samples.Node(("radio", part)) with
                {
                    Key = "hub",
                    Label = "Hub",
                    Spot = "shelf",
                    Radio = radio,
                },
            ],
        };
    }

    /// <summary>In a metal box behind thick concrete: led out of the box the antenna is heard.</summary>
    [Fact]
    public void An_antenna_in_a_metal_box_is_led_out_of_it()
    {
        var site = House(WallMaterial.Concrete, 0.6, new(40, 3), LinkKind.Wifi);
        site = site with { Nodes = [site.Nodes[0] with { Housing = new(false, true, false, AntennaInMetal: true) }, .. site.Nodes.Skip(1)] };
        var finding = Plan(site).Findings.Single(f => f.Code == "REACH-WEAK" && f.Subject.Node == "far");
        Assert.Contains("metal box of Far", finding.Why);
        var remedy = finding.Remedies.Single(r => r.Label == "Lead the antenna of Far out of the metal box");
        var after = Plan(EditBatch.Apply(site, remedy.Edits).Value.After);
        Assert.DoesNotContain(after.Findings, f => f.Code == "REACH-WEAK");
    }

    /// <summary>With just enough to spare as long as both antennas stand upright: with one of them flat it is weak, and stood upright it is heard.</summary>
    [Fact]
    public void An_antenna_that_lies_flat_is_stood_upright()
    {
        SiteDesign With(double gain, bool? flat)
        {
            var site = House(WallMaterial.Concrete, 0.6, new(60, 3), LinkKind.LongRange, radio: new(PowerDbm: 2, AntennaGainDbi: gain));
            return site with { Nodes = [.. site.Nodes.Select(n => n.Key == "far" ? n with { Radio = n.Radio! with { AntennaFlat = flat } } : n)] };
        }
        bool IsWeak(SiteDesign site) => Plan(site).Findings.Any(f => f.Code == "REACH-WEAK");
        var least = Enumerable.Range(0, 21).Select(i => i - 20.0).First(gain => !IsWeak(With(gain, null)));
        var site = With(least, true);
        var finding = Plan(site).Findings.Single(f => f.Code == "REACH-WEAK");
        Assert.Contains("antenna of Far flat", finding.Why);
        var remedy = finding.Remedies.Single(r => r.Label == "Stand the antenna of Far upright");
        Assert.False(IsWeak(EditBatch.Apply(site, remedy.Edits).Value.After));
    }

    /// <summary>Wi-Fi by hand: 17 dBm, over 40.2 + 20 log10(d) and the wall to −95 dBm.</summary>
    [Fact]
    public void A_node_out_of_reach_of_its_access_point_is_named_and_a_long_range_radio_gets_through()
    {
        var site = House(WallMaterial.Concrete, 1, new(80, 3), LinkKind.Wifi);
        var link = Plan(site).Reach.Links.Single(l => l.Node == "far");
        var metres = Math.Sqrt(79 * 79 + 2 * 2 + 0.2 * 0.2);
        Assert.Equal(metres, link.Distance.Value!.Value, 1e-9);
        var wall = link.Margin.Working.Inputs.Single(i => i.Name.Contains("wall")).Value;
        Assert.Equal(17 + 95 - 40.2 - 20 * Math.Log10(metres) - wall, link.Margin.Value!.Value, 0.05);
        Assert.Equal("Access point", link.ReceiverLabel);
        var finding = Plan(site).Findings.Single(f => f.Code == "REACH-WEAK" && f.Subject.Node == "far");
        var other = finding.Remedies.Single(r => r.Label.StartsWith("Send over a", StringComparison.Ordinal));
        var after = Plan(EditBatch.Apply(site, other.Edits).Value.After);
        Assert.DoesNotContain(after.Findings, f => f.Code == "REACH-WEAK");
        Assert.Equal("Hub", after.Reach.Links.Single(l => l.Node == "far").ReceiverLabel);
    }

    /// <summary>Rates of 802.11n: what is received against 10 dB below the minimum sensitivities of the standard; none where it is too weak.</summary>
    [Theory]
    [InlineData(11, 0.1)]
    [InlineData(40, 0.5)]
    [InlineData(80, 0.8)]
    public void Wifi_shows_the_rate_that_it_settles_on(double x, double thickness)
    {
        var link = Plan(House(WallMaterial.Concrete, thickness, new(x, 3), LinkKind.Wifi)).Reach.Links.Single(l => l.Node == "far");
        var received = link.Rate!.Working.Inputs.Single(i => i.Name == "received").Value;
        (double Rate, double Dbm)[] standard = [(65, -64), (58.5, -65), (52, -66), (39, -70), (26, -74), (19.5, -77), (13, -79), (6.5, -82), (1, -85)];
        Assert.Equal(standard.FirstOrDefault(s => received >= s.Dbm - 10).Rate, link.Rate.Value);
    }

    [Fact]
    public void Wifi_without_an_access_point_on_the_plan_is_told_once_and_each_free_spot_mends_it()
    {
        var site = House(WallMaterial.Brick, null, new(20, 3), LinkKind.Wifi, accessPoint: false);
        var finding = Plan(site).Findings.Single(f => f.Code == "REACH-NO-ACCESS-POINT");
        Assert.StartsWith("2 nodes send over Wi-Fi", finding.What);
        var remedy = Assert.Single(finding.Remedies);
        Assert.DoesNotContain(Plan(EditBatch.Apply(site, remedy.Edits).Value.After).Findings, f => f.Code == "REACH-NO-ACCESS-POINT");
    }

    [Fact]
    public void A_plan_that_everyday_arrivals_contradict_says_so()
    {
        var site = House(WallMaterial.Brick, null, new(20, 3), LinkKind.LongRange);
        Finding? Told(long heard, long sent) =>
            Plan(site, Evidence.None with { Links = [new("far", LinkKind.LongRange, heard, sent)] }).Findings.FirstOrDefault(f => f.Code == "REACH-HEARD-LESS");
        Assert.Contains("810 of 1000 messages came: 81 %", Told(810, 1000)!.What);
        Assert.Null(Told(990, 1000));
        Assert.Null(Told(30, 40));
    }

    /// <summary>Remedies of links on random houses: each, applied, removes its finding and adds no stop.</summary>
    [Fact]
    public void Every_remedy_of_a_link_holds()
    {
        var tried = 0;
        Gen.Select(
                Gen.Enum<WallMaterial>(),
                Gen.Double[0.05, 1.2],
                Gen.Select(Gen.Double[9, 89], Gen.Double[0.5, 5.5]),
                Gen.OneOf(Gen.Const(LinkKind.Wifi), Gen.Const(LinkKind.LongRange)),
                Gen.Int[-38, 0],
                Gen.OneOf(Gen.Const("lora-sx1276"), Gen.Const("cc1101"), Gen.Const("nrf24l01p"), Gen.Const("hc-12"))
            )
            .Sample(
                (material, thickness, at, link, dbm, part) =>
                {
                    var site = House(material, thickness, new(at.Item1, at.Item2), link, new(PowerDbm: dbm, AntennaGainDbi: -20), part: part);
                    var plan = Plan(site);
                    foreach (var finding in plan.Findings.Where(f => f.Code.StartsWith("REACH-", StringComparison.Ordinal)))
                    {
                        foreach (var remedy in finding.Remedies)
                        {
                            Interlocked.Increment(ref tried);
                            var after = Plan(EditBatch.Apply(site, remedy.Edits).Value.After);
                            Assert.DoesNotContain(after.Findings, f => f.Code == finding.Code && f.Subject.Node == finding.Subject.Node);
                            int Stops(SitePlan p) => p.Findings.Count(f => f.Severity == Severity.Stop);
                            Assert.True(Stops(after) <= Stops(plan), $"{finding.Code}: \"{remedy.Label}\"");
                        }
                    }
                },
                iter: 120,
                threads: 2
            );
        Assert.True(tried > 40, $"{tried} remedies");
    }
}
