using Cenotic.Core.Common;

namespace Cenotic.Core.Formats;

/// <summary>
/// Units that messages are sent in, turned into those that readings are kept in. Sources: the registered units of RFC 8428 section 12.1 and the secondary units
/// of RFC 8798 (from memory); degF is common practice and in no registry.
/// </summary>
public static class SenmlUnit
{
    /// <summary>A unit as a multiple of the base unit of what it measures, from a zero of its own.</summary>
    private readonly record struct Scale(string Of, double Factor, double Zero = 0);

    private static readonly Dictionary<string, Scale> Sent = new(StringComparer.Ordinal)
    {
        ["K"] = new("K", 1),
        ["Cel"] = new("K", 1, 273.15),
        ["degF"] = new("K", 5 / 9.0, 459.67 * 5 / 9),
        ["m"] = new("m", 1),
        ["mm"] = new("m", 1e-3),
        ["cm"] = new("m", 1e-2),
        ["km"] = new("m", 1e3),
        ["kg"] = new("kg", 1),
        ["g"] = new("kg", 1e-3),
        ["s"] = new("s", 1),
        ["ms"] = new("s", 1e-3),
        ["min"] = new("s", 60),
        ["h"] = new("s", 3600),
        ["A"] = new("A", 1),
        ["mA"] = new("A", 1e-3),
        ["V"] = new("V", 1),
        ["mV"] = new("V", 1e-3),
        ["Ohm"] = new("Ohm", 1),
        ["S/m"] = new("S/m", 1),
        ["T"] = new("T", 1),
        ["lx"] = new("lx", 1),
        ["m/s2"] = new("m/s2", 1),
        ["m/s"] = new("m/s", 1),
        ["km/h"] = new("m/s", 1 / 3.6),
        ["Pa"] = new("Pa", 1),
        ["hPa"] = new("Pa", 100),
        ["Hz"] = new("Hz", 1),
        ["MHz"] = new("Hz", 1e6),
        ["%RH"] = new("%RH", 1),
        ["%"] = new("/", 0.01),
        ["/"] = new("/", 1),
        ["/100"] = new("/", 0.01),
        ["/1000"] = new("/", 1e-3),
        ["ppm"] = new("/", 1e-6),
        ["kg/m3"] = new("kg/m3", 1),
        ["ug/m3"] = new("kg/m3", 1e-9),
        ["pH"] = new("pH", 1),
        ["W"] = new("W", 1),
        ["kW"] = new("W", 1e3),
        ["m3"] = new("m3", 1),
        ["l"] = new("m3", 1e-3),
        ["deg"] = new("rad", Math.PI / 180),
        ["rad"] = new("rad", 1),
    };

    /// <summary>Units as they are shown that are none of <see cref="Unit.ToSenml"/>.</summary>
    private static readonly Dictionary<string, Scale> Shown = new(StringComparer.Ordinal)
    {
        ["mV"] = new("V", 1e-3),
        ["mA"] = new("A", 1e-3),
        ["cm"] = new("m", 1e-2),
        ["mT"] = new("T", 1e-3),
        ["bar"] = new("Pa", 1e5),
        ["µS/cm"] = new("S/m", 1e-4),
        ["µg/m³"] = new("kg/m3", 1e-9),
        ["m/s²"] = new("m/s2", 1),
        ["L"] = new("m3", 1e-3),
        ["pH"] = new("pH", 1),
    };

    /// <summary>A value in the unit of its reading; null when the units are of different things.</summary>
    /// <param name="value">As it was sent.</param>
    /// <param name="sent">The unit it was sent in (SenML u); null when it says none: then it is in the reading's.</param>
    /// <param name="shown">The unit of the reading, as it is shown.</param>
    public static double? Convert(double value, string? sent, string shown)
    {
        if (sent is null || sent == shown || sent == Unit.ToSenml(shown))
        {
            return value;
        }
        if (!Sent.TryGetValue(sent, out var from) || Of(shown) is not { } to || from.Of != to.Of)
        {
            // A plain number of pulses or events has no unit of its own.
            return sent is "/" or "count" && Of(shown) is null ? value : null;
        }
        // Nine decimals: what the arithmetic leaves behind is no measurement.
        return Math.Round((value * from.Factor + from.Zero - to.Zero) / to.Factor, 9);
    }

    private static Scale? Of(string shown) =>
        Shown.TryGetValue(shown, out var scale) ? scale
        : shown != Unit.Count && Unit.ToSenml(shown) is { } name && Sent.TryGetValue(name, out scale) ? scale
        : null;
}
