using System.Net;
using System.Net.Http.Json;
using System.Text.RegularExpressions;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Accounts;
using Cenotic.Server.Live;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Watch;

public class ShareTests
{
    private const string Home = "/api/sites/home";

    private static async Task<MadeShare> MakeAsync(HttpClient owner, string view = "house", int? days = 7)
    {
        var answer = await owner.PostAsync($"{Home}/shares", RunningServer.Body(new ShareRequest(view, "Neighbour", days)));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return (await answer.Content.ReadFromJsonAsync<MadeShare>(CenoticJson.Options))!;
    }

    private static Task<HttpResponseMessage> OpenAsync(HttpClient client, MadeShare link) =>
        client.PostAsync("/api/shared", RunningServer.Body(new ShareToken(link.Path.Split('#')[1])));

    private static string CookieOf(HttpResponseMessage answer) => string.Join("; ", answer.Headers.GetValues("Set-Cookie").Select(c => c.Split(';')[0]));

    [Fact]
    public async Task A_link_opens_its_view_and_nothing_else()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var link = await MakeAsync(owner);
        var guest = await server.ClientAsync();
        Assert.Equal(HttpStatusCode.Unauthorized, (await guest.GetAsync("/api/shared/view")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await guest.PostAsync("/api/shared", RunningServer.Body(new ShareToken("0123456789")))).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await OpenAsync(guest, link)).StatusCode);
        var view = (await guest.GetFromJsonAsync<SharedView>("/api/shared/view", CenoticJson.Options))!;
        Assert.Equal(("Fernhollow", "House"), (view.SiteName, view.View.Label));
        // What could switch or arm is left out.
        Assert.DoesNotContain(view.View.Tiles, t => t.Content is ZoneTile or OutputTile);
        Assert.NotEmpty(view.Rooms);
        var now = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();
        var data = (await guest.GetFromJsonAsync<ViewData>($"/api/shared/data?from={now - 3_600_000}&to={now}", CenoticJson.Options))!;
        Assert.Equal(view.View.Tiles.Select(t => t.Key), data.Tiles.Select(t => t.Key));
        // All other routes of the program, by every method they take.
        var tried = 0;
        foreach (
            var endpoint in server
                .Services.GetRequiredService<EndpointDataSource>()
                .Endpoints.OfType<RouteEndpoint>()
                .Where(e =>
                    e.Metadata.GetMetadata<IAllowAnonymous>() is null
                    && !e.RoutePattern.RawText!.StartsWith("/api/shared", StringComparison.Ordinal)
                    && !e.RoutePattern.RawText.StartsWith("/live", StringComparison.Ordinal)
                )
        )
        {
            foreach (var method in endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? ["GET"])
            {
                var path = Regex.Replace(endpoint.RoutePattern.RawText!, @"\{site\}", "home");
                path = Regex.Replace(path, @"\{[^}]+\}", "1");
                var answer = await guest.SendAsync(new(new HttpMethod(method), path) { Content = method == "GET" ? null : RunningServer.Body(new { }) });
                Assert.True(answer.StatusCode == HttpStatusCode.Unauthorized, $"{method} {path} answered {answer.StatusCode}");
                tried++;
            }
        }
        Assert.True(tried > 60, $"only {tried} were tried");
        var listed = (await owner.GetFromJsonAsync<List<ShareLinkView>>($"{Home}/shares", CenoticJson.Options))!.Single();
        Assert.Equal((1, true, "owner"), (listed.Uses, listed.Holds, listed.MadeBy));
        Assert.DoesNotContain(link.Path.Split('#')[1], await server.QueryAsync(async s => (await s.ShareLinks.AsNoTracking().SingleAsync()).Hash));
    }

    /// <summary>What could arm is left out of a link, and so is that a zone sounds; who lives there sees it at the sensor.</summary>
    [Fact]
    public async Task A_guest_is_not_told_of_an_alarm_by_the_readings_of_a_view()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var design = server.Book.Find("home")!.Design;
        var (view, zone) = design
            .Views.SelectMany(v => design.Zones.Select(z => (View: v, Zone: z)))
            .First(p => p.Zone.Sensors.Any(s => p.View.Tiles.SelectMany(t => t.Content.Readings).Contains(new(s.Node, s.Reading))));
        var now = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(store =>
            {
                store.Episodes.Add(
                    new()
                    {
                        Site = "home",
                        Rule = "zone:" + zone.Key,
                        Label = zone.Label,
                        RaisedMs = now - 60_000,
                    }
                );
                return Task.CompletedTask;
            });
        var stretch = $"from={now - 3_600_000}&to={now}";
        var seen = (await owner.GetFromJsonAsync<ViewData>($"{Home}/views/{view.Key}/data?{stretch}", CenoticJson.Options))!;
        Assert.Contains(seen.Readings, r => r.Open.Any(e => e.Label == zone.Label));
        var guest = await server.ClientAsync();
        Assert.Equal(HttpStatusCode.NoContent, (await OpenAsync(guest, await MakeAsync(owner, view.Key))).StatusCode);
        var shown = (await guest.GetFromJsonAsync<ViewData>($"/api/shared/data?{stretch}", CenoticJson.Options))!;
        Assert.NotEmpty(shown.Readings);
        Assert.All(shown.Readings, r => Assert.Empty(r.Open));
    }

    [Fact]
    public async Task Revoking_ends_the_link_and_its_live_connections_and_only_its_readings_are_heard()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var link = await MakeAsync(owner);
        var guest = await server.ClientAsync();
        var cookie = CookieOf(await OpenAsync(guest, link));
        await using var hub = server.Live(cookie);
        var heard = new List<string>();
        hub.On<string, List<LiveSample>>("samples", (_, samples) => heard.AddRange(samples.Select(s => $"{s.Node}/{s.Key}")));
        hub.On<string, long>("revision", (_, _) => heard.Add("revision"));
        await RunningServer.JoinAsync(hub);
        using var hall = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(hall, "hall", """[{"n":"light","v":7},{"n":"temp","v":20.5}]""");
        await RunningServer.UntilAsync(() => Task.FromResult(heard.Count > 0), "a sample came");
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new RemoveRule("drying-damp")], "test");
        // What is told comes in order: with the second value all before it has come.
        await RunningServer.PublishAsync(hall, "hall", """[{"n":"light","v":8},{"n":"temp","v":21.5}]""");
        await RunningServer.UntilAsync(() => Task.FromResult(heard.Count(h => h == "hall/temp") == 2), "the second value came");
        Assert.Equal(["hall/temp", "hall/temp"], heard);
        Assert.Equal(HttpStatusCode.NoContent, (await owner.DeleteAsync($"{Home}/shares/{link.Id}")).StatusCode);
        await RunningServer.EndedAsync(hub);
        Assert.Equal(HttpStatusCode.Unauthorized, (await guest.GetAsync("/api/shared/view")).StatusCode);
        await Assert.ThrowsAnyAsync<Exception>(() => server.Live(cookie).StartAsync());
        Assert.Equal(HttpStatusCode.Unauthorized, (await OpenAsync(await server.ClientAsync(), link)).StatusCode);
    }

    [Fact]
    public async Task A_link_that_ran_out_ends_its_live_connections_within_seconds()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var link = await MakeAsync(owner);
        var guest = await server.ClientAsync();
        await using var hub = server.Live(CookieOf(await OpenAsync(guest, link)));
        await RunningServer.JoinAsync(hub);
        // As if its days were over now.
        await server.Services.GetRequiredService<WriteGate>().WriteAsync(s => s.Database.ExecuteSqlAsync($"UPDATE share_links SET ExpiresMs = 1"));
        await RunningServer.EndedAsync(hub);
        Assert.Equal(HttpStatusCode.Unauthorized, (await guest.GetAsync("/api/shared/view")).StatusCode);
    }

    [Fact]
    public async Task A_link_wants_a_view_and_a_name_and_viewers_make_and_see_none()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        foreach (
            var bad in new[]
            {
                new ShareRequest("nothing", "Me"),
                new ShareRequest("house", " "),
                new ShareRequest("house", "Me", 0),
                new ShareRequest("house", "Me\r\n"),
            }
        )
        {
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.PostAsync($"{Home}/shares", RunningServer.Body(bad))).StatusCode);
        }
        var viewer = await server.ClientAsync("viewer");
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.GetAsync($"{Home}/shares")).StatusCode);
        // A view that is removed is shown to nobody any more.
        var link = await MakeAsync(owner);
        var guest = await server.ClientAsync();
        await OpenAsync(guest, link);
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new RemoveView("house")], "test");
        Assert.Equal(HttpStatusCode.NotFound, (await guest.GetAsync("/api/shared/view")).StatusCode);
    }

    [Fact]
    public async Task An_owner_keeps_the_members_and_a_role_that_ends_ends_its_live_connections()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        async Task<List<MemberView>> MembersAsync() => (await owner.GetFromJsonAsync<List<MemberView>>($"{Home}/members", CenoticJson.Options))!;
        Task<HttpResponseMessage> PutAsync(MemberRequest request) => owner.PutAsync($"{Home}/members", RunningServer.Body(request));
        Assert.Equal([("owner", Role.Owner, true), ("viewer", Role.Viewer, false)], (await MembersAsync()).Select(m => (m.Name, m.Role, m.You)));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await PutAsync(new("friend", Role.Maker))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await PutAsync(new("friend", Role.Maker, "short"))).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await PutAsync(new("friend", Role.Maker, RunningServer.Password))).StatusCode);
        var friend = await server.ClientAsync("friend");
        Assert.Equal(HttpStatusCode.OK, (await friend.GetAsync($"{Home}/shares")).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await friend.GetAsync($"{Home}/members")).StatusCode);
        // The last owner stays.
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await PutAsync(new("owner", Role.Viewer))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.DeleteAsync($"{Home}/members/owner")).StatusCode);
        var signIn = await new HttpClient { BaseAddress = server.Started.Web }.PostAsync(
            "/api/session",
            RunningServer.Body(new SignIn("friend", RunningServer.Password))
        );
        await using var hub = server.Live(CookieOf(signIn));
        await RunningServer.JoinAsync(hub);
        Assert.Equal(HttpStatusCode.NoContent, (await owner.DeleteAsync($"{Home}/members/friend")).StatusCode);
        await RunningServer.EndedAsync(hub);
        Assert.Equal(HttpStatusCode.NotFound, (await friend.GetAsync($"{Home}/shares")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.DeleteAsync($"{Home}/members/friend")).StatusCode);
    }
}
