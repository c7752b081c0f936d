using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Tests.Reach;

/// <summary>Nodes that send message by message with the radio of their board. Times are worked out from the standards, margins by hand.</summary>
public class BoardRadioTests
{
    private const string Esp = "esp32-dev-38",
        Nordic = "nrf52840-module-24";

    private static NodeDesign Node(string key, string board, LinkKind link, string? via = null, bool sleeps = false) =>
        Samples.Node(("air", "bme280")) with
        {
            Key = key,
            Label = key,
            Board = board,
            Link = link,
            Via = via,
            Spot = key,
            Sleeps = sleeps,
            Power = sleeps ? new(PowerKind.Cells, "cell-18650") : new(PowerKind.Usb),
            Readings = [new("temp", "Temperature", "air", "temperature", 60_000, null, 1, 1, null)],
        };

    private static SiteDesign Site(double metres, params NodeDesign[] nodes) =>
        SiteDesign.Empty("Test site") with
        {
            // Far behind, so that it is a place with walls.
            Place = new(
                [],
                [new("far", new(99, 0), new(99, 4), WallMaterial.Brick)],
                [.. nodes.Select((n, i) => new Spot(n.Key, n.Key, null, i * metres, 1, 1, 0))]
            ),
            Nodes = nodes,
        };

    private static SitePlan Plan(SiteDesign site) => SitePlanner.Plan(site, Samples.Catalogue, Evidence.None);

    private static CycleSegment Step(SitePlan plan, string key) =>
        plan.Node("sensor")!.Rhythm.Wakes.Single(w => w.Share > 0).Segments.Single(s => s.Key == key);

    /// <summary>One value is 12 bytes. At 1 Mbit/s a vendor frame adds 192 µs of preamble and 43 bytes: 0.632 ms. Advertising adds 20 bytes: 0.256 ms on each
    /// of three channels, five times: 3.84 ms; a full one of 47 bytes takes the 376 µs of the Bluetooth Core Specification. Coded it is 592 + 64 n µs a packet:
    /// three of 9 bytes and one of 28, 5.888 ms, five times. At 250 kbit/s 802.15.4 adds 17
    /// bytes: 0.928 ms.</summary>
    [Theory]
    [InlineData(Esp, LinkKind.Frames, 0.632)]
    [InlineData(Nordic, LinkKind.Advertising, 3.84)]
    [InlineData(Nordic, LinkKind.CodedAdvertising, 29.44)]
    [InlineData(Nordic, LinkKind.Ieee802154, 0.928)]
    public void A_message_is_on_the_air_as_long_as_its_standard_says(string board, LinkKind link, double ms)
    {
        var plan = Plan(Site(2, Node("sensor", board, link, "hub", sleeps: true), Node("hub", board, LinkKind.Cable)));
        Assert.Equal(ms, Step(plan, "send").Duration.Value!.Value, 0.001);
    }

    [Fact]
    public void A_message_that_does_not_fit_takes_several_packets()
    {
        var sensor = Node("sensor", Nordic, LinkKind.Advertising, "hub", sleeps: true);
        // 8 + 4 · 6 = 32 bytes: 27 and 5, each with 20 more, on three channels, five times.
        var reading = sensor.Readings[0] with { BatchOf = 6 };
        var wakes = Plan(Site(2, sensor with { Readings = [reading] }, Node("hub", Nordic, LinkKind.Cable))).Node("sensor")!.Rhythm.Wakes;
        Assert.Equal((47 + 25) * 0.008 * 15, wakes.SelectMany(w => w.Segments).Single(s => s.Key == "send").Duration.Value!.Value, 0.001);
    }

    /// <summary>18 dBm to −95 dBm over 5 m: 40.20 dB to 1 m at 2442 MHz and 13.98 dB from there leave 58.82 dB; 0 dBm of 802.15.4 to −100 dBm leave
    /// 45.82.</summary>
    [Theory]
    [InlineData(Esp, LinkKind.Frames, 58.82)]
    [InlineData("esp8266-mini-16", LinkKind.Frames, 58.82)]
    [InlineData(Nordic, LinkKind.Ieee802154, 45.82)]
    [InlineData(Nordic, LinkKind.Advertising, 40.82)]
    [InlineData(Nordic, LinkKind.CodedAdvertising, 48.82)]
    [InlineData("esp32-c3-mini-16", LinkKind.CodedAdvertising, 48.82)]
    public void Its_margin_is_power_less_distance_less_sensitivity(string board, LinkKind link, double margin)
    {
        var planned = Plan(Site(5, Node("sensor", board, link, "hub"), Node("hub", board, LinkKind.Cable))).Reach.Links.Single(l => l.Node == "sensor");
        Assert.Equal(margin, planned.Margin.Value!.Value, 0.02);
        Assert.Equal(LinkVerdict.Good, planned.Verdict);
    }

    /// <summary>A receiver that shares its antenna with Wi-Fi hears every other advertisement: of five 1 − 0.5⁵ get through.</summary>
    [Fact]
    public void Advertising_is_heard_as_often_as_the_receiver_listens()
    {
        PlannedLink Heard(LinkKind hub) =>
            Plan(Site(1, Node("sensor", Esp, LinkKind.Advertising, "hub"), Node("hub", Esp, hub))).Reach.Links.Single(l => l.Node == "sensor");
        Assert.Equal((1 - Math.Pow(0.5, 5)) * 100, Heard(LinkKind.Wifi).Delivered.Value!.Value, 0.2);
        Assert.InRange(Heard(LinkKind.Cable).Delivered.Value!.Value, 99.9, 100);
        Assert.Equal(5, Heard(LinkKind.Wifi).Tries.Value!.Value, 1e-6);
    }

    /// <summary>An hour of frames costs less than an hour of connections: 500 ms of connecting are not there, 60 ms of the radio starting are.</summary>
    [Fact]
    public void A_node_that_needs_no_connection_lives_longer()
    {
        double Days(LinkKind link) =>
            Plan(Site(2, Node("sensor", "esp32-c3-mini-16", link, "hub", sleeps: true), Node("hub", Esp, LinkKind.Cable)))
                .Node("sensor")!
                .Rhythm.Life!.Value!.Value;
        Assert.InRange(Days(LinkKind.Frames) / Days(LinkKind.Wifi), 1.3, 6);
        var radio = Step(Plan(Site(2, Node("sensor", Esp, LinkKind.Frames, "hub", sleeps: true), Node("hub", Esp, LinkKind.Cable))), "radio");
        Assert.Equal(60, radio.Duration.Value!.Value, 1e-9);
    }

    [Fact]
    public void Who_has_no_such_radio_does_not_hear_it_and_a_board_without_sends_nothing()
    {
        string Why(NodeDesign hub) =>
            Plan(Site(5, Node("sensor", Esp, LinkKind.Frames, "hub"), hub)).Reach.Links.Single(l => l.Node == "sensor").Margin.Working.Formula;
        Assert.Contains("does not listen for Wi-Fi frames", Why(Node("hub", "rp2040-wifi-40", LinkKind.Wifi)));
        Assert.Contains("does not listen for Wi-Fi frames", Why(Node("hub", Nordic, LinkKind.Advertising)));
        foreach (
            var (board, link) in new[]
            {
                ("esp8266-mini-16", LinkKind.Advertising),
                (Esp, LinkKind.Ieee802154),
                (Nordic, LinkKind.Frames),
                ("rp2040-wifi-40", LinkKind.Frames),
            }
        )
        {
            var findings = Plan(Site(5, Node("sensor", board, link))).Findings.Where(f => f.Code == "BENCH-NO-LINK").ToList();
            Assert.Contains(link.Name(), Assert.Single(findings).What);
            Assert.All(findings[0].Remedies, r =>
                Assert.DoesNotContain(Plan(EditBatch.Apply(Site(5, Node("sensor", board, link)), r.Edits).Value.After).Findings, f => f.Code == "BENCH-NO-LINK")
            );
        }
    }

    /// <summary>A gateway hears each sort with the radio for it: a module, frames and advertising at once.</summary>
    [Fact]
    public void One_gateway_hears_by_several_radios()
    {
        var hub = Node("hub", Esp, LinkKind.Cable) with { Parts = [new("air", "Air", "bme280"), new("lora", "LoRa", "lora-sx1276")] };
        var module = Node("module", Nordic, LinkKind.LongRange, "hub") with { Parts = hub.Parts };
        var site = Site(3, hub, module, Node("frames", Esp, LinkKind.Frames, "hub"), Node("adverts", Nordic, LinkKind.Advertising, "hub"));
        var reach = Plan(site with { Settings = site.Settings with { Region = RadioRegion.Europe868 } }).Reach;
        Assert.Equal(["module", "frames", "adverts"], reach.Links.Where(l => l.Verdict == LinkVerdict.Good).Select(l => l.Node));
        Assert.All(reach.Relays.Routes, r => Assert.Equal(["hub"], r.Best.Select(b => b.Node)));
        // It answers modules and frames; what is advertised gets no answer.
        Assert.Equal(2, reach.Law.Count(l => l.Node == "hub"));
        // Frames are sent when nobody else is heard.
        Assert.Equal(2, reach.Channels.Count);
    }

    [Fact]
    public void A_relay_of_frames_listens_all_the_time_and_hears_frames_only()
    {
        var relay = Node("relay", Esp, LinkKind.Frames, "hub");
        var site = Site(
            3,
            Node("hub", Esp, LinkKind.Wifi),
            relay,
            Node("sensor", Esp, LinkKind.Frames, "relay"),
            Node("other", Nordic, LinkKind.Advertising, "relay")
        );
        var plan = Plan(site);
        Assert.Equal(["relay", "hub"], plan.Reach.Relays.Routes.Single(r => r.Node == "sensor").Over.Select(s => s.Node));
        Assert.Contains("does not listen for Bluetooth advertising", plan.Reach.Links.Single(l => l.Node == "other").Margin.Working.Formula);
        double Milliamps(SitePlan of) => of.Node("relay")!.Rhythm.Average.Value!.Value;
        var alone = Plan(Site(3, Node("hub", Esp, LinkKind.Wifi), relay));
        // 120 mA receiving instead of 65 mA awake.
        Assert.InRange(Milliamps(plan) - Milliamps(alone), 50, 58);
    }

    /// <summary>A module that nobody sends to does not listen: only frames come here.</summary>
    [Fact]
    public void A_gateway_listens_with_what_its_nodes_send_by()
    {
        var hub = Node("hub", Esp, LinkKind.Cable) with { Parts = [new("air", "Air", "bme280"), new("lora", "LoRa", "lora-sx1276")] };
        double With(params NodeDesign[] sensor) => Plan(Site(3, [hub, .. sensor])).Node("hub")!.Rhythm.Average.Value!.Value;
        Assert.Equal(With(), With(Node("sensor", Esp, LinkKind.Frames, "hub")));
        // 11.5 mA receiving: SX1276/77/78/79 data sheet.
        Assert.Equal(11.5, With(Node("sensor", Esp, LinkKind.LongRange, "hub") with { Parts = hub.Parts }) - With(), 0.1);
    }

    /// <summary>The program of a node that sends frames must know the channel, and it is another program than one for Wi-Fi.</summary>
    [Fact]
    public void Its_settings_hold_how_it_sends_and_the_channel_of_its_gateway()
    {
        var site = Site(3, Node("hub", Esp, LinkKind.Wifi), Node("sensor", Esp, LinkKind.Frames, "hub"));
        SiteDesign With(int? channel) => site with { Place = site.Place with { AccessPoints = [new("ap", "Access point", "hub", channel)] } };
        NodeSettings Of(SiteDesign of) =>
            NodeSettings.Of(
                of.Node("sensor")!,
                Plan(of).Node("sensor")!.Bench,
                Plan(of).Node("sensor")!.Rhythm,
                Samples.Catalogue,
                null,
                new Dictionary<string, Calibration>(),
                of
            );
        Assert.Equal(("frames", 2437.0), (Of(With(6)).Radio!.Part, Of(With(6)).Radio!.Megahertz));
        Assert.Null(Of(With(null)).Radio!.Megahertz);
        Assert.NotEqual(Of(With(6)).Hash, Of(With(11)).Hash);
        var wifi = EditBatch.Apply(With(6), [SetNodes.As(site.Node("sensor")!) with { Link = LinkKind.Wifi, Via = null }]).Value.After;
        Assert.NotEqual(Of(With(6)).Hash, Of(wifi).Hash);
        Assert.Null(Of(wifi).Radio);
    }

    /// <summary>The radios of a board are compared with its Wi-Fi, and each row is what the node comes to once it is taken.</summary>
    [Fact]
    public void Radios_of_the_board_are_compared_in_years()
    {
        var site = Site(2, Node("sensor", Esp, LinkKind.Wifi, sleeps: true), Node("hub", Esp, LinkKind.Cable));
        var plan = Plan(site).Node("sensor")!;
        var rows = RhythmComparison.Of(site.Node("sensor")!, plan.Bench, Samples.Catalogue, Evidence.None, site).Radios;
        Assert.Equal(["wifi", "frames", "advertising"], rows.Select(r => r.Key).Take(3));
        var taken = Plan(EditBatch.Apply(site, [SetNodes.As(site.Node("sensor")!) with { Link = LinkKind.Frames, Via = "hub" }]).Value.After);
        Assert.Equal(taken.Node("sensor")!.Rhythm.Life!.Value!.Value, rows[1].Cells.Single(c => c.IntervalMs == 60_000).LifeDays!.Value, 0.5);
    }
}
