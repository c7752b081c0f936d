using Cenotic.Core.Log;
using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;

namespace Cenotic.Core.Formats;

/// <summary>What is due as a calendar (RFC 5545): an all-day event for each work.</summary>
public static class DueCalendar
{
    /// <param name="site">Key of the site: with the key of the work it makes the identity of
    /// an event, so that a work that moves is moved and not added.</param>
    /// <param name="name">What the calendar is called.</param>
    /// <param name="zone">Of the site: the day is taken in it.</param>
    /// <param name="nowMs">What is overdue is put on today, UTC ms.</param>
    public static string Write(string site, string name, IEnumerable<DueItem> items, TimeZoneInfo zone, long nowMs)
    {
        var calendar = new Calendar { ProductId = "-//Cenotic//Due//EN" };
        calendar.AddProperty("X-WR-CALNAME", name);
        foreach (var item in items)
        {
            var at = TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(Math.Max(item.DueMs, nowMs)), zone);
            calendar.Events.Add(
                new CalendarEvent
                {
                    Uid = $"{item.Key}@{site}.cenotic",
                    Summary = Line($"{item.NodeLabel}: {item.What}"),
                    Start = new CalDateTime(at.Year, at.Month, at.Day),
                    DtStamp = new CalDateTime(DateTimeOffset.FromUnixTimeMilliseconds(nowMs).UtcDateTime, "UTC"),
                    Categories = [item.Kind.ToString()],
                    Transparency = TransparencyType.Transparent,
                }
            );
        }
        return new CalendarSerializer().SerializeToString(calendar)!;
    }

    /// <summary>Text on one line: what breaks lines or rings a bell has no place in a calendar.</summary>
    private static string Line(string text) => string.Concat(text.Select(c => char.IsControl(c) ? ' ' : c));
}
