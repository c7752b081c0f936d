using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>Checks of zones before they are armed.</summary>
public static class ZoneFindings
{
    /// <summary>Findings of every zone of a site.</summary>
    /// <param name="waysOut">Ways that lead out of the house; null where that is not known.</param>
    public static IEnumerable<Finding> Of(SiteDesign site, IReadOnlyCollection<WayKind>? waysOut)
    {
        var telling = new TellFindings(site, waysOut);
        foreach (var zone in site.Zones)
        {
            var subject = new Subject("alerts", null, zone.Key);
            var gone = zone.Sensors.Where(s => site.Node(s.Node)?.Reading(s.Reading) is null).ToList();
            if (gone.Count > 0)
            {
                var left = zone.Sensors.Except(gone).ToList();
                yield return SensorGone(zone, subject, gone, left);
            }
            foreach (var sensor in zone.Sensors.Except(gone))
            {
                var reading = site.Node(sensor.Node)!.Reading(sensor.Reading)!;
                if (reading.LongestGapMs is null)
                {
                    yield return Unseen(zone, sensor, reading);
                }
            }
            if (zone.Sounders.Where(s => site.Node(s.Node)?.Reading(s.Output) is not { Output: not null }).ToList() is { Count: > 0 } silent)
            {
                yield return SounderGone(zone, subject, silent);
            }
            foreach (var finding in telling.Of(zone.Label, zone.Tell, zone.Sounders.Count > 0, subject, tell => new PutZone(zone with { Tell = tell })))
            {
                yield return finding;
            }
            if (zone.SoundOnceTold && zone.Tell is null && zone.Sounders.Count > 0)
            {
                yield return WaitsForNobody(zone, subject);
            }
            if (zone.Lamp is { } lamp && site.Node(lamp.Node)?.Reading(lamp.Output) is not { Output: not null })
            {
                yield return LampGone(zone, subject, lamp);
            }
            if (zone.Tell is null && zone.Sounders.Count == 0)
            {
                yield return TellsNobody(zone, subject);
            }
        }
    }

    private static Finding SensorGone(ZoneDesign zone, Subject subject, List<ZoneSensor> gone, List<ZoneSensor> left) =>
        new(
            "ZONE-SENSOR-GONE",
            Severity.Stop,
            subject,
            $"\"{zone.Label}\" watches {string.Join(", ", gone.Select(s => $"{s.Node}/{s.Reading}"))}, which is gone.",
            "It cannot trigger.",
            [left.Count > 0 ? new("Watch the others", [new PutZone(zone with { Sensors = left })]) : new("Remove the zone", [new RemoveZone(zone.Key)])],
            null,
            "design"
        );

    private static Finding Unseen(ZoneDesign zone, ZoneSensor sensor, ReadingDesign reading) =>
        new(
            "ZONE-UNSEEN",
            Severity.Risk,
            new("alerts", sensor.Node, zone.Key),
            $"{reading.Label} of \"{zone.Label}\" is only sent when it changes.",
            "Whoever cuts its supply or jams its radio is not noticed.",
            [new("Send it every 10 min all the same", [new PutReading(sensor.Node, reading with { HeartbeatMs = 600_000 })])],
            null,
            "design"
        );

    private static Finding SounderGone(ZoneDesign zone, Subject subject, List<ZoneSounder> silent) =>
        new(
            "ZONE-SOUNDER-GONE",
            Severity.Risk,
            subject,
            $"\"{zone.Label}\" sounds {string.Join(", ", silent.Select(s => $"{s.Node}/{s.Output}"))}, which is no output any more.",
            "It does not sound.",
            [new("Leave it out", [new PutZone(zone with { Sounders = [.. zone.Sounders.Except(silent)] })])],
            null,
            "design"
        );

    private static Finding WaitsForNobody(ZoneDesign zone, Subject subject) =>
        new(
            "ZONE-WAITS-FOR-NOBODY",
            Severity.Risk,
            subject,
            $"\"{zone.Label}\" sounds once somebody was told, and tells nobody.",
            $"It sounds {DurationText.Of(zone.SoundAfterMs)} after the alarm began.",
            [new("Sound at once", [new PutZone(zone with { SoundOnceTold = false, SoundAfterMs = 0 })])],
            null,
            "design"
        );

    private static Finding LampGone(ZoneDesign zone, Subject subject, ZoneSounder lamp) =>
        new(
            "ZONE-LAMP-GONE",
            Severity.Risk,
            subject,
            $"\"{zone.Label}\" lights {lamp.Node}/{lamp.Output} in a test, which is no output any more.",
            "A test shows its triggers on the page only.",
            [new("Leave it out", [new PutZone(zone with { Lamp = null })])],
            null,
            "design"
        );

    private static Finding TellsNobody(ZoneDesign zone, Subject subject) =>
        new(
            "ZONE-TELLS-NOBODY",
            Severity.Risk,
            subject,
            $"An alarm of \"{zone.Label}\" sounds nothing and tells nobody.",
            "Only pages that are open show it.",
            [],
            "Choose whom it tells, or what sounds.",
            "design"
        );
}
