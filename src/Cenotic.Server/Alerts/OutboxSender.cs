using Cenotic.Core.Design;
using Cenotic.Server.Alerts.Ways;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>
/// Sends what is in the outbox, at least once: that a message is being handed over is kept before its first byte, and what became of it after. What the program
/// was killed between is sent again under the same id and marked.
/// </summary>
public sealed class OutboxSender(
    IDbContextFactory<CenoticStore> stores,
    WriteGate gate,
    SiteBook book,
    RuleRunner runner,
    NoticeWays ways,
    LiveFeed live,
    TimeProvider system,
    LoopHealth health,
    ILogger<OutboxSender> log
) : BackgroundService
{
    private const long FirstWaitMs = 5_000,
        LongestWaitMs = 3_600_000,
        GivenUpAfterMs = 3 * 86_400_000L;
    private const int MostAtOnce = 16,
        MostTogether = 4;
    private static readonly TimeSpan AfterFault = TimeSpan.FromMilliseconds(500);

    /// <summary>The clock of this machine may be set: what is due is looked for again after this at the latest.</summary>
    private static readonly TimeSpan LongestWait = TimeSpan.FromMinutes(1);
    private readonly WakeSignal _put = new(system);

    /// <summary>Something was put into the outbox, or is due sooner.</summary>
    public void Wake() => _put.Wake();

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        runner.NoticesPut += Wake;
        while (!stoppingToken.IsCancellationRequested)
        {
            var wait = AfterFault;
            await health.RunAsync("notices", async () => wait = await SendDueAsync(stoppingToken), stoppingToken);
            await _put.WaitAsync(wait, stoppingToken);
        }
    }

    /// <returns>How long nothing is due.</returns>
    private async Task<TimeSpan> SendDueAsync(CancellationToken stop)
    {
        var now = Now;
        List<long> due;
        await using (var store = await stores.CreateDbContextAsync(stop))
        {
            due = await store
                .Outbox.Where(o => o.DoneMs == null && o.NotBeforeMs <= now)
                .OrderBy(o => o.NotBeforeMs)
                .ThenBy(o => o.Id)
                .Select(o => o.Id)
                .Take(MostAtOnce)
                .ToListAsync(stop);
        }
        await Parallel.ForEachAsync(
            due,
            new ParallelOptions { MaxDegreeOfParallelism = MostTogether, CancellationToken = stop },
            // One that fails stops no other.
            async (id, token) => await health.RunAsync("notices", () => SendAsync(id, token), token)
        );
        await using var after = await stores.CreateDbContextAsync(stop);
        var next = await after.Outbox.Where(o => o.DoneMs == null).MinAsync(o => (long?)o.NotBeforeMs, stop);
        // One that stays due after it was tried could not be kept as tried.
        return next is { } at
            ? TimeSpan.FromMilliseconds(Math.Clamp(at - Now, due.Count > 0 ? AfterFault.TotalMilliseconds : 0, LongestWait.TotalMilliseconds))
            : LongestWait;
    }

    private async Task SendAsync(long id, CancellationToken stop)
    {
        var begun = await gate.WriteAsync(
            async store =>
            {
                if (await store.Outbox.SingleOrDefaultAsync(o => o.Id == id && o.DoneMs == null) is not { } row)
                {
                    return ((OutboxRow, NoticeSettingsRow)?)null;
                }
                // It was begun before and nothing is known of its end.
                row.MaybeTwice |= row.HandingMs is not null;
                (row.HandingMs, row.Tries) = (Now, row.Tries + 1);
                return (row, await NoticeSettingsEndpoints.OfAsync(store, row.Site, ways));
            },
            stop
        );
        if (begun is not var (row, settings) || book.Find(row.Site) is not { } site)
        {
            return;
        }
        var result = await ways.HandOverAsync(
            row,
            site.Design.Settings.Name,
            TimeZoneInfo.FindSystemTimeZoneById(site.Design.Settings.TimeZone),
            settings,
            stop
        );
        var episodes = await gate.WriteAsync(
            async store =>
            {
                var kept = await store.Outbox.SingleAsync(o => o.Id == id);
                // What the other side said may name the address, and who looks on is not to read it.
                var words = row.Address.Length == 0 ? result.Words : result.Words.Replace(row.Address, "the address", StringComparison.OrdinalIgnoreCase);
                kept.Result = words.Length > 300 ? words[..300] : words;
                kept.MaybeTwice |= result.Outcome == Handover.Unknown;
                kept.HandingMs = result.Outcome == Handover.Unknown ? kept.HandingMs : null;
                if (result.Outcome is Handover.Taken or Handover.Never || Now - kept.CreatedMs > GivenUpAfterMs)
                {
                    (kept.DoneMs, kept.Taken) = (Now, result.Outcome == Handover.Taken);
                }
                else
                {
                    kept.NotBeforeMs = Now + Math.Min(LongestWaitMs, FirstWaitMs << Math.Min(kept.Tries - 1, 12));
                }
                return await store.Episodes.AsNoTracking().Where(e => store.OutboxEpisodes.Any(o => o.Outbox == id && o.Episode == e.Id)).ToListAsync();
            },
            CancellationToken.None
        );
        if (result.Outcome != Handover.Taken)
        {
            log.LogWarning("A notice to {Person} by {Way} was not taken at try {Try}: {Why}", row.Person, row.Way, row.Tries, result.Words);
        }
        await live.NoticesAsync(row.Site);
    }

    private long Now => system.GetUtcNow().ToUnixTimeMilliseconds();
}
