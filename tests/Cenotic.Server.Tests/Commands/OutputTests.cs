using System.Net;
using System.Net.Http.Json;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Core.Rehearsal;
using Cenotic.Server.Commands;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.StandIns;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Samples;
using Cenotic.Server.Tests.StandIns;
using Cenotic.Tests;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
using MQTTnet;

namespace Cenotic.Server.Tests.Commands;

/// <summary>Outputs: leases that are renewed while they are wanted, and end without this program.</summary>
public class OutputTests
{
    private const string Fan = "/api/sites/home/outputs/drying/fan";

    /// <summary>The drying room's node as the demo plays it, on the clock of this machine.</summary>
    private static StandInNode DryingRoom(IPEndPoint broker, string key, IStandInLink? link = null)
    {
        var file = RunningServer.Fernhollow;
        var (catalogue, plan) = (
            Cenotic.Core.Catalogue.HardwareCatalogue.BuiltIn,
            SitePlanner.Plan(file.Design, Cenotic.Core.Catalogue.HardwareCatalogue.BuiltIn, file.Evidence)
        );
        return new(
            "drying",
            (boot, now) => new(file.Design.Node("drying")!, plan.Node("drying")!.Rhythm, catalogue, 1, boot, now),
            link ?? new StandInClient(StandInTests.Plan, "drying", key, broker, () => { }),
            1,
            1,
            NullLogger.Instance
        )
        {
            Scan = (_, _) => "none",
        };
    }

    private static long Now => DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();

    private static async Task PlayUntilAsync(StandInNode node, Func<Task<bool>> done, string what)
    {
        for (var i = 0; i < 300; i++)
        {
            await node.PlayAsync(Now, StandInControl.Calm, CancellationToken.None);
            if (await done())
            {
                return;
            }
            await Task.Delay(50);
        }
        Assert.Fail($"Not in time: {what}");
    }

    private static async Task<OutputView> ViewAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<OutputsView>("/api/sites/home/outputs", CenoticJson.Options))!.Outputs.Single(o => o.Node == "drying");

    [Fact]
    public async Task A_switch_is_obeyed_answered_and_kept_with_who_did_it()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var node = DryingRoom(server.Started.Broker, await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying"));
        Assert.Contains("not connected", await (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 60_000)))).Content.ReadAsStringAsync());
        await PlayUntilAsync(node, async () => (await ViewAsync(client)).Why is null, "the node listens");
        Assert.Equal(HttpStatusCode.OK, (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 60_000)))).StatusCode);
        await PlayUntilAsync(node, async () => (await ViewAsync(client)).Last is { Taken: true }, "it obeys and says so");
        Assert.True(node.IsOn("fan"));
        await PlayUntilAsync(
            node,
            async () =>
                await server.CountAsync(
                    $"SELECT count(*) AS Value FROM samples s JOIN readings r ON r.Id = s.reading_id WHERE r.Node = 'drying' AND r.Key = 'fan' AND s.value = 1"
                ) > 0,
            "its state is stored"
        );
        Assert.Equal(HttpStatusCode.OK, (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(false, null)))).StatusCode);
        await PlayUntilAsync(node, () => Task.FromResult(!node.IsOn("fan")), "it goes off");
        var log = (await client.GetFromJsonAsync<OutputsView>("/api/sites/home/outputs", CenoticJson.Options))!.Log;
        Assert.Equal([(false, "owner", null), (true, "owner", "switched off by owner")], log.Select(c => (c.On, c.Who, c.Ended)));
    }

    [Fact]
    public async Task A_viewer_cannot_switch_and_nobody_for_longer_than_the_plan_says()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var node = DryingRoom(server.Started.Broker, await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying"));
        await PlayUntilAsync(node, async () => (await ViewAsync(owner)).Why is null, "the node listens");
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await (await server.ClientAsync("viewer")).PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 60_000)))).StatusCode
        );
        foreach (var forMs in new long[] { 0, -5, 7_200_001, long.MaxValue })
        {
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, forMs)))).StatusCode);
        }
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await owner.PostAsync("/api/sites/home/outputs/drying/rack1", RunningServer.Body(new SwitchRequest(true, null)))).StatusCode
        );
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM commands"));
        // An output of which nothing is said is not switched from here.
        var fan = server.Book.Find("home")!.Design.Node("drying")!.Reading("fan")!;
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new PutReading("drying", fan with { Output = null })], "owner");
        Assert.Contains("How long", (await ViewAsync(owner)).Why);
    }

    private static OutputCommand CommandOf(MQTTnet.MqttApplicationMessageReceivedEventArgs heard) =>
        OutputCommand.Read(System.Buffers.BuffersExtensions.ToArray(heard.ApplicationMessage.Payload)).Value;

    /// <summary>What a client that only listens hears: leases of a minute at most, renewed in
    /// time, none of them retained, and none after the time is up.</summary>
    [Fact]
    public async Task Leases_are_short_renewed_and_never_retained()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        // At six times the speed a minute of lease is ten seconds here: time enough for a loop on a busy machine.
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(async store =>
                server
                    .Services.GetRequiredService<SiteClock>()
                    .ChangeSpeed(await Microsoft.EntityFrameworkCore.EntityFrameworkQueryableExtensions.SingleAsync(store.Sites), 6)
            );
        using var node = await server.NodeAsync("drying");
        var heard = new List<(long At, OutputCommand Command, bool Retained)>();
        node.ApplicationMessageReceivedAsync += e =>
        {
            lock (heard)
            {
                heard.Add((server.Services.GetRequiredService<SiteClock>().Now("home"), CommandOf(e), e.ApplicationMessage.Retain));
            }
            return Task.CompletedTask;
        };
        await node.SubscribeAsync(Topics.Command("home", "drying"), MQTTnet.Protocol.MqttQualityOfServiceLevel.AtLeastOnce);
        var begun = (
            await (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 120_000)))).Content.ReadFromJsonAsync<CommandView>(
                CenoticJson.Options
            )
        )!;
        await RunningServer.UntilAsync(async () => (await ViewAsync(client)).Last!.Ended == "its time was up", "the time is up");
        // The next command is also the end of what the node heard of this one.
        var next = (
            await (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 120_000)))).Content.ReadFromJsonAsync<CommandView>(
                CenoticJson.Options
            )
        )!;
        await RunningServer.UntilAsync(
            () =>
            {
                lock (heard)
                {
                    return Task.FromResult(heard.Exists(h => h.Command.Id == next.Id));
                }
            },
            "the node hears it too"
        );
        var leases = heard.TakeWhile(h => h.Command.Id != next.Id).ToList();
        Assert.True(leases.Count >= 3, $"{leases.Count} leases");
        Assert.All(leases, h => Assert.Equal((begun.Id, true, 120_000, false), (h.Command.Id, h.Command.On, h.Command.MaxOnMs, h.Retained)));
        Assert.All(leases, h => Assert.True(h.Command.ExpiresMs <= begun.UntilMs && h.Command.ExpiresMs - h.At <= Cenotic.Core.Alerts.OutputJudge.LeaseMs));
        // A new lease comes before the one before it has run out.
        Assert.All(leases.Zip(leases.Skip(1)), pair =>
            Assert.True(pair.Second.At < pair.First.Command.ExpiresMs, $"{pair.Second.At - pair.First.Command.ExpiresMs} ms too late")
        );
        Assert.Equal(begun.UntilMs, leases[^1].Command.ExpiresMs);
        // Nothing is retained: who subscribes now hears the next renewal, and nothing of what was.
        using var late = await server.NodeAsync("drying");
        var first = new TaskCompletionSource<(OutputCommand Command, bool Retained)>();
        late.ApplicationMessageReceivedAsync += e => Task.FromResult(first.TrySetResult((CommandOf(e), e.ApplicationMessage.Retain)));
        await late.SubscribeAsync(Topics.Command("home", "drying"));
        var (renewed, retained) = await first.Task.WaitAsync(TimeSpan.FromMinutes(1));
        Assert.Equal((next.Id, false), (renewed.Id, retained));
    }

    [Fact]
    public async Task Killed_while_an_output_is_on_the_node_goes_safe_and_nothing_is_taken_up_again()
    {
        var folder = RunningServer.NewFolder();
        string key;
        await using (var prepared = await RunningServer.StartAsync(folder))
        {
            key = await prepared.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying");
        }
        var (web, broker) = Ports.Free();
        using var process = KillTests.Start(folder, web, broker);
        var node = DryingRoom(new(IPAddress.Loopback, broker), key);
        using (var client = await RunningServer.SignedInAsync(new($"http://127.0.0.1:{web}"), "owner"))
        {
            await PlayUntilAsync(node, async () => (await ViewAsync(client)).Why is null, "the node listens");
            Assert.Equal(HttpStatusCode.OK, (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 3_600_000)))).StatusCode);
            await PlayUntilAsync(node, async () => (await ViewAsync(client)).Last is { Taken: true }, "it is on");
        }
        Assert.True(node.IsOn("fan"));
        process.Kill();
        await process.WaitForExitAsync();
        await PlayUntilAsync(node, () => Task.FromResult(!node.IsOn("fan")), "it is safe");
        (web, broker) = Ports.Free();
        using var second = KillTests.Start(folder, web, broker);
        node = DryingRoom(new(IPAddress.Loopback, broker), key);
        using (var client = await RunningServer.SignedInAsync(new($"http://127.0.0.1:{web}"), "owner"))
        {
            await PlayUntilAsync(node, async () => (await ViewAsync(client)).Why is null, "the node listens again");
            await PlayUntilAsync(node, async () => (await ViewAsync(client)).Last?.Ended == "this program was started anew", "the order is closed");
            Assert.False(node.IsOn("fan"));
            // What is told a node arrives in order: were the order from before told anew, it would outlast this one of a second.
            Assert.Equal(HttpStatusCode.OK, (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 1_000)))).StatusCode);
            await PlayUntilAsync(node, () => Task.FromResult(node.IsOn("fan")), "it hears a new order");
            await PlayUntilAsync(node, () => Task.FromResult(!node.IsOn("fan")), "it is off after that");
        }
        second.Kill();
        await second.WaitForExitAsync();
        Directory.Delete(folder, recursive: true);
    }

    /// <summary>Off while the link is down: it counts at once, nothing is renewed, and the node is told as soon as it is back.</summary>
    [Fact]
    public async Task Off_counts_while_the_node_is_away_and_is_told_when_it_is_back()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying");
        var link = new StandInClient(StandInTests.Plan, "drying", key, server.Started.Broker, () => { });
        var node = DryingRoom(server.Started.Broker, key, link);
        await PlayUntilAsync(node, async () => (await ViewAsync(client)).Why is null, "the node listens");
        await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 600_000)));
        await PlayUntilAsync(node, () => Task.FromResult(node.IsOn("fan")), "it is on");
        link.Dispose();
        await RunningServer.UntilAsync(async () => (await ViewAsync(client)).Why is not null, "the node is away");
        Assert.Equal(HttpStatusCode.OK, (await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(false, null)))).StatusCode);
        var view = await ViewAsync(client);
        Assert.Equal((true, null, false), (view.AwaitsOff, view.Holder, view.Last!.On));
        Assert.True(node.IsOn("fan"));
        // Back with the same memory: what it hears first is off.
        var heard = new List<OutputCommand>();
        using var back = await server.NodeAsync("drying");
        back.ApplicationMessageReceivedAsync += e =>
        {
            heard.Add(OutputCommand.Read(System.Buffers.BuffersExtensions.ToArray(e.ApplicationMessage.Payload)).Value);
            return Task.CompletedTask;
        };
        await back.SubscribeAsync(Topics.Command("home", "drying"), MQTTnet.Protocol.MqttQualityOfServiceLevel.AtLeastOnce);
        await RunningServer.UntilAsync(() => Task.FromResult(heard.Count > 0), "it is told");
        Assert.Equal((false, view.Last.Id), (heard[0].On, heard[0].Id));
        await RunningServer.PublishAsync(back, "drying", FormattableString.Invariant($$"""[{"n":"sys/ack","v":{{view.Last.Id}}}]"""));
        await RunningServer.UntilAsync(async () => !(await ViewAsync(client)).AwaitsOff, "it is confirmed");
        Assert.DoesNotContain(heard, h => h.On);
    }

    /// <summary>A node whose clock is wrong takes every lease for expired: it refuses, and that is said.</summary>
    [Fact]
    public async Task A_node_whose_clock_is_ahead_refuses_and_that_is_kept()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var node = DryingRoom(server.Started.Broker, await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "drying"));
        await PlayUntilAsync(node, async () => (await ViewAsync(client)).Why is null, "the node listens");
        await client.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 60_000)));
        for (var i = 0; i < 100 && (await ViewAsync(client)).Last!.Taken is null; i++)
        {
            await node.PlayAsync(Now, StandInControl.Calm with { SkewSeconds = 120 }, CancellationToken.None);
            await Task.Delay(50);
        }
        var last = (await ViewAsync(client)).Last!;
        Assert.Equal((false, "the node refused it: is its clock right?"), (last.Taken!.Value, last.Ended));
        Assert.False(node.IsOn("fan"));
    }
}
