namespace Cenotic.Core.Alerts;

/// <summary>What is usual in an hour: the quantiles between which nearly all values lay.</summary>
public sealed record UsualBand(double Low, double High);

/// <summary>
/// What a reading usually is, by hour of the day and day of the week, from the eight weeks before: 1 to 99 % of the values of the same hour on the same weekday, of the same hour on any day where there are fewer than four such days,
/// and nothing where there are fewer than seven days (quantiles by nearest rank; the numbers of days are common practice, no source). Pure.
/// </summary>
public static class UsualBands
{
    /// <summary>How far back is looked, days.</summary>
    public const int Days = 56;

    private const int LeastSameWeekday = 4, LeastDays = 7;
    private const double Low = 0.01, High = 0.99;

    /// <summary>The bands of the 24 hours of a day; null for an hour about which too little is known.</summary>
    /// <param name="history">Values with their local times, none of the day itself or later; those older than eight weeks are left out.</param>
    public static IReadOnlyList<UsualBand?> Of(DateOnly day, IEnumerable<(DateTime Local, double Value)> history)
    {
        var first = day.AddDays(-Days);
        var hours = new List<(DateOnly Day, double Value)>[24];
        foreach (var (local, value) in history)
        {
            var on = DateOnly.FromDateTime(local);
            if (on >= first && on < day)
            {
                (hours[local.Hour] ??= []).Add((on, value));
            }
        }
        return [.. hours.Select(h => h is null ? null : Band([.. h.Where(v => v.Day.DayOfWeek == day.DayOfWeek)], LeastSameWeekday) ?? Band(h, LeastDays))];
    }

    private static UsualBand? Band(List<(DateOnly Day, double Value)> values, int leastDays)
    {
        if (values.Select(v => v.Day).Distinct().Count() < leastDays)
        {
            return null;
        }
        var sorted = values.Select(v => v.Value).Order().ToList();
        return new(Quantile(sorted, Low), Quantile(sorted, High));
    }

    private static double Quantile(List<double> sorted, double share) => sorted[Math.Clamp((int)Math.Ceiling(share * sorted.Count) - 1, 0, sorted.Count - 1)];
}

/// <summary>What is usual for a reading at a time, UTC ms; null where that is not known.</summary>
public delegate UsualBand? UsualAt(Design.ReadingRef reading, long t);

/// <summary>Bands of days made when they are asked for, from values that are given: for a trial.</summary>
internal sealed class UsualOfPast(IReadOnlyList<TrialSample> samples, Design.ReadingRef own, TimeZoneInfo zone)
{
    private readonly ILookup<Design.ReadingRef, (DateTime Local, double Value)> _values = samples.ToLookup(s => s.Reading ?? own, s => (Local(s.T, zone), s.Value));
    private readonly Dictionary<Design.ReadingRef, Dictionary<DateOnly, List<(DateTime Local, double Value)>>> _days = [];
    private (Design.ReadingRef Reading, DateOnly Day, IReadOnlyList<UsualBand?> Bands)? _last;

    internal UsualBand? At(Design.ReadingRef reading, long t)
    {
        var local = Local(t, zone);
        var day = DateOnly.FromDateTime(local);
        if (_last is not { } last || last.Day != day || last.Reading != reading)
        {
            if (!_days.TryGetValue(reading, out var days))
            {
                _days[reading] = days = _values[reading].GroupBy(v => DateOnly.FromDateTime(v.Local)).ToDictionary(g => g.Key, g => g.ToList());
            }
            last = (reading, day, UsualBands.Of(day, Enumerable.Range(1, UsualBands.Days).SelectMany(back => days.TryGetValue(day.AddDays(-back), out var values) ? values : [])));
            _last = last;
        }
        return last.Bands[local.Hour];
    }

    private static DateTime Local(long t, TimeZoneInfo zone) => TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(t), zone).DateTime;
}
