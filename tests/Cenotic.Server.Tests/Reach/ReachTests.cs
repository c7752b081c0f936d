using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Reach;
using Cenotic.Server.Reach;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Reach;

/// <summary>Maps of what a receiver hears, over the wire.</summary>
public class ReachTests
{
    [Fact]
    public async Task A_map_is_as_fine_as_asked_and_names_what_it_cannot_draw()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var map = await client.GetFromJsonAsync<HeatMap>("/api/sites/home/reach/map?receiver=access-point&cells=40", CenoticJson.Options);
        Assert.Equal((40, map!.Columns * map.Rows), (Math.Max(map.Columns, map.Rows), map.Margins.Count));
        Assert.True(map.Margins.Max() > map.Margins.Min());
        foreach (
            var (query, status) in new[]
            {
                ("receiver=access-point&cells=9", HttpStatusCode.BadRequest),
                ("receiver=access-point&cells=1000", HttpStatusCode.BadRequest),
                ("receiver=nobody", HttpStatusCode.NotFound),
                ("cells=40", HttpStatusCode.BadRequest),
            }
        )
        {
            Assert.Equal(status, (await client.GetAsync($"/api/sites/home/reach/map?{query}")).StatusCode);
        }
    }

    [Fact]
    public async Task Choices_of_a_link_are_told_to_whoever_may_read()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var choices = await client.GetFromJsonAsync<LinkComparison>("/api/sites/home/reach/choices?node=cistern", CenoticJson.Options);
        Assert.Equal("868.1 MHz, SF9 at 125 kHz to Gateway", choices!.Radios[0].Label);
        Assert.Equal("Wi-Fi to Access point", choices.Radios[1].Label);
        Assert.True(choices.Radios[1].Life!.Value < choices.Radios[0].Life!.Value, "Wi-Fi takes more of its cells");
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/reach/choices?node=nobody")).StatusCode);
    }

    /// <summary>Of the last seven days four of five messages came, two starts together; what is older, and what was imported, does not count.</summary>
    [Fact]
    public async Task How_links_did_in_the_last_week_is_given_to_the_plan()
    {
        await using var server = await RunningServer.StartAsync();
        var (counts, book, clock) = (
            server.Services.GetRequiredService<LinkCounts>(),
            server.Services.GetRequiredService<SiteBook>(),
            server.Services.GetRequiredService<SiteClock>()
        );
        Assert.False(await counts.CountAsync("home"));
        var now = clock.Now("home");
        ArrivalRow Came(long boot, long number, long agoMs, long? import = null) =>
            new()
            {
                Site = "home",
                Node = "kiln",
                Boot = boot,
                Number = number,
                ReceivedMs = now - agoMs,
                Rssi = -90 - number % 5,
                Import = import,
            };
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(async store =>
            {
                store.Arrivals.AddRange(Enumerable.Range(0, 101).Where(n => n % 5 != 4).Select(n => Came(1, n, 600_000)));
                store.Arrivals.AddRange(Enumerable.Range(0, 101).Where(n => n % 5 != 4).Select(n => Came(2, n, 300_000)));
                store.Arrivals.AddRange(Enumerable.Range(0, 500).Select(n => Came(3, n, 8 * 86_400_000L)));
                store.Arrivals.AddRange(Enumerable.Range(0, 500).Select(n => Came(4, n, 300_000, import: 1)));
                await store.SaveChangesAsync();
            });
        Assert.True(await counts.CountAsync("home"));
        var link = book.Find("home")!.Evidence.Link("kiln")!;
        Assert.Equal((162, 202, -91.0), (link.Heard, link.Sent, link.MedianDbm));
        var client = await server.ClientAsync("viewer");
        var plan = await client.GetFromJsonAsync<PlanView>("/api/sites/home/plan?workings=true", CenoticJson.Options);
        Assert.Contains(plan!.Plan.Findings, f => f.Code == "REACH-HEARD-LESS" && f.Subject.Node == "kiln");
        // Nothing new, nothing told; and it stays when something else is written.
        Assert.False(await counts.CountAsync("home"));
        await book.MeasureAsync("home", new("kiln", Core.Design.PowerState.Asleep, 0.1, "meter", now));
        Assert.Equal(link, book.Find("home")!.Evidence.Link("kiln"));
    }
}
