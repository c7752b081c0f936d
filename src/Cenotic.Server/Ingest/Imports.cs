using System.Collections.Concurrent;
using System.Globalization;
using System.Security.Cryptography;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using CsvHelper;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Ingest;

/// <summary>How far an import is.</summary>
public enum ImportStage
{
    Waiting,
    Running,
    Done,
    Cancelled,
    Failed,
}

/// <summary>A table that was sent, and what became of it.</summary>
/// <param name="Guess">What it seems to be.</param>
/// <param name="Suggested">Columns whose headings are readings of the site.</param>
/// <param name="ReadShare">Share of the file that is read, 0 to 1.</param>
/// <param name="New">Samples that were stored.</param>
/// <param name="Known">Samples that were stored before.</param>
/// <param name="Refused">Things that were left out.</param>
/// <param name="Refusals">The first of them, with their reasons.</param>
/// <param name="Before">When the same file was imported before and not taken back; null when it was not.</param>
public sealed record ImportView(
    string Id,
    string FileName,
    long Bytes,
    CsvGuess Guess,
    IReadOnlyList<CsvColumn> Suggested,
    ImportStage Stage,
    double ReadShare,
    long Rows,
    long New,
    long Known,
    long Refused,
    IReadOnlyList<string> Refusals,
    string? Fault,
    ImportedBefore? Before
);

/// <summary>An earlier import of the same file.</summary>
/// <param name="AtMs">UTC ms of site time.</param>
public sealed record ImportedBefore(long AtMs, string Who, long Samples);

/// <summary>Tables of storage cards and spreadsheets on their way into the store. They wait as
/// files of the data folder until they are imported or given up.</summary>
public sealed class Imports(
    Settings settings,
    SiteBook book,
    SiteClock clock,
    Intake intake,
    SampleWriter writer,
    SampleRemaker remaker,
    WriteGate gate,
    IDbContextFactory<CenoticStore> stores,
    IHostApplicationLifetime life,
    ILogger<Imports> log
)
{
    /// <summary>Longest file, bytes.</summary>
    public const long LongestFile = 512L * 1024 * 1024;

    private const int ShownEvery = 2_000,
        MostWaiting = 20;

    private readonly ConcurrentDictionary<string, Table> _tables = [];

    private sealed class Table(string site, string file, string digest, ImportView view)
    {
        public string Site => site;

        public string Digest => digest;

        public string File => file;

        public ImportView View { get; set; } = view;

        public CancellationTokenSource Stop { get; } = new();

        public Task Work { get; set; } = Task.CompletedTask;
    }

    private string Folder => Path.Combine(settings.Data, "imports");

    /// <summary>Removes tables that an earlier run of the program left: nobody knows of them any more. Once, at start.</summary>
    public void RemoveLeft()
    {
        if (Directory.Exists(Folder))
        {
            Directory.Delete(Folder, recursive: true);
        }
    }

    public ImportView? Find(string site, string id) => _tables.TryGetValue(id, out var table) && table.Site == site ? table.View : null;

    /// <summary>Keeps a table and looks at its beginning.</summary>
    /// <exception cref="InvalidDataException">It is too long, empty, or no table.</exception>
    public async Task<ImportView> TakeAsync(string site, string fileName, Stream body, CancellationToken stop)
    {
        if (_tables.Count(t => t.Value.View.Stage == ImportStage.Waiting) >= MostWaiting)
        {
            throw new InvalidDataException($"{MostWaiting} tables wait already; import or give up one of them first.");
        }
        Directory.CreateDirectory(Folder);
        var id = Guid.NewGuid().ToString("n");
        var file = Path.Combine(Folder, id + ".csv");
        try
        {
            long length = 0;
            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            await using (var kept = new FileStream(file, FileMode.CreateNew, FileAccess.ReadWrite))
            {
                var bytes = new byte[81_920];
                while (await body.ReadAsync(bytes, stop) is var count and > 0)
                {
                    if ((length += count) > LongestFile)
                    {
                        throw new InvalidDataException($"A table has at most {LongestFile / 1_048_576} MB.");
                    }
                    hash.AppendData(bytes, 0, count);
                    await kept.WriteAsync(bytes.AsMemory(0, count), stop);
                }
                kept.Position = 0;
                var guess = length == 0 ? throw new InvalidDataException("The file is empty.") : CsvImport.Guess(kept);
                var digest = Convert.ToHexString(hash.GetHashAndReset());
                var view = new ImportView(
                    id,
                    fileName,
                    length,
                    guess,
                    Suggest(site, guess),
                    ImportStage.Waiting,
                    0,
                    0,
                    0,
                    0,
                    0,
                    [],
                    null,
                    await BeforeAsync(site, digest)
                );
                _tables[id] = new(site, file, digest, view);
                return view;
            }
        }
        catch (Exception fault)
        {
            File.Delete(file);
            throw fault is CsvFormatException ? new InvalidDataException("This is no table: a row of it is longer than 64 KiB.") : fault;
        }
    }

    /// <summary>Begins to import. The sentences that say why not, or none.</summary>
    public IReadOnlyList<string> Begin(string site, string id, CsvLayout layout, string who)
    {
        if (!_tables.TryGetValue(id, out var table) || table.Site != site || table.View.Stage != ImportStage.Waiting)
        {
            return ["There is no such table that waits."];
        }
        var state = book.Find(site)!;
        var faults = layout
            .Columns.Where(c => !state.Readings.ContainsKey((c.Node, c.Reading)))
            .Select(c => $"There is no reading {c.Node}/{c.Reading}.")
            .ToList();
        if (layout.Columns.Count == 0)
        {
            faults.Add("Say which column is which reading.");
        }
        if (layout.Columns.GroupBy(c => (c.Node, c.Reading)).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            faults.Add($"Two columns are {twice.Key.Node}/{twice.Key.Reading}.");
        }
        if (table.View.Before is { } before && layout.Time is (CsvTime.SecondsSinceStart or CsvTime.MillisecondsSinceStart))
        {
            // Without a clock its times would be others each time, and everything stored twice.
            faults.Add(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"This file was imported by {before.Who} on {DateTimeOffset.FromUnixTimeMilliseconds(before.AtMs):yyyy-MM-dd HH:mm} UTC already "
                        + $"({before.Samples} samples). Take that import back in the Log first."
                )
            );
        }
        if (layout.Separator > 127 || layout.Columns.Any(c => c.Index is < 0 or > 1000) || layout.TimeColumn is < 0 or > 1000)
        {
            faults.Add("A column or the separator is out of range.");
        }
        try
        {
            if (faults.Count == 0)
            {
                var rows = CsvImport.Read(() => File.OpenRead(table.File), layout);
                table.View = table.View with { Stage = ImportStage.Running };
                table.Work = Task.Run(() => RunAsync(table, layout, rows, who), CancellationToken.None);
            }
        }
        catch (ArgumentException fault)
        {
            faults.Add(fault.Message);
        }
        return faults;
    }

    /// <summary>Stops an import, or gives a table up. What is stored stays. False when there is none.</summary>
    public async Task<bool> EndAsync(string site, string id)
    {
        if (!_tables.TryGetValue(id, out var table) || table.Site != site)
        {
            return false;
        }
        var running = table.View.Stage == ImportStage.Running;
        await table.Stop.CancelAsync();
        await table.Work;
        if (!running)
        {
            _tables.TryRemove(id, out _);
        }
        File.Delete(table.File);
        return true;
    }

    /// <summary>The newest import of the same file that was not taken back.</summary>
    private async Task<ImportedBefore?> BeforeAsync(string site, string digest)
    {
        await using var store = await stores.CreateDbContextAsync();
        return await store
            .Imports.AsNoTracking()
            .Where(i => i.Site == site && i.Digest == digest && i.UndoneMs == null)
            .OrderByDescending(i => i.Id)
            .Select(i => new ImportedBefore(i.AtMs, i.Who, i.Samples))
            .FirstOrDefaultAsync();
    }

    /// <summary>Takes an import back: its samples are removed, and all sums are as they were before. Null, or why it cannot be.</summary>
    public async Task<string?> UndoAsync(string site, long import, string who, CancellationToken stop)
    {
        await using var store = await stores.CreateDbContextAsync(stop);
        var of = await store
            .Database.SqlQuery<ImportedReading>(
                $"""
                SELECT reading_id AS Reading, min(t) AS FromMs, max(t) AS ToMs FROM samples WHERE arrival_id IN (SELECT Id FROM arrivals WHERE
                    Import = {import} AND Site = {site}) GROUP BY reading_id
                """
            )
            .ToListAsync(stop);
        var names = book.Find(site)!.Readings.ToDictionary(r => r.Value.Id, r => new ReadingRef(r.Key.Node, r.Key.Key));
        if (
            _tables.Values.Any(t => t.Site == site && t.View.Stage == ImportStage.Running)
            || of.Any(r => !names.ContainsKey(r.Reading))
            || remaker.Claim(site, of.ConvertAll(r => names[r.Reading])) is not { } claimed
        )
        {
            return "Values of its readings are being worked through, or a table is being imported; wait until that is done.";
        }
        try
        {
            await remaker.RunAsync(
                site,
                [.. of.Select(r => new Remake(r.Reading, r.FromMs, r.ToMs, Keep: $"arrival_id NOT IN (SELECT Id FROM arrivals WHERE Import = {import})"))],
                async writing =>
                {
                    var row = await writing.Imports.SingleAsync(i => i.Id == import, stop);
                    (row.UndoneMs, row.UndoneBy) = (clock.Now(site), who);
                },
                null,
                null,
                stop
            );
        }
        finally
        {
            remaker.Release(claimed);
        }
        await gate.WriteAsync(writing => writing.Arrivals.Where(a => a.Import == import).ExecuteDeleteAsync(CancellationToken.None), CancellationToken.None);
        return null;
    }

    private sealed record ImportedReading(int Reading, long FromMs, long ToMs);

    private async Task RunAsync(Table table, CsvLayout layout, IEnumerable<CsvValues> rows, string who)
    {
        var import = new ImportRow
        {
            Site = table.Site,
            FileName = table.View.FileName,
            Digest = table.Digest,
            AtMs = clock.Now(table.Site),
            Who = who,
        };
        using var both = CancellationTokenSource.CreateLinkedTokenSource(table.Stop.Token, life.ApplicationStopping);
        var batches = new ImportBatches(
            layout,
            (to, row, value) => intake.Imported(table.Site, to.Node, to.Reading, row.T, value, row.Estimated),
            (node, samples) =>
                writer.StoreAsync(new(table.Site, node, clock.Now(table.Site), 0, null, null, null, null, samples, [], "") { Import = import.Id }, both.Token)
        );
        var (stage, failed) = (ImportStage.Done, (string?)null);
        try
        {
            await gate.WriteAsync(store => Task.FromResult(store.Imports.Add(import)), both.Token);
            await TakeRowsAsync(table, rows, batches, both.Token);
        }
        catch (OperationCanceledException)
        {
            stage = ImportStage.Cancelled;
        }
        catch (Exception fault)
        {
            (stage, failed) = (
                ImportStage.Failed,
                fault is CsvFormatException
                    ? "A row is longer than 64 KiB: the table is damaged there. What came before it is stored."
                    : fault.GetBaseException().Message
            );
            log.LogWarning(fault, "The table {File} was not imported whole.", table.View.FileName);
        }
        await batches.CountLastAsync(life.ApplicationStopping);
        await EndAsync(import, batches.Fresh);
        table.View = table.View with
        {
            Stage = stage,
            New = batches.Fresh,
            Known = stage == ImportStage.Done ? batches.Handed - batches.Fresh : 0,
            Refused = batches.Refused,
            Refusals = batches.Refusals,
            Fault = failed,
        };
        File.Delete(table.File);
    }

    /// <summary>Takes the rows of a table, and shows now and then how far it is.</summary>
    private static async Task TakeRowsAsync(Table table, IEnumerable<CsvValues> rows, ImportBatches batches, CancellationToken stop)
    {
        var (perByte, seen) = (Math.Max(1, table.View.Bytes), 0L);
        foreach (var row in rows)
        {
            stop.ThrowIfCancellationRequested();
            await batches.TakeAsync(row);
            if (++seen % ShownEvery == 0)
            {
                table.View = table.View with
                {
                    Rows = seen,
                    New = batches.Fresh,
                    Refused = batches.Refused,
                    ReadShare = Math.Min(0.99, (double)seen * RowBytes(table.View) / perByte),
                };
            }
        }
        await batches.FinishAsync();
        table.View = table.View with { Rows = seen, ReadShare = 1 };
    }

    /// <summary>Keeps how much an import brought; one that brought nothing leaves no trace.</summary>
    private async Task EndAsync(ImportRow import, long fresh)
    {
        try
        {
            await gate.WriteAsync(async store =>
            {
                if (await store.Imports.FindAsync(import.Id) is { } row)
                {
                    row.Samples = fresh;
                    store.Imports.RemoveRange(fresh == 0 ? [row] : []);
                }
            });
        }
        catch (Exception fault) when (fault is DbUpdateException or Microsoft.Data.Sqlite.SqliteException or ObjectDisposedException)
        {
            log.LogWarning(fault, "How much the table {File} brought was not noted.", import.FileName);
        }
    }

    /// <summary>Usual length of a row, from the rows that were looked at.</summary>
    private static double RowBytes(ImportView view) => view.Guess.Rows.Count == 0 ? 1 : view.Guess.Rows.Average(r => r.Sum(f => f.Length + 1));

    private List<CsvColumn> Suggest(string site, CsvGuess guess)
    {
        var readings = book.Find(site)!.Design.Nodes.SelectMany(n => n.Readings.Select(r => (Node: n, Reading: r))).ToList();
        var found = new List<CsvColumn>();
        foreach (var (header, index) in guess.Headers.Select((h, i) => (h.Trim(), i)).Where(h => h.i != guess.TimeColumn))
        {
            var fits = readings
                .Where(r =>
                    string.Equals($"{r.Node.Key}/{r.Reading.Key}", header, StringComparison.OrdinalIgnoreCase)
                    || string.Equals(r.Reading.Key, header, StringComparison.OrdinalIgnoreCase)
                    || string.Equals(r.Reading.Label, header, StringComparison.OrdinalIgnoreCase)
                )
                .ToList();
            if (fits is [var (node, reading)] && found.All(f => (f.Node, f.Reading) != (node.Key, reading.Key)))
            {
                found.Add(new(index, node.Key, reading.Key));
            }
        }
        return found;
    }
}
