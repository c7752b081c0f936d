using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>From the physical event to the arrival of a reading, and to the notice of a rule.</summary>
internal static class Lateness
{
    private static readonly long[] Ladder = [1_000, 2_000, 5_000, 10_000, 15_000, 30_000, 60_000, 120_000, 300_000, 600_000, 900_000, 1_800_000, 3_600_000];

    internal static List<ReadingTiming> Timings(NodeDesign node, Schedule schedule, List<PlannedWake> wakes, RhythmSetting setting)
    {
        var lossy = !SendDesign.Of(node).Acknowledged && setting.LinkOf(node).Delivered < 1;
        return [.. node.Readings.Select(r => Timing(node, r, schedule, wakes, setting, lossy))];
    }

    private static ReadingTiming Timing(NodeDesign node, ReadingDesign reading, Schedule schedule, List<PlannedWake> wakes, RhythmSetting setting, bool lossy)
    {
        var turn = schedule.Turns.FirstOrDefault(t => t.Reading.Key == reading.Key && reading.IntervalMs is not null);
        var sending = wakes.Where(w => w.Sent.Any(r => r.Key == reading.Key)).ToList();
        var path = sending.SelectMany(w => new[] { (Likely: PathMs(w, s => s.Ms.Likely), High: PathMs(w, s => s.Ms.High), w.PerDay) }).ToList();
        var (likely, high) = path.Count > 0 ? (path.MaxBy(p => p.PerDay).Likely, path.Max(p => p.High)) : (0, 0);
        var onward = path.Count > 0 ? setting.Relayed.OnwardMs : null;
        long? every = turn is null ? null : turn.Every * schedule.PeriodMs;
        var batch = turn is null ? 1 : Math.Max(1, reading.BatchOf);
        double gap = every ?? 0,
            lost = lossy
                ? every is null
                    ? reading.HeartbeatMs ?? 0
                    : gap * batch
                : 0;
        var formula = $"t = interval · batch + steps{(onward is null ? "" : " + relays")}{(lossy ? " + one message lost" : "")}";
        var worst = Figure.Exact(
            "Worst lateness",
            (gap * batch + high + (onward?.High ?? 0) + lost) / 1000,
            Unit.Second,
            new Working(formula, Inputs(gap, every, batch, high, onward, lossy ? lost : null), "arithmetic")
        );
        var usual = Figure.Exact(
            "Usual lateness",
            (gap / 2 + gap * (batch - 1) / 2 + likely + (onward?.Likely ?? 0)) / 1000,
            Unit.Second,
            new Working(
                $"t = interval / 2 + interval · (batch − 1) / 2 + steps{(onward is null ? "" : " + relays")}",
                [
                    new("interval", gap / 1000, Unit.Second, every is null ? "sent when it changes" : "timetable"),
                    new("batch", batch, "readings", "design"),
                    new("steps", likely / 1000, Unit.Second, "likely times"),
                    .. onward is null ? Array.Empty<WorkingInput>() : [new("relays", onward.Likely / 1000, Unit.Second, onward.Source)],
                ],
                "arithmetic"
            )
        );
        return new ReadingTiming(
            reading.Key,
            reading.Label,
            reading.Quantity,
            Timetable.QuantityOf(node, reading, setting.Catalogue)?.Unit ?? "",
            turn is null ? 0 : (int)Math.Min(int.MaxValue, turn.Every),
            every,
            worst,
            usual
        )
        {
            IsLate = worst.Value * 1000 > reading.WantedWithinMs,
        };
    }

    /// <param name="lostMs">Time until the next message where one is lost; null where each is sent until it arrives.</param>
    private static List<WorkingInput> Inputs(double gapMs, long? every, int batch, double stepsMs, Fact? onward, double? lostMs)
    {
        List<WorkingInput> inputs =
        [
            new("interval", gapMs / 1000, Unit.Second, every is null ? "sent when it changes" : "timetable"),
            new("batch", batch, "readings", "design"),
            new("wake, measuring and sending, with all tries", stepsMs / 1000, Unit.Second, "steps of the wake"),
        ];
        if (onward is not null)
        {
            inputs.Add(new("passed on by relays", onward.High / 1000, Unit.Second, onward.Source));
        }
        if (lostMs is { } lost)
        {
            inputs.Add(new("one message lost", lost / 1000, Unit.Second, "no acknowledgement: the next one tells"));
        }
        return inputs;
    }

    internal static void Findings(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, List<Finding> findings)
    {
        foreach (var reading in node.Readings.Where(r => r.WantedWithinMs is > 0))
        {
            var wanted = reading.WantedWithinMs!.Value / 1000.0;
            if (plan.Readings.FirstOrDefault(r => r.Reading == reading.Key) is { IsLate: true, Lateness.Value: { } late })
            {
                var remedies = Ways(node, reading, wanted, setting.Catalogue)
                    .Select(w => (w.Label, Node: With(node, w.Reading), w.Reading))
                    .Select(w => (w.Label, w.Reading, Then: setting.Again(w.Node, node, bench)?.Plan))
                    .Where(w => w.Then?.Readings.FirstOrDefault(r => r.Reading == reading.Key)?.Lateness.Value <= wanted && Keeps(plan, w.Then!))
                    .Select(w => new Remedy(w.Label + Cost(plan, w.Then!), [new PutReading(node.Key, w.Reading)]));
                findings.Add(
                    new(
                        "RHYTHM-LATE",
                        Severity.Risk,
                        new("rhythm", node.Key, reading.Key),
                        $"{reading.Label} can be {Say(late)} late; you want to know within {Say(wanted)}.",
                        "From the event it takes the wait for the next reading, the batch, the measurement and the send.",
                        [.. remedies],
                        "A board that starts and connects faster, or one that is always on.",
                        "arithmetic"
                    )
                );
            }
        }
    }

    /// <summary>Ways to know sooner.</summary>
    internal static IEnumerable<(string Label, ReadingDesign Reading)> Ways(
        NodeDesign node,
        ReadingDesign reading,
        double wantedSeconds,
        HardwareCatalogue catalogue
    )
    {
        if (reading.IntervalMs is { } interval)
        {
            var least = catalogue.Part(node.Part(reading.Part)?.Part ?? "")?.MinIntervalMs?.Likely ?? 0;
            if (reading.BatchOf > 1)
            {
                yield return ("Send each reading", reading with { BatchOf = 1 });
            }
            foreach (
                var shorter in Ladder
                    .Where(l => l < interval && l >= least && l * Math.Max(1, reading.BatchOf) / 1000.0 < wantedSeconds)
                    .OrderDescending()
                    .Take(2)
            )
            {
                yield return ($"Read every {Say(shorter / 1000.0)}", reading with { IntervalMs = shorter });
            }
            if (RhythmFindings.CanWake(node, reading, catalogue))
            {
                yield return (
                    "Send when it changes, and wake by its pin",
                    reading with
                    {
                        IntervalMs = null,
                        HeartbeatMs = Math.Max(interval, 60_000),
                        BatchOf = 1,
                    }
                );
            }
        }
    }

    internal static NodeDesign With(NodeDesign node, ReadingDesign reading) =>
        node with
        {
            Readings = [.. node.Readings.Select(r => r.Key == reading.Key ? reading : r)],
        };

    /// <summary>What a change costs of the life on cells, for the label of a remedy.</summary>
    internal static string Cost(RhythmPlan now, RhythmPlan then) =>
        now.Life?.Value is not { } before || then.Life?.Value is not { } after ? ""
        : Months(after) == Months(before) ? $": {Months(after)} on its cells as now"
        : $": {Months(after)} on its cells instead of {Months(before)}";

    /// <summary>True when a change adds no new stop of the timetable: it still gets to sleep.</summary>
    internal static bool Keeps(RhythmPlan now, RhythmPlan then) => !Sleepless(then) || Sleepless(now);

    internal static bool Sleepless(RhythmPlan plan) => plan.Sleeps && plan.Wakes.Any(w => w.Share > 0 && w.Segments[^1].Duration.Value <= 0);

    internal static string Months(double days) => days < 60 ? $"{days:0} days" : $"{days / LifeGains.DaysOfMonth:0.#} months";

    internal static string Say(double seconds) =>
        seconds < 1 ? $"{seconds * 1000:0} ms"
        : seconds < 120 ? $"{seconds:0.#} s"
        : seconds < 7_200 ? $"{seconds / 60:0.#} min"
        : $"{seconds / 3600:0.#} h";

    /// <summary>Time of a wake until its message has arrived: all steps to the last of sending.</summary>
    private static double PathMs(PlannedWake wake, Func<Step, double> ms)
    {
        var last = wake.Steps.FindLastIndex(s => s.Key is "send" or "write" or "listen");
        return wake.Steps.Take(last + 1).Sum(ms);
    }
}
