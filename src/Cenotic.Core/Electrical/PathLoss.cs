namespace Cenotic.Core.Electrical;

/// <summary>What a radio signal loses on its way, dB: the terms that a link is added up from.</summary>
public static class PathLoss
{
    private const double LightMetresPerSecond = 299_792_458;

    /// <summary>Free space, dB. Source: ITU-R P.525.</summary>
    /// <param name="megahertz">Above 0.</param>
    /// <param name="metres">Between the antennas; nearer than a tenth of a metre counts as that.</param>
    /// <exception cref="ArgumentOutOfRangeException">A frequency not above 0, or a distance below 0.</exception>
    public static double FreeSpaceDb(double megahertz, double metres)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(megahertz);
        ArgumentOutOfRangeException.ThrowIfNegative(metres);
        return 20 * Math.Log10(4 * Math.PI * Math.Max(0.1, metres) * megahertz * 1e6 / LightMetresPerSecond);
    }

    /// <summary>Log-distance: a known loss at a distance, and an exponent from there on, dB. Source: log-distance model (Rappaport).</summary>
    /// <param name="referenceDb">Loss at <paramref name="referenceMetres"/>, dB.</param>
    /// <param name="exponent">2 in free space and in an open room, 2.7 to 4 where walls stand that are not drawn.</param>
    public static double LogDistanceDb(double referenceDb, double referenceMetres, double exponent, double metres) =>
        referenceDb + 10 * exponent * Math.Log10(metres / referenceMetres);

    /// <summary>Floors of a house, dB: each further one costs less. Source: COST 231 final report, 4.7; published for 1800 MHz.</summary>
    /// <param name="floors">Floors that the line goes through, 0 or more.</param>
    public static double FloorsDb(int floors)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(floors);
        return floors == 0 ? 0 : 18.3 * Math.Pow(floors, (floors + 2.0) / (floors + 1) - 0.46);
    }

    /// <summary>Indoors without a plan, dB. Source: ITU-R P.1238, older editions (-7, -8).</summary>
    /// <param name="metres">Above 1.</param>
    /// <param name="coefficient">28 in a home at 1.8 to 2.4 GHz, 33 in an office at 900 MHz.</param>
    /// <param name="floorsDb">Loss of the floors between, dB.</param>
    public static double IndoorDb(double megahertz, double metres, double coefficient, double floorsDb) =>
        20 * Math.Log10(megahertz) + coefficient * Math.Log10(metres) + floorsDb - 28;

    /// <summary>Where the wave that is thrown back by the ground begins to take the direct one away, m: 4 · ht · hr / wavelength.</summary>
    public static double BreakPointMetres(double megahertz, double senderHeight, double receiverHeight) =>
        4 * senderHeight * receiverHeight * megahertz * 1e6 / LightMetresPerSecond;

    /// <summary>Outdoors over flat ground, dB: free space up to the break point, 40 log10 of the distance beyond. Source: two-ray model (Rappaport).</summary>
    /// <param name="senderHeight">Above the ground, m.</param>
    /// <param name="receiverHeight">Above the ground, m.</param>
    public static double OverGroundDb(double megahertz, double metres, double senderHeight, double receiverHeight) =>
        metres <= BreakPointMetres(megahertz, senderHeight, receiverHeight)
            ? FreeSpaceDb(megahertz, metres)
            : Math.Max(FreeSpaceDb(megahertz, metres), 40 * Math.Log10(metres) - 20 * Math.Log10(senderHeight * receiverHeight));

    /// <summary>Trees in leaf, dB. Source: Weissberger's modified exponential decay model; good for 0.23 to 95 GHz.</summary>
    /// <param name="metres">Depth of the foliage, 0 to 400 m; more counts as that.</param>
    public static double FoliageDb(double megahertz, double metres) =>
        Math.Min(400, metres) is var depth && depth <= 14
            ? 0.45 * Math.Pow(megahertz / 1000, 0.284) * depth
            : 1.33 * Math.Pow(megahertz / 1000, 0.284) * Math.Pow(depth, 0.588);

    /// <summary>Radius of the first Fresnel zone in the middle of a link, m: what must be clear for free space to hold.</summary>
    public static double FresnelRadiusMetres(double megahertz, double metres) => 0.5 * Math.Sqrt(LightMetresPerSecond / (megahertz * 1e6) * metres);
}
