namespace Cenotic.Core.Watch;

/// <summary>A stretch in which a state was on. Times in UTC milliseconds.</summary>
public sealed record Stretch(long From, long To, bool Open);

/// <summary>Turns samples of a state into the stretches of an event lane.</summary>
public static class EventLanes
{
    /// <summary>Stretches with a value above 0, in order of time.</summary>
    /// <param name="samples">In order of time.</param>
    /// <param name="end">Where an open stretch ends on the drawing.</param>
    public static IReadOnlyList<Stretch> Of(IEnumerable<(long T, double Value)> samples, long end)
    {
        var lanes = new List<Stretch>();
        long? from = null;
        foreach (var (t, value) in samples)
        {
            if (value > 0)
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
