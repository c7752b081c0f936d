namespace Cenotic.Core.Watch;

/// <summary>A stretch in which a state was not at rest. Times in UTC milliseconds.</summary>
public sealed record Stretch(long From, long To, bool Open);

/// <summary>Turns samples of a state into the stretches of an event lane.</summary>
public static class EventLanes
{
    /// <summary>Whether a quantity is on (above 0) while nothing happens: a contact is closed at rest, and what happens is that it opens.</summary>
    public static bool RestsOn(string? quantity) => quantity == "contact";

    /// <summary>Stretches in which something happens, in order of time: a value above 0, or one of 0 where the state <paramref name="restsOn"/>.</summary>
    /// <param name="samples">In order of time.</param>
    /// <param name="end">Where an open stretch ends on the drawing.</param>
    /// <param name="events">True when every value above 0 is an event of its own: a stretch without length.</param>
    public static IReadOnlyList<Stretch> Of(IEnumerable<(long T, double Value)> samples, long end, bool restsOn = false, bool events = false)
    {
        if (events)
        {
            return [.. samples.Where(s => s.Value > 0).Select(s => new Stretch(s.T, s.T, false))];
        }
        var lanes = new List<Stretch>();
        long? from = null;
        foreach (var (t, value) in samples)
        {
            if (value > 0 != restsOn)
            {
                from ??= t;
            }
            else if (from is { } start)
            {
                lanes.Add(new(start, t, false));
                from = null;
            }
        }
        if (from is { } open)
        {
            lanes.Add(new(open, Math.Max(open, end), true));
        }
        return lanes;
    }
}
