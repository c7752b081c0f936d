using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Watch;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Watch;

public class WatchTests
{
    [Fact]
    public async Task Newest_line_and_lane_show_what_was_sent()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        var now = server.Services.GetRequiredService<SiteClock>().Now("home");
        var t = now / 1000 - 3000;
        for (var i = 0; i < 30; i++)
        {
            await RunningServer.PublishAsync(node, "hall", $$"""[{"bt":{{t + i * 60}},"n":"temp","v":{{i}}},{"n":"motion","v":{{i / 10 % 2}}}]""");
        }
        var client = await server.ClientAsync("viewer");
        var readings = (await client.GetFromJsonAsync<List<ReadingView>>("/api/sites/home/readings", CenoticJson.Options))!;
        Assert.Equal(29, readings.Single(r => r is { Node: "hall", Key: "temp" }).Newest!.Value);
        Assert.Null(readings.Single(r => r is { Node: "cistern", Key: "level" }).Newest);
        async Task<LineView> LineAsync(long hours) => (await client.GetFromJsonAsync<LineView>($"/api/sites/home/readings/hall/temp/line?from={now - hours * 3_600_000}&to={now}", CenoticJson.Options))!;
        var samples = await LineAsync(1);
        Assert.Equal((0, 30), (samples.StepMs, samples.T.Count));
        var minutes = await LineAsync(24);
        Assert.Equal(60_000, minutes.StepMs);
        Assert.Equal(Enumerable.Range(0, 30).Sum(), minutes.Mean.Sum(), 1e-9);
        var lane = (await client.GetFromJsonAsync<LaneView>($"/api/sites/home/readings/hall/motion/lane?from={now - 3_600_000}&to={now}", CenoticJson.Options))!;
        Assert.Equal(((t + 600) * 1000, (t + 1200) * 1000), Assert.Single(lane.Stretches.Select(s => (s.From, s.To))));
        // A stretch that begins inside the state shows it from its edge.
        var inside = (await client.GetFromJsonAsync<LaneView>($"/api/sites/home/readings/hall/motion/lane?from={(t + 900) * 1000}&to={now}", CenoticJson.Options))!;
        Assert.Equal((t + 900) * 1000, Assert.Single(inside.Stretches).From);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/readings/hall/gone/line?from=1&to=2")).StatusCode);
    }
}
