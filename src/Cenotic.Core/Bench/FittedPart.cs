using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Bench;

/// <summary>The part that a maker has in hand: the catalogue's, with what differs.</summary>
internal static class FittedPart
{
    /// <summary>What a resistive sensor may draw, mA: more warms it, and drains cells. Planning value.</summary>
    private const double MostSensorMilliamps = 15;

    /// <summary>The part with its variant.</summary>
    /// <param name="logicVolts">What its divider hangs on, volts.</param>
    internal static Part Of(Part part, PartInstance instance, double logicVolts)
    {
        if (instance.Variant is not { } variant)
        {
            return part;
        }
        var fitted = part with
        {
            Interfaces = [.. part.Interfaces.Select(i => i.Resistive is null ? i : i with { Resistive = Resistive(part, i.Resistive, variant, logicVolts) })],
            SleepMicroamps = Scaled(part, part.SleepMicroamps, variant),
            ActiveMilliamps = Scaled(part, part.ActiveMilliamps, variant),
            PeakMilliamps = Scaled(part, part.PeakMilliamps, variant),
        };
        var resistive = fitted.Interfaces.Select(i => i.Resistive).OfType<ResistiveFacts>().FirstOrDefault();
        return resistive is null || part.Interfaces.Any(i => i.Resistive == resistive) ? fitted : WithCurrents(fitted, resistive, logicVolts);
    }

    /// <summary>What the divider takes: always, unless its supply is switched.</summary>
    private static Part WithCurrents(Part part, ResistiveFacts sensor, double logicVolts)
    {
        var (least, most) = (logicVolts / (sensor.ReferenceOhms + sensor.HighOhms) * 1000, logicVolts / (sensor.ReferenceOhms + sensor.LowOhms) * 1000);
        var milliamps = new Fact(least, null, most, "logic supply over reference and sensor, Ohm's law", Confidence.Typical);
        return part with { ActiveMilliamps = milliamps, SleepMicroamps = milliamps.Times(1000), PeakMilliamps = null };
    }

    private static Fact? Scaled(Part part, Fact? current, PartVariant variant) =>
        current is not null && part.Leds is { } usual && variant.Leds is { } leds ? current.Times((double)leds / usual) : current;

    private static ResistiveFacts Resistive(Part part, ResistiveFacts usual, PartVariant variant, double logicVolts)
    {
        var (nominal, beta) = (variant.NominalOhms ?? usual.NominalOhms, variant.Beta ?? usual.Beta);
        var (low, high) = (variant.LowOhms ?? usual.LowOhms, variant.HighOhms ?? usual.HighOhms);
        if (usual.Law == ResistanceLaw.Beta && part.Quantities[0] is { Min: { } coldest, Max: { } hottest })
        {
            (low, high) = (Thermistor.Ohms(nominal!.Value, beta!.Value, hottest), Thermistor.Ohms(nominal.Value, beta.Value, coldest));
        }
        if ((low, high) == (usual.LowOhms, usual.HighOhms))
        {
            return usual;
        }
        return usual with
        {
            LowOhms = low,
            HighOhms = high,
            NominalOhms = nominal,
            Beta = beta,
            ReferenceOhms = Reference(usual.Law, low, high, nominal, logicVolts),
        };
    }

    /// <summary>The reference that makes most of the converter: between the ends of a straight sensor,
    /// that of 25 °C for a thermistor; not below what the current allows.</summary>
    private static double Reference(ResistanceLaw law, double low, double high, double? nominal, double logicVolts)
    {
        var middle = law == ResistanceLaw.Beta ? nominal!.Value : Math.Sqrt(low * high);
        return PreferredValues.NextUp(Math.Max(middle * 0.9, logicVolts / MostSensorMilliamps * 1000 - low), PreferredValues.E12);
    }
}
