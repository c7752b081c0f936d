using Cenotic.Core.Common;

namespace Cenotic.Core.Watch;

/// <summary>
/// By how much one line follows another: the shift at which they correlate best. It is told only where that correlation is beyond what chance gives, and with a
/// band by resampling, never narrower than the readings are sampled. Sources: cross-correlation; moving block bootstrap (Künsch 1989) for the band and shuffled
/// blocks for chance, so that neighbours that resemble each other do not count as evidence.
/// </summary>
internal static class CompareLag
{
    /// <summary>Below it two lines do not follow each other. Our own choice.</summary>
    internal const double LeastCorrelation = 0.5;

    private const int LagShare = 4,
        Draws = 99,
        Fewest = CompareLines.Fewest,
        Seed = 20_260_101;

    /// <param name="moments">In order of time; steps without a value of both are gaps.</param>
    /// <param name="samplingMs">How far apart the values of the slower reading are.</param>
    internal static Figure Of(IReadOnlyList<PairedMoment> moments, long stepMs, long samplingMs)
    {
        var first = moments[0].T / stepMs;
        var last = (int)(moments[^1].T / stepMs - first);
        var (a, b) = (Empty(last + 1), Empty(last + 1));
        foreach (var m in moments)
        {
            (a[m.T / stepMs - first], b[m.T / stepMs - first]) = (m.A, m.B);
        }
        var most = last / LagShare;
        var curve = Curve(a, b, most);
        var best = Best(curve, most);
        if (best is not { } peak)
        {
            return Unknown($"a longer stretch");
        }
        var r = curve[peak + most];
        var random = new Random(Seed);
        var block = Math.Clamp(2 * Math.Max(Memory(a), Memory(b)), 5, Math.Max(5, (last + 1) / 8));
        if (r < LeastCorrelation)
        {
            return Unknown($"lines that follow each other: they correlate by {r:0.00} at best");
        }
        var chance = Chance(a, b, most, block, random);
        if (r <= chance)
        {
            return Unknown($"a longer stretch: shuffled at random they correlate by {chance:0.00}, as they are by {r:0.00}");
        }
        var (low, high) = Band(a, b, most, peak, curve, block, random);
        var half = Math.Max(stepMs, samplingMs) / (double)stepMs;
        var (least, greatest) = (Math.Min(low - 0.5, peak - half), Math.Max(high + 0.5, peak + half));
        return new(
            "Lag",
            Seconds(peak),
            Seconds(least),
            Seconds(greatest),
            Unit.Second,
            new Working(
                "the shift with the greatest correlation; band: blocks drawn at random, 95 %, and no less than a sampling interval",
                [
                    new("r", r, "", "at that shift"),
                    new("by chance", chance, "", "95 % of shuffled blocks correlate less"),
                    new("step", stepMs / 1000.0, Unit.Second, "of the stretches"),
                    new("sampled every", samplingMs / 1000.0, Unit.Second, "the slower of the two"),
                ],
                "cross-correlation; block bootstrap: Künsch 1989"
            )
        );

        double Seconds(double steps) => steps * stepMs / 1000.0;
    }

    private static Figure Unknown(FormattableString wants) => Figure.Unknown("Lag", Unit.Second, FormattableString.Invariant(wants));

    private static double[] Empty(int length)
    {
        var values = new double[length];
        Array.Fill(values, double.NaN);
        return values;
    }

    /// <summary>Correlation at each shift from −most to most; NaN where too little overlaps.</summary>
    private static double[] Curve(double[] a, double[] b, int most)
    {
        var curve = new double[2 * most + 1];
        for (var shift = -most; shift <= most; shift++)
        {
            curve[shift + most] = At(a, b, shift);
        }
        return curve;
    }

    /// <summary>Pearson's r of a against b some steps before.</summary>
    private static double At(double[] a, double[] b, int shift)
    {
        var sums = default(Sums);
        for (var i = Math.Max(0, shift); i < a.Length && i - shift < b.Length; i++)
        {
            sums.Add(a[i], b[i - shift]);
        }
        return sums.R;
    }

    /// <summary>The highest peak; of peaks as high as that, apart from each other, the one nearest to no shift.</summary>
    private static int? Best(double[] curve, int most)
    {
        var highest = curve.Where(double.IsFinite).DefaultIfEmpty(double.NaN).Max();
        if (!double.IsFinite(highest))
        {
            return null;
        }
        var alike = Math.Max(1e-9, 0.1 * (1 - highest * highest));
        var top = Enumerable.Range(0, curve.Length).Where(i => curve[i] == highest).MinBy(i => Math.Abs(i - most));
        var found = top;
        foreach (var i in Enumerable.Range(0, curve.Length).Where(i => curve[i] >= highest - alike && IsPeak(curve, i)).OrderBy(i => Math.Abs(i - most)))
        {
            var (from, to) = (Math.Min(i, top), Math.Max(i, top));
            // Between two peaks of what repeats there is a valley; wiggles on one peak have none.
            if (i == top || curve[from..(to + 1)].Where(double.IsFinite).Min() < highest - Math.Max(0.1, 3 * alike))
            {
                found = i;
                break;
            }
        }
        return found - most;
    }

    private static bool IsPeak(double[] curve, int i) => (i == 0 || !(curve[i - 1] > curve[i])) && (i == curve.Length - 1 || !(curve[i + 1] > curve[i]));

    /// <summary>Steps after which a line no longer resembles itself: its correlation with itself falls below 1/e.</summary>
    private static int Memory(double[] a)
    {
        for (var shift = 1; shift < a.Length / 2; shift++)
        {
            if (!(At(a, a, shift) > 1 / Math.E))
            {
                return shift;
            }
        }
        return a.Length / 2;
    }

    /// <summary>The correlation that 95 of 100 orders of shuffled blocks stay below, at whatever shift.</summary>
    private static double Chance(double[] a, double[] b, int most, int block, Random random)
    {
        var highest = new double[Draws];
        var starts = Enumerable.Range(0, (b.Length + block - 1) / block).Select(n => n * block).ToArray();
        for (var draw = 0; draw < Draws; draw++)
        {
            random.Shuffle(starts);
            var shuffled = starts.SelectMany(s => b[s..Math.Min(b.Length, s + block)]).ToArray();
            highest[draw] = Curve(a, shuffled, most).Where(double.IsFinite).DefaultIfEmpty(1).Max();
        }
        Array.Sort(highest);
        return highest[(int)(0.95 * Draws)];
    }

    /// <summary>Where 95 of 100 resampled lines have their peak, among the shifts of the same peak.</summary>
    private static (int Low, int High) Band(double[] a, double[] b, int most, int peak, double[] curve, int block, Random random)
    {
        // As far as the peak goes down on both sides: beyond it lies another.
        var floor = curve[peak + most] - Math.Max(0.3, 2 * (1 - curve[peak + most]));
        var (from, to) = (peak, peak);
        while (from > -most && curve[from - 1 + most] > floor)
        {
            from--;
        }
        while (to < most && curve[to + 1 + most] > floor)
        {
            to++;
        }
        var shifts = new int[Draws];
        var blocks = (a.Length + block - 1) / block;
        for (var draw = 0; draw < Draws; draw++)
        {
            var sums = new Sums[to - from + 1];
            for (var n = 0; n < blocks; n++)
            {
                var start = random.Next(Math.Max(1, a.Length - block + 1));
                for (var i = start; i < Math.Min(a.Length, start + block); i++)
                {
                    for (var shift = from; shift <= to; shift++)
                    {
                        if (i - shift >= 0 && i - shift < b.Length)
                        {
                            sums[shift - from].Add(a[i], b[i - shift]);
                        }
                    }
                }
            }
            var best = 0;
            for (var s = 1; s < sums.Length; s++)
            {
                best = sums[s].R > sums[best].R || !double.IsFinite(sums[best].R) ? s : best;
            }
            shifts[draw] = from + best;
        }
        Array.Sort(shifts);
        return (shifts[(int)(0.025 * Draws)], shifts[(int)(0.975 * Draws)]);
    }

    /// <summary>Sums for a correlation, of pairs that have both values.</summary>
    private struct Sums
    {
        private double _n,
            _a,
            _b,
            _aa,
            _bb,
            _ab,
            _a0,
            _b0;

        public void Add(double a, double b)
        {
            if (double.IsNaN(a) || double.IsNaN(b))
            {
                return;
            }
            if (_n == 0)
            {
                (_a0, _b0) = (a, b);
            }
            // Around the first pair, so that large values do not drown their changes.
            (a, b) = (a - _a0, b - _b0);
            (_n, _a, _b, _aa, _bb, _ab) = (_n + 1, _a + a, _b + b, _aa + a * a, _bb + b * b, _ab + a * b);
        }

        /// <summary>NaN where there are too few, or one stood still.</summary>
        public readonly double R
        {
            get
            {
                var (va, vb) = (_aa - _a * _a / _n, _bb - _b * _b / _n);
                return _n < Fewest || va <= 1e-12 * _aa || vb <= 1e-12 * _bb ? double.NaN : (_ab - _a * _b / _n) / Math.Sqrt(va * vb);
            }
        }
    }
}
