using Cenotic.Core.Alerts;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Alerts;

/// <summary>Who waits for a moment misses nothing: looked at in every second or minute, nothing happens before the moment that is named.</summary>
public class DueTests
{
    private const long Second = 1_000,
        Minute = 60_000,
        Hour = 3_600_000,
        Day = 86_400_000;

    /// <summary>Zones whose clocks are set by an hour, by half of one, and never; one that skipped a whole day in 2011.</summary>
    public static TheoryData<string, long> Places =>
        new()
        {
            { "Europe/Berlin", At(2026, 3, 28) },
            { "Europe/Berlin", At(2026, 10, 24) },
            { "Australia/Lord_Howe", At(2026, 4, 4) },
            { "America/Havana", At(2026, 3, 7) },
            { "Pacific/Apia", At(2011, 12, 29) },
            { "Etc/UTC", At(2026, 11, 29) },
        };

    private static long At(int year, int month, int day) => new DateTimeOffset(year, month, day, 0, 0, 0, TimeSpan.Zero).ToUnixTimeMilliseconds();

    private static QuietDesign Quiet(Random chance)
    {
        var (from, to) = (chance.Next(1440), chance.Next(1440));
        return new(from, to == from ? (to + 1) % 1440 : to, [.. Enum.GetValues<DayOfWeek>().Where(_ => chance.Next(3) > 0)]);
    }

    /// <summary>By the time zone data of this machine, minute by minute, apart from the library that the code asks.</summary>
    private static bool OnTheWall(QuietDesign quiet, TimeZoneInfo zone, long at)
    {
        var wall = TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(at), zone);
        var (minute, today, yesterday) = (
            wall.Hour * 60 + wall.Minute,
            quiet.Days.Contains(wall.DayOfWeek),
            quiet.Days.Contains((DayOfWeek)(((int)wall.DayOfWeek + 6) % 7))
        );
        return quiet.FromMinute < quiet.ToMinute
            ? today && minute >= quiet.FromMinute && minute < quiet.ToMinute
            : (today && minute >= quiet.FromMinute) || (yesterday && minute < quiet.ToMinute);
    }

    [Theory]
    [MemberData(nameof(Places))]
    public void Quiet_hours_hold_end_and_turn_as_the_clock_on_the_wall_says(string place, long from)
    {
        var (zone, chance) = (TimeZoneInfo.FindSystemTimeZoneById(place), new Random(place.Length));
        for (var n = 0; n < 12; n++)
        {
            var quiet = Quiet(chance);
            var holds = Enumerable.Range(0, 5 * 1440).Select(m => OnTheWall(quiet, zone, from + m * Minute)).ToList();
            for (var m = 0; m < 3 * 1440; m += 7)
            {
                var at = from + m * Minute + chance.Next(60_000);
                Assert.Equal(holds[m], QuietHours.Holds(quiet, zone, at));
                var over = holds[m] ? holds.FindIndex(m, h => !h) : -1;
                Assert.Equal(holds[m] ? from + over * Minute : at, QuietHours.After(quiet, zone, at));
                var edge = (QuietHours.NextEdge(quiet, zone, at) - from) / Minute;
                Assert.True(edge > m, $"{edge} is not after {m}");
                Assert.All(holds.Skip(m).Take((int)Math.Min(edge, 5 * 1440) - m), h => Assert.Equal(holds[m], h));
            }
        }
    }

    [Fact]
    public void No_notice_falls_due_before_the_next_one_does()
    {
        var (zone, reached) = (TimeZoneInfo.FindSystemTimeZoneById("Europe/Berlin"), 0);
        for (var seed = 0; seed < 300; seed++)
        {
            var chance = new Random(seed);
            List<PersonDesign> people =
            [
                new("a", "A", [], chance.Next(2) == 0 ? Quiet(chance) : null),
                new("b", "B", [], chance.Next(2) == 0 ? Quiet(chance) : null),
            ];
            var tell = new TellDesign(
                [new("a", chance.Next(2) * 10 * Minute), new("b", chance.Next(3) * 20 * Minute)],
                chance.Next(2) == 0 ? chance.Next(5, 90) * Minute : null,
                chance.Next(4) == 0,
                chance.Next(2) == 0
            );
            var raised = At(2026, 3, 28) + chance.NextInt64(Day);
            var standing = new Standing(
                raised,
                chance.Next(2) == 0 ? raised + chance.NextInt64(Day) : null,
                chance.Next(3) == 0 ? raised + chance.NextInt64(Day) : null,
                chance.Next(4) == 0
            );
            var told = raised - 1;
            for (var t = raised; t < raised + 2 * Day; t += Minute)
            {
                var next = NoticeSchedule.NextAt(tell, people, standing, zone, told);
                if (NoticeSchedule.Due(tell, people, standing, zone, told, t).Count > 0)
                {
                    Assert.True(next <= t, $"seed {seed}: due at {t - raised}, said to be at {next - raised}");
                    reached++;
                }
                // Looked at only when it is said to be due, as the runner of the rules does.
                told = next <= t ? t : told;
            }
        }
        Assert.True(reached > 500, $"{reached} notices");
    }

    [Fact]
    public void No_zone_turns_by_itself_before_it_is_due()
    {
        var (zone, turns, chance) = (TimeZoneInfo.FindSystemTimeZoneById("Europe/Berlin"), 0, new Random(5));
        for (var n = 0; n < 150; n++)
        {
            var gaps = new Dictionary<string, long> { ["hall/pir"] = chance.Next(20, 400) * Second };
            var design = new ZoneDesign(
                "house",
                "House",
                [new("hall", "pir"), new("door", "open", Entry: true)],
                chance.Next(3) * 30 * Second,
                chance.Next(3) * 20 * Second,
                1,
                10 * Second,
                [],
                chance.Next(1, 200) * Second,
                chance.Next(1, 200) * Second,
                Schedule: chance.Next(2) == 0 ? new(Quiet(chance)) : null,
                Presence: chance.Next(2) == 0 ? new("hall", "presence", chance.Next(1, 20) * Minute) : null
            );
            var start = At(2026, 3, 28) + 22 * Hour + chance.NextInt64(4 * Hour);
            var state = ZoneJudge.OnTime(design, ZoneState.Start(start), gaps, zone, start).State;
            string[] said = ["hall/pir", "door/open", "hall/presence"];
            for (var t = start; t < start + 2 * Hour; t += Second)
            {
                if (chance.Next(300) == 0)
                {
                    state = ZoneJudge.OnSample(design, state, gaps, zone, said[chance.Next(3)], t, chance.Next(2)).State;
                    state = ZoneJudge.OnTime(design, state, gaps, zone, t).State;
                }
                var due = ZoneJudge.DueAt(design, state, gaps, zone, t);
                var (next, events) = ZoneJudge.OnTime(design, state, gaps, zone, t + Second);
                if (events.Count > 0)
                {
                    Assert.True(due <= t + Second, $"case {n}: {events[0].Turn} at {t + Second - start}, said to be at {due - start}");
                    turns++;
                }
                state = next;
            }
        }
        Assert.True(turns > 300, $"{turns} turns");
    }
}
