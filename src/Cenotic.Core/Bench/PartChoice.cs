using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Bench;

/// <summary>What a maker wants to know, and how well.</summary>
/// <param name="Quantity">temperature, motion and so on.</param>
/// <param name="Min">Least value that must be measured, in the unit of the quantity; null when it does not matter.</param>
/// <param name="Error">Greatest error that is still good enough, ±; null when it does not matter.</param>
/// <param name="LateMs">Longest wait for a value; null when it does not matter.</param>
/// <param name="OnCells">True when the node runs on cells: what draws current all the time counts against a part.</param>
public sealed record Wish(string Quantity, double? Min = null, double? Max = null, double? Error = null, double? LateMs = null, bool OnCells = false);

/// <summary>A part that grants a wish, or does not.</summary>
/// <param name="Reasons">What speaks for it, in order of weight.</param>
/// <param name="Exclusions">Why it cannot be; empty when it can.</param>
/// <param name="OnHand">How many lie in the drawer.</param>
public sealed record PartAnswer(string Part, string Label, bool Fits, IReadOnlyList<string> Reasons, IReadOnlyList<string> Exclusions, int OnHand);

/// <summary>Answers a wish with parts of the catalogue, ranked: those at hand first, then by accuracy, current and trouble.</summary>
public static class PartChoice
{
    private const double RestlessMicroamps = 500;

    /// <summary>All parts that give the quantity: those that fit in order, then those that do not with the reason.</summary>
    /// <param name="rails">Voltages the node's supply gives; empty when it has none yet.</param>
    public static IReadOnlyList<PartAnswer> Answer(
        Wish wish,
        HardwareCatalogue catalogue,
        IReadOnlyList<StockItem> stock,
        Surroundings around,
        IReadOnlyList<Rail> rails
    )
    {
        var answers = catalogue
            .Parts.Where(p => p.Quantities.Any(q => q.Quantity == wish.Quantity))
            .Select(p => Judge(wish, p, stock.FirstOrDefault(s => s.Id == p.Id)?.OnHand ?? 0, around, rails));
        return
        [
            .. answers
                .OrderByDescending(a => a.Answer.Fits)
                .ThenByDescending(a => a.Answer.OnHand > 0)
                .ThenBy(a => a.Score)
                .ThenBy(a => a.Answer.Part, StringComparer.Ordinal)
                .Select(a => a.Answer),
        ];
    }

    private static (PartAnswer Answer, double Score) Judge(Wish wish, Part part, int onHand, Surroundings around, IReadOnlyList<Rail> rails)
    {
        var q = part.Quantities.First(i => i.Quantity == wish.Quantity);
        var (no, yes, score) = (new List<string>(), new List<string>(), 0.0);
        if (onHand > 0)
        {
            yes.Add($"{onHand} at hand");
        }
        if (wish.Min < q.Min || wish.Max > q.Max)
        {
            no.Add($"It measures {q.Min:0.####} to {q.Max:0.####} {q.Unit}.".Replace(" .", ".", StringComparison.Ordinal));
        }
        var error = q.Error ?? (q.ErrorPercent is { } percent && (wish.Max ?? q.Max) is { } top ? percent / 100 * top : null);
        score += Accuracy(wish, q, error, yes, no);
        var wait = part.ConversionMs?.High ?? 0;
        if (wish.LateMs < Math.Max(wait, part.MinIntervalMs?.Likely ?? 0))
        {
            no.Add($"It gives a value each {Math.Max(wait, part.MinIntervalMs?.Likely ?? 0) / 1000:0.##} s at best.");
        }
        if (rails.Count > 0 && part.SupplyPin is not null && rails.All(r => r.Volts < part.SupplyMinVolts || r.Volts > part.SupplyMaxVolts))
        {
            no.Add($"It needs {part.SupplyMinVolts} to {part.SupplyMaxVolts} V.");
        }
        var resting = part.StaysOn ? part.ActiveMilliamps?.Likely * 1000 : part.SleepMicroamps?.Likely;
        if (wish.OnCells && resting is { } microamps)
        {
            (part.StaysOn && microamps > RestlessMicroamps ? no : yes).Add(
                microamps >= 1000
                    ? $"It draws {microamps / 1000:0.#} mA all the time{(part.StaysOn && microamps > RestlessMicroamps ? ": cells last days." : "")}"
                    : $"{microamps:0.##} µA at rest"
            );
            score += Math.Log10(1 + microamps);
        }
        Place(part, around, no);
        score += part.Interfaces.Count > 0 && part.Interfaces.All(i => i.Kind == InterfaceKind.Analog) ? 1.5 : 0;
        score += part.WarmUpMs?.Likely > 10_000 ? 1 : 0;
        score += part.SupplyMinVolts > 3.6 ? 1 : 0;
        var others = part.Quantities.Where(i => i.Quantity != wish.Quantity).Select(i => i.Quantity).ToList();
        if (others.Count > 0)
        {
            yes.Add($"gives {string.Join(", ", others)} as well");
        }
        return (new(part.Id, part.Label, no.Count == 0, yes, no, onHand), score);
    }

    /// <summary>How good it is, said and in points: fewer are better.</summary>
    private static double Accuracy(Wish wish, PartQuantity q, double? error, List<string> yes, List<string> no)
    {
        var score = 0.0;
        if (wish.Error is { } good)
        {
            if (error is null)
            {
                yes.Add($"accuracy only by calibration ({q.Accuracy})");
                score = 3;
            }
            else if (error > good)
            {
                no.Add($"It is good for ±{error:0.###} {q.Unit}, not ±{good:0.###}.");
            }
            else
            {
                yes.Add($"±{error:0.###} {q.Unit}");
            }
        }
        else
        {
            yes.Add(q.Accuracy);
        }
        return score
            + (
                error is { } e && (q.Max - q.Min) is { } span && span > 0 ? Math.Min(3, 100 * e / span)
                : q.Kind == ReadingKind.Gauge ? 2
                : 0
            );
    }

    private static void Place(Part part, Surroundings around, List<string> no)
    {
        if ((around.Outdoor || around.Cold) && part.Quantities.FirstOrDefault(i => i.Quantity == "temperature") is { Min: > -10 })
        {
            no.Add("It is not made for frost.");
        }
        if (around.Wet && part.Placement.Any(p => p.Contains("not waterproof", StringComparison.Ordinal)))
        {
            no.Add("It is not waterproof, and the spot is wet.");
        }
    }
}
