using System.Diagnostics.CodeAnalysis;

namespace Cenotic.Core.Common;

/// <summary>A value, or the reasons why there is none. For what a person or a node can get wrong; faults of our own throw.</summary>
/// <typeparam name="T">The value's type.</typeparam>
public sealed class Outcome<T>
{
    private readonly T? _value;

    private Outcome(T? value, IReadOnlyList<string> reasons) => (_value, Reasons) = (value, reasons);

    /// <summary>Why there is no value, each one sentence; empty when there is one.</summary>
    public IReadOnlyList<string> Reasons { get; }

    /// <summary>True when there is a value.</summary>
    public bool Ok => Reasons.Count == 0;

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
    public static Outcome<T> Refused(params IReadOnlyList<string> reasons) =>
        reasons.Count > 0 ? new(default, reasons) : throw new ArgumentException("A refusal needs a reason.", nameof(reasons));
}
