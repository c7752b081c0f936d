using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using MathNet.Numerics;
using MathNet.Numerics.Integration;
using MathNet.Numerics.LinearRegression;

namespace Cenotic.Core.Tests.Watch;

/// <summary>What tiles compute: vessels, trends, and the view that lays itself out.</summary>
public class ViewTests
{
    private static VesselTile Vessel(VesselShape shape) => new(new("n", "d"), shape, true, 150, 100, 200, 120);

    [Fact]
    public void Volumes_are_those_of_geometry()
    {
        // By hand: a cylinder of 1 m across holds π/4 m³ for each metre of height; a box of 1 m by 2 m holds 2 m³.
        Assert.Equal(1000 * Math.PI / 4, Core.Watch.Vessel.Litres(Vessel(VesselShape.Upright), 100), 1e-9);
        Assert.Equal(1000, Core.Watch.Vessel.Litres(Vessel(VesselShape.Box), 50), 1e-9);
        Assert.Equal(1000 * Math.PI / 4 * 2, Core.Watch.Vessel.Litres(Vessel(VesselShape.Lying), 100), 1e-9);
        Assert.Equal(1000 * Math.PI / 4, Core.Watch.Vessel.Litres(Vessel(VesselShape.Lying), 50), 1e-9);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(17)]
    [InlineData(50)]
    [InlineData(83)]
    public void A_lying_cylinder_holds_the_integral_of_its_width_over_the_height(double level)
    {
        // Numeric integration by another library: the water's width at each height times the length.
        var litres = GaussLegendreRule.Integrate(h => 2 * Math.Sqrt(Math.Max(0, 50 * 50 - (50 - h) * (50 - h))) * 200 / 1000, 0, level, 256);
        Assert.Equal(litres, Core.Watch.Vessel.Litres(Vessel(VesselShape.Lying), level), 0.02);
    }

    [Fact]
    public void A_distance_becomes_a_level_in_whatever_length_it_comes_with_its_band()
    {
        var metres = Core.Watch.Vessel.Of(Vessel(VesselShape.Upright), 0.9, "m", 0.01)!;
        Assert.Equal(60, metres.Level.Value!.Value, 1e-9);
        Assert.Equal((59, 61), (Math.Round(metres.Level.Low!.Value, 6), Math.Round(metres.Level.High!.Value, 6)));
        Assert.Equal(50, metres.Share.Value!.Value, 1e-9);
        Assert.Equal(60, Core.Watch.Vessel.Of(Vessel(VesselShape.Upright), 900, "mm", 0)!.Level.Value!.Value, 1e-9);
        // A height of water, and what cannot be: more than full.
        Assert.Equal(30, Core.Watch.Vessel.Of(Vessel(VesselShape.Upright) with { Down = false }, 30, "cm", 0)!.Level.Value!.Value, 1e-9);
        Assert.Equal(120, Core.Watch.Vessel.Of(Vessel(VesselShape.Upright), 5, "cm", 0)!.Level.Value!.Value, 1e-9);
        Assert.Null(Core.Watch.Vessel.Of(Vessel(VesselShape.Upright), 5, "°C", 0));
    }

    [Fact]
    public void A_trend_is_the_slope_of_least_squares_and_noise_has_none()
    {
        var random = new Random(7);
        var rising = Enumerable.Range(0, 60).Select(i => ((long)i * 60_000, 20 + 1.5 * i / 60 + 0.05 * (random.NextDouble() - 0.5))).ToList();
        var (_, slope) = SimpleRegression.Fit([.. rising.Select(p => p.Item1 / 3_600_000.0)], [.. rising.Select(p => p.Item2)]);
        Assert.Equal(slope, Trend.PerHour([.. rising])!.Value, 1e-9);
        var lots = Enumerable
            .Range(0, 200)
            .Count(seed =>
            {
                var noise = new Random(seed);
                return Trend.PerHour([.. Enumerable.Range(0, 60).Select(i => ((long)i * 60_000, 20 + noise.NextDouble()))]) is not null;
            });
        // Twice the standard error is passed by chance about one time in twenty.
        Assert.InRange(lots, 1, 22);
        Assert.Null(Trend.PerHour([(0, 1), (1, 2), (2, 3)]));
        Assert.Null(Trend.PerHour([(5, 1), (5, 2), (5, 3), (5, 4)]));
    }

    [Fact]
    public void The_demo_site_lays_itself_out_without_a_reading_twice_as_a_figure_and_passes_the_checks_of_a_view()
    {
        var site = Samples.Fernhollow().Design;
        var view = FirstView.Of(site, (node, key) => site.Node(node)!.Reading(key)!.Quantity switch
            {
                "rain" => ReadingKind.Counter,
                "presence" or "motion" or "contact" or "vibration" or "level" or "relay" or "tone" => ReadingKind.State,
                _ => ReadingKind.Gauge,
            });
        Assert.True(EditBatch.Apply(site, [new PutView(view)]).Ok);
        var figures = view.Tiles.Select(t => t.Content).OfType<FigureTile>().ToList();
        Assert.Equal(8, figures.Count);
        Assert.Equal(figures.Count, figures.Distinct().Count());
        Assert.Contains(view.Tiles, t => t.Content is ZoneTile { Zone: "house" });
        Assert.Contains(view.Tiles, t => t.Content is CounterTile);
        Assert.Contains(view.Tiles, t => t.Content is OutputTile { Output.Reading: "fan" });
        Assert.All(view.Tiles, t => Assert.True(t.Content.Readings.Count <= 8));
        Assert.Empty(FirstView.Of(SiteDesign.Empty("new"), (_, _) => ReadingKind.Gauge).Tiles);
    }
}
