using System.Runtime.InteropServices;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Server.Common;
using Microsoft.Data.Sqlite;
using SQLitePCL;

namespace Cenotic.Server.Samples;

/// <summary>The prepared commands of one batch.</summary>
internal sealed class SampleStatements : IDisposable
{
    /// <summary>Lengths of the rollups, ms: a minute and an hour.</summary>
    internal static readonly long[] RollupSteps = [60_000, 3_600_000];

    /// <summary>What a batch adds to a rollup.</summary>
    private readonly record struct Rollup(long Count, double Low, double High, double Sum, double Last, long LastT, int Rises);

    private readonly Dictionary<(int Reading, long Step, long From), Rollup> _rollups = [];
    private readonly Statement _arrive,
        _refuse,
        _refuseMore,
        _add,
        _same,
        _addNext,
        _rollUp,
        _status,
        _tell,
        _report,
        _repeat;
    private readonly Func<string, Statement> _prepare;

    /// <summary>Seldom wanted: made when they are.</summary>
    private Statement? _outage,
        _lastLife,
        _highest,
        _sameReceived,
        _sameDigest,
        _sayLife,
        _sayLifeAgain;

    /// <param name="connection">Open, with the transaction of the batch begun.</param>
    internal SampleStatements(SqliteConnection connection)
    {
        Statement Prepare(string sql) => new(connection.Handle!, sql);
        _prepare = Prepare;
        _arrive = Prepare(
            "INSERT INTO arrivals (Site, Node, Boot, Number, ReceivedMs, Bytes, Rssi, Battery, ClockMs, CorrectionMs, Life, Digest, Import) "
                + "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING RETURNING Id"
        );
        _repeat = Prepare(
            """
            INSERT INTO node_status (Site, Node, Repeats, RepeatMs) VALUES (?1, ?2, 1, ?3)
            ON CONFLICT DO UPDATE SET Repeats = Repeats + 1, RepeatMs = ?3
            """
        );
        _refuse = Prepare("INSERT INTO refusals (Site, Node, AtMs, Reason, Excerpt) VALUES (?, ?, ?, ?, ?) RETURNING Id");
        _refuseMore = Prepare("UPDATE refusals SET AtMs = ?2, Reason = ?3, Excerpt = ?4, Count = Count + 1 WHERE Id = ?1");
        _add = Prepare("INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id) VALUES (?1, ?2, 0, ?3, ?6, ?4, ?5) ON CONFLICT DO NOTHING");
        _same = Prepare("SELECT 1 FROM samples WHERE reading_id = ? AND t = ? AND raw = ?");
        _addNext = Prepare(
            "INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id) SELECT ?1, ?2, max(n) + 1, ?3, ?6, ?4, ?5 FROM samples WHERE "
                + "reading_id = ?1 AND t = ?2"
        );
        _status = Prepare(
            """
            INSERT INTO node_status (Site, Node, Up, UpMs, CorrectionMs, CorrectionAtMs) VALUES (?1, ?2, ?3, ?4, ?5, ?6)
            ON CONFLICT DO UPDATE SET Up = coalesce(?3, Up), UpMs = coalesce(?4, UpMs), CorrectionMs = CASE WHEN ?6 IS NULL THEN CorrectionMs ELSE ?5 END,
                CorrectionAtMs = coalesce(?6, CorrectionAtMs)
            """
        );
        _tell = Prepare(
            """
            UPDATE node_reports SET Firmware = coalesce(?3, Firmware), Settings = coalesce(?4, Settings), Reset = coalesce(?5, Reset),
                SupplyVolts = coalesce(?6, SupplyVolts), FreeBytes = coalesce(?7, FreeBytes)
            WHERE Id = (SELECT max(Id) FROM node_reports WHERE Site = ?1 AND Node = ?2) AND Boot IS ?8 AND (?8 IS NOT NULL OR ?5 IS NULL)
            """
        );
        _report = Prepare(
            "INSERT INTO node_reports (Site, Node, AtMs, Boot, Firmware, Settings, Reset, SupplyVolts, FreeBytes) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)"
        );
        _rollUp = Prepare(
            """
            INSERT INTO rollups (reading_id, step, t, n, low, high, sum, last, last_t, rises) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10)
            ON CONFLICT (reading_id, step, t) DO UPDATE SET n = n + ?4, low = min(low, ?5), high = max(high, ?6), sum = max(-1e300, min(1e300, sum + ?7)),
                rises = rises + ?10,
                last = CASE WHEN ?9 >= last_t THEN ?8 ELSE last END, last_t = max(last_t, ?9)
            """
        );
    }

    /// <summary>The arrival's number, or null when the same message was taken in before.</summary>
    /// <param name="life">Which life of its node it is of.</param>
    internal long? Arrive(DecodedMessage m, int life)
    {
        _arrive
            .Bind(11, life)
            .Bind(12, m.Number is null ? null : m.Digest)
            .Bind(13, m.Import)
            .Bind(1, m.Site)
            .Bind(2, m.Node)
            .Bind(3, m.Boot)
            .Bind(4, m.Number)
            .Bind(5, m.ReceivedMs)
            .Bind(6, m.Bytes)
            .Bind(7, m.Rssi)
            .Bind(8, m.Battery)
            .Bind(9, m.ClockMs)
            .Bind(10, m.CorrectionMs);
        return _arrive.First();
    }

    /// <summary>Counts a message that came again.</summary>
    internal void Repeat(DecodedMessage m) => _repeat.Bind(1, m.Site).Bind(2, m.Node).Bind(3, m.ReceivedMs).First();

    /// <summary>The number of a node's life, and the highest numbers in it.</summary>
    internal (int Life, MessagePlace? Newest) LifeOf(string site, string node)
    {
        _lastLife ??= _prepare("SELECT Life FROM node_lives WHERE Site = ? AND Node = ? ORDER BY Id DESC LIMIT 1");
        // Numbers are below 10^15: both go into one number of 64 bits only apart.
        _highest ??= _prepare(
            "SELECT CASE ?4 WHEN 0 THEN Boot ELSE Number END FROM arrivals WHERE Site = ?1 AND Node = ?2 AND Life = ?3 AND Boot IS NOT NULL AND "
                + "Number IS NOT NULL ORDER BY Boot DESC, Number DESC LIMIT 1"
        );
        var life = (int)(_lastLife.Bind(1, site).Bind(2, node).First() ?? 0);
        long? Highest(long which) => _highest.Bind(1, site).Bind(2, node).Bind(3, life).Bind(4, which).First();
        return (life, Highest(0) is { } boot && Highest(1) is { } number ? new(boot, number) : null);
    }

    /// <summary>The stored message of a life with the same numbers; null when there is none.</summary>
    internal NumberedMessage? Same(DecodedMessage m, int life, MessagePlace place)
    {
        _sameReceived ??= _prepare("SELECT ReceivedMs FROM arrivals WHERE Site = ? AND Node = ? AND Life = ? AND Boot = ? AND Number = ?");
        _sameDigest ??= _prepare("SELECT Digest FROM arrivals WHERE Site = ? AND Node = ? AND Life = ? AND Boot = ? AND Number = ? AND Digest IS NOT NULL");
        long? Asked(Statement of) => of.Bind(1, m.Site).Bind(2, m.Node).Bind(3, life).Bind(4, place.Boot).Bind(5, place.Number).First();
        return Asked(_sameReceived) is { } received ? new(place, Asked(_sameDigest), received) : null;
    }

    /// <summary>Keeps that the counts of a node began anew; what happens again within an hour stands in one row.</summary>
    internal void NewLife(DecodedMessage m, int life, MessagePlace before, MessagePlace now)
    {
        _sayLifeAgain ??= _prepare(
            "UPDATE node_lives SET Life = ?3, Times = Times + 1 WHERE Id = (SELECT max(Id) FROM node_lives WHERE Site = ?1 AND Node = ?2) AND AtMs > ?4"
        );
        _sayLife ??= _prepare(
            "INSERT INTO node_lives (Site, Node, Life, AtMs, Times, BeforeBoot, BeforeNumber, Boot, Number) VALUES (?, ?, ?, ?, 1, ?, ?, ?, ?)"
        );
        if (!_sayLifeAgain.Bind(1, m.Site).Bind(2, m.Node).Bind(3, life).Bind(4, m.ReceivedMs - 3_600_000).Change())
        {
            _sayLife
                .Bind(1, m.Site)
                .Bind(2, m.Node)
                .Bind(3, life)
                .Bind(4, m.ReceivedMs)
                .Bind(5, before.Boot)
                .Bind(6, before.Number)
                .Bind(7, now.Boot)
                .Bind(8, now.Number)
                .First();
        }
    }

    /// <summary>Keeps a refusal in a row of its own, whose number it gives.</summary>
    internal long Refuse(DecodedMessage m, string reason) =>
        _refuse.Bind(1, m.Site).Bind(2, m.Node).Bind(3, m.ReceivedMs).Bind(4, reason).Bind(5, m.Excerpt).First()!.Value;

    /// <summary>Counts a refusal in the row of another, which tells this one from now on.</summary>
    internal void RefuseMore(long row, DecodedMessage m, string reason) =>
        _refuseMore.Bind(1, row).Bind(2, m.ReceivedMs).Bind(3, reason).Bind(4, m.Excerpt).First();

    /// <summary>Keeps that a node was silent for longer than it may be.</summary>
    internal void Outage(DecodedMessage m, long since) =>
        (_outage ??= _prepare("INSERT INTO outages (Site, Node, FromMs, ToMs) VALUES (?, ?, ?, ?)"))
            .Bind(1, m.Site)
            .Bind(2, m.Node)
            .Bind(3, since)
            .Bind(4, m.ReceivedMs)
            .First();

    /// <summary>Keeps what the message says about the node itself: that it is there or gone, that its clock is corrected otherwise.</summary>
    internal void Status(DecodedMessage m) =>
        _status
            .Bind(1, m.Site)
            .Bind(2, m.Node)
            .Bind(3, m.Up is { } up ? (up ? 1L : 0L) : (long?)null)
            .Bind(4, m.Up is null ? null : m.ReceivedMs)
            .Bind(5, m.CorrectionMs)
            .Bind(6, m.CorrectionChanged ? m.ReceivedMs : (long?)null)
            .First();

    /// <summary>Keeps what a node told of itself: one row for each of its starts, however often it
    /// tells. Without a count of starts a reason for one begins a row.</summary>
    /// <param name="newLife">True when the counts of the node began anew with this message: it stands in no earlier row.</param>
    internal void Report(DecodedMessage m, NodeReport r, bool newLife)
    {
        if (
            newLife
            || !_tell
                .Bind(1, m.Site)
                .Bind(2, m.Node)
                .Bind(3, r.Firmware)
                .Bind(4, r.Settings)
                .Bind(5, r.Reset)
                .Bind(6, r.SupplyVolts)
                .Bind(7, r.FreeBytes)
                .Bind(8, r.Boot)
                .Change()
        )
        {
            _report
                .Bind(1, m.Site)
                .Bind(2, m.Node)
                .Bind(3, m.ReceivedMs)
                .Bind(4, r.Boot)
                .Bind(5, r.Firmware)
                .Bind(6, r.Settings)
                .Bind(7, r.Reset)
                .Bind(8, r.SupplyVolts)
                .Bind(9, r.FreeBytes)
                .First();
        }
    }

    /// <summary>False when an equal sample is stored already.</summary>
    /// <param name="value">The raw value after its calibration.</param>
    internal bool Add(DecodedSample s, double value, SampleFlags flags, long arrival)
    {
        if (Sample(_add, s, value, flags, arrival).Change())
        {
            return true;
        }
        if (Has(s))
        {
            return false;
        }
        Sample(_addNext, s, value, flags, arrival).First();
        return true;
    }

    /// <summary>True when an equal sample is stored: the same reading, time and value.</summary>
    internal bool Has(DecodedSample s) => _same.Bind(1, s.Reading).Bind(2, s.T).Bind(3, s.Raw).First() is not null;

    private static Statement Sample(Statement into, DecodedSample s, double value, SampleFlags flags, long arrival) =>
        into.Bind(1, s.Reading).Bind(2, s.T).Bind(3, s.Raw).Bind(4, (long)flags).Bind(5, arrival).Bind(6, value);

    /// <summary>Adds a sample to the rollups of its minute and hour; they are written by <see cref="WriteRollups"/>, each once a batch.</summary>
    internal void RollUp(DecodedSample s, double value, bool rises)
    {
        foreach (var step in RollupSteps)
        {
            ref var rollup = ref CollectionsMarshal.GetValueRefOrAddDefault(_rollups, (s.Reading, step, s.T - s.T % step), out var known);
            var newest = !known || s.T >= rollup.LastT;
            rollup = new(
                rollup.Count + 1,
                known ? Math.Min(rollup.Low, value) : value,
                known ? Math.Max(rollup.High, value) : value,
                rollup.Sum + value,
                newest ? value : rollup.Last,
                newest ? s.T : rollup.LastT,
                rollup.Rises + (rises ? 1 : 0)
            );
        }
    }

    /// <summary>Writes what <see cref="RollUp"/> gathered.</summary>
    internal void WriteRollups()
    {
        foreach (var ((reading, step, from), r) in _rollups)
        {
            _rollUp
                .Bind(1, reading)
                .Bind(2, step)
                .Bind(3, from)
                .Bind(4, r.Count)
                .Bind(5, r.Low)
                .Bind(6, r.High)
                .Bind(7, r.Sum)
                .Bind(8, r.Last)
                .Bind(9, r.LastT)
                .Bind(10, r.Rises)
                .First();
        }
        _rollups.Clear();
    }

    public void Dispose()
    {
        foreach (var statement in new[] { _arrive, _refuse, _refuseMore, _add, _same, _addNext, _rollUp, _status, _tell, _report, _repeat })
        {
            statement.Dispose();
        }
        foreach (var seldom in new[] { _outage, _lastLife, _highest, _sameReceived, _sameDigest, _sayLife, _sayLifeAgain })
        {
            seldom?.Dispose();
        }
    }

    /// <summary>A statement of SQLite's own interface: a command object would cost more than the row it writes.</summary>
    private sealed class Statement(sqlite3 database, string sql) : IDisposable
    {
        private readonly sqlite3_stmt _statement = Prepared(database, sql);

        internal Statement Bind(int at, string? value) =>
            value is null ? Checked(raw.sqlite3_bind_null(_statement, at)) : Checked(raw.sqlite3_bind_text(_statement, at, value));

        internal Statement Bind(int at, long value) => Checked(raw.sqlite3_bind_int64(_statement, at, value));

        internal Statement Bind(int at, double value) => Checked(raw.sqlite3_bind_double(_statement, at, value));

        internal Statement Bind(int at, long? value) => value is { } known ? Bind(at, known) : Checked(raw.sqlite3_bind_null(_statement, at));

        internal Statement Bind(int at, double? value) => value is { } known ? Bind(at, known) : Checked(raw.sqlite3_bind_null(_statement, at));

        /// <summary>Runs the statement to its end. The first number it returns, or null when it returns none.</summary>
        /// <exception cref="SqliteException">SQLite refused: a full disk, a broken file.</exception>
        internal long? First()
        {
            long? first = null;
            int code;
            while ((code = raw.sqlite3_step(_statement)) == raw.SQLITE_ROW)
            {
                first ??= raw.sqlite3_column_int64(_statement, 0);
            }
            raw.sqlite3_reset(_statement);
            if (code != raw.SQLITE_DONE)
            {
                SqliteException.ThrowExceptionForRC(code, database);
            }
            return first;
        }

        /// <summary>Runs the statement; true when it changed a row. Cheaper than to let it return one.</summary>
        internal bool Change()
        {
            First();
            return raw.sqlite3_changes(database) > 0;
        }

        public void Dispose() => _statement.Dispose();

        private static sqlite3_stmt Prepared(sqlite3 database, string sql)
        {
            SqliteException.ThrowExceptionForRC(raw.sqlite3_prepare_v2(database, sql, out var statement), database);
            return statement;
        }

        private Statement Checked(int code)
        {
            SqliteException.ThrowExceptionForRC(code, database);
            return this;
        }
    }
}
