using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>What a sensor sees by.</summary>
public enum SeesBy
{
    /// <summary>The heat of a moving body. Glass stops it.</summary>
    Infrared,

    /// <summary>Radio waves of 24 GHz and more, in one direction.</summary>
    Radar,

    /// <summary>Radio waves of a few GHz, all round.</summary>
    Microwave,

    /// <summary>Sound above hearing.</summary>
    Ultrasound,

    /// <summary>Light of its own.</summary>
    Light,
}

/// <summary>The field of view of a sensor.</summary>
/// <param name="HorizontalDegrees">From one side to the other, above 0 to 170 degrees; 360 for all round.</param>
/// <param name="VerticalDegrees">From top to bottom, above 0 to 170 degrees; 360 for all round.</param>
/// <param name="RangeMetres">How far it sees, m.</param>
/// <param name="ThroughLight">What is left of its range behind plasterboard, a timber wall or a closed door, 0 for nothing to 1 for all.</param>
/// <param name="ThroughGlass">The same behind a pane without coating.</param>
/// <param name="ThroughBrick">The same behind brick.</param>
/// <param name="Zones">Zones side by side into which its lens divides the view; null where it has none, or nobody knows.</param>
/// <param name="ApartMetres">How far it stays from another of its kind, m; null where they do not disturb each other.</param>
public sealed record FieldOfView(
    SeesBy By,
    double HorizontalDegrees,
    double VerticalDegrees,
    Fact RangeMetres,
    double ThroughLight = 0,
    double ThroughGlass = 0,
    double ThroughBrick = 0,
    double? ApartMetres = null,
    Fact? Zones = null
)
{
    /// <summary>Widest angle short of all round, degrees.</summary>
    public const double WidestDegrees = 170;

    /// <summary>All round, degrees.</summary>
    public const double AllRound = 360;
}
