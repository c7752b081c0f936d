using System.Net;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Server.Sites;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>Designs that are too much to plan are told so; who asks for them many times over holds up nobody.</summary>
public class TooMuchWorkTests
{
    private static readonly string[] OnI2c =
    [
        .. HardwareCatalogue.BuiltIn.Parts.Where(p => p.Interfaces.Any(i => i.Kind == InterfaceKind.I2c)).Select(p => p.Id).Order(StringComparer.Ordinal),
    ];

    private static NodeDesign Much(string key) =>
        new(
            key,
            key,
            null,
            "esp32-dev-38",
            new PowerDesign(PowerKind.Usb),
            LinkKind.Wifi,
            false,
            false,
            [.. OnI2c.Take(18).Select((p, i) => new PartInstance($"p{i}", $"p{i}", p))],
            [],
            []
        );

    private static async Task PutAsync(RunningServer server, params DesignEdit[] edits) =>
        Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, edits, "test"));

    [Fact]
    public async Task Forty_askers_share_one_plan_and_nodes_are_heard_meanwhile()
    {
        await using var server = await RunningServer.StartAsync();
        var plans = server.Services.GetRequiredService<SitePlans>();
        using var node = await server.NodeAsync("hall");
        var viewer = await server.ClientAsync("viewer");
        var before = plans.Begun;
        await PutAsync(server, [.. Enumerable.Range(0, 1).Select(i => new PutNode(Much($"much{i}")))]);
        var asked = Enumerable.Range(0, 40).Select(_ => viewer.GetStringAsync("/api/sites/home/plan")).ToList();
        for (var i = 0; i < 20; i++)
        {
            Assert.True((await RunningServer.PublishAsync(node, "hall", $"{{\"temp\": {i}}}")).IsSuccess);
        }
        Assert.All(await Task.WhenAll(asked), plan => Assert.Contains("BENCH-TOO-MUCH", plan));
        Assert.Equal(1, plans.Begun - before);
        // What is looked into on demand has its own budget, and says so when that is used up.
        foreach (
            var (path, wanted) in new[]
            {
                ("nodes/much0/boards", HttpStatusCode.OK),
                ("nodes/much0/pins?part=p0&line=SDA", HttpStatusCode.OK),
                ("nodes/much0/trial?part=p0&line=SDA&pin=R3", HttpStatusCode.OK),
                ("nodes/much0/rhythms", HttpStatusCode.OK),
                ("nodes/much0/build", HttpStatusCode.OK),
                ("nodes/much0/parts-list", HttpStatusCode.OK),
            }
        )
        {
            var answer = await viewer.GetAsync($"/api/sites/home/{path}");
            Assert.True(
                answer.StatusCode == wanted
                    || answer.StatusCode == HttpStatusCode.UnprocessableEntity
                        && (await answer.Content.ReadAsStringAsync()).Contains("too much to work out", StringComparison.Ordinal),
                $"{path} answered {answer.StatusCode}"
            );
        }
    }

    [Fact]
    public async Task A_plan_ends_when_its_askers_left_or_a_newer_one_is_wanted()
    {
        await using var server = await RunningServer.StartAsync();
        var plans = server.Services.GetRequiredService<SitePlans>();
        await server.Book.PlanAsync(server.Book.Find("home")!);
        await PutAsync(server, [.. Enumerable.Range(0, 2).Select(i => new PutNode(Much($"much{i}")))]);
        using var leaves = new CancellationTokenSource();
        var asked = server.Book.PlanAsync(server.Book.Find("home")!, leaves.Token);
        await leaves.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => asked);
        Assert.Equal(1, plans.Ended);
        // Nobody asked for the plan of each of these revisions but the last.
        var begun = plans.Begun;
        for (var i = 0; i < 5; i++)
        {
            await PutAsync(server, new PutNode(Much("much0") with { Label = $"Much {i}" }));
        }
        Assert.InRange(plans.Ended - 1, 3, plans.Begun - begun);
        Assert.Equal("Much 4", server.Book.Find("home")!.Design.Node("much0")!.Label);
        Assert.Equal(2, (await server.Book.PlanAsync(server.Book.Find("home")!)).Findings.Count(f => f.Code == "BENCH-TOO-MUCH"));
    }
}
