using System.Collections.Concurrent;
using System.Net;

namespace Cenotic.Server.Accounts;

/// <summary>
/// Makes guessing slow: after a few wrong secrets for a name from an address, that name waits at that address, longer each time. From elsewhere who has the
/// secret comes in as ever, and whether there is such a name makes no difference. It is forgotten when the program ends.
/// </summary>
/// <param name="free">Wrong tries that cost nothing.</param>
/// <param name="first">How long the next one waits; each after it twice as long.</param>
/// <param name="longest">No wait is longer.</param>
public class GuessThrottle(TimeProvider system, int free, TimeSpan first, TimeSpan longest)
{
    private const int MostKept = 10_000;
    private static readonly TimeSpan Forgotten = TimeSpan.FromHours(24);

    private sealed record Tries(int Wrong, DateTimeOffset Last);

    private readonly ConcurrentDictionary<(IPAddress From, string Name), Tries> _tries = [];

    /// <summary>How long the next try has to wait; null when it may be made now.</summary>
    public TimeSpan? Wait(IPAddress? from, string name)
    {
        if (!_tries.TryGetValue(Key(from, name), out var tries) || tries.Wrong < free)
        {
            return null;
        }
        var pause = TimeSpan.FromTicks(Math.Min(longest.Ticks, first.Ticks << Math.Min(20, tries.Wrong - free)));
        return tries.Last + pause - system.GetUtcNow() is { Ticks: > 0 } left ? left : null;
    }

    public void Failed(IPAddress? from, string name)
    {
        var now = system.GetUtcNow();
        _tries.AddOrUpdate(Key(from, name), _ => new(1, now), (_, t) => now - t.Last > Forgotten ? new(1, now) : new(t.Wrong + 1, now));
        if (_tries.Count > MostKept)
        {
            foreach (var (key, _) in _tries.OrderBy(t => t.Value.Last).Take(MostKept / 10).ToList())
            {
                _tries.TryRemove(key, out _);
            }
        }
    }

    public void Succeeded(IPAddress? from, string name) => _tries.TryRemove(Key(from, name), out _);

    /// <summary>Forgets the tries for a name from everywhere: it has a new secret.</summary>
    public void Forget(string name)
    {
        foreach (var key in _tries.Keys.Where(k => k.Name == name.ToUpperInvariant()))
        {
            _tries.TryRemove(key, out _);
        }
    }

    private static (IPAddress, string) Key(IPAddress? from, string name) => (PeerAddress.Of(from), name.Length > 256 ? "" : name.ToUpperInvariant());
}
