using Cenotic.Core.Design;
using Cenotic.Core.Watch;

namespace Cenotic.Core.Alerts;

/// <summary>What a rule remembers between samples. Times are UTC milliseconds of site time.</summary>
/// <param name="PendingSince">When the condition began to hold, not yet long enough; null when it does not hold.</param>
/// <param name="Raised">True from raising to clearing.</param>
/// <param name="LastHeard">Time of the newest sample, or when the rule began to watch.</param>
public sealed record RuleState(long? PendingSince, bool Raised, long LastHeard, double? LastValue)
{
    /// <summary>Values or events that count still, the oldest first.</summary>
    public IReadOnlyList<TimedValue> Marks { get; init; } = [];

    /// <summary>Values in a row beyond the limit.</summary>
    public int Row { get; init; }

    /// <summary>What only rules of several readings remember; null for others.</summary>
    public RuleMore? More { get; init; }

    /// <summary>Since when anybody listens: while this program was off, nobody was silent. Null for since ever.</summary>
    public long? ListensSince { get; init; }

    /// <summary>The state of a rule that begins to watch now.</summary>
    public static RuleState Start(long now) => new(null, false, now, null);
}

/// <summary>What a rule of several readings remembers besides.</summary>
/// <param name="LastOther">The newest value of the other reading of a sequence.</param>
/// <param name="Newest">Time of the newest sample of any of several conditions; null before the first.</param>
/// <param name="Parts">States of the conditions; empty for one condition.</param>
public sealed record RuleMore(double? LastOther, long? Newest, IReadOnlyList<RuleState> Parts);

/// <summary>What judging wants to know of a reading.</summary>
/// <param name="OverdueAfterMs">How long after its newest value its next message is overdue, ms; null for one that is sent when it changes.</param>
/// <param name="IsEvent">True when every value above 0 is an event of its own; of a state only the change is.</param>
public readonly record struct ReadingFacts(long? OverdueAfterMs, bool IsEvent);

/// <summary>Gives the facts of a reading.</summary>
public delegate ReadingFacts FactsOf(ReadingRef reading);

/// <summary>A change of a rule's episode.</summary>
public enum RuleTurn
{
    /// <summary>An episode begins.</summary>
    Raised,

    /// <summary>It is over.</summary>
    Cleared,
}

/// <summary>A rule that turned. <paramref name="At"/> is the sample's time, or when its duration ran out.</summary>
public sealed record RuleEvent(RuleTurn Turn, long At, double? Value);

/// <summary>
/// Judges a rule on samples and on passing time. The same code runs live and on the past. Samples older
/// than the newest judged are not to be given: the caller stores them as late.
/// </summary>
public static class RuleJudge
{
    /// <summary>The rule after a sample of its own reading.</summary>
    /// <inheritdoc cref="OnSample(RuleDesign, RuleState, ReadingRef, long, double, UsualAt?, FactsOf?)"/>
    public static (RuleState State, IReadOnlyList<RuleEvent> Events) OnSample(RuleDesign rule, RuleState state, long t, double value) =>
        rule.Also.Count == 0 ? Single(rule, state, null, t, value, null, null) : OnSamples(rule, state, t, [(new(rule.Node, rule.Reading), value)]);

    /// <summary>The rule after a sample, and how it turned on the way: what ran out before the sample came is judged first.</summary>
    /// <param name="reading">One of <see cref="RuleDesign.Inputs"/>.</param>
    /// <param name="usual">Needed for <see cref="UnlikeUsual"/>; without it nothing is unusual.</param>
    /// <param name="facts">A duration is fulfilled by the first value at or after its end, when that arrives; by the clock where a reading is sent
    /// only when it changes, and for others once the next message is overdue: till then nobody knows what a batch holds. Without it, by the clock.</param>
    public static (RuleState State, IReadOnlyList<RuleEvent> Events) OnSample(
        RuleDesign rule,
        RuleState state,
        ReadingRef reading,
        long t,
        double value,
        UsualAt? usual = null,
        FactsOf? facts = null
    ) => rule.Also.Count > 0 ? OnSamples(rule, state, t, [(reading, value)], usual, facts) : Single(rule, state, reading, t, value, usual, facts);

    /// <summary>A rule of one condition: the way that nearly all values take, so nothing is made that is not kept.</summary>
    /// <param name="reading">Null for the rule's own.</param>
    private static (RuleState State, IReadOnlyList<RuleEvent> Events) Single(
        RuleDesign rule,
        RuleState state,
        ReadingRef? reading,
        long t,
        double value,
        UsualAt? usual,
        FactsOf? facts
    )
    {
        IReadOnlyList<RuleEvent> early = [];
        if (DueAt(rule.Condition, state, Overdue(rule.Parts[0], facts)) < t)
        {
            (state, early) = OnTime(rule, state, t - 1, facts);
        }
        var own = reading is null || (reading.Node == rule.Node && reading.Reading == rule.Reading);
        (state, var turn) = Part(rule.Condition, state, own, reading, t, value, usual, IsEvent(rule.Condition, reading ?? new(rule.Node, rule.Reading), facts));
        return (state, turn is null ? early : [.. early, turn]);
    }

    /// <summary>A rule of several conditions after what one message says of one moment: all of it is taken before the conditions
    /// are held together, so that no order within a message raises anything.</summary>
    /// <param name="samples">Of <see cref="RuleDesign.Inputs"/>.</param>
    public static (RuleState State, IReadOnlyList<RuleEvent> Events) OnSamples(
        RuleDesign rule,
        RuleState state,
        long t,
        IReadOnlyList<(ReadingRef Reading, double Value)> samples,
        UsualAt? usual = null,
        FactsOf? facts = null
    )
    {
        var (now, early) = OnTime(rule, state, t - 1, facts);
        var (parts, states) = (rule.Parts, StatesOf(rule, now).ToArray());
        foreach (var (reading, value) in samples)
        {
            for (var i = 0; i < parts.Count; i++)
            {
                states[i] = Reads(parts[i], reading)
                    ? Part(
                        parts[i].Condition,
                        states[i],
                        parts[i].Reading == reading,
                        reading,
                        t,
                        value,
                        usual,
                        IsEvent(parts[i].Condition, reading, facts)
                    ).State
                    : states[i];
            }
        }
        // Of several nodes one may be a little behind another: together they turn no earlier than what was heard before.
        var at = Math.Max(t, now.More?.Newest ?? t);
        (now, var turn) = Together(
            rule,
            now with
            {
                More = new(null, at, states),
                LastHeard = Math.Max(at, now.LastHeard),
                LastValue = states[0].LastValue,
            },
            at
        );
        return (now, turn is null ? early : [.. early, turn]);
    }

    /// <summary>The rule when time has passed without a sample, and how it turned, in order.</summary>
    public static (RuleState State, IReadOnlyList<RuleEvent> Events) OnTime(RuleDesign rule, RuleState state, long now, FactsOf? facts = null)
    {
        List<RuleEvent>? events = null;
        while (DueAt(rule, state, facts) is { } due && due <= now)
        {
            RuleEvent? turn;
            if (rule.Also.Count == 0)
            {
                (state, turn) = PartOnTime(rule.Condition, state, due);
            }
            else
            {
                var parts = rule.Parts;
                (state, turn) = Together(
                    rule,
                    state with
                    {
                        More = new(
                            null,
                            state.More?.Newest,
                            [
                                .. StatesOf(rule, state)
                                    .Select(
                                        (s, i) =>
                                            DueAt(parts[i].Condition, s, Overdue(parts[i], facts)) <= due ? PartOnTime(parts[i].Condition, s, due).State : s
                                    ),
                            ]
                        ),
                    },
                    due
                );
            }
            if (turn is not null)
            {
                (events ??= []).Add(turn);
            }
        }
        return (state, events ?? (IReadOnlyList<RuleEvent>)[]);
    }

    /// <summary>When something will change though nothing more is heard, or null.</summary>
    public static long? DueAt(RuleDesign rule, RuleState state, FactsOf? facts = null) =>
        rule.Also.Count == 0
            ? DueAt(rule.Condition, state, Overdue(rule.Parts[0], facts))
            : rule.Parts.Zip(StatesOf(rule, state), (p, s) => DueAt(p.Condition, s, Overdue(p, facts))).Min();

    private static long? Overdue(RulePart part, FactsOf? facts) => facts?.Invoke(part.Reading).OverdueAfterMs;

    private static long? DueAt(RuleCondition condition, RuleState state, long? overdueAfter) =>
        condition switch
        {
            // Fewer are left than wanted once the one that made the number is too old.
            EventsWithin events => state.Raised && state.Marks.Count >= events.Count ? state.Marks[^events.Count].T + events.WithinMs : null,
            InSequence sequence => Earlier(
                state.PendingSince + Math.Max(1_000, sequence.WithinMs),
                state.Marks.Count > 0 ? state.Marks[0].T + sequence.WithinMs + 1 : null
            ),
            _ when state.Raised => null,
            SilentFor silent => Math.Max(state.LastHeard, state.ListensSince ?? 0) + silent.ForMs,
            _ when state.PendingSince is { } since && ForMs(condition) is > 0 and var lasting => overdueAfter is { } after
                ? Math.Max(since + lasting, state.LastHeard + after)
                : since + lasting,
            _ => null,
        };

    private static long? Earlier(long? a, long? b) =>
        a is null ? b
        : b is null ? a
        : Math.Min(a.Value, b.Value);

    /// <summary>The states of the conditions of a rule with several; each began to watch when the rule did.</summary>
    private static IReadOnlyList<RuleState> StatesOf(RuleDesign rule, RuleState state) =>
        state.More is { } more && more.Parts.Count == rule.Also.Count + 1
            ? more.Parts
            : [.. Enumerable.Repeat(RuleState.Start(state.LastHeard), rule.Also.Count + 1)];

    private static bool Reads(RulePart part, ReadingRef reading) =>
        part.Reading == reading || (part.Condition is InSequence sequence && sequence.Other == reading);

    /// <summary>The rule by its conditions together.</summary>
    private static (RuleState State, RuleEvent? Turn) Together(RuleDesign rule, RuleState state, long at)
    {
        var holds = rule.Join == RuleJoin.All ? state.More!.Parts.All(p => p.Raised) : state.More!.Parts.Any(p => p.Raised);
        return holds == state.Raised ? (state, null) : (state with { Raised = holds }, new(holds ? RuleTurn.Raised : RuleTurn.Cleared, at, state.LastValue));
    }

    private static (RuleState State, RuleEvent? Turn) PartOnTime(RuleCondition condition, RuleState state, long due)
    {
        if (condition is InSequence sequence)
        {
            // What waited for the other is alone now; then what was told may be over.
            if (state.Marks.Count > 0 && state.Marks[0].T + sequence.WithinMs + 1 <= due)
            {
                var alone = state.Marks[0].V > 0 ? SequenceOutcome.FirstAlone : SequenceOutcome.SecondAlone;
                return Outcome(sequence, state with { Marks = [.. state.Marks.Skip(1)] }, alone, due, state.LastValue);
            }
            return (state with { PendingSince = null, Raised = false }, new(RuleTurn.Cleared, due, state.LastValue));
        }
        var turn = state.Raised ? RuleTurn.Cleared : RuleTurn.Raised;
        return (state with { Raised = !state.Raised, PendingSince = state.Raised ? null : state.PendingSince }, new(turn, due, state.LastValue));
    }

    /// <summary>Whether every value above 0 counts; asked only where it matters.</summary>
    private static bool IsEvent(RuleCondition condition, ReadingRef reading, FactsOf? facts) =>
        condition is EventsWithin or Design.InSequence && facts?.Invoke(reading).IsEvent == true;

    private static (RuleState State, RuleEvent? Turn) Part(
        RuleCondition condition,
        RuleState now,
        bool own,
        ReadingRef? reading,
        long t,
        double value,
        UsualAt? usual,
        bool isEvent
    )
    {
        if (condition is InSequence sequence)
        {
            return InSequence(sequence, now, own, t, value, isEvent);
        }
        var (pending, raised) = (now.PendingSince, now.Raised);
        RuleEvent? turn = null;
        switch (Holds(condition, ref now, reading, t, value, usual, isEvent))
        {
            case true:
                pending ??= t;
                turn = !raised && t - pending >= ForMs(condition) ? new(RuleTurn.Raised, t, value) : null;
                raised |= turn is not null;
                break;
            case null when raised:
                break;
            default:
                turn = raised ? new(RuleTurn.Cleared, t, value) : null;
                (pending, raised) = (null, false);
                break;
        }
        return (now with { PendingSince = pending, Raised = raised, LastHeard = Math.Max(now.LastHeard, t), LastValue = value }, turn);
    }

    /// <summary>Events wait as marks for the other: 1 those of the first reading, −1 those of the second; <see cref="RuleState.PendingSince"/>
    /// is when the wanted outcome came last.</summary>
    private static (RuleState State, RuleEvent? Turn) InSequence(InSequence sequence, RuleState state, bool first, long t, double value, bool isEvent)
    {
        var before = first ? state.LastValue : state.More?.LastOther;
        var happens = (first ? sequence.OwnFalls : sequence.OtherFalls) ? value <= 0 && before is not <= 0 : value > 0 && (isEvent || before is not > 0);
        state = (first ? state with { LastValue = value } : state with { More = new(value, null, []) }) with { LastHeard = Math.Max(state.LastHeard, t) };
        if (!happens)
        {
            return (state, null);
        }
        // Each event is taken once; the earliest that is still free goes with it.
        var waiting = state.Marks.ToList();
        var partner = waiting.FindIndex(m => (first ? m.V < 0 : m.V > 0) && t - m.T <= sequence.WithinMs);
        if (partner >= 0)
        {
            waiting.RemoveAt(partner);
            return Outcome(sequence, state with { Marks = waiting }, SequenceOutcome.Both, t, value);
        }
        if (!first && sequence.InOrder)
        {
            return Outcome(sequence, state, SequenceOutcome.SecondAlone, t, value);
        }
        waiting.Add(new(t, first ? 1 : -1));
        return (state with { Marks = waiting }, null);
    }

    private static (RuleState State, RuleEvent? Turn) Outcome(InSequence sequence, RuleState state, SequenceOutcome outcome, long at, double? value) =>
        outcome != sequence.Outcome
            ? (state, null)
            : (state with { PendingSince = at, Raised = true }, state.Raised ? null : new RuleEvent(RuleTurn.Raised, at, value));

    private static long ForMs(RuleCondition condition) =>
        condition switch
        {
            BeyondLimit limit => limit.ForMs,
            OutsideBand band => band.ForMs,
            UnlikeUsual usual => usual.ForMs,
            _ => 0,
        };

    /// <summary>True when the condition holds with this value, false when it is over, null when it is neither.</summary>
    private static bool? Holds(RuleCondition condition, ref RuleState state, ReadingRef? reading, long t, double value, UsualAt? usual, bool isEvent)
    {
        switch (condition)
        {
            case BeyondLimit limit:
                return Beyond(limit.Side, limit.Limit, value) ? true
                    : state.Raised && !Back(limit.Side, limit.Clear, value) ? null
                    : false;
            case OutsideBand band:
                return value < band.Low || value > band.High ? true
                    : state.Raised && (value < band.Low + band.ClearBy || value > band.High - band.ClearBy) ? null
                    : false;
            case InARow row:
                var beyond = Beyond(row.Side, row.Limit, value);
                state = state with { Row = beyond ? Math.Min(state.Row + 1, row.Times) : 0 };
                return state.Row >= row.Times ? true
                    : state.Raised && (beyond || !Back(row.Side, row.Clear, value)) ? null
                    : false;
            case ChangesFaster change:
                state = state with { Marks = Extremes(state.Marks, change, t, value) };
                var by = change.Side == ChangeSide.Rises ? value - state.Marks[0].V : state.Marks[0].V - value;
                return by >= change.By ? true
                    : state.Raised && by >= change.By / 2 ? null
                    : false;
            case EventsWithin events:
                var rises = value > 0 && (isEvent || state.LastValue is not > 0);
                var marks = state.Marks.Where(m => t - m.T < events.WithinMs);
                state = state with { Marks = [.. (rises ? marks.Append(new(t, value)) : marks).TakeLast(events.Count)] };
                return state.Marks.Count >= events.Count;
            case UnlikeUsual unlike:
                return reading is not null && usual?.Invoke(reading, t) is { } known && (value < known.Low - unlike.By || value > known.High + unlike.By);
            default:
                return false;
        }
    }

    /// <summary>The facts of a site's readings: when messages are overdue by the plan of its nodes, and which of them are events.</summary>
    /// <param name="isEvent">Whether a reading is of kind event.</param>
    public static FactsOf FactsBy(SiteDesign site, Func<ReadingRef, bool> isEvent) =>
        reading => new(site.Reading(reading) is { IntervalMs: not null } of ? of.SilentMs : null, isEvent(reading));

    /// <summary>The state when this program begins to listen: what was silent while it was off counts from now on.</summary>
    public static RuleState Listening(RuleDesign rule, RuleState state, long now)
    {
        if (!rule.Parts.Any(p => p.Condition is SilentFor))
        {
            return state;
        }
        return rule.Also.Count == 0
            ? state with
            {
                ListensSince = now,
            }
            : state with
            {
                More = new(null, state.More?.Newest, [.. StatesOf(rule, state).Select(s => s with { ListensSince = now })]),
            };
    }

    /// <summary>Until when all that a rule watches counts as heard, UTC ms; null where some of it was never heard. Later some of it is silent.</summary>
    /// <param name="longestGapMs">Of a reading; null for one that is only sent when it changes: that cannot be told from silence.</param>
    public static long? HeardUntil(RuleDesign rule, RuleState state, Func<ReadingRef, long?> longestGapMs)
    {
        long? Until(RulePart part, RuleState of) =>
            of.LastValue is not null
            && longestGapMs(part.Reading) is { } gap
            && !(part.Condition is InSequence sequence && (of.More?.LastOther is null || longestGapMs(sequence.Other) is null))
                ? of.LastHeard + ReadingDesign.SilentAfterMs(gap)
                : null;
        var parts = rule.Also.Count == 0 ? [Until(rule.Parts[0], state)] : rule.Parts.Zip(StatesOf(rule, state), Until).ToList();
        return parts.Contains(null) ? null : parts.Min();
    }

    /// <summary>The values from which the greatest rise (or fall) to a later one can begin: each lower (or higher) than all after it.</summary>
    private static IReadOnlyList<TimedValue> Extremes(IReadOnlyList<TimedValue> marks, ChangesFaster change, long t, double value)
    {
        // What is kept rises (or falls) from mark to mark: what is too old stands at its begin, what is passed by now at its end.
        var (from, to) = (0, marks.Count);
        while (from < to && t - marks[from].T > change.WithinMs)
        {
            from++;
        }
        while (to > from && (change.Side == ChangeSide.Rises ? marks[to - 1].V >= value : marks[to - 1].V <= value))
        {
            to--;
        }
        var kept = new TimedValue[to - from + 1];
        for (var i = from; i < to; i++)
        {
            kept[i - from] = marks[i];
        }
        kept[^1] = new(t, value);
        return TimedValue.Thinned(kept);
    }

    private static bool Beyond(LimitSide side, double limit, double value) => side == LimitSide.Above ? value > limit : value < limit;

    private static bool Back(LimitSide side, double clear, double value) => side == LimitSide.Above ? value <= clear : value >= clear;
}
