using Cenotic.Core.Bench;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Tests.Reach;

/// <summary>Nodes that send text messages by a mobile modem, to the modem of a gateway.</summary>
public class TextMessageTests
{
    private const string Modem = "sim800-modem";
    private const long Hour = 3_600_000;

    private static NodeDesign Sender(long every = Hour, bool switched = false) =>
        Samples.Node(("air", "bme280")) with
        {
            Key = "sender",
            Label = "Sender",
            Link = LinkKind.TextMessage,
            Via = "hub",
            Sleeps = true,
            Power = new(PowerKind.Cells, "cell-18650"),
            Parts = [Samples.Part("air", "bme280"), Samples.Part("modem", Modem) with { SwitchSupply = switched }],
            Readings = [Samples.Every("t", "air", "temperature", every)],
        };

    private static NodeDesign Hub(params string[] parts) =>
        Samples.Node([.. parts.Select(p => (p, p))]) with
        {
            Key = "hub",
            Label = "Hub",
            Link = LinkKind.Cable,
        };

    private static SiteDesign Site(params NodeDesign[] nodes) => SiteDesign.Empty("Test site") with { Nodes = nodes };

    private static SitePlan Plan(SiteDesign site) => SitePlanner.Plan(site, Samples.Catalogue, Evidence.None);

    private static IReadOnlyList<CycleSegment> Wake(NodeDesign node) => Plan(Site(Hub(Modem), node)).Node("sender")!.Rhythm.Wakes.Single().Segments;

    /// <summary>A text takes 2 to 15 s, 5 s likely, by the modem's 240 to 450 mA: 5 s of 345 mA are 479 µAh.</summary>
    [Fact]
    public void A_text_takes_seconds_at_the_current_of_the_modem()
    {
        var send = Wake(Sender()).Single(s => s.Key == "send");
        Assert.Equal("Send a text message", send.Label);
        Assert.Equal((2_000, 5_000, 15_000), (send.Duration.Low, send.Duration.Value, send.Duration.High));
        Assert.DoesNotContain(Wake(Sender()), s => s.Key == "register");
        // Beside it the board is awake as in any other step.
        Assert.Equal(345, send.Current.Value!.Value - Wake(Sender()).Single(s => s.Key == "boot").Current.Value!.Value, 1e-6);
    }

    [Fact]
    public void Without_supply_between_wakes_the_modem_first_joins_its_network()
    {
        var wake = Wake(Sender(switched: true));
        var register = wake.Single(s => s.Key == "register");
        Assert.Equal((3_000, 30_000), (register.Duration.Low, register.Duration.High));
        Assert.True(wake.ToList().IndexOf(register) < wake.ToList().FindIndex(s => s.Key == "send"));
    }

    /// <summary>8 bytes and 4 for each value: 33 values are 140 bytes, one text; 34 are 144, two. Source of the 140: 3GPP TS 23.040.</summary>
    [Theory]
    [InlineData(33, "Send a text message", 5_000)]
    [InlineData(34, "Send 2 text messages", 10_000)]
    public void A_text_holds_140_bytes(int values, string label, double ms)
    {
        var node = Sender();
        var plan = Plan(Site(Hub(Modem), node with { Readings = [node.Readings[0] with { BatchOf = values }] }));
        var send = plan.Node("sender")!.Rhythm.Wakes.SelectMany(w => w.Segments).Single(s => s.Key == "send");
        Assert.Equal((label, ms), (send.Label, send.Duration.Value));
    }

    /// <summary>The mobile network carries it: no radio of the plan, no margin, and no part of the hour that the law counts.</summary>
    [Fact]
    public void It_is_no_radio_of_the_plan()
    {
        var site = Site(Hub(Modem), Sender()) with { Settings = new("Test site", "Etc/UTC", RadioRegion.Europe868) };
        var reach = Plan(site).Reach;
        Assert.Empty(reach.Law);
        Assert.Empty(reach.Links);
        Assert.Empty(reach.Channels);
        Assert.True(site.SpeaksFor("hub", "sender"));
    }

    /// <summary>Each hour 720 in 30 days; three together are 240, the first that are no more than 300.</summary>
    [Fact]
    public void Many_texts_are_told_and_fewer_are_offered()
    {
        var site = Site(Hub(Modem), Sender());
        var many = Plan(site).Findings.Single(f => f.Code == "REACH-TEXTS");
        Assert.Contains(" 720 text messages", many.What, StringComparison.Ordinal);
        Assert.Equal("Send 3 readings together: 240 texts", many.Remedies.Single().Label);
        var after = EditBatch.Apply(site, many.Remedies[0].Edits).Value.After;
        Assert.DoesNotContain(Plan(after).Findings, f => f.Code == "REACH-TEXTS");
        Assert.DoesNotContain(Plan(Site(Hub(Modem), Sender(every: 3 * Hour))).Findings, f => f.Code == "REACH-TEXTS");
    }

    /// <summary>Each second so many that no batch of one text is few enough: as few as can be are offered.</summary>
    [Fact]
    public void Where_no_batch_is_enough_the_one_that_helps_most_is_offered()
    {
        var many = Plan(Site(Hub(Modem), Sender(every: 60_000))).Findings.Single(f => f.Code == "REACH-TEXTS");
        // 43,200 minutes; 33 values fill a text.
        Assert.Equal("Send 33 readings together: 1,309 texts", many.Remedies.Single().Label);
    }

    [Fact]
    public void A_text_that_nobody_takes_is_told_and_who_could_take_it_is_offered()
    {
        var site = Site(Hub("bme280"), Hub(Modem) with { Key = "other", Label = "Other" }, Sender());
        var unheard = Plan(site).Findings.Single(f => f.Code == "REACH-TEXT-UNHEARD");
        Assert.Contains("Hub has no modem", unheard.What, StringComparison.Ordinal);
        Assert.Equal(["Other takes them", "Add a SIM800 type mobile modem (2G) to Hub, which takes them"], unheard.Remedies.Select(r => r.Label));
        Assert.All(unheard.Remedies, r =>
            Assert.DoesNotContain(Plan(EditBatch.Apply(site, r.Edits).Value.After).Findings, f => f.Code == "REACH-TEXT-UNHEARD")
        );
        Assert.Contains(Plan(Site(Hub(Modem), Sender() with { Via = null })).Findings, f => f.Code == "REACH-TEXT-UNHEARD");
        Assert.DoesNotContain(Plan(Site(Hub(Modem), Sender())).Findings, f => f.Code == "REACH-TEXT-UNHEARD");
    }

    [Fact]
    public void A_node_without_a_modem_is_told()
    {
        var site = Site(Hub(Modem), Sender() with { Parts = [Samples.Part("air", "bme280")] });
        Assert.Contains(
            "text messages, and none of its parts does",
            Plan(site).Findings.Single(f => f.Code == "REACH-NO-RADIO").What,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Texts_are_one_of_the_radios_that_are_compared()
    {
        var node = Sender();
        var bench = Plan(Site(Hub(Modem), node)).Node("sender")!.Bench;
        var radios = RhythmComparison.Of(node, bench, Samples.Catalogue, Evidence.None).Radios;
        Assert.Equal(["sim800-modem"], radios.Where(r => r.Today).Select(r => r.Key));
        double Days(string key) => radios.Single(r => r.Key == key).Cells.Single(c => c.IntervalMs == Hour).LifeDays!.Value;
        Assert.True(Days("sim800-modem") < Days("lora-sx1276"));
        Assert.True(Days("sim800-modem") < Days("wifi"));
    }
}
