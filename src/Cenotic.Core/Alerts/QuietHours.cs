using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>Stretches of the day by the clock on the wall. In the night a clock is set forward an hour of the stretch is missing, in the night it is set back
/// one is there twice: both are right by the clock on the wall. Pure.</summary>
public static class QuietHours
{
    private const long MinuteMs = 60_000;
    private const int MostMinutes = 8 * 24 * 60;

    /// <summary>True when a moment lies in the stretch.</summary>
    /// <param name="atMs">UTC ms.</param>
    public static bool Holds(QuietDesign? quiet, TimeZoneInfo zone, long atMs)
    {
        if (quiet is null)
        {
            return false;
        }
        var local = TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(atMs), zone);
        var minute = local.Hour * 60 + local.Minute;
        var (today, yesterday) = (quiet.Days.Contains(local.DayOfWeek), quiet.Days.Contains(local.AddDays(-1).DayOfWeek));
        return quiet.FromMinute < quiet.ToMinute
            ? today && minute >= quiet.FromMinute && minute < quiet.ToMinute
            : (today && minute >= quiet.FromMinute) || (yesterday && minute < quiet.ToMinute);
    }

    /// <summary>The moment itself when it lies outside, else the first full minute after the stretch, UTC ms.</summary>
    public static long After(QuietDesign? quiet, TimeZoneInfo zone, long atMs)
    {
        for (var step = 0; step < MostMinutes && Holds(quiet, zone, atMs); step++)
        {
            atMs = (atMs / MinuteMs + 1) * MinuteMs;
        }
        return atMs;
    }
}
