using System.Collections.Concurrent;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Samples;

/// <summary>How the stored samples of a reading are made anew. Each part is an expression over a row of samples.</summary>
/// <param name="FromMs">What is older stays as it is, UTC ms.</param>
/// <param name="ToMs">What is younger stays as it is, UTC ms.</param>
/// <param name="Value">The corrected value; may call <c>remade(t, raw)</c>.</param>
/// <param name="Flags">The marks.</param>
/// <param name="Keep">True for the samples that stay.</param>
/// <param name="Remade">What <c>remade(t, raw)</c> gives; null where it is not called.</param>
/// <param name="Beyond">What <c>beyond(t, raw)</c> gives; null where it is not called.</param>
public sealed record Remake(
    int Reading,
    long FromMs,
    long ToMs = long.MaxValue,
    string Value = "value",
    string Flags = "flags",
    string Keep = "1",
    Func<long, double, double>? Remade = null,
    Func<long, double, bool>? Beyond = null
);

/// <summary>
/// Makes the stored samples and rollups of readings anew without holding the door for what arrives. A few are changed where they lie. Many are written beside
/// the old ones, a slice at a time, under a number that no reading has yet; then the reading changes over to it in one short write. Until then, and after a
/// kill at any point, all is as it was; from then on all is new. What is left behind is removed in slices, too.
/// </summary>
public sealed class SampleRemaker(IDbContextFactory<CenoticStore> stores, WriteGate gate, SiteBook book, ReadingNumbers numbers, ILogger<SampleRemaker> log)
{
    /// <summary>So many samples are changed where they lie: that takes no longer than a batch of arrivals.</summary>
    internal const int FewSamples = 5_000;

    private const int SamplesOfASlice = 3_000,
        MostToCatchUp = 2_000;
    private const long HourMs = 3_600_000;
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(2);

    private readonly ConcurrentDictionary<int, byte> _busy = [];

    private sealed record Shadow(Remake Remake, int Id, ReadingKind Kind, long FirstHour);

    /// <summary>Called when stored samples of readings of a site were made anew.</summary>
    public event Action<string, IReadOnlyList<ReadingRef>>? Remade;

    /// <summary>Claims readings for a remake. Their numbers, in order, which hold until they are
    /// released; null when one of them is being made anew or is gone.</summary>
    internal IReadOnlyList<int>? Claim(string site, IReadOnlyList<ReadingRef> readings)
    {
        List<int> Numbers() =>
            book.Find(site) is not { } state
                ? []
                : [.. readings.Where(r => state.Readings.ContainsKey((r.Node, r.Reading))).Select(r => state.Readings[(r.Node, r.Reading)].Id)];
        var wanted = Numbers();
        var claimed = wanted.Where(id => _busy.TryAdd(id, 0)).ToList();
        // One that was made anew in between has another number.
        if (claimed.Count == readings.Count && Numbers().SequenceEqual(claimed))
        {
            return claimed;
        }
        Release(claimed);
        return null;
    }

    /// <summary>Gives claimed readings back.</summary>
    internal void Release(IEnumerable<int> readings)
    {
        foreach (var reading in readings)
        {
            _busy.TryRemove(reading, out _);
        }
    }

    /// <summary>Makes samples anew, all of them or none.</summary>
    /// <param name="change">What is written together with the change-over.</param>
    /// <param name="kept">Called once it is committed, before the next write begins, with the number of each reading before and now.</param>
    /// <param name="progress">Share that is done, and how many samples there are.</param>
    /// <exception cref="OperationCanceledException">It was ended: all is as it was.</exception>
    public async Task RunAsync(
        string site,
        IReadOnlyList<Remake> remakes,
        Func<CenoticStore, Task> change,
        Action<IReadOnlyDictionary<int, int>>? kept,
        Action<double, long>? progress,
        CancellationToken stop
    )
    {
        var total = 0L;
        await using (var store = await stores.CreateDbContextAsync(stop))
        {
            foreach (var remake in remakes)
            {
                total += (
                    await store
                        .Database.SqlQuery<long>(
                            $"SELECT count(*) AS Value FROM samples WHERE reading_id = {remake.Reading} AND t >= {remake.FromMs} AND t <= {remake.ToMs}"
                        )
                        .ToListAsync(stop)
                ).Single();
            }
        }
        progress?.Invoke(0, total);
        if (total <= FewSamples)
        {
            await InPlaceAsync(site, remakes, change, kept, stop);
        }
        else
        {
            await BesideAsync(site, remakes, change, kept, share => progress?.Invoke(share, total), stop);
        }
        numbers.Tell();
        if (total > 0 && book.Find(site) is { } now)
        {
            var made = remakes.Select(r => numbers.Current(r.Reading)).ToHashSet();
            Remade?.Invoke(site, [.. now.Readings.Where(r => made.Contains(r.Value.Id)).Select(r => new ReadingRef(r.Key.Node, r.Key.Key))]);
        }
    }

    private async Task InPlaceAsync(
        string site,
        IReadOnlyList<Remake> remakes,
        Func<CenoticStore, Task> change,
        Action<IReadOnlyDictionary<int, int>>? kept,
        CancellationToken stop
    ) =>
        await gate.WriteAsync(
            async store =>
            {
                await change(store);
                await store.SaveChangesAsync(stop);
                foreach (var remake in remakes)
                {
                    var sql = new Sql(store, remake, stop);
                    await sql.RunAsync($"DELETE FROM samples WHERE reading_id = $reading AND t >= $from AND t <= $to AND NOT ({remake.Keep})");
                    await sql.RunAsync(
                        $"UPDATE samples SET value = {remake.Value}, flags = {remake.Flags} WHERE reading_id = $reading AND t >= $from AND t <= $to"
                    );
                    var kind = (await store.Readings.AsNoTracking().SingleAsync(r => r.Id == remake.Reading, stop)).Kind;
                    await SumAsync(
                        sql,
                        remake.Reading,
                        remake.Reading,
                        kind,
                        await FirstHourAsync(sql, site, remake),
                        remake.ToMs > long.MaxValue - HourMs ? long.MaxValue : (remake.ToMs / HourMs + 1) * HourMs
                    );
                }
                return 0;
            },
            CancellationToken.None,
            _ => kept?.Invoke(remakes.ToDictionary(r => r.Reading, r => r.Reading))
        );

    private async Task BesideAsync(
        string site,
        IReadOnlyList<Remake> remakes,
        Func<CenoticStore, Task> change,
        Action<IReadOnlyDictionary<int, int>>? kept,
        Action<double> progress,
        CancellationToken stop
    )
    {
        var (shadows, upTo) = await BeginAsync(site, remakes, stop);
        var left = shadows.Select(s => s.Id).ToList();
        try
        {
            for (var i = 0; i < shadows.Count; i++)
            {
                var done = i;
                await CopyAsync(shadows[i], upTo, share => progress(0.8 * (done + share) / shadows.Count), stop);
            }
            while (await BehindAsync(shadows, upTo, stop) > MostToCatchUp)
            {
                upTo = await gate.WriteAsync(store => CatchUpAsync(store, shadows, upTo, MostToCatchUp, stop), stop);
            }
            await ChangeOverAsync(site, shadows, upTo, change, kept, stop);
            left = [.. shadows.Select(s => s.Remake.Reading)];
            progress(0.85);
        }
        finally
        {
            // Nothing waits for this, and a kill in it is made up for at the next start.
            await RemoveAsync(left);
        }
    }

    /// <summary>Makes the numbers that are written to, and reads up to which arrival the slices go.</summary>
    private async Task<(List<Shadow> Shadows, long UpTo)> BeginAsync(string site, IReadOnlyList<Remake> remakes, CancellationToken stop) =>
        await gate.WriteAsync(
            async store =>
            {
                var rows = new List<(Remake Remake, ReadingRow Row, long FirstHour)>();
                foreach (var remake in remakes)
                {
                    var of = await store.Readings.AsNoTracking().SingleAsync(r => r.Id == remake.Reading, stop);
                    var spare = new ReadingRow
                    {
                        Site = of.Site,
                        Node = of.Node,
                        Key = SpareKey(),
                        Kind = of.Kind,
                    };
                    store.Readings.Add(spare);
                    rows.Add((remake, spare, await FirstHourAsync(new(store, remake, stop), site, remake)));
                }
                await store.SaveChangesAsync(stop);
                return (
                    rows.Select(r => new Shadow(r.Remake, r.Row.Id, r.Row.Kind, r.FirstHour)).ToList(),
                    await store.Arrivals.MaxAsync(a => (long?)a.Id, stop) ?? 0
                );
            },
            stop
        );

    private static string SpareKey() => ReadingRow.Spare + Guid.NewGuid().ToString("n");

    private async Task CopyAsync(Shadow shadow, long upTo, Action<double> progress, CancellationToken stop)
    {
        var (first, last) = await SpanAsync(shadow.Remake.Reading, stop);
        for (var at = first; at <= last; )
        {
            var begin = at;
            at = await gate.WriteAsync(
                async store =>
                {
                    var sql = new Sql(store, shadow.Remake, stop);
                    var next = await sql.RunAsync(
                        $"SELECT t FROM samples WHERE reading_id = $reading AND t >= $at ORDER BY t LIMIT 1 OFFSET {SamplesOfASlice}",
                        ("$at", begin)
                    )
                        is > long.MinValue
                            and var t
                        ? Math.Max(t, begin + 1)
                        : long.MaxValue;
                    await sql.RunAsync(
                        Copy(shadow, "t >= $at AND t < $next AND arrival_id <= $upTo"),
                        ("$at", begin),
                        ("$next", next),
                        ("$upTo", upTo),
                        ("$shadow", shadow.Id)
                    );
                    return next;
                },
                stop
            );
            progress(0.8 * (Math.Min(at, last) - first) / Math.Max(1, last - first));
            await Task.Delay(Pause, stop);
        }
        await CopyRollupsAsync(shadow, stop);
        await SumAllAsync(shadow, share => progress(0.8 + 0.2 * share), stop);
    }

    private static string Copy(Shadow shadow, string where, string index = "") =>
        $"""
            INSERT OR REPLACE INTO samples (reading_id, t, n, raw, value, flags, arrival_id)
            SELECT $shadow, t, n, raw, CASE WHEN t >= $from AND t <= $to THEN {shadow.Remake.Value} ELSE value END,
                CASE WHEN t >= $from AND t <= $to THEN {shadow.Remake.Flags} ELSE flags END, arrival_id
            FROM samples {index} WHERE reading_id = $reading AND {where} AND (t < $from OR t > $to OR ({shadow.Remake.Keep}))
            """;

    private async Task<(long First, long Last)> SpanAsync(int reading, CancellationToken stop)
    {
        await using var store = await stores.CreateDbContextAsync(stop);
        var first = (await store.Database.SqlQuery<long?>($"SELECT min(t) AS Value FROM samples WHERE reading_id = {reading}").ToListAsync(stop)).Single();
        var last = (await store.Database.SqlQuery<long?>($"SELECT max(t) AS Value FROM samples WHERE reading_id = {reading}").ToListAsync(stop)).Single();
        return (first ?? 0, last ?? -1);
    }

    /// <summary>Rollups of hours that do not change are taken over as they are: of some of them no samples are left.</summary>
    private async Task CopyRollupsAsync(Shadow shadow, CancellationToken stop)
    {
        foreach (var step in SampleStatements.RollupSteps)
        {
            for (var at = long.MinValue; at < shadow.FirstHour; )
            {
                var begin = at;
                at = await gate.WriteAsync(
                    async store =>
                    {
                        var sql = new Sql(store, shadow.Remake, stop);
                        var next = await sql.RunAsync(
                            $"SELECT t FROM rollups WHERE reading_id = $reading AND step = {step} AND t >= $at ORDER BY t LIMIT 1 OFFSET {SamplesOfASlice}",
                            ("$at", begin)
                        )
                            is > long.MinValue
                                and var t
                            ? t
                            : long.MaxValue;
                        await sql.RunAsync(
                            $"""
                            INSERT OR REPLACE INTO rollups (reading_id, step, t, n, low, high, sum, last, last_t, rises)
                            SELECT $shadow, step, t, n, low, high, sum, last, last_t, rises FROM rollups
                                WHERE reading_id = $reading AND step = {step} AND t >= $at AND t < min($next, $first)
                            """,
                            ("$shadow", shadow.Id),
                            ("$at", begin),
                            ("$next", next),
                            ("$first", shadow.FirstHour)
                        );
                        return next;
                    },
                    stop
                );
                await Task.Delay(Pause, stop);
            }
        }
    }

    private async Task SumAllAsync(Shadow shadow, Action<double> progress, CancellationToken stop)
    {
        var (first, last) = await SpanAsync(shadow.Id, stop);
        first = Math.Max(first / HourMs * HourMs, shadow.FirstHour);
        for (var at = first; at <= last; )
        {
            var begin = at;
            at = await gate.WriteAsync(
                async store =>
                {
                    var sql = new Sql(store, shadow.Remake, stop);
                    // To the end of an hour, so that no hour is summed in parts.
                    var next = await sql.RunAsync(
                        $"SELECT t FROM samples WHERE reading_id = $shadow AND t >= $at ORDER BY t LIMIT 1 OFFSET {SamplesOfASlice}",
                        ("$shadow", shadow.Id),
                        ("$at", begin)
                    )
                        is > long.MinValue
                            and var t
                        ? Math.Max(t / HourMs * HourMs, begin + HourMs)
                        : long.MaxValue;
                    await SumAsync(sql, shadow.Id, shadow.Id, shadow.Kind, begin, next);
                    return next;
                },
                stop
            );
            progress((Math.Min(at, last) - first) / (double)Math.Max(1, last - first));
            await Task.Delay(Pause, stop);
        }
    }

    private async Task<long> BehindAsync(List<Shadow> shadows, long upTo, CancellationToken stop)
    {
        await using var store = await stores.CreateDbContextAsync(stop);
        var behind = 0L;
        foreach (var shadow in shadows)
        {
            behind += (
                await store
                    .Database.SqlQuery<long>(
                        $"""
                        SELECT count(*) AS Value FROM samples INDEXED BY samples_by_arrival WHERE arrival_id > {upTo} AND reading_id =
                            {shadow.Remake.Reading}
                        """
                    )
                    .ToListAsync(stop)
            ).Single();
        }
        return behind;
    }

    /// <summary>Takes over what arrived meanwhile, about so many samples of each reading. Up to which arrival that is.</summary>
    private static async Task<long> CatchUpAsync(CenoticStore store, List<Shadow> shadows, long after, int most, CancellationToken stop)
    {
        var upTo = await store.Arrivals.MaxAsync(a => (long?)a.Id, stop) ?? 0;
        foreach (var shadow in shadows)
        {
            var at = await new Sql(store, shadow.Remake, stop).RunAsync(
                "SELECT arrival_id FROM samples INDEXED BY samples_by_arrival WHERE arrival_id > $after AND reading_id = $reading ORDER BY "
                    + "arrival_id LIMIT 1 OFFSET $most",
                ("$after", after),
                ("$most", most)
            );
            upTo = at > long.MinValue ? Math.Min(upTo, at) : upTo;
        }
        foreach (var shadow in shadows)
        {
            var sql = new Sql(store, shadow.Remake, stop);
            await sql.RunAsync(
                Copy(shadow, "arrival_id > $after AND arrival_id <= $upTo", "INDEXED BY samples_by_arrival"),
                ("$after", after),
                ("$upTo", upTo),
                ("$shadow", shadow.Id)
            );
            var hours = await store
                .Database.SqlQuery<long>(
                    $"""
                    SELECT DISTINCT t / {HourMs} * {HourMs} AS Value FROM samples INDEXED BY samples_by_arrival WHERE arrival_id > {after} AND
                        arrival_id <= {upTo} AND reading_id = {shadow.Id}
                    """
                )
                .ToListAsync(stop);
            foreach (var hour in hours)
            {
                await SumAsync(sql, shadow.Id, shadow.Id, shadow.Kind, hour, hour + HourMs);
            }
        }
        return upTo;
    }

    private async Task ChangeOverAsync(
        string site,
        List<Shadow> shadows,
        long upTo,
        Func<CenoticStore, Task> change,
        Action<IReadOnlyDictionary<int, int>>? kept,
        CancellationToken stop
    )
    {
        var state = await gate.WriteAsync(
            async store =>
            {
                stop.ThrowIfCancellationRequested();
                await CatchUpAsync(store, shadows, upTo, int.MaxValue, stop);
                await change(store);
                await store.SaveChangesAsync(CancellationToken.None);
                foreach (var shadow in shadows)
                {
                    var key = await store.Readings.Where(r => r.Id == shadow.Remake.Reading).Select(r => r.Key).SingleAsync(CancellationToken.None);
                    await store.Database.ExecuteSqlAsync($"UPDATE readings SET Key = {SpareKey()} WHERE Id = {shadow.Remake.Reading}", CancellationToken.None);
                    await store.Database.ExecuteSqlAsync($"UPDATE readings SET Key = {key} WHERE Id = {shadow.Id}", CancellationToken.None);
                    await store.Database.ExecuteSqlAsync(
                        $"UPDATE calibrations SET ReadingId = {shadow.Id} WHERE ReadingId = {shadow.Remake.Reading}",
                        CancellationToken.None
                    );
                }
                return await book.ReadAgainAsync(store, site);
            },
            CancellationToken.None,
            state =>
            {
                shadows.ForEach(s => numbers.Move(s.Remake.Reading, s.Id));
                kept?.Invoke(shadows.ToDictionary(s => s.Remake.Reading, s => s.Id));
                book.Publish(state);
            }
        );
        book.Tell(state);
    }

    /// <summary>What a program that was killed left behind; once, before anything is made anew.</summary>
    public async Task<IReadOnlyList<int>> FindLeftAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        var spare = ReadingRow.Spare.ToString();
        return await store.Readings.AsNoTracking().Where(r => r.Key.StartsWith(spare)).Select(r => r.Id).ToListAsync();
    }

    /// <summary>Removes what was found left behind, beside what goes on.</summary>
    public async Task RemoveLeftAsync(IReadOnlyList<int> left)
    {
        try
        {
            await RemoveAsync(left);
        }
        catch (Exception fault) when (fault is SqliteException or DbUpdateException or ObjectDisposedException)
        {
            log.LogWarning(fault, "Samples that no reading has any more are still there; they are removed at another start.");
        }
    }

    private async Task RemoveAsync(IReadOnlyList<int> readings)
    {
        foreach (var reading in readings)
        {
            await EmptyAsync(reading);
            await gate.WriteAsync(store => store.Database.ExecuteSqlAsync($"DELETE FROM readings WHERE Id = {reading} AND Key LIKE '~%'"));
        }
    }

    /// <summary>Removes all samples and sums of a reading, in slices.</summary>
    public async Task EmptyAsync(int reading)
    {
        await InSlicesAsync(store =>
            store.Database.ExecuteSqlAsync(
                $"DELETE FROM samples WHERE (reading_id, t, n) IN (SELECT reading_id, t, n FROM samples WHERE reading_id = {reading} LIMIT {SamplesOfASlice})"
            )
        );
        await InSlicesAsync(store =>
            store.Database.ExecuteSqlAsync(
                $"""
                DELETE FROM rollups WHERE (reading_id, step, t) IN (SELECT reading_id, step, t FROM rollups WHERE reading_id = {reading} LIMIT
                    {SamplesOfASlice})
                """
            )
        );
    }

    private async Task InSlicesAsync(Func<CenoticStore, Task<int>> remove)
    {
        while (await gate.WriteAsync(remove) == SamplesOfASlice)
        {
            await Task.Delay(Pause);
        }
    }

    /// <summary>The first hour whose sums are made anew: those whose samples are partly gone by the site's keeping stay as they are.</summary>
    private async Task<long> FirstHourAsync(Sql sql, string site, Remake remake)
    {
        var first = remake.FromMs / HourMs * HourMs;
        return
            book.Find(site)?.Design.Settings.Keeping?.SampleDays is not null
            && await sql.RunAsync("SELECT min(t) FROM samples WHERE reading_id = $reading") is > 0 and var oldest
            ? Math.Max(first, (oldest + HourMs - 1) / HourMs * HourMs)
            : first;
    }

    /// <summary>Sums the samples of a stretch that begins and ends with an hour.</summary>
    private static async Task SumAsync(Sql sql, int of, int into, ReadingKind kind, long first, long next)
    {
        var rises = kind switch
        {
            ReadingKind.Event => "sum(raw > 0)",
            ReadingKind.State => "sum(flags & 1 = 0 AND raw > 0 AND before <= 0)",
            _ => "0",
        };
        // A state begins when the sample before it, also of an earlier hour, was off.
        var before =
            kind == ReadingKind.State
                ? "coalesce(lag(raw) OVER (ORDER BY t, n), (SELECT raw FROM samples b WHERE b.reading_id = $of AND b.t < $first ORDER BY b.t DESC, b.n "
                    + "DESC LIMIT 1), 0)"
                : "0";
        await sql.RunAsync("DELETE FROM rollups WHERE reading_id = $into AND t >= $first AND t < $next", ("$into", into), ("$first", first), ("$next", next));
        foreach (var step in SampleStatements.RollupSteps)
        {
            await sql.RunAsync(
                $"""
                INSERT INTO rollups (reading_id, step, t, n, low, high, sum, last, last_t, rises)
                SELECT $into, {step}, s.start, s.n, s.low, s.high, s.sum, (SELECT value FROM samples
                    WHERE reading_id = $of AND t = s.newest AND flags & 40 = 0 ORDER BY n DESC LIMIT 1), s.newest, s.rises
                FROM (SELECT t / {step} * {step} AS start, count(*) AS n, min(value) AS low, max(value) AS high, total(value) AS sum,
                    max(t) AS newest, {rises} AS rises
                    FROM (SELECT t, n, raw, value, flags, {before} AS before FROM samples
                        WHERE reading_id = $of AND t >= $first AND t < $next AND flags & 40 = 0) GROUP BY 1) s
                """,
                ("$of", of),
                ("$into", into),
                ("$first", first),
                ("$next", next)
            );
        }
    }

    /// <summary>Statements of one write about one reading.</summary>
    private sealed class Sql(CenoticStore store, Remake remake, CancellationToken stop)
    {
        private bool _made;

        /// <summary>Runs a statement. The first number it gives, or <see cref="long.MinValue"/>.</summary>
        internal async Task<long> RunAsync(string sql, params (string Name, long Value)[] values)
        {
            var connection = (SqliteConnection)store.Database.GetDbConnection();
            if (!_made)
            {
                connection.CreateFunction("beyond", remake.Beyond ?? ((_, _) => false), isDeterministic: true);
                connection.CreateFunction("remade", remake.Remade ?? ((_, raw) => raw), isDeterministic: true);
                _made = true;
            }
            await using var command = connection.CreateCommand();
            command.CommandText = sql;
            command.Transaction = store.Database.CurrentTransaction is { } current
                ? (SqliteTransaction)Microsoft.EntityFrameworkCore.Storage.DbContextTransactionExtensions.GetDbTransaction(current)
                : null;
            foreach (var (name, value) in values.Append(("$reading", remake.Reading)).Append(("$from", remake.FromMs)).Append(("$to", remake.ToMs)))
            {
                command.Parameters.AddWithValue(name, value);
            }
            return await command.ExecuteScalarAsync(stop) is long first ? first : long.MinValue;
        }
    }
}
