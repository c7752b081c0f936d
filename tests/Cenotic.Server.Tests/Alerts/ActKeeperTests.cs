using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Commands;
using Cenotic.Server.Sites;
using MQTTnet;

namespace Cenotic.Server.Tests.Alerts;

/// <summary>Outputs that rules switch.</summary>
public class ActKeeperTests
{
    private const string Fan = "/api/sites/home/outputs/drying/fan";

    /// <summary>The fan as it was last wanted, and by whom.</summary>
    private static async Task<CommandView?> LastAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<OutputsView>("/api/sites/home/outputs", CenoticJson.Options))!.Outputs.Single(o => o.Node == "drying").Last;

    private static async Task UntilAsync(HttpClient client, Func<CommandView?, bool> holds, string what) =>
        await RunningServer.UntilAsync(async () => holds(await LastAsync(client)), what);

    private static Task RackAsync(IMqttClient node, double value) =>
        RunningServer.PublishAsync(node, "drying", FormattableString.Invariant($$"""[{"n":"rack1","v":{{value}}}]"""));

    private static async Task<(HttpClient Owner, IMqttClient Node)> BeginAsync(RunningServer server, ActWhile when)
    {
        var rule = server.Book.Find("home")!.Design.Rule("rack-too-warm")!;
        // The damp rule leaves the fan alone here.
        Assert.IsType<BatchResult.Done>(
            await server.Book.ApplyAsync(
                "home",
                server.Book.Find("home")!.Revision,
                [new RemoveRule("drying-damp"), new PutRule(rule with { Acts = [new("drying", "fan", when)] })],
                "test"
            )
        );
        var node = await server.NodeAsync("drying");
        await node.SubscribeAsync(Topics.Command("home", "drying"));
        return (await server.ClientAsync("owner"), node);
    }

    [Fact]
    public async Task It_is_on_while_the_rule_is_raised_and_off_after_and_a_person_may_overrule_it()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, node) = await BeginAsync(server, ActWhile.Raised);
        using var _ = node;
        await RackAsync(node, 31);
        await RackAsync(node, 34);
        await UntilAsync(owner, c => c is { On: true, Who: "the rule Rack 1 too warm", Ended: null }, "the rule switches it on");
        await RackAsync(node, 29);
        await UntilAsync(owner, c => c is { On: false, Who: "the rule Rack 1 too warm" }, "it is off after");
        // Off by hand while it stands: it stays off. On by hand since: it is not taken away when the rule is over.
        await RackAsync(node, 34);
        await UntilAsync(owner, c => c is { On: true, Ended: null }, "on again");
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync(Fan, RunningServer.Body(new SwitchRequest(false, null)))).StatusCode);
        await server.LookedAsync();
        Assert.False((await LastAsync(owner))!.On);
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 60_000)))).StatusCode);
        await RackAsync(node, 29);
        await server.LookedAsync();
        Assert.Equal((true, "owner", null), ((await LastAsync(owner))!.On, (await LastAsync(owner))!.Who, (await LastAsync(owner))!.Ended));
    }

    [Fact]
    public async Task A_permit_is_given_when_all_is_heard_to_be_well_and_withdrawn_whoever_switched_it_on()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, node) = await BeginAsync(server, ActWhile.Calm);
        using var _ = node;
        await server.LookedAsync();
        Assert.Null(await LastAsync(owner));
        await RackAsync(node, 31);
        await UntilAsync(owner, c => c is { On: true, Who: "the permit of Rack 1 too warm", Ended: null }, "the permit is given");
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 600_000)))).StatusCode);
        await RackAsync(node, 34);
        await UntilAsync(owner, c => c is { On: false, Who: "the permit of Rack 1 too warm" }, "the permit is withdrawn");
        Assert.Contains("is not given", await (await owner.PostAsync(Fan, RunningServer.Body(new SwitchRequest(true, 600_000)))).Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Two_rules_that_want_one_output_do_not_take_turns_and_what_a_person_switched_off_stays_off_over_a_restart()
    {
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            var (owner, node) = await BeginAsync(server, ActWhile.Raised);
            using var _ = node;
            var rule = server.Book.Find("home")!.Design.Rule("rack-too-warm")!;
            Assert.IsType<BatchResult.Done>(
                await server.Book.ApplyAsync(
                    "home",
                    server.Book.Find("home")!.Revision,
                    [new PutRule(rule with { Key = "too-warm-again", Label = "Too warm again" })],
                    "test"
                )
            );
            await RackAsync(node, 31);
            await RackAsync(node, 34);
            await UntilAsync(owner, c => c is { On: true, Ended: null }, "one of them switches it on");
            await RunningServer.UntilAsync(async () => (await ViewAsync(owner)).Waiting.Count == 1, "the other is shown as waiting");
            // Looks of rules and outputs later it was switched once.
            await server.LookedAsync();
            await server.LookedAsync();
            Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM commands"));
            Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync(Fan, RunningServer.Body(new SwitchRequest(false, null)))).StatusCode);
        }
        await using (var again = await RunningServer.StartAsync(folder))
        {
            var owner = await again.ClientAsync("owner");
            using var node = await again.NodeAsync("drying");
            await node.SubscribeAsync(Topics.Command("home", "drying"));
            await RackAsync(node, 34.5);
            await RunningServer.UntilAsync(
                async () => await again.CountAsync($"SELECT count(*) AS Value FROM samples WHERE value = 34.5") == 1,
                "a value is judged"
            );
            await again.LookedAsync();
            Assert.Equal(2, await again.CountAsync($"SELECT count(*) AS Value FROM commands"));
            Assert.False((await LastAsync(owner))!.On);
            await RackAsync(node, 29);
            await RackAsync(node, 34);
            await UntilAsync(owner, c => c is { On: true, Ended: null }, "a rule that is raised anew switches it on");
        }
        Directory.Delete(folder, recursive: true);
    }

    private static async Task<OutputView> ViewAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<OutputsView>("/api/sites/home/outputs", CenoticJson.Options))!.Outputs.Single(o => o.Node == "drying");
}
