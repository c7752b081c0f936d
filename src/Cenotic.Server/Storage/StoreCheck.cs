using System.Diagnostics;
using Cenotic.Server.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>What was found when the whole store was looked through.</summary>
/// <param name="Faults">Each a sentence; empty when it is sound.</param>
/// <param name="Bytes">Size of the database file.</param>
public sealed record StoreReport(IReadOnlyList<string> Faults, long Samples, long Bytes, double Seconds);

/// <summary>Looks through the whole store: the file by SQLite's own check, what refers to what, and the hours against the samples they were made of.</summary>
public sealed class StoreCheck(IDbContextFactory<CenoticStore> stores, Settings settings)
{
    private const int MostFaults = 20;
    private const long HourMs = 3_600_000;
    private readonly SemaphoreSlim _one = new(1, 1);

    /// <summary>Runs while the server works; null when a check is under way.</summary>
    public async Task<StoreReport?> RunAsync(CancellationToken stop)
    {
        if (!await _one.WaitAsync(0, stop))
        {
            return null;
        }
        try
        {
            var began = Stopwatch.GetTimestamp();
            var (faults, samples) = await LookAsync(stop);
            return new(faults, samples, new FileInfo(settings.Database).Length, Stopwatch.GetElapsedTime(began).TotalSeconds);
        }
        finally
        {
            _one.Release();
        }
    }

    private async Task<(IReadOnlyList<string> Faults, long Samples)> LookAsync(CancellationToken stop)
    {
        var faults = new List<string>();
        try
        {
            await using var store = await stores.CreateDbContextAsync(stop);
            // One transaction that only reads: all of it as of one moment, and nobody waits for it.
            await store.Database.OpenConnectionAsync(stop);
            await using var moment = ((SqliteConnection)store.Database.GetDbConnection()).BeginTransaction(deferred: true);
            await store.Database.UseTransactionAsync(moment, stop);
            foreach (
                var said in await store
                    .Database.SqlQuery<string>($"SELECT integrity_check AS Value FROM pragma_integrity_check LIMIT {MostFaults}")
                    .ToListAsync(stop)
            )
            {
                if (said != "ok")
                {
                    faults.Add($"The database file is damaged: {said}");
                }
            }
            foreach (
                var broken in await store
                    .Database.SqlQuery<string>($"SELECT \"table\" AS Value FROM pragma_foreign_key_check LIMIT {MostFaults}")
                    .ToListAsync(stop)
            )
            {
                faults.Add($"A row of {broken} refers to one that is gone.");
            }
            var hours = await store
                .Database.SqlQuery<long>(
                    $"""
                    SELECT count(*) AS Value FROM (SELECT reading_id, t / {HourMs} * {HourMs} AS hour, count(*) AS n, sum(value) AS total FROM samples
                        WHERE flags & 40 = 0 GROUP BY 1, 2) s
                    JOIN (SELECT reading_id AS id, min(t) AS first FROM samples GROUP BY 1) f ON f.id = s.reading_id
                    LEFT JOIN rollups r ON r.reading_id = s.reading_id AND r.step = {HourMs} AND r.t = s.hour
                    WHERE s.hour >= f.first AND (r.n IS NOT s.n OR abs(r.sum - s.total) > 1e-6 * max(1, abs(s.total)))
                    """
                )
                .SingleAsync(stop);
            if (hours > 0)
            {
                faults.Add($"The sums of {hours} hours are not those of their samples.");
            }
            var samples = await store.Database.SqlQuery<long>($"SELECT count(*) AS Value FROM samples").SingleAsync(stop);
            return (faults, samples);
        }
        catch (SqliteException fault)
        {
            return ([.. faults, $"The database file cannot be read through: {fault.Message}"], 0);
        }
    }
}
