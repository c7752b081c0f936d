using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Server.Samples;
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
        async Task<LineView> LineAsync(long hours) =>
            (await client.GetFromJsonAsync<LineView>($"/api/sites/home/readings/hall/temp/line?from={now - hours * 3_600_000}&to={now}", CenoticJson.Options))!;
        var samples = await LineAsync(1);
        Assert.Equal((3600, 30), (samples.StepMs, samples.T.Count));
        var minutes = await LineAsync(24);
        Assert.Equal(120_000, minutes.StepMs);
        Assert.Equal((0, 29), (minutes.Low.Min(), minutes.High.Max()));
        var lane = (
            await client.GetFromJsonAsync<LaneView>($"/api/sites/home/readings/hall/motion/lane?from={now - 3_600_000}&to={now}", CenoticJson.Options)
        )!;
        Assert.Equal(((t + 600) * 1000, (t + 1200) * 1000), Assert.Single(lane.Stretches.Select(s => (s.From, s.To))));
        // A stretch that begins inside the state shows it from its edge.
        var inside = (
            await client.GetFromJsonAsync<LaneView>($"/api/sites/home/readings/hall/motion/lane?from={(t + 900) * 1000}&to={now}", CenoticJson.Options)
        )!;
        Assert.Equal((t + 900) * 1000, Assert.Single(inside.Stretches).From);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/readings/hall/gone/line?from=1&to=2")).StatusCode);
    }

    [Fact]
    public async Task What_is_open_and_the_limits_of_rules_stand_with_the_reading_that_they_watch()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        async Task<ReadingView> RackAsync() =>
            (await client.GetFromJsonAsync<List<ReadingView>>("/api/sites/home/readings", CenoticJson.Options))!.Single(r =>
                r is { Node: "drying", Key: "rack1" }
            );
        Assert.Equal([32], (await RackAsync()).Limits.Where(l => l.Label == "Rack 1 too warm").Select(l => l.Limit));
        Assert.Empty((await RackAsync()).Open);
        using var node = await server.NodeAsync("drying");
        async Task SendAsync(int value) => await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"rack1","v":{{value}}}]""");
        await SendAsync(31);
        await SendAsync(34);
        await RunningServer.UntilAsync(async () => (await RackAsync()).Open.Any(e => e is { Label: "Rack 1 too warm", ToMs: null }), "it is open");
        Assert.All((await client.GetFromJsonAsync<List<ReadingView>>("/api/sites/home/readings", CenoticJson.Options))!.Where(r => r.Node != "drying"), r =>
            Assert.Empty(r.Open)
        );
        await SendAsync(29);
        await RunningServer.UntilAsync(async () => (await RackAsync()).Open.Count == 0, "it is over");
    }

    [Fact]
    public async Task An_envelope_keeps_every_high_and_low_of_its_samples()
    {
        await using var server = await RunningServer.StartAsync();
        var reading = server.Book.Find("home")!.Readings[("hall", "temp")];
        var random = new Random(7);
        const long begin = 1_790_000_000_000,
            stretch = 40 * 86_400_000L;
        List<(long T, double Value)> samples =
        [
            .. Enumerable
                .Range(0, 8_000)
                .Select(_ => (T: begin + random.NextInt64(stretch), Value: Math.Round(random.NextDouble() * 40, 3)))
                .DistinctBy(s => s.T)
                .OrderBy(s => s.T),
        ];
        await server
            .Services.GetRequiredService<SampleWriter>()
            .StoreAsync(
                new(
                    "home",
                    "hall",
                    begin,
                    1,
                    1,
                    1,
                    null,
                    null,
                    [.. samples.Select(s => new DecodedSample(reading.Id, "temp", reading.Kind, s.T, s.Value, SampleFlags.None))],
                    [],
                    ""
                )
            );
        var client = await server.ClientAsync("viewer");
        foreach (
            var (from, to, points, finest) in new[]
            {
                (begin, begin + stretch, 1000, 60_000L),
                (begin, begin + stretch, 100, 3_600_000),
                (begin + 86_400_000, begin + 2 * 86_400_000, 500, 60_000),
                (begin + 1234, begin + 3_600_000 * 9, 1000, 1),
            }
        )
        {
            var line = (
                await client.GetFromJsonAsync<LineView>($"/api/sites/home/readings/hall/temp/line?from={from}&to={to}&points={points}", CenoticJson.Options)
            )!;
            // The same, worked out from the samples themselves: each falls into the minute or hour it is kept under, and these into points.
            var groups = samples
                .Select(s => (T: s.T - s.T % finest, s.Value))
                .Where(s => s.T >= from && s.T <= to)
                .GroupBy(s => finest == 1 ? (s.T - from) / line.StepMs : s.T / line.StepMs)
                .OrderBy(g => g.Key)
                .ToList();
            Assert.InRange(line.T.Count, 1, points + 1);
            Assert.Equal(groups.Select(g => g.Min(s => s.T)), line.T);
            Assert.Equal(groups.Select(g => g.Min(s => s.Value)), line.Low);
            Assert.Equal(groups.Select(g => g.Max(s => s.Value)), line.High);
            Assert.All(groups.Select(g => g.Average(s => s.Value)).Zip(line.Mean), p => Assert.Equal(p.First, p.Second, 1e-9));
        }
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.GetAsync($"/api/sites/home/readings/hall/temp/line?from=1&to=2&points=6000")).StatusCode
        );
    }

    [Fact]
    public async Task Two_readings_are_compared_and_what_cannot_be_is_said()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        using var hall = await server.NodeAsync("hall");
        var t = server.Services.GetRequiredService<SiteClock>().Now("home") / 1000 - 3000;
        for (var i = 0; i < 40; i++)
        {
            await RunningServer.PublishAsync(
                node,
                "drying",
                FormattableString.Invariant($$"""[{"bt":{{t + i * 60}},"n":"rack1","v":{{20.5 + i % 7}}},{"n":"rack2","v":{{20 + i % 7}}}]""")
            );
            await RunningServer.PublishAsync(
                hall,
                "hall",
                $$"""[{"bt":{{t + i * 60}},"n":"presence","v":{{i / 10 % 2}}},{"n":"motion","v":{{(i + 1) / 10 % 2}}}]"""
            );
        }
        var client = await server.ClientAsync("viewer");
        async Task<CompareView> Compare(string a, string b) =>
            (await client.GetFromJsonAsync<CompareView>($"/api/sites/home/compare?a={a}&b={b}&hours=1", CenoticJson.Options))!;
        var lines = (await Compare("drying/rack1", "drying/rack2")).Lines!;
        Assert.Equal(
            (40, 0.5, 1.0, 0.0),
            (lines.Moments, Math.Round(lines.Bias.Value!.Value, 9), Math.Round(lines.Correlation.Value!.Value, 9), lines.Lag.Value)
        );
        var events = await Compare("hall/presence", "hall/motion");
        // Presence begins with the tenth minute and the thirtieth, motion a minute before each.
        Assert.Equal((2, 0, 0, -60.0), (events.Events!.Seen, events.Events.Missed, events.Events.Extra, events.Events.Detection.Value));
        Assert.Equal(2, events.A.Count);
        Assert.Contains("not compared", Assert.Single((await Compare("hall/presence", "drying/rack1")).Reasons));
        Assert.Contains("°C", Assert.Single((await Compare("drying/rack1", "drying/rh")).Reasons));
        Assert.Contains("Choose two", Assert.Single((await Compare("drying/rack1", "drying/rack1")).Reasons));
    }

    [Fact]
    public async Task Humidity_tells_its_dew_point_where_its_part_tells_the_temperature_too()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        var client = await server.ClientAsync("viewer");
        async Task<ReadingView> Humidity() =>
            (await client.GetFromJsonAsync<List<ReadingView>>("/api/sites/home/readings", CenoticJson.Options))!.Single(r =>
                r is { Node: "drying", Key: "rh" }
            );
        await RunningServer.PublishAsync(node, "drying", """[{"n":"rh","v":50}]""");
        Assert.Empty((await Humidity()).Derived);
        await RunningServer.PublishAsync(node, "drying", """[{"n":"temp","v":20}]""");
        var derived = (await Humidity()).Derived;
        Assert.Equal(["Dew point", "Water in the air"], derived.Select(d => d.Label));
        Assert.Equal(9.2552, derived[0].Value!.Value, 0.0005);
        // Air without any water there is not.
        await RunningServer.PublishAsync(node, "drying", """[{"n":"rh","v":0}]""");
        Assert.Empty((await Humidity()).Derived);
    }
}
