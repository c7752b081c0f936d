using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>A value that a rule still needs.</summary>
public sealed record RuleMark(long T, double V);

/// <summary>What a rule remembers between samples. Times are UTC milliseconds of site time.</summary>
/// <param name="PendingSince">When the condition began to hold, not yet long enough; null when it does not hold.</param>
/// <param name="Raised">True from raising to clearing.</param>
/// <param name="LastHeard">Time of the newest sample, or when the rule began to watch.</param>
public sealed record RuleState(long? PendingSince, bool Raised, long LastHeard, double? LastValue)
{
    /// <summary>Values or events that count still, the oldest first.</summary>
    public IReadOnlyList<RuleMark> Marks { get; init; } = [];

    /// <summary>Values in a row beyond the limit.</summary>
    public int Row { get; init; }

    /// <summary>The state of a rule that begins to watch now.</summary>
    public static RuleState Start(long now) => new(null, false, now, null);
}

public enum RuleTurn { Raised, Cleared }

/// <summary>A rule that turned. <paramref name="At"/> is the sample's time, or when its duration ran out.</summary>
public sealed record RuleEvent(RuleTurn Turn, long At, double? Value);

/// <summary>
/// Judges a rule on samples and on passing time. The same code runs live and on the past. Samples older than the newest judged are not to be given: the caller stores them as late.
/// </summary>
public static class RuleJudge
{
    /// <summary>Most values that are kept of a rise or fall: of a longer one the middle is thinned out.</summary>
    private const int MostMarks = 256;

    /// <summary>The rule after a sample, and how it turned on the way: what ran out before the sample came is judged first.</summary>
    public static (RuleState State, IReadOnlyList<RuleEvent> Events) OnSample(RuleDesign rule, RuleState state, long t, double value)
    {
        var (now, early) = OnTime(rule, state, t - 1);
        var holds = Holds(rule.Condition, ref now, t, value);
        now = now with { LastHeard = Math.Max(now.LastHeard, t), LastValue = value };
        RuleEvent? turn = null;
        switch (holds)
        {
            case true:
                now = now with { PendingSince = now.PendingSince ?? t };
                if (!now.Raised && t - now.PendingSince >= ForMs(rule.Condition))
                {
                    now = now with { Raised = true };
                    turn = new(RuleTurn.Raised, t, value);
                }
                break;
            case null when now.Raised:
                break;
            default:
                turn = now.Raised ? new(RuleTurn.Cleared, t, value) : null;
                now = now.Raised || now.PendingSince is not null ? now with { PendingSince = null, Raised = false } : now;
                break;
        }
        return (now, (early, turn) switch { (null, null) => [], (null, { } only) => [only], ({ } first, null) => [first], ({ } first, { } second) => [first, second] });
    }

    /// <summary>The rule when time has passed without a sample.</summary>
    public static (RuleState State, RuleEvent? Event) OnTime(RuleDesign rule, RuleState state, long now)
    {
        if (DueAt(rule, state) is not { } due || now < due)
        {
            return (state, null);
        }
        var turn = state.Raised ? RuleTurn.Cleared : RuleTurn.Raised;
        return (state with { Raised = !state.Raised, PendingSince = state.Raised ? null : state.PendingSince }, new(turn, due, state.LastValue));
    }

    /// <summary>When the rule will turn if nothing more is heard, or null.</summary>
    public static long? DueAt(RuleDesign rule, RuleState state) => rule.Condition switch
    {
        // Fewer are left than wanted once the one that made the number is too old.
        EventsWithin events => state.Raised && state.Marks.Count >= events.Count ? state.Marks[^events.Count].T + events.WithinMs : null,
        _ when state.Raised => null,
        SilentFor silent => state.LastHeard + silent.ForMs,
        _ when state.PendingSince is { } since && ForMs(rule.Condition) is > 0 and var lasting => since + lasting,
        _ => null,
    };

    private static long ForMs(RuleCondition condition) => condition switch { BeyondLimit limit => limit.ForMs, OutsideBand band => band.ForMs, _ => 0 };

    /// <summary>True when the condition holds with this value, false when it is over, null when it is neither.</summary>
    private static bool? Holds(RuleCondition condition, ref RuleState state, long t, double value)
    {
        switch (condition)
        {
            case BeyondLimit limit:
                return Beyond(limit.Side, limit.Limit, value) ? true : state.Raised && !Back(limit.Side, limit.Clear, value) ? null : false;
            case OutsideBand band:
                return value < band.Low || value > band.High ? true : state.Raised && (value < band.Low + band.ClearBy || value > band.High - band.ClearBy) ? null : false;
            case InARow row:
                var beyond = Beyond(row.Side, row.Limit, value);
                state = state with { Row = beyond ? Math.Min(state.Row + 1, row.Times) : 0 };
                return state.Row >= row.Times ? true : state.Raised && (beyond || !Back(row.Side, row.Clear, value)) ? null : false;
            case ChangesFaster change:
                state = state with { Marks = Extremes(state.Marks, change, t, value) };
                var by = change.Side == ChangeSide.Rises ? value - state.Marks[0].V : state.Marks[0].V - value;
                return by >= change.By ? true : state.Raised && by >= change.By / 2 ? null : false;
            case EventsWithin events:
                var rises = value > 0 && state.LastValue is not > 0;
                var marks = state.Marks.Where(m => t - m.T < events.WithinMs);
                state = state with { Marks = [.. (rises ? marks.Append(new(t, value)) : marks).TakeLast(events.Count)] };
                return state.Marks.Count >= events.Count;
            default:
                return false;
        }
    }

    /// <summary>The values from which the greatest rise (or fall) to a later one can begin: each lower (or higher) than all after it.</summary>
    private static List<RuleMark> Extremes(IReadOnlyList<RuleMark> marks, ChangesFaster change, long t, double value)
    {
        var kept = new List<RuleMark>(marks.Count + 1);
        foreach (var mark in marks)
        {
            if (t - mark.T <= change.WithinMs && (change.Side == ChangeSide.Rises ? mark.V < value : mark.V > value))
            {
                kept.Add(mark);
            }
        }
        kept.Add(new(t, value));
        return kept.Count <= MostMarks ? kept : [.. kept.Where((_, at) => at == 0 || at == kept.Count - 1 || at % 2 == 0)];
    }

    private static bool Beyond(LimitSide side, double limit, double value) => side == LimitSide.Above ? value > limit : value < limit;

    private static bool Back(LimitSide side, double clear, double value) => side == LimitSide.Above ? value <= clear : value >= clear;
}
