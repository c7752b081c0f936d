namespace Cenotic.Core.Watch;

/// <summary>A value and its time, UTC ms.</summary>
public readonly record struct TimedValue(long T, double V)
{
    private const int Most = 256;

    /// <summary>No more than 256 values: of more every other one is left out, but for the first and the last.</summary>
    internal static IReadOnlyList<TimedValue> Thinned(IReadOnlyList<TimedValue> values) =>
        values.Count <= Most ? values : [.. values.Where((_, at) => at == 0 || at == values.Count - 1 || at % 2 == 0)];
}
