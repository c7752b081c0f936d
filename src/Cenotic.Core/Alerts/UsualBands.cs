using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>What is usual in an hour: the quantiles between which nearly all values lay.</summary>
public sealed record UsualBand(double Low, double High);

/// <summary>What is usual for a reading at a time, UTC ms; null where that is not known.</summary>
public delegate UsualBand? UsualAt(ReadingRef reading, long t);

/// <summary>
/// What a reading usually is, by hour of the day and day of the week, from the eight weeks before: 1 to 99 % of the values of the same hour on the same
/// weekday, of the same hour on any day where there are fewer than four such days, and nothing where there are fewer than seven days (quantiles by nearest
/// rank; the numbers of days are common practice, no source). Not for several threads at once.
/// </summary>
public sealed class UsualBands
{
    /// <summary>How far back is looked, days.</summary>
    public const int Days = 56;

    private const int HoursOfADay = 24,
        DaysOfAWeek = 7,
        LeastSameWeekday = 4,
        LeastDays = 7;
    private const double Low = 0.01,
        High = 0.99;
    private readonly Dictionary<DateOnly, Values?[]> _days = [];

    /// <summary>Day and hour of a time, UTC ms, by the clock of a zone.</summary>
    public static (DateOnly Day, int Hour) When(long t, TimeZoneInfo zone)
    {
        var local = TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(t), zone).DateTime;
        return (DateOnly.FromDateTime(local), local.Hour);
    }

    /// <summary>Takes a value of a day and hour.</summary>
    public void Add((DateOnly Day, int Hour) when, double value)
    {
        var (day, hour) = when;
        if (!_days.TryGetValue(day, out var hours))
        {
            _days[day] = hours = new Values?[HoursOfADay];
        }
        (hours[hour] ??= new()).Add(value);
    }

    /// <summary>The bands of the 24 hours of a day, by what was before it; null for an hour about which too little is known.</summary>
    public IReadOnlyList<UsualBand?> Of(DateOnly day) =>
        [.. Enumerable.Range(0, HoursOfADay).Select(hour => Band(day, hour, DaysOfAWeek, LeastSameWeekday) ?? Band(day, hour, 1, LeastDays))];

    /// <summary>The band of an hour by every so many days back; null where those are fewer than wanted.</summary>
    private UsualBand? Band(DateOnly day, int hour, int every, int leastDays)
    {
        var hours = new List<Values>();
        for (var back = every; back <= Days; back += every)
        {
            if (_days.TryGetValue(day.AddDays(-back), out var of) && of[hour] is { } values)
            {
                hours.Add(values);
            }
        }
        return hours.Count < leastDays ? null : new(Quantile(hours, Low), Quantile(hours, High));
    }

    /// <summary>The value of this rank among all. Those before it and itself can only be among as many of the first of each hour, or of the last.</summary>
    private static double Quantile(List<Values> hours, double share)
    {
        var all = hours.Sum(h => h.Sorted.Count);
        var rank = Math.Clamp((int)Math.Ceiling(share * all), 1, all);
        var behind = all - rank + 1;
        var near = new List<double>();
        foreach (var hour in hours)
        {
            var (sorted, count) = (hour.Sorted, Math.Min(hour.Sorted.Count, Math.Min(rank, behind)));
            near.AddRange(sorted.GetRange(rank <= behind ? 0 : sorted.Count - count, count));
        }
        near.Sort();
        return near[rank <= behind ? rank - 1 : near.Count - behind];
    }

    /// <summary>Values of one hour, put in order when they are asked for.</summary>
    private sealed class Values
    {
        private readonly List<double> _values = [];
        private bool _sorted;

        public List<double> Sorted
        {
            get
            {
                if (!_sorted)
                {
                    _values.Sort();
                    _sorted = true;
                }
                return _values;
            }
        }

        public void Add(double value)
        {
            _values.Add(value);
            _sorted = false;
        }
    }
}

/// <summary>What was usual, for a trial: bands of days made when they are asked for, from the values that are given.</summary>
internal sealed class UsualOfPast
{
    /// <summary>No clock of the world changes within a quarter of an hour.</summary>
    private const long QuarterMs = 900_000;

    private readonly TimeZoneInfo _zone;
    private readonly Dictionary<ReadingRef, UsualBands> _readings = [];
    private readonly Dictionary<(ReadingRef Reading, DateOnly Day), IReadOnlyList<UsualBand?>> _days = [];

    /// <summary>Where it was looked last.</summary>
    private (ReadingRef Reading, long Quarter, UsualBand? Band)? _last;

    /// <param name="own">The reading of samples that name none.</param>
    internal UsualOfPast(IEnumerable<TrialSample> samples, ReadingRef own, TimeZoneInfo zone)
    {
        _zone = zone;
        var (quarter, when) = (long.MinValue, default((DateOnly, int)));
        foreach (var sample in samples)
        {
            if (sample.T / QuarterMs != quarter)
            {
                (quarter, when) = (sample.T / QuarterMs, UsualBands.When(sample.T, zone));
            }
            var reading = sample.Reading ?? own;
            if (!_readings.TryGetValue(reading, out var bands))
            {
                _readings[reading] = bands = new();
            }
            bands.Add(when, sample.Value);
        }
    }

    internal UsualBand? At(ReadingRef reading, long t)
    {
        if (_last is { } last && last.Quarter == t / QuarterMs && last.Reading == reading)
        {
            return last.Band;
        }
        var (day, hour) = UsualBands.When(t, _zone);
        if (!_days.TryGetValue((reading, day), out var hours))
        {
            _days[(reading, day)] = hours = _readings.TryGetValue(reading, out var bands) ? bands.Of(day) : new UsualBand?[24];
        }
        _last = (reading, t / QuarterMs, hours[hour]);
        return hours[hour];
    }
}
