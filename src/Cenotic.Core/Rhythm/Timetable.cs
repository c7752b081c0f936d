using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>What follows from the timetable besides charge: messages, load of the buses, jitter, bytes on a card.</summary>
internal static class Timetable
{
    /// <summary>A line on the card begins with the time by ISO 8601 to the second and ends with a line feed.</summary>
    private const int LineBytes = 21;

    internal static List<Figure> Figures(NodeDesign node, BenchPlan bench, Schedule schedule, List<PlannedWake> wakes, HardwareCatalogue catalogue)
    {
        var sends = wakes.Where(w => w.Sent.Count > 0).ToList();
        var figures = new List<Figure> { Messages(sends), ValuesSent(sends) };
        figures.AddRange(Buses(node, bench, schedule, catalogue));
        if (!node.Sleeps && wakes.Where(w => w.Share > 0).MaxBy(w => w.AwakeMs) is { } longest && longest.Due.Count > 1)
        {
            var busy = longest.Steps.Where(s => s.Key is "measure" or "bus").ToList();
            figures.Add(
                new(
                    "Jitter of a reading",
                    0,
                    0,
                    busy.Sum(s => s.Ms.High),
                    Unit.Millisecond,
                    new Working(
                        "at most the time of all that is due at the same moment",
                        [.. busy.Select(s => new WorkingInput(s.Label, s.Ms.High, Unit.Millisecond, s.Ms.Source))],
                        "timetable"
                    )
                )
            );
        }
        if (node.Link == LinkKind.Card)
        {
            var aYear =
                sends.Sum(w =>
                    w.PerDay
                    * w.Sent.Sum(r =>
                        (LineBytes + 1.0 + ValueText.Text(ValueText.Longest(QuantityOf(node, r, catalogue), r.Decimals)).Length)
                        * Math.Max(1, r.IntervalMs is null ? 1 : r.BatchOf)
                    )
                ) * 365.25;
            figures.Add(OnTheCard(figures, aYear));
        }
        return figures;
    }

    private static Figure Messages(List<PlannedWake> sends) =>
        Figure.Exact(
            "Messages",
            sends.Sum(w => w.PerDay),
            "a day",
            new Working(
                "n = Σ sending wakes a day",
                [.. sends.Take(8).Select(w => new WorkingInput(w.Label, w.PerDay, "a day", w.Share > 0 ? "timetable" : "expected, or a planning value"))],
                "counting"
            )
        );

    private static Figure ValuesSent(List<PlannedWake> sends) =>
        Figure.Exact(
            "Values sent",
            sends.Sum(w => w.PerDay * Sending.Values(w.Sent)),
            "a day",
            new Working(
                "n = Σ values of a message · messages a day",
                [.. sends.Take(8).Select(w => new WorkingInput(w.Label, Sending.Values(w.Sent), "values", "readings and batches"))],
                "counting"
            )
        );

    private static Figure OnTheCard(List<Figure> figures, double aYear) =>
        Figure.Exact(
            "On the card",
            aYear / 1e6,
            "MB a year",
            new Working(
                "bytes = lines · (time + comma + value + line feed)",
                [
                    new("time and line feed", LineBytes, Unit.Byte, "ISO 8601 to the second"),
                    new("values a day", figures[1].Value!.Value, "", "timetable"),
                    new("days", 365.25, "", "a year"),
                ],
                "counting"
            )
        );

    internal static PartQuantity? QuantityOf(NodeDesign node, ReadingDesign reading, HardwareCatalogue catalogue) =>
        catalogue.Part(node.Part(reading.Part)?.Part ?? "")?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity);

    private static IEnumerable<Figure> Buses(NodeDesign node, BenchPlan bench, Schedule schedule, HardwareCatalogue catalogue)
    {
        foreach (var bus in bench.Buses.Where(b => b.ClockKilohertz > 0))
        {
            var inputs = new List<WorkingInput>();
            double share = 0;
            foreach (var planned in bench.Parts.Where(p => p.Bus == bus.Name))
            {
                var turns = schedule.Turns.Where(t => t.Reading.Part == planned.Part && t.Reading.IntervalMs is not null).ToList();
                var bits = catalogue.Part(node.Part(planned.Part)?.Part ?? "")?.Interfaces.FirstOrDefault(i => i.Kind == planned.Interface)?.BitsPerReading;
                if (turns.Count > 0 && bits is > 0)
                {
                    var seconds = turns.Min(t => t.Every) * schedule.PeriodMs / 1000.0;
                    inputs.Add(new($"{planned.Label}: bits", bits.Value, "", "catalogue"));
                    inputs.Add(new($"{planned.Label}: every", seconds, Unit.Second, "timetable"));
                    share += bits.Value / seconds / (bus.ClockKilohertz!.Value * 1000);
                }
            }
            if (inputs.Count > 0)
            {
                yield return Figure.Exact(
                    $"Load of {bus.Name}",
                    share * 100,
                    Unit.Percent,
                    new Working("Σ bits / interval / clock", [.. inputs, new("clock", bus.ClockKilohertz!.Value, "kHz", "bench plan")], "bit counting")
                );
            }
        }
    }
}
