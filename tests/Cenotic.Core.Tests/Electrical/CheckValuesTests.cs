using Cenotic.Core.Electrical;

namespace Cenotic.Core.Tests.Electrical;

/// <summary>Formulas against published and independently derived numbers; the source stands beside each.</summary>
public class CheckValuesTests
{
    [Theory]
    [InlineData(3.3, 0.4, 3, 966.667)] // SLVA689 worked example
    [InlineData(5, 0.4, 3, 1533.333)] // UM10204 formula
    [InlineData(1.8, 0.36, 2, 720)]
    [InlineData(3.3, 0.4, 20, 145)]
    public void Smallest_pull_up(double vdd, double low, double sink, double ohms)
    {
        Assert.Equal(ohms, I2cBus.SmallestPullUpOhms(vdd, low, sink), 0.001);
        // The characteristics tables give level and current by the supply; 20 mA is of fast-mode plus, which plans do not count on.
        Assert.Equal(sink == 20, Math.Abs(I2cBus.SmallestPullUpOhms(vdd) - ohms) > 0.001);
    }

    [Theory]
    [InlineData(300, 200, 1770, 5)] // SLVA689 worked example: 1.77 kohm
    [InlineData(1000, 400, 2950.55, 1)] // UM10204 formula, as the rest
    [InlineData(300, 400, 885.165, 0.4)]
    [InlineData(120, 550, 257.502, 0.1)]
    public void Largest_pull_up(double rise, double picofarads, double ohms, double within) =>
        Assert.Equal(ohms, I2cBus.LargestPullUpOhms(rise, picofarads), within);

    [Fact]
    public void Module_pull_ups_act_in_parallel()
    {
        Assert.Equal(3333.3333, I2cBus.ParallelOhms([10_000, 10_000, 10_000]), 0.01);
        Assert.Equal(3197.2789, I2cBus.ParallelOhms([4_700, 10_000]), 0.01);
        Assert.Equal(1020.3276, I2cBus.ParallelOhms([4_700, 4_700, 10_000, 2_200]), 0.01);
        Assert.Throws<ArgumentException>(() => I2cBus.ParallelOhms([]));
    }

    [Theory]
    [InlineData(4700, 100, 398.231, 0.2)] // UM10204: tr = 0.8473 Rp Cb
    [InlineData(10000, 120, 1016.76, 0.5)]
    public void Rise_time(double ohms, double picofarads, double nanoseconds, double within) =>
        Assert.Equal(nanoseconds, I2cBus.RiseNanoseconds(ohms, picofarads), within);

    [Theory]
    [InlineData(1, 2, 100, 480)] // bits counted on UM10204 framing
    [InlineData(1, 2, 400, 120)]
    [InlineData(3, 0, 100, 380)]
    [InlineData(0, 6, 400, 162.5)]
    [InlineData(0, 0, 100, 110)]
    public void Bus_time(int write, int read, double kilohertz, double microseconds) =>
        Assert.Equal(microseconds, I2cBus.TransactionMicroseconds(write, read, kilohertz), 0.01);

    [Theory]
    [InlineData("02 1C B8 01 00 00 00", 162)] // application note 27, its own example
    [InlineData("31 32 33 34 35 36 37 38 39", 161)] // CRC catalogues: check value of CRC-8/MAXIM-DOW
    [InlineData("10 E2 07 3A 01 08 00", 99)] // the 1-Wire id printed in RFC 8428
    [InlineData("50 05 4B 46 7F FF 0C 10", 28)] // scratchpad at power-up, 85 C
    [InlineData("28 FF 64 1E 82 16 03", 226)]
    [InlineData("00 00 00 00 00 00 00", 0)]
    public void One_wire_crc(string hex, byte crc)
    {
        var data = Convert.FromHexString(hex.Replace(" ", ""));
        Assert.Equal(crc, OneWire.Crc8(data));
        Assert.Equal(0, OneWire.Crc8([.. data, crc]));
    }

    [Theory]
    [InlineData(0x07D0, 125)] // DS18B20 data sheet, temperature/data relationship
    [InlineData(0x0191, 25.0625)]
    [InlineData(0xFFF8, -0.5)]
    [InlineData(0xFC90, -55)]
    public void One_wire_temperature(ushort register, double celsius) => Assert.Equal(celsius, OneWire.Celsius(register));

    [Theory]
    [InlineData(9, 93.75)] // DS18B20 data sheet
    [InlineData(10, 187.5)]
    [InlineData(11, 375)]
    [InlineData(12, 750)]
    public void One_wire_conversion(int bits, double ms) => Assert.Equal(ms, OneWire.ConversionMs(bits));

    [Fact]
    public void One_wire_conversion_refuses_other_resolutions() => Assert.Throws<ArgumentOutOfRangeException>(() => OneWire.ConversionMs(13));

    [Theory]
    [InlineData(5, 330, 470, 2.9375)] // Ohm's law
    [InlineData(5, 10000, 20000, 3.333333)]
    [InlineData(12, 30000, 7500, 2.4)]
    public void Divider_output(double volts, double top, double bottom, double result) => Assert.Equal(result, new Divider(top, bottom).Volts(volts), 0.0001);

    [Theory]
    [InlineData(5, 10000, 20000, 100000, 3.125)]
    [InlineData(5, 330, 470, 10000, 2.881632)]
    [InlineData(12, 100000, 33000, 330000, 2.769231)]
    public void Loaded_divider(double volts, double top, double bottom, double load, double result) =>
        Assert.Equal(result, new Divider(top, bottom).LoadedVolts(volts, load), 0.0001);

    [Theory]
    [InlineData(5, 3.3, 12, 3.235294)] // IEC 60063 series, exhaustive search
    [InlineData(5, 3.3, 24, 3.297101)]
    [InlineData(5, 3.3, 96, 3.28869)]
    [InlineData(12, 5, 12, 4.95)]
    [InlineData(12, 5, 24, 4.965517)]
    [InlineData(12, 5, 96, 5)]
    public void Best_preferred_pair(double volts, double most, int series, double result) =>
        Assert.Equal(
            result,
            Divider
                .HighestNotAbove(
                    volts,
                    most,
                    series switch
                    {
                        12 => PreferredValues.E12,
                        24 => PreferredValues.E24,
                        _ => PreferredValues.E96,
                    }
                )
                .Volts(volts),
            0.0005
        );

    [Theory]
    [InlineData(150, 150)] // IEC 60063 E24: an exact hit stays
    [InlineData(180.00000000000003, 180)]
    [InlineData(586.6667, 620)]
    [InlineData(966.667, 1000)]
    [InlineData(1000, 1000)]
    public void Next_preferred_value(double ohms, double value) => Assert.Equal(value, PreferredValues.NextUp(ohms, PreferredValues.E24));

    [Fact]
    public void The_drawn_current_of_the_formula_check_is_too_much_for_a_proposal() => Assert.Equal(6.25, new Divider(330, 470).DrawMilliamps(5), 0.001);

    [Fact]
    public void The_proposed_echo_divider_keeps_every_corner()
    {
        var pair = Divider.Propose(5.25, 4.75, 3.3, 2.475, PreferredValues.E12)!;
        // Common practice for a 5 V echo line, and what an exhaustive look at E12 gives: 10 over 15 kilohm.
        Assert.Equal((10_000, 15_000), (pair.TopOhms, pair.BottomOhms));
        Assert.Equal(3.0, pair.Volts(5), 0.0001);
        Assert.InRange(pair.Corner(0.05, highest: true).Volts(5.25), 0, 3.3);
        Assert.InRange(pair.Corner(0.05, highest: false).Volts(4.75), 2.475, 3.3);
        Assert.InRange(pair.DrawMilliamps(5.25), 0, 4);
        Assert.Null(Divider.Propose(5.25, 3.0, 3.3, 2.475, PreferredValues.E12));
    }

    [Theory]
    [InlineData(7, 125, 1, 8, 20, true, true, 56.576)] // SX1276 data sheet, LoRa modem time on air
    [InlineData(8, 125, 1, 8, 20, true, true, 102.912)]
    [InlineData(9, 125, 1, 8, 20, true, true, 185.344)]
    [InlineData(10, 125, 1, 8, 20, true, true, 370.688)]
    [InlineData(11, 125, 1, 8, 20, true, true, 741.376)]
    [InlineData(12, 125, 1, 8, 20, true, true, 1318.912)]
    [InlineData(9, 500, 4, 12, 51, true, true, 123.136)]
    [InlineData(12, 250, 1, 8, 32, true, true, 905.216)]
    [InlineData(7, 125, 1, 8, 12, false, false, 36.096)]
    [InlineData(12, 125, 1, 8, 0, false, false, 663.552)]
    public void Time_on_air(int sf, double kilohertz, int rate, int preamble, int payload, bool header, bool crc, double ms) =>
        Assert.Equal(ms, Airtime.LoraMs(sf, kilohertz, rate, preamble, payload, header, crc), 0.001);

    [Theory]
    [InlineData(5, 125, 1, 10)]
    [InlineData(7, 0, 1, 10)]
    [InlineData(7, 125, 5, 10)]
    [InlineData(7, 125, 1, 256)]
    public void Time_on_air_refuses_nonsense(int sf, double kilohertz, int rate, int payload) =>
        Assert.Throws<ArgumentOutOfRangeException>(() => Airtime.LoraMs(sf, kilohertz, rate, 8, payload));
}
