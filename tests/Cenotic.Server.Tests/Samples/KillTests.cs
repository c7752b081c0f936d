using System.Diagnostics;
using System.Net;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Tests.Ingest;
using Cenotic.Tests;
using Microsoft.Data.Sqlite;
using MQTTnet;
using MQTTnet.Protocol;

namespace Cenotic.Server.Tests.Samples;

/// <summary>The real program, killed at random moments under load: what it acknowledged must be in the database.</summary>
public class KillTests
{
    private const int Rounds = 30;

    [Fact]
    public async Task No_acknowledged_message_is_missing_after_kill_9()
    {
        var folder = RunningServer.NewFolder();
        string key;
        await using (var server = await RunningServer.StartAsync(folder))
        {
            key = await ((NodeKeys)server.Services.GetService(typeof(NodeKeys))!).IssueAsync("home", "hall");
        }
        var random = new Random();
        var acknowledged = new HashSet<(int Boot, int Number)>();
        for (var round = 1; round <= Rounds; round++)
        {
            var (web, broker) = Ports.Free();
            using var process = Start(folder, web, broker);
            using var client = await ConnectAsync(broker, key, process);
            // After so many are acknowledged, however fast this machine is, and a chance moment more.
            var (killAfter, moment) = (random.Next(10, 250), random.Next(0, 30));
            var (number, taken) = (0, 0);
            // Sixteen messages on their way at once, until the kill.
            await Task.WhenAll(
                Enumerable
                    .Range(0, 16)
                    .Select(async _ =>
                    {
                        while (true)
                        {
                            var mine = Interlocked.Increment(ref number);
                            try
                            {
                                var sent = await client.PublishAsync(
                                    new MqttApplicationMessageBuilder()
                                        .WithTopic(Topics.Data("home", "hall"))
                                        .WithPayload($$"""[{"n":"temp","v":{{mine}}},{"n":"sys/boot","v":{{round}}},{"n":"sys/seq","v":{{mine}}}]""")
                                        .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                                        .Build()
                                );
                                if (!sent.IsSuccess)
                                {
                                    return;
                                }
                                lock (acknowledged)
                                {
                                    acknowledged.Add((round, mine));
                                }
                            }
                            catch (Exception)
                            {
                                return;
                            }
                            if (Interlocked.Increment(ref taken) == killAfter)
                            {
                                await Task.Delay(moment);
                                process.Kill();
                            }
                        }
                    })
            );
            await process.WaitForExitAsync();
        }
        Assert.True(acknowledged.Count > Rounds * 10, $"only {acknowledged.Count} were acknowledged");
        var stored = Stored(folder);
        Assert.DoesNotContain(acknowledged, a => !stored.Contains(a));
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_full_disk_is_told_and_nothing_acknowledged_is_missing()
    {
        var folder = RunningServer.NewFolder();
        string key;
        await using (var server = await RunningServer.StartAsync(folder))
        {
            key = await ((NodeKeys)server.Services.GetService(typeof(NodeKeys))!).IssueAsync("home", "hall");
        }
        var (web, broker) = Ports.Free();
        var acknowledged = new HashSet<(int Boot, int Number)>();
        // The system refuses to let a file of this process grow further: to SQLite that is a write that fails, as on a full disk.
        using (var process = Start(folder, web, broker, longestFileKiB: 1500))
        {
            using var client = await ConnectAsync(broker, key, process);
            for (var number = 1; number <= 20_000; number++)
            {
                try
                {
                    await client.PublishAsync(
                        new MqttApplicationMessageBuilder()
                            .WithTopic(Topics.Data("home", "hall"))
                            .WithPayload($$"""[{"n":"temp","v":{{number}}},{"n":"sys/boot","v":1},{"n":"sys/seq","v":{{number}}}]""")
                            .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                            .Build()
                    );
                    acknowledged.Add((1, number));
                }
                catch (Exception)
                {
                    break;
                }
            }
            Assert.False(process.HasExited, "it goes on running");
            using var monitor = new HttpClient { BaseAddress = new($"http://127.0.0.1:{web}") };
            var health = await monitor.GetAsync("/health");
            Assert.Equal(HttpStatusCode.ServiceUnavailable, health.StatusCode);
            Assert.Contains("SQLite Error", await health.Content.ReadAsStringAsync());
            process.Kill(entireProcessTree: true);
            await process.WaitForExitAsync();
        }
        Assert.InRange(acknowledged.Count, 20, 19_999);
        var stored = Stored(folder);
        Assert.DoesNotContain(acknowledged, a => !stored.Contains(a));
        // With room again it goes on.
        (web, broker) = Ports.Free();
        using (var process = Start(folder, web, broker))
        {
            using var client = await ConnectAsync(broker, key, process);
            Assert.True(
                (
                    await client.PublishAsync(
                        new MqttApplicationMessageBuilder()
                            .WithTopic(Topics.Data("home", "hall"))
                            .WithPayload("{\"temp\": 1}")
                            .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                            .Build()
                    )
                ).IsSuccess
            );
            process.Kill();
            await process.WaitForExitAsync();
        }
        Directory.Delete(folder, recursive: true);
    }

    [Theory]
    [InlineData("cenotic.db", "444")]
    [InlineData("", "555")]
    public async Task What_may_not_be_written_to_is_told_at_the_start_and_left_as_it_is(string what, string mode)
    {
        var folder = RunningServer.NewFolder();
        await using (await RunningServer.StartAsync(folder)) { }
        var before = Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(await File.ReadAllBytesAsync(Path.Combine(folder, "cenotic.db"))));
        File.Delete(Path.Combine(folder, "in-use"));
        await PeersTests.RunAsync("chmod", [mode, Path.Combine(folder, what)]);
        var (web, broker) = Ports.Free();
        // Without its privileges even the administrator is bound by the mode of a file.
        using var process = Start(folder, web, broker, ["setpriv", "--inh-caps=-all", "--bounding-set=-all"]);
        var says = await process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.Equal(1, process.ExitCode);
        Assert.Contains("is read-only for this user", says);
        await PeersTests.RunAsync("chmod", ["-R", "u+rwX", folder]);
        Assert.Equal(
            before,
            Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(await File.ReadAllBytesAsync(Path.Combine(folder, "cenotic.db"))))
        );
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_second_server_on_the_same_folder_says_so_and_ends()
    {
        var folder = RunningServer.NewFolder();
        await using (await RunningServer.StartAsync(folder))
        {
            var (web, broker) = Ports.Free();
            using var second = Start(folder, web, broker);
            var says = await second.StandardError.ReadToEndAsync();
            await second.WaitForExitAsync();
            Assert.NotEqual(0, second.ExitCode);
            Assert.Contains("Another Cenotic uses", says);
        }
        Directory.Delete(folder, recursive: true);
    }

    [Theory]
    [InlineData(null, 0)]
    [InlineData("\"board\": \"esp32-dev-38\"", 1)]
    [InlineData("cenotic-site", 2)]
    public async Task The_plan_command_prints_json_and_its_exit_status_says_whether_something_stops(string? broken, int status)
    {
        var file = Path.GetTempFileName();
        var text = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "fernhollow.json"));
        await File.WriteAllTextAsync(
            file,
            broken is null ? text : text.Replace(broken, broken.Replace("esp32-dev-38", "gone").Replace("cenotic-site", "other"))
        );
        using var process = Process.Start(
            new ProcessStartInfo("dotnet", [Program, "plan", file]) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.Equal(status, process.ExitCode);
        if (status < 2)
        {
            using var plan = System.Text.Json.JsonDocument.Parse(output);
            Assert.Equal(RunningServer.Fernhollow.Design.Nodes.Count, plan.RootElement.GetProperty("nodes").GetArrayLength());
        }
        File.Delete(file);
    }

    [Fact]
    public async Task Two_processes_make_the_same_plan_of_the_same_file_to_the_letter()
    {
        var file = Path.Combine(AppContext.BaseDirectory, "fernhollow.json");
        async Task<string> PlanAsync()
        {
            // What a process makes its hash codes with differs from start to start: no order may hang on them.
            using var process = Process.Start(new ProcessStartInfo("dotnet", [Program, "plan", file]) { RedirectStandardOutput = true })!;
            var plan = await process.StandardOutput.ReadToEndAsync();
            await process.WaitForExitAsync();
            return plan;
        }
        var plans = await Task.WhenAll(PlanAsync(), PlanAsync(), PlanAsync());
        Assert.True(plans[0].Length > 100_000, $"{plans[0].Length} letters");
        Assert.Single(plans.Distinct());
    }

    private static string Program => Path.Combine(AppContext.BaseDirectory, "Cenotic.Server.dll");

    /// <param name="longestFileKiB">How long a file of the process may get.</param>
    private static Process Start(string folder, int web, int broker, int longestFileKiB) =>
        // The signal is ignored, so that the write fails instead of the process; the runtime's own memory files would count too.
        Start(folder, web, broker, ["sh", "-c", $"trap '' XFSZ; ulimit -f {longestFileKiB * 2}; DOTNET_EnableWriteXorExecute=0 exec \"$0\" \"$@\""]);

    /// <param name="under">The command that starts the program; null for none.</param>
    internal static Process Start(string folder, int web, int broker, string[]? under = null)
    {
        string[] command = [.. under ?? [], "dotnet", Program];
        var start = new ProcessStartInfo(command[0], command[1..]) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.Environment["CENOTIC_DATA"] = folder;
        start.Environment["CENOTIC_WEB"] = $"http://127.0.0.1:{web}";
        start.Environment["CENOTIC_BROKER"] = $"127.0.0.1:{broker}";
        var process = Process.Start(start)!;
        process.BeginOutputReadLine();
        return process;
    }

    private static async Task<IMqttClient> ConnectAsync(int port, string key, Process process)
    {
        var options = new MqttClientOptionsBuilder()
            .WithTcpServer("127.0.0.1", port)
            .WithCredentials("home/hall", key)
            .WithTimeout(TimeSpan.FromSeconds(5))
            .Build();
        for (var attempt = 0; ; attempt++)
        {
            var client = new MqttClientFactory().CreateMqttClient();
            try
            {
                await client.ConnectAsync(options);
                return client;
            }
            catch (Exception) when (process.HasExited)
            {
                throw new InvalidOperationException($"The program ended with {process.ExitCode}: {await process.StandardError.ReadToEndAsync()}");
            }
            catch (Exception) when (attempt < 600)
            {
                client.Dispose();
                await Task.Delay(100);
            }
        }
    }

    private static HashSet<(int, int)> Stored(string folder)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "cenotic.db")}");
        connection.Open();
        using var check = new SqliteCommand("PRAGMA integrity_check", connection);
        Assert.Equal("ok", check.ExecuteScalar());
        using var command = new SqliteCommand(
            "SELECT a.Boot, a.Number FROM arrivals a JOIN samples s ON s.arrival_id = a.Id AND s.value = a.Number",
            connection
        );
        using var rows = command.ExecuteReader();
        var stored = new HashSet<(int, int)>();
        while (rows.Read())
        {
            stored.Add((rows.GetInt32(0), rows.GetInt32(1)));
        }
        SqliteConnection.ClearAllPools();
        return stored;
    }
}
