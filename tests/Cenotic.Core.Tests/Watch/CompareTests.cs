using Cenotic.Core.Watch;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.Statistics;

namespace Cenotic.Core.Tests.Watch;

/// <summary>Two readings compared, against hand-worked cases and MathNet.</summary>
public class CompareTests
{
    private const long Minute = 60_000,
        Day = 86_400_000;

    private static PairedMoment[] Moments(int count, Func<int, double> a, Func<int, double> b) =>
        [.. Enumerable.Range(0, count).Select(i => new PairedMoment(i * Minute, a(i), b(i)))];

    /// <summary>By hand: differences 1, 2, 3, 2, 1, 2, 3, 2, 1, 3 have the mean 2 and s = √(6/9) = 0.8165; the limits of agreement are 2 ± 1.6003; t(0.975; 9)
    /// = 2.2622 (handbook tables) gives a band of ± 0.5841.</summary>
    [Fact]
    public void Bias_and_limits_of_agreement_worked_by_hand()
    {
        double[] differences = [1, 2, 3, 2, 1, 2, 3, 2, 1, 3];
        var found = CompareLines.Of(Moments(10, i => 20 + i + differences[i], i => 20 + i), Minute, "°C").Value;
        Assert.Equal(2, found.Bias.Value!.Value, 1e-9);
        Assert.Equal(2 + 2.2622 * 0.8164966 / Math.Sqrt(10), found.Bias.High!.Value, 0.0005);
        Assert.Equal(2 - 1.6003, found.Agreement.Low!.Value, 0.0001);
        Assert.Equal(2 + 1.6003, found.Agreement.High!.Value, 0.0001);
    }

    [Fact]
    public void Correlation_is_that_of_the_library_and_unknown_where_one_stands_still()
    {
        var random = new Random(3);
        var moments = Moments(200, i => Math.Sin(i / 9.0) + Normal.Sample(random, 0, 0.3), i => Math.Sin(i / 9.0) + Normal.Sample(random, 0, 0.3));
        var found = CompareLines.Of(moments, Minute, "").Value;
        Assert.Equal(Correlation.Pearson(moments.Select(m => m.A), moments.Select(m => m.B)), found.Correlation.Value!.Value, 1e-12);
        Assert.Equal(moments.Select(m => m.A - m.B).StandardDeviation() * 1.96 * 2, found.Agreement.High!.Value - found.Agreement.Low!.Value, 1e-9);
        Assert.Null(CompareLines.Of(Moments(50, i => i, _ => 5), Minute, "").Value.Correlation.Value);
        Assert.Null(CompareLines.Of(Moments(50, i => i, _ => 5), Minute, "").Value.Lag.Value);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(7)]
    [InlineData(-12)]
    public void The_lag_is_found_to_the_step_over_gaps_too(int steps)
    {
        var random = new Random(steps);
        var wave = Enumerable.Range(0, 400).Select(_ => Normal.Sample(random, 0, 1)).ToArray();
        for (var i = 1; i < wave.Length; i++)
        {
            wave[i] = 0.9 * wave[i - 1] + wave[i];
        }
        // A shows what B showed so many steps before; now and then both were silent.
        var moments = Enumerable.Range(50, 300).Where(i => i % 17 != 3).Select(i => new PairedMoment(i * Minute, wave[i - steps], wave[i])).ToArray();
        Assert.Equal(steps * 60.0, CompareLines.Of(moments, Minute, "").Value.Lag.Value!.Value, 1e-9);
    }

    [Fact]
    public void What_repeats_itself_has_the_smallest_lag_that_fits() =>
        Assert.Equal(-60.0, CompareLines.Of(Moments(60, i => (i + 1) % 7, i => i % 7), Minute, "").Value.Lag.Value);

    /// <summary>An outdoor day: a slow wave with weather on it, sampled every five minutes; A shows it so many seconds later.</summary>
    private static LineComparison Weather(int seed, double lagSeconds, double noise, int hours = 36)
    {
        var random = new Random(seed);
        var weather = new double[hours * 60 + 400];
        for (var i = 1; i < weather.Length; i++)
        {
            weather[i] = 0.995 * weather[i - 1] + Normal.Sample(random, 0, 0.1);
        }
        double At(double minute) => 5 * Math.Sin(minute / 1440 * 2 * Math.PI) + weather[(int)minute];
        return CompareLines
            .Of(
                [
                    .. Enumerable
                        .Range(0, hours * 12)
                        .Select(i => new PairedMoment(
                            i * 5 * Minute,
                            At(200 + i * 5 - lagSeconds / 60) + Normal.Sample(random, 0, noise),
                            At(200 + i * 5) + Normal.Sample(random, 0, noise)
                        )),
                ],
                5 * Minute,
                "°C",
                5 * Minute
            )
            .Value;
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1800)]
    [InlineData(-900)]
    public void The_truth_lies_in_the_band_of_the_lag(double seconds)
    {
        var (inside, told) = (0, 0);
        for (var seed = 0; seed < 40; seed++)
        {
            var lag = Weather(seed, seconds, 0.2).Lag;
            told += lag.Value is null ? 0 : 1;
            inside += lag.Low <= seconds && seconds <= lag.High ? 1 : 0;
            Assert.True(lag.Value is null || lag.High - lag.Low >= 300, "never below the sampling interval");
        }
        Assert.True(told >= 30, $"told {told} of 40");
        Assert.True(inside >= 0.95 * told, $"{inside} of {told}");
    }

    [Fact]
    public void Lines_that_have_nothing_to_do_with_each_other_have_no_lag()
    {
        var told = 0;
        for (var seed = 0; seed < 40; seed++)
        {
            var (x, y) = (new Random(seed), new Random(seed + 1000));
            double a = 0,
                b = 0;
            var moments = Enumerable
                .Range(0, 300)
                .Select(i => new PairedMoment(i * Minute, a = 0.95 * a + Normal.Sample(x, 0, 1), b = 0.95 * b + Normal.Sample(y, 0, 1)))
                .ToList();
            told += CompareLines.Of(moments, Minute, "").Value.Lag.Value is null ? 0 : 1;
        }
        Assert.InRange(told, 0, 4);
    }

    [Fact]
    public void Of_a_noisy_wave_that_repeats_the_smallest_shift_is_the_lag()
    {
        var told = 0;
        for (var seed = 0; seed < 20; seed++)
        {
            var random = new Random(seed);
            var moments = Moments(
                400,
                i => Math.Sin((i - 4) / 40.0 * 2 * Math.PI) + Normal.Sample(random, 0, 0.1),
                i => Math.Sin(i / 40.0 * 2 * Math.PI) + Normal.Sample(random, 0, 0.1)
            );
            var lag = CompareLines.Of(moments, Minute, "").Value.Lag;
            Assert.True(lag.Value is null || Math.Abs(lag.Value.Value - 240) <= 120, $"{lag.Value} s");
            told += lag.Value is null ? 0 : 1;
        }
        Assert.True(told >= 10, $"told {told} of 20");
    }

    [Fact]
    public void A_drift_is_a_slope_a_day_and_none_is_none()
    {
        var random = new Random(9);
        var found = CompareLines
            .Of(
                [
                    .. Enumerable
                        .Range(0, 240)
                        .Select(i =>
                            Math.Sin(i) is var v ? new PairedMoment(i * Day / 24, v + 0.3 + 0.05 * i / 24 + Normal.Sample(random, 0, 0.02), v) : null!
                        ),
                ],
                Day / 24,
                "°C"
            )
            .Value;
        Assert.Equal(0.05, found.Drift.Value!.Value, 0.003);
        Assert.True(found.Drift.Low > 0);
        Assert.Contains("wanted", CompareLines.Of(Moments(9, i => i, i => i), Minute, "").Reasons[0], StringComparison.Ordinal);
    }

    private static Stretch S(long from, long to) => new(from * 1000, to * 1000, false);

    /// <summary>By hand, over 1,000 s: the trusted one is on 100 to 200 and 500 to 600, the other 110 to 250 and 800 to 820. Both on 90 s; one of them 190 + 20
    /// … the same for 1000 − (200 + 160 − 2 · 90) = 820 s.</summary>
    [Fact]
    public void Events_worked_by_hand()
    {
        var found = CompareEvents.Of([S(100, 200), S(500, 600)], [S(110, 250), S(800, 820)], 0, 1_000_000, 10_000);
        Assert.Equal(82.0, found.Agreement.Value!.Value, 1e-9);
        Assert.Equal((2, 1, 1), (found.Seen, found.Missed, found.Extra));
        Assert.Equal((10.0, 50.0), (found.Detection.Value, found.Release.Value));
        // By chance 0.2 · 0.16 + 0.8 · 0.84 = 0.704; kappa (0.82 − 0.704) / 0.296 = 0.3919.
        Assert.Equal(0.3919, found.Kappa.Value!.Value, 0.0001);
    }

    /// <summary>Cohen 1960 in its usual textbook form: of 100, 45 yes-yes, 25 no-no, 15 and 15
    /// apart: po = 0.70, pe = 0.52, kappa = 0.375 (hand-worked).</summary>
    [Fact]
    public void Kappa_of_a_two_by_two_table()
    {
        var found = CompareEvents.Of([S(0, 60)], [S(15, 75)], 0, 100_000, 0);
        Assert.Equal(70, found.Agreement.Value!.Value, 1e-9);
        Assert.Equal(0.375, found.Kappa.Value!.Value, 1e-9);
    }

    [Fact]
    public void Short_pulses_agree_best_when_they_are_held_as_long_as_the_trusted_one_stays()
    {
        // Somebody is there for five minutes every half hour; the other one blinks every 40 s for 2 s meanwhile.
        List<Stretch> there = [],
            blinks = [];
        for (var i = 0; i < 20; i++)
        {
            there.Add(S(i * 1800, i * 1800 + 300));
            blinks.AddRange(Enumerable.Range(0, 7).Select(k => S(i * 1800 + k * 40, i * 1800 + k * 40 + 2)));
        }
        var found = CompareEvents.Of(there, blinks, 0, 36_000_000, 10_000);
        // From the last blink, 242 s in, to the end at 300 s: 58 s, in steps of five.
        Assert.InRange(found.Hold.Value!.Value, 55, 60);
        Assert.True(found.HoldAgreement > 99 && found.Agreement.Value < 90);
        Assert.Equal((20, 0, 0), (found.Seen, found.Missed, found.Extra));
        Assert.Null(CompareEvents.Of(there, [], 0, 36_000_000, 10_000).Detection.Value);
        Assert.Equal(20, CompareEvents.Of(there, [], 0, 36_000_000, 10_000).Missed);
    }
}
