using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>Checks of readings and cells.</summary>
internal static class RhythmFindings
{
    private const double DrainMicroamps = 100,
        BoardDrainMilliamps = 1,
        BoardDrainShare = 0.1;
    private const long UsualMs = 60_000,
        LongestMs = 86_400_000;

    internal static void Readings(NodeDesign node, BenchPlan bench, HardwareCatalogue catalogue, List<Finding> findings)
    {
        if (node.Readings.Count == 0 && !node.Relays)
        {
            findings.Add(NoReading(node));
        }
        foreach (var reading in node.Readings)
        {
            var part = node.Part(reading.Part) is { } instance ? catalogue.Part(instance.Part) : null;
            var subject = new Subject("rhythm", node.Key, reading.Key);
            if (part is not null && part.Quantities.All(q => q.Quantity != reading.Quantity))
            {
                findings.Add(NoQuantity(node, reading, part, subject));
                continue;
            }
            if (reading.LongestGapMs <= 0)
            {
                var usual = reading.IntervalMs is null ? reading with { HeartbeatMs = UsualMs } : reading with { IntervalMs = UsualMs };
                findings.Add(IntervalZero(node, reading, subject, usual));
                continue;
            }
            if (part is null)
            {
                continue;
            }
            if (reading.IntervalMs is not { } interval)
            {
                if (node.Sleeps && !CanWake(node, reading, catalogue))
                {
                    var every = Math.Max(reading.HeartbeatMs ?? 5 * UsualMs, (long)Math.Ceiling(part.MinIntervalMs?.Likely ?? 0));
                    findings.Add(NoWake(node, reading, part, subject, every));
                }
                continue;
            }
            var conversion = bench.Loads.FirstOrDefault(l => l.Part == reading.Part)?.ConversionMs?.High ?? 0;
            if (interval < conversion)
            {
                var enough = (long)Math.Ceiling(Math.Max(conversion * 2, part.MinIntervalMs?.Likely ?? 0));
                findings.Add(ConversionLong(node, reading, part, subject, interval, conversion, enough));
            }
            else if (part.MinIntervalMs is { } least && interval < least.Likely)
            {
                findings.Add(IntervalShort(node, reading, subject, interval, least));
            }
        }
    }

    private static Finding NoReading(NodeDesign node) =>
        new(
            "RHYTHM-NO-READING",
            Severity.Note,
            new("rhythm", node.Key),
            $"{node.Label} reads nothing yet.",
            "Without a reading it has nothing to send.",
            [],
            "Add a reading for one of its parts.",
            "design"
        );

    private static Finding NoQuantity(NodeDesign node, ReadingDesign reading, Part part, Subject subject) =>
        new(
            "RHYTHM-NO-QUANTITY",
            Severity.Stop,
            subject,
            $"{reading.Label}: a {part.Label} gives no {reading.Quantity}.",
            $"It gives {string.Join(", ", part.Quantities.Select(q => q.Quantity))}.",
            [new("Remove the reading", [new RemoveReading(node.Key, reading.Key)])],
            null,
            part.Source
        );

    private static Finding IntervalZero(NodeDesign node, ReadingDesign reading, Subject subject, ReadingDesign usual) =>
        new(
            "RHYTHM-INTERVAL-ZERO",
            Severity.Stop,
            subject,
            $"{reading.Label} has an interval of {reading.LongestGapMs} ms.",
            "It has no place in the timetable and is left out of it.",
            [new($"Read every {UsualMs / 1000} s", [new PutReading(node.Key, usual)])],
            null,
            "arithmetic"
        );

    private static Finding NoWake(NodeDesign node, ReadingDesign reading, Part part, Subject subject, long every) =>
        new(
            "RHYTHM-NO-WAKE",
            Severity.Risk,
            subject,
            $"{reading.Label} is to be sent when it changes, but a {part.Label} cannot wake the node.",
            "Asleep the node does not see the change: it is sent at the next wake.",
            [new($"Read every {Lateness.Say(every / 1000.0)}", [new PutReading(node.Key, reading with { IntervalMs = every, HeartbeatMs = null })])],
            null,
            "part interfaces in the catalogue"
        );

    private static Finding ConversionLong(NodeDesign node, ReadingDesign reading, Part part, Subject subject, long interval, double conversion, long enough) =>
        new(
            "RHYTHM-CONVERSION-LONG",
            Severity.Stop,
            subject,
            $"{reading.Label} is read every {interval} ms, but one measurement takes up to {conversion:0.##} ms.",
            "The next reading would start before this one is done.",
            [new($"Read every {enough / 1000.0:0.##} s", [new PutReading(node.Key, reading with { IntervalMs = enough })])],
            null,
            part.Source
        );

    private static Finding IntervalShort(NodeDesign node, ReadingDesign reading, Subject subject, long interval, Fact least) =>
        new(
            "RHYTHM-INTERVAL-SHORT",
            Severity.Risk,
            subject,
            $"{reading.Label} is read every {interval} ms; the part wants {least.Likely:0} ms at least.",
            "Read faster it warms itself, or hears its own echo.",
            [new($"Read every {least.Likely / 1000:0.##} s", [new PutReading(node.Key, reading with { IntervalMs = (long)Math.Ceiling(least.Likely) })])],
            null,
            least.Source
        );

    /// <summary>True when the change of a reading can wake the node by a pin: a state or event on a line of its own.</summary>
    internal static bool CanWake(NodeDesign node, ReadingDesign reading, HardwareCatalogue catalogue) =>
        WakePlan.KindOf(node, reading, catalogue) is ReadingKind.State or ReadingKind.Event or ReadingKind.Counter
        && catalogue.Part(node.Part(reading.Part)?.Part ?? "")!.Interfaces.Any(i => i.Kind is InterfaceKind.Digital or InterfaceKind.Contact);

    internal static void Cells(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, List<Finding> findings)
    {
        NeverSleeps(node, plan, findings);
        if (node.Power.Kind != PowerKind.Cells)
        {
            return;
        }
        if (!node.Sleeps)
        {
            findings.Add(AwakeOnCells(node, bench, setting));
        }
        BoardDrain(node, bench, plan, setting, findings);
        foreach (
            var load in bench.Loads.Where(l =>
                node.Sleeps && !l.Switched && !l.StaysOn && l.SleepMicroamps?.High > DrainMicroamps && HasSupply(node, l, setting.Catalogue)
            )
        )
        {
            var instance = node.Part(load.Part)! with { SwitchSupply = true };
            findings.Add(SleepDrain(node, bench, setting, load, instance));
        }
        if (plan.Life is { Value: < RhythmPlanner.ShortLifeDays } life && !plan.CarriedByLight)
        {
            var most = string.Join(", ", plan.Drains.Take(3).Select(d => $"{d.Label} {d.Share:0 %}"));
            findings.Add(LifeShort(node, plan, bench, setting, life, most));
        }
        BrownOut(node, plan, bench, setting, findings);
    }

    private static Finding AwakeOnCells(NodeDesign node, BenchPlan bench, RhythmSetting setting) =>
        new(
            "RHYTHM-AWAKE-ON-CELLS",
            Severity.Risk,
            new("rhythm", node.Key),
            $"{node.Label} is always on and lives on cells.",
            "Awake it draws its full current day and night.",
            setting.Again(node with { Sleeps = true }, node, bench) is null
                ? []
                : [new("Let it sleep between readings", [SetNodes.As(node) with { Sleeps = true }])],
            null,
            "board currents in the catalogue"
        );

    private static Finding SleepDrain(NodeDesign node, BenchPlan bench, RhythmSetting setting, LoadProfile load, PartInstance instance) =>
        new(
            "RHYTHM-SLEEP-DRAIN",
            Severity.Risk,
            new("rhythm", node.Key, load.Part),
            $"{load.Label} draws up to {load.SleepMicroamps!.High / 1000:0.##} mA while the node sleeps.",
            "It has no sleep of its own worth the name.",
            setting.Again(node with { Parts = [.. node.Parts.Select(p => p.Key == load.Part ? instance : p)] }, node, bench) is null
                ? []
                : [new("Switch its supply off between readings", [new PutPart(node.Key, instance)])],
            null,
            load.SleepMicroamps.Source
        );

    private static Finding LifeShort(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, Figure life, string most) =>
        new(
            "RHYTHM-LIFE-SHORT",
            Severity.Risk,
            new("rhythm", node.Key),
            $"The cells of {node.Label} last about {life.Value:0.#} days.",
            $"Most of it goes to: {most}.",
            LifeGains.Remedies(node, bench, LifeGains.Of(node, bench, plan, setting), setting),
            "Measure the sleep current of this very board: power LEDs and regulators differ widely. A measured value replaces the catalogue's.",
            "charge bookkeeping"
        );

    /// <summary>True for a part with a supply of its own, which can be switched. A bare contact
    /// has none: what it draws is its pull-up, while it is closed.</summary>
    internal static bool HasSupply(NodeDesign node, LoadProfile load, HardwareCatalogue catalogue) =>
        catalogue.Part(node.Part(load.Part)?.Part ?? "")?.SupplyPin is not null;

    /// <summary>A board whose regulator, converter and lamps draw asleep what no timetable can save.</summary>
    private static void BoardDrain(NodeDesign node, BenchPlan bench, RhythmPlan plan, RhythmSetting setting, List<Finding> findings)
    {
        if (!node.Sleeps || setting.Catalogue.Board(node.Board) is not { Currents.DeepSleepMilliamps: { } planned } board)
        {
            return;
        }
        var measured = setting.Evidence.Current(node.Key, PowerState.Asleep)?.Milliamps;
        var asleep = measured ?? planned.Likely;
        // Where the light carries it, or it is little of what the node takes, there is nothing to change.
        if (asleep < BoardDrainMilliamps || plan.CarriedByLight || asleep < BoardDrainShare * plan.Average.Value)
        {
            return;
        }
        var remedies = LifeGains
            .Thriftier(node, setting.Catalogue)
            .Select(b => (Board: b, Changed: node with { Board = b.Id, Wires = [] }))
            .Select(b => (b.Board, b.Changed, setting.Again(b.Changed, node, bench)?.Plan.Life))
            .Where(b => b.Life?.Value > plan.Life?.Value)
            .Select(b => new Remedy($"Use the {b.Board.Label}: {Lateness.Months(b.Life!.Value!.Value)}", NodeEdits.Between(node, b.Changed)));
        findings.Add(
            new(
                "RHYTHM-BOARD-DRAIN",
                Severity.Risk,
                new("rhythm", node.Key),
                $"The {board.Label} draws {asleep:0.##} mA asleep{(measured is null ? "" : " (measured)")}: {asleep * 24:0} mAh a day before anything is read.",
                "Its chip sleeps; the regulator, the USB converter and the power lamp of the board do not.",
                [.. remedies],
                "Take the power lamp off, or feed the chip past the regulator; then measure it and enter what you measured.",
                planned.Source
            )
        );
    }

    /// <summary>A cell near its end sags under the peak: below what the board needs, it resets while there is charge left.</summary>
    private static void BrownOut(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, List<Finding> findings)
    {
        if (
            setting.Catalogue.Cell(node.Power.Cell ?? "")?.InSeries(node.Power.Series) is not { } cell
            || NodeSupply.Of(setting.Catalogue.Board(node.Board)!, node.Power, setting.Catalogue).Input is not { } input
        )
        {
            return;
        }
        var least = node.Power.StepUp ? setting.Catalogue.Supply("boost-mt3608")?.InputMinVolts ?? 0 : input.MinVolts;
        double Under(int parallel) => cell.EmptyVolts - Peak(plan) / 1000 * cell.InternalOhms.High / parallel;
        var under = Under(node.Power.Parallel);
        if (under >= least)
        {
            return;
        }
        var remedies = new[] { 2, 3, 4, 6, 8, 10 }
            .Select(p => node.Power.Parallel * p)
            .Where(p => p <= 20 && Under(p) >= least)
            .Take(1)
            .Select(p => new Remedy($"Use {p} cells side by side", [SetNodes.WithPower(node, node.Power with { Parallel = p })]));
        var says =
            under > 0
                ? $"Near its end {cell.Label} sags to {under:0.##} V under {Peak(plan):0} mA; the board needs {least:0.##} V."
                : $"Near its end {cell.Label} cannot give {Peak(plan):0} mA at all: its own resistance takes more than its voltage.";
        findings.Add(
            new(
                "RHYTHM-BROWN-OUT",
                Severity.Risk,
                new("rhythm", node.Key),
                says,
                "It resets again and again before the charge is used up: the life shown is not reached.",
                [.. remedies],
                "Or a radio that takes less, a step-up that works lower, or a large capacitor at the board.",
                cell.Source
            )
        );
    }

    private static double Peak(RhythmPlan plan) => plan.Wakes.SelectMany(w => w.Segments).Max(s => s.Current.High!.Value);

    private static void NeverSleeps(NodeDesign node, RhythmPlan plan, List<Finding> findings)
    {
        if (!Lateness.Sleepless(plan))
        {
            return;
        }
        var awakeMs = plan.Wakes.Where(w => w.Share > 0).Max(w => w.Segments.SkipLast(1).Sum(s => s.Duration.Value!.Value));
        var enough = Math.Min((long)Math.Ceiling(2 * awakeMs / 1000) * 1000, LongestMs);
        var rarer = node
            .Readings.Where(r => r.IntervalMs < enough)
            .Select(r => new PutReading(node.Key, r with { IntervalMs = enough }))
            .Concat(
                node.Readings.Where(r => r.IntervalMs is null && r.HeartbeatMs < enough).Select(r => new PutReading(node.Key, r with { HeartbeatMs = enough }))
            )
            .ToList();
        findings.Add(
            new(
                "RHYTHM-NEVER-SLEEPS",
                Severity.Risk,
                new("rhythm", node.Key),
                $"{node.Label} wakes every {plan.PeriodMs / 1000.0:0.##} s and is awake for {awakeMs / 1000:0.##} s.",
                "It never gets to sleep, and falls behind.",
                [new($"Read every {enough / 1000.0:0} s", rarer), new("Keep it always on", [SetNodes.As(node) with { Sleeps = false }])],
                null,
                "times of the board and its parts"
            )
        );
    }
}
