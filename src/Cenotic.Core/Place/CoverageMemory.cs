using System.Runtime.CompilerServices;
using Cenotic.Core.Design;

namespace Cenotic.Core.Place;

/// <summary>
/// What was worked out of the sensors of a site in the plan before. It holds as long as rooms and floors are the same; what a plan did not ask for is
/// forgotten with the next. Designs are immutable, so what is the same object is the same. For one plan at a time.
/// </summary>
internal sealed class CoverageMemory
{
    private (IReadOnlyList<Room> Rooms, IReadOnlyList<Floor> Floors)? _ground;
    private Dictionary<object, object> _before = [],
        _now = [];
    private bool _ended = true;

    /// <summary>A new plan begins.</summary>
    internal void Begin(PlaceDesign place)
    {
        var same = _ground is { } ground && ReferenceEquals(ground.Rooms, place.Rooms) && ReferenceEquals(ground.Floors, place.Floors);
        _ground = (place.Rooms, place.Floors);
        if (!same)
        {
            (_before, _now) = ([], []);
        }
        else if (_ended)
        {
            (_before, _now) = (_now, []);
        }
        // One that was broken off leaves what it had, and what was before it.
        _ended = false;
    }

    /// <summary>The plan is whole.</summary>
    internal void End() => _ended = true;

    /// <summary>What is known under a key, or is worked out now.</summary>
    /// <param name="key">All that it depends on besides rooms and floors.</param>
    internal T Of<T>(object key, Func<T> make)
        where T : notnull
    {
        if (!_now.TryGetValue(key, out var known))
        {
            _now[key] = known = _before.TryGetValue(key, out var before) ? before : make();
        }
        return (T)known;
    }
}

/// <summary>A part of a key that is the same only as the same object.</summary>
internal readonly record struct Same(object It)
{
    /// <inheritdoc/>
    public bool Equals(Same other) => ReferenceEquals(It, other.It);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(It);
}

/// <summary>The same for several, in their order.</summary>
internal sealed record SameAll(IReadOnlyList<object> Of)
{
    /// <inheritdoc/>
    public bool Equals(SameAll? other) => other is not null && Of.Count == other.Of.Count && Of.Zip(other.Of).All(p => ReferenceEquals(p.First, p.Second));

    /// <inheritdoc/>
    public override int GetHashCode() => Of.Aggregate(Of.Count, (sum, o) => HashCode.Combine(sum, RuntimeHelpers.GetHashCode(o)));
}
