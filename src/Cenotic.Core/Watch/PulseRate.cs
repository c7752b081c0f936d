using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>Flow, speed, power and rain from a counter of pulses.</summary>
internal static class PulseRate
{
    private const double MinuteMs = 60_000,
        HourMs = 3_600_000;

    /// <summary>The unit that such a rate has.</summary>
    internal static string Unit(PulsesOf of) =>
        of switch
        {
            PulsesOf.Litre => "L/min",
            PulsesOf.Revolution => "1/min",
            PulsesOf.KilowattHour => "kW",
            _ => "mm/h",
        };

    /// <summary>Pulses between the first and the last count over the time between them; null before half of the stretch is seen.</summary>
    /// <param name="counts">Counts of the stretch, the oldest first.</param>
    internal static double? Of(IReadOnlyList<TimedValue> counts, long withinMs, PulsesDesign pulses)
    {
        if (counts.Count < 2 || counts[^1].T - counts[0].T < withinMs / 2.0)
        {
            return null;
        }
        var per = pulses.Of is PulsesOf.Litre or PulsesOf.Revolution ? MinuteMs : HourMs;
        return (counts[^1].V - counts[0].V) / pulses.Each * per / (counts[^1].T - counts[0].T);
    }
}
