using System.Runtime.InteropServices;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;

namespace Cenotic.Server.Relay;

/// <summary>The prepared commands of one batch.</summary>
internal sealed class SampleStatements : IDisposable
{
    /// <summary>Lengths of the rollups, ms: a minute and an hour.</summary>
    internal static readonly long[] RollupSteps = [60_000, 3_600_000];

    /// <summary>What a batch adds to a rollup.</summary>
    private readonly record struct Rollup(long Count, double Low, double High, double Sum, double Last, long LastT, int Rises);

    private readonly Dictionary<(int Reading, long Step, long From), Rollup> _rollups = [];
    private readonly SqliteCommand _arrive, _refuse, _add, _same, _addNext, _rollUp;

    internal SampleStatements(SqliteConnection connection, SqliteTransaction transaction)
    {
        SqliteCommand Prepare(string sql, params string[] names)
        {
            var command = new SqliteCommand(sql, connection, transaction);
            foreach (var name in names)
            {
                command.Parameters.Add(new SqliteParameter("$" + name, null));
            }
            command.Prepare();
            return command;
        }
        _arrive = Prepare(
            "INSERT INTO arrivals (Site, Node, Boot, Number, ReceivedMs, Bytes, Rssi, Battery) VALUES ($site, $node, $boot, $number, $received, $bytes, $rssi, $battery) ON CONFLICT DO NOTHING RETURNING Id",
            "site", "node", "boot", "number", "received", "bytes", "rssi", "battery");
        _refuse = Prepare("INSERT INTO refusals (Site, Node, AtMs, Reason, Excerpt) VALUES ($site, $node, $at, $reason, $excerpt)", "site", "node", "at", "reason", "excerpt");
        _add = Prepare("INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id) VALUES ($reading, $t, 0, $raw, $raw, $flags, $arrival) ON CONFLICT DO NOTHING", "reading", "t", "raw", "flags", "arrival");
        _same = Prepare("SELECT count(*) FROM samples WHERE reading_id = $reading AND t = $t AND raw = $raw", "reading", "t", "raw");
        _addNext = Prepare(
            "INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id) SELECT $reading, $t, max(n) + 1, $raw, $raw, $flags, $arrival FROM samples WHERE reading_id = $reading AND t = $t",
            "reading", "t", "raw", "flags", "arrival");
        _rollUp = Prepare(
            """
            INSERT INTO rollups (reading_id, step, t, n, low, high, sum, last, last_t, rises) VALUES ($reading, $step, $from, $n, $low, $high, $sum, $last, $t, $rises)
            ON CONFLICT (reading_id, step, t) DO UPDATE SET n = n + $n, low = min(low, $low), high = max(high, $high), sum = sum + $sum, rises = rises + $rises,
                last = CASE WHEN $t >= last_t THEN $last ELSE last END, last_t = max(last_t, $t)
            """,
            "reading", "step", "from", "n", "low", "high", "sum", "last", "t", "rises");
    }

    /// <summary>The arrival's number, or null when the same message was taken in before.</summary>
    internal long? Arrive(DecodedMessage m)
    {
        Set(_arrive, m.Site, m.Node, m.Boot, m.Number, m.ReceivedMs, m.Bytes, m.Rssi, m.Battery);
        return (long?)_arrive.ExecuteScalar();
    }

    internal void Refuse(DecodedMessage m, string reason) => Run(_refuse, m.Site, m.Node, m.ReceivedMs, reason, m.Excerpt);

    /// <summary>False when an equal sample is stored already.</summary>
    internal bool Add(DecodedSample s, SampleFlags flags, long arrival)
    {
        if (Run(_add, s.Reading, s.T, s.Raw, (int)flags, arrival) == 1)
        {
            return true;
        }
        Set(_same, s.Reading, s.T, s.Raw);
        return (long)_same.ExecuteScalar()! == 0 && Run(_addNext, s.Reading, s.T, s.Raw, (int)flags, arrival) == 1;
    }

    /// <summary>Adds a sample to the rollups of its minute and hour; they are written by <see cref="WriteRollups"/>, each once a batch.</summary>
    internal void RollUp(DecodedSample s, bool rises)
    {
        foreach (var step in RollupSteps)
        {
            ref var rollup = ref CollectionsMarshal.GetValueRefOrAddDefault(_rollups, (s.Reading, step, s.T - s.T % step), out var known);
            var newest = !known || s.T >= rollup.LastT;
            rollup = new(
                rollup.Count + 1, known ? Math.Min(rollup.Low, s.Raw) : s.Raw, known ? Math.Max(rollup.High, s.Raw) : s.Raw, rollup.Sum + s.Raw, newest ? s.Raw : rollup.Last, newest ? s.T : rollup.LastT, rollup.Rises + (rises ? 1 : 0));
        }
    }

    /// <summary>Writes what <see cref="RollUp"/> gathered.</summary>
    internal void WriteRollups()
    {
        foreach (var ((reading, step, from), r) in _rollups)
        {
            Run(_rollUp, reading, step, from, r.Count, r.Low, r.High, r.Sum, r.Last, r.LastT, r.Rises);
        }
        _rollups.Clear();
    }

    public void Dispose()
    {
        foreach (var command in new[] { _arrive, _refuse, _add, _same, _addNext, _rollUp })
        {
            command.Dispose();
        }
    }

    private static int Run(SqliteCommand command, params object?[] values)
    {
        Set(command, values);
        return command.ExecuteNonQuery();
    }

    private static void Set(SqliteCommand command, params object?[] values)
    {
        for (var i = 0; i < values.Length; i++)
        {
            command.Parameters[i].Value = values[i] ?? DBNull.Value;
        }
    }
}
