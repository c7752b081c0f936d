using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Place;
using Cenotic.Server.Place;
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

    /// <summary>A picture is known by its first bytes; of many the oldest goes that lies under no floor.</summary>
    [Fact]
    public async Task A_paper_plan_is_kept_shown_and_makes_room_for_others()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, viewer, stranger) = (await server.ClientAsync("owner"), await server.ClientAsync("viewer"), await server.ClientAsync("stranger"));
        const string Home = "/api/sites/home/place/pictures";
        byte[] Jpeg(byte last) => [0xFF, 0xD8, 0xFF, 0xE0, last];
        async Task<long> KeepAsync(byte last) =>
            (await (await owner.PostAsync(Home, new ByteArrayContent(Jpeg(last)))).Content.ReadFromJsonAsync<PlanPictureKept>(CenoticJson.Options))!.Id;

        var first = await KeepAsync(0);
        var answer = await viewer.GetAsync($"{Home}/{first}");
        Assert.Equal("image/jpeg", answer.Content.Headers.ContentType!.MediaType);
        Assert.Equal(Jpeg(0), await answer.Content.ReadAsByteArrayAsync());
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.GetAsync($"{Home}/{first}")).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.PostAsync(Home, new ByteArrayContent(Jpeg(0)))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.PostAsync(Home, new ByteArrayContent("<svg/>"u8.ToArray()))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.PostAsync(Home, new ByteArrayContent(new byte[1 << 21]))).StatusCode);
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new PutScan(new(null, first, 100, 80, 0, 0, 0.05))], "owner");
        var second = await KeepAsync(1);
        for (byte i = 2; i < 41; i++)
        {
            await KeepAsync(i);
        }
        Assert.Equal(HttpStatusCode.OK, (await viewer.GetAsync($"{Home}/{first}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await viewer.GetAsync($"{Home}/{second}")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await viewer.GetAsync($"{Home}/{second + 1}")).StatusCode);
    }

    [Fact]
    public async Task The_plan_goes_out_as_files_and_a_file_comes_in_as_edits()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, viewer) = (await server.ClientAsync("owner"), await server.ClientAsync("viewer"));
        const string Home = "/api/sites/home/place";
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await viewer.GetAsync($"{Home}/plan.geojson")).StatusCode);
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new SetAnchor(new(50, 8))], "owner");
        var answer = await viewer.GetAsync($"{Home}/plan.geojson");
        Assert.Equal("application/geo+json", answer.Content.Headers.ContentType!.MediaType);
        var json = await answer.Content.ReadAsStringAsync();
        var drawing = await viewer.GetAsync($"{Home}/plan.svg");
        Assert.Equal("image/svg+xml", drawing.Content.Headers.ContentType!.MediaType);
        var place = server.Book.Find("home")!.Design.Place;
        var text = await drawing.Content.ReadAsStringAsync();
        Assert.All(place.Rooms.Where(r => r.Floor is null), r => Assert.Contains(r.Label, text));
        var upstairs = await viewer.GetStringAsync($"{Home}/plan.svg?floor=upstairs");
        Assert.All(place.Rooms, r => Assert.Equal(r.Floor is not null, upstairs.Contains($">{r.Label}<", StringComparison.Ordinal)));
        // A viewer brings nothing; a maker is told what it would be, and what is wrong.
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.PostAsync($"{Home}/read", RunningServer.Body(new PlaceFile(json)))).StatusCode);
        var read = await (await owner.PostAsync($"{Home}/read", RunningServer.Body(new PlaceFile(json)))).Content.ReadFromJsonAsync<PlaceImport>(
            CenoticJson.Options
        );
        Assert.Equal(
            (place.Rooms.Count, place.Walls.Count, place.Spots.Count, place.HeatSources.Count),
            (read!.Rooms, read.Walls, read.Spots, read.HeatSources)
        );
        Assert.Equal(read.Rooms + read.Walls + read.Spots + read.HeatSources, read.Edits.Count);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.PostAsync($"{Home}/read", RunningServer.Body(new PlaceFile("{}")))).StatusCode);
    }
}
