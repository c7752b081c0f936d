using System.Globalization;
using Cenotic.Server.Common;
using Microsoft.Data.Sqlite;

namespace Cenotic.Server.Storage;

/// <summary>Copies of a data folder that begin where it stands: the database as of one moment, checked, and the keys beside it.</summary>
public static class Backup
{
    private const string DatabaseName = "cenotic.db",
        KeyFolder = "keys",
        Partial = ".partial",
        Ready = "restore-ready",
        KeptName = "kept-in";

    /// <summary>Makes a copy while the server may run and write. Returns its folder.</summary>
    /// <param name="into">The folder to make; null for one named by the time, in "backups" of the data folder.</param>
    /// <exception cref="IOException">There is nothing to copy, no room for it, the folder exists, or the copy is not sound.</exception>
    public static string Make(Settings settings, DateTimeOffset now, string? into = null)
    {
        var folder = into ?? Path.Combine(Folder(settings), now.UtcDateTime.ToString("yyyy-MM-dd'T'HH-mm-ss", CultureInfo.InvariantCulture));
        if (!File.Exists(settings.Database))
        {
            throw new IOException($"There is no database in {settings.Data}.");
        }
        if (Directory.Exists(folder) && Directory.EnumerateFileSystemEntries(folder).Any())
        {
            throw new IOException($"{folder} holds something already; name another folder.");
        }
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(folder))!);
        var size = new FileInfo(settings.Database).Length;
        if (new DriveInfo(Path.GetDirectoryName(Path.GetFullPath(folder))!).AvailableFreeSpace < size * 11 / 10)
        {
            throw new IOException($"A copy wants {size / 1_048_576 + 1} MB of free space at {folder}.");
        }
        // It has its name once it is whole: what a kill leaves is no backup, and the next one begins anew.
        var partial = folder + Partial;
        if (Directory.Exists(partial))
        {
            Directory.Delete(partial, recursive: true);
        }
        OwnFolder.Make(partial);
        var copy = Path.Combine(partial, DatabaseName);
        using (var source = Open(settings.Database, SqliteOpenMode.ReadWrite))
        using (var command = source.CreateCommand())
        {
            // One read transaction: the copy is the database as of its beginning, whatever is written meanwhile.
            command.CommandText = "VACUUM INTO $into";
            command.Parameters.AddWithValue("$into", copy);
            command.ExecuteNonQuery();
        }
        OwnFolder.Close(copy);
        Check(copy);
        CopyKeys(settings.Data, partial);
        if (!HasKeys(partial))
        {
            Directory.Delete(partial, recursive: true);
            throw new IOException(
                $"{settings.Data} has no keys, without which the secrets in its database cannot be read. Start the server once; it makes them."
            );
        }
        if (Directory.Exists(folder))
        {
            Directory.Delete(folder);
        }
        Directory.Move(partial, folder);
        return folder;
    }

    /// <summary>
    /// Puts a copy in the place of a data folder's database. What was there is kept beside it; returns where. Whatever kills it, the folder is as before or as
    /// in the copy once a server starts on it: the copy is made ready under another name first, and from then on <see cref="FinishRestore"/> can finish it.
    /// </summary>
    /// <exception cref="IOException">The copy is not sound or lacks its keys, or a server uses the folder.</exception>
    public static string? Restore(Settings settings, DateTimeOffset now, string from)
    {
        var copy = Path.Combine(from, DatabaseName);
        if (!File.Exists(copy))
        {
            throw new IOException($"{from} holds no {DatabaseName}; name the folder of a backup.");
        }
        Check(copy);
        if (!HasKeys(from))
        {
            throw new IOException($"{from} holds no {KeyFolder}, without which the secrets in its database cannot be read; it is not a whole backup.");
        }
        OwnFolder.Make(settings.Data);
        using var held = Database.HoldFolder(settings.Data);
        // A connection that this process kept open would go on with the file that is moved away.
        SqliteConnection.ClearAllPools();
        var ready = Path.Combine(settings.Data, Ready);
        foreach (var folder in new[] { ready, ready + Partial }.Where(Directory.Exists))
        {
            Directory.Delete(folder, recursive: true);
        }
        OwnFolder.Make(ready + Partial);
        File.Copy(copy, Path.Combine(ready + Partial, DatabaseName));
        CopyKeys(from, ready + Partial);
        var kept = File.Exists(settings.Database)
            ? Path.Combine(settings.Data, $"before-restore-{now.UtcDateTime.ToString("yyyy-MM-dd'T'HH-mm-ss", CultureInfo.InvariantCulture)}")
            : null;
        File.WriteAllText(Path.Combine(ready + Partial, KeptName), kept ?? "");
        Directory.Move(ready + Partial, ready);
        FinishRestore(settings);
        return kept;
    }

    /// <summary>Finishes a restore that was killed once its copy was ready; does nothing where there is none. The folder is held by the caller.</summary>
    internal static void FinishRestore(Settings settings)
    {
        var ready = Path.Combine(settings.Data, Ready);
        if (!Directory.Exists(ready))
        {
            return;
        }
        var copy = Path.Combine(ready, DatabaseName);
        if (File.Exists(copy))
        {
            // What belonged to the database before goes with it, also where a kill had left only its log.
            var kept = File.ReadAllText(Path.Combine(ready, KeptName));
            foreach (var end in new[] { "", "-wal", "-shm" }.Where(e => File.Exists(settings.Database + e)))
            {
                if (kept.Length == 0)
                {
                    File.Delete(settings.Database + end);
                    continue;
                }
                OwnFolder.Make(kept);
                File.Move(settings.Database + end, Path.Combine(kept, DatabaseName + end), overwrite: true);
            }
            CopyKeys(ready, settings.Data);
            File.Move(copy, settings.Database);
        }
        Directory.Delete(ready, recursive: true);
    }

    /// <summary>Removes all but the newest copies that the schedule made.</summary>
    public static void Prune(Settings settings, int keep)
    {
        foreach (
            var old in Directory
                .GetDirectories(Folder(settings))
                .Where(d => DateTime.TryParseExact(Path.GetFileName(d), "yyyy-MM-dd'T'HH-mm-ss", CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
                .OrderDescending()
                .Skip(keep)
        )
        {
            Directory.Delete(old, recursive: true);
        }
    }

    private static string Folder(Settings settings) => Path.Combine(settings.Data, "backups");

    /// <exception cref="IOException">SQLite finds a fault in the file.</exception>
    private static void Check(string database)
    {
        try
        {
            using var connection = Open(database, SqliteOpenMode.ReadOnly);
            using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA integrity_check";
            if (command.ExecuteScalar() is string said && said != "ok")
            {
                throw new IOException($"{database} is not sound: {said}");
            }
            command.CommandText = "SELECT count(*) FROM sqlite_master WHERE name IN ('samples', 'sites')";
            if ((long)command.ExecuteScalar()! != 2)
            {
                throw new IOException($"{database} is not a database of Cenotic.");
            }
        }
        catch (SqliteException fault)
        {
            throw new IOException($"{database} is not sound: {fault.Message}", fault);
        }
    }

    private static SqliteConnection Open(string file, SqliteOpenMode mode)
    {
        var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = file,
                Mode = mode,
                Pooling = false,
            }.ToString()
        );
        connection.Open();
        return connection;
    }

    private static bool HasKeys(string folder) =>
        Directory.Exists(Path.Combine(folder, KeyFolder)) && Directory.EnumerateFiles(Path.Combine(folder, KeyFolder), "key-*.xml").Any();

    private static void CopyKeys(string from, string to)
    {
        var source = Path.Combine(from, KeyFolder);
        if (!Directory.Exists(source))
        {
            return;
        }
        OwnFolder.Make(Path.Combine(to, KeyFolder));
        foreach (var file in Directory.GetFiles(source))
        {
            File.Copy(file, Path.Combine(to, KeyFolder, Path.GetFileName(file)), overwrite: true);
        }
    }
}

/// <summary>Makes a copy every so many hours, by the system's clock, and keeps the newest.</summary>
public sealed class BackupSchedule(Settings settings, TimeProvider system, LoopHealth health, ILogger<BackupSchedule> log) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (settings.BackupHours is not { } hours)
        {
            return;
        }
        using var timer = new PeriodicTimer(TimeSpan.FromHours(hours), system);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            await health.RunAsync("backups", MakeAsync, stoppingToken);
        }
    }

    private Task MakeAsync()
    {
        log.LogInformation("Backup made: {Folder}", Backup.Make(settings, system.GetUtcNow()));
        Backup.Prune(settings, settings.BackupsKept);
        return Task.CompletedTask;
    }
}
