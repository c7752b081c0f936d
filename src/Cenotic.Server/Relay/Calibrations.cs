using System.Collections.Concurrent;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Live;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Relay;

/// <summary>A correction that is in force for a stretch of time.</summary>
/// <param name="UntilMs">From then on it does not hold any more; null while it does.</param>
internal sealed record AppliedCalibration(long Id, long FromMs, long? UntilMs, Calibration Calibration);

/// <summary>How far a recompute is.</summary>
/// <param name="Share">0 to 1.</param>
/// <param name="Samples">That are worked through.</param>
/// <param name="Fault">Why it ended without effect; null when it did not.</param>
public sealed record RecomputeView(string Reading, double Share, long Samples, bool Running, string? Fault);

/// <summary>
/// Calibrations of readings: each value that comes is corrected by the one in force at its time, and a calibration that is added or taken back recomputes what is stored, samples and rollups, in one transaction:
/// until it is done nothing has changed.
/// </summary>
public sealed class Calibrations(IDbContextFactory<CenoticStore> stores, WriteGate gate, SiteBook book, SiteClock clock, LiveFeed live, IHostApplicationLifetime life, ILogger<Calibrations> log)
{
    private const int SamplesOfAStep = 20_000;
    private const long HourMs = 3_600_000;

    private readonly ConcurrentDictionary<int, IReadOnlyList<AppliedCalibration>> _applied = [];

    /// <summary>Readings of nodes whose programs correct them: their values come as they should be.</summary>
    private volatile HashSet<int> _onNode = [];
    private readonly ConcurrentDictionary<(string Site, string Node), Recompute> _work = [];

    private sealed class Recompute(RecomputeView view, CancellationTokenSource stop)
    {
        public RecomputeView View { get; set; } = view;

        public CancellationTokenSource Stop => stop;
    }

    /// <summary>Loads what is in force; once, at start.</summary>
    public async Task LoadAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        foreach (var reading in (await store.Calibrations.AsNoTracking().Where(c => c.UndoneMs == null).ToListAsync()).GroupBy(c => c.ReadingId))
        {
            _applied[reading.Key] = Ordered(reading);
        }
        book.Changed += state =>
        {
            FindOnNode();
            _ = EndSwappedAsync(state);
        };
    }

    /// <summary>Looks which nodes correct themselves; once all is loaded, and after each edit.</summary>
    internal void FindOnNode() => _onNode = [.. book.Sites.Select(book.Find).OfType<SiteState>().SelectMany(s => s.Readings.Where(r => s.Design.Node(r.Key.Node) is { CorrectsItself: true }).Select(r => r.Value.Id))];

    /// <summary>What corrects the readings of a node at a time, by their keys.</summary>
    internal IReadOnlyDictionary<string, Calibration> InForce(SiteState state, string node, long now) => state.Readings.Where(r => r.Key.Node == node)
        .Select(r => (r.Key.Key, Applied: _applied.TryGetValue(r.Value.Id, out var applied) ? applied.LastOrDefault(a => a.FromMs <= now && !(a.UntilMs <= now)) : null)).Where(r => r.Applied is not null).ToDictionary(r => r.Key, r => r.Applied!.Calibration);

    /// <summary>The true value to a raw one of a reading at a time.</summary>
    internal double Value(int reading, long t, double raw) => !_onNode.Contains(reading) && _applied.TryGetValue(reading, out var applied) ? Value(applied, t, raw) : raw;

    /// <summary>How far the last recompute of a node is; null when there was none since the start.</summary>
    public RecomputeView? Work(string site, string node) => _work.GetValueOrDefault((site, node))?.View;

    /// <summary>Ends the recompute of a node that runs: all values stay as they were.</summary>
    public void Cancel(string site, string node) => _work.GetValueOrDefault((site, node))?.Stop.Cancel();

    /// <summary>Begins to put a calibration in force. Null, or why it cannot be.</summary>
    internal string? Begin(CalibrationRow row) => Begin(row.Site, row.Node, row.Reading, row.ReadingId, row.FromMs, store =>
    {
        store.Calibrations.Add(row);
        return Task.CompletedTask;
    });

    /// <summary>Begins to take a calibration back. Null, or why it cannot be.</summary>
    internal string? BeginUndo(CalibrationRow row, string who) => Begin(row.Site, row.Node, row.Reading, row.ReadingId, row.FromMs, async store =>
    {
        var kept = await store.Calibrations.SingleAsync(c => c.Id == row.Id);
        (kept.UndoneMs, kept.UndoneBy) = (clock.Now(row.Site), who);
    });

    private string? Begin(string site, string node, string reading, int id, long from, Func<CenoticStore, Task> change)
    {
        var work = new Recompute(new(reading, 0, 0, true, null), CancellationTokenSource.CreateLinkedTokenSource(life.ApplicationStopping));
        var begun = _work.AddOrUpdate((site, node), work, (_, known) => known.View.Running ? known : work);
        if (!ReferenceEquals(begun, work))
        {
            return "The values of this node are being worked through; wait until that is done, or end it.";
        }
        _ = Task.Run(() => RunAsync(work, site, id, from, change), CancellationToken.None);
        return null;
    }

    private async Task RunAsync(Recompute work, string site, int reading, long from, Func<CenoticStore, Task> change)
    {
        string? fault = null;
        var before = _applied.GetValueOrDefault(reading);
        try
        {
            await gate.WriteAsync(async store =>
            {
                await change(store);
                await store.SaveChangesAsync(work.Stop.Token);
                var applied = Ordered(await store.Calibrations.AsNoTracking().Where(c => c.ReadingId == reading && c.UndoneMs == null).ToListAsync(work.Stop.Token));
                await RecomputeAsync((SqliteConnection)store.Database.GetDbConnection(), work, site, reading, from, applied);
                // Within the gate: what is written next is corrected by it. From here on it is not ended any more.
                _applied[reading] = applied;
            }, CancellationToken.None);
        }
        catch (OperationCanceledException)
        {
            fault = "Ended before it was done: all values are as they were.";
        }
        catch (Exception failed) when (failed is SqliteException or DbUpdateException or IOException)
        {
            log.LogError(failed, "The values of reading {Reading} were not recomputed.", reading);
            fault = $"It could not be done, and all values are as they were: {failed.Message}";
        }
        if (fault is not null)
        {
            _applied[reading] = before ?? [];
        }
        work.View = work.View with { Running = false, Share = fault is null ? 1 : work.View.Share, Fault = fault };
        await live.CalibratedAsync(site);
    }

    private async Task RecomputeAsync(SqliteConnection connection, Recompute work, string site, int reading, long from, IReadOnlyList<AppliedCalibration> applied)
    {
        connection.CreateFunction("calibrated", (long t, double raw) => Value(applied, t, raw), isDeterministic: true);
        async Task<long> RunAsync(string sql, params (string Name, long Value)[] values)
        {
            await using var command = connection.CreateCommand();
            command.CommandText = sql;
            foreach (var (name, value) in values.Append(("$reading", reading)))
            {
                command.Parameters.AddWithValue(name, value);
            }
            return await command.ExecuteScalarAsync(work.Stop.Token) is long count ? count : -1;
        }
        var total = await RunAsync("SELECT count(*) FROM samples WHERE reading_id = $reading AND t >= $from", ("$from", from));
        work.View = work.View with { Samples = total };
        var done = 0L;
        for (var at = from; ;)
        {
            var next = await RunAsync($"SELECT t FROM samples WHERE reading_id = $reading AND t >= $at ORDER BY t LIMIT 1 OFFSET {SamplesOfAStep}", ("$at", at));
            var until = next < 0 ? long.MaxValue : Math.Max(next, at + 1);
            await RunAsync("UPDATE samples SET value = CASE WHEN flags & 8 THEN raw ELSE calibrated(t, raw) END WHERE reading_id = $reading AND t >= $at AND t < $until", ("$at", at), ("$until", until));
            done += SamplesOfAStep;
            work.View = work.View with { Share = total == 0 ? 1 : Math.Min(0.9, 0.9 * done / total) };
            work.Stop.Token.ThrowIfCancellationRequested();
            if (next < 0)
            {
                break;
            }
            at = until;
        }
        await SumAsync(RunAsync, site, from);
    }

    /// <summary>Makes the rollups of the samples anew; hours whose samples are partly gone by the site's keeping stay as they are.</summary>
    private async Task SumAsync(Func<string, (string, long)[], Task<long>> run, string site, long from)
    {
        var first = from / HourMs * HourMs;
        if (book.Find(site)?.Design.Settings.Keeping?.SampleDays is not null && await run("SELECT min(t) FROM samples WHERE reading_id = $reading", []) is > 0 and var oldest)
        {
            first = Math.Max(first, (oldest + HourMs - 1) / HourMs * HourMs);
        }
        await run("DELETE FROM rollups WHERE reading_id = $reading AND t >= $first", [("$first", first)]);
        foreach (var step in SampleStatements.RollupSteps)
        {
            await run(
                $"""
                INSERT INTO rollups (reading_id, step, t, n, low, high, sum, last, last_t, rises)
                SELECT $reading, {step}, s.start, s.n, s.low, s.high, s.sum, (SELECT value FROM samples WHERE reading_id = $reading AND t = s.newest AND flags & 40 = 0 ORDER BY n DESC LIMIT 1), s.newest, 0
                FROM (SELECT t / {step} * {step} AS start, count(*) AS n, min(value) AS low, max(value) AS high, total(value) AS sum, max(t) AS newest
                    FROM samples WHERE reading_id = $reading AND t >= $first AND flags & 40 = 0 GROUP BY 1) s
                """, [("$first", first)]);
        }
    }

    private static double Value(IReadOnlyList<AppliedCalibration> applied, long t, double raw)
    {
        for (var i = applied.Count - 1; i >= 0; i--)
        {
            if (applied[i].FromMs <= t)
            {
                return applied[i].UntilMs is { } until && t >= until ? raw : applied[i].Calibration.Apply(raw);
            }
        }
        return raw;
    }

    private static List<AppliedCalibration> Ordered(IEnumerable<CalibrationRow> rows) =>
        [.. rows.OrderBy(r => r.FromMs).ThenBy(r => r.Id).Select(r => new AppliedCalibration(r.Id, r.FromMs, r.UntilMs, JsonSerializer.Deserialize<Calibration>(r.Body, CenoticJson.Options)!))];

    /// <summary>Which thing a calibration is of: the sort of part, and its code once that is known.</summary>
    internal static string Fitted(PartInstance? part) => $"{part?.Part} {part?.Rom}".TrimEnd();

    /// <summary>Another part in the place of the calibrated one ends its calibrations.</summary>
    private async Task EndSwappedAsync(SiteState state)
    {
        if (_applied.IsEmpty)
        {
            return;
        }
        try
        {
            var ended = await gate.WriteAsync(async store =>
            {
                var readings = new HashSet<int>();
                foreach (var row in await store.Calibrations.Where(c => c.Site == state.Site && c.UndoneMs == null && c.UntilMs == null).ToListAsync())
                {
                    var part = state.Design.Node(row.Node) is { } node && node.Reading(row.Reading) is { } reading ? node.Part(reading.Part) : null;
                    var now = Fitted(part);
                    if (part is not null && (now == row.Fitted || now.StartsWith(row.Fitted + " ", StringComparison.Ordinal)))
                    {
                        // Its code was read meanwhile: it is the same part, known better.
                        row.Fitted = now;
                        continue;
                    }
                    row.UntilMs = clock.Now(state.Site);
                    readings.Add(row.ReadingId);
                }
                await store.SaveChangesAsync();
                foreach (var reading in readings)
                {
                    _applied[reading] = Ordered(await store.Calibrations.AsNoTracking().Where(c => c.ReadingId == reading && c.UndoneMs == null).ToListAsync());
                }
                return readings.Count;
            });
            if (ended > 0)
            {
                await live.CalibratedAsync(state.Site);
            }
        }
        catch (Exception fault) when (fault is SqliteException or DbUpdateException or ObjectDisposedException)
        {
            log.LogError(fault, "Calibrations of parts that were changed at {Site} were not ended.", state.Site);
        }
    }
}
