using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>Why people are told.</summary>
public enum NoticeKind
{
    /// <summary>The episode began.</summary>
    Raised,

    /// <summary>It lasts, and nobody acknowledged it.</summary>
    Reminder,

    /// <summary>Nobody acknowledged it in time: the next person is told.</summary>
    Escalated,

    /// <summary>The episode is over.</summary>
    Over,
}

/// <summary>A notice that is due: which of an episode's, to whom.</summary>
/// <param name="Number">Of a reminder, which one, from 1; else 0.</param>
/// <param name="AtMs">When it was due, UTC ms of site time.</param>
public sealed record DueNotice(NoticeKind Kind, int Number, string Person, long AtMs)
{
    /// <summary>The step of the episode that this notice is: the same step is never another notice.</summary>
    public string Step =>
        Kind == NoticeKind.Reminder ? $"reminder-{Number}"
        : Kind == NoticeKind.Escalated ? "raised"
        : Kind.ToString().ToLowerInvariant();
}

/// <summary>What is known of an episode when it is to be told.</summary>
/// <param name="Damped">True when its rule raised again and again: then it is told only when it lasts.</param>
public sealed record Standing(long RaisedMs, long? ClearedMs, long? AcknowledgedMs, bool Damped = false);

/// <summary>
/// When an episode is told to whom: at once or after nobody acknowledged it, again as a reminder, and when it is over; held back by quiet hours to their end. A
/// function of the episode alone, so that a restart neither loses nor repeats one: what lies between the moment up to which all was told and now is due. Pure.
/// </summary>
public static class NoticeSchedule
{
    /// <summary>A rule that raised this often in <see cref="FlapWithinMs"/> before flaps.</summary>
    public const int FlapCount = 3;

    /// <summary>The time in which raises count as flapping, ms.</summary>
    public const long FlapWithinMs = 3_600_000;

    /// <summary>An episode of a rule that flaps is told when it lasted this long, ms.</summary>
    public const long DampedMs = 600_000;

    private const int MostReminders = 10_000;

    /// <summary>True when a rule flaps: of what it raised before, so many lie within the hour before this.</summary>
    public static bool Flaps(IEnumerable<long> earlierRaisedMs, long raisedMs) =>
        earlierRaisedMs.Count(e => e < raisedMs && e > raisedMs - FlapWithinMs) >= FlapCount;

    /// <summary>True for a rule of something that happens and is over at once: a knock, a parcel, so many within a time. It cannot last.</summary>
    public static bool IsOfMoments(RuleDesign rule) => rule.Parts.Any(p => p.Condition is InSequence or EventsWithin);

    /// <summary>The notices that fell due after <paramref name="toldUntilMs"/> up to <paramref name="now"/>. Of reminders
    /// that were missed together only the newest is left, with its number.</summary>
    public static IReadOnlyList<DueNotice> Due(
        TellDesign tell,
        IReadOnlyList<PersonDesign> people,
        Standing episode,
        TimeZoneInfo zone,
        long toldUntilMs,
        long now
    )
    {
        var due = new List<DueNotice>();
        foreach (var step in tell.Steps)
        {
            if (people.FirstOrDefault(p => p.Key == step.Person) is not { } person)
            {
                continue;
            }
            var quiet = tell.ThroughQuiet ? null : person.Quiet;
            var first = QuietHours.After(quiet, zone, episode.RaisedMs + Math.Max(step.AfterMs, episode.Damped ? DampedMs : 0));
            // Whom nothing was told before it was over or taken up, nothing is told any more. What is told at once is told also when it was over at once.
            var ends = Math.Min(episode.ClearedMs ?? long.MaxValue, episode.AcknowledgedMs ?? long.MaxValue);
            var atOnce = step.AfterMs == 0 && !episode.Damped && first == episode.RaisedMs;
            if (first > now || (first >= ends && !atOnce))
            {
                continue;
            }
            if (first > toldUntilMs)
            {
                due.Add(new(step.AfterMs > 0 ? NoticeKind.Escalated : NoticeKind.Raised, 0, person.Key, first));
            }
            else if (tell.RemindEveryMs is { } every && Reminder(quiet, zone, first, every, toldUntilMs, Math.Min(now, ends - 1)) is var (number, at))
            {
                due.Add(new(NoticeKind.Reminder, number, person.Key, at));
            }
            if (tell.WhenOver && episode.ClearedMs is { } cleared && QuietHours.After(quiet, zone, cleared) is var over && over > toldUntilMs && over <= now)
            {
                due.Add(new(NoticeKind.Over, 0, person.Key, over));
            }
        }
        return [.. due.OrderBy(d => d.AtMs)];
    }

    /// <summary>The first moment after <paramref name="toldUntilMs"/> at which a notice may fall due as the episode stands; null for none. Nothing is due
    /// before it.</summary>
    public static long? NextAt(TellDesign tell, IReadOnlyList<PersonDesign> people, Standing episode, TimeZoneInfo zone, long toldUntilMs)
    {
        long? next = null;
        void May(long at) => next = at > toldUntilMs && !(next <= at) ? at : next;
        foreach (var person in tell.Steps.Select(s => people.FirstOrDefault(p => p.Key == s.Person)).OfType<PersonDesign>().Distinct())
        {
            var quiet = tell.ThroughQuiet ? null : person.Quiet;
            if (tell.WhenOver && episode.ClearedMs is { } cleared)
            {
                May(QuietHours.After(quiet, zone, cleared));
            }
            foreach (var step in tell.Steps.Where(s => s.Person == person.Key))
            {
                var first = QuietHours.After(quiet, zone, episode.RaisedMs + Math.Max(step.AfterMs, episode.Damped ? DampedMs : 0));
                May(first);
                if (
                    tell.RemindEveryMs is { } every
                    && first + Math.Max(1, (toldUntilMs - first) / every + 1) * every is var reminder
                    && reminder < Math.Min(episode.ClearedMs ?? long.MaxValue, episode.AcknowledgedMs ?? long.MaxValue)
                )
                {
                    May(reminder);
                }
            }
        }
        return next;
    }

    /// <summary>True when nothing can fall due any more.</summary>
    public static bool IsDone(TellDesign? tell, IReadOnlyList<PersonDesign> people, Standing episode, TimeZoneInfo zone, long toldUntilMs) =>
        tell is null
        || (
            episode.ClearedMs is { } cleared
            && (!tell.WhenOver || people.All(p => QuietHours.After(tell.ThroughQuiet ? null : p.Quiet, zone, cleared) <= toldUntilMs))
        );

    /// <summary>The newest reminder after a moment, and how many there were with it; a reminder that would come in quiet hours is left out.</summary>
    private static (int Number, long At)? Reminder(QuietDesign? quiet, TimeZoneInfo zone, long first, long every, long after, long until)
    {
        (int, long)? newest = null;
        var number = 0;
        for (var k = 1; k <= MostReminders && first + k * every is var at && at <= until; k++)
        {
            if (!QuietHours.Holds(quiet, zone, at))
            {
                number++;
                newest = at > after ? (number, at) : newest;
            }
        }
        return newest;
    }
}
