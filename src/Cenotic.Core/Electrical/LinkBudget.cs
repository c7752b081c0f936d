using MathNet.Numerics.Distributions;
using MathNet.Numerics.Integration;

namespace Cenotic.Core.Electrical;

/// <summary>From received power to delivered messages: sensitivity, shadowing that stays at a place, and fading from one try to the next.</summary>
public static class LinkBudget
{
    private const double ThermalDbmPerHertz = -174;
    private const int Points = 128;

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
    public static double OneTry(double marginDb) => Math.Exp(-Math.Pow(10, -marginDb / 10));

    /// <summary>Part of messages that arrive in up to so many tries, over the places that the plan cannot tell apart. What shadows a place stays from try to
    /// try, so tries do not help there: it is the mean over places of 1 − (1 − p)^tries, not one minus a power of the mean.</summary>
    /// <param name="marginDb">Planned margin, dB.</param>
    /// <param name="sigmaDb">Spread from place to place, dB; 0 for a place that is known.</param>
    /// <param name="tries">1 or more.</param>
    public static double Delivered(double marginDb, double sigmaDb, int tries)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(sigmaDb);
        ArgumentOutOfRangeException.ThrowIfLessThan(tries, 1);
        double At(double margin) => 1 - Math.Pow(1 - OneTry(margin), tries);
        // Beyond six sigma lies less than a part in a thousand million.
        return sigmaDb == 0 ? At(marginDb) : GaussLegendreRule.Integrate(z => Normal.PDF(0, 1, z) * At(marginDb + z * sigmaDb), -6, 6, Points);
    }
}
