using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Bench;

/// <summary>Parts as they would be put on a node.</summary>
/// <param name="Label">Their names there.</param>
/// <param name="Edits">Each part, and a reading for each quantity that it measures over its first interface.</param>
/// <param name="Then">What the node would be with them; null where that was not asked for.</param>
public sealed record PlacedParts(string Label, IReadOnlyList<DesignEdit> Edits, PlacedNode? Then = null);

/// <summary>A node with parts that are not on it yet.</summary>
/// <param name="Fits">True when every part would be served and nothing stops it.</param>
/// <param name="Why">The first thing that would stop it; null when it fits.</param>
/// <param name="Wires">Wires to solder for them.</param>
/// <param name="PinsLeft">Free signal pins that are fit for a plain line.</param>
/// <param name="Modules">Modules that the planner would add.</param>
/// <param name="Price">Of the parts, by the cheapest offers of the stock list; null when none has one.</param>
/// <param name="Unpriced">Parts without an offer.</param>
public sealed record PlacedNode(bool Fits, string? Why, int Wires, int PinsLeft, IReadOnlyList<string> Modules, double? Price, int Unpriced);

/// <summary>Puts parts of the catalogue on a node. Pure.</summary>
public static class Placing
{
    private const long UsualIntervalMs = 60_000,
        UsualHeartbeatMs = 600_000;
    private const double UsualLeadMetres = 0.3,
        HelperLeadMetres = 0.1,
        FineResolution = 0.5;
    private const int LongestLabel = 60,
        LongestPartLabel = 40;

    /// <summary>The edits that put parts on a node, one after the other, with readings that they can keep up with.</summary>
    public static PlacedParts Of(NodeDesign node, params IReadOnlyList<Part> parts)
    {
        var (labels, edits) = (new List<string>(), new List<DesignEdit>());
        foreach (var part in parts)
        {
            var (label, added) = One(node, part);
            labels.Add(label);
            edits.AddRange(added);
            node = node with
            {
                Parts = [.. node.Parts, .. added.OfType<PutPart>().Select(e => e.Part)],
                Readings = [.. node.Readings, .. added.OfType<PutReading>().Select(e => e.Reading)],
            };
        }
        return new(string.Join(", ", labels), edits);
    }

    /// <summary>The same, with what the node would be then.</summary>
    /// <param name="budget">What the two plans may cost; null for any.</param>
    public static PlacedParts Try(SiteDesign site, NodeDesign node, HardwareCatalogue catalogue, IReadOnlyList<Part> parts, WorkBudget? budget = null)
    {
        var placed = Of(node, parts);
        var after = EditBatch.Apply(site, placed.Edits) is { Ok: true, Value.After: var with } ? with.Node(node.Key)! : node;
        var around = Surroundings.Of(site, node);
        var (option, wires) = BoardComparison.On(after, node.Board, catalogue, site.Stock, around, budget);
        var prices = parts.Select(p => site.Stock.FirstOrDefault(s => s.Id == p.Id)?.UnitPrice).ToList();
        return placed with
        {
            Then = new(
                option.Fits,
                option.Why,
                wires - BoardComparison.On(node, node.Board, catalogue, site.Stock, around, budget).Wires,
                option.PinsLeft,
                [.. option.Modules.Select(m => catalogue.Part(m)?.Label ?? m)],
                prices.Any(p => p is not null) ? prices.Sum() : null,
                prices.Count(p => p is null)
            ),
        };
    }

    private static (string Label, IReadOnlyList<DesignEdit> Edits) One(NodeDesign node, Part part)
    {
        var key = Keys.Free(part.Id.Split('-')[0], [.. node.Parts.Select(p => p.Key)]);
        var named = part.Label.Split(':', ',')[0];
        var label = named[..Math.Min(LongestPartLabel, named.Length)].Trim();
        label = node.Parts.Any(p => p.Label == label) ? $"{label} {key.Split('-')[^1]}" : label;
        var edits = new List<DesignEdit>
        {
            new PutPart(node.Key, new(key, label, part.Id, null, null, part.Helper is null ? UsualLeadMetres : HelperLeadMetres, false, null)),
        };
        var used = node.Readings.Select(r => r.Key).ToList();
        var first = part.Interfaces.FirstOrDefault()?.Quantities;
        foreach (var quantity in part.Quantities.Where(q => first?.Contains(q.Quantity) != false))
        {
            var reading = Reading(part, key, label, quantity, used);
            used.Add(reading.Key);
            edits.Add(new PutReading(node.Key, reading));
        }
        return (label, edits);
    }

    private static ReadingDesign Reading(Part part, string key, string label, PartQuantity quantity, List<string> used)
    {
        var name = quantity.Quantity == "illuminance" ? "light" : quantity.Quantity;
        var text = $"{label} {name}";
        var least = (long)Math.Ceiling(part.MinIntervalMs?.High ?? 0);
        var byClock = quantity.Kind is ReadingKind.Gauge or ReadingKind.Counter;
        return new(
            Keys.Free($"{key}-{name}", used),
            text[..Math.Min(LongestLabel, text.Length)],
            key,
            quantity.Quantity,
            byClock ? Math.Max(UsualIntervalMs, least) : null,
            byClock ? null : Math.Max(UsualHeartbeatMs, least),
            quantity.Resolution is > 0 and < FineResolution ? 1 : 0
        );
    }
}
