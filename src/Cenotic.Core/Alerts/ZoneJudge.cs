using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>How a zone is armed.</summary>
public enum ArmMode
{
    /// <summary>It watches nothing.</summary>
    Off,

    /// <summary>Lights the lamp of the zone at each trigger and sounds and tells nothing.</summary>
    Test,

    /// <summary>It watches, sounds and tells.</summary>
    Armed,
}

/// <summary>Where an armed zone stands.</summary>
public enum ZonePhase
{
    /// <summary>It is not armed.</summary>
    Off,

    /// <summary>The time to leave runs.</summary>
    Leaving,

    /// <summary>Sensors trigger it.</summary>
    Watching,

    /// <summary>A way in was opened: the time to disarm runs.</summary>
    Entering,

    /// <summary>It was triggered; it sounds for its time.</summary>
    Alarm,

    /// <summary>The alarm is over; it watches again after a pause.</summary>
    HoldOff,
}

/// <summary>What a zone remembers of a sensor.</summary>
/// <param name="On">True while it triggers.</param>
/// <param name="Silent">True from when its silence was noticed until it is heard again.</param>
public sealed record ZoneSensorState(bool On, long LastHeardMs, bool Silent = false);

/// <summary>A sensor that triggered.</summary>
public sealed record ZoneTrigger(string Sensor, long AtMs);

/// <summary>What a zone remembers between samples. Times are UTC ms of site time.</summary>
/// <param name="UntilMs">When the phase ends by itself; null for one that stays.</param>
public sealed record ZoneState(ArmMode Mode, ZonePhase Phase, long SinceMs, long? UntilMs)
{
    /// <summary>By "node/reading".</summary>
    public IReadOnlyDictionary<string, ZoneSensorState> Sensors { get; init; } = new Dictionary<string, ZoneSensorState>();

    /// <summary>Triggers that count still, the oldest first.</summary>
    public IReadOnlyList<ZoneTrigger> Triggers { get; init; } = [];

    /// <summary>The newest trigger in test mode or armed, for the lamp; null when there was none since arming.</summary>
    public ZoneTrigger? Lamp { get; init; }

    /// <summary>Why there is an alarm.</summary>
    public string? Cause { get; init; }

    /// <summary>Whether the schedule held when last looked; null before.</summary>
    public bool? Scheduled { get; init; }

    /// <summary>Since when nobody is there; null while somebody is, or nothing is known.</summary>
    public long? EmptySinceMs { get; init; }

    /// <summary>A zone that was never armed.</summary>
    public static ZoneState Start(long now) => new(ArmMode.Off, ZonePhase.Off, now, null);
}

/// <summary>What happened to a zone.</summary>
public enum ZoneTurn
{
    /// <summary>The time to leave began.</summary>
    Leaving,

    /// <summary>It watches from now on.</summary>
    Armed,

    /// <summary>A way in was opened.</summary>
    Entry,

    /// <summary>An alarm began.</summary>
    Alarm,

    /// <summary>It has sounded long enough.</summary>
    SoundOver,

    /// <summary>The pause after an alarm is over.</summary>
    WatchesAgain,

    /// <summary>It watches no more.</summary>
    Disarmed,

    /// <summary>A sensor triggered it.</summary>
    Triggered,

    /// <summary>Armed already, another mode: a test from now on, or none any more.</summary>
    ModeChanged,
}

/// <summary>A zone that turned.</summary>
/// <param name="Cause">The sensor, or what was still on when it was armed.</param>
/// <param name="By">What armed or disarmed it by itself: its button, the clock, presence; null for a person.</param>
public sealed record ZoneEvent(ZoneTurn Turn, long AtMs, string? Cause = null, string? By = null);

/// <summary>
/// Judges a zone on samples, on passing time and on what people want. The same code runs live and on the past. Home-made: no certified intruder alarm.
/// </summary>
public static class ZoneJudge
{
    /// <summary>Arms, or arms for a test; armed already, only the mode changes.</summary>
    /// <param name="by">What does it by itself; null for a person.</param>
    public static (ZoneState State, IReadOnlyList<ZoneEvent> Events) Arm(ZoneDesign zone, ZoneState state, ArmMode mode, long now, string? by = null)
    {
        if (mode == ArmMode.Off)
        {
            return state.Phase == ZonePhase.Off ? (state, []) : (Fresh(state, ArmMode.Off, ZonePhase.Off, now, null), [new(ZoneTurn.Disarmed, now, null, by)]);
        }
        if (state.Phase != ZonePhase.Off)
        {
            return (state with { Mode = mode }, state.Mode == mode ? [] : [new(ZoneTurn.ModeChanged, now, null, by)]);
        }
        var leaving = Fresh(state, mode, ZonePhase.Leaving, now, now + zone.ExitMs) with
        {
            Sensors = state.Sensors.ToDictionary(s => s.Key, s => s.Value with { LastHeardMs = Math.Max(s.Value.LastHeardMs, now), Silent = false }),
        };
        return zone.ExitMs > 0 ? (leaving, [new(ZoneTurn.Leaving, now, null, by)]) : Watch(zone, leaving, now, by);
    }

    /// <summary>The zone when this program begins to listen: nobody was silent while it was off.</summary>
    public static ZoneState Listening(ZoneDesign zone, ZoneState state, long now)
    {
        var sensors = new Dictionary<string, ZoneSensorState>(state.Sensors);
        foreach (var sensor in zone.Sensors.Select(s => $"{s.Node}/{s.Reading}"))
        {
            var known = sensors.GetValueOrDefault(sensor) ?? new(false, now);
            sensors[sensor] = known with { LastHeardMs = Math.Max(known.LastHeardMs, now) };
        }
        return state with { Sensors = sensors };
    }

    /// <summary>The zone after a sample of one of its readings; what ran out before it came is judged first.</summary>
    /// <param name="gaps">Longest gap of each sensor by "node/reading", ms; a sensor that only tells changes has none, and its silence is not seen.</param>
    /// <param name="isEvent">True when every value above 0 is an event of its own: nothing stays on.</param>
    public static (ZoneState State, IReadOnlyList<ZoneEvent> Events) OnSample(
        ZoneDesign zone,
        ZoneState state,
        IReadOnlyDictionary<string, long> gaps,
        TimeZoneInfo clock,
        string reading,
        long t,
        double value,
        bool isEvent = false
    )
    {
        var (now, events) = OnTime(zone, state, gaps, clock, t - 1);
        var list = events.ToList();
        void Take((ZoneState State, IReadOnlyList<ZoneEvent> Events) next)
        {
            now = next.State;
            list.AddRange(next.Events);
        }
        if (zone.Sensors.FirstOrDefault(s => $"{s.Node}/{s.Reading}" == reading) is { } sensor)
        {
            var on = value > 0 != sensor.Inverted;
            var known = now.Sensors.GetValueOrDefault(reading);
            now = now with { Sensors = new Dictionary<string, ZoneSensorState>(now.Sensors) { [reading] = new(on && !isEvent, t) } };
            if (on && known is null or { On: false })
            {
                Take(Trigger(zone, now, sensor, reading, t));
            }
        }
        if (zone.Button?.ToString() == reading && value > 0)
        {
            Take(Arm(zone, now, now.Phase == ZonePhase.Off ? ArmMode.Armed : ArmMode.Off, t, "its button"));
        }
        if (zone.Presence is { } presence && $"{presence.Node}/{presence.Reading}" == reading)
        {
            if (value > 0 && now.Phase != ZonePhase.Off && now.EmptySinceMs is not null)
            {
                Take(Arm(zone, now, ArmMode.Off, t, "somebody who is there"));
            }
            now = now with { EmptySinceMs = value > 0 ? null : now.EmptySinceMs ?? t };
        }
        return (now, list);
    }

    /// <summary>The zone when time has passed.</summary>
    public static (ZoneState State, IReadOnlyList<ZoneEvent> Events) OnTime(
        ZoneDesign zone,
        ZoneState state,
        IReadOnlyDictionary<string, long> gaps,
        TimeZoneInfo clock,
        long now
    )
    {
        var list = new List<ZoneEvent>();
        void Take((ZoneState State, IReadOnlyList<ZoneEvent> Events) next)
        {
            state = next.State;
            list.AddRange(next.Events);
        }
        Take(ByTheClock(zone, state, clock, now));
        if (
            zone.Presence is { } presence
            && state.Phase == ZonePhase.Off
            && state.EmptySinceMs is { } empty
            && now - empty >= presence.AwayMs
            && state.SinceMs < empty + presence.AwayMs
        )
        {
            Take(Arm(zone, state, ArmMode.Armed, empty + presence.AwayMs, "nobody being there"));
        }
        while (state.UntilMs is { } until && now >= until)
        {
            Take(PhaseOver(zone, state, until));
        }
        Take(Silences(zone, state, gaps, now));
        return (state, list);
    }

    /// <summary>Armed and disarmed when the stretch of its schedule begins and ends: what people do meanwhile stands.</summary>
    private static (ZoneState State, IReadOnlyList<ZoneEvent> Events) ByTheClock(ZoneDesign zone, ZoneState state, TimeZoneInfo clock, long now)
    {
        if (zone.Schedule is not { } schedule || QuietHours.Holds(schedule.Armed, clock, now) is var holds && holds == state.Scheduled)
        {
            return (state, []);
        }
        var turned = state.Scheduled is not null || holds ? Arm(zone, state, holds ? ArmMode.Armed : ArmMode.Off, now, "the clock") : (state, []);
        return (turned.State with { Scheduled = holds }, turned.Events);
    }

    /// <summary>What comes after a phase that ends by itself.</summary>
    private static (ZoneState State, IReadOnlyList<ZoneEvent> Events) PhaseOver(ZoneDesign zone, ZoneState state, long until) =>
        state.Phase switch
        {
            ZonePhase.Leaving => Watch(zone, state, until),
            ZonePhase.Entering => Alarm(zone, state, until, state.Cause),
            ZonePhase.Alarm => (state with { Phase = ZonePhase.HoldOff, SinceMs = until, UntilMs = until + zone.HoldOffMs }, [new(ZoneTurn.SoundOver, until)]),
            _ => (state with { Phase = ZonePhase.Watching, SinceMs = until, UntilMs = null, Triggers = [], Cause = null }, [new(ZoneTurn.WatchesAgain, until)]),
        };

    /// <summary>Sensors that have become silent while the zone watches: the first makes an alarm.</summary>
    private static (ZoneState State, IReadOnlyList<ZoneEvent> Events) Silences(
        ZoneDesign zone,
        ZoneState state,
        IReadOnlyDictionary<string, long> gaps,
        long now
    )
    {
        IReadOnlyList<ZoneEvent> alarm = [];
        foreach (var sensor in state.Phase == ZonePhase.Watching ? zone.Sensors.Select(s => $"{s.Node}/{s.Reading}") : [])
        {
            if (
                gaps.TryGetValue(sensor, out var gap)
                && (state.Sensors.GetValueOrDefault(sensor) ?? new(false, state.SinceMs)) is { Silent: false } heard
                && heard.LastHeardMs + ReadingDesign.SilentAfterMs(gap) is var silentAt
                && now >= silentAt
            )
            {
                state = state with { Sensors = new Dictionary<string, ZoneSensorState>(state.Sensors) { [sensor] = heard with { Silent = true } } };
                if (state.Phase == ZonePhase.Watching)
                {
                    (state, alarm) = Alarm(zone, state, Math.Max(silentAt, state.SinceMs), sensor + " is silent");
                }
            }
        }
        return (state, alarm);
    }

    /// <summary>The first moment at which time alone may turn a zone that <see cref="OnTime"/> brought up to now; null for none.</summary>
    public static long? DueAt(ZoneDesign zone, ZoneState state, IReadOnlyDictionary<string, long> gaps, TimeZoneInfo clock, long now)
    {
        var due = state.UntilMs;
        void May(long at) => due = due <= at ? due : at;
        if (zone.Schedule is { } schedule)
        {
            May(QuietHours.NextEdge(schedule.Armed, clock, now));
        }
        if (zone.Presence is { } presence && state is { Phase: ZonePhase.Off, EmptySinceMs: { } empty } && state.SinceMs < empty + presence.AwayMs)
        {
            May(empty + presence.AwayMs);
        }
        if (state.Phase == ZonePhase.Watching)
        {
            foreach (var sensor in zone.Sensors.Select(s => $"{s.Node}/{s.Reading}").Where(gaps.ContainsKey))
            {
                if ((state.Sensors.GetValueOrDefault(sensor) ?? new(false, state.SinceMs)) is { Silent: false } heard)
                {
                    May(heard.LastHeardMs + ReadingDesign.SilentAfterMs(gaps[sensor]));
                }
            }
        }
        return due;
    }

    /// <summary>Until when the sounders are to sound now, or null: not at all, or not yet.</summary>
    /// <param name="told">True when a notice of this alarm was handed over.</param>
    public static long? SoundsUntil(ZoneDesign zone, ZoneState state, long now, bool told) =>
        state is { Mode: ArmMode.Armed, Phase: ZonePhase.Alarm } && (now >= state.SinceMs + zone.SoundAfterMs || (zone.SoundOnceTold && told))
            ? state.UntilMs
            : null;

    private static (ZoneState, IReadOnlyList<ZoneEvent>) Watch(ZoneDesign zone, ZoneState state, long at, string? by = null)
    {
        var open = zone.Sensors.Select(s => $"{s.Node}/{s.Reading}").Where(s => state.Sensors.GetValueOrDefault(s)?.On == true).ToList();
        return (
            state with
            {
                Phase = ZonePhase.Watching,
                SinceMs = at,
                UntilMs = null,
                Triggers = [],
            },
            [new(ZoneTurn.Armed, at, open.Count > 0 ? "still on: " + string.Join(", ", open) : null, by)]
        );
    }

    private static (ZoneState, IReadOnlyList<ZoneEvent>) Trigger(ZoneDesign zone, ZoneState state, ZoneSensor sensor, string reading, long t)
    {
        if (state.Phase is ZonePhase.Off or ZonePhase.Leaving)
        {
            return (state, []);
        }
        state = state with { Lamp = new(reading, t) };
        List<ZoneEvent> lamp = [new(ZoneTurn.Triggered, t, reading)];
        if (state.Phase != ZonePhase.Watching)
        {
            return (state, lamp);
        }
        if (sensor.Entry && zone.EntryMs > 0)
        {
            return (
                state with
                {
                    Phase = ZonePhase.Entering,
                    SinceMs = t,
                    UntilMs = t + zone.EntryMs,
                    Cause = reading,
                },
                [.. lamp, new(ZoneTurn.Entry, t, reading)]
            );
        }
        state = state with { Triggers = [.. state.Triggers.Where(x => t - x.AtMs <= zone.WithinMs), new(reading, t)] };
        if (state.Triggers.Count < zone.Triggers)
        {
            return (state, lamp);
        }
        var (alarm, events) = Alarm(zone, state, t, string.Join(", ", state.Triggers.Select(x => x.Sensor).Distinct()));
        return (alarm, [.. lamp, .. events]);
    }

    private static (ZoneState, IReadOnlyList<ZoneEvent>) Alarm(ZoneDesign zone, ZoneState state, long at, string? cause) =>
        (
            state with
            {
                Phase = ZonePhase.Alarm,
                SinceMs = at,
                UntilMs = at + zone.SoundAfterMs + zone.SoundMs,
                Cause = cause,
            },
            [new(ZoneTurn.Alarm, at, cause)]
        );

    private static ZoneState Fresh(ZoneState state, ArmMode mode, ZonePhase phase, long now, long? until) =>
        state with
        {
            Mode = mode,
            Phase = phase,
            SinceMs = now,
            UntilMs = until,
            Triggers = [],
            Lamp = null,
            Cause = null,
        };
}
