using System.Globalization;

namespace Cenotic.Core.Common;

/// <summary>A stretch of time as a maker reads it.</summary>
public static class DurationText
{
    /// <summary>"250 ms", "30 s", "5 min", "12 h", "3 d": one decimal at most.</summary>
    /// <param name="ms">Length, ms.</param>
    public static string Of(long ms)
    {
        FormattableString text = ms switch
        {
            < 1000 => $"{ms} ms",
            < 120_000 => $"{ms / 1000.0:0.#} s",
            < 7_200_000 => $"{ms / 60_000.0:0.#} min",
            < 172_800_000 => $"{ms / 3_600_000.0:0.#} h",
            _ => $"{ms / 86_400_000.0:0.#} d",
        };
        return text.ToString(CultureInfo.InvariantCulture);
    }
}
