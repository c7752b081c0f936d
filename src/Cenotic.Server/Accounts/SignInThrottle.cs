using System.Collections.Concurrent;
using System.Net;
using Cenotic.Server.Relay;

namespace Cenotic.Server.Accounts;

/// <summary>
/// Makes guessing slow: after a few wrong passwords for a name from an address, that name waits at that address, longer each time. From elsewhere the person comes in as ever, and whether there
/// is such a name makes no difference. It is forgotten when the program ends.
/// </summary>
public sealed class SignInThrottle(TimeProvider system)
{
    private const int Free = 5, MostKept = 10_000;
    private static readonly TimeSpan First = TimeSpan.FromSeconds(30), Longest = TimeSpan.FromHours(1), Forgotten = TimeSpan.FromHours(24);

    private sealed record Tries(int Wrong, DateTimeOffset Last);

    private readonly ConcurrentDictionary<(IPAddress From, string Name), Tries> _tries = [];

    /// <summary>How long the next try has to wait; null when it may be made now.</summary>
    public TimeSpan? Wait(IPAddress? from, string name)
    {
        if (!_tries.TryGetValue(Key(from, name), out var tries) || tries.Wrong < Free)
        {
            return null;
        }
        var pause = TimeSpan.FromTicks(Math.Min(Longest.Ticks, First.Ticks << Math.Min(20, tries.Wrong - Free)));
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

    /// <summary>What is said to who has to wait.</summary>
    public static string Says(TimeSpan wait) => $"Too many wrong passwords for this name from here; wait {(wait.TotalSeconds < 90 ? $"{Math.Ceiling(wait.TotalSeconds):0} s" : $"{Math.Ceiling(wait.TotalMinutes):0} min")}.";

    private static (IPAddress, string) Key(IPAddress? from, string name) => (PeerAddress.Of(from), name.Length > 256 ? "" : name.ToUpperInvariant());
}
