using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using NetTopologySuite.Geometries;
using Point = Cenotic.Core.Design.Point;

namespace Cenotic.Core.Place;

/// <summary>The way of the light from the emitter of a light barrier to its receiver.</summary>
internal static class LightBarriers
{
    /// <summary>As wide as it is drawn, m.</summary>
    private const double DrawnMetres = 0.06;

    /// <summary>Where the emitter of a light barrier hangs; null where that is not said, and for another part.</summary>
    internal static Spot? EmitterOf(PlaceDesign place, PartInstance instance, Part part) =>
        part.Quantities.Any(q => q.Quantity == "beam") ? place.Spot(instance.EmitterSpot) : null;

    /// <summary>From the emitter to the receiver, m.</summary>
    internal static double Metres(PlaceDesign place, Spot emitter, Spot receiver) => PlanGeometry.InSpace(place.At(emitter), place.At(receiver));

    /// <summary>The emitter brought to this part of its way from the receiver, to whole centimetres.</summary>
    internal static Spot Towards(Spot emitter, Spot receiver, double part)
    {
        double Between(double from, double to) => Math.Round(from + part * (to - from), 2);
        return emitter with
        {
            X = Between(receiver.X, emitter.X),
            Y = Between(receiver.Y, emitter.Y),
            HeightMetres = Between(receiver.HeightMetres, emitter.HeightMetres),
        };
    }

    /// <summary>Its area on the plan.</summary>
    internal static Geometry Area(Spot emitter, Spot receiver)
    {
        var (dx, dy) = (receiver.X - emitter.X, receiver.Y - emitter.Y);
        var length = Math.Sqrt(dx * dx + dy * dy);
        if (length == 0)
        {
            return Shapes.None;
        }
        var (ax, ay) = (DrawnMetres / 2 * -dy / length, DrawnMetres / 2 * dx / length);
        Point[] corners =
        [
            new(emitter.X + ax, emitter.Y + ay),
            new(receiver.X + ax, receiver.Y + ay),
            new(receiver.X - ax, receiver.Y - ay),
            new(emitter.X - ax, emitter.Y - ay),
        ];
        return Shapes.Inside(corners);
    }

    /// <summary>How far the light goes.</summary>
    internal static Figure Apart(PlaceDesign place, PartInstance instance, Spot emitter, Spot receiver) =>
        Figure.Exact(
            $"From the emitter of {instance.Label} to its receiver",
            Metres(place, emitter, receiver),
            Unit.Metre,
            new Working(
                "√((x1 − x2)² + (y1 − y2)² + (z1 − z2)²)",
                [
                    new("x1 − x2", emitter.X - receiver.X, Unit.Metre, "plan"),
                    new("y1 − y2", emitter.Y - receiver.Y, Unit.Metre, "plan"),
                    new("z1 − z2", place.At(emitter).Z - place.At(receiver).Z, Unit.Metre, "plan"),
                ],
                "geometry"
            )
        );
}
