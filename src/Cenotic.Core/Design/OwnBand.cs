namespace Cenotic.Core.Design;

/// <summary>What a limit of power is measured against.</summary>
public enum PowerReference
{
    /// <summary>A dipole: e.r.p.</summary>
    Effective,

    /// <summary>An antenna that sends alike everywhere: e.i.r.p.</summary>
    Isotropic,
}

/// <summary>A band as the maker read it in the rules of their own country.</summary>
/// <param name="LowMegahertz">Where it begins.</param>
/// <param name="HighMegahertz">Where it ends.</param>
/// <param name="MostDbm">Highest power with the antenna, dBm.</param>
/// <param name="Power">What that power is measured against.</param>
/// <param name="DutyPercent">Highest part of an hour on the air, %; null for no limit.</param>
/// <param name="LongestMs">Longest time on the air at a stretch, ms: the dwell time; null for no limit.</param>
/// <param name="Source">Where that stands, such as the number of the rule.</param>
public sealed record OwnBand(
    double LowMegahertz,
    double HighMegahertz,
    double MostDbm,
    PowerReference Power,
    double? DutyPercent = null,
    double? LongestMs = null,
    string Source = ""
);
