using System.Numerics;

namespace Cenotic.Core.Electrical;

/// <summary>What a building material does to a wave: permittivity a · f^b and conductivity c · f^d S/m, f in GHz.</summary>
public sealed record BuildingMaterial(double A, double B, double C, double D)
{
    // ITU-R P.2040-1 (2015), table of material properties. Given for 1 GHz and up; below, it is an extrapolation.

    /// <summary>Concrete.</summary>
    public static readonly BuildingMaterial Concrete = new(5.31, 0, 0.0326, 0.8095);

    /// <summary>Brick.</summary>
    public static readonly BuildingMaterial Brick = new(3.75, 0, 0.038, 0);

    /// <summary>Plasterboard.</summary>
    public static readonly BuildingMaterial Plasterboard = new(2.94, 0, 0.0116, 0.7076);

    /// <summary>Wood.</summary>
    public static readonly BuildingMaterial Wood = new(1.99, 0, 0.0047, 1.0718);

    /// <summary>Glass.</summary>
    public static readonly BuildingMaterial Glass = new(6.27, 0, 0.0043, 1.1925);

    /// <summary>Chipboard.</summary>
    public static readonly BuildingMaterial Chipboard = new(2.58, 0, 0.0217, 0.7800);
}

/// <summary>Loss through a slab of one material. Source: ITU-R P.2040-1, single-layer slab.</summary>
public static class WallLoss
{
    private const double LightMetresPerSecond = 299_792_458,
        Spread = 0.2;
    private const int Steps = 40;

    /// <summary>Through a slab of just this thickness, dB; it ripples with the thickness where the slab is thin.</summary>
    /// <param name="metres">Thickness, m.</param>
    /// <param name="megahertz">Above 0.</param>
    /// <param name="degrees">Between the ray and the straight way through, 0 to below 90.</param>
    /// <exception cref="ArgumentOutOfRangeException">A frequency not above 0, a thickness below 0, or an angle outside 0 to below 90.</exception>
    public static double SlabDb(BuildingMaterial material, double metres, double megahertz, double degrees = 0)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(megahertz);
        ArgumentOutOfRangeException.ThrowIfNegative(metres);
        ArgumentOutOfRangeException.ThrowIfNegative(degrees);
        ArgumentOutOfRangeException.ThrowIfGreaterThanOrEqual(degrees, 90);
        var gigahertz = megahertz / 1000;
        var conductivity = material.C * Math.Pow(gigahertz, material.D);
        var eta = new Complex(material.A * Math.Pow(gigahertz, material.B), -17.98 * conductivity / gigahertz);
        var (sine, cosine) = Math.SinCos(degrees * Math.PI / 180);
        var root = Complex.Sqrt(eta - sine * sine);
        var reflected = (cosine - root) / (cosine + root);
        var phase = 2 * Math.PI * metres * megahertz * 1e6 / LightMetresPerSecond * root;
        var through = Complex.Exp(-Complex.ImaginaryOne * phase);
        var passed = (1 - reflected * reflected) * through / (1 - reflected * reflected * through * through);
        return -20 * Math.Log10(passed.Magnitude);
    }

    /// <summary>Through a wall whose thickness nobody knows to the millimetre, dB: what passes on average over ±20 % of it, and how far
    /// the ripple goes.</summary>
    public static (double Low, double Mean, double High) Db(BuildingMaterial material, double metres, double megahertz, double degrees = 0)
    {
        var losses = Enumerable.Range(0, Steps + 1).Select(i => SlabDb(material, metres * (1 - Spread + 2 * Spread * i / Steps), megahertz, degrees)).ToList();
        return (losses.Min(), -10 * Math.Log10(losses.Average(l => Math.Pow(10, -l / 10))), losses.Max());
    }
}
