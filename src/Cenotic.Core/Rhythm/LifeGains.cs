using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>Changes that lengthen the life of a node on cells, each worked out and ranked by the months it gains.</summary>
internal static class LifeGains
{
    internal const double DaysOfMonth = 30.4375;

    private const int Most = 3,
        BatchOf = 10,
        MostTogether = 4;

    /// <summary>A change that gains less, and makes it last less than a quarter longer, is not worth the work.
    /// A node that lives for a day gains by ratio what another gains by months.</summary>
    private const double LeastMonths = 0.1,
        LeastRatio = 1.25;
    private static readonly long[] Ladder = [60_000, 300_000, 900_000, 3_600_000];
    private static readonly string[] ModulesTried = ["nrf24l01p", "lora-sx1276"];

    internal static IReadOnlyList<LifeGain> Of(NodeDesign node, BenchPlan bench, RhythmPlan plan, RhythmSetting setting)
    {
        if (plan.Life?.Value is not { } today || !bench.Complete)
        {
            return [];
        }
        // Estimated first; pins are planned only for what would be offered.
        var ways = Ways(node, bench, today, setting)
            .Select(w => (w.Label, w.Changed, Days: setting.LikelyDays(w.Changed, bench) ?? 0))
            .Where(w => IsWorth(today, w.Days));
        var gains = new List<LifeGain>();
        foreach (var (label, changed, _) in ways.OrderByDescending(w => w.Days))
        {
            if (gains.Count < Most && setting.Again(changed, node, bench)?.Plan is { Life: { Value: { } days } life } && IsWorth(today, days))
            {
                gains.Add(new($"{label}: {Lateness.Months(days)}", NodeEdits.Between(node, changed), life, (days - today) / DaysOfMonth));
            }
        }
        // Where one change alone makes it live long enough nobody wants several.
        if (
            today < RhythmPlanner.ShortLifeDays
            && gains.All(g => g.Life.Value < RhythmPlanner.ShortLifeDays)
            && Together(node, bench, setting, today) is { } together
            && gains.All(g => together.Life.Value >= g.Life.Value * LeastRatio)
        )
        {
            gains.Add(together);
        }
        return [.. gains.OrderByDescending(g => g.Months)];
    }

    private static bool IsWorth(double today, double days) => (days - today) / DaysOfMonth >= LeastMonths || days >= today * LeastRatio;

    /// <summary>
    /// Several changes together: each time the one that helps most of what is left to change, until it lives long enough or nothing helps any more. A node that
    /// is far from living long wants its board, its radio and its interval changed, and none of them alone shows that.
    /// </summary>
    private static LifeGain? Together(NodeDesign node, BenchPlan bench, RhythmSetting setting, double today)
    {
        var (now, days, labels) = (node, today, new List<string>());
        while (labels.Count < MostTogether && days < RhythmPlanner.ShortLifeDays)
        {
            var best = Ways(now, bench, days, setting)
                .Where(w => !labels.Any(l => SameKind(l, w.Label)))
                .Select(w => (w.Label, w.Changed, Days: setting.LikelyDays(w.Changed, bench) ?? 0))
                .DefaultIfEmpty()
                .MaxBy(w => w.Days);
            // What makes a tenth of difference is no reason to change anything.
            if (best.Label is null || best.Days < days * 1.1)
            {
                break;
            }
            (now, days) = (best.Changed, best.Days);
            labels.Add(best.Label);
        }
        return labels.Count > 1 && setting.Again(now, node, bench)?.Plan is { Life: { Value: { } lives } life }
            ? new($"{string.Join("; ", labels)}: {Lateness.Months(lives)}", NodeEdits.Between(node, now), life, (lives - today) / DaysOfMonth)
            : null;
    }

    /// <summary>Changes of the same thing: two boards, two radios, two intervals. The first words say what is changed.</summary>
    private static bool SameKind(string one, string other) => string.Join(' ', one.Split(' ').Take(2)) == string.Join(' ', other.Split(' ').Take(2));

    /// <summary>What makes the life long enough: each gain that does alone, else the fewest of them together.</summary>
    internal static List<Remedy> Remedies(NodeDesign node, BenchPlan bench, IReadOnlyList<LifeGain> gains, RhythmSetting setting)
    {
        var alone = gains.Where(g => g.Life.Value >= RhythmPlanner.ShortLifeDays).Select(g => new Remedy(g.Label, g.Edits)).ToList();
        if (alone.Count > 0)
        {
            return alone;
        }
        var together = node;
        var labels = new List<string>();
        foreach (var gain in gains)
        {
            together = NodeEdits.Apply(together, node, gain.Edits);
            labels.Add(gain.Label.Split(':')[0]);
            if (
                labels.Count > 1
                && setting.LikelyDays(together, bench) >= RhythmPlanner.ShortLifeDays
                && setting.Again(together, node, bench)?.Plan.Life is { Value: >= RhythmPlanner.ShortLifeDays and var days }
            )
            {
                return [new($"{string.Join("; ", labels)}: {Lateness.Months(days)}", NodeEdits.Between(node, together))];
            }
        }
        return [];
    }

    private static IEnumerable<(string Label, NodeDesign Changed)> Ways(NodeDesign node, BenchPlan bench, double days, RhythmSetting setting)
    {
        if (Rarer(node, bench, setting) is { } rarer)
        {
            yield return rarer;
        }
        var sparse = node.Readings.Where(r => r.IntervalMs is not null && r.BatchOf < BatchOf).ToList();
        if (sparse.Count > 0)
        {
            yield return (
                $"Send {BatchOf} readings together",
                node with
                {
                    Readings = [.. node.Readings.Select(r => sparse.Contains(r) ? r with { BatchOf = BatchOf } : r)],
                }
            );
        }
        if (node.Power.Parallel < 20)
        {
            var power = node.Power with { Parallel = Math.Min(20, node.Power.Parallel * 3) };
            yield return ($"Use {power.Parallel} cells side by side", node with { Power = power });
        }
        // Changes of the hardware want their pins planned: only where the life is short.
        foreach (var way in days >= RhythmPlanner.ShortLifeDays ? [] : Hardware(node, bench, setting))
        {
            yield return way;
        }
    }

    private static IEnumerable<(string Label, NodeDesign Changed)> Hardware(NodeDesign node, BenchPlan bench, RhythmSetting setting)
    {
        if (!node.Sleeps)
        {
            yield return ("Let it sleep between readings", node with { Sleeps = true });
        }
        if (
            bench
                .Loads.Where(l =>
                    node.Sleeps && l is { Switched: false, StaysOn: false, SleepMicroamps: not null } && RhythmFindings.HasSupply(node, l, setting.Catalogue)
                )
                .MaxBy(l => l.SleepMicroamps!.Likely)
                is { SleepMicroamps.Likely: > 10 } drain
            && node.Part(drain.Part) is { } instance
        )
        {
            yield return (
                $"Switch the supply of {drain.Label} off between readings",
                node with
                {
                    Parts = [.. node.Parts.Select(p => p == instance ? p with { SwitchSupply = true } : p)],
                }
            );
        }
        foreach (var board in Thriftier(node, setting.Catalogue))
        {
            yield return ($"Use the {board.Label}", node with { Board = board.Id, Wires = [] });
        }
        foreach (var radio in node.Link == LinkKind.Wifi ? Radios(node, setting.Catalogue) : [])
        {
            yield return radio;
        }
        if (node.Power.StepUp)
        {
            foreach (var cell in setting.Catalogue.Cells.Where(c => c.MaxPulseMilliamps.Likely >= 500))
            {
                var power = node.Power with { Cell = cell.Id, StepUp = false, Charger = null };
                if (NodeSupply.Of(setting.Catalogue.Board(node.Board)!, power, setting.Catalogue).Input is not null)
                {
                    yield return ($"Feed it from {cell.Label} without a step-up", node with { Power = power });
                }
            }
        }
    }

    /// <summary>By the other radios of its board, and by short-range and long-range modules.</summary>
    private static IEnumerable<(string Label, NodeDesign Changed)> Radios(NodeDesign node, HardwareCatalogue catalogue)
    {
        foreach (var link in LinkKinds.OfBoards.Where(l => catalogue.Board(node.Board)?.Sends(l) == true))
        {
            yield return ($"Send over {link.Name()} of the board instead of Wi-Fi", node with { Link = link });
        }
        foreach (var radio in ModulesTried.Select(catalogue.Part).OfType<Part>())
        {
            var module = new PartInstance(NodeEdits.FreeKey(node, "radio"), radio.Label, radio.Id);
            yield return ($"Send over a {radio.Label} instead of Wi-Fi", node with { Link = LinkKind.LongRange, Parts = [.. node.Parts, module] });
        }
    }

    /// <summary>Readings at least ten times rarer: the first rung that lives long enough, else the last.</summary>
    private static (string Label, NodeDesign Changed)? Rarer(NodeDesign node, BenchPlan bench, RhythmSetting setting)
    {
        var period = Schedule.Of(node).PeriodMs;
        (string, NodeDesign)? last = null;
        foreach (var rung in Ladder.Where(l => l >= period * 10))
        {
            var changed = node with
            {
                Readings =
                [
                    .. node.Readings.Select(r =>
                        r with
                        {
                            IntervalMs = r.IntervalMs < rung ? rung : r.IntervalMs,
                            HeartbeatMs = r.IntervalMs is null && r.HeartbeatMs < rung ? rung : r.HeartbeatMs,
                        }
                    ),
                ],
            };
            last = ($"Read every {Lateness.Say(rung / 1000.0)} instead of {Lateness.Say(period / 1000.0)}", changed);
            if (setting.LikelyDays(changed, bench) >= RhythmPlanner.ShortLifeDays)
            {
                break;
            }
        }
        return last;
    }

    /// <summary>The two boards that draw least asleep, with the radio that the node sends by.</summary>
    internal static IEnumerable<Board> Thriftier(NodeDesign node, HardwareCatalogue catalogue)
    {
        var now = catalogue.Board(node.Board)?.Currents.DeepSleepMilliamps?.Likely ?? double.MaxValue;
        return catalogue
            .Boards.Where(b => b.Currents.DeepSleepMilliamps?.Likely < now && b.Sends(node.Link) && NodeSupply.Of(b, node.Power, catalogue).Input is not null)
            .OrderBy(b => b.Currents.DeepSleepMilliamps!.Likely)
            .Take(2);
    }
}
