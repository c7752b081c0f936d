namespace Cenotic.Core.Electrical;

/// <summary>A strictly periodic send: on the air in [o + kT, o + kT + d) for every whole k. All in one whole unit.</summary>
public readonly record struct PeriodicSend(long Period, long Offset, long Duration);

/// <summary>Whether strictly periodic sends ever meet. Source: Korst, Aarts, Lenstra, Wessels 1991, from memory; checked by brute force in the tests.</summary>
public static class PeriodicSends
{
    /// <summary>True when two sends never overlap: with g the greatest common divisor of the periods, da ≤ (ob − oa) mod g ≤ g − db.</summary>
    public static bool Clear(PeriodicSend a, PeriodicSend b)
    {
        var g = Gcd(a.Period, b.Period);
        var between = Mod(b.Offset - a.Offset, g);
        return a.Duration <= between && between <= g - b.Duration;
    }

    /// <summary>True when none overlaps itself or another.</summary>
    public static bool Clear(IReadOnlyList<PeriodicSend> sends)
    {
        for (var i = 0; i < sends.Count; i++)
        {
            if (sends[i].Duration > sends[i].Period)
            {
                return false;
            }
            for (var j = 0; j < i; j++)
            {
                if (!Clear(sends[j], sends[i]))
                {
                    return false;
                }
            }
        }
        return true;
    }

    /// <summary>How much of their common period two sends are on the air together, as a part of time:
    /// the overlap over one greatest common divisor, spread evenly.</summary>
    public static double Overlap(PeriodicSend a, PeriodicSend b)
    {
        // Over the hyperperiod every difference of phases that is equal modulo g comes up once: g differences spaced g apart over lcm.
        var g = Gcd(a.Period, b.Period);
        var between = Mod(b.Offset - a.Offset, g);
        double sum = 0;
        for (var d = between - g * (1 + a.Duration / g + b.Duration / g); d < a.Duration; d += g)
        {
            sum += Math.Max(0, Math.Min(a.Duration, d + b.Duration) - Math.Max(0, d));
        }
        return sum / ((double)a.Period / g * b.Period);
    }

    /// <summary>Part of the sends of <paramref name="b"/> that meet one of <paramref name="a"/>, 0 to 1.</summary>
    public static double Meeting(PeriodicSend a, PeriodicSend b)
    {
        // A send of b starts at r, r + g, r + 2g … within the period of a, each equally often.
        var g = Gcd(a.Period, b.Period);
        var r = Mod(b.Offset - a.Offset, g);
        var first = -((b.Duration - 1 + r) / g);
        var last = a.Duration - 1 - r >= 0 ? (a.Duration - 1 - r) / g : -1;
        return Math.Clamp((double)(last - first + 1) / (a.Period / g), 0, 1);
    }

    /// <summary>Greatest common divisor of two numbers above 0.</summary>
    public static long Gcd(long a, long b) => b == 0 ? a : Gcd(b, a % b);

    /// <summary>The remainder that is not negative.</summary>
    public static long Mod(long value, long by) => (value % by + by) % by;
}
