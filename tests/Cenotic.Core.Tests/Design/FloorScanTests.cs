using System.Numerics;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Design;

/// <summary>A paper plan scaled by two points: checked with complex numbers, in which a turn and a scale are one factor.</summary>
public class FloorScanTests
{
    private static Complex Lies(FloorScan scan, Complex pixel) =>
        new Complex(scan.X, scan.Y) + pixel * Complex.FromPolarCoordinates(scan.MetresPerPixel, scan.TurnDegrees * Math.PI / 180);

    private static FloorScan Fitted(FloorScan scan, Complex a, Complex b, double metres, bool level)
    {
        var site = Samples.Fernhollow().Design;
        site = site with { Place = site.Place with { Scans = [scan] } };
        var fit = new FitScan(null, new(a.Real, a.Imaginary), new(b.Real, b.Imaginary), metres, level);
        return EditBatch.Apply(site, [fit]).Value.After.Place.Scans.Single();
    }

    /// <summary>On paper: 300 pixels are a wall of 4.5 m, so a pixel is 15 mm; the wall runs down to the right by 45 degrees and is turned level.</summary>
    [Fact]
    public void A_wall_of_known_length_scales_the_picture_and_sets_it_level()
    {
        var scan = new FloorScan(null, 1, 1000, 800, 0, 0, 0.01, 0);
        var along = 300 * 0.01 / Math.Sqrt(2);
        var fitted = Fitted(scan, new(1, 1), new(1 + along, 1 + along), 4.5, level: false);
        Assert.Equal(0.015, fitted.MetresPerPixel, 1e-12);
        Assert.Equal((-0.5, -0.5, 0.0), (fitted.X, fitted.Y, fitted.TurnDegrees));
        var level = Fitted(scan, new(1, 1), new(1 + along, 1 + 0.999 * along), 4.5, level: true);
        Assert.Equal(-Math.Atan(0.999) * 180 / Math.PI, level.TurnDegrees, 1e-9);
    }

    [Fact]
    public void Two_points_come_to_lie_as_far_apart_as_was_measured_and_the_first_stays() =>
        Gen.Select(Gen.Double[-20, 20], Gen.Double[-20, 20], Gen.Double[0.005, 0.03], Gen.Double[-180, 180], Gen.Double[100, 900], Gen.Double[100, 700])
            .Select(Gen.Double[1000, 1900], Gen.Double[0, 1400], Gen.Double[2, 12], Gen.Bool, (s, u, v, metres, level) => (s, u, v, metres, level))
            .Sample(
                t =>
                {
                    var scan = new FloorScan(null, 1, 2000, 1500, t.s.Item1, t.s.Item2, t.s.Item3, t.s.Item4);
                    var (first, second) = (new Complex(t.s.Item5, t.s.Item6), new Complex(t.u, t.v));
                    var fitted = Fitted(scan, Lies(scan, first), Lies(scan, second), t.metres, t.level);
                    var line = Lies(fitted, second) - Lies(fitted, first);
                    Assert.Equal(t.metres, line.Magnitude, 1e-9);
                    Assert.Equal(0, (Lies(fitted, first) - Lies(scan, first)).Magnitude, 2e-4);
                    var was = Lies(scan, second) - Lies(scan, first);
                    var turned = (line / was).Phase * 180 / Math.PI;
                    Assert.True(Math.Abs(turned) <= (t.level ? 45 + 1e-6 : 1e-6), $"turned by {turned}");
                    Assert.True(!t.level || Math.Min(Math.Abs(line.Real), Math.Abs(line.Imaginary)) < 1e-6, $"{line} is not level");
                },
                iter: 2000
            );

    [Fact]
    public void A_site_file_goes_without_the_pictures_under_the_plan()
    {
        var file = Samples.Fernhollow();
        var site = file.Design with { Place = file.Design.Place with { Scans = [new(null, 1, 1000, 800, 0, 0, 0.01)] } };
        Assert.Empty(SiteFiles.Read(SiteFiles.Write(site, file.Evidence)).Value.Design.Place.Scans);
    }
}
