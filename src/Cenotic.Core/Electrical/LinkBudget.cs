using MathNet.Numerics.Distributions;
using MathNet.Numerics.Integration;

namespace Cenotic.Core.Electrical;

/// <summary>What the tries of a message bring, on average over places.</summary>
/// <param name="Single">Part of single transmissions that arrive.</param>
/// <param name="Delivered">Part of messages that arrive.</param>
/// <param name="Acknowledged">Part of messages of which the sender knows so.</param>
/// <param name="Tries">Transmissions of a message.</param>
public readonly record struct Exchange(double Single, double Delivered, double Acknowledged, double Tries);

/// <summary>From received power to delivered messages: sensitivity, shadowing that stays at a place, and fading from one try to the next.</summary>
public static class LinkBudget
{
    private const double ThermalDbmPerHertz = -174;

    /// <summary>Places by how far they lie from the middle, in sigmas, and what part of all places each stands for. Beyond six sigma lies less than a part in a
    /// thousand million.</summary>
    private static readonly (double Shadow, double Weight)[] Places = [.. PlacesOf(new(-6, 6, 128))];

    private static IEnumerable<(double Shadow, double Weight)> PlacesOf(GaussLegendreRule rule) =>
        rule.Abscissas.Zip(rule.Weights, (z, weight) => (z, weight * Normal.PDF(0, 1, z)));

    /// <summary>SNR that LoRa wants at each spreading factor from 6 to 12, dB. Source: SX1276/77/78/79 data sheet.</summary>
    private static readonly double[] LoraSnr = [-5, -7.5, -10, -12.5, -15, -17.5, -20];

    /// <summary>Weakest signal that is understood, dBm: thermal noise, noise figure and the SNR that is wanted. Source: thermal noise at 290 K.</summary>
    /// <param name="hertz">Bandwidth, Hz, above 0.</param>
    /// <param name="noiseFigureDb">Of the receiver; 6 dB is usual of small modules.</param>
    public static double SensitivityDbm(double hertz, double noiseFigureDb, double snrDb)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(hertz);
        return ThermalDbmPerHertz + 10 * Math.Log10(hertz) + noiseFigureDb + snrDb;
    }

    /// <summary>Of LoRa, dBm. Source: AN1200.13; SNR of the SX1276/77/78/79 data sheet.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A spreading factor outside 6 to 12.</exception>
    public static double LoraSensitivityDbm(int spreadingFactor, double bandwidthKilohertz, double noiseFigureDb = 6)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(spreadingFactor, 6);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(spreadingFactor, 12);
        return SensitivityDbm(bandwidthKilohertz * 1000, noiseFigureDb, LoraSnr[spreadingFactor - 6]);
    }

    /// <summary>Chance that a place lies above the threshold: shadowing is normal in dB. Source: log-normal shadowing (Rappaport).</summary>
    /// <param name="sigmaDb">Spread from place to place, dB, above 0.</param>
    public static double PlacesHeard(double marginDb, double sigmaDb) => Normal.CDF(0, sigmaDb, marginDb);

    /// <summary>Margin with which a part of the places is heard, dB.</summary>
    /// <param name="part">Between 0 and 1.</param>
    public static double MarginFor(double part, double sigmaDb) => Normal.InvCDF(0, sigmaDb, part);

    /// <summary>Part of single tries that arrive at one place where the way is blocked: each try draws a power that is exponential about its mean.
    /// Source: Rayleigh fading.</summary>
    /// <param name="marginDb">Mean power above sensitivity at this place, dB.</param>
    public static double OneTry(double marginDb) => Math.Exp(-Power(marginDb));

    /// <summary>A power so far below another, as a part of it.</summary>
    private static double Power(double belowDb) => Math.Exp(-belowDb * Math.Log(10) / 10);

    /// <summary>Chance that none of so many tries arrives, of which each does with a chance.</summary>
    private static double Missed(double chance, int tries)
    {
        var (missed, one) = (1.0, 1 - chance);
        for (var left = tries; left > 0; left >>= 1, one *= one)
        {
            missed *= (left & 1) == 1 ? one : 1;
        }
        return missed;
    }

    /// <summary>A message that is sent until its answer comes, at most so often. What shadows a place stays from try to try and is the same there and back,
    /// so tries do not help there: all is a mean over places. Fading there and back is taken as independent, which is on the careful side.</summary>
    /// <param name="marginDb">Planned margin on the way there, dB.</param>
    /// <param name="backDb">Of the answer, dB; null for a message without one: it is sent as often as it may be.</param>
    /// <param name="sigmaDb">Spread from place to place, dB; 0 for a place that is known.</param>
    /// <param name="tries">1 or more.</param>
    /// <param name="listens">Part of the time that the receiver listens on the channel, above 0 and up to 1.</param>
    public static Exchange Exchange(double marginDb, double? backDb, double sigmaDb, int tries, double listens = 1)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(listens);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(listens, 1);
        ArgumentOutOfRangeException.ThrowIfNegative(sigmaDb);
        ArgumentOutOfRangeException.ThrowIfLessThan(tries, 1);
        // Of the mean power at a place: what is asked of it in the middle, times what shadows this place. Plans ask this very often.
        var (askedThere, askedBack) = (Power(marginDb), backDb is { } back ? Power(back) : 0);
        var (single, delivered, acknowledged, sent) = (0.0, 0.0, 0.0, 0.0);
        foreach (var (shadow, weight) in sigmaDb == 0 ? [(0.0, 1.0)] : Places)
        {
            var shadowed = Power(shadow * sigmaDb);
            var there = listens * Math.Exp(-askedThere * shadowed);
            var both = there * Math.Exp(-askedBack * shadowed);
            var known = 1 - Missed(both, tries);
            single += weight * there;
            delivered += weight * (1 - Missed(there, tries));
            acknowledged += weight * known;
            sent += weight * (backDb is null || both < 1e-9 ? tries : known / both);
        }
        return new(single, delivered, backDb is null ? 0 : acknowledged, sent);
    }
}
