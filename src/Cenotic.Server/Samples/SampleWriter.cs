using System.Collections.Concurrent;
using System.Threading.Channels;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Samples;

/// <summary>A stored sample as live views and rules see it.</summary>
public sealed record StoredSample(string Site, string Node, string Key, int Reading, long T, double Value, SampleFlags Flags);

/// <summary>What became of a message.</summary>
/// <param name="Fresh">How many of its samples were not stored before.</param>
/// <param name="Refusal">Why none of it could be written; null when it was.</param>
/// <param name="Repeated">True when it was stored before: it is known by its numbers.</param>
public sealed record StoreResult(int Fresh, string? Refusal = null, bool Repeated = false);

/// <summary>
/// The one writer of samples: commits at once when idle; what arrives during a commit forms the next batch. A message is done when its batch is committed. A
/// batch that fails for one of its messages is written message by message, so that only that one is refused.
/// </summary>
public sealed class SampleWriter(
    IDbContextFactory<CenoticStore> stores,
    WriteGate gate,
    RelayMeter meter,
    LastMessages last,
    ICorrections corrections,
    ReadingNumbers numbers,
    SetAside aside,
    TimeProvider system,
    LoopHealth health,
    ILogger<SampleWriter> log
) : BackgroundService
{
    private const int LargestBatch = 2000,
        LongestQueue = 20_000,
        RefusalsOfMinute = 5,
        Repeat = -1;

    private readonly Channel<(DecodedMessage Message, TaskCompletionSource<StoreResult> Done)> _queue = Channel.CreateBounded<(
        DecodedMessage,
        TaskCompletionSource<StoreResult>
    )>(new BoundedChannelOptions(LongestQueue) { SingleReader = true, FullMode = BoundedChannelFullMode.Wait });
    private readonly Dictionary<int, (long T, double Value)> _newest = [];
    private readonly ConcurrentQueue<int> _emptied = [];

    /// <summary>The rows of each node's refusals in the minute that runs.</summary>
    private readonly Dictionary<(string Site, string Node), RefusedMinute> _refused = [];

    private sealed record RefusedMinute(long Minute, List<long> Rows);

    /// <summary>Which life each node is in, and the highest numbers of it.</summary>
    private readonly Dictionary<(string Site, string Node), (int Life, MessagePlace? Newest)> _lives = [];

    /// <summary>False when <see cref="_newest"/> may not be what is stored: after a batch that was not.</summary>
    private volatile bool _newestIsStored;

    /// <summary>When each node was heard last since the server started: while it was off nobody knows who was silent.</summary>
    private readonly Dictionary<(string Site, string Node), long> _heard = [];

    /// <summary>Called after each commit, in order of commit.</summary>
    public event Action<IReadOnlyList<StoredSample>>? Committed;

    /// <summary>Called after each commit with the messages that had something refused.</summary>
    public event Action<IReadOnlyList<DecodedMessage>>? Refused;

    /// <summary>Called after each commit with the messages that answer a command.</summary>
    public event Action<IReadOnlyList<DecodedMessage>>? Answered;

    /// <summary>Stores a message; the task ends when it is committed and fails when it could not be. A full queue makes the caller wait.</summary>
    public async Task<StoreResult> StoreAsync(DecodedMessage message, CancellationToken stop = default)
    {
        var done = new TaskCompletionSource<StoreResult>(TaskCreationOptions.RunContinuationsAsynchronously);
        try
        {
            await _queue.Writer.WriteAsync((message, done), stop);
        }
        catch (ChannelClosedException ended)
        {
            throw new IOException("Not stored: this program ends.", ended);
        }
        return await done.Task;
    }

    /// <summary>Says that what makes a sample late is another than before: it is looked up again with the next batch.</summary>
    public void LookAgain() => _newestIsStored = false;

    /// <summary>Says that a reading has no samples any more: what comes now is not late.</summary>
    public void Emptied(int reading) => _emptied.Enqueue(reading);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        numbers.Changed += LookAgain;
        try
        {
            while (await _queue.Reader.WaitToReadAsync(stoppingToken))
            {
                await health.RunAsync("storing", CommitWaitingAsync, stoppingToken);
            }
        }
        finally
        {
            // Whoever waits is told that it is over: nothing of theirs was stored.
            _queue.Writer.TryComplete();
            while (_queue.Reader.TryRead(out var left))
            {
                left.Done.TrySetException(new IOException("Not stored: this program ends."));
            }
        }
    }

    private async Task CommitWaitingAsync()
    {
        var batch = new List<(DecodedMessage Message, TaskCompletionSource<StoreResult> Done)>();
        while (batch.Count < LargestBatch && _queue.Reader.TryRead(out var one))
        {
            batch.Add(one);
        }
        try
        {
            if (await TryCommitAsync(batch) is not { } fault)
            {
                return;
            }
            if (IsOfTheStore(fault))
            {
                Fail(batch, fault);
                return;
            }
            foreach (var one in batch)
            {
                await CommitAloneAsync(one, batch.Count == 1 ? fault : await TryCommitAsync([one]));
            }
        }
        finally
        {
            // Ended already where all went as it should.
            batch.ForEach(one => one.Done.TrySetException(new IOException("Not stored.")));
        }
    }

    /// <summary>Commits messages and tells of them; null when that succeeded, else what went wrong, with none of them stored.</summary>
    private async Task<Exception?> TryCommitAsync(IReadOnlyList<(DecodedMessage Message, TaskCompletionSource<StoreResult> Done)> batch)
    {
        var began = system.GetTimestamp();
        Written written;
        try
        {
            if (!_newestIsStored)
            {
                await LoadNewestAsync();
            }
            while (_emptied.TryDequeue(out var reading))
            {
                _newest.Remove(reading);
            }
            written = await gate.WriteAsync(
                store => Task.FromResult(Write((SqliteConnection)store.Database.GetDbConnection(), batch.Select(b => b.Message))),
                CancellationToken.None
            );
        }
        catch (Exception fault)
        {
            // The rows that were made in it are gone.
            _refused.Clear();
            _lives.Clear();
            _newestIsStored = false;
            return fault;
        }
        meter.Committed(
            batch.Count(b => b.Message.Node != DerivedDesign.Node) - written.Repeats,
            written.Fresh.Sum(f => Math.Max(0, f)),
            written.Repeats,
            batch.Sum(b => b.Message.Refusals.Count),
            system.GetElapsedTime(began),
            _queue.Reader.Count
        );
        foreach (var (one, count) in batch.Zip(written.Fresh))
        {
            one.Done.TrySetResult(new(Math.Max(0, count), null, count == Repeat));
        }
        Tell(batch, written);
        return null;
    }

    private void Tell(IReadOnlyList<(DecodedMessage Message, TaskCompletionSource<StoreResult> Done)> batch, Written written)
    {
        foreach (var (arrival, message) in written.Arrived.Where(a => a.Message.Payload.Length > 0))
        {
            last.Keep(arrival, message);
        }
        try
        {
            Committed?.Invoke(written.Stored);
            if (written.Arrived.Any(a => a.Message.Answers.Count > 0))
            {
                Answered?.Invoke([.. written.Arrived.Select(a => a.Message).Where(m => m.Answers.Count > 0)]);
            }
            if (batch.Any(b => b.Message.Refusals.Count > 0))
            {
                Refused?.Invoke([.. batch.Select(b => b.Message).Where(m => m.Refusals.Count > 0)]);
            }
        }
        catch (Exception fault)
        {
            // What is stored stays stored and acknowledged, whoever could not hear of it.
            log.LogError(fault, "What was stored could not be told.");
        }
    }

    /// <summary>Ends a message that was tried alone: it is stored, refused with its reason,
    /// or left unacknowledged when the store cannot write at all.</summary>
    private async Task CommitAloneAsync((DecodedMessage Message, TaskCompletionSource<StoreResult> Done) one, Exception? fault)
    {
        if (fault is null)
        {
            return;
        }
        if (!IsOfTheStore(fault))
        {
            var reason = $"It could not be written: {fault.GetBaseException().Message}";
            log.LogWarning(fault, "A message of {Site}/{Node} was refused: it cannot be written.", one.Message.Site, one.Message.Node);
            var refused = new TaskCompletionSource<StoreResult>();
            fault = await TryCommitAsync([(one.Message with { Samples = [], Report = null, Refusals = [reason, .. one.Message.Refusals] }, refused)]);
            if (fault is null)
            {
                one.Done.TrySetResult(new(0, reason));
                return;
            }
        }
        Fail([one], fault);
    }

    private void Fail(IReadOnlyList<(DecodedMessage Message, TaskCompletionSource<StoreResult> Done)> batch, Exception fault)
    {
        meter.Failed(fault.GetBaseException().Message, _queue.Reader.Count);
        log.LogError(fault, "A batch of {Count} messages was not stored; its senders get no acknowledgement.", batch.Count);
        foreach (var one in batch)
        {
            one.Done.TrySetException(new IOException("Not stored.", fault));
        }
    }

    /// <summary>True unless the fault lies in what was to be written: SQLite's codes for a constraint, a type, a
    /// size (sqlite.org, Result and Error Codes), or a number that does not fit.</summary>
    private static bool IsOfTheStore(Exception fault) =>
        fault.GetBaseException() switch
        {
            SqliteException e => e.SqliteErrorCode
                is not (SQLitePCL.raw.SQLITE_CONSTRAINT or SQLitePCL.raw.SQLITE_MISMATCH or SQLitePCL.raw.SQLITE_TOOBIG or SQLitePCL.raw.SQLITE_RANGE),
            OverflowException or ArgumentException or FormatException => false,
            _ => true,
        };

    private async Task LoadNewestAsync()
    {
        _newest.Clear();
        await using var store = await stores.CreateDbContextAsync();
        await store.Database.OpenConnectionAsync();
        await using var command = store.Database.GetDbConnection().CreateCommand();
        // The newest times are found first, each by the index: held against every sample instead it takes a second for a year of minutes.
        // What was stored by a clock that had been ahead makes nothing late once somebody said so; the index finds each of these at once.
        command.CommandText = """
            WITH n AS MATERIALIZED (SELECT r.Id AS id, CASE
                WHEN st.JudgedAnywayMs IS NULL THEN (SELECT max(t) FROM samples WHERE reading_id = r.Id)
                ELSE coalesce((SELECT t FROM samples WHERE reading_id = r.Id AND t > st.JudgedAnywayMs AND arrival_id > st.JudgedAnywayArrival
                    ORDER BY t DESC LIMIT 1),
                    (SELECT max(t) FROM samples WHERE reading_id = r.Id AND t <= st.JudgedAnywayMs))
                END AS t FROM readings r JOIN sites st ON st.Key = r.Site)
            SELECT s.reading_id, s.t, s.value FROM n CROSS JOIN samples s ON s.reading_id = n.id AND s.t = n.t
            """;
        await using var rows = await command.ExecuteReaderAsync();
        while (await rows.ReadAsync())
        {
            _newest[rows.GetInt32(0)] = (rows.GetInt64(1), rows.GetDouble(2));
        }
        _newestIsStored = true;
    }

    /// <param name="Fresh">Of each message, how many of its samples were not stored before; <see cref="Repeat"/> for a message that was.</param>
    private sealed record Written(List<StoredSample> Stored, List<(long Arrival, DecodedMessage Message)> Arrived, List<int> Fresh, int Repeats);

    private Written Write(SqliteConnection connection, IEnumerable<DecodedMessage> messages)
    {
        using var statements = new SampleStatements(connection);
        var stored = new List<StoredSample>();
        var fresh = new List<int>();
        var arrived = new List<(long, DecodedMessage)>();
        var repeats = 0;
        foreach (var message in messages)
        {
            foreach (var reason in message.Refusals)
            {
                Refuse(statements, message, reason);
            }
            // A table that comes again leaves no trace: its samples are looked for before anything is written.
            var imported = message.Samples.Count > 0 && message.Samples[0].Flags.HasFlag(SampleFlags.Imported);
            // Its readings may have got other numbers since it was decoded.
            var decoded = message.Samples.Any(s => numbers.Current(s.Reading) != s.Reading)
                ? [.. message.Samples.Select(s => s with { Reading = numbers.Current(s.Reading) })]
                : message.Samples;
            var samples = imported ? decoded.Where(s => Newest(s.Reading) is not { } newest || s.T > newest.T || !statements.Has(s)).ToList() : decoded;
            fresh.Add(0);
            if (samples.Count == 0 && (imported || message.Refusals.Count > 0))
            {
                continue;
            }
            var numbering = Number(statements, message, out var life);
            if (numbering == Numbering.Repeat || statements.Arrive(message, life) is not { } arrival)
            {
                // The same node, start and number: a repeat of what is stored.
                repeats++;
                fresh[^1] = Repeat;
                statements.Repeat(message);
                continue;
            }
            arrived.Add((arrival, message));
            if (!imported)
            {
                if (_heard.TryGetValue((message.Site, message.Node), out var before) && Outages.EndsWith(message, before))
                {
                    statements.Outage(message, before);
                }
                _heard[(message.Site, message.Node)] = message.ReceivedMs;
            }
            if (message.Up is not null || message.CorrectionChanged)
            {
                statements.Status(message);
            }
            if (message.Report is { } report)
            {
                statements.Report(message, report, numbering == Numbering.NewLife);
            }
            var kept = StoreAll(statements, message, samples, arrival);
            fresh[^1] = kept.Count;
            stored.AddRange(imported ? [] : kept);
        }
        statements.WriteRollups();
        return new(stored, arrived, fresh, repeats);
    }

    /// <summary>Stores the samples of a message, corrected and marked.</summary>
    /// <returns>Those that were not there before.</returns>
    private List<StoredSample> StoreAll(SampleStatements statements, DecodedMessage message, IReadOnlyList<DecodedSample> samples, long arrival)
    {
        var stored = new List<StoredSample>();
        foreach (var sample in samples)
        {
            if (!PossibleValue.IsBounded(sample.Raw))
            {
                // What is worked out and what is imported comes here without having been looked at.
                Refuse(statements, message, $"\"{sample.Key}\" {PossibleValue.Refusal(sample.Raw, null)}");
                continue;
            }
            var (value, suspect) = Corrected(sample);
            var marks =
                (suspect ? SampleFlags.Suspect : 0)
                | (aside.Holds(message.Site, message.Node, sample.Key, sample.T) ? SampleFlags.SetAside : 0)
                | (corrections.IsBeyond(sample.Reading, sample.T, sample.Raw) ? SampleFlags.BeyondTable : 0);
            if (Store(statements, marks == 0 ? sample : sample with { Flags = sample.Flags | marks }, value, arrival) is not { } flags)
            {
                continue;
            }
            stored.Add(new(message.Site, message.Node, sample.Key, sample.Reading, sample.T, value, flags));
        }
        return stored;
    }

    /// <summary>What a message is by its numbers, and which life of its node it is of.</summary>
    private Numbering Number(SampleStatements statements, DecodedMessage message, out int life)
    {
        var node = (message.Site, message.Node);
        if (message.Boot is not { } boot || message.Number is not { } number)
        {
            life = _lives.TryGetValue(node, out var of) ? of.Life : 0;
            return Numbering.Fresh;
        }
        if (!_lives.TryGetValue(node, out var known))
        {
            known = statements.LifeOf(message.Site, message.Node);
        }
        var place = new MessagePlace(boot, number);
        // Beyond the newest nothing is stored: most messages need no look.
        var beyond = known.Newest is not { } newest || boot > newest.Boot || (boot == newest.Boot && number > newest.Number);
        var numbering = beyond
            ? Numbering.Fresh
            : MessageNumbers.Judge(
                new(place, message.Digest, message.ReceivedMs),
                statements.Same(message, known.Life, place),
                known.Newest,
                message.Report?.Reset is not null
            );
        if (numbering == Numbering.NewLife)
        {
            statements.NewLife(message, known.Life + 1, known.Newest!.Value, place);
            (known, beyond) = ((known.Life + 1, place), true);
        }
        _lives[node] = beyond ? (known.Life, place) : known;
        life = known.Life;
        return numbering;
    }

    /// <summary>Counts a refusal by node and minute: the first few have a row of their own, the last of those rows stands for all that follow.</summary>
    private void Refuse(SampleStatements statements, DecodedMessage message, string reason)
    {
        var minute = message.ReceivedMs / 60_000;
        var known = _refused.GetValueOrDefault((message.Site, message.Node));
        var rows = known?.Minute == minute ? known.Rows : [];
        if (rows.Count < RefusalsOfMinute)
        {
            rows.Add(statements.Refuse(message, reason));
        }
        else
        {
            statements.RefuseMore(rows[^1], message, reason);
        }
        _refused[(message.Site, message.Node)] = new(minute, rows);
    }

    /// <summary>The newest sample of a reading, also of one that has just got another number; null when there is none.</summary>
    private (long T, double Value)? Newest(int reading) =>
        _newest.TryGetValue(reading, out var newest) || (numbers.Before(reading) is { } before && _newest.TryGetValue(before, out newest)) ? newest : null;

    /// <summary>The value after its calibration. One that a calibration carries beyond what a reading can be stays as it came, marked suspect.</summary>
    private (double Value, bool Suspect) Corrected(DecodedSample sample)
    {
        if (sample.Flags.HasFlag(SampleFlags.Suspect))
        {
            return (sample.Raw, false);
        }
        var value = corrections.Value(sample.Reading, sample.T, sample.Raw);
        return PossibleValue.IsBounded(value) ? (value, false) : (sample.Raw, true);
    }

    /// <summary>Writes a sample; its flags, or null when it is stored already.</summary>
    private SampleFlags? Store(SampleStatements statements, DecodedSample sample, double value, long arrival)
    {
        var (known, newest) = Newest(sample.Reading) is { } before ? (true, before) : (false, default);
        var flags = sample.Flags | (known && sample.T < newest.T ? SampleFlags.Late : 0);
        if (!statements.Add(sample, value, flags, arrival))
        {
            return null;
        }
        if ((flags & SampleFlags.LeftOut) == 0)
        {
            statements.RollUp(
                sample,
                value,
                rises: sample.Raw > 0
                    && (
                        sample.Kind == ReadingKind.Event
                        || (sample.Kind == ReadingKind.State && (!known || newest.Value <= 0) && (flags & SampleFlags.Late) == 0)
                    )
            );
        }
        if (!known || sample.T >= newest.T)
        {
            _newest[sample.Reading] = (sample.T, sample.Raw);
        }
        return flags;
    }
}
