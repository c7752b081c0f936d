using Cenotic.Core.Design;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>What rules and zones have to do with a reading, to be marked where it is drawn.</summary>
internal static class ReadingAlerts
{
    /// <summary>Limits that armed rules watch a reading for.</summary>
    public static IEnumerable<ThresholdData> Limits(SiteDesign design, ReadingRef reading) =>
        design
            .Rules.Where(r => r.Armed)
            .SelectMany(r =>
                r.Parts.Where(p => p.Reading == reading)
                    .SelectMany(p =>
                        p.Condition switch
                        {
                            BeyondLimit limit => new[] { limit.Limit },
                            InARow row => [row.Limit],
                            OutsideBand band => [band.Low, band.High],
                            _ => [],
                        }
                    )
                    .Select(limit => new ThresholdData(reading.Node, reading.Reading, limit, r.Label))
            );

    /// <summary>Open episodes of the rules and zones of a site, by each reading that they watch.</summary>
    public static async Task<ILookup<ReadingRef, EpisodeData>> OpenAsync(CenoticStore store, SiteState state)
    {
        var open = await store.Episodes.AsNoTracking().Where(e => e.Site == state.Site && e.ClearedMs == null).OrderBy(e => e.RaisedMs).ToListAsync();
        return open.SelectMany(e => Watched(state.Design, e.Rule).Select(r => (Reading: r, Episode: e)))
            .ToLookup(p => p.Reading, p => new EpisodeData(p.Episode.Label, p.Reading.Node, p.Reading.Reading, p.Episode.RaisedMs, null));
    }

    private static IEnumerable<ReadingRef> Watched(SiteDesign design, string rule) =>
        design.Zones.FirstOrDefault(z => "zone:" + z.Key == rule)?.Sensors.Select(s => new ReadingRef(s.Node, s.Reading))
        ?? design.Rule(rule)?.Inputs.Distinct()
        ?? [];
}
