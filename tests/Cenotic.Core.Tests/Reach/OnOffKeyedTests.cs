using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Core.Tests.Reach;

/// <summary>Transmitters that are keyed on and off, to a receiver at a gateway: nobody answers.</summary>
public class OnOffKeyedTests
{
    private const string Transmitter = "ook-tx-433",
        Receiver = "ook-rx-433";

    private static NodeDesign Sensor(string part = Transmitter, LinkKind link = LinkKind.OnOffKeyed) =>
        Samples.Node(("air", "bme280"), ("radio", part)) with
        {
            Key = "sensor",
            Label = "Sensor",
            Link = link,
            Via = "hub",
            Spot = "a",
            Sleeps = true,
            Power = new(PowerKind.Cells, "lifepo4-18650"),
            Readings = [Samples.Every("t", "air", "temperature", 600_000)],
        };

    private static NodeDesign Hub(params string[] modules) =>
        Samples.Node([.. modules.Select(m => (m, m))]) with
        {
            Key = "hub",
            Label = "Hub",
            Spot = "b",
            Link = LinkKind.Cable,
        };

    /// <summary>Two nodes in one room, 5 m apart, as far as walls are drawn.</summary>
    private static SiteDesign Site(params NodeDesign[] nodes) =>
        SiteDesign.Empty("Test site") with
        {
            Settings = new("Test site", "Etc/UTC", RadioRegion.Europe868),
            Place = new([], [new("far", new(99, 0), new(99, 4), WallMaterial.Brick)], [new("a", "A", null, 0, 1, 1, 0), new("b", "B", null, 5, 1, 1, 0)]),
            Nodes = nodes,
        };

    private static SitePlan Plan(params NodeDesign[] nodes) => SitePlanner.Plan(Site(nodes), Samples.Catalogue, Evidence.None);

    /// <summary>10 dBm at 433.92 MHz over 5 m to −105 dBm: 25.20 dB to 1 m and 13.98 dB from there (P.525, log-distance with n = 2).</summary>
    [Fact]
    public void The_margin_is_power_less_distance_less_sensitivity_and_nothing_comes_back()
    {
        var link = Plan(Hub(Receiver), Sensor()).Reach.Links.Single(l => l.Node == "sensor");
        Assert.Equal(75.82, link.Margin.Value!.Value, 0.02);
        Assert.Null(link.Back.Value);
        Assert.Equal(100, link.Delivered.Value!.Value, 1e-3);
        Assert.Equal(3, link.Tries.Value!.Value, 1e-6);
        Assert.Equal(LinkVerdict.Good, link.Verdict);
    }

    /// <summary>12 bytes of message and 8 besides at 2 kbit/s are 80 ms, sent three times; 6 an hour are 0.04 % of it, where 10 % are allowed.</summary>
    [Fact]
    public void A_message_is_sent_three_times_and_no_answer_is_waited_for()
    {
        var plan = Plan(Hub(Receiver), Sensor());
        var segments = plan.Node("sensor")!.Rhythm.Wakes.Single().Segments;
        Assert.Equal(240, segments.Single(s => s.Key == "send").Duration.Value!.Value, 1e-6);
        Assert.DoesNotContain(segments, s => s.Key == "listen");
        var budget = Assert.Single(plan.Reach.Law);
        Assert.Equal("sensor", budget.Node);
        Assert.Equal(100 * 6 * 0.24 / 3600, budget.OnAir.Value!.Value, 1e-6);
        Assert.Equal(10, budget.MostOnAir);
    }

    /// <summary>What was to be acknowledged is sent as often as is usual instead: nothing could hear the answer. A number that was said stands.</summary>
    [Fact]
    public void It_waits_for_no_answer_even_where_one_is_asked_for()
    {
        SendDesign Sends(SendDesign said) => Plan(Hub(Receiver), Sensor() with { Sending = said }).Node("sensor")!.Rhythm.Sending;
        Assert.Equal(new(Acknowledged: false, MostTries: 5, Repeats: 3), Sends(new(Acknowledged: true, MostTries: 5)));
        Assert.Equal(new(Acknowledged: false, Repeats: 2), Sends(new(Acknowledged: false, Repeats: 2)));
    }

    [Fact]
    public void A_transmitter_hears_nothing_and_relays_nothing()
    {
        var told = Sensor() with { Relays = true, Sleeps = false, Power = new(PowerKind.Usb) };
        Assert.False(told.Hears);
        var far = Sensor() with { Key = "far", Label = "Far", Spot = null, Via = "sensor" };
        var plan = Plan(Hub(Receiver), told, far);
        Assert.Null(plan.Reach.Links.Single(l => l.Node == "far").Margin.Value);
        Assert.Empty(plan.Reach.Relays.Relays);
        Assert.All(plan.Findings.SelectMany(f => f.Remedies), r => Assert.DoesNotContain("One more relay", r.Label, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(Transmitter)]
    [InlineData("lora-sx1278")]
    public void Only_a_receiver_for_it_hears_it(string module)
    {
        var link = Plan(Hub(module), Sensor()).Reach.Links.Single(l => l.Node == "sensor");
        Assert.Null(link.Margin.Value);
        Assert.Contains("on-off keying", link.Margin.Working.Formula, StringComparison.Ordinal);
    }

    /// <summary>The receiver has no sleep: it draws its 4 to 6 mA whether somebody sends or not, once.</summary>
    [Fact]
    public void The_receiver_costs_the_gateway_no_more_when_somebody_sends()
    {
        double Milliamps(SitePlan plan) => plan.Node("hub")!.Rhythm.Average.Value!.Value;
        Assert.Equal(Milliamps(Plan(Hub(Receiver))), Milliamps(Plan(Hub(Receiver), Sensor())), 1e-9);
        Assert.Equal(5, Milliamps(Plan(Hub(Receiver))) - Milliamps(Plan(Hub())), 0.01);
    }

    /// <summary>A gateway with both hears both, whichever stands first among its parts, and the settings are those of the module that has some.</summary>
    [Theory]
    [InlineData(Receiver, "lora-sx1276")]
    [InlineData("lora-sx1276", Receiver)]
    public void A_receiver_stands_beside_a_module_that_is_set(string first, string second)
    {
        RadioDesign set = new(FrequencyMegahertz: 869.5);
        var lora = Sensor("lora-sx1276", LinkKind.LongRange) with { Key = "lora", Label = "Lora", Radio = set };
        var plan = Plan(Hub(first, second) with { Radio = set }, Sensor(), lora);
        Assert.All(plan.Reach.Links, l => Assert.NotNull(l.Margin.Value));
        Assert.Equal(2, plan.Reach.Links.Count);
    }

    [Fact]
    public void A_gateway_with_a_receiver_offers_its_transmitter_to_others()
    {
        var site = Site(Hub(Receiver), Sensor("lora-sx1276", LinkKind.LongRange));
        var choice = LinkComparison
            .Of(site, Samples.Catalogue, Evidence.None, "sensor", SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Node("sensor")!.Bench)
            .Radios.Single(r => r.Label == "on-off keyed, 433.92 MHz, 2 kbit/s to Hub");
        Assert.Equal(75.82, choice.Link.Margin.Value!.Value, 0.02);
        var after = EditBatch.Apply(site, choice.Edits).Value.After.Node("sensor")!;
        Assert.Equal((LinkKind.OnOffKeyed, "hub"), (after.Link, after.Via));
        Assert.Equal([Transmitter], after.Parts.Where(p => p.Part != "bme280").Select(p => p.Part));
    }

    /// <summary>A receiver does not send, and what does both is no on-off keyed transmitter.</summary>
    [Theory]
    [InlineData(LinkKind.OnOffKeyed, Receiver, Transmitter)]
    [InlineData(LinkKind.OnOffKeyed, "lora-sx1278", Transmitter)]
    [InlineData(LinkKind.LongRange, Transmitter, "cc1101")]
    public void A_node_without_the_module_that_it_sends_by_is_told_and_gets_one(LinkKind link, string has, string gets)
    {
        var site = Site(Hub(Receiver, "cc1101"), Sensor(has, link));
        var stop = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Findings.Single(f => f.Code == "REACH-NO-RADIO");
        Assert.Equal("sensor", stop.Subject.Node);
        var after = EditBatch.Apply(site, stop.Remedies[0].Edits).Value.After;
        Assert.Contains(after.Node("sensor")!.Parts, p => p.Part == gets);
        Assert.DoesNotContain(SitePlanner.Plan(after, Samples.Catalogue, Evidence.None).Findings, f => f.Code == "REACH-NO-RADIO");
    }

    /// <summary>Sent three times with p = 0.5 each, seven of eight arrive: without shadowing it is 1 − (1 − p)³.</summary>
    [Fact]
    public void Copies_count_as_tries_without_an_answer() => Assert.Equal(0.875, LinkBudget.Exchange(1.592, null, 0, 3).Delivered, 1e-3);
}
