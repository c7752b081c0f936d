using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;
using MathNet.Numerics.Distributions;

namespace Cenotic.Core.Tests.Reach;

/// <summary>The fit to walks against truths that are drawn, also from far outside what it takes as usual, with noise that has heavy tails.</summary>
public class LinkFitTests
{
    /// <summary>Free space at 1 m and 868.1 MHz, and brick of 11.5 cm and plasterboard of 2.5 cm straight through: ITU-R P.525 and P.2040-1.</summary>
    private const double AtOneMetre = 31.22,
        Brick = 4.84,
        Plasterboard = 0.96;

    /// <summary>A gateway where four corridors meet: with brick walls across one, plasterboard across another, both across the third, none across the last.
    /// Spots lie along them, so that each way meets its walls straight.</summary>
    private static (SiteDesign Site, List<(Spot Spot, double Metres, int Bricks, int Boards)> Places) Corridors(int spots, Random random)
    {
        List<Wall> walls = [];
        List<(Spot, double, int, int)> places = [];
        for (var arm = 0; arm < 4; arm++)
        {
            var (x, y) = arm switch
            {
                0 => (1, 0),
                1 => (-1, 0),
                2 => (0, 1),
                _ => (0, -1),
            };
            for (var w = 0; w < 3 && arm < 3; w++)
            {
                var at = 3.5 + 4 * w;
                var material = arm == 0 || (arm == 2 && w == 1) ? WallMaterial.Brick : WallMaterial.Plasterboard;
                walls.Add(new($"w{arm}{w}", new(x * at - y, y * at - x), new(x * at + y, y * at + x), material));
            }
        }
        for (var s = 0; s < spots; s++)
        {
            var arm = s % 4;
            var metres = Math.Exp(random.NextDouble() * Math.Log(14));
            metres = Math.Round(Math.Max(1, metres), 2);
            var met = Enumerable.Range(0, 3).Where(w => arm < 3 && metres > 3.5 + 4 * w).ToList();
            var bricks = met.Count(w => arm == 0 || (arm == 2 && w == 1));
            var (x, y) = arm switch
            {
                0 => (metres, 0.0),
                1 => (-metres, 0),
                2 => (0, metres),
                _ => (0, -metres),
            };
            places.Add((new($"s{s}", $"Spot {s}", null, x, y, 1, 0), metres, bricks, met.Count - bricks));
        }
        var node = Samples.Node(("air", "bme280"), ("radio", "lora-sx1276")) with
        {
            Key = "walker",
            Label = "Walker",
            Link = LinkKind.LongRange,
            Spot = "s0",
            Via = "hub",
        };
        var hub = Samples.Node(("radio", "lora-sx1276")) with { Key = "hub", Label = "Hub", Link = LinkKind.Cable, Spot = "hub" };
        return (
            SiteDesign.Empty("Test site") with
            {
                Place = new([], walls, [new("hub", "Hub", null, 0, 0, 1, 0), .. places.Select(p => p.Item1)]),
                Nodes = [node, hub],
            },
            places
        );
    }

    private sealed record Truth(double Exponent, double Brick, double Board, double Offset);

    /// <summary>What a receiver measures there: log-distance and walls, worked out here.</summary>
    private static double Signal(double metres, int bricks, int boards, Truth truth, double powerDbm) =>
        powerDbm
        + truth.Offset
        - AtOneMetre
        - 10 * truth.Exponent * Math.Log10(metres)
        - bricks * (Brick + truth.Brick)
        - boards * (Plasterboard + truth.Board);

    private static Evidence Walked(IEnumerable<(Spot Spot, double Dbm)> heard) =>
        Evidence.None with
        {
            Walks = [.. heard.Select(h => new SpotWalk("walker", "hub", h.Spot.Key, 0, "ann", 20, 0, h.Dbm, h.Dbm - 3))],
        };

    private static double Power(SiteDesign site) =>
        SitePlanner
            .Plan(site, Samples.Catalogue, Evidence.None)
            .Reach.Links.Single(l => l.Node == "walker")
            .Margin.Working.Inputs.Single(i => i.Name == "P")
            .Value;

    [Fact]
    public void It_finds_what_was_drawn_within_its_band_95_times_of_100()
    {
        var random = new Random(8);
        var held = new Dictionary<string, int>
        {
            ["exponent"] = 0,
            ["brick"] = 0,
            ["board"] = 0,
            ["offset"] = 0,
        };
        const int seeds = 200;
        for (var seed = 0; seed < seeds; seed++)
        {
            var (site, places) = Corridors(24 + random.Next(24), random);
            double Between(double low, double high) => low + random.NextDouble() * (high - low);
            var truth = new Truth(Between(1.4, 4), Between(-4, 14), Between(-1, 10), Between(-14, 14));
            // Ordinary noise, heavy tails, or one place of ten that is far off.
            double Noise() =>
                (seed % 3) switch
                {
                    0 => Normal.Sample(random, 0, 5),
                    1 => 3 * StudentT.Sample(random, 0, 1, 3),
                    _ => random.Next(10) == 0 ? Normal.Sample(random, 0, 20) : Normal.Sample(random, 0, 4),
                };
            var fit = LinkFit
                .Of(site, Samples.Catalogue, Walked(places.Select(p => (p.Spot, Signal(p.Metres, p.Bricks, p.Boards, truth, 14) + Noise()))))
                .Single();
            void Holds(string what, Core.Common.Figure figure, double value) => held[what] += figure.Low <= value && value <= figure.High ? 1 : 0;
            Holds("exponent", fit.Exponent, truth.Exponent);
            Holds("brick", fit.Losses.Single(l => l.Kind == "brick wall").Extra, truth.Brick);
            Holds("board", fit.Losses.Single(l => l.Kind == "plasterboard wall").Extra, truth.Board);
            Holds("offset", fit.Offsets.Single().Offset, truth.Offset + 14 - Power(site));
        }
        Assert.All(held, h => Assert.True(h.Value is >= 90 * seeds / 100 and <= 99 * seeds / 100, $"{h.Key}: {h.Value} of {seeds}"));
    }

    /// <summary>Without noise it finds the truth; what is planned with it is what is measured at a place that nobody walked.</summary>
    [Fact]
    public void What_is_planned_with_it_is_what_is_measured()
    {
        var random = new Random(3);
        var (site, places) = Corridors(60, random);
        var power = Power(site);
        var truth = new Truth(2.6, 7, 2, -5);
        var evidence = Walked(places.Select(p => (p.Spot, Signal(p.Metres, p.Bricks, p.Boards, truth, power))));
        var fit = LinkFit.Of(site, Samples.Catalogue, evidence).Single();
        Assert.Equal(2.6, fit.Exponent.Value!.Value, 0.1);
        Assert.Equal(7, fit.Losses.Single(l => l.Kind == "brick wall").Extra.Value!.Value, 0.7);
        Assert.Equal(-5, fit.Offsets.Single().Offset.Value!.Value, 0.7);
        // At 13 m behind three brick walls, in the first corridor.
        var there = site with { Place = site.Place with { Spots = [.. site.Place.Spots.Where(s => s.Key != "s0"), new("s0", "There", null, 13, 0, 1, 0)] } };
        PlannedLink Link(Evidence known) => SitePlanner.Plan(there, Samples.Catalogue, known).Reach.Links.Single(l => l.Node == "walker");
        var (book, fitted) = (Link(Evidence.None), Link(evidence));
        var sensitivity = fitted.Margin.Working.Inputs.Single(i => i.Name == "S").Value;
        Assert.Equal(Signal(13, 3, 0, truth, power), fitted.Margin.Value!.Value + sensitivity, 1.5);
        Assert.True(book.Margin.Value - fitted.Margin.Value > 25);
        // Three places leave more open than sixty do.
        double Spread(PlannedLink link) => link.Delivered.Working.Inputs.Single(i => i.Name == "sigma").Value;
        var three = Link(evidence with { Walks = [.. evidence.Walks.Where(w => w.Spot != "s0").Take(3)] });
        Assert.True(Spread(fitted) < 6 && Spread(three) > 10, $"{Spread(fitted)} and {Spread(three)} dB");
        Assert.Contains("fitted", fitted.Margin.Working.Inputs.Single(i => i.Name == "n").Source);
    }

    /// <summary>What was walked with 14 dBm says the same of the house when the node is set to 2 dBm, and the link has 12 dB less.</summary>
    [Fact]
    public void A_radio_that_is_set_otherwise_after_the_walk_changes_the_link_and_not_the_fit()
    {
        var (site, places) = Corridors(30, new(4));
        var truth = new Truth(2.4, 3, 0, -4);
        var power = Power(site);
        var heard = Walked(places.Select(p => (p.Spot, Signal(p.Metres, p.Bricks, p.Boards, truth, power))));
        var evidence = heard with { Walks = [.. heard.Walks.Select(w => w with { Radio = LinkPlanner.RadioNow(site, Samples.Catalogue, site.Nodes[0]) })] };
        var weaker = site with { Nodes = [site.Nodes[0] with { Radio = new(PowerDbm: power - 12) }, site.Nodes[1]] };
        PlannedLink Link(SiteDesign s) => SitePlanner.Plan(s, Samples.Catalogue, evidence).Reach.Links.Single(l => l.Node == "walker");
        Assert.Equal(
            LinkFit.Of(site, Samples.Catalogue, evidence).Single().Offsets.Single().Offset.Value,
            LinkFit.Of(weaker, Samples.Catalogue, evidence).Single().Offsets.Single().Offset.Value
        );
        Assert.Equal(Link(site).Margin.Value!.Value - 12, Link(weaker).Margin.Value!.Value, 1e-9);
        Assert.Equal(Link(site).Back.Value, Link(weaker).Back.Value);
    }

    [Fact]
    public void One_that_lies_far_off_is_named_and_hardly_counts()
    {
        var (site, places) = Corridors(30, new(5));
        var truth = new Truth(2, 0, 0, 0);
        var power = Power(site);
        List<(Spot Spot, double Dbm)> heard = [.. places.Select(p => (p.Spot, Signal(p.Metres, p.Bricks, p.Boards, truth, power)))];
        heard[7] = (heard[7].Spot, heard[7].Dbm - 40);
        var fit = LinkFit.Of(site, Samples.Catalogue, Walked(heard)).Single();
        Assert.Equal(["Spot 7"], fit.Measured.Where(m => !m.Stands).Select(m => m.Spot));
        Assert.Equal(2, fit.Exponent.Value!.Value, 0.3);
    }

    /// <summary>Two places say nothing, three begin to help; what was half lost, a spot that is gone and a node that is gone do not count.</summary>
    [Fact]
    public void It_begins_with_three_places_and_leaves_out_what_misleads()
    {
        var (site, places) = Corridors(8, new(1));
        var heard = places.Select(p => (p.Spot, -80.0)).ToList();
        Assert.Empty(LinkFit.Of(site, Samples.Catalogue, Walked(heard.Take(2))));
        Assert.Equal(3, LinkFit.Of(site, Samples.Catalogue, Walked(heard.Take(3))).Single().Measured.Count);
        var more = Walked(heard.Take(3));
        SpotWalk Like(Func<SpotWalk, SpotWalk> change) => change(new SpotWalk("walker", "hub", heard[3].Spot.Key, 0, "ann", 20, 0, -80, -83));
        more = more with
        {
            Walks =
            [
                .. more.Walks,
                Like(w => w with { Heard = 10, Lost = 11 }),
                Like(w => w with { Spot = "gone" }),
                Like(w => w with { Node = "gone" }),
                Like(w => w with { MedianDbm = null }),
            ],
        };
        Assert.Equal(3, LinkFit.Of(site, Samples.Catalogue, more).Single().Measured.Count);
        // Everyday arrivals count where the node hangs.
        var daily = more with { Links = [new("walker", LinkKind.LongRange, 990, 1000, -75)] };
        Assert.Equal(-75, LinkFit.Of(site, Samples.Catalogue, daily).Single().Measured[^1].SignalDbm);
    }
}
