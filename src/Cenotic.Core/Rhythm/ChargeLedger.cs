using Cenotic.Core.Common;

namespace Cenotic.Core.Rhythm;

/// <summary>Charge bookkeeping of the wakes of a node: each step's current times its time, sleep for the rest.</summary>
internal sealed class ChargeLedger(long periodMs, Feed feed, WakeCycle cycle)
{
    private const double DayMs = 86_400_000;
    private readonly Step _rest = cycle.Rest(periodMs);
    private readonly Dictionary<Step, CycleSegment> _segments = new(ReferenceEqualityComparer.Instance);

    /// <summary>A wake as figures: its segments with the rest of the period after them.</summary>
    internal WakeKind Kind(PlannedWake wake)
    {
        var segments = new List<CycleSegment>();
        var start = 0.0;
        foreach (var step in wake.Steps)
        {
            if (!_segments.TryGetValue(step, out var known))
            {
                _segments[step] = known = Segment(step, start, Figures.Band($"{step.Label}: time", step.Ms, Unit.Millisecond));
            }
            segments.Add(known with { StartMs = start });
            start += step.Ms.Likely;
        }
        if (wake.Share > 0)
        {
            segments.Add(Segment(_rest, start, Rest(wake)));
        }
        return new(
            wake.Label,
            wake.Share,
            wake.PerDay,
            [.. wake.Due.Select(r => r.Key)],
            [.. wake.Sent.Select(r => r.Key)],
            segments,
            Figures.Sum("Charge of this wake", [.. segments.Select(s => s.Charge)], Unit.MilliampSecond, "Q = Σ segments")
        );
    }

    /// <summary>Charge of a period by the clock, on average over the sorts of wake.</summary>
    internal Figure PerPeriod(List<PlannedWake> wakes, List<WakeKind> kinds)
    {
        var clock = Clock(wakes, kinds).ToList();
        return clock is [var only]
            ? new("Charge per cycle", only.Kind.Charge.Value, only.Kind.Charge.Low, only.Kind.Charge.High, Unit.MilliampSecond, only.Kind.Charge.Working)
            : new(
                "Charge per cycle",
                clock.Sum(w => w.Wake.Share * w.Kind.Charge.Value),
                clock.Sum(w => w.Wake.Share * w.Kind.Charge.Low),
                clock.Sum(w => w.Wake.Share * w.Kind.Charge.High),
                Unit.MilliampSecond,
                () =>
                    new Working(
                        "Q = Σ share · Q of a sort of wake",
                        [
                            .. clock
                                .Take(8)
                                .SelectMany(w =>
                                    new WorkingInput[]
                                    {
                                        new($"share of \"{w.Wake.Label}\"", w.Wake.Share, "", "pattern of shared wakes"),
                                        new($"Q of \"{w.Wake.Label}\"", w.Kind.Charge.Value!.Value, Unit.MilliampSecond, "its segments"),
                                    }
                                ),
                        ],
                        "charge bookkeeping",
                        [.. clock.Take(8).Select(w => w.Kind.Charge)]
                    )
            );
    }

    /// <summary>Average current with the wakes by events, which take the place of sleep.</summary>
    internal Figure Average(List<PlannedWake> wakes, List<WakeKind> kinds, Figure charge)
    {
        var seconds = PeriodSeconds(wakes);
        var rest = feed.Current(_rest);
        double value = charge.Value!.Value / seconds,
            low = charge.Low!.Value / seconds,
            high = charge.High!.Value / seconds;
        var inputs = new List<WorkingInput> { new("Q", charge.Value.Value, Unit.MilliampSecond, "charge per cycle"), new("T", seconds, Unit.Second, "cycle") };
        foreach (var (wake, kind) in wakes.Zip(kinds).Where(p => p.First.Share == 0))
        {
            var perDay = PerDay(wake);
            double Extra(double q, double ms, double asleep) => perDay * (q - asleep * ms / 1000) / 86_400;
            value += Extra(kind.Charge.Value!.Value, wake.AwakeMs, rest.Value!.Value);
            low += Extra(kind.Charge.Low!.Value, wake.Steps.Sum(s => s.Ms.Low), rest.Low!.Value);
            high += Extra(kind.Charge.High!.Value, wake.LongestAwakeMs, rest.High!.Value);
            inputs.Add(new($"n of \"{wake.Label}\"", perDay, "a day", "expected, or a planning value"));
            inputs.Add(new($"Q of \"{wake.Label}\"", kind.Charge.Value.Value, Unit.MilliampSecond, "its segments"));
        }
        return Figures.Wide("Average current", value, low, high, Unit.Milliamp, () =>
            new Working(inputs.Count > 2 ? "I = Q / T + Σ n · (Q − Isleep · t) / 86,400 s" : "I = Q / T", inputs, "charge bookkeeping", [charge])
        );
    }

    /// <summary>The likely average current alone, mA, without the figures behind it.</summary>
    internal double Likely(List<PlannedWake> wakes)
    {
        double Draws(Step step) => feed.AtCell(step.Loads.Sum(l => l.Milliamps.Likely)) + (feed.IdleMilliamps?.Likely ?? 0);
        var resting = Draws(_rest);
        double sum = 0,
            events = 0;
        foreach (var wake in wakes)
        {
            var awake = wake.Steps.Sum(s => Draws(s) * s.Ms.Likely);
            if (wake.Share > 0)
            {
                sum += wake.Share * (awake + resting * Math.Max(0, periodMs - wake.AwakeMs));
            }
            else
            {
                events += PerDay(wake) * (awake - resting * wake.AwakeMs) / DayMs;
            }
        }
        return sum / 1000 / PeriodSeconds(wakes) + events;
    }

    /// <summary>What takes the charge, the most first.</summary>
    internal List<Drain> Drains(List<PlannedWake> wakes, double average)
    {
        var period = PeriodSeconds(wakes) * 1000;
        var sums = new Dictionary<string, double>();
        void Add(Step step, double shareOfTime)
        {
            foreach (var load in step.Loads)
            {
                sums[load.Label] = sums.GetValueOrDefault(load.Label) + feed.AtCell(load.Milliamps.Likely) * shareOfTime;
            }
        }
        var resting = wakes.Where(w => w.Share > 0).Sum(w => w.Share * Math.Max(0, periodMs - w.AwakeMs)) / period;
        foreach (var wake in wakes)
        {
            foreach (var step in wake.Steps)
            {
                var share = wake.Share > 0 ? wake.Share * step.Ms.Likely / period : PerDay(wake) * step.Ms.Likely / DayMs;
                Add(step, share);
                resting -= wake.Share > 0 ? 0 : share;
            }
        }
        Add(_rest, resting);
        if (feed.IdleMilliamps is { } idle)
        {
            sums["step-up converter"] = idle.Likely;
        }
        return [.. sums.Select(s => new Drain(s.Key, s.Value, average > 0 ? s.Value / average : 0)).OrderByDescending(d => d.Milliamps)];
    }

    /// <summary>Time from wake to wake on average, s: longer than planned where a wake takes longer than its period.</summary>
    private double PeriodSeconds(List<PlannedWake> wakes) => wakes.Where(w => w.Share > 0).Sum(w => w.Share * Math.Max(periodMs, w.AwakeMs)) / 1000;

    /// <summary>Wakes by an event on a day; no more than a day holds.</summary>
    private static double PerDay(PlannedWake wake) => wake.AwakeMs > 0 ? Math.Min(wake.PerDay, DayMs / wake.AwakeMs) : wake.PerDay;

    private static IEnumerable<(PlannedWake Wake, WakeKind Kind)> Clock(List<PlannedWake> wakes, List<WakeKind> kinds) =>
        wakes.Zip(kinds).Where(p => p.First.Share > 0);

    private Figure Rest(PlannedWake wake)
    {
        double Left(Func<Fact, double> ms) => Math.Max(0, periodMs - wake.Steps.Sum(s => ms(s.Ms)));
        return new("Rest of the cycle", Left(f => f.Likely), Left(f => f.High), Left(f => f.Low), Unit.Millisecond, () =>
            new Working(
                "t = T − Σ awake",
                [new("T", periodMs, Unit.Millisecond, "cycle"), new("awake", wake.AwakeMs, Unit.Millisecond, "segments before")],
                "arithmetic"
            )
        );
    }

    private CycleSegment Segment(Step step, double start, Figure ms)
    {
        var current = feed.Current(step);
        var charge = new Figure(
            $"{step.Label}: charge",
            current.Value!.Value * ms.Value!.Value / 1000,
            current.Low!.Value * ms.Low!.Value / 1000,
            current.High!.Value * ms.High!.Value / 1000,
            Unit.MilliampSecond,
            () =>
                new Working(
                    "Q = I · t",
                    [new("I", current.Value.Value, Unit.Milliamp, "this segment"), new("t", ms.Value.Value / 1000, Unit.Second, "this segment")],
                    "charge bookkeeping",
                    [current, ms]
                )
        );
        return new(step.Key, step.Label, start, ms, current, charge);
    }
}
