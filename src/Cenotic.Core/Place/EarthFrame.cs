using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>From the plan to the earth and back, over a few hundred metres: the ellipsoid of WGS 84 is taken as flat about the anchor. Lengths of a degree by
/// their usual series (NIMA TR8350.2 gives the ellipsoid); over 500 m it is within a few centimetres.</summary>
/// <param name="anchor">Where the plan's upper left corner lies.</param>
public sealed class EarthFrame(SiteAnchor anchor)
{
    private readonly double _north = MetresOfLatitude(anchor.LatitudeDegrees);
    private readonly double _east = MetresOfLongitude(anchor.LatitudeDegrees);
    private readonly (double Sin, double Cos) _bearing = Math.SinCos(anchor.BearingDegrees * Math.PI / 180);

    /// <summary>Length of a degree of latitude, m.</summary>
    /// <param name="latitude">Degrees.</param>
    public static double MetresOfLatitude(double latitude)
    {
        var phi = latitude * Math.PI / 180;
        return 111_132.954 - 559.822 * Math.Cos(2 * phi) + 1.175 * Math.Cos(4 * phi);
    }

    /// <summary>Length of a degree of longitude, m.</summary>
    /// <param name="latitude">Degrees.</param>
    public static double MetresOfLongitude(double latitude)
    {
        var phi = latitude * Math.PI / 180;
        return 111_412.84 * Math.Cos(phi) - 93.5 * Math.Cos(3 * phi) + 0.118 * Math.Cos(5 * phi);
    }

    /// <summary>Where a place of the plan lies, degrees.</summary>
    public (double Latitude, double Longitude) OnEarth(Point at)
    {
        // To the right of the plan, and up it, as parts of east and north.
        var east = at.X * _bearing.Cos - at.Y * _bearing.Sin;
        var north = -at.X * _bearing.Sin - at.Y * _bearing.Cos;
        return (anchor.LatitudeDegrees + north / _north, Turned(anchor.LongitudeDegrees + east / _east));
    }

    /// <summary>The place of the plan that lies there, m.</summary>
    public Point OnPlan(double latitude, double longitude)
    {
        var north = (latitude - anchor.LatitudeDegrees) * _north;
        var east = Turned(longitude - anchor.LongitudeDegrees) * _east;
        return new(east * _bearing.Cos - north * _bearing.Sin, -east * _bearing.Sin - north * _bearing.Cos);
    }

    /// <summary>Degrees of longitude from −180 to 180.</summary>
    private static double Turned(double degrees) => Math.IEEERemainder(degrees, 360);
}
