using Cenotic.Core.Alerts;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Alerts;

public class ZoneJudgeTests
{
    private const long Second = 1_000,
        Minute = 60_000;
    private static readonly TimeZoneInfo Utc = TimeZoneInfo.Utc;
    private static readonly Dictionary<string, long> Gaps = new() { ["hall/pir"] = 60 * Second };

    private static readonly ZoneDesign Zone = new(
        "house",
        "House",
        [new("hall", "pir"), new("door", "open", Entry: true), new("shed", "closed", Inverted: true)],
        30 * Second,
        20 * Second,
        2,
        10 * Second,
        [new("siren", "on")],
        3 * Minute,
        2 * Minute
    );

    /// <summary>A zone played second by second: what turned, at which second.</summary>
    private sealed class Play(ZoneDesign zone, long from = 0)
    {
        public ZoneState State { get; private set; } = ZoneState.Start(from);
        public List<string> Turns { get; } = [];

        public void Take((ZoneState State, IReadOnlyList<ZoneEvent> Events) next)
        {
            State = next.State;
            Turns.AddRange(
                next.Events.Where(e => e.Turn != ZoneTurn.Triggered).Select(e => $"{e.AtMs / Second} {e.Turn}{(e.Cause is null ? "" : $" {e.Cause}")}")
            );
        }

        public void Arm(ArmMode mode, long at) => Take(ZoneJudge.Arm(zone, State, mode, at));

        public void See(string reading, long at, double value = 1) => Take(ZoneJudge.OnSample(zone, State, Gaps, Utc, reading, at, value));

        public void Until(long at) => Take(ZoneJudge.OnTime(zone, State, Gaps, Utc, at));
    }

    [Fact]
    public void An_armed_zone_waits_for_leaving_sounds_for_its_time_holds_off_and_watches_again()
    {
        var play = new Play(Zone);
        play.See("hall/pir", 0, 0);
        play.See("shed/closed", 0);
        play.Arm(ArmMode.Armed, 0);
        // Leaving trips what it likes.
        play.See("hall/pir", 10 * Second);
        play.See("hall/pir", 20 * Second, 0);
        play.Until(29 * Second);
        Assert.Equal(ZonePhase.Leaving, play.State.Phase);
        // One trigger alone, and a second one too late, are no alarm; two within seconds are.
        foreach (var (at, value) in new[] { (40, 1), (45, 0), (60, 1), (62, 0), (66, 1) })
        {
            play.See("hall/pir", at * Second, value);
        }
        Assert.Equal(66 * Second + 3 * Minute, ZoneJudge.SoundsUntil(Zone, play.State, play.State.SinceMs, told: false));
        play.See("hall/pir", 100 * Second, 0);
        play.See("shed/closed", 110 * Second, 0);
        play.Until(66 * Second + 3 * Minute);
        Assert.Null(ZoneJudge.SoundsUntil(Zone, play.State, play.State.SinceMs, told: false));
        // In the hold-off nothing raises; after it the zone watches again.
        play.See("hall/pir", 250 * Second);
        play.See("hall/pir", 251 * Second, 0);
        play.See("hall/pir", 252 * Second);
        play.See("hall/pir", 340 * Second, 0);
        play.Until(366 * Second);
        play.See("shed/closed", 367 * Second);
        play.See("shed/closed", 370 * Second, 0);
        play.See("hall/pir", 371 * Second);
        play.Arm(ArmMode.Off, 380 * Second);
        Assert.Equal(
            ["0 Leaving", "30 Armed", "66 Alarm hall/pir", "246 SoundOver", "366 WatchesAgain", "371 Alarm shed/closed, hall/pir", "380 Disarmed"],
            play.Turns
        );
    }

    [Fact]
    public void The_way_in_gives_time_to_disarm()
    {
        var play = new Play(Zone);
        play.Arm(ArmMode.Armed, 0);
        play.See("door/open", 40 * Second);
        Assert.Equal(ZonePhase.Entering, play.State.Phase);
        play.Arm(ArmMode.Off, 55 * Second);
        play.Until(90 * Second);
        Assert.Equal(["0 Leaving", "30 Armed", "40 Entry door/open", "55 Disarmed"], play.Turns);
        var late = new Play(Zone);
        late.Arm(ArmMode.Armed, 0);
        late.See("door/open", 40 * Second);
        late.Until(60 * Second);
        Assert.Equal(["0 Leaving", "30 Armed", "40 Entry door/open", "60 Alarm door/open"], late.Turns);
    }

    [Fact]
    public void The_siren_waits_for_the_text_or_so_many_seconds_and_then_sounds_for_its_time()
    {
        var zone = Zone with { Triggers = 1, ExitMs = 0, SoundAfterMs = 45 * Second, SoundOnceTold = true };
        var play = new Play(zone);
        play.Arm(ArmMode.Armed, 0);
        play.See("hall/pir", 10 * Second);
        Assert.Equal(ZonePhase.Alarm, play.State.Phase);
        long? At(long second, bool told, ZoneDesign? of = null) => ZoneJudge.SoundsUntil(of ?? zone, play.State, second * Second, told);
        Assert.Null(At(20, false));
        Assert.NotNull(At(20, true));
        Assert.Null(At(54, false));
        // It sounds for its whole time from then on.
        Assert.Equal((10 + 45) * Second + 3 * Minute, At(55, false));
        // Without waiting for the text the time alone counts.
        Assert.Null(At(20, true, zone with { SoundOnceTold = false }));
        play.Until(55 * Second + 3 * Minute);
        Assert.Equal(ZonePhase.HoldOff, play.State.Phase);
    }

    [Fact]
    public void What_arms_and_disarms_by_itself_is_named()
    {
        var zone = Zone with { Button = new("hall", "button"), Presence = new("hall", "presence", 60 * Second) };
        var by = new List<string?>();
        var state = ZoneState.Start(0);
        void See(string reading, long at, double value)
        {
            (state, var events) = ZoneJudge.OnSample(zone, state, Gaps, Utc, reading, at, value);
            by.AddRange(events.Where(e => e.Turn is ZoneTurn.Leaving or ZoneTurn.Disarmed).Select(e => e.By));
        }
        See("hall/button", 0, 1);
        See("hall/button", Second, 1);
        See("hall/presence", 2 * Second, 0);
        See("hall/presence", 90 * Second, 1);
        Assert.Equal(["its button", "its button", "nobody being there", "somebody who is there"], by);
        (state, var changed) = ZoneJudge.Arm(zone, ZoneJudge.Arm(zone, state, ArmMode.Armed, 100 * Second).State, ArmMode.Test, 101 * Second);
        Assert.Equal(ZoneTurn.ModeChanged, Assert.Single(changed).Turn);
    }

    [Fact]
    public void A_sensor_of_events_triggers_each_time_and_never_stays_on()
    {
        var state = ZoneJudge.Arm(Zone with { ExitMs = 0 }, ZoneState.Start(0), ArmMode.Armed, 0).State;
        (state, _) = ZoneJudge.OnSample(Zone, state, Gaps, Utc, "hall/pir", Second, 1, isEvent: true);
        (state, var second) = ZoneJudge.OnSample(Zone, state, Gaps, Utc, "hall/pir", 3 * Second, 1, isEvent: true);
        Assert.Contains(second, e => e.Turn == ZoneTurn.Alarm);
        Assert.False(state.Sensors["hall/pir"].On);
    }

    [Fact]
    public void A_test_lights_the_lamp_and_sounds_nothing()
    {
        var play = new Play(Zone with { Triggers = 1 });
        play.Arm(ArmMode.Test, 0);
        play.See("hall/pir", 31 * Second);
        Assert.Equal((ZonePhase.Alarm, "hall/pir"), (play.State.Phase, play.State.Lamp!.Sensor));
        Assert.Null(ZoneJudge.SoundsUntil(Zone, play.State, play.State.SinceMs, told: false));
    }

    [Fact]
    public void Being_off_is_not_the_silence_of_the_sensors()
    {
        var gaps = new Dictionary<string, long> { ["hall/pir"] = 60 * Second };
        var armed = ZoneState.Start(0) with
        {
            Mode = ArmMode.Armed,
            Phase = ZonePhase.Watching,
            Sensors = new Dictionary<string, ZoneSensorState> { ["hall/pir"] = new(false, 0) },
        };
        // An hour later this program is back: the sensor has its time from now on.
        var back = ZoneJudge.Listening(Zone, armed, 60 * Minute);
        Assert.Empty(ZoneJudge.OnTime(Zone, back, gaps, TimeZoneInfo.Utc, 60 * Minute + 154 * Second).Events);
        Assert.Contains(ZoneJudge.OnTime(Zone, back, gaps, TimeZoneInfo.Utc, 60 * Minute + 155 * Second).Events, e => e.Turn == ZoneTurn.Alarm);
    }

    [Fact]
    public void Silence_of_a_sensor_is_an_alarm_while_it_watches_and_only_once()
    {
        var play = new Play(Zone with { HoldOffMs = 0 });
        play.See("hall/pir", 0, 0);
        play.Arm(ArmMode.Armed, 0);
        // 2.5 times 60 s and 5 s more after it was heard.
        play.Until(154 * Second);
        Assert.Equal(ZonePhase.Watching, play.State.Phase);
        play.Until(155 * Second);
        Assert.Equal((ZonePhase.Alarm, "hall/pir is silent"), (play.State.Phase, play.State.Cause));
        play.Until(20 * Minute);
        play.Until(30 * Minute);
        Assert.Equal(1, play.Turns.Count(t => t.Contains("Alarm", StringComparison.Ordinal)));
        // A sensor that only tells changes has no such time: the door has said nothing all along.
        play.See("hall/pir", 30 * Minute, 0);
        play.Until(33 * Minute);
        Assert.Equal(2, play.Turns.Count(t => t.Contains("Alarm", StringComparison.Ordinal)));
    }

    [Fact]
    public void What_is_on_when_the_zone_begins_to_watch_is_named()
    {
        var play = new Play(Zone);
        play.See("shed/closed", 0, 0);
        play.Arm(ArmMode.Armed, 5 * Second);
        play.Until(40 * Second);
        Assert.Equal("35 Armed still on: shed/closed", play.Turns[^1]);
    }

    [Fact]
    public void It_is_armed_by_the_clock_by_a_button_and_when_nobody_is_there()
    {
        var zone = Zone with
        {
            ExitMs = 0,
            Schedule = new(new(10, 20, Enum.GetValues<DayOfWeek>())),
            Button = new("hall", "button"),
            Presence = new("hall", "there", 5 * Minute),
        };
        var play = new Play(zone);
        play.Until(0);
        play.Until(10 * Minute);
        Assert.Equal(ZonePhase.Watching, play.State.Phase);
        play.See("hall/pir", 11 * Minute, 0);
        play.See("hall/button", 11 * Minute);
        Assert.Equal(ZonePhase.Off, play.State.Phase);
        // The clock does not arm again what a person switched off.
        play.Until(12 * Minute);
        Assert.Equal(ZonePhase.Off, play.State.Phase);
        play.Until(20 * Minute);
        play.See("hall/there", 21 * Minute, 0);
        play.Until(26 * Minute);
        Assert.Equal(ZonePhase.Watching, play.State.Phase);
        play.See("hall/there", 27 * Minute);
        Assert.Equal(ZonePhase.Off, play.State.Phase);
        // Nobody there again, but not for long enough.
        play.See("hall/there", 28 * Minute, 0);
        play.See("hall/there", 30 * Minute);
        play.Until(40 * Minute);
        Assert.Equal(["600 Armed", "660 Disarmed", "1560 Armed", "1620 Disarmed"], play.Turns);
    }
}
