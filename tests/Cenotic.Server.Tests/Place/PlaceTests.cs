using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Place;
using Cenotic.Server.Sites;

namespace Cenotic.Server.Tests.Place;

/// <summary>What sensors see, and where they should hang, over the wire.</summary>
public class PlaceTests
{
    [Fact]
    public async Task Where_a_sensor_should_hang_is_told_and_who_watches_nothing_is_refused()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var plan = await client.GetFromJsonAsync<PlanView>("/api/sites/home/plan?workings=true", CenoticJson.Options);
        var hall = plan!.Plan.Place.Coverage.Rooms.Single();
        Assert.Equal("hall", hall.Room);
        var choices = await client.GetFromJsonAsync<List<SpotChoice>>("/api/sites/home/place/best-spots?node=hall", CenoticJson.Options);
        Assert.Equal(3, choices!.Count);
        Assert.All(choices, c => Assert.True(c.SharePercent > hall.Share.Value));
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/place/best-spots?node=rain")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/place/best-spots?node=nobody")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await client.GetAsync("/api/sites/home/place/best-spots")).StatusCode);
    }
}
