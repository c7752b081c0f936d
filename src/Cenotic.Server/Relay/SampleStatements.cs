using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;

namespace Cenotic.Server.Relay;

/// <summary>The prepared commands of one batch.</summary>
internal sealed class SampleStatements : IDisposable
{
    /// <summary>Lengths of the rollups, ms: a minute and an hour.</summary>
    internal static readonly long[] RollupSteps = [60_000, 3_600_000];

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
            INSERT INTO rollups (reading_id, step, t, n, low, high, sum, last, last_t, rises) VALUES ($reading, $step, $from, 1, $v, $v, $v, $v, $t, $rises)
            ON CONFLICT (reading_id, step, t) DO UPDATE SET n = n + 1, low = min(low, $v), high = max(high, $v), sum = sum + $v, rises = rises + $rises,
                last = CASE WHEN $t >= last_t THEN $v ELSE last END, last_t = max(last_t, $t)
            """,
            "reading", "step", "from", "v", "t", "rises");
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

    internal void RollUp(DecodedSample s, bool rises)
    {
        foreach (var step in RollupSteps)
        {
            Run(_rollUp, s.Reading, step, s.T - s.T % step, s.Raw, s.T, rises ? 1 : 0);
        }
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
