using Cenotic.Core.Log;
using Cenotic.Server.BringUp;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Log;

/// <summary>Reads the log out of what is kept anyway: nothing but notes is written for it.</summary>
internal static class LogBook
{
    /// <summary>Entries of each kind that are looked through at most.</summary>
    private const int Most = 2_000;

    /// <summary>Entries of a site, the newest first.</summary>
    /// <param name="node">Of one node only; null for all.</param>
    /// <param name="before">Older than this, UTC ms.</param>
    internal static async Task<List<LogEntry>> ReadAsync(CenoticStore store, SiteState state, string? node, long before)
    {
        var (site, lines) = (state.Site, new LogLines(state));
        var entries = new List<LogEntry>();
        async Task AddAsync<T>(IQueryable<T> newest, Func<T, IEnumerable<LogEntry>> of)
            where T : class => entries.AddRange((await newest.AsNoTracking().Take(Most).ToListAsync()).SelectMany(of));
        await AddAsync(store.Revisions.Where(r => r.Site == site && r.AtMs < before).OrderByDescending(r => r.Revision), lines.Edit);
        await AddAsync(store.SavedSettings.Where(s => s.Site == site && s.AtMs < before).OrderByDescending(s => s.AtMs), lines.Settings);
        await AddAsync(store.NodeReports.Where(r => r.Site == site && r.AtMs < before && r.Settings != null).OrderByDescending(r => r.Id), lines.Start);
        await AddAsync(store.Scans.Where(s => s.Site == site && s.AtMs < before).OrderByDescending(s => s.Id), lines.Scan);
        await AddAsync(store.Calibrations.Where(c => c.Site == site && c.AtMs < before).OrderByDescending(c => c.Id), lines.Calibration);
        await AddAsync(store.MeasuredCurrents.Where(m => m.Site == site && m.AtMs < before).OrderByDescending(m => m.Id), lines.Current);
        await AddAsync(store.Episodes.Where(e => e.Site == site && e.RaisedMs < before).OrderByDescending(e => e.Id), lines.Episode);
        await AddAsync(store.Commands.Where(c => c.Site == site && c.AtMs < before).OrderByDescending(c => c.Id), lines.Output);
        await AddAsync(store.BuildTicks.Where(t => t.Site == site && t.AtMs < before).OrderByDescending(t => t.Id), lines.Build);
        await AddAsync(store.Outages.Where(o => o.Site == site && o.ToMs < before).OrderByDescending(o => o.Id), lines.Outage);
        await AddAsync(store.NodeLives.Where(l => l.Site == site && l.AtMs < before).OrderByDescending(l => l.Id), lines.Life);
        await AddAsync(store.RangeWalks.Where(w => w.Site == site && w.ToMs < before).OrderByDescending(w => w.Id), lines.Walk);
        await AddAsync(store.Imports.Where(i => i.Site == site && i.AtMs < before).OrderByDescending(i => i.Id), lines.Import);
        await AddAsync(store.ZoneTurns.Where(z => z.Site == site && z.AtMs < before).OrderByDescending(z => z.Id), lines.Zone);
        await AddAsync(store.SetAside.Where(a => a.Site == site && a.AtMs < before).OrderByDescending(a => a.Id), lines.SetAside);
        var pictures = (await store.LogPictures.AsNoTracking().Where(p => p.Site == site).Select(p => new { p.Id, p.Note }).ToListAsync()).ToLookup(
            p => p.Note,
            p => p.Id
        );
        await AddAsync(store.LogNotes.Where(n => n.Site == site && n.AtMs < before).OrderByDescending(n => n.Id), n =>
            [new LogEntry($"note-{n.Id}", n.AtMs, LogKind.Note, n.Node, n.Who, n.Text) { Pictures = [.. pictures[n.Id].Order()] }]
        );
        return
        [
            .. entries
                .Where(e => e.AtMs < before && (node is null || e.Node == node))
                .OrderByDescending(e => e.AtMs)
                .ThenByDescending(e => e.Id, StringComparer.Ordinal),
        ];
    }
}
