using System.Collections.Immutable;

namespace Cenotic.Core.Watch;

/// <summary>
/// How far a node's clock is ahead, estimated from the times it gives and the times its messages come, and how its times are to be corrected. A message is
/// corrected only when most before it say the same: one that waited in the node says less, and a clock that was set says something else for a while. Immutable.
/// </summary>
/// <param name="Recent">What the newest messages said, ms; the newest last.</param>
/// <param name="CorrectionMs">What is taken off the node's times; null while its clock is right or not known.</param>
public sealed record ClockOffset(ImmutableList<long> Recent, long? CorrectionMs)
{
    /// <summary>Nothing heard yet.</summary>
    public static readonly ClockOffset Unknown = new([], null);

    private const int Window = 9,
        Agreeing = 5;
    private const long BandMs = 5_000,
        WorthMs = 2_000,
        SteadyMs = 1_000;

    /// <summary>A clock with a correction that was found before, and goes on until messages say otherwise.</summary>
    public static ClockOffset Known(long correctionMs) => new([.. Enumerable.Repeat(correctionMs, Agreeing)], correctionMs);

    /// <summary>Takes what a message says: the newest time in it less the time it came, ms. Its way can
    /// only make this less, so of those that agree the greatest is nearest.</summary>
    /// <param name="speed">How many times faster than a clock time runs at the site (a demo): the way of a message takes that much more of it.</param>
    /// <returns>The estimate after it, and what to take off the times of this message; null to leave them.</returns>
    public (ClockOffset After, long? Correction) Take(long saysMs, double speed = 1)
    {
        var recent = (Recent.Count == Window ? Recent.RemoveAt(0) : Recent).Add(saysMs);
        var agree = recent.Where(r => Math.Abs(r - saysMs) <= BandMs * speed).ToList();
        if (agree.Count < Agreeing)
        {
            return (new(recent, CorrectionMs), null);
        }
        var ahead = agree.Max();
        long? correction =
            Math.Abs(ahead) < WorthMs * speed ? null
            : CorrectionMs is { } old && Math.Abs(old - ahead) <= SteadyMs * speed ? old
            : ahead;
        return (new(recent, correction), correction);
    }
}
