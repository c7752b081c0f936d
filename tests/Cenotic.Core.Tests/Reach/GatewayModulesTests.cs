using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Core.Tests.Reach;

/// <summary>A gateway with two radio modules, against two gateways with one each.</summary>
public class GatewayModulesTests
{
    private const string At868 = "lora-sx1276",
        At434 = "lora-sx1278";

    private static NodeDesign Sensor(string key, string module) =>
        Samples.Node(("air", "bme280"), ("radio", module)) with
        {
            Key = key,
            Label = key,
            Link = LinkKind.LongRange,
            Via = "hub",
            Spot = key,
            Sleeps = true,
            Power = new(PowerKind.Cells, "lifepo4-18650"),
            Readings = [Samples.Every("t", "air", "temperature", 600_000)],
            Sending = new(Acknowledged: true),
        };

    private static NodeDesign Hub(params string[] modules) =>
        Samples.Node([.. modules.Select(m => (m, m))]) with
        {
            Key = "hub",
            Label = "Hub",
            Spot = "hub",
            Link = LinkKind.Cable,
            Power = new(PowerKind.Usb),
        };

    private static SitePlan Plan(NodeDesign hub, params NodeDesign[] sensors) =>
        SitePlanner.Plan(
            SiteDesign.Empty("Test site") with
            {
                Settings = new("Test site", "Etc/UTC", RadioRegion.Europe868),
                Place = new([], [], [new("hub", "Hub", null, 0, 0, 1, 0), new("near", "Near", null, 20, 0, 1, 0), new("far", "Far", null, 60, 0, 1, 0)]),
                Nodes = [hub, .. sensors],
            },
            Samples.Catalogue,
            Evidence.None
        );

    private static PlannedLink Link(SitePlan plan, string node) => plan.Reach.Links.Single(l => l.Node == node);

    private static double Milliamps(SitePlan plan) => plan.Node("hub")!.Rhythm.Average.Value!.Value;

    [Theory]
    [InlineData(At868, At434)]
    [InlineData(At434, At868)]
    public void Each_sender_is_heard_by_the_module_of_its_channel(string first, string second)
    {
        var (near, far) = (Sensor("near", At434), Sensor("far", At868));
        var both = Plan(Hub(first, second), near, far);
        foreach (var (sensor, module) in new[] { (near, At434), (far, At868) })
        {
            var alone = Link(Plan(Hub(module), sensor), sensor.Key);
            Assert.NotNull(alone.Margin.Value);
            Assert.Equal(alone.Margin.Value, Link(both, sensor.Key).Margin.Value);
            Assert.Equal(alone.Back.Value, Link(both, sensor.Key).Back.Value);
            Assert.Equal(alone.Delivered.Value, Link(both, sensor.Key).Delivered.Value);
        }
        Assert.DoesNotContain(both.Findings, f => f.Code == "REACH-UNKNOWN");
    }

    [Fact]
    public void A_sender_on_no_channel_of_the_gateway_is_not_heard()
    {
        var link = Link(Plan(Hub(At868, At434), Sensor("near", At868) with { Radio = new(FrequencyMegahertz: 869.5) }), "near");
        Assert.Null(link.Margin.Value);
    }

    /// <summary>The receiver of a module draws 11.5 mA (10.8 to 12 where nothing else is said) as long as somebody sends on its channel, else 0.2 µA.</summary>
    [Fact]
    public void Only_modules_on_whose_channel_somebody_sends_listen()
    {
        var (near, far) = (Sensor("near", At434), Sensor("far", At868));
        var (none, one, two) = (Plan(Hub(At868, At434)), Plan(Hub(At868, At434), far), Plan(Hub(At868, At434), near, far));
        Assert.Equal(11.5, Milliamps(one) - Milliamps(none), 0.05);
        Assert.Equal(11.4, Milliamps(two) - Milliamps(one), 0.05);
        Assert.Equal(Milliamps(one), Milliamps(Plan(Hub(At434, At868), far)), 1e-9);
    }

    /// <summary>Each answer is on the air where its sender is: 6 an hour on either channel, and a limit of its own for each.</summary>
    [Fact]
    public void The_answers_on_each_channel_count_against_its_own_limit()
    {
        var plan = Plan(Hub(At868, At434), Sensor("near", At434), Sensor("far", At868));
        var budgets = plan.Reach.Law.Where(l => l.Node == "hub").ToList();
        Assert.Equal(2, budgets.Select(b => b.Band).Distinct().Count());
        foreach (var (module, sensor) in new[] { (At434, "near"), (At868, "far") })
        {
            var alone = Plan(Hub(module), Sensor(sensor, module)).Reach.Law.Single(l => l.Node == "hub");
            Assert.Equal(alone.OnAir.Value, budgets.Single(b => b.Channel == alone.Channel).OnAir.Value);
        }
    }

    private static NodeDesign With(NodeDesign node, string part, RadioDesign radio) =>
        node with
        {
            Parts = [.. node.Parts.Select(p => p.Part == part || p.Key == part ? p with { Radio = radio } : p)],
        };

    /// <summary>Both ends moved from 434 to 433.5 MHz are heard as before, but for 20 log10(434 / 433.5), a hundredth of a dB; one end alone is not.</summary>
    [Theory]
    [InlineData(At868, At434)]
    [InlineData(At434, At868)]
    public void Each_module_of_a_gateway_is_set_by_itself(string first, string second)
    {
        RadioDesign moved = new(FrequencyMegahertz: 433.5);
        var near = Sensor("near", At434) with { Radio = moved };
        var plan = Plan(With(Hub(first, second), At434, moved), near, Sensor("far", At868));
        Assert.Equal(Link(Plan(Hub(At434), Sensor("near", At434)), "near").Margin.Value!.Value, Link(plan, "near").Margin.Value!.Value, 0.1);
        Assert.NotNull(Link(plan, "far").Margin.Value);
        Assert.Null(Link(Plan(Hub(first, second), near), "near").Margin.Value);
    }

    /// <summary>Settings of a node are for its first module without any of its own; what is a module's antenna is not that of the board's Wi-Fi.</summary>
    [Fact]
    public void The_antenna_of_a_module_is_not_that_of_the_board()
    {
        double Margin(NodeDesign node)
        {
            var site = SiteDesign.Empty("Test site") with
            {
                Place = new([], [], [new("hub", "Hub", null, 0, 0, 1, 0), new("ap", "Ap", null, 20, 0, 1, 0)]) { AccessPoints = [new("ap", "Ap", "ap")] },
                Nodes = [node with { Link = LinkKind.Wifi }],
            };
            return SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Reach.Links.Single().Margin.Value!.Value;
        }
        RadioDesign antenna = new(AntennaGainDbi: 6);
        Assert.Equal(Margin(Hub()) + 6, Margin(Hub() with { Radio = antenna }), 1e-9);
        Assert.Equal(Margin(Hub(At868)), Margin(Hub(At868) with { Radio = antenna }), 1e-9);
        Assert.Equal(Margin(Hub(At868)) + 6, Margin(With(Hub(At868), At868, new(AntennaGainDbi: 2)) with { Radio = antenna }), 1e-9);
    }

    [Fact]
    public void A_remedy_sets_the_module_that_it_is_about()
    {
        var hub = With(Hub(At434, At868), At868, new(PowerDbm: 40));
        var site = SiteDesign.Empty("Test site") with { Nodes = [hub] };
        var told = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Findings.Single(f => f.Code == "REACH-RADIO-POWER");
        var after = EditBatch.Apply(site, told.Remedies[0].Edits).Value.After.Node("hub")!;
        Assert.Null(after.Radio);
        Assert.Equal(20, after.Part(At868)!.Radio!.PowerDbm);
    }

    [Fact]
    public void A_form_shows_each_radio_with_all_that_need_the_same()
    {
        var site = SiteDesign.Empty("Test site") with { Nodes = [Hub(At868, At434), Sensor("near", At434), Sensor("far", At868)] };
        var sheets = RadioSheet.Of(site, Samples.Catalogue, "near");
        Assert.Equal([("near", false), ("hub", true)], sheets.Select(s => (s.Radio.Node, s.Hears)));
        Assert.Equal(new string?[] { null, At434 }, sheets.Select(s => s.Radio.Part));
        Assert.All(sheets, s => Assert.Equal([("hub", At434), ("near", null)], s.Together.Select(t => (t.Node, t.Part))));
        Assert.Equal(new string?[] { null, At434 }, RadioSheet.Of(site, Samples.Catalogue, "hub").Select(s => s.Radio.Part));
        Assert.Throws<ArgumentException>(() => RadioSheet.Of(site, Samples.Catalogue, "nobody"));
        // Frequency and rate of a radio of the board are those of its standard.
        var frames = Sensor("frames", At434) with { Link = LinkKind.Frames, Parts = [] };
        var board = Assert.Single(RadioSheet.Of(site with { Nodes = [frames with { Via = null }] }, Samples.Catalogue, "frames"));
        Assert.False(board.IsTunable);
        Assert.Empty(board.Together);
    }

    [Fact]
    public void A_module_that_is_added_sends_with_no_more_than_the_law_allows()
    {
        // 20 dBm are usual of it; Europe allows 10 dBm e.r.p. at 433 MHz, which are 12.15 dBm e.i.r.p.
        var site = SiteDesign.Empty("Test site") with
        {
            Settings = new("Test site", "Etc/UTC", RadioRegion.Europe868),
            Place = new([], [], [new("hub", "Hub", null, 0, 0, 1, 0), new("near", "Near", null, 20, 0, 1, 0)]),
            Nodes = [With(Hub("hc-12"), "hc-12", new(PowerDbm: 10)), Sensor("near", At868)],
        };
        var bench = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Node("near")!.Bench;
        var radios = LinkComparison.Of(site, Samples.Catalogue, Evidence.None, "near", bench).Radios;
        var choice = radios.Single(r => r.Edits.OfType<PutPart>().Any(e => e.Part.Part == "hc-12"));
        var after = EditBatch.Apply(site, choice.Edits).Value.After;
        Assert.Equal(12, after.Node("near")!.Parts.Single(p => p.Part == "hc-12").Radio!.PowerDbm);
        Assert.DoesNotContain(SitePlanner.Plan(after, Samples.Catalogue, Evidence.None).Findings, f => f.Code == "REACH-LAW-POWER");
    }

    /// <summary>What was the antenna of a module is not that of the board when the module goes; what was the board's stays.</summary>
    [Theory]
    [InlineData(false, null)]
    [InlineData(true, 6.0)]
    public void A_module_that_goes_takes_its_settings_along(bool own, double? stays)
    {
        RadioDesign antenna = new(AntennaGainDbi: 6);
        var sensor = Sensor("near", At868) with { Radio = antenna };
        sensor = own ? With(sensor, "radio", new(PowerDbm: 10)) : sensor;
        var site = SiteDesign.Empty("Test site") with
        {
            Place = new([], [], [new("hub", "Hub", null, 0, 0, 1, 0), new("near", "Near", null, 20, 0, 1, 0)]) { AccessPoints = [new("ap", "Ap", "hub")] },
            Nodes = [Hub(At868), sensor],
        };
        var bench = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Node("near")!.Bench;
        var wifi = LinkComparison.Of(site, Samples.Catalogue, Evidence.None, "near", bench).Radios.Single(r => r.Label == "Wi-Fi to Ap");
        Assert.Equal(stays, EditBatch.Apply(site, wifi.Edits).Value.After.Node("near")!.Radio?.AntennaGainDbi);
    }

    [Fact]
    public void A_plan_that_is_kept_is_made_anew_when_another_module_has_to_listen()
    {
        var memory = new PlanMemory();
        SitePlan Again(NodeDesign sensor) =>
            SitePlanner.Plan(
                SiteDesign.Empty("Test site") with
                {
                    Nodes = [Hub(At868, At434) with { Spot = null }, sensor with { Spot = null }],
                },
                Samples.Catalogue,
                Evidence.None,
                memory: memory
            );
        Again(Sensor("near", At868));
        var after = Again(Sensor("near", At434)).Node("hub")!.Rhythm;
        Assert.Contains(after.Wakes.SelectMany(w => w.Segments), s => s.Current.Working.Inputs.Any(i => i.Name == $"{At434}, listening"));
    }
}
