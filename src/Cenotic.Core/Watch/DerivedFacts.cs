using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>What a reading that is worked out is: its unit and kind, its inputs, its formula.</summary>
public static class DerivedFacts
{
    /// <summary>What a reading measures, whether a part gives it or it is worked out; null where there is no such reading.</summary>
    public static PartQuantity? Quantity(SiteDesign site, HardwareCatalogue catalogue, ReadingRef reading) =>
        reading.Node == DerivedDesign.Node
            ? site.Derived.FirstOrDefault(d => d.Key == reading.Reading) is { } derived
                ? Quantity(site, catalogue, derived.From)
                : null
            : site.Node(reading.Node) is { } node && node.Reading(reading.Reading) is { } design && node.Part(design.Part) is { } part
                ? catalogue.Part(part.Part)?.Quantities.FirstOrDefault(q => q.Quantity == design.Quantity)
                : null;

    /// <summary>What comes out.</summary>
    public static PartQuantity Quantity(SiteDesign site, HardwareCatalogue catalogue, DerivedFrom from)
    {
        string Unit() => UnitOf(site, catalogue, from);
        return from switch
        {
            DewPointOf => new("dew-point", ReadingKind.Gauge, Common.Unit.Celsius, ""),
            WaterInAirOf => new("water-in-air", ReadingKind.Gauge, "g/m³", ""),
            MouldIndexOf => new("mould-index", ReadingKind.Gauge, "of 6", "", 0, 6),
            ConductivityAt25Of => new("conductivity", ReadingKind.Gauge, Unit(), ""),
            DissolvedSolidsOf => new("dissolved-solids", ReadingKind.Gauge, "mg/L", ""),
            VesselOf f => f.Measure switch
            {
                VesselMeasure.Level => new("level-height", ReadingKind.Gauge, "cm", ""),
                VesselMeasure.Litres => new("volume", ReadingKind.Gauge, "L", ""),
                _ => new("tank-level", ReadingKind.Gauge, Common.Unit.Percent, "", 0, 100),
            },
            RateOf { Pulses: { } pulses } => new(RateName(pulses.Of), ReadingKind.Gauge, PulseRate.Unit(pulses.Of), ""),
            RateOf => new("rate", ReadingKind.Gauge, Unit() is { Length: > 0 } unit ? unit + "/h" : "1/h", ""),
            RunningHoursOf => new("running-hours", ReadingKind.Counter, "h", ""),
            DegreeDaysOf => new("degree-days", ReadingKind.Counter, "K·d", ""),
            SumOf => new("sum", ReadingKind.Gauge, Unit(), ""),
            PresenceOf => new("presence", ReadingKind.State, Common.Unit.Count, ""),
            LostShareOf => new("lost-share", ReadingKind.Gauge, Common.Unit.Percent, "", 0, 100),
            DaysLeftOf => new("days-left", ReadingKind.Gauge, Common.Unit.Day, ""),
            _ => throw new ArgumentOutOfRangeException(nameof(from)),
        };
    }

    /// <summary>How its inputs are to be taken: a value stands as long as the reading is not silent.</summary>
    public static DerivedInputs Inputs(SiteDesign site, HardwareCatalogue catalogue, DerivedFrom from) =>
        new(
            [.. from.Inputs.Select(i => site.Reading(i)?.SilentMs)],
            UnitOf(site, catalogue, from),
            [
                .. from
                    .Inputs.Select((reading, i) => (reading, i))
                    .Where(p => EventLanes.RestsOn(Quantity(site, catalogue, p.reading)?.Quantity))
                    .Select(p => p.i),
            ]
        );

    /// <summary>Units that the formula wants of its inputs; empty where any is right.</summary>
    public static IReadOnlyList<string> Wanted(DerivedFrom from, int input) =>
        (from, input) switch
        {
            (DewPointOf or WaterInAirOf or MouldIndexOf, 1) => [Unit.RelativeHumidity],
            (DewPointOf or WaterInAirOf or MouldIndexOf or DegreeDaysOf, _) or (ConductivityAt25Of or DissolvedSolidsOf, 1) => [Unit.Celsius],
            (ConductivityAt25Of or DissolvedSolidsOf, 0) => ["µS/cm", "mS/cm"],
            (VesselOf, _) => ["mm", "cm", "m"],
            _ => [],
        };

    /// <summary>A value with its working, and the band that the errors of the inputs leave where the formula needs no memory.</summary>
    /// <param name="values">Newest of each input; null for one that was not heard.</param>
    /// <param name="told">The newest value that was worked out; null where there is none.</param>
    /// <param name="missedMs">Time through which a sum did not run for want of values, ms; null where that is not known.</param>
    public static Figure Figure(
        SiteDesign site,
        HardwareCatalogue catalogue,
        DerivedDesign derived,
        IReadOnlyList<double?> values,
        double? told,
        long? missedMs = null
    )
    {
        var unit = Quantity(site, catalogue, derived.From).Unit;
        var (formula, source) = Formula(derived.From);
        var quantities = derived.From.Inputs.Select(i => Quantity(site, catalogue, i)).ToList();
        var inputs = derived
            .From.Inputs.Select((reading, i) => (reading, i))
            .Where(p => values[p.i] is not null)
            .Select(p => new WorkingInput(
                Name(derived.From, p.i),
                values[p.i]!.Value,
                quantities[p.i]?.Unit ?? "",
                $"{site.Reading(p.reading)?.Label} ({site.NodeLabel(p.reading.Node)})"
            ))
            .ToList();
        WorkingInput[] missed =
            derived.From.IsTotal && missedMs is { } ms
                ? [new("not counted", ms / 3_600_000.0, "h", "time without values since it began; nothing is added for it")]
                : [];
        var working = new Working(formula, [.. inputs, .. Settings(derived.From), .. missed], source);
        if (
            values.Count > 0
            && values.All(v => v is not null)
            && Derive.Value(derived.From, [.. values.Select(v => v!.Value)], quantities[0]?.Unit ?? "") is { } value
        )
        {
            var errors = quantities.Select(q => q?.Error ?? 0).ToList();
            // The ends lie at corners of the errors: each formula only rises or only falls with each input.
            var corners = Enumerable
                .Range(0, 1 << values.Count)
                .Select(corner =>
                    Derive.Value(
                        derived.From,
                        [.. values.Select((v, i) => v!.Value + ((corner >> i & 1) == 0 ? -errors[i] : errors[i]))],
                        quantities[0]?.Unit ?? ""
                    )
                )
                .OfType<double>()
                .Append(value)
                .ToList();
            return new(derived.Label, value, corners.Min(), corners.Max(), unit, working);
        }
        return told is { } v ? Common.Figure.Exact(derived.Label, v, unit, working) : new(derived.Label, null, null, null, unit, working);
    }

    /// <summary>The formula in signs, and where it comes from.</summary>
    public static (string Formula, string Source) Formula(DerivedFrom from) =>
        from switch
        {
            DewPointOf => ("Td = 243.12 · g / (17.62 − g); g = ln(U / 100) + 17.62 · t / (243.12 + t)", "WMO-No. 8, Magnus formula over water"),
            WaterInAirOf => ("a = 216.68 · U / 100 · es(t) / (t + 273.15)", "WMO-No. 8, Magnus formula over water; ideal gas law"),
            MouldIndexOf => (
                "M grows by 1 / (7 · tm) a day above the critical humidity of the surface, tm = exp(−0.68 ln T − 13.9 ln U + 66.02) weeks, up to the "
                    + "most that humidity bears; it falls while dry",
                "Hukka and Viitanen 1999; Ojanen et al. 2010; coefficients from memory. A model, not a look at the wall"
            ),
            ConductivityAt25Of => ("κ25 = κ / (1 + α · (T − 25))", "linear compensation; 1.91 % a °C is the value of Standard Methods 2510"),
            DissolvedSolidsOf => ("S = f · κ / (1 + α · (T − 25))", "linear compensation; f = 0.5 to 0.7 is common practice"),
            VesselOf { Measure: VesselMeasure.Level, Vessel.Down: true } => ("level = sensor above the bottom − distance", "geometry"),
            VesselOf { Measure: VesselMeasure.Level } => ("level = reading", "geometry"),
            VesselOf => ("V of the vessel's shape up to the level", "geometry"),
            RateOf { Pulses: not null } => ("pulses of the stretch / time / pulses for one", "arithmetic; a counter that begins again is followed from there"),
            RateOf => ("slope of the least-squares line over the stretch", "least squares"),
            RunningHoursOf => (
                "sum of the time during which the reading was above the value",
                "definition; a value stands until the next, at most until its reading is silent"
            ),
            DegreeDaysOf => ("sum of |T − base| · time beyond the base", "definition of degree days, by each value instead of daily means"),
            SumOf f => (
                string.Join(
                    " ",
                    f.Terms.Select(
                        (t, i) =>
                            (
                                $"{(t.Factor < 0 ? "−" : i == 0 ? "" : "+")} "
                                + $"{(Math.Abs(t.Factor) == 1 ? "" : $"{Math.Abs(t.Factor):0.####} · ")}{Name(from, i)}"
                            ).Trim()
                    )
                ) + (f.Plus == 0 ? "" : $" {(f.Plus < 0 ? "−" : "+")} {Math.Abs(f.Plus):0.####}"),
                "arithmetic"
            ),
            PresenceOf => ("on with the first; off when all have been quiet for the time", "common practice, no source"),
            LostShareOf => ("100 · missing / (missing + received), by the numbers of the messages", "arithmetic"),
            DaysLeftOf => ("what is left of the cells over what is drawn a day", "the discharge curve and the plan; see Log, Cells"),
            _ => throw new ArgumentOutOfRangeException(nameof(from)),
        };

    private static string RateName(PulsesOf of) =>
        of switch
        {
            PulsesOf.Litre => "flow",
            PulsesOf.Revolution => "speed",
            PulsesOf.KilowattHour => "power",
            _ => "rain-rate",
        };

    private static string Name(DerivedFrom from, int input) =>
        (from, input) switch
        {
            (DewPointOf or WaterInAirOf, 0) => "t",
            (DewPointOf or WaterInAirOf or MouldIndexOf, 1) => "U",
            (MouldIndexOf, 2) => "T",
            (MouldIndexOf, _) => "air",
            (ConductivityAt25Of or DissolvedSolidsOf, 0) => "κ",
            (ConductivityAt25Of or DissolvedSolidsOf or DegreeDaysOf, _) => "T",
            (SumOf, _) => ((char)('a' + input)).ToString(),
            _ => "x",
        };

    private static IEnumerable<WorkingInput> Settings(DerivedFrom from) =>
        from switch
        {
            ConductivityAt25Of f => [new("α", f.PercentPerKelvin, "% a °C", "chosen")],
            DissolvedSolidsOf f => [new("α", f.PercentPerKelvin, "% a °C", "chosen"), new("f", f.Factor, "mg/L for each µS/cm", "chosen")],
            VesselOf { Vessel.Down: true } f => [new("sensor above the bottom", f.Vessel.SensorCm, "cm", "chosen")],
            RateOf { Pulses: { } p } f => [new("stretch", f.WithinMs / 1000.0, Unit.Second, "chosen"), new("pulses for one", p.Each, "", "chosen")],
            RateOf f => [new("stretch", f.WithinMs / 60_000.0, "min", "chosen")],
            RunningHoursOf f => [new("above", f.Above, "", "chosen")],
            DegreeDaysOf f => [new("base", f.BaseCelsius, Unit.Celsius, "chosen")],
            PresenceOf f => [new("quiet for", f.HoldMs / 1000.0, Unit.Second, "chosen")],
            LostShareOf f => [new("stretch", f.WithinMs / 3_600_000.0, "h", "chosen")],
            _ => [],
        };

    private static string UnitOf(SiteDesign site, HardwareCatalogue catalogue, DerivedFrom from) =>
        from.Inputs.Count > 0 ? Quantity(site, catalogue, from.Inputs[0])?.Unit ?? "" : "";
}
