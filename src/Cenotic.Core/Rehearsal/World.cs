namespace Cenotic.Core.Rehearsal;

/// <summary>What a person at the control sheet does to the world around one node.</summary>
/// <param name="HeatCelsius">Added to its temperatures.</param>
/// <param name="TrippedUntil">Motion, presence and levels are on and contacts open until then, UTC ms.</param>
public sealed record WorldControl(double HeatCelsius, long TrippedUntil)
{
    /// <summary>Nothing is changed.</summary>
    public static readonly WorldControl Calm = new(0, 0);
}

/// <summary>
/// A small made-up world to rehearse in: a day's temperature, a drying cycle, showers into a cistern, people walking through. A pure function of the seed and
/// the time, so that any moment can be asked for in any order and comes out the same. Invented; not a model to design by.
/// </summary>
public static class World
{
    private const double DayMs = 86_400_000;

    /// <summary>The value of a quantity at a part of a node.</summary>
    /// <param name="t">UTC ms of site time.</param>
    public static double Value(int seed, string node, string part, string quantity, long t, WorldControl control)
    {
        var place = Hash(seed, node, part);
        var day = Math.Sin(2 * Math.PI * (t / DayMs - 0.375));
        return quantity switch
        {
            "temperature" => 19 + 3 * Unit(place) + 3.5 * day + 0.6 * Smooth(place, t, 1_800_000) + 0.05 * Noise(place, t) + control.HeatCelsius,
            "humidity" => Math.Clamp(58 - 9 * day + 4 * Smooth(place, t, 3_600_000) + 0.3 * Noise(place, t) - control.HeatCelsius, 5, 98),
            "pressure" => 1008 + 9 * Smooth(Hash(seed, "weather", ""), t, 43_200_000) + 0.05 * Noise(place, t),
            "illuminance" => Math.Max(0, 220 * (day + 0.2) + 25 * Smooth(place, t, 600_000)),
            "motion" => Walking(seed, node, t, 0) || t < control.TrippedUntil ? 1 : 0,
            "presence" => Walking(seed, node, t, PresenceHoldMs) || t < control.TrippedUntil ? 1 : 0,
            // Doors and windows are shut and floats hang down until somebody opens or fills.
            "contact" => t < control.TrippedUntil ? 0 : 1,
            "vibration" => t < control.TrippedUntil ? 1 : 0,
            "object-temperature" => Math.Round(24 + 90 * Firing(t) + 0.4 * Noise(place, t) + control.HeatCelsius, 1),
            "rain" => Math.Floor(Fallen(t)) * MillimetresATip,
            "level" => t < control.TrippedUntil ? 1 : 0,
            "distance" => Math.Round(Math.Clamp(0.9 + 0.35 * Smooth(Hash(seed, "rain", ""), t, 21_600_000) + 0.004 * Noise(place, t), 0.02, 4), 3),
            "pm25" or "pm10" or "pm1" => Math.Max(0, Math.Round(7 + 5 * Smooth(place, t, 3_600_000) + Noise(place, t))),
            "gas-resistance" => Math.Round(120_000 + 30_000 * Smooth(place, t, 7_200_000)),
            // Of a network in the house, dBm.
            "signal" => Math.Round(-52 - 14 * Unit(place) + 3 * Smooth(place, t, 20_000) + Noise(place, t)),
            _ => 0,
        };
    }

    /// <summary>Up to when a quantity surely stays as it is if nobody does anything: to the next step of who walks through; what is never still may change
    /// within a second, and what only people change never does.</summary>
    /// <returns>UTC ms, after <paramref name="t"/>.</returns>
    internal static long SteadyUntil(int seed, string node, string quantity, long t) =>
        quantity switch
        {
            "contact" or "vibration" or "level" => long.MaxValue,
            "motion" => NextStep(seed, node, t, 0),
            "presence" => NextStep(seed, node, t, PresenceHoldMs),
            _ => t + 1_000,
        };

    private const double MillimetresATip = 0.2794;

    /// <summary>A firing every third day: up over six hours, held for two, cooling over twelve; 0..1.</summary>
    private static double Firing(long t)
    {
        var hours = t / 3_600_000.0 % 72 - 30;
        return hours is < 0 or > 20 ? 0
            : hours < 6 ? hours / 6
            : hours < 8 ? 1
            : Math.Exp(-(hours - 8) / 3);
    }

    /// <summary>Tips of a rain gauge since long ago: it never falls, and rises in showers that come and go.</summary>
    private static double Fallen(long t)
    {
        var days = t / DayMs;
        // Its slope stays above zero: a rain gauge never counts backwards.
        return 14 * (days - 20_000) + 1.4 * Math.Sin(2 * Math.PI * days / 1.29) + 0.3 * Math.Sin(2 * Math.PI * days / 0.31);
    }

    private const long WalkSlotMs = 300_000,
        PresenceHoldMs = 40_000;
    private const int MostSlots = 1_000;

    /// <summary>True while somebody walks through: about eight times an hour by day, seldom at
    /// night, for up to a minute and <paramref name="holdMs"/> more.</summary>
    private static bool Walking(int seed, string node, long t, long holdMs)
    {
        for (var n = t / WalkSlotMs - 1; n <= t / WalkSlotMs; n++)
        {
            if (Walk(seed, node, n) is var (from, until) && t >= from && t < until + holdMs)
            {
                return true;
            }
        }
        return false;
    }

    /// <summary>When somebody comes or is gone next.</summary>
    private static long NextStep(int seed, string node, long t, long holdMs)
    {
        for (var n = t / WalkSlotMs - 1; n < t / WalkSlotMs + MostSlots; n++)
        {
            if (Walk(seed, node, n) is var (from, until) && until + holdMs > t)
            {
                return from > t ? from : until + holdMs;
            }
        }
        return (t / WalkSlotMs + MostSlots) * WalkSlotMs;
    }

    /// <summary>Who walks through in a stretch of five minutes, from when until when; null when nobody does.</summary>
    private static (long From, long Until)? Walk(int seed, string node, long n)
    {
        var hour = n * WalkSlotMs / 3_600_000 % 24;
        var likely = hour is >= 6 and < 23 ? 0.65 : 0.04;
        var dice = Hash(seed, node, $"walk{n}");
        var from = n * WalkSlotMs + (long)(Unit(dice) * 200_000);
        return Unit(dice >> 9) < likely ? (from, from + 8_000 + (long)(Unit(dice >> 20) * 52_000)) : null;
    }

    /// <summary>Smooth noise in -1..1 with knots every <paramref name="stepMs"/>.</summary>
    private static double Smooth(ulong place, long t, long stepMs)
    {
        var at = (double)t / stepMs;
        var knot = Math.Floor(at);
        var x = at - knot;
        var ease = x * x * (3 - 2 * x);
        return Signed(Mix(place + (ulong)(long)knot)) * (1 - ease) + Signed(Mix(place + (ulong)((long)knot + 1))) * ease;
    }

    private static double Noise(ulong place, long t) => Signed(Mix(place ^ (ulong)t * 0x9E3779B97F4A7C15));

    private static double Unit(ulong hash) => (hash >> 11 & 0xFFFFFFFF) / (double)0xFFFFFFFF;

    private static double Signed(ulong hash) => 2 * Unit(hash) - 1;

    private static ulong Hash(int seed, string a, string b)
    {
        var hash = 14695981039346656037UL ^ (uint)seed;
        foreach (var c in $"{a}\n{b}")
        {
            hash = (hash ^ c) * 1099511628211UL;
        }
        return Mix(hash);
    }

    private static ulong Mix(ulong z)
    {
        z = (z ^ z >> 30) * 0xBF58476D1CE4E5B9;
        z = (z ^ z >> 27) * 0x94D049BB133111EB;
        return z ^ z >> 31;
    }
}
