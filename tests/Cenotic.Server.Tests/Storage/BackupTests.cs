using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Storage;

/// <summary>A copy made under load is whole, and a server goes on from it.</summary>
public class BackupTests
{
    private static readonly DateTimeOffset Noon = new(2026, 11, 25, 12, 0, 0, TimeSpan.Zero);

    [Fact]
    public async Task A_copy_made_while_readings_arrive_holds_all_that_was_acknowledged_before_it()
    {
        var back = RunningServer.NewFolder();
        string copy;
        int acknowledged;
        await using (var server = await RunningServer.StartAsync())
        {
            using var node = await server.NodeAsync("hall");
            var sent = 0;
            using var stop = new CancellationTokenSource();
            var load = Task.Run(async () =>
            {
                while (!stop.IsCancellationRequested)
                {
                    await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"temp","v":{{sent}}},{"n":"sys/boot","v":1},{"n":"sys/seq","v":{{sent + 1}}}]""");
                    Interlocked.Increment(ref sent);
                }
            });
            await RunningServer.UntilAsync(() => Task.FromResult(Volatile.Read(ref sent) > 50), "some are acknowledged");
            acknowledged = Volatile.Read(ref sent);
            copy = Backup.Make(server.Settings, Noon, Path.Combine(back, "copy"));
            await stop.CancelAsync();
            await load;
        }
        // Put in place of an empty folder, a server starts on it with the accounts, the site and at least those samples.
        var folder = RunningServer.NewFolder();
        await using (var other = await RunningServer.StartAsync(folder, empty: true))
        {
            Assert.Contains("stop it", Assert.Throws<IOException>(() => Backup.Restore(other.Settings, Noon, copy)).Message);
        }
        var settings = new Settings(new(0, 0), new(0, 0), folder, false, null);
        var kept = Backup.Restore(settings, Noon, copy);
        Assert.True(File.Exists(Path.Combine(kept!, "cenotic.db")));
        await using (var again = await RunningServer.StartAsync(folder))
        {
            Assert.True(await again.CountAsync($"SELECT count(*) AS Value FROM samples") >= acknowledged);
            Assert.NotNull(again.Book.Find("home")!.Design.Node("hall"));
            await again.ClientAsync("owner");
        }
        Directory.Delete(folder, recursive: true);
        Directory.Delete(back, recursive: true);
    }

    [Fact]
    public async Task What_is_not_sound_or_not_ours_is_told_and_nothing_is_touched()
    {
        await using var server = await RunningServer.StartAsync();
        var good = Backup.Make(server.Settings, Noon);
        Assert.EndsWith("2026-11-25T12-00-00", good);
        Assert.Contains("holds something already", Assert.Throws<IOException>(() => Backup.Make(server.Settings, Noon)).Message);
        var target = new Settings(new(0, 0), new(0, 0), RunningServer.NewFolder(), false, null);
        Assert.Contains("holds no cenotic.db", Assert.Throws<IOException>(() => Backup.Restore(target, Noon, target.Data)).Message);
        Assert.Contains("no database", Assert.Throws<IOException>(() => Backup.Make(target, Noon)).Message);
        var torn = Directory.CreateTempSubdirectory("cenotic-torn").FullName;
        var bytes = await File.ReadAllBytesAsync(Path.Combine(good, "cenotic.db"));
        await File.WriteAllBytesAsync(Path.Combine(torn, "cenotic.db"), bytes[..(bytes.Length / 2)]);
        Assert.Contains("is not sound", Assert.Throws<IOException>(() => Backup.Restore(target, Noon, torn)).Message);
        File.Delete(Path.Combine(torn, "cenotic.db"));
        using (var foreign = new SqliteConnection($"Data Source={Path.Combine(torn, "cenotic.db")};Pooling=False"))
        {
            foreign.Open();
            new SqliteCommand("CREATE TABLE other (a)", foreign).ExecuteNonQuery();
        }
        Assert.Contains("is not a database of Cenotic", Assert.Throws<IOException>(() => Backup.Restore(target, Noon, torn)).Message);
        Assert.False(File.Exists(target.Database));
        Directory.Delete(torn, recursive: true);
    }

    [Fact]
    public async Task The_schedule_keeps_the_newest()
    {
        await using var server = await RunningServer.StartAsync();
        var made = Enumerable.Range(0, 5).Select(day => Backup.Make(server.Settings, Noon.AddDays(day))).ToList();
        Directory.CreateDirectory(Path.Combine(server.Settings.Data, "backups", "by-hand"));
        Backup.Prune(server.Settings, 2);
        Assert.Equal(
            [made[3], made[4], Path.Combine(server.Settings.Data, "backups", "by-hand")],
            Directory.GetDirectories(Path.Combine(server.Settings.Data, "backups")).Order(StringComparer.Ordinal)
        );
    }
}
