using System.Diagnostics;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>Programs of others: an MQTT client in C, curl, and the programs that a node's page offers, run as they stand there.</summary>
public class PeersTests
{
    internal static async Task<(int Exit, string Said)> RunAsync(string program, string[] arguments, string? key = null, string? folder = null)
    {
        var start = new ProcessStartInfo(program, arguments)
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = folder ?? Path.GetTempPath(),
        };
        start.Environment["CENOTIC_KEY"] = key;
        using var process = Process.Start(start)!;
        var (output, errors) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync().WaitAsync(TimeSpan.FromSeconds(30));
        return (process.ExitCode, await output + await errors);
    }

    internal static Task<List<double>> ValuesAsync(RunningServer server) =>
        server.QueryAsync(s => s.Database.SqlQuery<double>($"SELECT raw AS Value FROM samples ORDER BY t, n").ToListAsync());

    private static string[] Mqtt(RunningServer server, string key, params string[] more) =>
        [
            "-h",
            "127.0.0.1",
            "-p",
            $"{server.Started.Broker.Port}",
            "-u",
            "home/hall",
            "-P",
            key,
            .. more.Contains("mqttv5") ? Array.Empty<string>() : ["-i", "bench-tool"],
            .. more,
        ];

    [Theory]
    [InlineData("mqttv311", "0")]
    [InlineData("mqttv311", "1")]
    [InlineData("mqttv5", "1")]
    [InlineData("mqttv5", "2")]
    public async Task A_client_of_another_make_publishes(string version, string quality)
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        var (exit, said) = await RunAsync(
            "mosquitto_pub",
            Mqtt(server, key, "-V", version, "-q", quality, "-t", Topics.Data("home", "hall"), "-m", """[{"n":"temp","v":17.5}]""")
        );
        Assert.True(exit == 0, said);
        // At quality 0 nothing is acknowledged; the others are stored when the program ends.
        await RunningServer.UntilAsync(async () => (await ValuesAsync(server)).SequenceEqual([17.5]), "it is stored");
        var refused = await RunAsync("mosquitto_pub", Mqtt(server, key + "x", "-V", version, "-q", quality, "-t", Topics.Data("home", "hall"), "-m", "1"));
        Assert.NotEqual(0, refused.Exit);
    }

    [Fact]
    public async Task A_last_will_is_a_message_of_its_node_and_of_no_other()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        foreach (var topic in new[] { Topics.Data("home", "drying"), Topics.Data("home", "hall") })
        {
            using var listener = Process.Start(
                new ProcessStartInfo(
                    "stdbuf",
                    [
                        "-oL",
                        "mosquitto_sub",
                        .. Mqtt(
                            server,
                            key,
                            "-d",
                            "-t",
                            Topics.Command("home", "hall"),
                            "--will-topic",
                            topic,
                            "--will-payload",
                            "{\"temp\": -40}",
                            "--will-qos",
                            "1"
                        ),
                    ]
                )
                {
                    RedirectStandardOutput = true,
                }
            )!;
            using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(20));
            while (await listener.StandardOutput.ReadLineAsync(patience.Token) is { } line && !line.Contains("SUBACK", StringComparison.Ordinal)) { }
            listener.Kill();
            await listener.WaitForExitAsync();
        }
        // Which of the two comes first is not said: each connection ends by itself.
        await RunningServer.UntilAsync(
            async () => (await server.RefusalsAsync("hall")).Exists(r => r.Contains("site/home/drying/data", StringComparison.Ordinal)),
            "the will of another is refused"
        );
        await RunningServer.UntilAsync(async () => (await ValuesAsync(server)).Count > 0, "the will of its own is stored");
        Assert.Equal([-40], await ValuesAsync(server));
    }

    [Fact]
    public async Task A_foreign_topic_is_not_heard()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        var (_, said) = await RunAsync("mosquitto_sub", Mqtt(server, key, "-W", "2", "-d", "-t", Topics.Data("home", "drying")));
        Assert.Contains("All subscription requests were denied", said);
        Assert.Contains(await server.RefusalsAsync("hall"), r => r.Contains("it may hear site/home/hall/command only", StringComparison.Ordinal));
    }

    [Fact]
    public async Task The_programs_of_a_nodes_page_run_as_they_stand_there()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying");
        var page = await (await server.ClientAsync("owner")).GetFromJsonAsync<NodeView>("/api/sites/home/nodes/drying/messages", CenoticJson.Options);
        Assert.Equal(["shell", "shell", "python", "c"], page!.Send.Snippets.Select(s => s.Language));
        var folder = Directory.CreateTempSubdirectory("cenotic-snippets").FullName;
        foreach (var snippet in page.Send.Snippets)
        {
            var file = Path.Combine(folder, $"send.{snippet.Language}");
            await File.WriteAllTextAsync(file, snippet.Text);
            if (snippet.Language == "c")
            {
                var built = await RunAsync("cc", ["-std=c99", "-Wall", "-Wextra", "-Werror", "-x", "c", "-o", Path.Combine(folder, "send"), file]);
                Assert.True(built.Exit == 0, built.Said);
            }
            var (program, arguments) = snippet.Language switch
            {
                "shell" => ("sh", new[] { file }),
                "python" => ("python3", [file]),
                _ => (Path.Combine(folder, "send"), Array.Empty<string>()),
            };
            // Run twice as it stands: each run sends message after message, and none of them is taken for one of before.
            for (var run = 0; run < 2; run++)
            {
                var stored = await server.CountAsync($"SELECT count(*) AS Value FROM arrivals WHERE Node = 'drying'");
                var start = new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true };
                (start.Environment["CENOTIC_KEY"], start.Environment["CENOTIC_EVERY"]) = (key, "1");
                using var sending = Process.Start(start)!;
                await RunningServer.UntilAsync(
                    async () => await server.CountAsync($"SELECT count(*) AS Value FROM arrivals WHERE Node = 'drying'") >= stored + 2,
                    $"{snippet.Title} in {snippet.Language} sends twice"
                );
                sending.Kill(entireProcessTree: true);
                await sending.WaitForExitAsync();
            }
            Assert.NotEqual(0, (await RunAsync(program, arguments, "nonsense")).Exit);
        }
        Assert.Equal(0, await server.CountAsync($"SELECT coalesce(sum(Repeats), 0) AS Value FROM node_status"));
        Assert.Equal(page.Send.ExampleBytes, System.Text.Encoding.UTF8.GetByteCount(page.Send.ExamplePayload));
        Assert.True(page.Send.CborBytes < page.Send.ExampleBytes);
        Directory.Delete(folder, recursive: true);
    }
}
