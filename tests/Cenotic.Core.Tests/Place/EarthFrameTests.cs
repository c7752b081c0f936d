using Cenotic.Core.Design;
using Cenotic.Core.Place;
using CsCheck;

namespace Cenotic.Core.Tests.Place;

/// <summary>The plan on the earth, against the ellipsoid itself.</summary>
public class EarthFrameTests
{
    /// <summary>Lengths of a degree on WGS 84, m, as tables have them.</summary>
    [Theory]
    [InlineData(0, 110_574, 111_320)]
    [InlineData(15, 110_649, 107_550)]
    [InlineData(30, 110_852, 96_486)]
    [InlineData(45, 111_132, 78_847)]
    [InlineData(60, 111_412, 55_800)]
    [InlineData(75, 111_618, 28_902)]
    public void A_degree_is_as_long_as_tables_say(double latitude, double north, double east)
    {
        Assert.Equal(north, EarthFrame.MetresOfLatitude(latitude), 1.0);
        Assert.Equal(east, EarthFrame.MetresOfLongitude(latitude), 1.0);
    }

    /// <summary>A place on the ellipsoid in space, m: semi-major axis and flattening of WGS 84.</summary>
    private static (double X, double Y, double Z) InSpace(double latitude, double longitude)
    {
        const double Axis = 6_378_137,
            Flattening = 1 / 298.257223563;
        const double Squared = Flattening * (2 - Flattening);
        var (phi, lambda) = (latitude * Math.PI / 180, longitude * Math.PI / 180);
        var across = Axis / Math.Sqrt(1 - Squared * Math.Sin(phi) * Math.Sin(phi));
        return (across * Math.Cos(phi) * Math.Cos(lambda), across * Math.Cos(phi) * Math.Sin(lambda), across * (1 - Squared) * Math.Sin(phi));
    }

    private static double Apart((double Latitude, double Longitude) a, (double Latitude, double Longitude) b)
    {
        var (p, q) = (InSpace(a.Latitude, a.Longitude), InSpace(b.Latitude, b.Longitude));
        return Math.Sqrt(Math.Pow(p.X - q.X, 2) + Math.Pow(p.Y - q.Y, 2) + Math.Pow(p.Z - q.Z, 2));
    }

    private static readonly Gen<SiteAnchor> Anchors = Gen.Select(
        Gen.Double[-70, 70],
        Gen.OneOf(Gen.Double[-180, 180], Gen.Const(180.0), Gen.Const(-180.0)),
        Gen.Double[0, 360],
        (latitude, longitude, bearing) => new SiteAnchor(latitude, longitude, bearing)
    );

    private static readonly Gen<Point> Places = Gen.Select(Gen.Double[-200, 200], Gen.Double[-200, 200], (x, y) => new Point(x, y));

    [Fact]
    public void Places_are_as_far_apart_on_the_earth_as_on_the_plan_and_come_back() =>
        Gen.Select(Anchors, Places, Places)
            .Sample(
                (anchor, a, b) =>
                {
                    var frame = new EarthFrame(anchor);
                    var onPlan = Math.Sqrt(Math.Pow(a.X - b.X, 2) + Math.Pow(a.Y - b.Y, 2));
                    // Two centimetres in 400 m, far north and south.
                    Assert.Equal(onPlan, Apart(frame.OnEarth(a), frame.OnEarth(b)), 0.02);
                    var (latitude, longitude) = frame.OnEarth(a);
                    var back = frame.OnPlan(latitude, longitude);
                    Assert.Equal(a.X, back.X, 1e-6);
                    Assert.Equal(a.Y, back.Y, 1e-6);
                    Assert.InRange(longitude, -180, 180);
                },
                iter: 2_000
            );

    /// <summary>Up the plan lies where its bearing says: with 90 degrees that is east, and the right edge lies south.</summary>
    [Fact]
    public void Up_the_plan_lies_where_its_bearing_says()
    {
        var (latitude, longitude) = new EarthFrame(new(50, 10, 90)).OnEarth(new(0, -100));
        Assert.Equal(50, latitude, 1e-9);
        Assert.True(longitude > 10);
        (latitude, longitude) = new EarthFrame(new(50, 10, 90)).OnEarth(new(100, 0));
        Assert.True(latitude < 50);
        Assert.Equal(10, longitude, 1e-9);
    }
}
