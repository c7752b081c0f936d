using Cenotic.Core.Electrical;

namespace Cenotic.Core.Tests.Electrical;

/// <summary>Dividers, thermistors, senders, wire, capacitors and converters against the reference numbers; the source of each stands beside it.</summary>
public class WorkshopFormulasTests
{
    // LED resistors: Ohm's law; next value of IEC 60063 E24, an exact hit stays.
    [Theory]
    [InlineData(5, 2.0, 20, 150, 150)]
    [InlineData(3.3, 1.8, 10, 150, 150)]
    [InlineData(5, 2.3, 15, 180, 180)]
    [InlineData(12, 3.2, 15, 586.6667, 620)]
    [InlineData(5, 2.1, 3, 966.6667, 1000)]
    [InlineData(3.3, 2.0, 3, 433.3333, 470)]
    public void Led_resistors(double supply, double forward, double milliamps, double ohms, double e24)
    {
        Assert.Equal(ohms, SeriesResistor.LedOhms(supply, forward, milliamps), 0.01);
        Assert.Equal(e24, SeriesResistor.LedOhmsE24(supply, forward, milliamps));
    }

    // Thermistor Beta equation.
    [Theory]
    [InlineData(3950, 0, 33620.6, 3)]
    [InlineData(3950, 50, 3588.183, 0.4)]
    [InlineData(3435, 85, 1451.347, 0.1)]
    public void Thermistor_resistance(double beta, double celsius, double ohms, double tolerance) =>
        Assert.Equal(ohms, Thermistor.Ohms(10_000, beta, celsius), tolerance);

    [Theory]
    [InlineData(10_000, 25)]
    [InlineData(4_700, 43.0184)]
    [InlineData(27_000, 4.20615)]
    public void Thermistor_temperature(double ohms, double celsius) => Assert.Equal(celsius, Thermistor.Celsius(10_000, 3950, ohms), 0.005);

    [Theory]
    [InlineData(25, 10_000, 85, 1_070, 3977.514)]
    [InlineData(0, 32_650, 50, 3_603, 3891.01)]
    public void Beta_from_two_points(double t1, double r1, double t2, double r2, double beta) => Assert.Equal(beta, Thermistor.Beta(t1, r1, t2, r2), 0.5);

    // Steinhart-Hart equation with the usual 10 kohm coefficients (from memory).
    [Theory]
    [InlineData(10_000, 24.99997)]
    [InlineData(32_650, -5e-05)]
    [InlineData(1_752, 69.99327)]
    [InlineData(5_000, 41.57258)]
    public void Steinhart_hart(double ohms, double celsius) =>
        Assert.Equal(celsius, Thermistor.SteinhartHart(0.001129241, 0.0002341077, 8.775468e-08, ohms), 0.005);

    [Theory]
    [InlineData(7_000, 33.6068)]
    [InlineData(10_000, 25)]
    public void Steinhart_hart_through_three_points(double ohms, double celsius)
    {
        var (a, b, c) = Thermistor.Fit([(5, 25_000), (25, 10_000), (45, 4_500)]);
        Assert.Equal(celsius, Thermistor.SteinhartHart(a, b, c, ohms), 0.005);
    }

    // Ohm's law; the tables are illustrations.
    [Theory]
    [InlineData(3.3, 100, 1.65, 100)]
    [InlineData(5, 220, 1.2, 69.47368)]
    [InlineData(3.3, 100, 2.329412, 240.00008)]
    public void Sender_resistance(double supply, double reference, double volts, double ohms)
    {
        Assert.Equal(ohms, ResistiveSender.Ohms(supply, reference, volts), 0.001);
        Assert.Equal(volts, ResistiveSender.Volts(supply, reference, ohms), 1e-5);
    }

    [Theory]
    [InlineData(1.65, 52.1429)]
    [InlineData(2.0, 31.443)]
    [InlineData(0.6, 100)]
    public void Sender_by_its_table(double volts, double percent) =>
        Assert.Equal(percent, ResistiveSender.FromTable([(33, 100), (103, 50), (240, 0)], ResistiveSender.Ohms(3.3, 100, volts)), 0.01);

    // ASTM B258 diameters, 100 % IACS; ohm per 1000 ft by the NBS copper wire tables.
    [Theory]
    [InlineData(36, 0.127)]
    [InlineData(24, 0.510559)]
    [InlineData(18, 1.023687)]
    public void Wire_diameter(double awg, double millimetres) => Assert.Equal(millimetres, CopperWire.Millimetres(awg), 0.0005);

    [Theory]
    [InlineData(18, 6.385, 0.006)]
    [InlineData(20, 10.15, 0.006)]
    [InlineData(24, 25.67, 0.006)]
    [InlineData(28, 64.9, 0.006)]
    [InlineData(30, 103.2, 0.06)]
    public void Wire_resistance_as_printed(double awg, double ohmsPerThousandFeet, double tolerance) =>
        Assert.Equal(ohmsPerThousandFeet, CopperWire.OhmsPerMetre(awg) * 304.8, tolerance);

    [Theory]
    [InlineData(24, 10, 0.1, 0.16843, 0.0003)]
    [InlineData(18, 30, 1.5, 1.88534, 0.004)]
    [InlineData(28, 2, 0.5, 0.425842, 0.0009)]
    public void Voltage_lost_in_a_cable(double awg, double metres, double amps, double volts, double tolerance) =>
        Assert.Equal(volts, CopperWire.DropVolts(awg, metres, amps), tolerance);

    // Charge and energy of a capacitor.
    [Theory]
    [InlineData(50, 3.6, 2.25, 37.03704, 0.004)]
    [InlineData(22_000, 3.3, 2.0, 16_923.08, 2)]
    [InlineData(6_840, 5, 3.0, 3_420, 0.3)]
    public void Capacitor_from_charge(double microcoulombs, double from, double to, double microfarads, double tolerance) =>
        Assert.Equal(microfarads, StorageCapacitor.FromCharge(microcoulombs, from, to), tolerance);

    [Theory]
    [InlineData(1_000, 3.6, 2.25, 253.2447, 0.03)]
    [InlineData(72_600, 5, 2.7, 8_198.758, 0.8)]
    public void Capacitor_from_energy(double microjoules, double from, double to, double microfarads, double tolerance) =>
        Assert.Equal(microfarads, StorageCapacitor.FromEnergy(microjoules, from, to), tolerance);

    [Fact]
    public void Capacitor_energy_hold_and_harvest()
    {
        Assert.Equal(382.5, StorageCapacitor.Microjoules(100, 3.3, 1.8), 0.04);
        Assert.Equal(2_733_750, StorageCapacitor.Microjoules(1_000_000, 2.7, 1.35), 3.0);
        Assert.Equal(10, StorageCapacitor.HarvestSeconds(50, 5, 0)!.Value, 0.001);
        Assert.Equal(250, StorageCapacitor.HarvestSeconds(22_000, 100, 12)!.Value, 0.03);
        Assert.Equal(360, StorageCapacitor.HarvestSeconds(6_840, 20, 1)!.Value, 0.04);
        Assert.Null(StorageCapacitor.HarvestSeconds(50, 1, 1));
        // 100 uF hold 2 mA for 65 ms from 3.3 to 2.0 V.
        Assert.Equal(65, StorageCapacitor.HoldMs(100, 2, 3.3, 2.0), 1e-9);
        Assert.Throws<ArgumentOutOfRangeException>(() => StorageCapacitor.FromCharge(1, 2, 3));
    }

    // Ideal converter; ADS1115 data sheet, full-scale range table.
    [Theory]
    [InlineData(3.3, 12, 805.6641)]
    [InlineData(5, 10, 4882.8125)]
    [InlineData(1.1, 10, 1074.2188)]
    public void Converter_steps(double fullScale, int bits, double microvolts) =>
        Assert.Equal(microvolts, ConverterReading.StepMicrovolts(fullScale, bits), 0.01);

    [Theory]
    [InlineData(4.096, 125)]
    [InlineData(6.144, 187.5)]
    [InlineData(0.256, 7.8125)]
    public void Bipolar_steps(double fullScale, double microvolts) => Assert.Equal(microvolts, ConverterReading.BipolarStepMicrovolts(fullScale, 16), 1e-6);

    [Fact]
    public void Converter_volts()
    {
        Assert.Equal(1.65, ConverterReading.Volts(2048, 3.3, 12), 1e-5);
        Assert.Equal(2.5, ConverterReading.Volts(512, 5, 10), 1e-5);
        Assert.Equal(3.2991943, ConverterReading.Volts(4095, 3.3, 12), 1e-5);
        Assert.Equal(3.3, ConverterReading.BipolarVolts(26400, 4.096, 16), 1e-6);
        Assert.Equal(-0.075, ConverterReading.BipolarVolts(-1200, 2.048, 16), 1e-6);
        // 3 % of 2.45 V over a probe that gives 2 V for 100 %: 3.7 %.
        Assert.Equal(3.675, ConverterReading.ErrorInUnit(3, 2.45, 100, 2), 1e-9);
        // A sender of 10 to 184 ohm under 47 ohm at 3.3 V spans 0.58 to 2.63 V: the same converter is worth 3.6 % of the tank.
        var span = ResistiveSender.Volts(3.3, 47, 184) - ResistiveSender.Volts(3.3, 47, 10);
        Assert.Equal(3.59, ConverterReading.ErrorInUnit(3, 2.45, 100, span), 0.01);
    }

    // Energy balance: 5 V to 3.3 V at 180 mA is 0.306 W; at 250 K/W that is 76.5 K.
    [Fact]
    public void Heat_of_a_linear_regulator() => Assert.Equal(76.5, LinearRegulator.RiseKelvin(LinearRegulator.Milliwatts(5, 3.3, 180), 250), 1e-9);

    /// <summary>48 V to 1.4 V in E24 is 1.3981 V. Every pair of every decade is tried, in whole numbers.</summary>
    [Theory]
    [InlineData(48, 1.4, 1.3981)]
    [InlineData(5, 3.3, null)]
    [InlineData(24, 3.3, null)]
    [InlineData(400, 1.0, null)]
    [InlineData(3.6, 3.5, null)]
    public void The_best_divider_of_all_decades_is_that_of_a_brute_force(double from, double to, double? expected)
    {
        var best = 0.0;
        foreach (
            var (top, bottom) in from top in PreferredValues.E24
            from bottom in PreferredValues.E24
            from decade in Enumerable.Range(-5, 11)
            select (top, bottom * Math.Pow(10, decade))
        )
        {
            var volts = from * bottom / (top + bottom);
            best = volts <= to + 1e-12 && volts > best ? volts : best;
        }
        var found = Divider.HighestNotAbove(from, to, PreferredValues.E24);
        Assert.Equal(best, found.Volts(from), 1e-9);
        Assert.True(found.TopOhms >= 1000 && found.BottomOhms >= 1000);
        if (expected is { } volts1)
        {
            Assert.Equal(volts1, found.Volts(from), 0.00005);
        }
    }

    [Fact]
    public void The_mean_of_a_curve_is_what_trapezia_make_of_it()
    {
        var cell = Samples.Catalogue.Cell("alkaline-aa-x2")!;
        var (until, area) = (cell.UsableFraction.Likely, 0.0);
        double At(double used)
        {
            var after = cell.Curve!.First(p => p.Used >= used);
            var before = cell.Curve!.Last(p => p.Used <= used);
            return after.Used == before.Used ? before.Volts : before.Volts + (after.Volts - before.Volts) * (used - before.Used) / (after.Used - before.Used);
        }
        const int steps = 20_000;
        for (var i = 0; i < steps; i++)
        {
            area += At((i + 0.5) / steps * until) / steps;
        }
        Assert.Equal(area, cell.MeanVolts, 1e-4);
        Assert.InRange(cell.MeanVolts, 2.3, 2.9);
        Assert.Equal(2 * cell.MeanVolts, cell.InSeries(2).MeanVolts, 1e-9);
    }
}
