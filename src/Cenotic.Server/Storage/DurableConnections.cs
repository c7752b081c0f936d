using System.Data.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Cenotic.Server.Storage;

/// <summary>Sets on every connection what "acknowledged means committed" rests on: write-ahead log with synchronous FULL, and foreign keys.</summary>
public sealed class DurableConnections : DbConnectionInterceptor
{
    public static readonly DurableConnections Instance = new();

    private const string Pragmas = "PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON; PRAGMA busy_timeout=5000;";

    /// <summary>Kept in the file; a copy made by VACUUM INTO does not have it yet.</summary>
    private const string WriteAhead = "PRAGMA journal_mode=WAL; ";

    public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData) => Set(connection);

    public override Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData eventData, CancellationToken cancellationToken = default)
    {
        Set(connection);
        return Task.CompletedTask;
    }

    private static void Set(DbConnection connection)
    {
        using var command = connection.CreateCommand();
        // Whether there is a database is asked on a connection that only reads and may not change the file's mode.
        command.CommandText = new SqliteConnectionStringBuilder(connection.ConnectionString).Mode == SqliteOpenMode.ReadOnly ? Pragmas : WriteAhead + Pragmas;
        command.ExecuteNonQuery();
    }
}
