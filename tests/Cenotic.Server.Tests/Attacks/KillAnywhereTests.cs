using System.Diagnostics;
using System.Globalization;
using System.Text;
using Cenotic.Core.BringUp;
using Cenotic.Core.Formats;
using Cenotic.Server.BringUp;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Samples;
using Cenotic.Server.Tests.Storage;
using Cenotic.Tests;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Microsoft.Extensions.DependencyInjection;
using Xunit.Abstractions;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>The real program, killed at random moments of whatever it does: every start comes up, and
/// nothing acknowledged is missing. `./run soak` gives it more rounds.</summary>
public class KillAnywhereTests(ITestOutputHelper says)
{
    private static int Rounds => int.Parse(Environment.GetEnvironmentVariable("CENOTIC_SOAK") ?? "2", CultureInfo.InvariantCulture);

    private readonly Random _random = new();
    private string _folder = "",
        _key = "";
    private int _next = 1,
        _starts;

    /// <summary>Numbers of messages that were acknowledged, and must be there for ever.</summary>
    private readonly HashSet<int> _acknowledged = [];

    public static TheoryData<string> Moments => ["a first start", "an upgrade", "load", "a recompute", "an import", "a backup", "a restore"];

    [Theory]
    [MemberData(nameof(Moments))]
    public async Task Killed_in_the_middle_of(string moment)
    {
        var watch = Stopwatch.StartNew();
        _folder = RunningServer.NewFolder();
        if (moment is not ("a first start" or "an upgrade"))
        {
            await using var server = await RunningServer.StartAsync(_folder);
            _key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
            if (moment == "a recompute")
            {
                // More than is changed where it lies: it is made anew beside.
                var reading = server.Book.Find("home")!.Readings[("hall", "temp")].Id;
                var from = DateTimeOffset.UtcNow.AddHours(-10).ToUnixTimeMilliseconds();
                await server
                    .Services.GetRequiredService<WriteGate>()
                    .WriteAsync(store =>
                        store.Database.ExecuteSqlAsync(
                            $"""
                            WITH RECURSIVE seconds(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM seconds WHERE i < 35999)
                            INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id)
                                SELECT {reading}, {from} + i * 1000, 0, i % 40, i % 40, 0, 0 FROM seconds
                            """
                        )
                    );
            }
        }
        for (var round = 0; round < Rounds; round++)
        {
            await RoundAsync(moment);
        }
        says.WriteLine(
            $"{moment}: {Rounds} kills, {_starts} starts came up, {_acknowledged.Count} messages acknowledged and none missing, "
                + $"{watch.Elapsed.TotalSeconds:0} s"
        );
        Directory.Delete(_folder, recursive: true);
    }

    private async Task RoundAsync(string moment)
    {
        switch (moment)
        {
            case "a first start":
                _folder = RunningServer.NewFolder();
                Directory.CreateDirectory(_folder);
                await KilledAsync(Start().Process, 50, 1_500);
                break;
            case "an upgrade":
                _folder = TwelveSteps.NewFolder();
                await KilledAsync(Start().Process, 50, 1_500);
                break;
            case "load":
                await WhileAsync(_ => Task.CompletedTask);
                break;
            case "a recompute":
                var since = DateTimeOffset.UtcNow.AddDays(-1).ToUnixTimeMilliseconds();
                await WhileAsync(owner =>
                    owner.PostAsync(
                        "/api/sites/home/nodes/hall/calibrations",
                        RunningServer.Body(new CalibrationRequest("temp", CalibrationKind.Offset, [new(20, 21 + _random.NextDouble())], 0.1, "a kill", since))
                    )
                );
                break;
            case "an import":
                await WhileAsync(ImportAsync);
                break;
            case "a backup":
                await WhileAsync(async _ => await KilledAsync(Command("backup"), 20, 800));
                // What has the name of a backup is one, whatever was killed meanwhile.
                foreach (
                    var copy in Directory.Exists(Path.Combine(_folder, "backups"))
                        ? Directory.GetDirectories(Path.Combine(_folder, "backups")).Where(d => !d.EndsWith(".partial", StringComparison.Ordinal))
                        : []
                )
                {
                    Assert.Contains(Directory.GetFiles(Path.Combine(copy, "keys")), f => f.EndsWith(".xml", StringComparison.Ordinal));
                    Check(Path.Combine(copy, "cenotic.db"));
                }
                break;
            case "a restore":
                await WhileAsync(_ => Task.CompletedTask);
                // Of this moment: what was acknowledged until now is in the copy and in what it replaces.
                var of = Backup.Make(
                    new(new(0, 0), new(0, 0), _folder, false, null),
                    DateTimeOffset.UtcNow,
                    Path.Combine(_folder, "copies", Guid.NewGuid().ToString("n"))
                );
                await KilledAsync(Command("restore", of), 20, 800);
                break;
        }
        await ComesUpAsync();
    }

    /// <summary>Runs the program under messages of a node, does something beside them, and kills it at a moment of that.</summary>
    private async Task WhileAsync(Func<HttpClient, Task> does)
    {
        var (process, web, broker) = Start();
        using var owner = await RunningServer.SignedInAsync(new($"http://127.0.0.1:{web}"), "owner");
        using var socket = new System.Net.Sockets.TcpClient("127.0.0.1", broker);
        var stream = socket.GetStream();
        await stream.WriteAsync(MqttBytes.Connect("soak", "home/hall", _key));
        Assert.NotNull(await MqttBytes.ReadAsync(stream, 60));
        var load = Task.Run(async () =>
        {
            try
            {
                while (true)
                {
                    var number = _next++;
                    await stream.WriteAsync(
                        MqttBytes.Publish(
                            Topics.Data("home", "hall"),
                            $$"""[{"n":"temp","v":{{number % 40}}.5},{"n":"sys/boot","v":7},{"n":"sys/seq","v":{{number}}}]""",
                            (ushort)(number % 65_000 + 1)
                        )
                    );
                    if (await MqttBytes.ReadAsync(stream, 10) is not [0x40, ..])
                    {
                        return;
                    }
                    lock (_acknowledged)
                    {
                        _acknowledged.Add(number);
                    }
                }
            }
            catch (IOException)
            {
                // It was killed.
            }
        });
        await Task.Delay(_random.Next(50, 300));
        var done = Task.Run(async () =>
        {
            try
            {
                await does(owner);
            }
            catch (HttpRequestException)
            {
                // It was killed.
            }
        });
        await Task.Delay(_random.Next(20, 700));
        await KilledAsync(process, 0, 1);
        await Task.WhenAll(load, done);
    }

    private async Task ImportAsync(HttpClient owner)
    {
        var from = DateTimeOffset.UtcNow.AddDays(-10).AddSeconds(_random.Next(100_000));
        var table = new StringBuilder("time,hall/light\n").AppendJoin(
            "",
            Enumerable.Range(0, 30_000).Select(i => string.Create(CultureInfo.InvariantCulture, $"{from.AddSeconds(i):yyyy-MM-dd'T'HH:mm:ss'Z'},{i % 900}\n"))
        );
        var taken = await owner.PostAsync("/api/sites/home/imports?name=soak.csv", new StringContent(table.ToString(), Encoding.UTF8, "text/csv"));
        var id = System.Text.Json.JsonDocument.Parse(await taken.Content.ReadAsStringAsync()).RootElement.GetProperty("id").GetString();
        await owner.PostAsync(
            $"/api/sites/home/imports/{id}/begin",
            RunningServer.Body(new CsvLayout(',', false, true, 0, CsvTime.Iso8601, "Etc/UTC", [new(1, "hall", "light")]))
        );
    }

    private async Task ComesUpAsync()
    {
        var (process, web, _) = Start();
        using var monitor = new HttpClient { BaseAddress = new($"http://127.0.0.1:{web}") };
        await RunningServer.UntilAsync(
            async () =>
            {
                Assert.False(process.HasExited, "it came up");
                try
                {
                    return (await monitor.GetAsync("/health")).IsSuccessStatusCode;
                }
                catch (HttpRequestException)
                {
                    return false;
                }
            },
            "it answers"
        );
        _starts++;
        await KilledAsync(process, 0, 1);
        Check(Path.Combine(_folder, "cenotic.db"));
        using var connection = new SqliteConnection($"Data Source={Path.Combine(_folder, "cenotic.db")};Pooling=False");
        connection.Open();
        using var command = new SqliteCommand(
            "SELECT a.Number FROM arrivals a JOIN samples s ON s.arrival_id = a.Id AND s.raw = a.Number % 40 + 0.5 WHERE a.Boot = 7",
            connection
        );
        using var rows = command.ExecuteReader();
        var stored = new HashSet<int>();
        while (rows.Read())
        {
            stored.Add(rows.GetInt32(0));
        }
        Assert.Empty(_acknowledged.Except(stored));
        // Of what was there before, all is corrected alike or nothing is.
        using var alike = new SqliteCommand(
            "SELECT count(DISTINCT round(s.value - s.raw, 6)) FROM samples s JOIN readings r ON r.Id = s.reading_id AND r.Key = 'temp' WHERE s.arrival_id = 0",
            connection
        );
        Assert.True((long)alike.ExecuteScalar()! <= 1);
        using var all = new SqliteCommand(
            "SELECT count(*) FROM samples s JOIN readings r ON r.Id = s.reading_id AND r.Key = 'temp' WHERE s.arrival_id = 0",
            connection
        );
        Assert.Contains((long)all.ExecuteScalar()!, new[] { 0L, 36_000L });
    }

    private static void Check(string database)
    {
        using var connection = new SqliteConnection($"Data Source={database};Pooling=False");
        connection.Open();
        using var check = new SqliteCommand("PRAGMA integrity_check", connection);
        Assert.Equal("ok", check.ExecuteScalar());
    }

    private async Task KilledAsync(Process process, int fromMs, int toMs)
    {
        await Task.Delay(_random.Next(fromMs, toMs));
        process.Kill(entireProcessTree: true);
        await process.WaitForExitAsync();
    }

    private (Process Process, int Web, int Broker) Start()
    {
        var (web, broker) = Ports.Free();
        return (KillTests.Start(_folder, web, broker), web, broker);
    }

    private Process Command(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet", [typeof(App).Assembly.Location, .. arguments])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["CENOTIC_DATA"] = _folder;
        return Process.Start(start)!;
    }
}
