using Cenotic.Core.Bench;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>Limits that parts and receivers set: self-heating, values in a message, spacing of messages.</summary>
internal static class LimitFindings
{
    private const double NoticedKelvin = 0.2;
    private const int MostBatch = 1000;
    private static readonly Fact KelvinPerWatt = new(60, 150, 300, "planning value for a small module in still air", Confidence.Prudent);

    internal static void Of(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, List<Finding> findings)
    {
        SelfHeating(node, plan, bench, findings);
        Fields(node, plan, bench, setting, findings);
        Spacing(node, plan, bench, setting, findings);
        OutputFindings.Of(node, setting.Catalogue, findings);
    }

    private static void SelfHeating(NodeDesign node, RhythmPlan plan, BenchPlan bench, List<Finding> findings)
    {
        foreach (var reading in node.Readings.Where(r => r.Quantity is "temperature" or "humidity").DistinctBy(r => r.Part))
        {
            if (
                bench.Loads.FirstOrDefault(l => l.Part == reading.Part)
                    is not { StaysOn: false, ActiveMilliamps: { } active, ConversionMs: { } conversion } load
                || plan
                    .Readings.Where(t => t.IntervalMs is not null && node.Readings.Any(r => r.Key == t.Reading && r.Part == reading.Part))
                    .Min(t => t.IntervalMs)
                    is not { } every
            )
            {
                continue;
            }
            var watts = active.Likely / 1000 * load.RailVolts;
            double Rise(double ms) => watts * Math.Min(1, conversion.Likely / ms) * KelvinPerWatt.Likely;
            if (Rise(every) <= NoticedKelvin)
            {
                continue;
            }
            var enough = (long)Math.Ceiling(watts * conversion.Likely * KelvinPerWatt.Likely / NoticedKelvin / 1000) * 1000;
            var rarer = node
                .Readings.Where(r => r.Part == reading.Part && r.IntervalMs < enough)
                .Select(r => new PutReading(node.Key, r with { IntervalMs = enough }))
                .ToList();
            findings.Add(
                new(
                    "RHYTHM-SELF-HEATING",
                    Severity.Note,
                    new("rhythm", node.Key, reading.Key),
                    $"Read every {Lateness.Say(every / 1000.0)}, {load.Label} warms itself by about {Rise(every):0.0} °C.",
                    $"It takes {watts * 1000:0.#} mW for {conversion.Likely:0.#} ms each time; a small module rises by about {KelvinPerWatt.Likely:0} "
                        + "°C for each watt.",
                    enough <= 7 * Schedule.DayMs ? [new($"Read every {Lateness.Say(enough / 1000.0)}", rarer)] : [],
                    "Or measure the offset against a trusted thermometer.",
                    KelvinPerWatt.Source
                )
            );
        }
    }

    private static void Fields(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, List<Finding> findings)
    {
        if (node.Sending?.MostFields is not { } most || Values(node, plan) <= most)
        {
            return;
        }
        var single = node with { Readings = [.. node.Readings.Select(r => r with { BatchOf = 1 })] };
        var helps = setting.Again(single, node, bench) is { } then && Values(single, then.Plan) <= most;
        findings.Add(
            new(
                "RHYTHM-FIELDS-MANY",
                Severity.Risk,
                new("rhythm", node.Key),
                $"A message of {node.Label} has up to {Values(node, plan)} values; its receiver takes {most}.",
                "The rest is dropped, or the message is refused.",
                helps ? [new("Send each reading, without batches", NodeEdits.Between(node, single))] : [],
                "Send in several messages, or leave readings out.",
                "limit of the receiver, from the design"
            )
        );
    }

    private static int Values(NodeDesign node, RhythmPlan plan) => plan.Wakes.Max(w => Sending.Values([.. node.Readings.Where(r => w.Sends.Contains(r.Key))]));

    private static void Spacing(NodeDesign node, RhythmPlan plan, BenchPlan bench, RhythmSetting setting, List<Finding> findings)
    {
        if (node.Sending?.LeastSpacingMs is not { } spacing)
        {
            return;
        }
        if (plan.LeastSendGapMs is { } gap && gap < spacing)
        {
            var remedies = Spaced(node, spacing)
                .Where(w => setting.Again(w.Changed, node, bench)?.Plan.LeastSendGapMs >= spacing)
                .Take(2)
                .Select(w => new Remedy(w.Label, NodeEdits.Between(node, w.Changed)));
            findings.Add(SpacingTooShort(node, spacing, gap, remedies));
        }
        var changing = node.Readings.Where(r => r.IntervalMs is null && r.Output is null).ToList();
        if (changing.Count > 0)
        {
            findings.Add(SpacingChanges(node, spacing, changing));
        }
    }

    /// <summary>Ways in which the node may come to send further apart.</summary>
    private static IEnumerable<(string Label, NodeDesign Changed)> Spaced(NodeDesign node, long spacing)
    {
        var rarer = node with
        {
            Readings =
            [
                .. node.Readings.Select(r =>
                    r with
                    {
                        IntervalMs = r.IntervalMs < spacing ? spacing : r.IntervalMs,
                        HeartbeatMs = r.IntervalMs is null && r.HeartbeatMs < spacing ? spacing : r.HeartbeatMs,
                    }
                ),
            ],
        };
        var batched = node with
        {
            Readings =
            [
                .. node.Readings.Select(r =>
                    r.IntervalMs is { } each and > 0 && each * r.BatchOf < spacing
                        ? r with
                        {
                            BatchOf = (int)Math.Min(MostBatch, (spacing + each - 1) / each),
                        }
                        : r
                ),
            ],
        };
        // Sends that do not fall together come near each other however rare each is: with one interval and one batch they do.
        var together = node with
        {
            Readings =
            [
                .. node.Readings.Select(r =>
                    r.IntervalMs is null ? r with { HeartbeatMs = r.HeartbeatMs is null ? null : spacing } : r with { IntervalMs = spacing, BatchOf = 1 }
                ),
            ],
        };
        return
        [
            ($"Read every {Lateness.Say(spacing / 1000.0)}", rarer),
            ("Send the readings of that time together", batched),
            ($"Read and send everything every {Lateness.Say(spacing / 1000.0)}", together),
        ];
    }

    private static Finding SpacingTooShort(NodeDesign node, long spacing, long gap, IEnumerable<Remedy> remedies) =>
        new(
            "RHYTHM-SPACING",
            Severity.Risk,
            new("rhythm", node.Key),
            $"{node.Label} sends {Lateness.Say(gap / 1000.0)} after another message; its receiver allows a message every "
                + $"{Lateness.Say(spacing / 1000.0)}.",
            "Messages in between are refused, or the node is shut out.",
            [.. remedies],
            null,
            "limit of the receiver, from the design"
        );

    private static Finding SpacingChanges(NodeDesign node, long spacing, List<ReadingDesign> changing) =>
        new(
            "RHYTHM-SPACING-CHANGES",
            Severity.Risk,
            new("rhythm", node.Key, changing[0].Key),
            $"{string.Join(" and ", changing.Take(3).Select(r => r.Label))} of {node.Label} {(changing.Count == 1 ? "is" : "are")} sent when "
                + "something changes: that may be right after another message; its receiver allows a message every "
                + $"{Lateness.Say(spacing / 1000.0)}.",
            "What comes too soon is refused, and a change may never be told.",
            [
                new(
                    $"Read {(changing.Count == 1 ? "it" : "them")} every {Lateness.Say(spacing / 1000.0)} instead",
                    [.. changing.Select(r => new PutReading(node.Key, r with { IntervalMs = spacing, HeartbeatMs = null, BatchOf = 1 }))]
                ),
            ],
            "Or let its program hold a change back until the time is over, and send the newest then.",
            "limit of the receiver, from the design"
        );
}
