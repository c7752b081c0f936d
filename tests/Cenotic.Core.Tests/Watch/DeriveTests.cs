using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using CsCheck;

namespace Cenotic.Core.Tests.Watch;

/// <summary>Readings that are worked out: formulae against published values, sums over time and presence by hand.</summary>
public class DeriveTests
{
    private const long Minute = 60_000,
        Hour = 3_600_000,
        Day = 86_400_000;
    private static readonly ReadingRef A = new("n", "a"),
        B = new("n", "b"),
        C = new("m", "c");

    private static DerivedInputs Holding(params long?[] holds) => new(holds, "");

    /// <summary>Plays single values; the number of the input comes with each.</summary>
    private static List<(long T, double V)> Play(DerivedFrom from, DerivedInputs inputs, long until, params (long T, int Input, double V)[] samples)
    {
        var (state, told) = (DerivedState.Start(from.Inputs.Count), new List<(long, double)>());
        foreach (var together in samples.GroupBy(s => s.T))
        {
            (state, var values) = Derive.OnSamples(from, inputs, state, together.Key, [.. together.Select(s => (s.Input, s.V))]);
            told.AddRange(values.Select(v => (v.T, v.V)));
        }
        told.AddRange(Derive.OnTime(from, inputs, state, until).Values.Select(v => (v.T, v.V)));
        return told;
    }

    /// <summary>Psychrometric values by the Magnus formula of WMO-No. 8.</summary>
    [Theory]
    [InlineData(20, 50, 9.2552, 8.6206)]
    [InlineData(25, 60, 16.6931, 13.7794)]
    public void Dew_point_and_water_follow_from_temperature_and_humidity(double celsius, double percent, double dew, double grams)
    {
        Assert.Equal(dew, Play(new DewPointOf(A, B), Holding(null, null), 0, (0, 0, celsius), (0, 1, percent)).Single().V, 0.02);
        Assert.Equal(grams, Play(new WaterInAirOf(A, B), Holding(null, null), 0, (0, 0, celsius), (0, 1, percent)).Single().V, 0.01);
    }

    /// <summary>Potassium chloride 0.01 mol/L: 1278 µS/cm at 20 °C, 1413 at 25 °C (Standard Methods
    /// 2510); dissolved solids by the factor, common practice.</summary>
    [Theory]
    [InlineData(1278, 20, 1.91, 1413, 1)]
    [InlineData(500, 10, 2, 714.286, 0.4)]
    [InlineData(850, 30, 1.9, 776.256, 0.4)]
    public void Conductivity_is_brought_to_25_degrees(double measured, double celsius, double alpha, double at25, double tolerance)
    {
        Assert.Equal(at25, Derive.Value(new ConductivityAt25Of(A, B, alpha), [measured, celsius], "µS/cm")!.Value, tolerance);
        Assert.Equal(at25 / 2, Derive.Value(new DissolvedSolidsOf(A, B, alpha, 0.5), [measured, celsius], "µS/cm")!.Value, tolerance);
        Assert.Equal(at25 / 2, Derive.Value(new DissolvedSolidsOf(A, B, alpha, 0.5), [measured / 1000, celsius], "mS/cm")!.Value, tolerance);
    }

    [Fact]
    public void A_value_stands_until_its_reading_is_silent_and_two_of_one_moment_make_one()
    {
        var difference = new SumOf([new(A, 1), new(C, -1)], 0.5);
        // C is heard at 0 and stands for ten minutes.
        Assert.Equal(
            [(0, 5.5), (5 * Minute, 6.5)],
            Play(difference, Holding(null, 10 * Minute), Hour, (0, 0, 20), (0, 1, 15), (5 * Minute, 0, 21), (11 * Minute, 0, 22))
        );
        // What comes a little behind another is of the later moment.
        Assert.Equal([(10_000, 5.5), (10_000, 6.5)], Play(difference, Holding(null, null), Hour, (0, 0, 20), (10_000, 1, 15), (9_000, 1, 14)));
    }

    [Fact]
    public void Running_hours_count_while_it_runs_and_are_told_every_ten_minutes()
    {
        var hours = new RunningHoursOf(A);
        var told = Play(hours, Holding((long?)null), 0, (0, 0, 0), (Hour, 0, 1), (Hour + 25 * Minute, 0, 0), (3 * Hour, 0, 1), (3 * Hour + 5 * Minute, 0, 0));
        Assert.Equal([0, Hour, Hour + 10 * Minute, Hour + 20 * Minute, Hour + 25 * Minute, 3 * Hour, 3 * Hour + 5 * Minute], told.Select(v => v.T));
        Assert.Equal([0, 0, 1 / 6.0, 1 / 3.0, 25 / 60.0, 25 / 60.0, 0.5], told.Select(v => Math.Round(v.V, 12)), (a, b) => Math.Abs(a - b) < 1e-9);
        // A pump that is not heard any more is not taken to run for ever.
        Assert.Equal(0.5, Play(hours, Holding(30 * Minute), 5 * Hour, (0, 0, 1), (4 * Hour, 0, 0))[^1].V, 9);
    }

    /// <summary>By hand: a day at 10 °C is 8 K·d below 18 °C; a day half at 10 and half at 20 °C is 4 K·d of heating and, above 18, 1 K·d of cooling.</summary>
    [Fact]
    public void Degree_days_are_kelvin_below_or_above_the_base_times_days()
    {
        (long, int, double)[] Of(Func<int, double> celsius) => [.. Enumerable.Range(0, 25).Select(h => (h * Hour, 0, celsius(h)))];
        Assert.Equal(8, Play(new DegreeDaysOf(A, 18, LimitSide.Below), Holding(2 * Hour), 0, Of(_ => 10))[^1].V, 9);
        Assert.Equal(4, Play(new DegreeDaysOf(A, 18, LimitSide.Below), Holding(2 * Hour), 0, Of(h => h < 12 ? 10 : 20))[^1].V, 9);
        Assert.Equal(1, Play(new DegreeDaysOf(A, 18, LimitSide.Above), Holding(2 * Hour), 0, Of(h => h < 12 ? 10 : 20))[^1].V, 9);
    }

    /// <summary>By hand: an hourly value stands for two hours. After six hours nothing comes for ten: two
    /// of them still count, eight do not; what the sum has come to says so.</summary>
    [Fact]
    public void A_sum_says_how_long_it_could_not_run()
    {
        var (from, inputs, state) = (new DegreeDaysOf(A, 18, LimitSide.Below), Holding(2 * Hour), DerivedState.Start(1));
        foreach (var hour in Enumerable.Range(0, 7).Concat(Enumerable.Range(16, 9)))
        {
            state = Derive.OnSamples(from, inputs, state, hour * Hour, [(0, 6)]).State;
        }
        Assert.Equal(8 * Hour, state.MissedMs);
        // 12 K for the 16 of 24 hours that were seen.
        Assert.Equal(8, state.Total, 9);
        var design = Samples.Fernhollow().Design;
        var figure = DerivedFacts.Figure(
            design,
            Samples.Catalogue,
            new("d", "Heating", new DegreeDaysOf(new("hall", "temp"), 18, LimitSide.Below), 1),
            [6],
            8,
            state.MissedMs
        );
        Assert.Contains(figure.Working.Inputs, i => i is { Name: "not counted", Value: 8, Unit: "h" });
    }

    [Fact]
    public void A_rate_is_the_slope_of_the_last_stretch_once_half_of_it_is_seen()
    {
        var told = Play(new RateOf(A, Hour), Holding((long?)null), 0, [.. Enumerable.Range(0, 13).Select(i => (i * 10 * Minute, 0, 20 - i * 0.25))]);
        Assert.Equal(30 * Minute, told[0].T);
        Assert.All(told, v => Assert.Equal(-1.5, v.V, 9));
    }

    /// <summary>Worked by hand: 450 pulses a litre at 7.5 pulses a second are one litre a minute; 2 a turn at 50 a second are 1500 a minute.</summary>
    [Theory]
    [InlineData(PulsesOf.Litre, 450, 7.5, 1)]
    [InlineData(PulsesOf.Revolution, 2, 50, 1500)]
    [InlineData(PulsesOf.KilowattHour, 1000, 0.5, 1.8)]
    [InlineData(PulsesOf.MillimetreOfRain, 3.6, 0.001, 1)]
    public void Pulses_become_flow_speed_power_and_rain(PulsesOf of, double each, double aSecond, double rate)
    {
        const int second = 1000;
        var from = new RateOf(A, 60 * second, new(of, each));
        (long, int, double)[] counts = [.. Enumerable.Range(0, 10).Select(i => (i * 10L * second, 0, 100 + i * 10 * aSecond))];
        Assert.All(Play(from, Holding((long?)null), 0, counts), v => Assert.Equal(rate, v.V, 9));
        // The node begins again at nothing: nothing is told until half of the stretch is seen anew, and never a rate below nothing.
        (long, int, double)[] again = [.. Enumerable.Range(10, 10).Select(i => (i * 10L * second, 0, (i - 10) * 10 * aSecond))];
        var told = Play(from, Holding((long?)null), 0, [.. counts, .. again]);
        Assert.All(told, v => Assert.Equal(rate, v.V, 9));
        Assert.DoesNotContain(told, v => v.T is >= 100 * second and < 130 * second);
    }

    [Fact]
    public void Presence_is_on_with_the_first_and_off_when_all_are_quiet()
    {
        var presence = new PresenceOf([A, C], 5 * Minute);
        Assert.Equal(
            [(0, 0), (Minute, 1), (12 * Minute, 0)],
            Play(presence, Holding(null, null), Day, (0, 0, 0), (Minute, 0, 1), (2 * Minute, 1, 1), (3 * Minute, 0, 0), (7 * Minute, 1, 0))
        );
        // Somebody comes back before the time is over.
        Assert.Equal(
            [(0, 1), (14 * Minute, 0)],
            Play(presence, Holding(null, null), Day, (0, 0, 1), (2 * Minute, 0, 0), (6 * Minute, 0, 1), (9 * Minute, 0, 0))
        );
        // A sensor that died while it saw somebody is quiet from when it is silent.
        Assert.Equal([(0, 1), (15 * Minute, 0)], Play(presence, Holding(10 * Minute, 10 * Minute), Day, (0, 0, 1)));
        // A contact rests closed: somebody is there when it opens.
        Assert.Equal(
            [(0, 0), (Minute, 1), (7 * Minute, 0)],
            Play(presence, Holding(null, null) with { RestOn = [1] }, Day, (0, 1, 1), (Minute, 1, 0), (2 * Minute, 1, 1))
        );
    }

    /// <summary>Live a clock ticks between samples; over what is stored it does not. Both give the same values.</summary>
    [Fact]
    public void Ticks_between_samples_change_nothing() =>
        Gen.Select(Gen.Int[1, 900_000].Array[1, 40], Gen.Int[0, 2].Array[40], Gen.Int[0, 1].Array[40], Gen.Int[0, 3], Gen.Int[1_000, 90_000])
            .Sample(
                (steps, values, which, kind, tick) =>
                {
                    DerivedFrom from = new DerivedFrom[]
                    {
                        new PresenceOf([A, C], 120_000),
                        new RunningHoursOf(A),
                        new DegreeDaysOf(A, 1.5, LimitSide.Below),
                        new SumOf([new(A, 1), new(C, 2)]),
                    }[kind];
                    var inputs = kind is 0 or 3 ? Holding(600_000, null) : Holding(1_200_000);
                    var (still, ticked) = (DerivedState.Start(from.Inputs.Count), DerivedState.Start(from.Inputs.Count));
                    var (a, b) = (new List<TimedValue>(), new List<TimedValue>());
                    var (t, now) = (0L, 0L);
                    for (var i = 0; i < steps.Length; i++)
                    {
                        t += steps[i];
                        (int, double)[] sample = [(which[i] % from.Inputs.Count, values[i])];
                        for (; now < t; now += tick)
                        {
                            (ticked, var due) = Derive.OnTime(from, inputs, ticked, now);
                            b.AddRange(due);
                        }
                        (still, var one) = Derive.OnSamples(from, inputs, still, t, sample);
                        (ticked, var two) = Derive.OnSamples(from, inputs, ticked, t, sample);
                        a.AddRange(one);
                        b.AddRange(two);
                    }
                    Assert.Equal(a.Select(v => v.T), b.Select(v => v.T));
                    Assert.Equal(a.Select(v => v.V), b.Select(v => v.V), (x, y) => Math.Abs(x - y) < 1e-9);
                    Assert.True(a.Zip(a.Skip(1)).All(p => p.First.T <= p.Second.T));
                }
            );

    [Fact]
    public void A_figure_shows_its_working_and_a_band_by_the_errors_of_its_inputs()
    {
        var site = Samples.Fernhollow().Design;
        var (temperature, humidity) = (
            site.AllReadings.First(r =>
                r.Reading.Quantity == "temperature"
                && site.AllReadings.Any(h => h.Ref.Node == r.Ref.Node && h.Reading.Part == r.Reading.Part && h.Reading.Quantity == "humidity")
            ).Ref,
            (ReadingRef?)null
        );
        humidity = site.AllReadings.First(r => r.Ref.Node == temperature.Node && r.Reading.Quantity == "humidity").Ref;
        var dew = new DerivedDesign("dew", "Dew point", new DewPointOf(temperature, humidity), 1);
        var figure = DerivedFacts.Figure(site with { Derived = [dew] }, Samples.Catalogue, dew, [20, 50], null);
        Assert.Equal(9.2552, figure.Value!.Value, 0.02);
        Assert.Equal(Unit.Celsius, figure.Unit);
        Assert.True(figure.Low < figure.Value && figure.Value < figure.High);
        Assert.Equal([20, 50], figure.Working.Inputs.Select(i => i.Value));
        Assert.Contains("WMO", figure.Working.Source);
        // It can be a reading like any other: with a label, a gap of time, and a place in a rule.
        var with = site with { Derived = [dew] };
        Assert.Equal("Dew point", with.Reading(new(DerivedDesign.Node, "dew"))!.Label);
        Assert.Equal(with.Reading(temperature)!.LongestGapMs, with.Reading(new(DerivedDesign.Node, "dew"))!.LongestGapMs);
        Assert.Null(DerivedFacts.Figure(with, Samples.Catalogue, dew, [20, null], null).Value);
    }

    [Fact]
    public void What_adds_up_is_not_silent_between_two_of_its_values()
    {
        var site = Samples.Fernhollow().Design;
        var (input, reading) = site.AllReadings.First(r => r.Reading.Quantity == "temperature" && r.Reading.IntervalMs <= 30_000);
        DerivedFrom[] totals =
        [
            new RunningHoursOf(input),
            new DegreeDaysOf(input, 18, LimitSide.Below),
            new MouldIndexOf(input, input, null, MouldGround.Stone),
        ];
        foreach (var from in totals)
        {
            var with = site with { Derived = [new("it", "It", from, 1)] };
            var gap = with.Reading(new(DerivedDesign.Node, "it"))!.LongestGapMs!.Value;
            var state = DerivedState.Start(from.Inputs.Count);
            var told = new List<long>();
            for (var t = 0L; t < Hour; t += reading.IntervalMs!.Value)
            {
                var (next, values) = Derive.OnSamples(
                    from,
                    new([.. from.Inputs.Select(_ => (long?)Hour)], Unit.Celsius),
                    state,
                    t,
                    [.. from.Inputs.Select((_, i) => (i, 10.0 + t % 3))]
                );
                state = next;
                told.AddRange(values.Select(v => v.T));
            }
            Assert.InRange(told.Zip(told.Skip(1), (a, b) => b - a).Max(), DerivedDesign.TotalsApartMs, gap);
        }
    }

    [Fact]
    public void Every_kind_has_a_formula_a_source_and_a_unit()
    {
        var vessel = new VesselTile(A, VesselShape.Upright, true, 130, 120, 0, 100);
        DerivedFrom[] all =
        [
            new DewPointOf(A, B),
            new WaterInAirOf(A, B),
            new MouldIndexOf(A, B, C, MouldGround.Stone),
            new ConductivityAt25Of(A, B),
            new DissolvedSolidsOf(A, B),
            new VesselOf(vessel, VesselMeasure.Level),
            new VesselOf(vessel, VesselMeasure.Litres),
            new RateOf(A, Hour),
            new RunningHoursOf(A),
            new DegreeDaysOf(A, 18, LimitSide.Below),
            new SumOf([new(A, 1), new(B, -0.5)], 2),
            new PresenceOf([A, B], 1),
            new LostShareOf("n", Hour),
            new DaysLeftOf("n"),
        ];
        Assert.Equal(
            typeof(DerivedFrom).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(DerivedFrom))).ToHashSet(),
            all.Select(f => f.GetType()).ToHashSet()
        );
        Assert.All(all, from => Assert.True(DerivedFacts.Formula(from) is { Formula.Length: > 2, Source.Length: > 2 }));
        Assert.Equal("a − 0.5 · b + 2", DerivedFacts.Formula(all[10]).Formula);
        Assert.Equal("h", DerivedFacts.Quantity(Samples.Fernhollow().Design, Samples.Catalogue, all[8]).Unit);
    }

    [Fact]
    public void What_is_worked_out_of_something_that_is_gone_or_of_the_wrong_unit_is_found()
    {
        var site = Samples.Fernhollow().Design;
        var temperature = site.AllReadings.First(r => r.Reading.Quantity == "temperature").Ref;
        var findings = DerivedFindings
            .Of(
                site with
                {
                    Derived =
                    [
                        new("gone", "Gone", new RateOf(new("nobody", "x"), Hour), 1),
                        new("wrong", "Wrong", new DewPointOf(temperature, temperature with { }), 1),
                        new("left", "Left", new DaysLeftOf("nobody"), 0),
                    ],
                },
                Samples.Catalogue
            )
            .ToList();
        Assert.Equal(["WATCH-INPUT-GONE", "WATCH-INPUT-UNIT", "WATCH-INPUT-GONE"], findings.Select(f => f.Code));
    }
}
