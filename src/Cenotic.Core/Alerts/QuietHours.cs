using Cenotic.Core.Design;
using NodaTime;
using NodaTime.TimeZones;

namespace Cenotic.Core.Alerts;

/// <summary>Stretches of the day by the clock on the wall. In the night a clock is set forward an hour of the stretch is missing, in the night it is set back
/// one is there twice: both are right by the clock on the wall. Pure.</summary>
public static class QuietHours
{
    private const int MostEdges = 32;

    /// <summary>True when a moment lies in the stretch.</summary>
    /// <param name="atMs">UTC ms.</param>
    public static bool Holds(QuietDesign? quiet, TimeZoneInfo zone, long atMs) =>
        quiet is not null && Holds(quiet, Instant.FromUnixTimeMilliseconds(atMs).InZone(ZoneOf(zone)).LocalDateTime);

    /// <summary>The moment itself when it lies outside, else the first one after the stretch, UTC ms.</summary>
    public static long After(QuietDesign? quiet, TimeZoneInfo zone, long atMs)
    {
        for (var step = 0; step < MostEdges && Holds(quiet, zone, atMs); step++)
        {
            atMs = NextEdge(quiet!, zone, atMs);
        }
        return atMs;
    }

    /// <summary>The first moment after <paramref name="atMs"/> at which the stretch may begin or end: its hours on the wall, midnight, or the clock being set.
    /// Nothing begins or ends before it.</summary>
    /// <returns>UTC ms.</returns>
    public static long NextEdge(QuietDesign quiet, TimeZoneInfo zone, long atMs)
    {
        var now = Instant.FromUnixTimeMilliseconds(atMs);
        // Up to the next time it is set the clock goes evenly.
        var even = ZoneOf(zone).GetZoneInterval(now);
        var local = now.WithOffset(even.WallOffset).LocalDateTime;
        var edges = new[] { 0, quiet.FromMinute, quiet.ToMinute }
            .SelectMany(minute => new[] { local.Date, local.Date.PlusDays(1) }.Select(day => day.AtMidnight().PlusMinutes(minute)))
            .Where(edge => edge > local)
            .Min();
        var next = edges.WithOffset(even.WallOffset).ToInstant();
        return (even.HasEnd && even.End < next ? even.End : next).ToUnixTimeMilliseconds();
    }

    private static bool Holds(QuietDesign quiet, LocalDateTime local)
    {
        var minute = local.Hour * 60 + local.Minute;
        bool On(LocalDate day) => quiet.Days.Contains((DayOfWeek)((int)day.DayOfWeek % 7));
        return quiet.FromMinute < quiet.ToMinute
            ? On(local.Date) && minute >= quiet.FromMinute && minute < quiet.ToMinute
            : (On(local.Date) && minute >= quiet.FromMinute) || (On(local.Date.PlusDays(-1)) && minute < quiet.ToMinute);
    }

    /// <summary>The published rules of a zone; those of this machine where it knows a zone that was not published.</summary>
    private static DateTimeZone ZoneOf(TimeZoneInfo zone) => DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone.Id) ?? BclDateTimeZone.FromTimeZoneInfo(zone);
}
