using Cenotic.Core.Alerts;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Alerts;

/// <summary>Whole stories on a clock of their own, each with its notices in order.</summary>
public class AlertScenarioTests
{
    private const long Second = 1_000,
        Minute = 60_000,
        Hour = 3_600_000;
    private static readonly TimeZoneInfo London = TimeZoneInfo.FindSystemTimeZoneById("Europe/London");
    private static readonly IReadOnlyList<DayOfWeek> EveryDay = Enum.GetValues<DayOfWeek>();
    private static readonly QuietDesign Night = new(22 * 60, 7 * 60, EveryDay);
    private static readonly PersonDesign Ann = new("ann", "Ann", [new(WayKind.Mail, "ann@example.net")], Night),
        Ben = new("ben", "Ben", [new(WayKind.Text, "+441632960123")]);

    private static long At(string local) =>
        new DateTimeOffset(
            DateTime.Parse(local, System.Globalization.CultureInfo.InvariantCulture),
            London.GetUtcOffset(DateTime.Parse(local, System.Globalization.CultureInfo.InvariantCulture))
        ).ToUnixTimeMilliseconds();

    private static RuleDesign Rule(RuleCondition condition, TellDesign tell) => new("r", "Rule", "n", "x", condition, "", true) { Tell = tell };

    [Fact]
    public void A_run_permit_is_withdrawn_after_minutes_above_a_limit_and_given_again_below()
    {
        var from = At("2026-06-01 10:00");
        var rule = Rule(new BeyondLimit(LimitSide.Above, 60, 55, 5 * Minute), new([new("ben")]));
        var scenario = new AlertScenario(London, [Ben]);
        bool? permitted = null;
        double Heat(long t) => t - from is > 10 * Minute and < 12 * Minute or > 20 * Minute and < 40 * Minute ? 65 : 50;
        scenario.Play(
            rule,
            Enumerable.Range(0, 120).Select(i => (from + i * 30 * Second, Heat(from + i * 30 * Second))),
            from,
            from + Hour,
            Second,
            (now, state) =>
            {
                if (permitted != !state.Raised)
                {
                    permitted = !state.Raised;
                    scenario.Note(now, permitted == true ? "permit" : "withdrawn");
                }
            }
        );
        // Two minutes above are let pass; of the second stretch the first value above came at 10:20:30.
        Assert.Equal(["10:00:00 permit", "10:25:30 withdrawn", "10:25:30 Raised ben", "10:40:00 permit", "10:40:00 Over ben"], scenario.Told);
    }

    [Fact]
    public void A_level_is_told_after_two_in_a_row_again_each_hour_but_not_at_night_and_stops_by_itself_when_refilled()
    {
        var from = At("2026-06-01 19:00");
        var rule = Rule(new InARow(LimitSide.Below, 20, 25, 2), new([new("ann")], RemindEveryMs: Hour));
        var scenario = new AlertScenario(London, [Ann]);
        double Level(long t) =>
            t < At("2026-06-01 19:55") ? 30
            : t < At("2026-06-02 08:45") ? 15
            : 90;
        // One low value alone, at 19:30, is let pass.
        scenario.Play(
            rule,
            Enumerable.Range(0, 200).Select(i => from + i * 10 * Minute).Select(t => (t, t == At("2026-06-01 19:30") ? 12 : Level(t))),
            from,
            At("2026-06-02 10:00"),
            Minute
        );
        // Low from 20:00 on, the second in a row at 20:10. The reminder of 22:10 and all of the
        // night are left out; the count goes on with those that were told.
        Assert.Equal(
            ["20:10:00 Raised ann", "21:10:00 Reminder 1 ann", "07:10:00 Reminder 2 ann", "08:10:00 Reminder 3 ann", "08:50:00 Over ann"],
            scenario.Told
        );
    }

    [Fact]
    public void What_is_raised_at_night_is_told_in_the_morning_when_it_still_stands_and_not_when_it_is_over()
    {
        var rule = Rule(new BeyondLimit(LimitSide.Above, 60, 55, 0), new([new("ann")]));
        var scenario = new AlertScenario(London, [Ann]);
        double Heat(long t) => t >= At("2026-06-01 23:00") && t < At("2026-06-01 23:30") || t >= At("2026-06-02 03:00") && t < At("2026-06-02 09:00") ? 70 : 50;
        var from = At("2026-06-01 20:00");
        scenario.Play(rule, Enumerable.Range(0, 1000).Select(i => (from + i * Minute, Heat(from + i * Minute))), from, At("2026-06-02 12:00"), Minute);
        Assert.Equal(["07:00:00 Raised ann", "09:00:00 Over ann"], scenario.Told);
        // Urgent goes through.
        var urgent = new AlertScenario(London, [Ann]);
        urgent.Play(
            rule with
            {
                Tell = rule.Tell! with { ThroughQuiet = true, WhenOver = false },
            },
            Enumerable.Range(0, 1000).Select(i => (from + i * Minute, Heat(from + i * Minute))),
            from,
            At("2026-06-02 12:00"),
            Minute
        );
        Assert.Equal(["23:00:00 Raised ann", "03:00:00 Raised ann"], urgent.Told);
    }

    [Fact]
    public void A_node_that_falls_silent_is_told_and_told_on_until_somebody_acknowledges()
    {
        var from = At("2026-06-01 10:00");
        var rule = Rule(new SilentFor(5 * Minute), new([new("ben"), new("ann", 15 * Minute)], RemindEveryMs: 10 * Minute));
        var samples = Enumerable.Range(0, 31).Select(i => (from + i * Minute, 1.0)).Append((from + 2 * Hour, 1.0)).ToList();
        var scenario = new AlertScenario(London, [Ann, Ben]);
        scenario.Play(rule, samples, from, from + 2 * Hour + 4 * Minute, Minute, (now, _) =>
        {
            if (now == At("2026-06-01 10:57"))
            {
                scenario.Acknowledge(now);
            }
        });
        Assert.Equal(
            ["10:35:00 Raised ben", "10:45:00 Reminder 1 ben", "10:50:00 Escalated ann", "10:55:00 Reminder 2 ben", "12:00:00 Over ben", "12:00:00 Over ann"],
            scenario.Told
        );
        // Acknowledged in time, the next person is not called.
        var early = new AlertScenario(London, [Ann, Ben]);
        early.Play(rule, samples, from, from + 2 * Hour + 4 * Minute, Minute, (now, _) =>
        {
            if (now == At("2026-06-01 10:40"))
            {
                early.Acknowledge(now);
            }
        });
        Assert.Equal(["10:35:00 Raised ben", "12:00:00 Over ben"], early.Told);
    }

    [Fact]
    public void A_rule_that_flaps_is_told_three_times_and_then_only_when_it_lasts()
    {
        var from = At("2026-06-01 10:00");
        var rule = Rule(new BeyondLimit(LimitSide.Above, 60, 55, 0), new([new("ben")], WhenOver: false));
        // Two minutes above of every six, for a while; in the end it stays above.
        double Value(long t) =>
            t - from > 42 * Minute ? 70
            : (t - from) / Minute % 6 >= 4 ? 70
            : 50;
        var scenario = new AlertScenario(London, [Ben]);
        scenario.Play(rule, Enumerable.Range(0, 70).Select(i => (from + i * Minute, Value(from + i * Minute))), from, from + 65 * Minute, Minute);
        Assert.Equal(["10:04:00 Raised ben", "10:10:00 Raised ben", "10:16:00 Raised ben", "10:53:00 Raised ben"], scenario.Told);
    }

    [Theory]
    [InlineData("2026-03-29", 6)]
    [InlineData("2026-10-25", 8)]
    [InlineData("2026-06-01", 7)]
    public void A_night_in_which_the_clocks_change_is_quiet_by_the_clock_on_the_wall(string day, int hours)
    {
        // London sets its clocks forward on 29 March 2026 at 01:00 UTC and back on 25 October 2026 at 01:00 UTC (IANA time zone database).
        var quiet = new QuietDesign(0, 7 * 60, EveryDay);
        var midnight = At(day + " 00:00");
        Assert.True(QuietHours.Holds(quiet, London, midnight));
        Assert.False(QuietHours.Holds(quiet, London, midnight - 1));
        var end = QuietHours.After(quiet, London, midnight + Minute);
        Assert.Equal(hours * Hour, end - midnight);
        Assert.Equal("07:00:00", new AlertScenario(London, []).Wall(end));
        // Raised once and standing: told once, at seven on the wall, and the hourly reminder after it an hour later.
        var person = Ann with { Quiet = quiet };
        var scenario = new AlertScenario(London, [person]);
        scenario.Play(
            Rule(new BeyondLimit(LimitSide.Above, 60, 55, 0), new([new("ann")], RemindEveryMs: Hour)),
            [(midnight + 30 * Minute, 70)],
            midnight,
            midnight + (hours + 1) * Hour + 30 * Minute,
            Minute
        );
        Assert.Equal(["07:00:00 Raised ann", "08:00:00 Reminder 1 ann"], scenario.Told);
    }

    [Fact]
    public void A_stretch_inside_the_hour_that_is_there_twice_holds_in_both_and_one_in_the_missing_hour_is_left_out()
    {
        var quiet = new QuietDesign(60 + 15, 60 + 45, EveryDay);
        var back = Enumerable.Range(0, 6 * 60).Select(m => At("2026-10-25 00:00") + m * Minute).Count(t => QuietHours.Holds(quiet, London, t));
        var forward = Enumerable.Range(0, 6 * 60).Select(m => At("2026-03-29 00:00") + m * Minute).Count(t => QuietHours.Holds(quiet, London, t));
        Assert.Equal((60, 0), (back, forward));
    }

    [Fact]
    public void A_stretch_over_midnight_counts_by_the_day_it_begins_on()
    {
        var quiet = new QuietDesign(22 * 60, 7 * 60, [DayOfWeek.Friday]);
        // 5 June 2026 is a Friday.
        Assert.True(QuietHours.Holds(quiet, London, At("2026-06-05 23:00")));
        Assert.True(QuietHours.Holds(quiet, London, At("2026-06-06 06:59")));
        Assert.False(QuietHours.Holds(quiet, London, At("2026-06-06 07:00")));
        Assert.False(QuietHours.Holds(quiet, London, At("2026-06-06 23:00")));
        Assert.False(QuietHours.Holds(quiet, London, At("2026-06-05 06:00")));
    }

    [Fact]
    public void After_hours_without_the_server_what_was_due_is_told_once_with_the_newest_reminder_alone()
    {
        var tell = new TellDesign([new("ben")], RemindEveryMs: Hour);
        var raised = At("2026-06-01 10:00");
        Assert.Equal(
            [new(NoticeKind.Raised, 0, "ben", raised)],
            NoticeSchedule.Due(tell, [Ben], new(raised, null, null), London, raised - 1, raised + 5 * Hour)
        );
        Assert.Equal(
            [new(NoticeKind.Reminder, 5, "ben", raised + 5 * Hour)],
            NoticeSchedule.Due(tell, [Ben], new(raised, null, null), London, raised + Hour, raised + 5 * Hour + Minute)
        );
        Assert.Equal(
            [NoticeKind.Raised, NoticeKind.Over],
            NoticeSchedule.Due(tell, [Ben], new(raised, raised + Minute, null), London, raised - 1, raised + 5 * Hour).Select(n => n.Kind)
        );
        Assert.Empty(NoticeSchedule.Due(tell, [], new(raised, null, null), London, raised - 1, raised + Hour));
        Assert.True(NoticeSchedule.IsDone(tell, [Ben], new(raised, raised + Minute, null), London, raised + Minute));
        Assert.False(NoticeSchedule.IsDone(tell, [Ben], new(raised, null, null), London, raised + Minute));
    }

    [Fact]
    public void A_notice_says_what_where_since_when_how_far_and_what_to_do_and_nothing_in_a_name_becomes_a_header()
    {
        var raised = At("2026-06-01 10:00");
        var facts = new NoticeFacts(
            new(NoticeKind.Reminder, 2, "ben", raised + 2 * Hour),
            "Hot\r\nBcc: x@example.net",
            "Kiln (Shed)",
            NoticeText.HowFar(new BeyondLimit(LimitSide.Above, 160, 140, 5 * Minute), 171.26, "°C", 1),
            "Go and\nlook.",
            raised,
            null,
            Late: true,
            Damped: false
        );
        var subject = NoticeText.Subject("Fern\r\nhollow", [facts]);
        Assert.DoesNotContain(subject, char.IsControl);
        Assert.Equal("Fern  hollow: Hot  Bcc: x@example.net, reminder 2", subject);
        var body = NoticeText.Body("Fernhollow", [facts], London).Split('\n');
        Assert.Equal(
            [
                "Hot  Bcc: x@example.net, reminder 2",
                "Where: Kiln (Shed)",
                "Since 2026-06-01 10:00, for 2 h",
                "How far: 171.3 °C, above 160 °C for 5 min",
                "Told late: the server was off when it happened.",
                "What to do: Go and look.",
            ],
            body[..6]
        );
        var id = NoticeText.Id("home", 7, "reminder-2", "ben", new(WayKind.Text, "+441632960123"));
        Assert.Equal(32, id.Length);
        Assert.NotEqual(id, NoticeText.Id("home", 7, "reminder-3", "ben", new(WayKind.Text, "+441632960123")));
        Assert.EndsWith($"[{id[..6]}]", NoticeText.Short("Fernhollow", [facts], London, id));
        Assert.Equal(
            "Fernhollow: Hot  Bcc: x@example.net, reminder 2 and 1 more",
            NoticeText.Subject("Fernhollow", [facts, facts with { Notice = new(NoticeKind.Over, 0, "ben", raised), ClearedMs = raised + Hour }])
        );
    }
}
