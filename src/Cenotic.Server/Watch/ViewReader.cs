using Cenotic.Core.Alerts;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>A reading's line in a tile.</summary>
/// <param name="Earlier">The same stretch a day or a week before, moved onto it; null where none is wanted.</param>
public sealed record SeriesData(string Node, string Reading, LineView Line, LineView? Earlier);

/// <summary>A state's lane in a tile.</summary>
public sealed record LaneData(string Node, string Reading, IReadOnlyList<Stretch> Stretches);

/// <summary>A limit that a rule watches, drawn into a line.</summary>
public sealed record ThresholdData(string Node, string Reading, double Limit, string Label);

/// <summary>An episode that lies in the stretch.</summary>
/// <param name="ToMs">Null while it lasts.</param>
public sealed record EpisodeData(string Label, string Node, string Reading, long FromMs, long? ToMs);

/// <summary>What two event sensors saw together and alone: counted, a day, and the newest of them.</summary>
public sealed record SequenceData(
    SequenceCounts Counts,
    double BothPerDay,
    double FirstAlonePerDay,
    double SecondAlonePerDay,
    IReadOnlyList<SequenceEvent> Newest
);

/// <summary>What a tile needs to be drawn; what it does not need is empty.</summary>
/// <param name="PerHour">How fast a figure rises or falls, per hour; null where that cannot be told from noise.</param>
public sealed record TileData(
    string Key,
    IReadOnlyList<SeriesData> Lines,
    IReadOnlyList<LaneData> Lanes,
    CountsView? Counts,
    VesselState? Vessel,
    IReadOnlyList<NodeHealth> Nodes,
    double? PerHour,
    IReadOnlyList<ThresholdData> Thresholds,
    IReadOnlyList<EpisodeData> Episodes,
    SequenceData? Sequence = null
);

/// <summary>All that a view shows of a stretch.</summary>
/// <param name="NowMs">Site time of the answer, UTC ms.</param>
/// <param name="Readings">The readings of its tiles, with their newest samples.</param>
public sealed record ViewData(long NowMs, long FromMs, long ToMs, IReadOnlyList<ReadingView> Readings, IReadOnlyList<TileData> Tiles);

/// <summary>Reads what a view shows, in one answer.</summary>
public sealed class ViewReader(SiteBook book, SiteClock clock, NodeHealthReader nodes)
{
    /// <summary>Longest stretch: five years and a leap day or two.</summary>
    public const long LongestMs = 1_828L * 86_400_000;

    /// <summary>The view of a site by its key; <see cref="FirstView.Key"/> is laid out anew each time.</summary>
    public ViewDesign? Find(string site, string view)
    {
        var state = book.Find(site)!;
        return view == FirstView.Key
            ? FirstView.Of(state.Design, (node, key) => state.Readings.TryGetValue((node, key), out var row) ? row.Kind : ReadingKind.Gauge)
            : state.Design.Views.FirstOrDefault(v => v.Key == view);
    }

    public async Task<ViewData> ReadAsync(CenoticStore store, string site, ViewDesign view, long from, long to, int points)
    {
        var state = book.Find(site)!;
        var wanted = view.Tiles.SelectMany(t => t.Content.Readings).ToHashSet();
        var readings = (await WatchEndpoints.ReadingsAsync(site, book, store)).Where(r => wanted.Contains(new(r.Node, r.Key))).ToList();
        var (reader, tiles) = (new TileReader(store, state, nodes, readings, from, to, points, clock.Now(site)), new List<TileData>());
        foreach (var tile in view.Tiles)
        {
            tiles.Add(await reader.ReadAsync(tile));
        }
        return new(clock.Now(site), from, to, readings, tiles);
    }
}
