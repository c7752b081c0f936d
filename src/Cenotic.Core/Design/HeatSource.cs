namespace Cenotic.Core.Design;

/// <summary>What warms, cools or moves the air at a place.</summary>
public enum HeatSourceKind
{
    /// <summary>A radiator, stove or boiler.</summary>
    Heater,

    /// <summary>A fan, a vent or the outlet of an air conditioner.</summary>
    Vent,
}

/// <summary>A heater or a vent on the plan: a motion sensor that works by heat should not look at it, and no thermometer hang beside it.</summary>
/// <param name="X">Of its middle, m.</param>
/// <param name="Y">Of its middle, m.</param>
/// <param name="Floor">Key of its floor; null for the ground.</param>
public sealed record HeatSource(string Key, string Label, HeatSourceKind Kind, double X, double Y, string? Floor = null);
