using System.Diagnostics;
using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.BringUp;
using Cenotic.Server.Commands;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Tests.Ingest;

namespace Cenotic.Server.Tests.BringUp;

/// <summary>A node's program made from its bundle, and what the node says of itself.</summary>
public class NodeProgramTests
{
    private const string Drying = "/api/sites/home/nodes/drying";

    private static async Task<NodeProgramView> ViewAsync(HttpClient client, string node = "drying") =>
        (await client.GetFromJsonAsync<NodeProgramView>($"/api/sites/home/nodes/{node}/program", CenoticJson.Options))!;

    private static async Task<IReadOnlyList<string>> CodesAsync(HttpClient client, string node) =>
        [.. (await ViewAsync(client, node)).Findings.Select(f => f.Code)];

    [Fact]
    public async Task A_program_built_from_the_bundle_sends_obeys_and_goes_safe_when_the_server_is_gone()
    {
        var folder = Directory.CreateTempSubdirectory("node").FullName;
        var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        Assert.Equal(["NODE-UNREPORTED"], await CodesAsync(client, "drying"));
        var bundle = await client.PostAsync($"{Drying}/bundle", null);
        Assert.Equal(HttpStatusCode.OK, bundle.StatusCode);
        ZipFile.ExtractToDirectory(await bundle.Content.ReadAsStreamAsync(), folder);
        Assert.Equal(
            ["cenotic.c", "cenotic.h", "cenotic_mqtt.c", "cenotic_mqtt.h", "node.c", "settings.h", "settings.json"],
            Directory.GetFiles(folder).Select(Path.GetFileName).Order(StringComparer.Ordinal)
        );
        Assert.All(Directory.GetFiles(folder), f => Assert.DoesNotContain("#define CENOTIC_KEY", File.ReadAllText(f)));
        var secrets = (
            await (
                await client.PostAsync($"{Drying}/secrets", RunningServer.Body(new SecretsRequest("Fern Hollow", "long enough")))
            ).Content.ReadFromJsonAsync<SecretsFile>(CenoticJson.Options)
        )!;
        await File.WriteAllTextAsync(Path.Combine(folder, secrets.Name), secrets.Text);
        Assert.Contains("#define WIFI_NETWORK \"Fern Hollow\"", secrets.Text);
        var built = await PeersTests.RunAsync(
            "sh",
            ["-c", $"cd {folder} && cc -std=c99 -Wall -Wextra -Wpedantic -Werror -g -include secrets.h node.c cenotic.c cenotic_mqtt.c -lm -o node"]
        );
        Assert.True(built.Exit == 0, built.Said);
        var said = new List<string>();
        using var node = Process.Start(
            new ProcessStartInfo(
                "valgrind",
                ["--quiet", "--error-exitcode=9", "--leak-check=full", Path.Combine(folder, "node"), "127.0.0.1", $"{server.Started.Broker.Port}", "41", "600"]
            )
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        node.OutputDataReceived += (_, e) =>
        {
            lock (said)
            {
                said.Add(e.Data ?? "");
            }
        };
        node.ErrorDataReceived += (_, e) =>
        {
            lock (said)
            {
                said.Add(e.Data ?? "");
            }
        };
        node.BeginOutputReadLine();
        node.BeginErrorReadLine();
        bool Said(string line)
        {
            lock (said)
            {
                return said.Contains(line);
            }
        }
        await RunningServer.UntilAsync(async () => (await ViewAsync(client)).Newest is not null, "it reports its settings");
        var view = await ViewAsync(client);
        Assert.Equal((view.Hash, "node.c 1", "power", 41L), (view.Newest!.Settings, view.Newest.Firmware, view.Newest.Reset, view.Newest.Boot));
        Assert.Empty(view.Findings);
        Assert.Equal("owner", view.SavedWho);
        Assert.Empty(await server.RefusalsAsync("drying"));
        // What Watch shows of it: every reading of the node has a value.
        var readings = await server.QueryAsync(s => Task.FromResult(s.Readings.Count(r => r.Site == "home" && r.Node == "drying")));
        await RunningServer.UntilAsync(
            async () =>
                await server.CountAsync(
                    $"SELECT count(DISTINCT reading_id) AS Value FROM samples s JOIN readings r ON r.Id = s.reading_id WHERE r.Node = 'drying'"
                ) == readings,
            "every reading has a value"
        );
        Assert.Equal(
            HttpStatusCode.OK,
            (await client.PostAsync("/api/sites/home/outputs/drying/fan", RunningServer.Body(new SwitchRequest(true, 60_000)))).StatusCode
        );
        await RunningServer.UntilAsync(() => Task.FromResult(Said("fan on")), "the fan goes on");
        await RunningServer.UntilAsync(
            async () =>
                (await client.GetFromJsonAsync<OutputsView>("/api/sites/home/outputs", CenoticJson.Options))!.Outputs.Single(o => o.Node == "drying").Last
                    is { Taken: true },
            "it answers"
        );
        lock (said)
        {
            said.Remove("fan off");
        }
        await server.DisposeAsync();
        await RunningServer.UntilAsync(() => Task.FromResult(Said("fan off")), "the fan goes off without a server");
        Assert.False(node.HasExited);
        node.Kill();
        lock (said)
        {
            Assert.DoesNotContain(said, l => l.StartsWith("==", StringComparison.Ordinal));
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_node_that_runs_saved_settings_after_the_plan_changed_is_told_what_differs()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        await client.PostAsync("/api/sites/home/nodes/hall/bundle", null);
        var before = (await ViewAsync(client, "hall")).Hash;
        var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(
            node,
            "hall",
            $$"""
            [{"n":"sys/cfg","vs":"{{before}}"},{"n":"sys/rst","vs":"brownout"},{"n":"sys/vcc","v":3.1},
             {"n":"sys/mem","v":8192},{"n":"sys/boot","v":3},{"n":"sys/seq","v":1}]
            """
        );
        Assert.Equal(["NODE-BROWN-OUT"], await CodesAsync(client, "hall"));
        var hall = server.Book.Find("home")!.Design.Node("hall")!;
        var reading = hall.Readings.First(r => r.IntervalMs is not null || r.HeartbeatMs is not null);
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await client.PostAsync(
                    "/api/sites/home/edits",
                    RunningServer.Body(new EditRequest(1, [new PutReading("hall", reading with { HeartbeatMs = 7_200_000, IntervalMs = null })]))
                )
            ).StatusCode
        );
        var view = await ViewAsync(client, "hall");
        var finding = view.Findings.Single(f => f.Code == "NODE-OTHER-PLAN");
        Assert.Contains($"of {reading.Label}: ", finding.Why);
        Assert.Contains("2 h in the plan", finding.Why);
        Assert.Equal((3.1, 8192L, null), (view.Newest!.SupplyVolts, view.Newest.FreeBytes, view.SavedMs));
        // A later report that says less does not take away what was told.
        await RunningServer.PublishAsync(node, "hall", """[{"n":"sys/mem","v":4096},{"n":"sys/boot","v":3},{"n":"sys/seq","v":2}]""");
        // One row for each start, however often it tells.
        await RunningServer.PublishAsync(node, "hall", """[{"n":"sys/mem","v":4096},{"n":"sys/boot","v":4},{"n":"sys/seq","v":1}]""");
        Assert.Equal(2, await server.CountAsync($"SELECT count(*) AS Value FROM node_reports"));
        Assert.Equal((before, 4096L), ((await ViewAsync(client, "hall")).Newest!.Settings, (await ViewAsync(client, "hall")).Newest!.FreeBytes));
    }

    [Fact]
    public async Task Starts_are_counted_by_the_boot_numbers_of_messages()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var node = await server.NodeAsync("hall");
        for (var boot = 1; boot <= 3; boot++)
        {
            Assert.DoesNotContain("NODE-RESTARTS", await CodesAsync(client, "hall"));
            await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"sys/boot","v":{{boot}}},{"n":"sys/seq","v":1}]""");
            await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"sys/boot","v":{{boot}}},{"n":"sys/seq","v":2}]""");
        }
        Assert.Contains("NODE-RESTARTS", await CodesAsync(client, "hall"));
    }

    [Fact]
    public async Task Secrets_that_no_network_can_have_are_refused_and_the_key_stays()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var node = await server.NodeAsync("drying");
        foreach (
            var (request, why) in new[]
            {
                (new SecretsRequest(new string('x', 33), null), "at most 32 bytes"),
                (new SecretsRequest("net", "short"), "8 to 63 characters"),
            }
        )
        {
            var answer = await client.PostAsync($"{Drying}/secrets", RunningServer.Body(request));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains(why, await answer.Content.ReadAsStringAsync());
        }
        await RunningServer.PublishAsync(node, "drying", """[{"n":"sys/boot","v":1},{"n":"sys/seq","v":1}]""");
        Assert.True(node.IsConnected);
        Assert.Equal(HttpStatusCode.NotFound, (await client.PostAsync("/api/sites/home/nodes/nowhere/bundle", null)).StatusCode);
    }
}
