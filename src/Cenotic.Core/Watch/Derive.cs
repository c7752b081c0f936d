using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Watch;

/// <summary>What is remembered between samples of a reading that is worked out.</summary>
/// <param name="Last">The newest value of each input; null for one that was never heard.</param>
/// <param name="Total">What a sum over time has come to.</param>
/// <param name="SumsSince">Up to when time was summed; null before the first value.</param>
/// <param name="ToldMs">Time of the newest value that was given.</param>
/// <param name="Told">That value.</param>
public sealed record DerivedState(
    IReadOnlyList<TimedValue?> Last,
    double Total = 0,
    double DryHours = 0,
    long? SumsSince = null,
    long? QuietSince = null,
    long? ToldMs = null,
    double? Told = null
)
{
    /// <summary>Values of the last stretch, the oldest first; for a rate.</summary>
    public IReadOnlyList<TimedValue> Marks { get; init; } = [];

    /// <summary>Time through which a sum did not run, since its inputs said nothing, ms.</summary>
    public long MissedMs { get; init; }

    /// <summary>Nothing has arrived yet.</summary>
    public static DerivedState Start(int inputs) => new(new TimedValue?[inputs]);
}

/// <summary>What is known of the inputs.</summary>
/// <param name="Holds">How long a value of each stands, ms; null where it stands until the next.</param>
/// <param name="Unit">Of the first.</param>
/// <param name="RestOn">Numbers of the states that are on at rest; see <see cref="EventLanes.RestsOn"/>.</param>
public sealed record DerivedInputs(IReadOnlyList<long?> Holds, string Unit, IReadOnlyList<int>? RestOn = null)
{
    /// <summary>Whether a state that has this value tells of something that happens.</summary>
    internal bool Happens(int input, TimedValue? value) => value is { } v && v.V > 0 != (RestOn?.Contains(input) ?? false);
}

/// <summary>
/// Works a reading out of others as their samples come, in order, and as time passes. The same code runs live and over
/// what is stored. Pure. Samples older than the newest of their reading are not to be given.
/// </summary>
public static class Derive
{
    private const double HourMs = 3_600_000,
        DayMs = 86_400_000;

    /// <summary>A total that grows while nothing is heard is told this often, ms.</summary>
    public const long TellEveryMs = 600_000;

    /// <summary>After samples of one moment.</summary>
    /// <param name="values">By the number of the input.</param>
    public static (DerivedState State, IReadOnlyList<TimedValue> Values) OnSamples(
        DerivedFrom from,
        DerivedInputs inputs,
        DerivedState state,
        long t,
        IReadOnlyList<(int Input, double Value)> values
    )
    {
        (state, var early) = OnTime(from, inputs, state, t - 1);
        // Of several nodes one may be a little behind another: what follows is of the later.
        var at = Math.Max(t, state.ToldMs ?? t);
        state = Sum(from, inputs, state, at);
        var (last, grew) = (state.Last.ToArray(), Grows(from, state));
        foreach (var (input, value) in values)
        {
            last[input] = new(t, value);
        }
        state = state with { Last = last };
        if (from is RateOf rate)
        {
            // A counter of pulses that begins again was started anew: what was before tells nothing of now.
            var marks = rate.Pulses is not null && state.Marks.Count > 0 && values[^1].Value < state.Marks[^1].V ? [] : state.Marks;
            state = state with { Marks = Window(marks, rate.WithinMs, t, values[^1].Value) };
        }
        var (now, told) = Now(from, inputs, state, at, grew && !Grows(from, state));
        return told is { } v ? (now with { ToldMs = at, Told = v }, [.. early, new(at, v)]) : (now, early);
    }

    /// <summary>As time passes without a sample.</summary>
    public static (DerivedState State, IReadOnlyList<TimedValue> Values) OnTime(DerivedFrom from, DerivedInputs inputs, DerivedState state, long now)
    {
        var values = new List<TimedValue>();
        while (DueAt(from, inputs, state) is { } due && due <= now)
        {
            state = Sum(from, inputs, state, due);
            var value = from is PresenceOf ? 0 : state.Total;
            state = state with { ToldMs = due, Told = value, QuietSince = null };
            values.Add(new(due, value));
        }
        return (state, values);
    }

    /// <summary>When it changes though nothing is heard, or null.</summary>
    public static long? DueAt(DerivedFrom from, DerivedInputs inputs, DerivedState state)
    {
        switch (from)
        {
            case PresenceOf presence when state.Told > 0:
                // Quiet is who says so, and who says nothing any more.
                var quiet = state.QuietSince
                    ?? Enumerable
                        .Range(0, state.Last.Count)
                        .Where(i => inputs.Happens(i, state.Last[i]))
                        .Max(i => inputs.Holds[i] is { } hold ? state.Last[i]!.Value.T + hold : (long?)long.MaxValue);
                return quiet is null or long.MaxValue ? null : Math.Max(quiet.Value + presence.HoldMs, state.ToldMs ?? 0);
            case RunningHoursOf or DegreeDaysOf when state is { ToldMs: { } told, SumsSince: not null } && Grows(from, state):
                var next = told + TellEveryMs;
                return inputs.Holds[0] is { } most && next > state.Last[0]!.Value.T + most ? null : next;
            default:
                return null;
        }
    }

    /// <summary>The value of a kind that needs no memory; null where the formula does not hold.</summary>
    /// <param name="v">Values of the inputs in their order.</param>
    /// <param name="unit">Of the first input.</param>
    public static double? Value(DerivedFrom from, IReadOnlyList<double> v, string unit) =>
        from switch
        {
            DewPointOf => HumidAir.Holds(v[0], v[1]) ? HumidAir.DewPointCelsius(v[0], v[1]) : null,
            WaterInAirOf => HumidAir.Holds(v[0], v[1]) ? HumidAir.GramsPerCubicMetre(v[0], v[1]) : null,
            ConductivityAt25Of f => Compensated(v[0], v[1], f.PercentPerKelvin),
            DissolvedSolidsOf f => Compensated(v[0], v[1], f.PercentPerKelvin) * (unit == "mS/cm" ? 1000 : 1) * f.Factor,
            VesselOf f => Vessel.Of(f.Vessel, v[0], unit, 0) is not { } vessel
                ? null
                : (
                    f.Measure switch
                    {
                        VesselMeasure.Level => vessel.Level,
                        VesselMeasure.Litres => vessel.Litres,
                        _ => vessel.Share,
                    }
                ).Value,
            SumOf f => f.Terms.Select((term, i) => term.Factor * v[i]).Sum() + f.Plus,
            _ => null,
        };

    /// <summary>Whether an input's value still stands.</summary>
    internal static bool Stands(TimedValue? last, long? hold, long at) => last is { } stands && (hold is null || at - stands.T <= hold);

    /// <summary>What is told now, if anything.</summary>
    /// <param name="stopped">True when a total has just stopped growing.</param>
    private static (DerivedState State, double? Told) Now(DerivedFrom from, DerivedInputs inputs, DerivedState state, long at, bool stopped)
    {
        bool Standing(int i) => Stands(state.Last[i], inputs.Holds[i], at);
        switch (from)
        {
            case PresenceOf:
                var on = Enumerable.Range(0, state.Last.Count).Any(i => Standing(i) && inputs.Happens(i, state.Last[i]));
                state = state with { QuietSince = on ? null : state.QuietSince ?? at };
                return on ? (state, state.Told > 0 ? null : 1) : (state, state.Told is null ? 0 : null);
            case RateOf rate:
                return (state, rate.Pulses is { } pulses ? PulseRate.Of(state.Marks, rate.WithinMs, pulses) : Slope(state.Marks, rate.WithinMs));
            case { IsTotal: true }:
                // Once a minute is enough, and when it stops.
                return (
                    state,
                    (stopped || state.ToldMs is null || at - state.ToldMs >= DerivedDesign.TotalsApartMs) && Enumerable.Range(0, state.Last.Count).All(Standing)
                        ? state.Total
                        : null
                );
            default:
                return (state, Enumerable.Range(0, state.Last.Count).All(Standing) ? Value(from, [.. state.Last.Select(l => l!.Value.V)], inputs.Unit) : null);
        }
    }

    /// <summary>Adds the time up to a moment, as far as the values stood.</summary>
    private static DerivedState Sum(DerivedFrom from, DerivedInputs inputs, DerivedState state, long at)
    {
        if (!from.IsTotal)
        {
            return state;
        }
        var known = Enumerable.Range(0, state.Last.Count).All(i => state.Last[i] is not null);
        var until = known ? Enumerable.Range(0, state.Last.Count).Min(i => inputs.Holds[i] is { } hold ? Math.Min(at, state.Last[i]!.Value.T + hold) : at) : at;
        if (!known || state.SumsSince is not { } since || until <= since)
        {
            var silent = known && state.SumsSince is { } summed ? Math.Max(0, at - summed) : 0;
            return state with { SumsSince = Math.Max(at, state.SumsSince ?? at), MissedMs = state.MissedMs + silent };
        }
        var v = state.Last.Select(l => l!.Value.V).ToList();
        var next = from switch
        {
            RunningHoursOf when Grows(from, v[0]) => state with { Total = state.Total + (until - since) / HourMs },
            DegreeDaysOf days when Grows(from, v[0]) => state with { Total = state.Total + Math.Abs(v[0] - days.BaseCelsius) * (until - since) / DayMs },
            MouldIndexOf mould => Grown(mould, state, v, (until - since) / HourMs),
            _ => state,
        };
        return next with { SumsSince = at, MissedMs = next.MissedMs + at - until };
    }

    private static DerivedState Grown(MouldIndexOf mould, DerivedState state, List<double> v, double hours)
    {
        var surface = v.Count > 2 ? v[2] : v[0];
        var now = MouldIndex.After(new(state.Total, state.DryHours), surface, MouldIndex.SurfacePercent(v[0], v[1], surface), hours, mould.Ground);
        return state with { Total = now.Index, DryHours = now.DryHours };
    }

    private static bool Grows(DerivedFrom from, DerivedState state) => state.Last.Count > 0 && state.Last[0] is { } last && Grows(from, last.V);

    private static bool Grows(DerivedFrom from, double v) =>
        from switch
        {
            RunningHoursOf running => v > running.Above,
            DegreeDaysOf { Side: LimitSide.Below } days => v < days.BaseCelsius,
            DegreeDaysOf days => v > days.BaseCelsius,
            _ => false,
        };

    private static double? Compensated(double measured, double celsius, double percent) =>
        celsius is > -5 and < 100 && percent / 100 * (celsius - 25) > -0.9 ? Conductivity.At25(measured, celsius, percent / 100) : null;

    private static IReadOnlyList<TimedValue> Window(IReadOnlyList<TimedValue> marks, long withinMs, long t, double value) =>
        TimedValue.Thinned([.. marks.Where(m => m.T <= t && t - m.T <= withinMs), new(t, value)]);

    /// <summary>Per hour, once half of the stretch is seen.</summary>
    private static double? Slope(IReadOnlyList<TimedValue> marks, long withinMs)
    {
        if (marks.Count < 2 || marks[^1].T - marks[0].T < withinMs / 2)
        {
            return null;
        }
        var (slope, _) = Trend.Line([.. marks.Select(m => (m.T, m.V))]);
        return slope;
    }
}
