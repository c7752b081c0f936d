namespace Cenotic.Core.Electrical;

/// <summary>Light of the sun above the air by latitude and day. Source: FAO Irrigation and Drainage Paper 56, equations 21 to 25.</summary>
public static class SunLight
{
    private const double SolarConstant = 0.0820,
        WattHoursPerMegajoule = 1000 / 3.6;

    /// <summary>Energy on a level square metre above the air on a day, Wh/m².</summary>
    /// <param name="latitudeDegrees">North positive, −90 to 90.</param>
    /// <param name="dayOfYear">1 to 366.</param>
    public static double WattHoursAboveAir(double latitudeDegrees, int dayOfYear)
    {
        var latitude = latitudeDegrees * Math.PI / 180;
        var turn = 2 * Math.PI / 365 * dayOfYear;
        var distance = 1 + 0.033 * Math.Cos(turn);
        var declination = 0.409 * Math.Sin(turn - 1.39);
        var sunset = Math.Acos(Math.Clamp(-Math.Tan(latitude) * Math.Tan(declination), -1, 1));
        var megajoules =
            24
            * 60
            / Math.PI
            * SolarConstant
            * distance
            * (sunset * Math.Sin(latitude) * Math.Sin(declination) + Math.Cos(latitude) * Math.Cos(declination) * Math.Sin(sunset));
        return Math.Max(0, megajoules) * WattHoursPerMegajoule;
    }

    /// <summary>Hours between sunrise and sunset (equation 34).</summary>
    public static double LitHours(double latitudeDegrees, int dayOfYear)
    {
        var declination = 0.409 * Math.Sin(2 * Math.PI / 365 * dayOfYear - 1.39);
        return 24 / Math.PI * Math.Acos(Math.Clamp(-Math.Tan(latitudeDegrees * Math.PI / 180) * Math.Tan(declination), -1, 1));
    }

    /// <summary>The day that stands for a month (1 to 12), by equation 23's note: J = 30.4 M − 15.</summary>
    public static int DayOfMonth(int month) => (int)(30.4 * month - 15);
}
