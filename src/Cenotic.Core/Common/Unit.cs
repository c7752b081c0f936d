namespace Cenotic.Core.Common;

/// <summary>Units as they are shown, and their SenML names (RFC 8428 section 12.1; ppm and mm are secondary units, RFC 8798; from memory).</summary>
public static class Unit
{
    /// <summary>A unit as it is shown.</summary>
    public const string Volt = "V",
        Milliamp = "mA",
        Microamp = "µA",
        Ohm = "Ω",
        Picofarad = "pF",
        Nanosecond = "ns",
        Microsecond = "µs",
        Millisecond = "ms",
        Second = "s",
        Day = "d",
        MilliampSecond = "mA·s",
        MilliampHour = "mAh",
        Celsius = "°C",
        RelativeHumidity = "%RH",
        Hectopascal = "hPa",
        Lux = "lx",
        Metre = "m",
        SquareMetre = "m²",
        Degree = "°",
        Percent = "%",
        Count = "",
        Hertz = "Hz",
        Byte = "B",
        Decibel = "dB",
        DecibelMilliwatt = "dBm",
        DecibelIsotropic = "dBi";

    /// <summary>The SenML name of a shown unit; "/" for a state or plain number, null for a unit that the registry does not have.</summary>
    public static string? ToSenml(string unit) =>
        unit switch
        {
            Celsius => "Cel",
            RelativeHumidity => "%RH",
            Hectopascal => "hPa",
            Lux => "lx",
            Metre => "m",
            Volt => "V",
            Percent => "%",
            Ohm => "Ohm",
            "A" or "kg" or "ppm" or "mm" => unit,
            Count => "/",
            _ => null,
        };
}
