using System.Collections.Concurrent;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Live;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <summary>A correction that is in force for a stretch of time.</summary>
/// <param name="UntilMs">From then on it does not hold any more; null while it does.</param>
internal sealed record AppliedCalibration(long Id, long FromMs, long? UntilMs, Calibration Calibration);

/// <summary>How far a recompute is.</summary>
/// <param name="Share">0 to 1.</param>
/// <param name="Samples">That are worked through.</param>
/// <param name="Fault">Why it ended without effect; null when it did not.</param>
public sealed record RecomputeView(string Reading, double Share, long Samples, bool Running, string? Fault);

/// <summary>
/// Calibrations of readings: each value that comes is corrected by the one in force at its time, and
/// a calibration that is added or taken back makes what is stored anew, samples
/// and rollups, all of it or none.
/// </summary>
public sealed class Calibrations(
    IDbContextFactory<CenoticStore> stores,
    WriteGate gate,
    SiteBook book,
    SiteClock clock,
    LiveFeed live,
    SampleRemaker remaker,
    IHostApplicationLifetime life,
    ILogger<Calibrations> log
) : ICorrections
{
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
    internal void FindOnNode() =>
        _onNode = [
            .. book
                .Sites.Select(book.Find)
                .OfType<SiteState>()
                .SelectMany(s => s.Readings.Where(r => s.Design.Node(r.Key.Node) is { CorrectsItself: true }).Select(r => r.Value.Id)),
        ];

    /// <summary>What corrects the readings of a node at a time, by their keys.</summary>
    internal IReadOnlyDictionary<string, Calibration> InForce(SiteState state, string node, long now) =>
        state
            .Readings.Where(r => r.Key.Node == node)
            .Select(r =>
                (
                    r.Key.Key,
                    Applied: _applied.TryGetValue(r.Value.Id, out var applied) ? applied.LastOrDefault(a => a.FromMs <= now && !(a.UntilMs <= now)) : null
                )
            )
            .Where(r => r.Applied is not null)
            .ToDictionary(r => r.Key, r => r.Applied!.Calibration);

    public double Value(int reading, long t, double raw) =>
        !_onNode.Contains(reading) && _applied.TryGetValue(reading, out var applied) ? Value(applied, t, raw) : raw;

    public bool IsBeyond(int reading, long t, double raw) =>
        !_onNode.Contains(reading) && _applied.TryGetValue(reading, out var applied) && At(applied, t)?.IsBeyond(raw) == true;

    /// <summary>How far the last recompute of a node is; null when there was none since the start.</summary>
    public RecomputeView? Work(string site, string node) => _work.GetValueOrDefault((site, node))?.View;

    /// <summary>Ends the recompute of a node that runs: all values stay as they were.</summary>
    public void Cancel(string site, string node) => _work.GetValueOrDefault((site, node))?.Stop.Cancel();

    /// <summary>Begins to put a calibration in force. Null, or why it cannot be.</summary>
    /// <param name="row">Without the number of its reading.</param>
    internal string? Begin(CalibrationRow row) => Begin(row.Site, row.Node, row.Reading, row.FromMs, (store, reading) =>
        {
            row.ReadingId = reading;
            store.Calibrations.Add(row);
            return Task.CompletedTask;
        });

    /// <summary>Begins to take a calibration back. Null, or why it cannot be.</summary>
    internal string? BeginUndo(CalibrationRow row, string who) => Begin(row.Site, row.Node, row.Reading, row.FromMs, async (store, _) =>
        {
            var kept = await store.Calibrations.SingleAsync(c => c.Id == row.Id);
            (kept.UndoneMs, kept.UndoneBy) = (clock.Now(row.Site), who);
        });

    private string? Begin(string site, string node, string reading, long from, Func<CenoticStore, int, Task> change)
    {
        var work = new Recompute(new(reading, 0, 0, true, null), CancellationTokenSource.CreateLinkedTokenSource(life.ApplicationStopping));
        var begun = _work.AddOrUpdate((site, node), work, (_, known) => known.View.Running ? known : work);
        if (!ReferenceEquals(begun, work) || remaker.Claim(site, [new(node, reading)]) is not [var id])
        {
            _work.TryRemove(new((site, node), work));
            return "The values of this node are being worked through; wait until that is done, or end it.";
        }
        _ = Task.Run(() => RunAsync(work, site, id, from, store => change(store, id)), CancellationToken.None);
        return null;
    }

    private async Task RunAsync(Recompute work, string site, int reading, long from, Func<CenoticStore, Task> change)
    {
        string? fault = null;
        IReadOnlyList<AppliedCalibration> applied = [];
        try
        {
            applied = await AfterAsync(reading, change);
            await remaker.RunAsync(
                site,
                [
                    new(
                        reading,
                        from,
                        Value: "CASE WHEN flags & 8 THEN raw ELSE remade(t, raw) END",
                        Flags: $"CASE WHEN beyond(t, raw) THEN flags | {(int)SampleFlags.BeyondTable} ELSE flags & ~{(int)SampleFlags.BeyondTable} END",
                        Remade: (t, raw) => Value(applied, t, raw),
                        Beyond: (t, raw) => At(applied, t)?.IsBeyond(raw) == true
                    ),
                ],
                change,
                kept: moved =>
                {
                    // Within the gate: what is written next is corrected by it.
                    _applied.TryRemove(reading, out _);
                    _applied[moved[reading]] = applied;
                },
                (share, total) => work.View = work.View with { Share = share, Samples = total },
                work.Stop.Token
            );
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
        remaker.Release([reading]);
        work.View = work.View with { Running = false, Share = fault is null ? 1 : work.View.Share, Fault = fault };
        await live.CalibratedAsync(site);
    }

    /// <summary>What will be in force once a change is made: it is tried, and not kept.</summary>
    private async Task<IReadOnlyList<AppliedCalibration>> AfterAsync(int reading, Func<CenoticStore, Task> change)
    {
        await using var store = await stores.CreateDbContextAsync();
        await change(store);
        var rows = await store.Calibrations.AsNoTracking().Where(c => c.ReadingId == reading && c.UndoneMs == null).ToListAsync();
        var undone = store
            .ChangeTracker.Entries<CalibrationRow>()
            .Where(e => e.State == EntityState.Modified && e.Entity.UndoneMs is not null)
            .Select(e => e.Entity.Id)
            .ToHashSet();
        // One that is new has the highest number of all.
        var added = store.ChangeTracker.Entries<CalibrationRow>().Where(e => e.State == EntityState.Added).Select(e => e.Entity);
        return
        [
            .. Ordered(rows.Where(r => !undone.Contains(r.Id))).Concat(added.Select(Applied)).OrderBy(a => a.FromMs).ThenBy(a => a.Id == 0).ThenBy(a => a.Id),
        ];
    }

    private static double Value(IReadOnlyList<AppliedCalibration> applied, long t, double raw) => At(applied, t)?.Apply(raw) ?? raw;

    /// <summary>The one in force at a time; null when there was none.</summary>
    private static Calibration? At(IReadOnlyList<AppliedCalibration> applied, long t)
    {
        for (var i = applied.Count - 1; i >= 0; i--)
        {
            if (applied[i].FromMs <= t)
            {
                return applied[i].UntilMs is { } until && t >= until ? null : applied[i].Calibration;
            }
        }
        return null;
    }

    private static List<AppliedCalibration> Ordered(IEnumerable<CalibrationRow> rows) => [.. rows.OrderBy(r => r.FromMs).ThenBy(r => r.Id).Select(Applied)];

    private static AppliedCalibration Applied(CalibrationRow row) =>
        new(row.Id, row.FromMs, row.UntilMs, JsonSerializer.Deserialize<Calibration>(row.Body, CenoticJson.Options)!);

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
