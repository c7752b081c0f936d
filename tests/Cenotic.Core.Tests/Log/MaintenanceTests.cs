using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;

namespace Cenotic.Core.Tests.Log;

public class MaintenanceTests
{
    private const long Day = 86_400_000,
        Now = 1_790_000_000_000;

    private static IReadOnlyList<DueItem> Due(IReadOnlyDictionary<string, long>? done = null, params DueCalibration[] calibrations) =>
        WithCells(new DueCells(Now + 20 * Day, Now - 100 * Day), done, calibrations);

    private static IReadOnlyList<DueItem> WithCells(DueCells cells, IReadOnlyDictionary<string, long>? done, params DueCalibration[] calibrations) =>
        Maintenance.Of(
            Samples.Fernhollow().Design,
            Samples.Catalogue,
            new Dictionary<string, DueCells> { ["cistern"] = cells },
            calibrations,
            done ?? new Dictionary<string, long>(),
            _ => Now - 60 * Day
        );

    [Fact]
    public void Cells_that_are_not_those_entered_are_to_be_looked_at_and_have_no_date_of_their_end() =>
        Assert.Contains(WithCells(new DueCells(Now, Now - 100 * Day, Unlike: true), null), d =>
            d is { Key: "cells-cistern", What: "Look which cells are fitted: they do not behave like those entered", DueMs: Now }
        );

    [Fact]
    public void Cells_calibrations_and_what_gets_dirty_stand_in_order_of_when_they_are_due()
    {
        var due = Due(null, new("hall", "temp", "Hall temperature", Now - 300 * Day, Now - Day), new("gone", "x", "Of a node that is gone", 0, 0));
        Assert.Equal(due.Select(d => d.DueMs).Order(), due.Select(d => d.DueMs));
        Assert.Equal(("calibration-hall-temp", DueKind.Calibration), (due[0].Key, due[0].Kind));
        Assert.Contains(due, d => d is { Key: "cells-cistern", What: "Charge or change the cells", DueMs: Now + 20 * Day });
        Assert.Contains(due, d => d.Key == "cleaning-rain-bucket" && d.What.Contains("funnel", StringComparison.Ordinal));
        Assert.Contains(due, d => d.Key == "cleaning-parcel-light-cell");
        Assert.Contains(due, d => d.Key == "cleaning-cistern-node");
        Assert.DoesNotContain(due, d => d.Node is "gateway" or "gone");
        Assert.Equal(due.Count, due.Select(d => d.Key).Distinct().Count());
    }

    [Fact]
    public void Work_that_was_done_is_due_its_interval_later()
    {
        var before = Due().Single(d => d.Key == "cleaning-rain-bucket");
        var after = Due(new Dictionary<string, long> { ["cleaning-rain-bucket"] = Now }).Single(d => d.Key == "cleaning-rain-bucket");
        Assert.Null(before.LastMs);
        Assert.Equal(Now, after.LastMs);
        Assert.Equal(60 * Day, after.DueMs - before.DueMs);
        // Three months of 30.44 days.
        Assert.Equal(91.32, (after.DueMs - Now) / (double)Day, 0.01);
    }

    [Fact]
    public void The_calendar_reads_back_and_text_cannot_break_out_of_its_line()
    {
        DueItem[] items =
        [
            new("cells-n", DueKind.Cells, "n", "Node; a, b\r\nEND:VCALENDAR", null, "Change \\ the cells", Now + Day, null),
            new("x", DueKind.Cleaning, "n", "N", null, new('ä', 200), Now - 9 * Day, null),
        ];
        var text = DueCalendar.Write("home", "Due at home", items, TimeZoneInfo.FindSystemTimeZoneById("Pacific/Auckland"), Now);
        // RFC 5545, 3.1: lines end with CRLF and have at most 75 octets.
        Assert.DoesNotContain("\n", text.Replace("\r\n", "", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.All(text.Split("\r\n"), l => Assert.True(System.Text.Encoding.UTF8.GetByteCount(l) <= 75, l));
        Assert.Single(text.Split("\r\n"), l => l == "END:VCALENDAR");
        var calendar = Ical.Net.Calendar.Load(text)!;
        Assert.Equal(2, calendar.Events.Count);
        var first = calendar.Events.Single(e => e.Uid == "cells-n@home.cenotic");
        Assert.Equal("Node; a, b  END:VCALENDAR: Change \\ the cells", first.Summary);
        // 1,790,086,400 s is 2026-09-22 14:13 in UTC and the 23rd in Auckland.
        Assert.Equal(new DateOnly(2026, 9, 23), first.Start!.Date);
        Assert.False(first.Start.HasTime);
        // What is overdue stands on today.
        Assert.Equal(new DateOnly(2026, 9, 22), calendar.Events.Single(e => e.Uid == "x@home.cenotic").Start!.Date);
    }
}
