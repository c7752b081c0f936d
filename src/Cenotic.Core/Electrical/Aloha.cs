namespace Cenotic.Core.Electrical;

/// <summary>Collisions of senders that do not listen before they send. Source: Abramson 1970;
/// geometric probability for periodic senders with random phases.</summary>
public static class Aloha
{
    /// <summary>Part of frames that get through at an offered load of G frames per frame time: e^(-2G).</summary>
    public static double Success(double load) => Math.Exp(-2 * load);

    /// <summary>Throughput at an offered load: G e^(-2G), at most 1/(2e).</summary>
    public static double Throughput(double load) => load * Success(load);

    /// <summary>Part of the frames of one periodic sender that meet no frame of the others, phases at random: Π (1 − (d + di) / Ti).</summary>
    /// <param name="airMs">Time on air of its own frame, ms.</param>
    /// <param name="others">Time on air and period of each other sender, ms.</param>
    /// <returns>0 to 1; 0 when another is always on the air.</returns>
    public static double Clear(double airMs, IEnumerable<(double AirMs, double PeriodMs)> others) =>
        others.Aggregate(1.0, (clear, other) => clear * Math.Max(0, 1 - (airMs + other.AirMs) / other.PeriodMs));
}
