namespace Cenotic.Core.Common;

/// <summary>One number that went into a <see cref="Working"/>: its name in the formula, its value and unit, and where it comes from.</summary>
public sealed record WorkingInput(string Name, double Value, string Unit, string Source);

/// <summary>How a figure came about: the formula, the numbers put in, the published source of the formula, and the figures it was built from.</summary>
public sealed record Working(string Formula, IReadOnlyList<WorkingInput> Inputs, string Source, IReadOnlyList<Figure>? From = null)
{
    /// <summary>A working for something that is not known, naming the missing fact.</summary>
    public static Working Missing(string fact) => new($"not known: {fact}", [], "the catalogue or a measurement would have to say");
}

/// <summary>
/// A computed number with its band, unit and working. What is unknown stays unknown (<see cref="Value"/> null) and its working names the missing fact.
/// NaN and infinity cannot be represented.
/// </summary>
public sealed record Figure
{
    /// <param name="label">What the figure is, in a maker's words.</param>
    /// <param name="value">The likely value, or null when unknown.</param>
    /// <param name="low">Low end of the band, or null.</param>
    /// <param name="high">High end of the band, or null.</param>
    /// <param name="unit">From <see cref="Common.Unit"/>.</param>
    /// <param name="working">The steps behind it.</param>
    /// <exception cref="ArgumentException">A number is NaN or infinite, or the band does not hold the value.</exception>
    public Figure(string label, double? value, double? low, double? high, string unit, Working working)
    {
        if (new[] { value, low, high }.Any(n => n is { } d && !double.IsFinite(d)))
        {
            throw new ArgumentException($"{label}: a figure is a finite number or unknown.");
        }
        if (value is { } v && ((low ?? v) > v + 1e-9 * Math.Abs(v) || (high ?? v) < v - 1e-9 * Math.Abs(v)))
        {
            throw new ArgumentException($"{label}: the band {low}..{high} does not hold {value}.");
        }
        (Label, Value, Low, High, Unit, _working) = (label, value, low, high, unit, working);
    }

    /// <summary>A figure whose working is written out when somebody asks for it: a plan has thousands, and few are looked at.</summary>
    /// <param name="working">Gives the same working each time.</param>
    /// <inheritdoc cref="Figure(string, double?, double?, double?, string, Working)"/>
    internal Figure(string label, double? value, double? low, double? high, string unit, Func<Working> working)
        : this(label, value, low, high, unit, (Working)null!) => _write = working;

    private readonly Func<Working>? _write;
    private Working? _working;

    /// <summary>What it is, in words.</summary>
    public string Label { get; }

    /// <summary>The likely value; null where there is none.</summary>
    public double? Value { get; }

    /// <summary>The low end of the band; null where there is none.</summary>
    public double? Low { get; }

    /// <summary>The high end of the band; null where there is none.</summary>
    public double? High { get; }

    /// <summary>Unit of value and band.</summary>
    public string Unit { get; }

    /// <summary>How it was worked out; written when it is asked for first.</summary>
    public Working Working => _working ??= _write!();

    /// <summary>Figures are equal when all that can be seen of them is.</summary>
    public bool Equals(Figure? other) =>
        other is not null && (Label, Value, Low, High, Unit) == (other.Label, other.Value, other.Low, other.High, other.Unit) && Working == other.Working;

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Label, Value, Low, High, Unit);

    /// <summary>A figure that cannot be given, and the fact that is missing.</summary>
    public static Figure Unknown(string label, string unit, string missingFact) => new(label, null, null, null, unit, Working.Missing(missingFact));

    /// <summary>A figure without a band.</summary>
    public static Figure Exact(string label, double value, string unit, Working working) => new(label, value, null, null, unit, working);
}
