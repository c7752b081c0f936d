using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Rhythm;

/// <summary>What a light cell brings against what the node uses; what a storage capacitor carries.</summary>
internal static class Harvest
{
    /// <summary>Capacitors are given −50 to +20 % (common for aluminium and ceramic ones under voltage, from memory).</summary>
    internal const double LeastOfCapacitor = 0.5, MostOfCapacitor = 1.2;

    /// <summary>Light output of white lamps, lm for each watt of light (from memory).</summary>
    private const double LumensPerWatt = 300;
    private const double UsualClearness = 0.4, TableLitHours = 8, SquareCm = 1e-4;
    private static readonly Fact Converter = new(0.75, 0.85, 0.9, "harvesting converter, from memory", Confidence.Typical);

    internal static HarvestPlan? Of(NodeDesign node, Figure average, IReadOnlyList<WakeKind> wakes, HardwareCatalogue catalogue)
    {
        if (node.Power.Harvest is not { } light || average.Value is not { } draws)
        {
            return null;
        }
        var volts = light.CapacitorMicrofarads is not null ? (light.StartVolts + light.StopVolts) / 2 : catalogue.Cell(node.Power.Cell ?? "")?.InSeries(node.Power.Series).NominalVolts ?? 3.7;
        var use = new Figure("Use a day", draws * 24, average.Low * 24, average.High * 24, Unit.MilliampHour, new Working("Q = I · 24 h", [new("I", draws, Unit.Milliamp, "average current")], "charge bookkeeping", [average]));
        var burst = wakes.MaxBy(w => Awake(w).Value)!;
        var (charge, rest) = (Awake(burst), wakes.FirstOrDefault(w => w.Share > 0)?.Segments[^1].Current.Value ?? 0);
        var months = Enumerable.Range(1, 12).Select(m => Month(m, light, volts, use, charge.Value!.Value, rest)).ToList();
        if (light.CapacitorMicrofarads is not { } farads)
        {
            return new(months, use, null, null, null, null, null, Short(node, months, catalogue));
        }
        var need = Smallest(node, light, charge, volts);
        var switching = node.Power.StepUp;
        int Bursts(double share) => switching
            ? StorageCapacitor.BurstsOfEnergy(farads * share, charge.Value!.Value * 1000 * volts, light.StartVolts, light.StopVolts)
            : StorageCapacitor.Bursts(farads * share, charge.Value!.Value * 1000, light.StartVolts, light.StopVolts);
        var bursts = new Figure("Wakes from one charge", Bursts(1), Bursts(LeastOfCapacitor), Bursts(MostOfCapacitor), Unit.Count,
            new Working(switching ? "n = ⌊½ C (V1² − V2²) / E⌋; C −50..+20 %" : "n = ⌊C (V1 − V2) / Q⌋; C −50..+20 %", [new("C", farads, "µF", "design"), new("V1", light.StartVolts, Unit.Volt, "design"), new("V2", light.StopVolts, Unit.Volt, "design"), new("Q", charge.Value!.Value * 1000, "µC", $"wake \"{burst.Label}\"")], "charge and energy of a capacitor", [charge]));
        var held = Math.Max(0, farads * (light.StartVolts - light.StopVolts) / 1000 - charge.Value.Value);
        double? dark = rest > 0 ? held / rest / 3600 : null;
        var endurance = dark is null ? Figure.Unknown("Dark endurance", "h", "the current asleep") : Figure.Exact("Dark endurance", dark.Value, "h",
            new Working("t = (C (V1 − V2) − Q) / Isleep: from full until one wake is left", [new("C", farads, "µF", "design"), new("Q", charge.Value.Value * 1000, "µC", $"wake \"{burst.Label}\""), new("Isleep", rest, Unit.Milliamp, "rest of the cycle")], "charge of a capacitor"));
        var worst = months.MaxBy(m => m.IntervalSeconds ?? double.MaxValue)!;
        var interval = worst.IntervalSeconds is { } slowest
            ? new Figure("Interval that the light carries", slowest, months.Min(m => m.IntervalSeconds!.Value), slowest, Unit.Second, new Working("t = Q / (Iharvest − Isleep) while it is lit; worst month, low end the best", [new("Q", charge.Value.Value * 1000, "µC", $"wake \"{burst.Label}\""), new("Isleep", rest * 1000, Unit.Microamp, "rest of the cycle")], "charge balance", [worst.Gathered]))
            : null;
        return new(months, use, charge, need, bursts, interval, endurance, Short(node, months, catalogue));
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
    internal static Figure Awake(WakeKind wake) => Figures.Sum($"Charge of \"{wake.Label}\" awake", [.. (wake.Share > 0 ? wake.Segments.SkipLast(1) : wake.Segments).Select(s => s.Charge)], Unit.MilliampSecond, "Q = Σ segments");

    private static Figure Smallest(NodeDesign node, HarvestDesign light, Figure charge, double volts)
    {
        double Of(double mAs) => node.Power.StepUp ? StorageCapacitor.FromEnergy(mAs * 1000 * volts, light.StartVolts, light.StopVolts) : StorageCapacitor.FromCharge(mAs * 1000, light.StartVolts, light.StopVolts);
        return new("Smallest capacitor for one wake", Of(charge.Value!.Value), Of(charge.Low!.Value), Of(charge.High!.Value), "µF",
            new Working(node.Power.StepUp ? "C = 2 E / (V1² − V2²), E = Q · V" : "C = Q / (V1 − V2)", [new("Q", charge.Value.Value * 1000, "µC", "the wake that takes most"), new("V1", light.StartVolts, Unit.Volt, "design"), new("V2", light.StopVolts, Unit.Volt, "design")], "charge and energy of a capacitor", [charge]));
    }

    private static HarvestMonth Month(int month, HarvestDesign light, double volts, Figure use, double burst, double rest)
    {
        var (perSquareMetre, lit, inputs, source) = light.Light switch
        {
            LightKind.Sun => Sun(month, light),
            LightKind.Lamp => (light.Lux!.Value / LumensPerWatt * light.HoursPerDay!.Value, light.HoursPerDay.Value,
                new List<WorkingInput> { new("light", light.Lux.Value, Unit.Lux, "design"), new("lit", light.HoursPerDay.Value, "h", "design"), new("lm/W", LumensPerWatt, "", "white lamp, from memory") }, "definition of the lumen"),
            _ => (light.WattHoursPerSquareMetre![month - 1], TableLitHours, new List<WorkingInput> { new("light", light.WattHoursPerSquareMetre[month - 1], "Wh/m²", "table of the design") }, "table of the design"),
        };
        double Charge(double converter) => perSquareMetre * light.AreaSquareCm * SquareCm * light.EfficiencyPercent / 100 * converter / volts * 1000;
        var gathered = new Figure($"Gathered a day in month {month}", Charge(Converter.Likely), Charge(Converter.Low), Charge(Converter.High), Unit.MilliampHour,
            new Working("Q = light · area · η · η converter / V", [.. inputs, new("area", light.AreaSquareCm, "cm²", "design"), new("η", light.EfficiencyPercent, Unit.Percent, "design"), new("η converter", Converter.Likely, "", Converter.Source), new("V", volts, Unit.Volt, "storage")], source));
        var whileLit = lit > 0 ? gathered.Value!.Value / lit : 0;
        return new(month, gathered, gathered.Value!.Value - use.Value!.Value, lit, StorageCapacitor.HarvestSeconds(burst * 1000, whileLit * 1000, rest * 1000));
    }

    private static (double, double, List<WorkingInput>, string) Sun(int month, HarvestDesign light)
    {
        var (day, clear) = (SunLight.DayOfMonth(month), light.Clearness ?? UsualClearness);
        var above = SunLight.WattHoursAboveAir(light.LatitudeDegrees!.Value, day);
        return (above * clear, SunLight.LitHours(light.LatitudeDegrees.Value, day),
            [new("above the air", above, "Wh/m²", "latitude and day"), new("clearness", clear, "", light.Clearness is null ? "planning value" : "design")], "FAO Irrigation and Drainage Paper 56, equations 21 to 25");
    }
}
