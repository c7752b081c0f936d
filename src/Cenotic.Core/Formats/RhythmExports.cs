using System.Globalization;
using Cenotic.Core.Design;
using Cenotic.Core.Reach;
using Cenotic.Core.Rhythm;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;

namespace Cenotic.Core.Formats;

/// <summary>The rhythm of a site for other tools: the timetable as CSV (RFC 4180), battery dates as iCalendar (RFC 5545).</summary>
public static class RhythmExports
{
    /// <summary>A row for each reading of each node.</summary>
    public static string TimetableCsv(SiteDesign site, IReadOnlyList<RhythmPlan> plans, ReachPlan reach) =>
        GuardedCsv.Of(
            [
                "node",
                "reading",
                "quantity",
                "part",
                "when",
                "every s",
                "every n-th wake",
                "batch",
                "usually late s",
                "late at most s",
                "slot starts ms",
                "slot lasts ms",
                "slot period ms",
            ],
            site.Nodes.SelectMany(node =>
            {
                var plan = plans.First(p => p.Node == node.Key);
                var slot = reach.Channels.SelectMany(c => c.Slots).FirstOrDefault(s => s.Node == node.Key);
                return node.Readings.Select(reading =>
                {
                    var timing = plan.Readings.FirstOrDefault(t => t.Reading == reading.Key);
                    return (IReadOnlyList<string>)
                        [
                            node.Label,
                            reading.Label,
                            reading.Quantity,
                            reading.Part,
                            reading.IntervalMs is null ? "on change" : "by the clock",
                            Seconds((timing?.IntervalMs ?? reading.HeartbeatMs) / 1000.0),
                            timing is { EveryWakes: > 0 } ? $"{timing.EveryWakes}" : "",
                            $"{reading.BatchOf}",
                            Seconds(timing?.UsualLateness.Value),
                            Seconds(timing?.Lateness.Value),
                            $"{slot?.OffsetMs}",
                            $"{slot?.DurationMs}",
                            $"{slot?.PeriodMs}",
                        ];
                });
            })
        );

    /// <summary>A day for each node whose cells have a date: the earliest day they may be empty, with the likely one in the text.</summary>
    /// <param name="site">Key of the site: part of the ids, which stay the same from export to export.</param>
    /// <param name="stamp">When the file is written, UTC.</param>
    public static string BatteryCalendar(string site, SiteRhythm together, DateTime stamp)
    {
        var calendar = new Ical.Net.Calendar { ProductId = "-//Cenotic//Battery dates//EN" };
        foreach (var due in together.Due.Where(d => d.Early is not null))
        {
            calendar.Events.Add(
                new CalendarEvent
                {
                    Uid = $"cells-{due.Node}-{site}@cenotic.invalid",
                    Summary = $"Cells of {due.Label}: {due.Cell}",
                    Description = string.Create(
                        CultureInfo.InvariantCulture,
                        $"Fitted {due.FittedOn:yyyy-MM-dd}. They last {due.Life.Low:0} days at least and {due.Life.Value:0} days likely, until "
                            + $"{due.Likely:yyyy-MM-dd}."
                    ),
                    Start = new CalDateTime(due.Early!.Value),
                    End = new CalDateTime(due.Early.Value.AddDays(1)),
                    DtStamp = new CalDateTime(DateTime.SpecifyKind(stamp, DateTimeKind.Utc)),
                    Transparency = Ical.Net.TransparencyType.Transparent,
                }
            );
        }
        return new CalendarSerializer().SerializeToString(calendar) ?? "";
    }

    private static string Seconds(double? seconds) => seconds?.ToString("0.###", CultureInfo.InvariantCulture) ?? "";
}
