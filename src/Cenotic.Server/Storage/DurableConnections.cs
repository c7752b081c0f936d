using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Cenotic.Server.Storage;

/// <summary>Sets on every connection what "acknowledged means committed" rests on: write-ahead log with synchronous FULL, and foreign keys.</summary>
public sealed class DurableConnections : DbConnectionInterceptor
{
    public static readonly DurableConnections Instance = new();

    private const string Pragmas = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON; PRAGMA busy_timeout=5000;";

    public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData) => Set(connection);

    public override Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData eventData, CancellationToken cancellationToken = default)
    {
        Set(connection);
        return Task.CompletedTask;
    }

    private static void Set(DbConnection connection)
    {
        using var command = connection.CreateCommand();
        command.CommandText = Pragmas;
        command.ExecuteNonQuery();
    }
}
