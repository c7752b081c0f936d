#pragma warning disable CA1416 // The program is for Linux.
using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Samples;
using Cenotic.Tests;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Cenotic.Server.Tests.Storage;

/// <summary>A start comes up after whatever killed the one before, or says in one sentence what is wrong and what to do.</summary>
public class StartTests
{
    private static readonly DateTimeOffset Noon = new(2026, 11, 25, 12, 0, 0, TimeSpan.Zero);

    private static Settings SettingsOf(string folder) => new(new(IPAddress.Loopback, 0), new(IPAddress.Loopback, 0), folder, false, null);

    private static void Execute(string folder, string sql)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "cenotic.db")};Pooling=False");
        connection.Open();
        using var command = new SqliteCommand(sql, connection);
        command.ExecuteNonQuery();
    }

    private static async Task<string> FolderAsync()
    {
        var folder = RunningServer.NewFolder();
        await using (await RunningServer.StartAsync(folder)) { }
        return folder;
    }

    private static async Task ComesUpAsync(string folder)
    {
        var started = RunningServer.StartAsync(folder);
        Assert.Same(started, await Task.WhenAny(started, Task.Delay(TimeSpan.FromSeconds(60))));
        await using (var server = await started)
        {
            await server.ClientAsync("owner");
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_first_start_that_was_killed_while_it_made_the_tables()
    {
        var folder = RunningServer.NewFolder();
        Directory.CreateDirectory(folder);
        // The lock of the tool for migrations, as a killed process leaves it, before any step is carried out.
        Execute(
            folder,
            "CREATE TABLE IF NOT EXISTS __EFMigrationsLock (Id INTEGER NOT NULL PRIMARY KEY, Timestamp TEXT NOT NULL); INSERT OR REPLACE INTO "
                + "__EFMigrationsLock VALUES (1, '2026-11-25 12:00:00')"
        );
        await ComesUpAsync(folder);
    }

    [Fact]
    public async Task An_upgrade_that_was_killed_while_it_copied_or_between_copy_and_steps()
    {
        var folder = TwelveSteps.NewFolder();
        string step;
        await using (var store = new CenoticStore(CenoticStore.For(Path.Combine(folder, "cenotic.db"))))
        {
            step = (await store.Database.GetPendingMigrationsAsync()).First();
        }
        var copy = Path.Combine(folder, $"cenotic.db.before-{step}");
        await File.WriteAllTextAsync(copy + ".partial", "half a copy");
        await File.WriteAllTextAsync(copy, "a whole copy of an earlier try");
        Execute(
            folder,
            "CREATE TABLE IF NOT EXISTS __EFMigrationsLock (Id INTEGER NOT NULL PRIMARY KEY, Timestamp TEXT NOT NULL); INSERT OR REPLACE INTO "
                + "__EFMigrationsLock VALUES (1, '2026-11-25 12:00:00')"
        );
        await using (await RunningServer.StartAsync(folder)) { }
        Assert.False(File.Exists(copy + ".partial"));
        using (var kept = new SqliteConnection($"Data Source={copy};Pooling=False"))
        {
            kept.Open();
            using var check = new SqliteCommand("PRAGMA integrity_check", kept);
            Assert.Equal("ok", check.ExecuteScalar());
        }
        await ComesUpAsync(folder);
    }

    [Theory]
    [InlineData("before anything is moved")]
    [InlineData("while the old is moved")]
    [InlineData("before the new is there")]
    [InlineData("before it is tidied")]
    public async Task A_restore_that_was_killed_is_finished_by_the_next_start(string when)
    {
        var folder = await FolderAsync();
        var copy = Backup.Make(SettingsOf(folder), Noon);
        Execute(folder, "UPDATE documents SET Body = replace(Body, 'Fernhollow', 'Elsewhere') WHERE Key = 'site'");
        // The state on the disk at the moment of the kill, made of the steps that Restore documents.
        var (ready, kept) = (Path.Combine(folder, "restore-ready"), Path.Combine(folder, "before-restore"));
        Directory.CreateDirectory(Path.Combine(ready, "keys"));
        File.Copy(Path.Combine(copy, "cenotic.db"), Path.Combine(ready, "cenotic.db"));
        await File.WriteAllTextAsync(Path.Combine(ready, "kept-in"), kept);
        if (when != "before anything is moved")
        {
            Directory.CreateDirectory(kept);
            File.Move(Path.Combine(folder, "cenotic.db"), Path.Combine(kept, "cenotic.db"));
            await File.WriteAllTextAsync(Path.Combine(folder, "cenotic.db-wal"), "the log of the old database");
        }
        if (when is "before the new is there" or "before it is tidied")
        {
            File.Move(Path.Combine(folder, "cenotic.db-wal"), Path.Combine(kept, "cenotic.db-wal"));
        }
        if (when == "before it is tidied")
        {
            File.Move(Path.Combine(ready, "cenotic.db"), Path.Combine(folder, "cenotic.db"));
        }
        await using (var server = await RunningServer.StartAsync(folder))
        {
            Assert.Equal("Fernhollow", server.Book.Find("home")!.Design.Settings.Name);
        }
        Assert.True(File.Exists(Path.Combine(kept, "cenotic.db")));
        Assert.False(Directory.Exists(ready));
        await ComesUpAsync(folder);
    }

    [Fact]
    public async Task A_restore_that_was_killed_while_it_copied_leaves_all_as_it_was()
    {
        var folder = await FolderAsync();
        var ready = Path.Combine(folder, "restore-ready.partial");
        Directory.CreateDirectory(ready);
        await File.WriteAllTextAsync(Path.Combine(ready, "cenotic.db"), "half a copy");
        var copy = Backup.Make(SettingsOf(folder), Noon);
        await ComesUpAsync(folder);
        Assert.False(Directory.Exists(copy));
    }

    [Fact]
    public async Task A_backup_without_its_keys_is_none()
    {
        var folder = await FolderAsync();
        var copy = Backup.Make(SettingsOf(folder), Noon);
        Directory.Delete(Path.Combine(copy, "keys"), recursive: true);
        Assert.Contains("not a whole backup", Assert.Throws<IOException>(() => Backup.Restore(SettingsOf(folder), Noon, copy)).Message);
        Directory.Delete(Path.Combine(folder, "keys"), recursive: true);
        Assert.Contains("has no keys", Assert.Throws<IOException>(() => Backup.Make(SettingsOf(folder), Noon.AddDays(1))).Message);
        Assert.Single(Directory.GetDirectories(Path.Combine(folder, "backups")));
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task The_data_are_for_their_user_only()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(node, "hall", "{\"temp\": 1}");
        var open = new[] { server.Settings.Data, Path.Combine(server.Settings.Data, "keys") }
            .Concat(Directory.GetFiles(server.Settings.Data, "cenotic.db*"))
            .Where(p =>
                (
                    File.GetUnixFileMode(p)
                    & (
                        UnixFileMode.GroupRead
                        | UnixFileMode.GroupWrite
                        | UnixFileMode.GroupExecute
                        | UnixFileMode.OtherRead
                        | UnixFileMode.OtherWrite
                        | UnixFileMode.OtherExecute
                    )
                ) != 0
            );
        Assert.Empty(open);
    }

    public static TheoryData<string, string> Faults =>
        new()
        {
            { "newer", "was last used by a newer Cenotic" },
            { "early", "is from an early Cenotic, before its first release" },
            { "document", "The document \"node:hall\" of the site \"home\" in the database cannot be read" },
            { "missing document", "The document \"site\" of the site \"home\" is missing" },
            { "key", "key-broken.xml cannot be read" },
            { "address", "is no address of this machine that may be listened at. Set CENOTIC_WEB" },
            { "port", "Another program listens at 127.0.0.1:" },
            { "no database", "is not a database" },
        };

    [Theory]
    [MemberData(nameof(Faults))]
    public async Task What_is_wrong_is_told_in_one_sentence(string what, string says)
    {
        var folder = await FolderAsync();
        var (web, broker) = Ports.Free();
        using var other = new TcpListener(IPAddress.Loopback, what == "port" ? web : 0);
        other.Start();
        switch (what)
        {
            case "newer":
                Execute(folder, "INSERT INTO __EFMigrationsHistory VALUES ('20990101000000_Later', '99.0')");
                break;
            case "early":
                Execute(folder, "DELETE FROM __EFMigrationsHistory; INSERT INTO __EFMigrationsHistory VALUES ('20261125144135_Relay', '10.0.14')");
                break;
            case "document":
                Execute(folder, "UPDATE documents SET Body = '{\"key\": ' WHERE Key = 'node:hall'");
                break;
            case "missing document":
                Execute(folder, "DELETE FROM documents WHERE Key = 'site'");
                break;
            case "key":
                await File.WriteAllTextAsync(Path.Combine(folder, "keys", "key-broken.xml"), "<key");
                break;
            case "no database":
                await File.WriteAllTextAsync(Path.Combine(folder, "cenotic.db"), new string('x', 5000));
                break;
        }
        var start = new ProcessStartInfo("dotnet", [typeof(App).Assembly.Location]) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.Environment["CENOTIC_DATA"] = folder;
        // An address of the documentation networks (RFC 5737) is no machine's.
        start.Environment["CENOTIC_WEB"] = what == "address" ? $"http://192.0.2.1:{web}" : $"http://127.0.0.1:{web}";
        start.Environment["CENOTIC_BROKER"] = $"127.0.0.1:{broker}";
        using var process = Process.Start(start)!;
        var output = process.StandardOutput.ReadToEndAsync();
        var told = await process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.Equal(1, process.ExitCode);
        Assert.Contains(says, told);
        Assert.DoesNotContain("   at ", told + await output);
        Assert.Single(told.Trim().Split('\n'));
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public void No_key_and_no_secret_is_among_the_sources()
    {
        var root = new DirectoryInfo(AppContext.BaseDirectory);
        while (root is not null && !File.Exists(Path.Combine(root.FullName, "Cenotic.slnx")))
        {
            root = root.Parent;
        }
        Assert.NotNull(root);
        string[] made = ["bin", "obj", "node_modules", "dist", ".git", ".run", "data"];
        IEnumerable<string> Files(string folder) =>
            Directory
                .GetFiles(folder)
                .Concat(
                    Directory.GetDirectories(folder).Where(d => !made.Contains(Path.GetFileName(d)) || File.Exists(Path.Combine(d, "keys"))).SelectMany(Files)
                );
        var files = Files(root.FullName).ToList();
        Assert.True(files.Count > 300, $"only {files.Count} files were looked at");
        Assert.False(Directory.Exists(Path.Combine(root.FullName, "src", "Cenotic.Server", "data")), "the program writes no data among its sources");
        Assert.DoesNotContain(files, f =>
            Path.GetExtension(f) is ".pem" or ".pfx" or ".p12" or ".db" || Path.GetFileName(f).StartsWith("key-", StringComparison.Ordinal)
        );
        string[] signs = ["-----BEGIN " + "PRIVATE KEY", "-----BEGIN " + "RSA", "-----BEGIN " + "EC PRIVATE", "<encrypted" + "Secret", "<master" + "Key"];
        Assert.DoesNotContain(files.Where(f => new FileInfo(f).Length < 1_000_000 && Path.GetExtension(f) is not ".png"), f =>
            File.ReadAllText(f) is var text && signs.Any(s => text.Contains(s, StringComparison.Ordinal))
        );
    }
}
