using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Relay;
using Cenotic.Server.StandIns;
using Cenotic.Server.Watch;

namespace Cenotic.Server.Tests.StandIns;

public class StandInTests
{
    private const string Site = "/api/sites/fernhollow";

    private static async Task<double?> ValueAsync(HttpClient client, string node, string key) =>
        (await client.GetFromJsonAsync<List<ReadingView>>($"{Site}/readings", CenoticJson.Options))!.Single(r => r.Node == node && r.Key == key).Newest?.Value;

    [Fact]
    public async Task The_demo_has_a_day_behind_it_and_plays_on_under_its_controls()
    {
        await using var server = await RunningServer.StartAsync(demo: true);
        var client = await server.ClientAsync("owner");
        Assert.True(await server.CountAsync($"SELECT count(*) AS Value FROM samples") > 50_000);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM refusals"));
        Assert.Equal(HttpStatusCode.NoContent, (await client.PutAsync($"{Site}/speed", RunningServer.Body(new SpeedSetting(60)))).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await client.PutAsync($"{Site}/stand-ins/drying", RunningServer.Body(new StandInSetting(false, 25, false)))).StatusCode);
        await RunningServer.UntilAsync(async () => await ValueAsync(client, "drying", "rack1") > 38, "the heat shows");
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE Rule = 'rack-too-warm' AND ClearedMs IS NULL") == 1, "the rule raised");
        Assert.Equal(HttpStatusCode.NoContent, (await client.PutAsync($"{Site}/stand-ins/hall", RunningServer.Body(new StandInSetting(true, 0, false)))).StatusCode);
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE Rule = 'hall-silent' AND ClearedMs IS NULL") == 1, "silence is told");
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM refusals"));
    }

    [Fact]
    public async Task The_rain_mast_of_the_demo_is_heard_over_a_serial_line()
    {
        await using var server = await RunningServer.StartAsync(demo: true);
        var client = await server.ClientAsync("owner");
        await RunningServer.UntilAsync(async () => (await client.GetFromJsonAsync<List<SerialLineState>>($"{Site}/lines", CenoticJson.Options))!.SingleOrDefault() is { Open: true }, "the line is open");
        Assert.Equal("rain", server.Book.Find("fernhollow")!.Design.Lines.Single().Format.Node);
    }

    [Fact]
    public async Task What_the_bridge_cuts_is_lost_by_the_message_numbers_and_nothing_else_is()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        using var bridge = new RadioBridge();
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new PutLine(bridge.Start(CancellationToken.None))], "owner");
        async Task<SerialLineState> LineAsync() => (await client.GetFromJsonAsync<List<SerialLineState>>("/api/sites/home/lines", CenoticJson.Options))!.Single();
        await RunningServer.UntilAsync(async () => (await LineAsync()).Open, "the line is open");
        const int sent = 300;
        for (var i = 1; i <= sent; i++)
        {
            await bridge.SendAsync(System.Text.Encoding.UTF8.GetBytes($$"""{"rain":{{i}},"sys/boot":1,"sys/seq":{{i}}}"""), CancellationToken.None);
        }
        NodeView? page = null;
        await RunningServer.UntilAsync(async () => (page = await client.GetFromJsonAsync<NodeView>("/api/sites/home/nodes/rain/messages", CenoticJson.Options))!.Received + page.Lost >= sent - 2, "all but the last came or are missed");
        // One in fifteen is cut: 20 of 300, give or take four standard deviations.
        Assert.InRange(page!.Lost!.Value, 3, 38);
        Assert.Empty(page.Refusals);
        Assert.True((await LineAsync()).Skipped > 500);
    }

    [Fact]
    public async Task A_trip_shows_and_nonsense_is_refused()
    {
        await using var server = await RunningServer.StartAsync(demo: true);
        var client = await server.ClientAsync("owner");
        await client.PutAsync($"{Site}/stand-ins/cistern", RunningServer.Body(new StandInSetting(false, 0, true)));
        await RunningServer.UntilAsync(async () => await ValueAsync(client, "cistern", "full") == 1, "the float switch closed");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PutAsync($"{Site}/speed", RunningServer.Body(new SpeedSetting(1000)))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PutAsync($"{Site}/stand-ins/nobody", RunningServer.Body(new StandInSetting(false, 0, false)))).StatusCode);
    }

    [Fact]
    public async Task Outside_the_demo_there_are_no_controls_and_the_demo_keeps_to_this_machine()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        Assert.Null(server.Services.GetService(typeof(StandInHost)));
        // What is not mapped is answered by the page, as any unknown address.
        Assert.NotEqual("application/json", (await client.GetAsync("/api/sites/home/stand-ins")).Content.Headers.ContentType?.MediaType);
        Assert.Equal(HttpStatusCode.MethodNotAllowed, (await client.PutAsync("/api/sites/home/speed", RunningServer.Body(new SpeedSetting(10)))).StatusCode);
        var settings = new Microsoft.Extensions.Configuration.ConfigurationBuilder();
        var asked = Microsoft.Extensions.Configuration.MemoryConfigurationBuilderExtensions.AddInMemoryCollection(settings, new Dictionary<string, string?> { ["DEMO"] = "true", ["WEB"] = "http://0.0.0.0:80" }).Build();
        Assert.Contains("this machine only", Assert.Throws<ArgumentException>(() => Settings.Read(asked)).Message);
    }
}
