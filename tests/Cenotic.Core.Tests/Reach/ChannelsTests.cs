using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Core.Tests.Reach;

public class ChannelsTests
{
    private static NodeDesign Sender(string key, string radio = "lora-sx1276", RadioDesign? set = null) =>
        Samples.Node(("air", "bme280"), ("radio", radio)) with
        {
            Key = key,
            Label = key,
            Link = LinkKind.LongRange,
            Readings = [Samples.Every("t", "air", "temperature", 60_000)],
            Radio = set,
        };

    private static IReadOnlyList<ChannelPlan> Channels(params NodeDesign[] nodes) =>
        SitePlanner.Plan(Samples.Site(nodes[0]) with { Nodes = nodes }, Samples.Catalogue, Evidence.None).Reach.Channels;

    private static string Shared(IReadOnlyList<ChannelPlan> channels) =>
        string.Join(" | ", channels.Select(c => string.Join(",", c.Slots.Select(s => s.Node).Concat(c.Free.Select(f => f.Node)))));

    [Fact]
    public void Radios_of_one_frequency_and_rate_share_a_channel_and_others_do_not()
    {
        Assert.Equal("a,b", Shared(Channels(Sender("a"), Sender("b"))));
        Assert.Equal("a | b", Shared(Channels(Sender("a"), Sender("b", "nrf24l01p"))));
        Assert.Equal("a | b", Shared(Channels(Sender("a"), Sender("b", set: new(SpreadingFactor: 7)))));
        Assert.Equal("a | b", Shared(Channels(Sender("a"), Sender("b", set: new(FrequencyMegahertz: 868.3)))));
        Assert.Equal("a | b", Shared(Channels(Sender("a"), Sender("b", set: new(BandwidthKilohertz: 250)))));
        // Power and antenna do not part them, nor does another part that is set alike.
        Assert.Equal("a,b", Shared(Channels(Sender("a"), Sender("b", set: new(PowerDbm: 2, AntennaGainDbi: 3)))));
        Assert.Equal("a,b", Shared(Channels(Sender("a"), Sender("b", "lora-sx1278", new(FrequencyMegahertz: 868.1)))));
    }

    [Fact]
    public void A_part_on_two_channels_is_named_with_its_channel()
    {
        Assert.Equal(["SX1276 long-range radio, 868/915 MHz"], Channels(Sender("a"), Sender("b")).Select(c => c.Label));
        Assert.Equal(
            ["SX1276 long-range radio, 868/915 MHz (868.1 MHz, SF9 at 125 kHz)", "SX1276 long-range radio, 868/915 MHz (868.1 MHz, SF7 at 125 kHz)"],
            Channels(Sender("a"), Sender("b", set: new(SpreadingFactor: 7))).Select(c => c.Label)
        );
    }

    /// <summary>Of two that send 144.384 ms a minute each, 2 · 144.384 / 60 000 meet; over 50 channels the fiftieth part of that.</summary>
    [Fact]
    public void Who_hops_over_channels_meets_the_others_so_much_less_often()
    {
        double Met(RadioDesign? set) => 1 - Channels(Sender("a", set: set), Sender("b", set: set)).Single().Free[0].Clear.Value!.Value / 100;
        var once = new RadioDesign();
        var tries = Channels(Sender("a", set: once)).Single().Busy.Value!.Value / 100 / (144.384 / 60_000);
        Assert.Equal(2 * 144.384 / 60_000 * tries, Met(once), 1e-4);
        Assert.Equal(Met(once) / 50, Met(new(HopChannels: 50)), 1e-9);
    }

    /// <summary>A step of the spreading factor doubles a symbol, and halves the rate but for the bit that a symbol gains (SX1276 data sheet, LoRa
    /// modem).</summary>
    [Fact]
    public void Settings_of_the_radio_change_its_time_on_the_air()
    {
        double Air(RadioDesign? set) =>
            SitePlanner
                .Plan(Samples.Site(Sender("a", set: set)), Samples.Catalogue, Evidence.None)
                .Nodes[0]
                .Rhythm.Wakes.SelectMany(w => w.Segments)
                .First(s => s.Key == "send")
                .Duration.Low!.Value;
        Assert.InRange(Air(new(SpreadingFactor: 10)) / Air(null), 1.6, 2);
        Assert.Equal(Air(null) / 2, Air(new(BandwidthKilohertz: 250)), 3);
        Assert.Equal(Air(null), Air(new(BitsPerSecond: 1_000, PowerDbm: 2)), 9);
    }
}
