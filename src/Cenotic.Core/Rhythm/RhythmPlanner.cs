using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Rhythm;

/// <summary>Works out the wake cycle, the average current and the life of a node from its bench plan. Pure.</summary>
public static class RhythmPlanner
{
    /// <summary>Below this many days on its cells a node is more work than help (common practice, no source).</summary>
    public const double ShortLifeDays = 60;

    private const long DayMs = 86_400_000;
    private const int PayloadOverheadBytes = 8, PayloadBytesPerReading = 4;
    private static readonly Fact WifiSendMs = new(20, 50, 120, "planning value for one acknowledged message", Confidence.Prudent);
    private static readonly Fact StepUpEfficiency = new(0.85, 0.89, 0.93, "step-up converter modules, from memory", Confidence.Typical);
    private static readonly Fact StepUpIdleMilliamps = new(0.1, 1, 2, "step-up converter modules, from memory", Confidence.Typical);

    /// <summary>The rhythm of a node.</summary>
    /// <param name="cold">True when its spot is outdoors or cold: the cell's capacity at 0 °C bounds its life.</param>
    public static RhythmPlan Plan(NodeDesign node, BenchPlan bench, HardwareCatalogue catalogue, Evidence evidence, bool cold)
    {
        var findings = new List<Finding>();
        RhythmFindings.Intervals(node, bench, catalogue, findings);
        var plan = Compute(node, bench, catalogue, evidence, cold);
        if (plan is null)
        {
            var none = Figure.Unknown("Average current", Unit.Milliamp, "a board from the catalogue");
            return new(node.Key, node.Sleeps, DayMs, [], none, none, null, [], [], findings);
        }
        RhythmFindings.Supply(node, plan, bench, findings, changed => BenchPlanner.Plan(changed, catalogue) is { Complete: true } again ? Compute(changed, again, catalogue, evidence, cold) : null);
        return plan with { Findings = findings };
    }

    private static RhythmPlan? Compute(NodeDesign node, BenchPlan bench, HardwareCatalogue catalogue, Evidence evidence, bool cold)
    {
        if (catalogue.Board(node.Board) is not { } board)
        {
            return null;
        }
        var intervals = node.Readings.Select(r => r.LongestGapMs).OfType<long>().ToList();
        var period = intervals.Count > 0 ? intervals.Min() : DayMs;
        var steps = node.Sleeps ? AsleepBetween(node, board, bench, catalogue, evidence, period) : AlwaysOn(node, board, bench, evidence, period);
        var supply = SupplyAt(node, catalogue);
        var segments = new List<CycleSegment>();
        var start = 0.0;
        var awakeLikely = steps.SkipLast(1).Sum(s => s.Ms.Likely);
        foreach (var (step, last) in steps.Select((s, i) => (s, i == steps.Count - 1)))
        {
            var ms = last ? Rest(period, steps.SkipLast(1)) : Band($"{step.Label}: time", step.Ms, Unit.Millisecond, step.Ms.Source);
            var current = AtSupply(step, supply);
            var charge = new Figure($"{step.Label}: charge", current.Value!.Value * ms.Value!.Value / 1000, current.Low!.Value * ms.Low!.Value / 1000, current.High!.Value * ms.High!.Value / 1000, Unit.MilliampSecond,
                new Working("Q = I · t", [new("I", current.Value.Value, Unit.Milliamp, "this segment"), new("t", ms.Value.Value / 1000, Unit.Second, "this segment")], "charge bookkeeping", [current, ms]));
            segments.Add(new(step.Key, step.Label, start, ms, current, charge));
            start += ms.Value.Value;
        }
        var total = Sum("Charge per cycle", segments.Select(s => s.Charge).ToList(), Unit.MilliampSecond, "Q = Σ segments");
        var seconds = period / 1000.0;
        var average = new Figure("Average current", total.Value!.Value / seconds, total.Low!.Value / seconds, total.High!.Value / seconds, Unit.Milliamp,
            new Working("I = Q / T", [new("Q", total.Value.Value, Unit.MilliampSecond, "charge per cycle"), new("T", seconds, Unit.Second, "cycle")], "charge bookkeeping", [total]));
        var drains = steps.Zip(segments).SelectMany(p => p.First.Loads.Select(l => (l.Label, Milliamps: supply.AtCell(l.Milliamps.Likely) * p.Second.Duration.Value!.Value / period)))
            .Concat(supply.IdleMilliamps is { } idle ? [("step-up converter", idle.Likely)] : [])
            .GroupBy(d => d.Label).Select(g => new Drain(g.Key, g.Sum(d => d.Milliamps), g.Sum(d => d.Milliamps) / average.Value!.Value)).OrderByDescending(d => d.Milliamps).ToList();
        return new(node.Key, node.Sleeps, period, segments, total, average, Life(node, catalogue, average, cold), drains, Timings(node, board, bench, catalogue, period, awakeLikely), []);
    }

    private static List<Step> AsleepBetween(NodeDesign node, Board board, BenchPlan bench, HardwareCatalogue catalogue, Evidence evidence, long period)
    {
        var active = evidence.Current(node.Key, PowerState.Active) is { } measured ? Fact.Of(measured.Milliamps, "measured: " + measured.How, Confidence.Measured) : board.Currents.ActiveMilliamps;
        var awake = new Load(board.Label, active);
        var always = bench.Loads.Where(l => l.StaysOn && l.ActiveMilliamps is not null).Select(l => new Load(l.Label, l.ActiveMilliamps!)).ToList();
        var reading = bench.Loads.Where(l => !l.StaysOn && node.Readings.Any(r => r.Part == l.Part)).ToList();
        var steps = new List<Step> { new("start", "Start of the board", board.BootMs, [awake, .. always]) };
        if (reading.Where(l => l.WarmUpMs is not null).OrderByDescending(l => l.WarmUpMs!.Likely).FirstOrDefault() is { } slowest)
        {
            steps.Add(new("warm-up", $"Warm-up ({slowest.Label})", slowest.WarmUpMs!, [awake, .. always, .. reading.Where(l => l.WarmUpMs is not null && l.ActiveMilliamps is not null).Select(l => new Load(l.Label, l.ActiveMilliamps!))]));
        }
        if (reading.Where(l => l.ConversionMs is not null).OrderByDescending(l => l.ConversionMs!.Likely).FirstOrDefault() is { } longest)
        {
            // Conversions run side by side: each part draws for its own time, and only at its own readings.
            var shares = reading.Where(l => l.ConversionMs is not null && l.ActiveMilliamps is not null)
                .Select(l => new Load(l.Label, Scale(l.ActiveMilliamps!, l.ConversionMs!.Likely / longest.ConversionMs!.Likely * ShareOf(node, l.Part, period))));
            steps.Add(new("measure", $"Measuring ({longest.Label} longest)", longest.ConversionMs!, [awake, .. always, .. shares]));
        }
        steps.AddRange(Sending(node, board, bench, catalogue, awake, always));
        var asleep = evidence.Current(node.Key, PowerState.Asleep) is { } m
            ? Fact.Of(m.Milliamps, $"measured: {m.How}", Confidence.Measured)
            : board.Currents.DeepSleepMilliamps ?? board.Currents.ActiveMilliamps;
        var sleeping = bench.Loads.Where(l => !l.StaysOn && !l.Switched && l.SleepMicroamps is not null).Select(l => new Load($"{l.Label} asleep", Scale(l.SleepMicroamps!, 0.001)));
        steps.Add(new("sleep", "Sleep", Fact.Of(period, "rest of the cycle"), [new Load($"{board.Label} asleep", asleep), .. sleeping, .. always]));
        return steps;
    }

    private static IEnumerable<Step> Sending(NodeDesign node, Board board, BenchPlan bench, HardwareCatalogue catalogue, Load awake, List<Load> always)
    {
        if (node.Link == LinkKind.Wifi && board.ConnectMs is { } connect)
        {
            var receive = board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps;
            var peak = board.Currents.WifiTransmitPeakMilliamps;
            yield return new("connect", "Wi-Fi connect", connect, [new Load($"{board.Label} with Wi-Fi", receive), .. always]);
            var sending = new Fact(receive.Low, peak is null ? receive.Likely : (receive.Likely + peak.Likely) / 2, peak?.High ?? receive.High, peak is null ? receive.Source + "; transmit peak not known" : "half listening, half transmitting: planning value", Confidence.Prudent);
            yield return new("send", "Send", WifiSendMs, [new Load($"{board.Label} with Wi-Fi", sending), .. always]);
        }
        else if (node.Link == LinkKind.LongRange && node.Parts.Select(p => (p, Part: catalogue.Part(p.Part))).FirstOrDefault(p => p.Part?.Modem is not null) is { Part.Modem: { } modem } radio)
        {
            var bytes = PayloadOverheadBytes + PayloadBytesPerReading * node.Readings.Count;
            var ms = Airtime.LoraMs(modem.SpreadingFactor, modem.BandwidthKilohertz, modem.CodingRate, modem.PreambleSymbols, bytes);
            yield return new("send", $"Send {bytes} bytes, SF{modem.SpreadingFactor}", Fact.Of(ms, "time on air: SX1276 data sheet, LoRa modem time on air"), [awake, .. always, new Load(radio.p.Label, modem.TransmitMilliamps)]);
        }
    }

    private static List<Step> AlwaysOn(NodeDesign node, Board board, BenchPlan bench, Evidence evidence, long period)
    {
        var idle = evidence.Current(node.Key, PowerState.Active) is { } measured
            ? Fact.Of(measured.Milliamps, "measured: " + measured.How, Confidence.Measured)
            : node.Link == LinkKind.Wifi ? board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps : board.Currents.ActiveMilliamps;
        var loads = new List<Load> { new(board.Label, idle) };
        foreach (var load in bench.Loads)
        {
            if (load is { StaysOn: true, ActiveMilliamps: { } on })
            {
                loads.Add(new(load.Label, on));
            }
            else if (load is { SleepMicroamps: { } rest })
            {
                loads.Add(new(load.Label, Scale(rest, 0.001)));
            }
        }
        var steps = new List<Step>();
        var reading = bench.Loads.Where(l => l is { StaysOn: false, ConversionMs: not null, ActiveMilliamps: not null } && node.Readings.Any(r => r.Part == l.Part && r.IntervalMs is not null)).ToList();
        if (reading.OrderByDescending(l => l.ConversionMs!.Likely).FirstOrDefault() is { } longest && longest.ConversionMs!.High < period)
        {
            var shares = reading.Select(l => new Load(l.Label, Scale(l.ActiveMilliamps!, l.ConversionMs!.Likely / longest.ConversionMs!.Likely * ShareOf(node, l.Part, period))));
            steps.Add(new("measure", $"Measuring ({longest.Label} longest)", longest.ConversionMs!, [.. loads, .. shares]));
        }
        steps.Add(new("wait", "Awake, listening", Fact.Of(period, "rest of the cycle"), loads));
        return steps;
    }

    private static double ShareOf(NodeDesign node, string part, long period) =>
        node.Readings.Where(r => r.Part == part && r.IntervalMs is not null).Select(r => (double)period / r.IntervalMs!.Value).DefaultIfEmpty(1).Max();

    private static Figure Rest(long period, IEnumerable<Step> awake)
    {
        var list = awake.ToList();
        double Left(Func<Fact, double> ms) => Math.Max(0, period - list.Sum(s => ms(s.Ms)));
        return new("Rest of the cycle", Left(f => f.Likely), Left(f => f.High), Left(f => f.Low), Unit.Millisecond,
            new Working("t = T − Σ awake", [new("T", period, Unit.Millisecond, "cycle"), new("awake", list.Sum(s => s.Ms.Likely), Unit.Millisecond, "segments before")], "arithmetic"));
    }

    private static Figure AtSupply(Step step, Supply supply)
    {
        var load = Sum($"{step.Label}: at the board", step.Loads.Select(l => Band(l.Label, l.Milliamps, Unit.Milliamp, l.Milliamps.Source)).ToList(), Unit.Milliamp, "I = Σ loads");
        if (supply.Efficiency is not { } efficiency)
        {
            return new($"{step.Label}: current", load.Value, load.Low, load.High, Unit.Milliamp, load.Working);
        }
        double Cell(double mA, double eff, double idle) => mA * supply.OutVolts / (supply.CellVolts * eff) + idle;
        var idleFact = supply.IdleMilliamps!;
        return new($"{step.Label}: current from the cell", Cell(load.Value!.Value, efficiency.Likely, idleFact.Likely), Cell(load.Low!.Value, efficiency.High, idleFact.Low), Cell(load.High!.Value, efficiency.Low, idleFact.High), Unit.Milliamp,
            new Working("Icell = I · Vout / (Vcell · η) + Iidle",
                [new("I", load.Value.Value, Unit.Milliamp, "board and parts"), new("Vout", supply.OutVolts, Unit.Volt, "converter"), new("Vcell", supply.CellVolts, Unit.Volt, "nominal"), new("η", efficiency.Likely, "", efficiency.Source), new("Iidle", idleFact.Likely, Unit.Milliamp, idleFact.Source)],
                "energy balance of a switching converter", [load]));
    }

    private static Figure? Life(NodeDesign node, HardwareCatalogue catalogue, Figure average, bool cold)
    {
        if (node.Power.Kind != PowerKind.Cells || catalogue.Cell(node.Power.Cell ?? "") is not { } cell)
        {
            return null;
        }
        double? Days(double capacity, double usable, double milliamps, double loss) => Energy.LifeDays(capacity * node.Power.Parallel, usable, milliamps * 1000, loss);
        var likely = Days(cell.CapacityMilliampHours.Likely, cell.UsableFraction.Likely, average.Value!.Value, cell.SelfDischargePerYear.Likely);
        var low = Days(cell.CapacityMilliampHours.Low, cell.UsableFraction.Low * (cold ? cell.ColdFactor.Likely : 1), average.High!.Value, cell.SelfDischargePerYear.High);
        var high = Days(cell.CapacityMilliampHours.High, cell.UsableFraction.High, average.Low!.Value, cell.SelfDischargePerYear.Low);
        return new("Battery life", likely, low, high, Unit.Day, new Working(
            "days = C · u / (Iavg + C · s / 8766 h) / 24" + (cold ? "; low end with the capacity at 0 °C" : ""),
            [new("C", cell.CapacityMilliampHours.Likely * node.Power.Parallel, Unit.MilliampHour, cell.CapacityMilliampHours.Source), new("u", cell.UsableFraction.Likely, "", cell.UsableFraction.Source),
                new("Iavg", average.Value.Value, Unit.Milliamp, "average current"), new("s", cell.SelfDischargePerYear.Likely, "a year", cell.SelfDischargePerYear.Source)],
            "charge bookkeeping", [average]));
    }

    private static IReadOnlyList<ReadingTiming> Timings(NodeDesign node, Board board, BenchPlan bench, HardwareCatalogue catalogue, long period, double awakeMs)
    {
        var list = new List<ReadingTiming>();
        foreach (var reading in node.Readings)
        {
            var load = bench.Loads.FirstOrDefault(l => l.Part == reading.Part);
            var unit = node.Part(reading.Part) is { } instance ? catalogue.Part(instance.Part)?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity)?.Unit ?? "" : "";
            var wait = reading.IntervalMs ?? 0;
            var work = node.Sleeps ? awakeMs : (load?.ConversionMs?.High ?? 0) + (node.Link == LinkKind.Wifi ? WifiSendMs.High : 0);
            var lateness = Figure.Exact("Worst lateness", (wait + work) / 1000, Unit.Second, new Working("t = interval + measuring and sending",
                [new("interval", wait / 1000.0, Unit.Second, reading.IntervalMs is null ? "sent when it changes" : "reading"), new("measuring and sending", work / 1000, Unit.Second, "cycle")], "arithmetic"));
            list.Add(new(reading.Key, reading.Label, reading.Quantity, unit, reading.IntervalMs is { } i ? (int)Math.Max(1, i / period) : 0, reading.IntervalMs, lateness));
        }
        return list;
    }

    private static Supply SupplyAt(NodeDesign node, HardwareCatalogue catalogue) =>
        node.Power is { Kind: PowerKind.Cells, StepUp: true } && catalogue.Cell(node.Power.Cell ?? "") is { } cell
            ? new(5, cell.NominalVolts, StepUpEfficiency, StepUpIdleMilliamps)
            : new(1, 1, null, null);

    private static Fact Scale(Fact fact, double by) => fact with { Min = fact.Min * by, Typ = fact.Typ * by, Max = fact.Max * by };

    private static Figure Band(string label, Fact fact, string unit, string source) =>
        new(label, fact.Likely, fact.Low, fact.High, unit, new Working("from the catalogue or a measurement", [new(label, fact.Likely, unit, source)], source));

    private static Figure Sum(string label, IReadOnlyList<Figure> parts, string unit, string formula) =>
        new(label, parts.Sum(p => p.Value), parts.Sum(p => p.Low), parts.Sum(p => p.High), unit,
            new Working(formula, [.. parts.Select(p => new WorkingInput(p.Label, p.Value!.Value, unit, p.Working.Source))], "charge bookkeeping", parts));

    private sealed record Load(string Label, Fact Milliamps);

    private sealed record Step(string Key, string Label, Fact Ms, IReadOnlyList<Load> Loads);

    private sealed record Supply(double OutVolts, double CellVolts, Fact? Efficiency, Fact? IdleMilliamps)
    {
        public double AtCell(double milliamps) => Efficiency is { } e ? milliamps * OutVolts / (CellVolts * e.Likely) : milliamps;
    }
}
