using System.Globalization;
using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Reach;

/// <summary>What the law of a region allows in a band. Values are data: Catalogue/Law.</summary>
/// <param name="MostDbm">Highest power with the antenna, dBm.</param>
/// <param name="DutyPercent">Highest part of an hour on the air, %; null for no limit.</param>
/// <param name="LeastKilohertz">It holds for signals at least so wide; null for any.</param>
/// <param name="LongestMs">Longest time on the air at a stretch, ms; null for no limit.</param>
/// <param name="BelowKilohertz">It holds for signals that are narrower; null for any.</param>
/// <param name="LeastChannels">It holds for radios that hop over at least so many channels, each in its turn; null for any.</param>
public sealed record LawBand(
    double LowMegahertz,
    double HighMegahertz,
    double MostDbm,
    PowerReference Power,
    double? DutyPercent,
    double? LeastKilohertz,
    string What,
    string Source,
    double? LongestMs = null,
    double? BelowKilohertz = null,
    int? LeastChannels = null
)
{
    /// <summary>A dipole has this gain: e.r.p. is e.i.r.p. less it. Source: half-wave dipole; ITU Radio Regulations 1.161 and 1.162.</summary>
    internal const double DipoleDbi = 2.15;

    /// <summary>The limit as e.i.r.p., dBm.</summary>
    internal double MostIsotropicDbm => MostDbm + (Power == PowerReference.Effective ? DipoleDbi : 0);

    /// <summary>Name of what the limit is measured in.</summary>
    internal string PowerUnit => Power == PowerReference.Effective ? "dBm e.r.p." : "dBm e.i.r.p.";

    /// <summary>Whether a signal lies wholly in the band, and is as wide and as spread over channels as it is for.</summary>
    /// <param name="channels">Channels side by side, about the frequency, that it hops over.</param>
    internal bool Holds(double megahertz, double kilohertz, int channels = 1) =>
        megahertz - channels * kilohertz / 2000 >= LowMegahertz - 1e-9
        && megahertz + channels * kilohertz / 2000 <= HighMegahertz + 1e-9
        && kilohertz >= (LeastKilohertz ?? 0)
        && kilohertz < (BelowKilohertz ?? double.PositiveInfinity)
        && channels >= (LeastChannels ?? 1);

    /// <summary>Whether it is for a radio as it is set.</summary>
    internal bool Holds(Catalogue.RadioModem modem) =>
        modem.Megahertz is { } megahertz && Holds(megahertz, LawPlanner.Kilohertz(modem), modem.HopChannels ?? 1);
}

/// <summary>Bands by region. The maker says the region; the law of the place comes first.</summary>
public static class RadioLaw
{
    private static readonly IReadOnlyDictionary<RadioRegion, IReadOnlyList<LawBand>> Regions = new Dictionary<RadioRegion, IReadOnlyList<LawBand>>
    {
        [RadioRegion.Europe868] = Read("europe868"),
        [RadioRegion.America915] = Read("america915"),
    };

    /// <summary>The bands of the region of a site; none while it is not said.</summary>
    public static IReadOnlyList<LawBand> Of(SiteSettings settings) =>
        settings.Region == RadioRegion.Own ? [.. (settings.OwnBands ?? []).Select(Typed)] : Regions.GetValueOrDefault(settings.Region, []);

    private static LawBand Typed(OwnBand band) =>
        new(
            band.LowMegahertz,
            band.HighMegahertz,
            band.MostDbm,
            band.Power,
            band.DutyPercent,
            LeastKilohertz: null,
            string.Create(CultureInfo.InvariantCulture, $"{band.LowMegahertz:0.###} to {band.HighMegahertz:0.###} MHz"),
            band.Source.Length > 0 ? $"typed at Place: {band.Source}" : "typed at Place",
            band.LongestMs
        );

    private static IReadOnlyList<LawBand> Read(string region)
    {
        using var stream = typeof(RadioLaw).Assembly.GetManifestResourceStream($"law/{region}.json")!;
        return JsonSerializer.Deserialize<IReadOnlyList<LawBand>>(stream, CenoticJson.Options)!;
    }
}
