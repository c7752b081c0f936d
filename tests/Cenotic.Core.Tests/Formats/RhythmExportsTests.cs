using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.Formats;

/// <summary>The timetable by RFC 4180 and the battery dates by RFC 5545.</summary>
public class RhythmExportsTests
{
    private static (SiteDesign Site, SitePlan Plan) Planned(Func<SiteDesign, SiteDesign>? change = null)
    {
        var file = Samples.Fernhollow();
        var site = change?.Invoke(file.Design) ?? file.Design;
        return (site, SitePlanner.Plan(site, Samples.Catalogue, file.Evidence));
    }

    private static string Calendar(SitePlan plan) => RhythmExports.BatteryCalendar("fernhollow", plan.Rhythm, new(2026, 11, 25, 9, 30, 0, DateTimeKind.Utc));

    [Fact]
    public void The_timetable_has_a_row_for_each_reading_and_says_what_the_plan_says()
    {
        var (site, plan) = Planned();
        var rows = RhythmExports.TimetableCsv(site, [.. plan.Nodes.Select(n => n.Rhythm)], plan.Reach).Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(1 + site.Nodes.Sum(n => n.Readings.Count), rows.Length);
        var cells = rows.Single(r => r.StartsWith("Cistern level,Distance to water,", StringComparison.Ordinal)).Split(',');
        var timing = plan.Node("cistern")!.Rhythm.Readings.Single(r => r.Reading == "level");
        var slot = plan.Reach.Channels.SelectMany(c => c.Slots).Single(s => s.Node == "cistern");
        Assert.Equal(["by the clock", "900", "1", "1"], cells[4..8]);
        Assert.Equal(timing.Lateness.Value!.Value, double.Parse(cells[9], System.Globalization.CultureInfo.InvariantCulture), 0.001);
        Assert.Equal([$"{slot.OffsetMs}", $"{slot.DurationMs}", $"{slot.PeriodMs}"], cells[10..13]);
    }

    [Fact]
    public void A_name_cannot_become_a_formula_or_break_its_row()
    {
        var (site, plan) = Planned(s => s with { Nodes = [s.Nodes[0] with { Label = "=1+1,\"x\"" }] });
        var text = RhythmExports.TimetableCsv(site, [.. plan.Nodes.Select(n => n.Rhythm)], plan.Reach);
        Assert.DoesNotContain("\n=", text);
        Assert.DoesNotContain("\n\"=", text);
        Assert.Contains("=1+1,\"\"x\"\"\"", text);
    }

    [Fact]
    public void A_battery_date_is_an_all_day_event_on_the_earliest_day()
    {
        var (_, plan) = Planned();
        var text = Calendar(plan);
        var due = plan.Rhythm.Due.Single(d => d.Node == "cistern");
        Assert.Equal(new DateOnly(2026, 10, 30).AddDays((int)due.Life.Low!.Value), due.Early);
        // RFC 5545: 3.1 (CRLF, 75 octets a line), 3.4 and 3.6 (the envelope), 3.6.1 (UID and DTSTAMP),
        // 3.3.4 and 3.8.2.2 (a date, and an end that is not part of it).
        var lines = text.Split("\r\n");
        Assert.Equal(("BEGIN:VCALENDAR", "END:VCALENDAR", ""), (lines[0], lines[^2], lines[^1]));
        Assert.All(lines, l => Assert.InRange(System.Text.Encoding.UTF8.GetByteCount(l), 0, 75));
        Assert.DoesNotContain('\n', text.Replace("\r\n", "", StringComparison.Ordinal));
        var unfolded = text.Replace("\r\n ", "", StringComparison.Ordinal);
        Assert.Contains("VERSION:2.0", unfolded);
        Assert.Contains("PRODID:", unfolded);
        Assert.Contains("UID:cells-cistern-fernhollow@cenotic.invalid", unfolded);
        Assert.Contains("DTSTAMP:20261125T093000Z", unfolded);
        Assert.Contains($"DTSTART;VALUE=DATE:{due.Early:yyyyMMdd}", unfolded);
        Assert.Contains($"DTEND;VALUE=DATE:{due.Early!.Value.AddDays(1):yyyyMMdd}", unfolded);
        Assert.Equal(Calendar(plan), text);
    }

    [Fact]
    public void Cells_without_a_day_and_cells_that_light_charges_have_no_date()
    {
        var (_, plan) = Planned();
        Assert.DoesNotContain(plan.Rhythm.Due, d => d.Node == "rain");
        Assert.True(plan.Node("rain")!.Rhythm.CarriedByLight);
        var (_, undated) = Planned(s => s with { Nodes = [.. s.Nodes.Select(n => n with { Power = n.Power with { FittedOn = null } })] });
        Assert.Null(undated.Rhythm.Due.Single(d => d.Node == "cistern").Early);
        Assert.DoesNotContain("VEVENT", Calendar(undated));
    }
}
