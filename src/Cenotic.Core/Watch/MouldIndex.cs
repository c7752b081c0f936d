using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>What a surface remembers of the damp it saw.</summary>
/// <param name="Index">0 (none) to 6 (covered).</param>
/// <param name="DryHours">Hours since it was last damp enough to grow; 0 while it is.</param>
public readonly record struct MouldState(double Index, double DryHours);

/// <summary>
/// Mould on a surface from its temperature and humidity over time. Source: Hukka and Viitanen, A mathematical model of mould growth on wooden material, Wood
/// Science and Technology 33, 1999 (pine sapwood, sawn surface); for stone, plaster and painted board the class
/// "medium resistant" of Ojanen et al., Buildings XI, 2010. Coefficients from memory.
/// </summary>
public static class MouldIndex
{
    /// <summary>What a ground is to mould: growth against pine below and above index 1 (null: by the weeks of pine), the most that grows, <c>A + B·d − C·d²</c>
    /// of how far the humidity is beyond the critical, the least critical humidity, %, and how fast it declines when it dries, against pine.</summary>
    private static (double Below, double? Above, double A, double B, double C, double Least, double Declines) Of(MouldGround ground) =>
        ground == MouldGround.Wood ? (1, null, 1, 7, 2, 80, 1) : (0.072, 0.097, 0, 5, 1.5, 85, RelativelyLowDecline);

    /// <summary>Decline class "relatively low" of Ojanen et al. 2010, that of concrete and plaster, against pine (from memory).</summary>
    private const double RelativelyLowDecline = 0.25;

    private const double Warmest = 50,
        HoursADay = 24,
        FastDry = 6,
        SlowDry = 24;

    /// <summary>Relative humidity at the surface, %: the water of the air over what saturates air as cold as the surface.</summary>
    public static double SurfacePercent(double celsius, double percent, double surfaceCelsius) =>
        Math.Min(100, percent * HumidAir.SaturationHectopascals(celsius) / HumidAir.SaturationHectopascals(surfaceCelsius));

    /// <summary>Relative humidity below which nothing grows, %: <c>−0.00267 T³ + 0.160 T² − 3.13 T +
    /// 100</c> up to 20 °C, and no less than 80 on wood or 85 on stone.</summary>
    public static double CriticalPercent(double celsius, MouldGround ground) =>
        celsius > 20 ? Of(ground).Least : Math.Max(Of(ground).Least, -0.00267 * celsius * celsius * celsius + 0.160 * celsius * celsius - 3.13 * celsius + 100);

    /// <summary>Weeks until the first growth can be seen under a microscope (index 1): <c>exp(−0.68 ln T − 13.9 ln U + 66.02)</c>.</summary>
    public static double WeeksToFirst(double celsius, double percent) => Math.Exp(-0.68 * Math.Log(celsius) - 13.9 * Math.Log(percent) + 66.02);

    /// <summary>Weeks until it can be seen with the bare eye (index 3): <c>exp(−0.74 ln T − 12.72 ln U + 61.50)</c>.</summary>
    public static double WeeksToSeen(double celsius, double percent) => Math.Exp(-0.74 * Math.Log(celsius) - 12.72 * Math.Log(percent) + 61.50);

    /// <summary>The surface after some hours of the same air.</summary>
    public static MouldState After(MouldState state, double celsius, double percent, double hours, MouldGround ground)
    {
        var critical = CriticalPercent(celsius, ground);
        if (celsius is <= 0 or > Warmest || percent < critical)
        {
            // It dries: fast for six hours, not at all up to a day, slowly after.
            var (from, to) = (state.DryHours, state.DryHours + hours);
            var loss =
                0.032 / HoursADay * (Math.Min(to, FastDry) - Math.Min(from, FastDry)) + 0.016 / HoursADay * (Math.Max(to, SlowDry) - Math.Max(from, SlowDry));
            return new(Math.Max(0, state.Index - loss * Of(ground).Declines), to);
        }
        var (below, above, a, b, c, _, _) = Of(ground);
        var beyond = (percent - critical) / (100 - critical);
        var most = Math.Max(0, a + b * beyond - c * beyond * beyond);
        var first = WeeksToFirst(celsius, percent);
        var growth = state.Index < 1 ? below : above ?? Math.Max(0, 2 / (WeeksToSeen(celsius, percent) / first - 1));
        var near = Math.Max(0, 1 - Math.Exp(2.3 * (state.Index - most)));
        return new(Math.Min(6, state.Index + growth * near * hours / HoursADay / 7 / first), 0);
    }
}
