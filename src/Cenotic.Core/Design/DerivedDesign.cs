using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>A reading that is worked out of others, and then stored, shown and judged like one that
/// was measured. Its address is <see cref="Node"/> and its key.</summary>
public sealed record DerivedDesign(string Key, string Label, DerivedFrom From, int Decimals)
{
    /// <summary>Stands for a node where a reading wants one. No node may have this key.</summary>
    public const string Node = "derived";

    /// <summary>How often what a node shows by itself (lost messages, days left) is looked at, ms.</summary>
    public const long NodeEveryMs = 600_000;

    /// <summary>The least time between two values of what adds up, ms: it moves slowly, and each value is stored.</summary>
    public const long TotalsApartMs = 60_000;
}

/// <summary>How a reading is worked out.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(DewPointOf), "dewPoint")]
[JsonDerivedType(typeof(WaterInAirOf), "waterInAir")]
[JsonDerivedType(typeof(MouldIndexOf), "mouldIndex")]
[JsonDerivedType(typeof(ConductivityAt25Of), "conductivityAt25")]
[JsonDerivedType(typeof(DissolvedSolidsOf), "dissolvedSolids")]
[JsonDerivedType(typeof(VesselOf), "vessel")]
[JsonDerivedType(typeof(RateOf), "rate")]
[JsonDerivedType(typeof(RunningHoursOf), "runningHours")]
[JsonDerivedType(typeof(DegreeDaysOf), "degreeDays")]
[JsonDerivedType(typeof(SumOf), "sum")]
[JsonDerivedType(typeof(PresenceOf), "presence")]
[JsonDerivedType(typeof(LostShareOf), "lostShare")]
[JsonDerivedType(typeof(DaysLeftOf), "daysLeft")]
public abstract record DerivedFrom
{
    /// <summary>Readings it is worked out of, in the order in which their values are given; empty for what a node shows by itself.</summary>
    [JsonIgnore]
    public IReadOnlyList<ReadingRef> Inputs =>
        this switch
        {
            DewPointOf f => [f.Temperature, f.Humidity],
            WaterInAirOf f => [f.Temperature, f.Humidity],
            MouldIndexOf { Surface: { } surface } f => [f.Temperature, f.Humidity, surface],
            MouldIndexOf f => [f.Temperature, f.Humidity],
            ConductivityAt25Of f => [f.Conductivity, f.Temperature],
            DissolvedSolidsOf f => [f.Conductivity, f.Temperature],
            VesselOf f => [f.Vessel.Reading],
            RateOf f => [f.Reading],
            RunningHoursOf f => [f.Reading],
            DegreeDaysOf f => [f.Temperature],
            SumOf f => [.. f.Terms.Select(t => t.Reading)],
            PresenceOf f => f.Of,
            _ => [],
        };

    /// <summary>True for what adds up over time.</summary>
    [JsonIgnore]
    public bool IsTotal => this is RunningHoursOf or DegreeDaysOf or MouldIndexOf;

    /// <summary>The node it is about where it is worked out of no readings; null for others.</summary>
    [JsonIgnore]
    public string? About =>
        this switch
        {
            LostShareOf f => f.Node,
            DaysLeftOf f => f.Node,
            _ => null,
        };
}

/// <summary>Temperature at which the air would be saturated, °C.</summary>
public sealed record DewPointOf(ReadingRef Temperature, ReadingRef Humidity) : DerivedFrom;

/// <summary>Water in a cubic metre of air, g/m³.</summary>
public sealed record WaterInAirOf(ReadingRef Temperature, ReadingRef Humidity) : DerivedFrom;

/// <summary>What mould finds to grow on: untreated wood, or stone, plaster and painted board.</summary>
public enum MouldGround
{
    /// <summary>Bare wood.</summary>
    Wood,

    /// <summary>Stone or plaster.</summary>
    Stone,
}

/// <summary>Mould index of a surface, 0 (none) to 6 (covered).</summary>
/// <param name="Surface">Temperature of the surface; null where it is as warm as the air.</param>
public sealed record MouldIndexOf(ReadingRef Temperature, ReadingRef Humidity, ReadingRef? Surface, MouldGround Ground) : DerivedFrom;

/// <summary>Conductivity of water as it would be at 25 °C, in the unit of the reading.</summary>
/// <param name="PercentPerKelvin">How much it rises with temperature, % a °C.</param>
public sealed record ConductivityAt25Of(ReadingRef Conductivity, ReadingRef Temperature, double PercentPerKelvin = 1.91) : DerivedFrom;

/// <summary>Dissolved solids, mg/L.</summary>
/// <param name="Factor">mg/L for each µS/cm at 25 °C, 0.5 to 0.7.</param>
public sealed record DissolvedSolidsOf(ReadingRef Conductivity, ReadingRef Temperature, double PercentPerKelvin = 1.91, double Factor = 0.64) : DerivedFrom;

/// <summary>What is told of a vessel.</summary>
public enum VesselMeasure
{
    /// <summary>Height of what is in it, cm.</summary>
    Level,

    /// <summary>Volume, L.</summary>
    Litres,

    /// <summary>Fullness, %.</summary>
    Share,
}

/// <summary>Level (cm), volume (L) or fullness (%) of a vessel from a distance or a height.</summary>
public sealed record VesselOf(VesselTile Vessel, VesselMeasure Measure) : DerivedFrom;

/// <summary>How fast a reading rises, in its unit an hour: the least-squares line over the last <paramref name="WithinMs"/>.</summary>
/// <param name="Pulses">For a counter of pulses, what they stand for; null for the rise of the reading itself, an hour.</param>
public sealed record RateOf(ReadingRef Reading, long WithinMs, PulsesDesign? Pulses = null) : DerivedFrom;

/// <summary>What pulses stand for: a flow meter gives 450 a litre, an engine one for each magnet, an energy meter 1000 a kilowatt hour.</summary>
public enum PulsesOf
{
    /// <summary>A litre: L/min.</summary>
    Litre,

    /// <summary>A turn: turns a minute.</summary>
    Revolution,

    /// <summary>A kilowatt hour: kW.</summary>
    KilowattHour,

    /// <summary>A millimetre of rain: mm/h.</summary>
    MillimetreOfRain,
}

/// <param name="Each">Pulses for one of <paramref name="Of"/>.</param>
public sealed record PulsesDesign(PulsesOf Of, double Each);

/// <summary>Hours that a reading was above a value, in all.</summary>
public sealed record RunningHoursOf(ReadingRef Reading, double Above = 0) : DerivedFrom;

/// <summary>Kelvin below (heating) or above (cooling) a base, times days, in all.</summary>
public sealed record DegreeDaysOf(ReadingRef Temperature, double BaseCelsius, LimitSide Side) : DerivedFrom;

/// <summary>A reading times a factor, as a part of a sum; −1 makes a difference.</summary>
public sealed record SumTerm(ReadingRef Reading, double Factor);

/// <summary>A sum of readings, in the unit of the first.</summary>
public sealed record SumOf(IReadOnlyList<SumTerm> Terms, double Plus = 0) : DerivedFrom;

/// <summary>Presence from several sensors: on with the first, off when all have been quiet for <paramref name="HoldMs"/>.</summary>
public sealed record PresenceOf(IReadOnlyList<ReadingRef> Of, long HoldMs) : DerivedFrom;

/// <summary>Messages of a node that were lost, % of those it sent within the last <paramref name="WithinMs"/>.</summary>
public sealed record LostShareOf(string Node, long WithinMs) : DerivedFrom;

/// <summary>Days left on the cells of a node.</summary>
public sealed record DaysLeftOf(string Node) : DerivedFrom;

/// <summary>Adds a reading that is worked out, or changes how the one with its key is.</summary>
public sealed record PutDerived(DerivedDesign Derived) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "derived:" + Derived?.Key;
}

/// <summary>Removes a computed reading.</summary>
public sealed record RemoveDerived(string Key) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "derived:" + Key;
}
