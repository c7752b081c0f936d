using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Core.Tests.Reach;

/// <summary>What the law allows, against the published limits and against an hour that is counted send by send.</summary>
public class RadioLawTests
{
    private static SiteDesign Site(
        RadioRegion region,
        RadioDesign? radio = null,
        string part = "lora-sx1276",
        long everyMs = 60_000,
        SendDesign? sending = null
    )
    {
        var sensor = Samples.Node(("air", "bme280"), ("radio", part)) with
        {
            Key = "sensor",
            Label = "Sensor",
            Link = LinkKind.LongRange,
            Via = "hub",
            Sending = sending ?? new(Acknowledged: false),
            Radio = radio,
            Readings = [Samples.Every("temp", "air", "temperature", everyMs)],
        };
        var hub = Samples.Node(("radio", part)) with { Key = "hub", Label = "Hub", Radio = radio };
        return SiteDesign.Empty("Test site") with { Settings = new("Test site", "Etc/UTC", region), Nodes = [sensor, hub] };
    }

    private static SiteSettings In(RadioRegion region) => new("Test site", "Etc/UTC", region);

    private static SiteDesign OfOwn(RadioDesign? radio, params OwnBand[] bands) =>
        Site(RadioRegion.Own, radio) with
        {
            Settings = In(RadioRegion.Own) with { OwnBands = bands },
        };

    private static SitePlan Plan(SiteDesign site) => SitePlanner.Plan(site, Samples.Catalogue, Evidence.None);

    private static LawBudget Sensor(SiteDesign site) => Plan(site).Reach.Law.Single(l => l.Node == "sensor");

    /// <summary>Sub-bands of EN 300 220-2 and EN 300 328; 47 CFR 15.247 and 15.249 (radio.md's table, which repeats them).</summary>
    [Theory]
    [InlineData(RadioRegion.Europe868, 433.9, 25, 10.0, 10.0)]
    [InlineData(RadioRegion.Europe868, 868.3, 125, 14.0, 1.0)]
    [InlineData(RadioRegion.Europe868, 868.95, 125, 14.0, 0.1)]
    [InlineData(RadioRegion.Europe868, 869.525, 125, 27.0, 10.0)]
    [InlineData(RadioRegion.Europe868, 2441, 1000, 20.0, null)]
    [InlineData(RadioRegion.America915, 915, 500, 36.0, null)]
    [InlineData(RadioRegion.America915, 915, 125, -1.25, null)]
    public void Limits_are_the_published_ones(RadioRegion region, double megahertz, double kilohertz, double most, double? duty)
    {
        var band = RadioLaw.Of(In(region)).First(b => b.Holds(megahertz, kilohertz));
        Assert.Equal((most, duty), (band.MostDbm, band.DutyPercent));
    }

    /// <summary>47 CFR 15.247(a)(1)(i) and (b)(2): below 250 kHz 50 channels at least, wider ones 25; 1 W for 50, 0.25 W for fewer; 0.4 s.</summary>
    [Theory]
    [InlineData(125, 50, 36.0)]
    [InlineData(125, 49, -1.25)]
    [InlineData(250, 50, 36.0)]
    [InlineData(250, 25, 30.0)]
    [InlineData(250, 24, -1.25)]
    public void Who_hops_over_enough_channels_may_send_stronger(double kilohertz, int channels, double most)
    {
        var band = RadioLaw.Of(In(RadioRegion.America915)).First(b => b.Holds(915, kilohertz, channels));
        Assert.Equal((most, most > 0 ? 400 : (double?)null), (band.MostDbm, band.LongestMs));
        // All the channels lie in the band: 130 of 250 kHz are 32.5 MHz, wider than it.
        Assert.DoesNotContain(RadioLaw.Of(In(RadioRegion.America915)), b => b.Holds(915, 250, 130));
    }

    /// <summary>SF9 takes 144 ms, well within 0.4 s; at SF11 the 12 bytes take 578 ms, so hopping is no way out there.</summary>
    [Fact]
    public void Hopping_is_offered_where_the_law_allows_more_to_it()
    {
        var site = Site(RadioRegion.America915, new(FrequencyMegahertz: 915));
        var narrow = Plan(site).Findings.First(f => f.Code == "REACH-LAW-POWER");
        var hop = Assert.Single(narrow.Remedies);
        Assert.Equal("Hop over 50 channels, all 2 radios of this one", hop.Label);
        var after = EditBatch.Apply(site, hop.Edits).Value.After;
        Assert.All(after.Nodes, n => Assert.Equal(50, n.Radio!.HopChannels));
        Assert.DoesNotContain(Plan(after).Findings, f => f.Code.StartsWith("REACH-LAW", StringComparison.Ordinal));
        Assert.EndsWith("hopping over 50 channels", Sensor(after).Channel, StringComparison.Ordinal);
        var slow = Plan(Site(RadioRegion.America915, new(FrequencyMegahertz: 915, SpreadingFactor: 11))).Findings.First(f => f.Code == "REACH-LAW-POWER");
        Assert.Empty(slow.Remedies);
        // Who hops alone is not heard.
        var alone = after with { Nodes = [after.Nodes[0], after.Nodes[1] with { Radio = new(FrequencyMegahertz: 915) }] };
        Assert.Null(Plan(alone).Reach.Links.Single(l => l.Node == "sensor").Margin.Value);
    }

    [Theory]
    [InlineData(RadioRegion.Europe868, 868.65, 25)]
    [InlineData(RadioRegion.Europe868, 868.59, 125)]
    [InlineData(RadioRegion.Europe868, 915, 125)]
    [InlineData(RadioRegion.America915, 868.3, 125)]
    [InlineData(RadioRegion.America915, 927.9, 500)]
    public void A_signal_that_reaches_out_of_a_band_is_in_none(RadioRegion region, double megahertz, double kilohertz) =>
        Assert.DoesNotContain(RadioLaw.Of(In(region)), b => b.Holds(megahertz, kilohertz));

    /// <summary>12 bytes at SF9, 125 kHz, 4/5: 144.384 ms by the formula of the SX1276 data sheet; once a minute that is 0.24064 % of the time.</summary>
    [Fact]
    public void Time_on_the_air_is_that_of_an_hour_counted_send_by_send()
    {
        var budget = Sensor(Site(RadioRegion.Europe868));
        const double AirMs = 144.384;
        Assert.Equal(60 * AirMs / 36_000, budget.OnAir.Value!.Value, 1e-3);
        Assert.Equal(1, budget.MostOnAir);
        Assert.Equal(Math.Floor((36_000 - 60 * AirMs) / AirMs), budget.MessagesLeft!.Value);
        Assert.Equal(14 - 2.15, budget.Radiated.Value!.Value, 1e-9);
        Assert.Equal("868.0 to 868.6 MHz", budget.Band);
        Assert.DoesNotContain(Plan(Site(RadioRegion.Europe868)).Findings, f => f.Code.StartsWith("REACH-LAW", StringComparison.Ordinal));
    }

    /// <summary>The hub answers each message with 8 bytes: 123.904 ms at SF9.</summary>
    [Fact]
    public void Answers_count_for_who_gives_them()
    {
        var site = Site(RadioRegion.Europe868, sending: new(Acknowledged: true, MostTries: 1));
        var hub = Plan(site).Reach.Law.Single(l => l.Node == "hub");
        Assert.Equal(60 * 123.904 / 36_000, hub.OnAir.Value!.Value, 1e-3);
    }

    [Fact]
    public void What_is_forbidden_is_named_with_a_way_out_that_holds()
    {
        void Mended(SiteDesign site, string code)
        {
            var plan = Plan(site);
            var finding = plan.Findings.First(f => f.Code == code);
            Assert.NotEmpty(finding.Remedies);
            foreach (var remedy in finding.Remedies)
            {
                var after = Plan(EditBatch.Apply(site, remedy.Edits).Value.After);
                Assert.DoesNotContain(after.Findings, f => f.Code == code && f.Subject == finding.Subject);
                Assert.True(after.Findings.Count(f => f.Severity == Severity.Stop) <= plan.Findings.Count(f => f.Severity == Severity.Stop), remedy.Label);
            }
        }
        Mended(Site(RadioRegion.Unset), "REACH-REGION");
        Mended(Site(RadioRegion.Europe868, new(PowerDbm: 20)), "REACH-LAW-POWER");
        Mended(Site(RadioRegion.Europe868, new(AntennaGainDbi: 9)), "REACH-LAW-POWER");
        Mended(Site(RadioRegion.Europe868, new(FrequencyMegahertz: 868.65)), "REACH-LAW-BAND");
        Mended(Site(RadioRegion.Europe868, part: "hc-12"), "REACH-LAW-POWER");
        // A single narrow channel of 14 dBm is far too strong between 902 and 928 MHz, and this radio cannot send so weakly.
        var narrow = Plan(Site(RadioRegion.America915, new(FrequencyMegahertz: 915))).Findings.First(f => f.Code == "REACH-LAW-POWER");
        Assert.Contains("one narrow channel", narrow.What);
        var wide = Plan(Site(RadioRegion.America915, new(FrequencyMegahertz: 915, BandwidthKilohertz: 500)));
        Assert.DoesNotContain(wide.Findings, f => f.Code == "REACH-LAW-POWER");
        // At SF12 a message of 12 bytes is 1.155 s long: once in 20 s is 5.8 %.
        var often = Plan(Site(RadioRegion.Europe868, new(SpreadingFactor: 12), everyMs: 20_000)).Findings.Single(f => f.Code == "REACH-LAW-DUTY");
        Assert.Contains("allows 1 %", often.What);
    }

    [Fact]
    public void No_limit_is_checked_where_nobody_said_the_region()
    {
        var plan = Plan(Site(RadioRegion.Unset, new(PowerDbm: 20)));
        Assert.Empty(plan.Reach.Law);
        Assert.DoesNotContain(plan.Findings, f => f.Code.StartsWith("REACH-LAW", StringComparison.Ordinal));
    }

    /// <summary>An invented band: what was typed is what counts, whatever it is.</summary>
    [Fact]
    public void A_region_of_ones_own_is_held_to_the_bands_that_were_typed()
    {
        OwnBand band = new(920.6, 923.4, 16, PowerReference.Isotropic, 1, 400, "the rules of here");
        RadioDesign set = new(FrequencyMegahertz: 921.4);
        var budget = Sensor(OfOwn(set, band));
        Assert.Equal(("920.6 to 923.4 MHz", 16.0, 1.0, 400.0), (budget.Band!, budget.Most!.Value, budget.MostOnAir!.Value, budget.MostAtOnce!.Value));
        Assert.Contains("the rules of here", budget.Source);
        // 12 bytes at SF9, 125 kHz, 4/5, by the formula of the SX1276 data sheet.
        Assert.Equal(144.384, budget.Longest!.Value!.Value, 1e-3);
        Assert.DoesNotContain(Plan(OfOwn(set, band)).Findings, f => f.Code.StartsWith("REACH-LAW", StringComparison.Ordinal));
        Assert.Contains(Plan(OfOwn(set with { FrequencyMegahertz = 923.4 }, band)).Findings, f => f.Code == "REACH-LAW-BAND");
        Assert.Contains(Plan(OfOwn(set, band with { MostDbm = 13 })).Findings, f => f.Code == "REACH-LAW-POWER");
        // The same figure against a dipole is 2.15 dB more.
        Assert.DoesNotContain(Plan(OfOwn(set, band with { MostDbm = 13, Power = PowerReference.Effective })).Findings, f => f.Code == "REACH-LAW-POWER");
        Assert.Contains(Plan(OfOwn(set, band with { DutyPercent = 0.1 })).Findings, f => f.Code == "REACH-LAW-DUTY");
        // 1.155 s at SF12.
        var slow = Plan(OfOwn(set with { SpreadingFactor = 12 }, band)).Findings.First(f => f.Code == "REACH-LAW-DWELL");
        Assert.Contains("1155 ms; 920.6 to 923.4 MHz allows 400 ms", slow.What);
        // Of two bands that overlap the one that is kept to counts.
        Assert.Null(Sensor(OfOwn(set with { SpreadingFactor = 12 }, band, band with { DutyPercent = null, LongestMs = null })).MostAtOnce);
    }
}
