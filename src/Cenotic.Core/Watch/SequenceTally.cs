using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>One outcome.</summary>
/// <param name="AtMs">The event, or the first of the two, UTC ms.</param>
/// <param name="DelayMs">From the first event to the second where both came; negative when the second came before.</param>
public sealed record SequenceEvent(SequenceOutcome Outcome, long AtMs, long? DelayMs);

/// <summary>Outcomes counted over so many days.</summary>
public sealed record SequenceCounts(int Both, int FirstAlone, int SecondAlone, double DaysWatched)
{
    /// <summary>Of one outcome, how many a day; 0 where nothing was watched.</summary>
    public double PerDay(SequenceOutcome outcome) =>
        DaysWatched <= 0
            ? 0
            : outcome switch
            {
                SequenceOutcome.Both => Both,
                SequenceOutcome.FirstAlone => FirstAlone,
                _ => SecondAlone,
            } / DaysWatched;
}

/// <summary>
/// Tells apart what two event sensors saw together and what one saw alone: a light beam and a knock within seconds
/// are a parcel, a beam alone somebody who passed, a knock alone the wind. Pure.
/// </summary>
public static class SequenceTally
{
    /// <summary>The outcomes up to a moment, in order of time. An event whose window still runs then is left open. Each event is taken once; where several
    /// could go together the earliest that are still free do.</summary>
    /// <param name="first">Times of the first sensor's events, in order, UTC ms.</param>
    /// <param name="second">Times of the second sensor's.</param>
    /// <param name="withinMs">Longest time between two that go together.</param>
    /// <param name="inOrder">True when the second must not come before the first.</param>
    /// <param name="untilMs">Up to when is known what came.</param>
    public static IReadOnlyList<SequenceEvent> Of(IReadOnlyList<long> first, IReadOnlyList<long> second, long withinMs, bool inOrder, long untilMs)
    {
        var outcomes = new List<SequenceEvent>();
        var at = 0;
        foreach (var one in first)
        {
            // What came too early for this one is alone; in order, also all that came before it.
            while (at < second.Count && second[at] < (inOrder ? one : one - withinMs))
            {
                Alone(SequenceOutcome.SecondAlone, second[at++]);
            }
            if (at < second.Count && second[at] <= one + withinMs)
            {
                outcomes.Add(new(SequenceOutcome.Both, Math.Min(one, second[at]), second[at] - one));
                at++;
            }
            else
            {
                Alone(SequenceOutcome.FirstAlone, one);
            }
        }
        while (at < second.Count)
        {
            Alone(SequenceOutcome.SecondAlone, second[at++]);
        }
        return [.. outcomes.OrderBy(o => o.AtMs)];

        void Alone(SequenceOutcome outcome, long t)
        {
            // In order nothing can come later that makes a second event no longer alone.
            if (t + withinMs < untilMs || (inOrder && outcome == SequenceOutcome.SecondAlone))
            {
                outcomes.Add(new(outcome, t, null));
            }
        }
    }

    /// <summary>How many of each, and over how long.</summary>
    public static SequenceCounts Count(IReadOnlyList<SequenceEvent> events, long fromMs, long toMs) =>
        new(
            events.Count(e => e.Outcome == SequenceOutcome.Both),
            events.Count(e => e.Outcome == SequenceOutcome.FirstAlone),
            events.Count(e => e.Outcome == SequenceOutcome.SecondAlone),
            Math.Max(0, toMs - fromMs) / 86_400_000.0
        );
}
