using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Rhythm;

/// <summary>What a light cell brings against what the node uses; what a storage capacitor carries.</summary>
internal static class Harvest
{
    /// <summary>Capacitors are given −50 to +20 % (common for aluminium and ceramic ones under voltage, from memory).</summary>
    internal const double LeastOfCapacitor = 0.5,
        MostOfCapacitor = 1.2;

    /// <summary>Light output of white lamps, lm for each watt of light (from memory).</summary>
    private const double LumensPerWatt = 300;
    private const double UsualClearness = 0.4,
        TableLitHours = 8,
        SquareCm = 1e-4;
    private static readonly Fact Converter = new(0.75, 0.85, 0.9, "harvesting converter, from memory", Confidence.Typical);

    internal static HarvestPlan? Of(NodeDesign node, Figure average, IReadOnlyList<WakeKind> wakes, HardwareCatalogue catalogue)
    {
        if (node.Power.Harvest is not { } light || average.Value is not { } draws)
        {
            return null;
        }
        var volts = light.CapacitorMicrofarads is not null
            ? (light.StartVolts + light.StopVolts) / 2
            : catalogue.Cell(node.Power.Cell ?? "")?.InSeries(node.Power.Series).NominalVolts ?? 3.7;
        var use = new Figure(
            "Use a day",
            draws * 24,
            average.Low * 24,
            average.High * 24,
            Unit.MilliampHour,
            new Working("Q = I · 24 h", [new("I", draws, Unit.Milliamp, "average current")], "charge bookkeeping", [average])
        );
        var burst = wakes.MaxBy(w => Awake(w).High)!;
        var (charge, rest) = (Awake(burst), wakes.FirstOrDefault(w => w.Share > 0)?.Segments[^1].Current.Value ?? 0);
        var months = Enumerable.Range(1, 12).Select(m => Month(m, light, volts, use, charge.Value!.Value, rest)).ToList();
        if (light.CapacitorMicrofarads is not { } farads)
        {
            return new(months, use, null, null, null, null, null, Short(node, months, catalogue));
        }
        var need = Smallest(node, light, charge, volts);
        var bursts = Bursts(node, light, burst.Label, charge, farads, volts);
        var endurance = Dark(node, light, average, burst.Label, charge, farads, volts);
        var worst = months.MaxBy(m => m.IntervalSeconds ?? double.MaxValue)!;
        var interval = worst.IntervalSeconds is { } slowest
            ? new Figure(
                "Interval that the light carries",
                slowest,
                months.Min(m => m.IntervalSeconds!.Value),
                slowest,
                Unit.Second,
                new Working(
                    "t = Q / (Iharvest − Isleep) while it is lit; worst month, low end the best",
                    [new("Q", charge.Value!.Value * 1000, "µC", $"wake \"{burst.Label}\""), new("Isleep", rest * 1000, Unit.Microamp, "rest of the cycle")],
                    "charge balance",
                    [worst.Gathered]
                )
            )
            : null;
        return new(months, use, charge, need, bursts, interval, endurance, Short(node, months, catalogue));
    }

    /// <summary>Wakes from one charge, from the capacitor at the low end of its tolerance and the wake that takes most to the other ends of both.</summary>
    private static Figure Bursts(NodeDesign node, HarvestDesign light, string wake, Figure charge, double farads, double volts)
    {
        int Of(double share, double mAs) =>
            node.Power.StepUp
                ? StorageCapacitor.BurstsOfEnergy(farads * share, mAs * 1000 * volts, light.StartVolts, light.StopVolts)
                : StorageCapacitor.Bursts(farads * share, mAs * 1000, light.StartVolts, light.StopVolts);
        return new(
            "Wakes from one charge",
            Of(1, charge.Value!.Value),
            Of(LeastOfCapacitor, charge.High!.Value),
            Of(MostOfCapacitor, charge.Low!.Value),
            Unit.Count,
            new Working(
                node.Power.StepUp ? "n = ⌊½ C (V1² − V2²) / E⌋; C −50..+20 %, E by its band" : "n = ⌊C (V1 − V2) / Q⌋; C −50..+20 %, Q by its band",
                [
                    new("C", farads, "µF", "design"),
                    new("V1", light.StartVolts, Unit.Volt, "design"),
                    new("V2", light.StopVolts, Unit.Volt, "design"),
                    new("Q", charge.Value.Value * 1000, "µC", $"wake \"{wake}\""),
                    new("Q least", charge.Low.Value * 1000, "µC", "band of the wake"),
                    new("Q most", charge.High.Value * 1000, "µC", "band of the wake"),
                ],
                "charge and energy of a capacitor",
                [charge]
            )
        );
    }

    /// <summary>How long the node runs without light, from full until one wake is left: it goes on waking, so what it draws on average counts.</summary>
    private static Figure Dark(NodeDesign node, HarvestDesign light, Figure average, string wake, Figure charge, double farads, double volts)
    {
        // In mA·s at the voltage of the middle: a switching converter takes energy, everything else charge.
        double Held(double share) =>
            node.Power.StepUp
                ? StorageCapacitor.Microjoules(farads * share, light.StartVolts, light.StopVolts) / volts / 1000
                : farads * share * (light.StartVolts - light.StopVolts) / 1000;
        double Hours(double share, double mAs, double milliamps) => milliamps > 0 ? Math.Max(0, Held(share) - mAs) / milliamps / 3600 : double.PositiveInfinity;
        if (average.Value is not > 0)
        {
            return Figure.Unknown("Dark endurance", "h", "the average current");
        }
        var likely = Hours(1, charge.Value!.Value, average.Value.Value);
        return Figures.Wide(
            "Dark endurance",
            likely,
            Hours(LeastOfCapacitor, charge.High!.Value, average.High ?? average.Value.Value),
            Hours(MostOfCapacitor, charge.Low!.Value, average.Low is > 0 and var least ? least : average.Value.Value),
            "h",
            () =>
                new Working(
                    node.Power.StepUp
                        ? "t = (½ C (V1² − V2²) / V − Q) / Iavg: from full until one wake is left"
                        : "t = (C (V1 − V2) − Q) / Iavg: from full until one wake is left",
                    [
                        new("C", farads, "µF", "design"),
                        new("V1", light.StartVolts, Unit.Volt, "design"),
                        new("V2", light.StopVolts, Unit.Volt, "design"),
                        new("Q", charge.Value.Value * 1000, "µC", $"wake \"{wake}\""),
                        new("Iavg", average.Value.Value, Unit.Milliamp, "average current, wakes and sleep"),
                    ],
                    "charge of a capacitor",
                    [average]
                )
        );
    }

    /// <summary>Months in which the light does not carry the node, with what its cells give over as many days.</summary>
    private static IReadOnlyList<int> Short(NodeDesign node, List<HarvestMonth> months, HardwareCatalogue catalogue)
    {
        var behind = months.Where(m => m.Left < 0).ToList();
        if (node.Power.Kind == PowerKind.Cells && catalogue.Cell(node.Power.Cell ?? "") is { } cell)
        {
            var owed = behind.Sum(m => -m.Left) * LifeGains.DaysOfMonth;
            var usable = cell.CapacityMilliampHours.Likely * cell.UsableFraction.Likely * node.Power.Parallel;
            behind = months.Sum(m => m.Left) >= 0 && owed <= usable ? [] : behind;
        }
        return [.. behind.Select(m => m.Month)];
    }

    /// <summary>Charge of a wake without the sleep after it.</summary>
    internal static Figure Awake(WakeKind wake) =>
        Figures.Sum(
            $"Charge of \"{wake.Label}\" awake",
            [.. (wake.Share > 0 ? wake.Segments.SkipLast(1) : wake.Segments).Select(s => s.Charge)],
            Unit.MilliampSecond,
            "Q = Σ segments"
        );

    private static Figure Smallest(NodeDesign node, HarvestDesign light, Figure charge, double volts)
    {
        double Of(double mAs) =>
            node.Power.StepUp
                ? StorageCapacitor.FromEnergy(mAs * 1000 * volts, light.StartVolts, light.StopVolts)
                : StorageCapacitor.FromCharge(mAs * 1000, light.StartVolts, light.StopVolts);
        // It must carry the worst wake, not the usual one.
        return new(
            "Smallest capacitor for one wake",
            Of(charge.High!.Value),
            Of(charge.Low!.Value),
            Of(charge.High.Value),
            "µF",
            new Working(
                node.Power.StepUp ? "C = 2 E / (V1² − V2²), E = Q · V" : "C = Q / (V1 − V2)",
                [
                    new("Q", charge.High.Value * 1000, "µC", "the wake that takes most, at the most it takes"),
                    new("V1", light.StartVolts, Unit.Volt, "design"),
                    new("V2", light.StopVolts, Unit.Volt, "design"),
                ],
                "charge and energy of a capacitor",
                [charge]
            )
        );
    }

    private static HarvestMonth Month(int month, HarvestDesign light, double volts, Figure use, double burst, double rest)
    {
        var (perSquareMetre, lit, inputs, source) = light.Light switch
        {
            LightKind.Sun => Sun(month, light),
            LightKind.Lamp => (
                light.Lux!.Value / LumensPerWatt * light.HoursPerDay!.Value,
                light.HoursPerDay.Value,
                new List<WorkingInput>
                {
                    new("light", light.Lux.Value, Unit.Lux, "design"),
                    new("lit", light.HoursPerDay.Value, "h", "design"),
                    new("lm/W", LumensPerWatt, "", "white lamp, from memory"),
                },
                "definition of the lumen"
            ),
            _ => (
                light.WattHoursPerSquareMetre![month - 1],
                TableLitHours,
                new List<WorkingInput> { new("light", light.WattHoursPerSquareMetre[month - 1], "Wh/m²", "table of the design") },
                "table of the design"
            ),
        };
        double Charge(double converter) => perSquareMetre * light.AreaSquareCm * SquareCm * light.EfficiencyPercent / 100 * converter / volts * 1000;
        var gathered = new Figure(
            $"Gathered a day in month {month}",
            Charge(Converter.Likely),
            Charge(Converter.Low),
            Charge(Converter.High),
            Unit.MilliampHour,
            new Working(
                "Q = light · area · η · η converter / V",
                [
                    .. inputs,
                    new("area", light.AreaSquareCm, "cm²", "design"),
                    new("η", light.EfficiencyPercent, Unit.Percent, "design"),
                    new("η converter", Converter.Likely, "", Converter.Source),
                    new("V", volts, Unit.Volt, "storage"),
                ],
                source
            )
        );
        var whileLit = lit > 0 ? gathered.Value!.Value / lit : 0;
        return new(month, gathered, gathered.Value!.Value - use.Value!.Value, lit, StorageCapacitor.HarvestSeconds(burst * 1000, whileLit * 1000, rest * 1000));
    }

    private static (double, double, List<WorkingInput>, string) Sun(int month, HarvestDesign light)
    {
        var (day, clear) = (SunLight.DayOfMonth(month), light.Clearness ?? UsualClearness);
        var above = SunLight.WattHoursAboveAir(light.LatitudeDegrees!.Value, day);
        return (
            above * clear,
            SunLight.LitHours(light.LatitudeDegrees.Value, day),
            [new("above the air", above, "Wh/m²", "latitude and day"), new("clearness", clear, "", light.Clearness is null ? "planning value" : "design")],
            "FAO Irrigation and Drainage Paper 56, equations 21 to 25"
        );
    }
}
