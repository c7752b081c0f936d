using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>A first useful view of a site, laid out by itself: what is armed, one figure for each quantity of each node, lines
/// of what belongs together, lanes of states, counters, outputs and the nodes. Pure.</summary>
public static class FirstView
{
    /// <summary>Its key: no view that somebody made has it.</summary>
    public const string Key = "first";

    private const int MostFigures = 8,
        MostTogether = 8,
        MostTiles = 24;

    /// <summary>The view.</summary>
    /// <param name="kind">Kind of a reading, by node and key.</param>
    public static ViewDesign Of(SiteDesign site, Func<string, string, ReadingKind> kind)
    {
        var all = site
            .Nodes.SelectMany(n => n.Readings.Select(r => (Node: n, Reading: r, Ref: new ReadingRef(n.Key, r.Key), Kind: kind(n.Key, r.Key))))
            .ToList();
        var tiles = new List<TileDesign>();
        void Add(int width, int height, TileContent content, string? label = null) => tiles.Add(new($"t{tiles.Count + 1}", label, width, height, content));
        foreach (var zone in site.Zones.Take(2))
        {
            Add(2, 1, new ZoneTile(zone.Key));
        }
        var gauges = all.Where(r => r.Kind == ReadingKind.Gauge).ToList();
        // One figure for each quantity of a node, those first of which a site has fewest.
        foreach (
            var figure in gauges
                .GroupBy(r => (r.Node.Key, r.Reading.Quantity))
                .OrderBy(g => gauges.Count(r => r.Reading.Quantity == g.Key.Quantity))
                .Take(MostFigures)
                .Select(g => g.First())
        )
        {
            Add(1, 1, new FigureTile(figure.Ref));
        }
        foreach (var output in all.Where(r => r.Reading.Output is not null).Take(4))
        {
            Add(1, 1, new OutputTile(output.Ref));
        }
        foreach (var together in gauges.GroupBy(r => r.Reading.Quantity).OrderByDescending(g => g.Count()).Take(6))
        {
            Add(2, 2, new LineTile([.. together.Take(MostTogether).Select(r => r.Ref)]), together.Count() > 1 ? Sentence(together.Key) : null);
        }
        var states = all.Where(r => r.Kind is ReadingKind.State or ReadingKind.Event && r.Reading.Output is null)
            .OrderBy(r => EventLanes.RestsOn(r.Reading.Quantity))
            .ToList();
        foreach (var lanes in states.Chunk(MostTogether).Take(2))
        {
            Add(4, 2, new LanesTile([.. lanes.Select(r => r.Ref)]), "What went on");
        }
        foreach (var counter in all.Where(r => r.Kind == ReadingKind.Counter).Take(4))
        {
            Add(2, 2, new CounterTile(counter.Ref));
        }
        if (site.Nodes.Count > 0)
        {
            Add(4, 2, new NodesTile(), "Nodes");
        }
        return new(Key, "First view", [.. tiles.Take(MostTiles)]);
    }

    private static string Sentence(string quantity) => char.ToUpperInvariant(quantity[0]) + quantity[1..].Replace('-', ' ');
}
