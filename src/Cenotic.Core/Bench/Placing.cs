using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>A part as it would be put on a node.</summary>
/// <param name="Label">Its name there.</param>
/// <param name="Edits">The part, and a reading for each quantity that it measures over its first interface.</param>
public sealed record PlacedPart(string Label, IReadOnlyList<DesignEdit> Edits);

/// <summary>Puts a part of the catalogue on a node. Pure.</summary>
public static class Placing
{
    private const long UsualIntervalMs = 60_000,
        UsualHeartbeatMs = 600_000;
    private const double UsualLeadMetres = 0.3,
        HelperLeadMetres = 0.1,
        FineResolution = 0.5;
    private const int LongestLabel = 60,
        LongestPartLabel = 40;

    /// <summary>The edits that put a part on a node, with readings that it can keep up with.</summary>
    public static PlacedPart Of(NodeDesign node, Part part)
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
        return new(label, edits);
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
