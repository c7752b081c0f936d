using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Core.Tests.Reach;

/// <summary>What relays bring, and what they cost.</summary>
public class RelayPlanTests
{
    private static SitePlan Plan(SiteDesign site) => SitePlanner.Plan(site, Samples.Catalogue, Evidence.None);

    private static NodeDesign Sensor(string key, string? via) =>
        Samples.Node(("air", "bme280"), ("radio", "lora-sx1276")) with
        {
            Key = key,
            Label = key,
            Board = Samples.Rp2040,
            Link = LinkKind.LongRange,
            Via = via,
            Spot = key,
            Sleeps = true,
            Power = new(PowerKind.Cells, "lifepo4-18650"),
            Readings = [Samples.Every("t", "air", "temperature", 600_000)],
            Radio = new(PowerDbm: -40),
        };

    /// <summary>Nodes in a row over open ground whose walls are not drawn: at −40 dBm the margin is 58.3 dB less 30 log10 of the metres.</summary>
    private static SiteDesign Row(params (NodeDesign Node, double X)[] nodes) =>
        SiteDesign.Empty("Test site") with
        {
            Settings = new("Test site", "Etc/UTC", RadioRegion.Europe868),
            Place = new([], [], [.. nodes.Select(n => new Spot(n.Node.Key, n.Node.Label, null, n.X, 0, 1, 0))]),
            Nodes = [.. nodes.Select(n => n.Node)],
        };

    private static NodeDesign Hub => Sensor("hub", null) with { Link = LinkKind.Cable, Sleeps = false, Power = new(PowerKind.Usb), Board = Samples.Esp32 };

    private static NodeDesign OnUsb(string key, string via) => Sensor(key, via) with { Sleeps = false, Power = new(PowerKind.Usb) };

    private static Finding? Found(SitePlan plan, string code, string node) => plan.Findings.FirstOrDefault(f => f.Code == code && f.Subject.Node == node);

    [Fact]
    public void A_link_that_is_too_weak_is_mended_by_one_more_relay_half_way()
    {
        var site = Row((Sensor("mast", "hub"), 0), (Hub, 70));
        site = site with { Place = site.Place with { Spots = [.. site.Place.Spots, new("shed", "Shed", null, 35, 0, 2, 0)] } };
        var weak = Found(Plan(site), "REACH-WEAK", "mast")!;
        var remedy = weak.Remedies.Single(r => r.Label.StartsWith("One more relay at Shed", StringComparison.Ordinal));
        var after = Plan(EditBatch.Apply(site, remedy.Edits).Value.After);
        Assert.Null(Found(after, "REACH-WEAK", "mast"));
        var route = after.Reach.Relays.Routes.Single(r => r.Node == "mast");
        Assert.Equal(["relay", "hub"], route.Over.Select(s => s.Node));
        Assert.True(route.Arrives && route.IsBest);
        // 35 m each: 14 dBm stand in the relay, −40 in the mast.
        Assert.InRange(route.Delivered.Value!.Value, 95, 100);
        Assert.InRange(route.Transmissions.Value!.Value, 2, 3);
        Assert.Equal(route.Transmissions.Value!.Value, route.Transmissions.Working.Inputs.Sum(i => i.Value), 1e-9);
    }

    public static TheoryData<string> Boards => [.. Samples.Catalogue.Boards.Select(b => b.Id)];

    /// <summary>Whatever board the gateway has: some have no USB socket, some no pins for a radio.</summary>
    [Theory]
    [MemberData(nameof(Boards))]
    public void A_relay_that_is_offered_can_be_built_where_it_is_to_hang(string board)
    {
        // 5 dB to spare over the ground to the hub (two-ray), 31 dB to the shelf.
        var site = Row((Sensor("mast", "hub"), 0), (Hub with { Board = board, Radio = null }, 130));
        Room damp = new("damp", "Wash room", [new(6, -2), new(10, -2), new(10, 2), new(6, 2)], [RoomTag.Wet]);
        site = site with { Place = site.Place with { Rooms = [damp], Spots = [.. site.Place.Spots, new("shelf", "Shelf", "damp", 8, 0, 2, 0)] } };
        var offered = Found(Plan(site), "REACH-WEAK", "mast")!.Remedies.Where(r => r.Label.StartsWith("One more relay", StringComparison.Ordinal)).ToList();
        Assert.Equal(Samples.Board(board).Pins.Count(p => p.Gpio is not null) > 0, offered.Count == 1);
        Assert.All(offered, remedy =>
        {
            var after = Plan(EditBatch.Apply(site, remedy.Edits).Value.After);
            Assert.DoesNotContain(after.Findings, f => f.Subject.Node == "relay" && (f.Severity == Severity.Stop || f.Code == "BENCH-UNSEALED"));
        });
    }

    /// <summary>A node on cells is told to relay: the receiver draws 11.5 mA all the time, and each of 144 messages a day is answered and sent on.</summary>
    [Fact]
    public void A_node_on_cells_that_relays_pays_for_listening_and_for_each_message()
    {
        var site = Row((Sensor("far", "hub"), 0), (Sensor("near", "hub"), 35), (Hub, 70));
        var before = Plan(site);
        var told = Found(before, "REACH-WEAK", "far")!.Remedies.Single(r => r.Label.StartsWith("near listens all the time", StringComparison.Ordinal));
        var changed = EditBatch.Apply(site, told.Edits).Value.After;
        Assert.True(changed.Node("near")!.Relays);
        var after = Plan(changed);
        var (alone, relaying) = (before.Node("near")!.Rhythm, after.Node("near")!.Rhythm);
        var radio = Samples.Catalogue.Part("lora-sx1276")!;
        var board = Samples.Board(Samples.Rp2040);
        var (air, answer) = (Airtime.LoraMs(9, 125, 1, 8, 12), Airtime.LoraMs(9, 125, 1, 8, 8));
        var tries = after.Reach.Links.Single(l => l.Node == "near").Tries.Value!.Value;
        var (awake, asleep) = (board.Currents.ActiveMilliamps.Likely, board.Currents.DeepSleepMilliamps!.Likely + 0.0001);
        var (tx, rx) = (radio.Modem!.TransmitMilliamps.Likely, radio.ActiveMilliamps!.Likely);
        // mA·ms of one message beyond sleep with the receiver on: start, answer, send on, wait for the answer, end.
        var message =
            board.BootMs.Likely * (awake - asleep)
            + (answer + air * tries) * (awake + tx - asleep - rx)
            + (answer + 50) * tries * (awake - asleep)
            + 3 * (awake - asleep);
        var own = alone.Wakes.Single().Segments.Where(s => s.Key is not ("send" or "listen" or "sleep")).Sum(s => s.Duration.Value!.Value);
        var heard = (86_400_000 - 144 * (own + (air + answer + 50) * tries)) / 86_400_000 * (rx - 0.0002) + 144 * own / 86_400_000 * rx;
        Assert.Equal(heard + 144 * message / 86_400_000, relaying.Average.Value!.Value - alone.Average.Value!.Value, 0.02 * heard);
        Assert.Contains(relaying.Wakes, w => w is { Label: "Pass on far", PerDay: 144 });
        var finding = Found(after, "REACH-RELAY-LIFE", "near")!;
        Assert.Equal(Severity.Risk, finding.Severity);
        var relay = after.Reach.Relays.Relays.Single();
        Assert.Equal(alone.Life!.Value!.Value, relay.LifeAlone!.Value!.Value, 1e-6 * alone.Life.Value.Value);
        Assert.Equal(relaying.Life!.Value, relay.Life!.Value);
        double In(string name) => relay.LifeAlone.Working.Inputs.Single(i => i.Name == name).Value;
        Assert.Equal(In("C") * In("u") / (In("Iavg") + In("C") * In("s") / 8766) / 24, relay.LifeAlone.Value!.Value, 1e-6 * alone.Life.Value.Value);
        Assert.Equal(144, relay.PerDay.Value);
        var fed = Plan(EditBatch.Apply(changed, finding.Remedies.Single().Edits).Value.After);
        Assert.Null(Found(fed, "REACH-RELAY-LIFE", "near"));
    }

    /// <summary>The history of cells plans a node again as it was: what it passes on, and who hears it, belong to it.</summary>
    [Fact]
    public void A_node_is_planned_among_those_that_touch_it_as_in_the_whole_site()
    {
        var near = Sensor("near", "hub") with { Relays = true };
        var relayed = Row((Sensor("far", "near"), 0), (near, 35), (Hub, 70), (Sensor("other", "hub"), 75));
        foreach (var site in new[] { relayed, Samples.Fernhollow().Design })
        {
            var plan = Plan(site);
            Assert.All(site.Nodes, n =>
                Assert.Equal(plan.Node(n.Key)!.Rhythm.Average.Value, SitePlanner.RhythmOf(site, n, Samples.Catalogue, Evidence.None, "site").Average.Value)
            );
        }
    }

    [Fact]
    public void A_relay_costs_its_sender_time()
    {
        var alone = Plan(Row((Sensor("far", "hub"), 0), (Hub, 20)));
        var passed = Plan(Row((Sensor("far", "post"), 0), (OnUsb("post", "hub"), 20), (Hub, 40)));
        double Late(SitePlan plan) => plan.Node("far")!.Rhythm.Readings.Single().Lateness.Value!.Value;
        // Three tries of 12 bytes, each with 100 ms and an answer of 8 bytes to wait for.
        var relay = 3 * (Airtime.LoraMs(9, 125, 1, 8, 12) + Airtime.LoraMs(9, 125, 1, 8, 8) + 100) / 1000;
        Assert.Equal(Late(alone) + relay, Late(passed), 1e-6);
        Assert.Contains(passed.Node("far")!.Rhythm.Readings.Single().Lateness.Working.Inputs, i => i.Name == "passed on by relays");
    }

    [Fact]
    public void A_relay_answers_and_sends_within_the_law_and_among_the_others_of_its_channel()
    {
        var plan = Plan(Row((Sensor("far", "post"), 0), (OnUsb("post", "hub") with { Readings = [] }, 20), (Hub, 40)));
        double Tries(string node) => plan.Reach.Links.Single(l => l.Node == node).Tries.Value!.Value;
        var (air, answer) = (Airtime.LoraMs(9, 125, 1, 8, 12), Airtime.LoraMs(9, 125, 1, 8, 8));
        double OnAir(string node) => plan.Reach.Law.Single(l => l.Node == node).OnAir.Value!.Value;
        Assert.Equal(6 * (air * Tries("post") + answer * Tries("far")) / 3_600_000 * 100, OnAir("post"), 1e-9);
        Assert.Equal(6 * answer * Tries("post") / 3_600_000 * 100, OnAir("hub"), 1e-9);
        var free = plan.Reach.Channels.Single().Free;
        Assert.Equal(["far", "post, for far"], free.Select(f => f.Label));
        // What is passed on follows what was sent: the two never meet.
        Assert.All(free, f => Assert.Equal(100, f.Clear.Value));
    }

    [Fact]
    public void A_gateway_listens_all_the_time_too()
    {
        double Average(string? via) => Plan(Row((Sensor("far", via), 0), (Hub, 20))).Node("hub")!.Rhythm.Average.Value!.Value;
        Assert.Equal(11.5, Average("hub") - Average(null), 0.2);
    }

    [Fact]
    public void The_relay_without_which_a_node_is_silent_is_named_until_there_is_another()
    {
        var one = Row((Sensor("far", "post"), 0), (OnUsb("post", "hub"), 55), (Hub, 110));
        var single = Found(Plan(one), "REACH-SINGLE-POINT", "post")!;
        Assert.Contains("far", single.What);
        var two = Row((Sensor("far", "post"), 0), (OnUsb("post", "hub"), 55), (OnUsb("second", "hub"), 56), (Hub, 110));
        Assert.Null(Found(Plan(two), "REACH-SINGLE-POINT", "post"));
    }

    [Fact]
    public void A_fixed_choice_is_kept_and_compared_with_the_best()
    {
        var site = Row((Sensor("far", "hub"), 0), (OnUsb("post", "hub") with { Radio = new(PowerDbm: -40, AntennaGainDbi: 10) }, 42), (Hub, 84));
        var plan = Plan(site);
        var route = plan.Reach.Relays.Routes.Single(r => r.Node == "far");
        Assert.Equal(["hub"], route.Over.Select(s => s.Node));
        Assert.Equal(["post", "hub"], route.Best.Select(s => s.Node));
        Assert.False(route.IsBest);
        var other = Found(plan, "REACH-OTHER-WAY", "far")!;
        var after = Plan(EditBatch.Apply(site, other.Remedies.Single().Edits).Value.After);
        Assert.Null(Found(after, "REACH-OTHER-WAY", "far"));
        Assert.Equal(route.BestTransmissions.Value!.Value, after.Reach.Relays.Routes.Single(r => r.Node == "far").Transmissions.Value!.Value, 1e-9);
    }

    [Fact]
    public void A_node_that_nobody_is_said_to_hear_is_offered_the_best_way()
    {
        var site = Row((Sensor("far", null), 0), (Hub, 20));
        var remedy = Found(Plan(site), "REACH-UNHEARD", "far")!.Remedies.Single();
        Assert.Equal("hub", EditBatch.Apply(site, remedy.Edits).Value.After.Node("far")!.Via);
    }

    /// <summary>The best of a is over b, and b is heard through a: b is offered its way first, then a.</summary>
    [Fact]
    public void No_remedy_closes_a_ring()
    {
        var b = OnUsb("b", "a") with { Radio = new(PowerDbm: -40, AntennaGainDbi: 10) };
        var site = Row((OnUsb("a", "hub"), 0), (b, 42), (Hub, 84));
        Finding Of(SiteDesign at, string node) => Found(Plan(at), "REACH-OTHER-WAY", node)!;
        Assert.Empty(Of(site, "a").Remedies);
        var freed = EditBatch.Apply(site, Of(site, "b").Remedies.Single().Edits).Value.After;
        Assert.Equal("hub", freed.Node("b")!.Via);
        var both = EditBatch.Apply(freed, Of(freed, "a").Remedies.Single().Edits).Value.After;
        Assert.DoesNotContain(Plan(both).Findings, f => f.Code == "REACH-OTHER-WAY");
    }

    /// <summary>A serial line that tells its readings hears it, though no node does.</summary>
    [Fact]
    public void A_node_that_a_serial_line_hears_is_not_told_as_unheard()
    {
        var site = Row((Sensor("far", null), 0), (Hub, 20));
        var format = new FrameFormat(FrameKind.ValuePerLine, [new("far", "t")]);
        var line = new SerialLineDesign("line", "Line", "tcp://127.0.0.1:1", 9_600, format);
        Assert.NotNull(Found(Plan(site), "REACH-UNHEARD", "far"));
        Assert.Null(Found(Plan(site with { Lines = [line] }), "REACH-UNHEARD", "far"));
    }

    [Fact]
    public void Hops_that_are_good_one_by_one_can_be_weak_together()
    {
        var site = Row((Sensor("far", "b"), 0), (OnUsb("b", "a"), 42), (OnUsb("a", "hub"), 84), (Hub, 126));
        var plan = Plan(site);
        Assert.All(plan.Reach.Links, l => Assert.Equal(LinkVerdict.Good, l.Verdict));
        var route = plan.Reach.Relays.Routes.Single(r => r.Node == "far");
        Assert.Equal(plan.Reach.Links.Aggregate(1.0, (all, l) => all * l.Delivered.Value!.Value / 100) * 100, route.Delivered.Value!.Value, 1e-9);
        Assert.Contains("over all 3 hops", Found(plan, "REACH-WAY-WEAK", "far")!.What);
    }

    /// <summary>A ring cannot be made; one that stands in an older site is told, and planning it ends.</summary>
    [Fact]
    public void A_ring_of_relays_is_refused_where_it_would_close()
    {
        var site = Row((OnUsb("a", "b"), 0), (OnUsb("b", "c"), 20), (OnUsb("c", "hub"), 40), (Hub, 60));
        var refused = EditBatch.Apply(site, [SetNodes.As(site.Node("c")!) with { Via = "a" }]);
        Assert.False(refused.Ok);
        Assert.Equal(new Reason("a is heard through this node: in a ring nothing reaches a gateway.", "via"), Assert.Single(refused.Because));
        var ring = site with { Nodes = [.. site.Nodes.Select(n => n.Key == "c" ? n with { Via = "a" } : n)] };
        var plan = Plan(ring);
        Assert.All(["a", "b", "c"], key => Assert.NotNull(Found(plan, "RHYTHM-GATEWAY-UNFIT", key)));
        Assert.False(ring.SpeaksFor("hub", "a"));
        Assert.All(plan.Reach.Relays.Routes, r => Assert.False(r.Arrives));
    }

    [Fact]
    public void The_key_of_a_gateway_speaks_for_all_that_come_to_it_over_relays()
    {
        var site = Row((Sensor("far", "post"), 0), (OnUsb("post", "hub"), 20), (Hub, 40));
        Assert.True(site.SpeaksFor("hub", "far") && site.SpeaksFor("post", "far") && site.SpeaksFor("far", "far"));
        Assert.False(site.SpeaksFor("far", "post") || site.SpeaksFor("post", "hub") || site.SpeaksFor("hub", "gone"));
    }

    [Fact]
    public void A_sleeping_node_passes_nothing_on_until_it_is_told_to_listen()
    {
        var site = Row((Sensor("far", "post"), 0), (Sensor("post", "hub"), 20), (Hub, 40));
        var plan = Plan(site);
        Assert.DoesNotContain(plan.Node("post")!.Rhythm.Wakes, w => w.Label.StartsWith("Pass on", StringComparison.Ordinal));
        Assert.False(plan.Reach.Relays.Routes.Single(r => r.Node == "far").Arrives);
        Assert.Empty(plan.Reach.Relays.Relays);
        var unfit = Found(plan, "RHYTHM-GATEWAY-UNFIT", "far")!;
        var remedy = unfit.Remedies.Single(r => r.Label.Contains("listens all the time"));
        Assert.Matches("on its cells instead of", remedy.Label);
        var after = Plan(EditBatch.Apply(site, remedy.Edits).Value.After);
        Assert.Null(Found(after, "RHYTHM-GATEWAY-UNFIT", "far"));
        Assert.True(after.Reach.Relays.Routes.Single(r => r.Node == "far").Arrives);
        Assert.Equal(["far"], after.Reach.Relays.Relays.Single().PassesOn.Select(s => s.Node));
        Assert.Contains(after.Node("post")!.Rhythm.Wakes, w => w.Label == "Pass on far");
    }
}
