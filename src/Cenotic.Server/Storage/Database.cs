using System.Reflection;
using Cenotic.Server.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Cenotic.Server.Storage;

/// <summary>Brings the database of a data folder up to date before anything else runs.</summary>
public static class Database
{
    /// <summary>The last of the twelve steps that were made one before the first release.</summary>
    internal const string LastOfTwelve = "20261129141518_LivesImportsPeriods";

    /// <summary>Creates or migrates. Before pending migrations of an existing database a copy is kept beside
    /// it. What an earlier start or restore was killed in is begun again.</summary>
    /// <exception cref="IOException">Another process uses the folder, there is no room for the copy, or the database is a newer program's.</exception>
    public static async Task<FileStream> OpenAsync(Settings settings, IDbContextFactory<CenoticStore> stores)
    {
        OwnFolder.Make(settings.Data);
        var held = HoldFolder(settings.Data);
        Backup.FinishRestore(settings);
        MayWrite(settings.Database);
        if (IsUpToDate(settings.Database))
        {
            OwnFolder.Close(settings.Database);
            return held;
        }
        await using var store = await stores.CreateDbContextAsync();
        var pending = (await store.Database.GetPendingMigrationsAsync()).ToList();
        var applied = File.Exists(settings.Database) ? (await store.Database.GetAppliedMigrationsAsync()).ToList() : [];
        MustBeKnown(settings.Database, applied, store.Database.GetMigrations());
        if (applied.Count > 0 && pending.Count > 0)
        {
            await CopyBeforeAsync(settings, store, pending[0]);
        }
        // The folder is held, so that nobody else migrates: a lock that is there was left by a start that was killed.
        await store.Database.ExecuteSqlRawAsync("DROP TABLE IF EXISTS __EFMigrationsLock");
        if (applied.Contains(LastOfTwelve))
        {
            await AsOneStepAsync(store);
        }
        if (pending.Count > 0)
        {
            await store.Database.MigrateAsync();
        }
        OwnFolder.Close(settings.Database);
        return held;
    }

    /// <exception cref="IOException">The database was last used by a newer program, or by one from before the twelve steps were complete.</exception>
    private static void MustBeKnown(string database, List<string> applied, IEnumerable<string> known)
    {
        var unknown = applied.Except(known).ToList();
        if (unknown.Find(step => string.CompareOrdinal(step, LastOfTwelve) > 0) is { } newer)
        {
            throw new IOException(
                $"{database} was last used by a newer Cenotic (its step \"{newer}\" is not known here). Start that one, or put a copy from "
                    + "before it back: ./run restore FOLDER."
            );
        }
        if (unknown.Count > 0 && !unknown.Contains(LastOfTwelve))
        {
            throw new IOException(
                $"{database} is from an early Cenotic, before its first release, and cannot be brought up to date by this one. Nothing in it was "
                    + "changed; set CENOTIC_DATA to another folder to begin anew."
            );
        }
    }

    /// <summary>Puts the first step of today in the place of the twelve that a database carries: they made the same tables.</summary>
    private static async Task AsOneStepAsync(CenoticStore store)
    {
        var first = store.Database.GetMigrations().First();
        await using var change = await store.Database.BeginTransactionAsync();
        await store.Database.ExecuteSqlAsync($"DELETE FROM __EFMigrationsHistory");
        await store.Database.ExecuteSqlAsync($"INSERT INTO __EFMigrationsHistory (MigrationId, ProductVersion) VALUES ({first}, {ProductInfo.GetVersion()})");
        await change.CommitAsync();
    }

    /// <summary>Copies the database as it is before a step. The copy has its name once it is whole; of one schema the newest is kept.</summary>
    private static async Task CopyBeforeAsync(Settings settings, CenoticStore store, string step)
    {
        var size = new FileInfo(settings.Database).Length;
        if (new DriveInfo(Path.GetFullPath(settings.Data)).AvailableFreeSpace < 2 * size)
        {
            throw new IOException($"The database wants {2 * size / 1_048_576 + 1} MB of free space for a copy before it is brought up to date.");
        }
        var copy = $"{settings.Database}.before-{step}";
        var partial = copy + ".partial";
        File.Delete(partial);
        await store.Database.ExecuteSqlAsync($"VACUUM INTO {partial}");
        OwnFolder.Close(partial);
        File.Move(partial, copy, overwrite: true);
    }

    /// <summary>True when every migration of this program is carried out and no other: asked without the
    /// tool for them, whose code takes a quarter of a second to be ready.</summary>
    internal static bool IsUpToDate(string database)
    {
        if (!File.Exists(database))
        {
            return false;
        }
        using var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = database,
                Mode = SqliteOpenMode.ReadWrite,
                Pooling = false,
            }.ToString()
        );
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT count(*) FROM sqlite_master WHERE name = '__EFMigrationsHistory'";
        if ((long)command.ExecuteScalar()! == 0)
        {
            return false;
        }
        command.CommandText = "SELECT MigrationId FROM __EFMigrationsHistory";
        using var rows = command.ExecuteReader();
        var applied = new HashSet<string>();
        while (rows.Read())
        {
            applied.Add(rows.GetString(0));
        }
        return applied.SetEquals(typeof(CenoticStore).Assembly.GetTypes().Select(t => t.GetCustomAttribute<MigrationAttribute>()?.Id).OfType<string>());
    }

    /// <exception cref="IOException">The database is there and may not be written to: nothing could be acknowledged.</exception>
    private static void MayWrite(string database)
    {
        try
        {
            using var _ = File.Exists(database) ? new FileStream(database, FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite) : null;
        }
        catch (UnauthorizedAccessException fault)
        {
            throw new IOException($"{database} is read-only for this user. Nothing in it was changed; make it writable and start again.", fault);
        }
    }

    /// <summary>Keeps a data folder for this process until the stream is closed.</summary>
    /// <exception cref="IOException">Another process has it.</exception>
    internal static FileStream HoldFolder(string folder)
    {
        try
        {
            return new FileStream(Path.Combine(folder, "in-use"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (UnauthorizedAccessException fault)
        {
            throw new IOException(
                $"{folder} is read-only for this user. Nothing in it was changed; make it writable, or set CENOTIC_DATA to another folder.",
                fault
            );
        }
        catch (IOException fault)
        {
            throw new IOException($"Another Cenotic uses {folder}; stop it, or set CENOTIC_DATA to another folder.", fault);
        }
    }
}
