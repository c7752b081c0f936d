using System.Diagnostics.CodeAnalysis;

namespace Cenotic.Core.Common;

/// <summary>A value, or the reasons why there is none. For what a person or a node can get wrong; faults of our own throw.</summary>
/// <typeparam name="T">The value's type.</typeparam>
public sealed class Outcome<T>
{
    private readonly T? _value;

    private Outcome(T? value, IReadOnlyList<Reason> because) => (_value, Because) = (value, because);

    /// <summary>Why there is no value, with the field each reason is about; empty when there is one.</summary>
    public IReadOnlyList<Reason> Because { get; }

    /// <summary>The sentences of <see cref="Because"/>.</summary>
    public IReadOnlyList<string> Reasons => [.. Because.Select(r => r.Says)];

    /// <summary>True when there is a value.</summary>
    public bool Ok => Because.Count == 0;

    /// <summary>The value.</summary>
    /// <exception cref="InvalidOperationException">There is none; ask <see cref="Ok"/> first.</exception>
    public T Value => Ok ? _value! : throw new InvalidOperationException("No value: " + string.Join(" ", Reasons));

    /// <summary>The value when there is one.</summary>
    public bool TryGet([MaybeNullWhen(false)] out T value)
    {
        value = _value;
        return Ok;
    }

    /// <summary>Wraps a value.</summary>
    public static implicit operator Outcome<T>(T value) => new(value, []);

    /// <summary>Wraps a value of an interface type, for which no conversion can be written.</summary>
    public static Outcome<T> Of(T value) => new(value, []);

    /// <summary>An outcome without a value.</summary>
    /// <exception cref="ArgumentException">No reason is given.</exception>
    public static Outcome<T> Refused(params IReadOnlyList<string> reasons) => Refused([.. reasons.Select(says => new Reason(says))]);

    /// <summary>An outcome without a value.</summary>
    /// <exception cref="ArgumentException">No reason is given.</exception>
    public static Outcome<T> Refused(IReadOnlyList<Reason> because) =>
        because.Count > 0 ? new(default, because) : throw new ArgumentException("A refusal needs a reason.", nameof(because));
}
