using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Samples;

/// <summary>Removes what a site keeps no longer, a little at a time, so that nothing that arrives has to wait. Hours are kept for ever.</summary>
public sealed class Retention(SiteBook book, SiteClock clock, WriteGate gate, IDbContextFactory<CenoticStore> stores, TimeProvider system, LoopHealth health)
    : BackgroundService
{
    private const int RowsAtOnce = 5_000,
        RefusalsKept = 2_000;
    private const long DayMs = 86_400_000,
        MinuteMs = 60_000;
    private static readonly TimeSpan Every = TimeSpan.FromHours(1),
        Pause = TimeSpan.FromMilliseconds(20);

    /// <summary>Samples older than this are not kept, UTC ms; null when all are.</summary>
    public static long? SamplesFrom(KeepDesign? keeping, long now) => now - keeping?.SampleDays * DayMs;

    /// <summary>Minutes older than this are not kept, UTC ms; null when all are.</summary>
    public static long? MinutesFrom(KeepDesign? keeping, long now) => now - keeping?.MinuteDays * DayMs;

    /// <summary>Removes what is too old at one site. How many samples, minutes, and messages that none of their samples is left of.</summary>
    public async Task<(int Samples, int Minutes, int Arrivals)> SweepAsync(string site, CancellationToken stop = default)
    {
        var state = book.Find(site)!;
        var (keeping, now) = (state.Design.Settings.Keeping, clock.Now(site));
        var (samples, minutes) = (0, 0);
        await using var store = await stores.CreateDbContextAsync(stop);
        foreach (var reading in await store.Readings.AsNoTracking().Where(r => r.Site == site).Select(r => r.Id).ToListAsync(stop))
        {
            if (SamplesFrom(keeping, now) is { } from)
            {
                samples += await RemoveAsync(
                    "DELETE FROM samples WHERE (reading_id, t, n) IN (SELECT reading_id, t, n FROM samples WHERE reading_id = @reading AND t < "
                        + "@before ORDER BY t LIMIT @most)",
                    reading,
                    from,
                    stop
                );
            }
            if (MinutesFrom(keeping, now) is { } minutesFrom)
            {
                minutes += await RemoveAsync(
                    "DELETE FROM rollups WHERE (reading_id, step, t) IN (SELECT reading_id, step, t FROM rollups WHERE reading_id = @reading AND "
                        + $"step = {MinuteMs} AND t < @before - {MinuteMs} ORDER BY t LIMIT @most)",
                    reading,
                    minutesFrom,
                    stop
                );
            }
        }
        var arrivals = SamplesFrom(keeping, now) is { } since ? await SweepArrivalsAsync(store, site, since, stop) : 0;
        await SweepRefusalsAsync(store, site, stop);
        return (samples, minutes, arrivals);
    }

    /// <summary>What arrived and has no sample left, and what was refused, of the time before.</summary>
    private async Task<int> SweepArrivalsAsync(CenoticStore store, string site, long since, CancellationToken stop)
    {
        var arrivals = 0;
        // Looked for outside the gate: that may take a while.
        var bare = await store
            .Database.SqlQuery<long>(
                $"""
                SELECT a.Id AS Value FROM arrivals a WHERE a.Site = {site} AND a.ReceivedMs < {since} AND NOT EXISTS (SELECT 1 FROM samples s
                    WHERE s.arrival_id = a.Id)
                """
            )
            .ToListAsync(stop);
        foreach (var ids in bare.Chunk(500))
        {
            arrivals += await gate.WriteAsync(s => s.Arrivals.Where(a => ids.Contains(a.Id)).ExecuteDeleteAsync(stop), stop);
        }
        await gate.WriteAsync(s => s.Refusals.Where(r => r.Site == site && r.AtMs < since).ExecuteDeleteAsync(stop), stop);
        return arrivals;
    }

    /// <summary>The oldest refusals of each node.</summary>
    private async Task SweepRefusalsAsync(CenoticStore store, string site, CancellationToken stop)
    {
        foreach (var node in await store.Refusals.AsNoTracking().Where(r => r.Site == site).Select(r => r.Node).Distinct().ToListAsync(stop))
        {
            if (
                await store
                    .Refusals.Where(r => r.Site == site && r.Node == node)
                    .OrderByDescending(r => r.Id)
                    .Skip(RefusalsKept)
                    .Select(r => (long?)r.Id)
                    .FirstOrDefaultAsync(stop) is
                { } newest
            )
            {
                await gate.WriteAsync(s => s.Refusals.Where(r => r.Site == site && r.Node == node && r.Id <= newest).ExecuteDeleteAsync(stop), stop);
            }
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, system);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            foreach (var site in book.Sites)
            {
                await health.RunAsync("retention", () => SweepAsync(site, stoppingToken), stoppingToken);
            }
        }
    }

    private async Task<int> RemoveAsync(string sql, int reading, long before, CancellationToken stop)
    {
        for (var removed = 0; ; )
        {
            var some = await gate.WriteAsync(
                store =>
                    store.Database.ExecuteSqlRawAsync(
                        sql,
                        [new SqliteParameter("@reading", reading), new SqliteParameter("@before", before), new SqliteParameter("@most", RowsAtOnce)],
                        stop
                    ),
                stop
            );
            removed += some;
            if (some < RowsAtOnce)
            {
                return removed;
            }
            await Task.Delay(Pause, stop);
        }
    }
}
