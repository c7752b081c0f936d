using Cenotic.Core.Design;
using Cenotic.Core.Watch;

namespace Cenotic.Core.Alerts;

/// <summary>A sensor or an output that a zone may have.</summary>
/// <param name="Label">Its name and that of its node.</param>
/// <param name="Inverted">True for a sensor that rests on, such as a closed contact: it triggers when it goes off.</param>
public sealed record ZoneChoice(string Node, string Reading, string Label, bool Inverted = false);

/// <summary>What zones of a site may be made of.</summary>
/// <param name="Sensors">What triggers; also what may be the button.</param>
/// <param name="Outputs">What sounds, or lights in a test.</param>
/// <param name="Presences">What tells that nobody is there: a sensor, or several made one.</param>
public sealed record ZoneChoices(IReadOnlyList<ZoneChoice> Sensors, IReadOnlyList<ZoneChoice> Outputs, IReadOnlyList<ZoneChoice> Presences)
{
    /// <summary>Quantities that are on or off with a person, a door or water.</summary>
    private static readonly string[] Triggering = ["motion", "presence", "contact", "vibration", "level"];

    /// <summary>The choices of a site, in the order of its design.</summary>
    public static ZoneChoices Of(SiteDesign site)
    {
        var readings = site.Nodes.SelectMany(n => n.Readings.Select(r => (Node: n, Reading: r))).ToList();
        ZoneChoice Choice((NodeDesign Node, ReadingDesign Reading) r) =>
            new(r.Node.Key, r.Reading.Key, $"{r.Reading.Label} ({r.Node.Label})", EventLanes.RestsOn(r.Reading.Quantity));
        var sensors = readings.Where(r => Triggering.Contains(r.Reading.Quantity)).Select(Choice).ToList();
        return new(
            sensors,
            [.. readings.Where(r => r.Reading.Output is not null).Select(Choice)],
            [.. sensors, .. site.Derived.Where(d => d.From is PresenceOf).Select(d => new ZoneChoice(DerivedDesign.Node, d.Key, $"{d.Label} (worked out)"))]
        );
    }
}
