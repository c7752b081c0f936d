using System.Collections.Concurrent;

namespace Cenotic.Server.Samples;

/// <summary>Readings whose samples were made anew under another number since the start: what was decoded before is stored under the new one.</summary>
public sealed class ReadingNumbers
{
    private readonly ConcurrentDictionary<int, int> _next = [];
    private readonly ConcurrentDictionary<int, int> _before = [];

    /// <summary>The number that a reading has now.</summary>
    public int Current(int reading)
    {
        while (_next.TryGetValue(reading, out var next))
        {
            reading = next;
        }
        return reading;
    }

    /// <summary>The number that a reading had before; null when it had no other.</summary>
    public int? Before(int reading) => _before.TryGetValue(reading, out var before) ? before : null;

    /// <summary>Called when stored samples are others than before: what was remembered of them is looked up anew.</summary>
    public event Action? Changed;

    /// <summary>Tells that stored samples are others than before.</summary>
    public void Tell() => Changed?.Invoke();

    /// <summary>Keeps that a reading has another number. Within the write that gives it.</summary>
    public void Move(int from, int to) => (_next[from], _before[to]) = (to, from);
}
