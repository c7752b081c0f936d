using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>A thing to have for a node.</summary>
/// <param name="Id">Catalogue id, or the value of a component.</param>
/// <param name="ToBuy">Needed less what is at hand.</param>
/// <param name="Cheapest">The offer that costs least for what is missing; null when nothing is missing or there is no offer.</param>
/// <param name="Soonest">The offer that is here first.</param>
public sealed record PartsListItem(string Id, string Label, string For, int Needed, int OnHand, int ToBuy, Purchase? Cheapest, Purchase? Soonest);

/// <summary>So many packs of an offer.</summary>
public sealed record Purchase(string From, int Packs, int Pieces, double Price, int Days);

/// <summary>What to buy for a node, and the sums.</summary>
/// <param name="CheapestPrice">Sum of the cheapest offers; things without an offer are counted in <paramref name="Unpriced"/>.</param>
/// <param name="SoonestDays">Days until all is here when the soonest offers are taken.</param>
public sealed record PartsListing(
    IReadOnlyList<PartsListItem> Items,
    double CheapestPrice,
    int CheapestDays,
    double SoonestPrice,
    int SoonestDays,
    int Unpriced
);

/// <summary>Counts what a plan needs against the drawer and the offers.</summary>
public static class PartsList
{
    /// <summary>The list of a node's plan.</summary>
    public static PartsListing Of(NodeDesign node, BenchPlan plan, HardwareCatalogue catalogue, IReadOnlyList<StockItem> stock)
    {
        var needs = new List<(string Id, string Label, string For, int Count)>();
        if (catalogue.Board(node.Board) is { } board)
        {
            needs.Add((board.Id, board.Label, node.Label, 1));
        }
        needs.AddRange(node.Parts.Select(p => (p.Part, catalogue.Part(p.Part)?.Label ?? p.Part, p.Label, 1)));
        needs.AddRange(plan.Helpers.Where(h => h.Added).Select(h => (h.CatalogueId, catalogue.Part(h.CatalogueId)?.Label ?? h.CatalogueId, h.Label, 1)));
        if (node.Power.Cell is { } cell)
        {
            needs.Add((cell, catalogue.Cell(cell)?.Label ?? cell, node.Label, node.Power.Parallel * node.Power.Series));
        }
        string Use(string owner) =>
            owner.Split('.') is [var part, var line] && node.Part(part) is { } instance ? $"{instance.Label} {line}" : node.Part(owner)?.Label ?? owner;
        needs.AddRange(
            plan.Circuit.Components.Where(c => Circuit.IsOfSupply(c.Key) && c.Kind is not (ComponentKind.Source or ComponentKind.Cells))
                .Select(c => (c.CatalogueId ?? c.Label, c.CatalogueId is { } id ? catalogue.Supply(id)?.Label ?? id : c.Label, node.Label, 1))
        );
        needs.AddRange(plan.Additions.SelectMany(a => a.Pieces.Where(p => p.Kind != ComponentKind.Source).Select(p => (p.Label, p.Label, Use(a.For), 1))));
        var items = needs
            .GroupBy(n => n.Id)
            .Select(g =>
                Item(g.Key, g.First().Label, string.Join(", ", g.Select(n => n.For).Distinct()), g.Sum(n => n.Count), stock.FirstOrDefault(s => s.Id == g.Key))
            )
            .ToList();
        var missing = items.Where(i => i.ToBuy > 0).ToList();
        return new(
            items,
            missing.Sum(i => i.Cheapest?.Price ?? 0),
            missing.Max(i => i.Cheapest?.Days) ?? 0,
            missing.Sum(i => i.Soonest?.Price ?? 0),
            missing.Max(i => i.Soonest?.Days) ?? 0,
            missing.Count(i => i.Cheapest is null)
        );
    }

    private static PartsListItem Item(string id, string label, string use, int needed, StockItem? stock)
    {
        var onHand = stock?.OnHand ?? 0;
        var missing = Math.Max(0, needed - onHand);
        var ways =
            missing == 0
                ? []
                : (stock?.Offers ?? [])
                    .Select(o =>
                        (missing + o.PackSize - 1) / o.PackSize is var packs
                            ? new Purchase(o.From, packs, packs * o.PackSize, packs * o.PackPrice, o.Days)
                            : null!
                    )
                    .ToList();
        return new(
            id,
            label,
            use,
            needed,
            onHand,
            missing,
            ways.OrderBy(w => w.Price).ThenBy(w => w.Days).FirstOrDefault(),
            ways.OrderBy(w => w.Days).ThenBy(w => w.Price).FirstOrDefault()
        );
    }
}
