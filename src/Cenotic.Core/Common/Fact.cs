namespace Cenotic.Core.Common;

/// <summary>How far a catalogue fact can be trusted.</summary>
public enum Confidence
{
    /// <summary>A data-sheet figure (remembered, not copied).</summary>
    DataSheet,

    /// <summary>Usual for boards and modules seen; varies by maker.</summary>
    Typical,

    /// <summary>A careful planning value chosen here; not published.</summary>
    Prudent,

    /// <summary>Measured on the maker's own hardware.</summary>
    Measured,
}

/// <summary>
/// A fact of the hardware with its spread. At least one of the three is given; a fact that is not known at all is absent (null).
/// The unit stands in the name of the property that holds the fact.
/// </summary>
public sealed record Fact(double? Min, double? Typ, double? Max, string Source, Confidence Confidence)
{
    /// <summary>The value to plan with: typical, else the middle of the range, else the one end that is known.</summary>
    public double Likely =>
        Typ ?? (Min is { } lo && Max is { } hi ? (lo + hi) / 2 : Max ?? Min ?? throw new InvalidOperationException("A fact without a number."));

    /// <summary>Low end; the likely value when none is given.</summary>
    public double Low => Math.Min(Min ?? Likely, Likely);

    /// <summary>High end; the likely value when none is given.</summary>
    public double High => Math.Max(Max ?? Likely, Likely);

    /// <summary>The fact with all its numbers multiplied.</summary>
    public Fact Times(double by) => this with { Min = Min * by, Typ = Typ * by, Max = Max * by };

    /// <summary>An exact fact.</summary>
    public static Fact Of(double value, string source, Confidence confidence = Confidence.DataSheet) => new(null, value, null, source, confidence);
}
