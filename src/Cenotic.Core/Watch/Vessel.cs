using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>How full a vessel is.</summary>
/// <param name="Level">Height of the water, cm.</param>
/// <param name="Litres">Volume of the water.</param>
/// <param name="Share">Of the whole, 0..100 %.</param>
/// <param name="Capacity">Of the full vessel, litres.</param>
public sealed record VesselState(Figure Level, Figure Litres, Figure Share, double Capacity);

/// <summary>Level and volume of a vessel from a distance or a height. Pure.</summary>
public static class Vessel
{
    /// <summary>The state, or null when the reading's unit is no length.</summary>
    /// <param name="value">What the sensor says, in <paramref name="unit"/>.</param>
    /// <param name="error">Of the sensor, in the same unit; 0 for not known.</param>
    public static VesselState? Of(VesselTile vessel, double value, string unit, double error)
    {
        if (CentimetresIn(unit) is not { } factor)
        {
            return null;
        }
        var most = vessel.Shape == VesselShape.Lying ? vessel.WidthCm : vessel.HeightCm;
        double Level(double v) => Math.Clamp(vessel.Down ? vessel.SensorCm - v * factor : v * factor, 0, most);
        var (low, level, high) = (Level(value + (vessel.Down ? error : -error)), Level(value), Level(value + (vessel.Down ? -error : error)));
        var capacity = Litres(vessel, most);
        Working Worked(string formula, string source) =>
            new(
                formula,
                [
                    new("reading", value, unit, "sensor"),
                    .. vessel.Down ? new WorkingInput[] { new("sensor above the bottom", vessel.SensorCm, "cm", "view") } : [],
                    new("inner width", vessel.WidthCm, "cm", "view"),
                ],
                source
            );
        Figure Banded(string label, Func<double, double> of, string of_unit, string formula, string source) =>
            new(label, of(level), of(low), of(high), of_unit, Worked(formula, source));
        var shape = vessel.Shape switch
        {
            VesselShape.Lying => "segment of a circle · length",
            VesselShape.Box => "width · length · level",
            _ => "π · (width / 2)² · level",
        };
        return new(
            Banded("Level", l => l, "cm", vessel.Down ? "level = sensor above the bottom − distance" : "level = reading", "geometry"),
            Banded("Volume", l => Litres(vessel, l), "L", $"V = {shape}", "geometry: area of a circular segment, r² acos((r − h) / r) − (r − h) √(2rh − h²)"),
            Banded("Full", l => 100 * Litres(vessel, l) / capacity, "%", "share = volume / volume when full", "geometry"),
            capacity
        );
    }

    /// <summary>Volume up to a level, litres.</summary>
    /// <param name="levelCm">Height of the water, cm; bounded by the vessel.</param>
    public static double Litres(VesselTile vessel, double levelCm)
    {
        var r = vessel.WidthCm / 2;
        var h = Math.Clamp(levelCm, 0, vessel.Shape == VesselShape.Lying ? vessel.WidthCm : vessel.HeightCm);
        var cubicCentimetres = vessel.Shape switch
        {
            VesselShape.Upright => Math.PI * r * r * h,
            VesselShape.Box => vessel.WidthCm * vessel.LengthCm * h,
            _ => (r * r * Math.Acos((r - h) / r) - (r - h) * Math.Sqrt(Math.Max(0, 2 * r * h - h * h))) * vessel.LengthCm,
        };
        return cubicCentimetres / 1000;
    }

    private static double? CentimetresIn(string unit) =>
        unit switch
        {
            "m" => 100,
            "cm" => 1,
            "mm" => 0.1,
            _ => null,
        };
}
