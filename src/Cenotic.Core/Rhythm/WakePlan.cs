using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>A sort of wake with its steps, before it becomes figures.</summary>
/// <param name="Share">Of the wakes by the clock; 0 for one that comes by events.</param>
/// <param name="PerDay">How many come on a day.</param>
internal sealed record PlannedWake(
    string Label,
    double Share,
    double PerDay,
    IReadOnlyList<ReadingDesign> Due,
    IReadOnlyList<ReadingDesign> Sent,
    List<Step> Steps
)
{
    internal double AwakeMs => Steps.Sum(s => s.Ms.Likely);

    internal double LongestAwakeMs => Steps.Sum(s => s.Ms.High);
}

/// <summary>All wakes of a node: by the clock, by events, by pulses that are only counted, by messages that it passes on.</summary>
internal static class WakePlan
{
    private const double EventsPerDay = 24,
        PulsesPerDay = 100;

    internal static List<PlannedWake> Of(NodeDesign node, Schedule schedule, WakeCycle cycle, HardwareCatalogue catalogue, Relayed relayed)
    {
        var wakes = schedule.Sorts.Select(s => new PlannedWake(Label(s), s.Share, 0, s.Due, s.Sent, cycle.Steps(s.Due, s.Sent))).ToList();
        var seconds = wakes.Sum(w => w.Share * Math.Max(schedule.PeriodMs, w.AwakeMs)) / 1000;
        wakes = [.. wakes.Select(w => w with { PerDay = w.Share * 86_400 / seconds })];
        foreach (var (alike, perDay) in Changes(node))
        {
            wakes.Add(new($"{string.Join(", ", alike.Select(r => r.Label))} changes", 0, perDay, [], alike, cycle.Steps([], alike)));
        }
        foreach (var counted in node.Readings.Where(r => r.IntervalMs is not null && KindOf(node, r, catalogue) == ReadingKind.Counter && r.PerDay is not 0))
        {
            if (cycle.Pulse() is { Count: > 0 } steps)
            {
                wakes.Add(new($"{counted.Label}: a pulse", 0, counted.PerDay ?? PulsesPerDay, [], [], steps));
            }
        }
        var passedOn = relayed.ForOthers.Select(m => new PlannedWake($"Pass on {m.Label}", 0, m.PerDay, [], [], cycle.PassOn(m.Bytes)));
        return [.. wakes, .. passedOn.Where(w => w.Steps.Count > 0)];
    }

    /// <summary>Readings that are sent when they change, and how often a day that is expected. Those of a part change together: one wake serves them.</summary>
    internal static IEnumerable<(IReadOnlyList<ReadingDesign> Readings, double PerDay)> Changes(NodeDesign node) =>
        node
            .Readings.Where(r => r.IntervalMs is null)
            .GroupBy(r => r.Part)
            .Select(alike => ((IReadOnlyList<ReadingDesign>)[.. alike], alike.Max(r => r.PerDay ?? EventsPerDay)))
            .Where(c => c.Item2 > 0);

    internal static ReadingKind? KindOf(NodeDesign node, ReadingDesign reading, HardwareCatalogue catalogue) =>
        catalogue.Part(node.Part(reading.Part)?.Part ?? "")?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity)?.Kind;

    private static string Label(WakeSort sort)
    {
        var read = sort.Due.Count(r => r.IntervalMs is not null);
        var sent = Sending.Values(sort.Sent);
        return (read, sent) switch
        {
            (0, 0) => "Wake",
            (_, 0) => $"Read {read}, keep",
            (0, _) => $"Send {sent}",
            _ => read == sent ? $"Read and send {read}" : $"Read {read}, send {sent}",
        };
    }
}
