using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>What a rule remembers between samples. Times are UTC milliseconds of site time.</summary>
/// <param name="PendingSince">When the condition began to hold, not yet long enough; null when it does not hold.</param>
/// <param name="Raised">True from raising to clearing.</param>
/// <param name="LastHeard">Time of the newest sample, or when the rule began to watch.</param>
public sealed record RuleState(long? PendingSince, bool Raised, long LastHeard, double? LastValue)
{
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
    /// <summary>The rule after a sample, and how it turned on the way: what ran out before the sample came is judged first.</summary>
    public static (RuleState State, IReadOnlyList<RuleEvent> Events) OnSample(RuleDesign rule, RuleState state, long t, double value)
    {
        var (now, early) = OnTime(rule, state, t - 1);
        var events = new List<RuleEvent>();
        if (early is not null)
        {
            events.Add(early);
        }
        now = now with { LastHeard = Math.Max(now.LastHeard, t), LastValue = value };
        switch (rule.Condition)
        {
            case BeyondLimit limit when Beyond(limit, value):
                now = now with { PendingSince = now.PendingSince ?? t };
                if (!now.Raised && t - now.PendingSince >= limit.ForMs)
                {
                    now = now with { Raised = true };
                    events.Add(new(RuleTurn.Raised, t, value));
                }
                break;
            case BeyondLimit limit when now.Raised && !Back(limit, value):
                break;
            default:
                if (now.Raised)
                {
                    events.Add(new(RuleTurn.Cleared, t, value));
                }
                now = now with { PendingSince = null, Raised = false };
                break;
        }
        return (now, events);
    }

    /// <summary>The rule when time has passed without a sample.</summary>
    public static (RuleState State, RuleEvent? Event) OnTime(RuleDesign rule, RuleState state, long now)
    {
        if (state.Raised || DueAt(rule, state) is not { } due || now < due)
        {
            return (state, null);
        }
        return (state with { Raised = true }, new(RuleTurn.Raised, due, state.LastValue));
    }

    /// <summary>When the rule will raise if nothing more is heard, or null.</summary>
    public static long? DueAt(RuleDesign rule, RuleState state) => rule.Condition switch
    {
        _ when state.Raised => null,
        SilentFor silent => state.LastHeard + silent.ForMs,
        BeyondLimit limit when state.PendingSince is { } since => since + limit.ForMs,
        _ => null,
    };

    private static bool Beyond(BeyondLimit limit, double value) => limit.Side == LimitSide.Above ? value > limit.Limit : value < limit.Limit;

    private static bool Back(BeyondLimit limit, double value) => limit.Side == LimitSide.Above ? value <= limit.Clear : value >= limit.Clear;
}
