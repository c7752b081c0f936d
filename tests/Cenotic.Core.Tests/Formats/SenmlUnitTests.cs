using Cenotic.Core.Catalogue;
using Cenotic.Core.Formats;

namespace Cenotic.Core.Tests.Formats;

/// <summary>Units that are sent. Fixed points by their definitions: 0 °C is 273.15 K and 32 °F, 100
/// °C is 212 °F, −40 is the same in both (ITS-90; common tables).</summary>
public class SenmlUnitTests
{
    [Theory]
    [InlineData(273.15, "K", "°C", 0)]
    [InlineData(293.65, "K", "°C", 20.5)]
    [InlineData(32, "degF", "°C", 0)]
    [InlineData(212, "degF", "°C", 100)]
    [InlineData(-40, "degF", "°C", -40)]
    [InlineData(101325, "Pa", "hPa", 1013.25)]
    [InlineData(1013.25, "hPa", "bar", 1.01325)]
    [InlineData(1.5, "m", "mm", 1500)]
    [InlineData(420, "mV", "V", 0.42)]
    [InlineData(0.45, "/", "%", 45)]
    [InlineData(0.0004, "/", "ppm", 400)]
    [InlineData(0.1413, "S/m", "µS/cm", 1413)]
    [InlineData(12, "ug/m3", "µg/m³", 12)]
    [InlineData(21.5, null, "°C", 21.5)]
    [InlineData(21.5, "Cel", "°C", 21.5)]
    [InlineData(1, "/", "", 1)]
    [InlineData(7, "count", "pulses", 7)]
    public void Are_turned_into_the_readings_own(double value, string? sent, string shown, double expected) =>
        Assert.Equal(expected, SenmlUnit.Convert(value, sent, shown)!.Value, 9);

    [Theory]
    [InlineData("Pa", "°C")]
    [InlineData("Cel", "%RH")]
    [InlineData("%", "%RH")]
    [InlineData("Cel", "")]
    [InlineData("parsec", "m")]
    public void Of_another_thing_are_none(string sent, string shown) => Assert.Null(SenmlUnit.Convert(1, sent, shown));

    [Fact]
    public void What_a_part_cannot_measure_is_known_and_a_little_beyond_its_range_is_not()
    {
        var celsius = Samples.Catalogue.Part("bme280")!.Quantities.Single(q => q.Quantity == "temperature");
        Assert.Equal(
            (true, true, false, false),
            (
                PossibleValue.IsMeasured(85, celsius),
                PossibleValue.IsMeasured(86, celsius),
                PossibleValue.IsMeasured(300, celsius),
                PossibleValue.IsMeasured(-60, celsius)
            )
        );
        Assert.True(PossibleValue.IsMeasured(1e9, null));
    }
}
