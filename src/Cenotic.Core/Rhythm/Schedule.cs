using System.Runtime.InteropServices;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Rhythm;

/// <summary>When a reading comes: at every <paramref name="Every"/>-th wake.</summary>
internal sealed record Turn(ReadingDesign Reading, long Every);

/// <summary>A sort of wake: what is read and what is sent in it, and how many of the wakes are of this sort.</summary>
internal sealed record WakeSort(IReadOnlyList<ReadingDesign> Due, IReadOnlyList<ReadingDesign> Sent, double Share);

/// <summary>
/// The wakes of a node: the shortest interval sets them, a reading with a longer one shares every k-th, with k rounded
/// down so that it comes at least as often as asked; batches are sent when they are full.
/// </summary>
internal sealed record Schedule(long PeriodMs, IReadOnlyList<Turn> Turns, IReadOnlyList<WakeSort> Sorts)
{
    internal const long DayMs = 86_400_000;

    /// <summary>Wakes that are looked at when the pattern of shared wakes is longer.</summary>
    private const long LongestPattern = 20_160;

    internal static Schedule Of(NodeDesign node)
    {
        var turning = node.Readings.Where(r => r.LongestGapMs is > 0).ToList();
        var period = turning.Count > 0 ? turning.Min(r => r.LongestGapMs!.Value) : DayMs;
        var turns = turning.Select(r => new Turn(r, Math.Max(1, r.LongestGapMs!.Value / period))).ToList();
        return new(period, turns, SortsOf(turns));
    }

    /// <summary>Wakes between two sends of a reading.</summary>
    internal static long SendEvery(Turn turn) => turn.Every * (turn.Reading.IntervalMs is null ? 1 : Math.Max(1, turn.Reading.BatchOf));

    /// <summary>Fewest wakes between two sends that do not fall together; null when nothing is sent. Sends of a reading
    /// come every so many wakes from a wake of their own, so that two of them can be
    /// as near as the remainder of their distance by the greatest common divisor of both (Chinese remainder theorem).</summary>
    internal static long? LeastSendGap(IReadOnlyList<Turn> turns)
    {
        // A batch is full one turn before the next begins.
        var sends = turns.Select(t => (Every: SendEvery(t), First: SendEvery(t) - t.Every)).Distinct().ToList();
        long? least = sends.Count == 0 ? null : sends.Min(s => s.Every);
        for (var i = 0; i < sends.Count; i++)
        {
            for (var j = 0; j < i; j++)
            {
                var common = PeriodicSends.Gcd(sends[i].Every, sends[j].Every);
                var apart = PeriodicSends.Mod(sends[i].First - sends[j].First, common);
                least = Math.Min(least!.Value, apart == 0 ? common : Math.Min(apart, common - apart));
            }
        }
        return least;
    }

    /// <summary>Wakes after which everything repeats.</summary>
    internal static long PatternOf(IReadOnlyList<Turn> turns)
    {
        var pattern = 1L;
        foreach (var every in turns.Select(SendEvery).Distinct())
        {
            pattern = pattern / PeriodicSends.Gcd(pattern, every) * every;
            if (pattern > LongestPattern)
            {
                return LongestPattern;
            }
        }
        return pattern;
    }

    private static List<WakeSort> SortsOf(List<Turn> turns)
    {
        if (turns.Count == 0)
        {
            return [new([], [], 1)];
        }
        // Readings with the same turn behave alike: one bit for "is read", one for "is sent".
        var classes = turns.GroupBy(t => (t.Every, Send: SendEvery(t))).OrderBy(g => g.Key.Every).ThenBy(g => g.Key.Send).ToList();
        var pattern = PatternOf(turns);
        var masks = new UInt128[pattern];
        for (var c = 0; c < classes.Count; c++)
        {
            var (every, send) = classes[c].Key;
            for (long wake = 0; wake < pattern; wake += every)
            {
                masks[wake] |= UInt128.One << (2 * c % 128);
                // A batch is full with its last reading, one turn before the next batch begins.
                masks[wake] |= (wake + every) % send == 0 ? UInt128.One << ((2 * c + 1) % 128) : 0;
            }
        }
        var counts = new Dictionary<UInt128, long>();
        foreach (var mask in masks)
        {
            CollectionsMarshal.GetValueRefOrAddDefault(counts, mask, out _)++;
        }
        IReadOnlyList<ReadingDesign> Chosen(UInt128 mask, int bit) =>
            [.. classes.Where((_, c) => (mask >> ((2 * c + bit) % 128) & 1) == 1).SelectMany(c => c).Select(t => t.Reading)];
        return
        [
            .. counts
                .OrderByDescending(c => c.Value)
                .ThenBy(c => c.Key)
                .Select(c => new WakeSort(Chosen(c.Key, 0), Chosen(c.Key, 1), (double)c.Value / pattern)),
        ];
    }
}
