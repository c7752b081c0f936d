using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Tests.Samples;

/// <summary>What the relay says of itself: to a monitor, a collector and the page.</summary>
public class RelayMeterTests
{
    [Fact]
    public async Task Messages_repeats_and_refusals_are_counted_and_told_as_open_metrics()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        foreach (
            var payload in new[]
            {
                """[{"n":"temp","v":1},{"n":"light","v":2},{"n":"sys/boot","v":1},{"n":"sys/seq","v":1}]""",
                """[{"n":"temp","v":1},{"n":"light","v":2},{"n":"sys/boot","v":1},{"n":"sys/seq","v":1}]""",
                "nonsense",
            }
        )
        {
            await RunningServer.PublishAsync(node, "hall", payload);
        }
        using var collector = new HttpClient { BaseAddress = server.Started.Web };
        var answer = await collector.GetAsync("/metrics");
        Assert.Equal("application/openmetrics-text; version=1.0.0; charset=utf-8", answer.Content.Headers.ContentType!.ToString());
        var text = await answer.Content.ReadAsStringAsync();
        // OpenMetrics 1.0: lines end with a line feed, a family's metadata come before its samples, counters end in _total, and the text ends with # EOF.
        Assert.EndsWith("\n# EOF\n", text);
        Assert.DoesNotContain('\r', text);
        var family = "";
        foreach (var line in text.Split('\n', StringSplitOptions.RemoveEmptyEntries).SkipLast(1))
        {
            if (line.StartsWith("# ", StringComparison.Ordinal))
            {
                Assert.Matches("^# (TYPE|UNIT|HELP) [a-z_]+ .+$", line);
                family = line.Split(' ')[2];
                continue;
            }
            Assert.Matches(@"^[a-z_]+ [0-9.eE+-]+$", line);
            Assert.StartsWith(family, line);
        }
        double Of(string name) =>
            double.Parse(
                text.Split('\n').Single(l => l.StartsWith(name + " ", StringComparison.Ordinal)).Split(' ')[1],
                System.Globalization.CultureInfo.InvariantCulture
            );
        Assert.Equal(
            (2, 2, 1, 1, 1),
            (Of("cenotic_messages_total"), Of("cenotic_samples_total"), Of("cenotic_repeats_total"), Of("cenotic_refusals_total"), Of("cenotic_storing"))
        );
        Assert.True(Of("cenotic_commit_seconds_count") >= 2);
        var state = await (await server.ClientAsync("viewer")).GetFromJsonAsync<RelayState>("/api/sites/home/relay", CenoticJson.Options);
        Assert.Equal((2L, 1L, null), (state!.Samples, state.Repeats, state.Failing));
        Assert.True(state.MessagesPerSecond > 0);
    }

    [Fact]
    public async Task What_cannot_be_stored_shows_in_the_health_until_it_can()
    {
        await using var server = await RunningServer.StartAsync();
        using var client = new HttpClient { BaseAddress = server.Started.Web };
        using var node = await server.NodeAsync("hall");
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/health")).StatusCode);
        // A table that is not there: every commit fails in SQLite itself, whatever is in the message.
        await server.QueryAsync(s => s.Database.ExecuteSqlAsync($"ALTER TABLE refusals RENAME TO elsewhere"));
        await Assert.ThrowsAnyAsync<Exception>(() => RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":1}]"""));
        var ill = await client.GetAsync("/health");
        Assert.Equal(HttpStatusCode.ServiceUnavailable, ill.StatusCode);
        Assert.Contains("no such table", (await ill.Content.ReadFromJsonAsync<Health>(CenoticJson.Options))!.Reason);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM arrivals"));
        await server.QueryAsync(s => s.Database.ExecuteSqlAsync($"ALTER TABLE elsewhere RENAME TO refusals"));
        using var again = await server.NodeAsync("hall");
        Assert.True((await RunningServer.PublishAsync(again, "hall", """[{"n":"temp","v":1}]""")).IsSuccess);
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/health")).StatusCode);
    }
}
