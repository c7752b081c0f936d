namespace Cenotic.Core.BringUp;

/// <summary>What a probe showed, by its code.</summary>
/// <param name="T">UTC ms.</param>
public sealed record ProbeReading(long T, string Rom, double Celsius);

/// <summary>A probe while one of them is warmed.</summary>
/// <param name="Celsius">Newest value.</param>
/// <param name="RiseKelvin">Above what it showed when the watch began.</param>
public sealed record ProbeHeat(string Rom, double Celsius, double RiseKelvin);

/// <summary>Tells which of several probes a hand warms. Pure.</summary>
public static class ProbeWarming
{
    /// <summary>A hand makes five kelvin and more in half a minute; the air of a room does not do one (common practice, no source).</summary>
    private const double LeastKelvin = 1.0;

    private const double TimesTheNext = 3;

    /// <summary>How each probe has risen, the most first.</summary>
    /// <param name="readings">In order of time, from when the watch began.</param>
    public static IReadOnlyList<ProbeHeat> Of(IReadOnlyList<ProbeReading> readings) =>
        [
            .. readings
                .GroupBy(r => r.Rom)
                .Select(g => new ProbeHeat(g.Key, g.Last().Celsius, g.Last().Celsius - g.First().Celsius))
                .OrderByDescending(h => h.RiseKelvin)
                .ThenBy(h => h.Rom, StringComparer.Ordinal),
        ];

    /// <summary>The one that is warmed: it rose clearly, and three times as much as any other. Null while that is not so.</summary>
    public static ProbeHeat? Warmed(IReadOnlyList<ProbeHeat> heats) =>
        heats.Count > 0 && heats[0].RiseKelvin >= LeastKelvin && (heats.Count == 1 || heats[0].RiseKelvin >= TimesTheNext * heats[1].RiseKelvin)
            ? heats[0]
            : null;
}
