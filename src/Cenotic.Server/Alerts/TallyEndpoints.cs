using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;

namespace Cenotic.Server.Alerts;

/// <summary>How often a rule of two event sensors saw what, over the newest day and week.</summary>
/// <param name="DayPerHour">Of its own outcome, how many an hour over the day.</param>
/// <param name="WeekPerDay">Of its own outcome, how many a day over the week.</param>
public sealed record RuleTally(string Rule, SequenceCounts Day, SequenceCounts Week, double DayPerHour, double WeekPerDay);

/// <summary>Tallies and rates that stand on rules of sequences.</summary>
public static class TallyEndpoints
{
    private const long DayMs = 86_400_000;

    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Reading(routes).MapGet("/rules/tallies", OfAsync).WithName("GetRuleTallies");

    private static async Task<List<RuleTally>> OfAsync(string site, SiteBook book, SiteClock clock, CenoticStore store)
    {
        var (state, now) = (book.Find(site)!, clock.Now(site));
        var tallies = new List<RuleTally>();
        foreach (var rule in state.Design.Rules)
        {
            if (rule.Parts.FirstOrDefault(p => p.Condition is InSequence) is not { Condition: InSequence sequence } part)
            {
                continue;
            }
            var first = await EventsAsync(store, state, part.Reading, sequence.OwnFalls, now);
            var second = await EventsAsync(store, state, sequence.Other, sequence.OtherFalls, now);
            var events = SequenceTally.Of(first, second, sequence.WithinMs, sequence.InOrder, now);
            SequenceCounts Since(long from) => SequenceTally.Count([.. events.Where(e => e.AtMs >= from)], from, now);
            var (day, week) = (Since(now - DayMs), Since(now - 7 * DayMs));
            tallies.Add(new(rule.Key, day, week, day.PerDay(sequence.Outcome) / 24, week.PerDay(sequence.Outcome)));
        }
        return tallies;
    }

    /// <summary>Moments of the newest week at which a reading rose, or fell.</summary>
    private static async Task<List<long>> EventsAsync(CenoticStore store, SiteState state, ReadingRef reading, bool falls, long now)
    {
        var from = now - 7 * DayMs;
        var stretches = await SeriesReader.StretchesAsync(store, state, reading, from, now);
        // A stretch is what happens: of a contact that it is open, and it rises when that is over.
        var begins = EventLanes.RestsOn(state.Quantity(reading)?.Quantity) == falls;
        return [.. begins ? stretches.Select(s => s.From).Where(t => t > from || state.IsEvent(reading)) : stretches.Where(s => !s.Open).Select(s => s.To)];
    }
}
