using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Accounts;
using Cenotic.Server.Commands;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Sites;

public class AccessTests
{
    /// <summary>Every route that answers without signing in. A new one must be put here on purpose.</summary>
    private static readonly string[] Open =
    [
        "GET /api/session",
        "POST /api/session",
        "POST /api/first-start",
        "GET /health",
        "GET /metrics",
        "GET /mqtt",
        "GET /mqtt/negotiate",
        "POST /api/intake/{site}/{node}/",
        "POST /api/intake/{site}/{node}/{reading}",
        "POST /api/stand-ins/texts",
        "GET /api/due/{token}.ics",
        "POST /api/shared",
        "GET /openapi/{documentName}.json",
        "GET {*path:nonfile:regex(^(?!api(/|$)).*$)}",
        "HEAD {*path:nonfile:regex(^(?!api(/|$)).*$)}",
    ];

    private static IEnumerable<(RouteEndpoint Endpoint, string Method)> Routes(RunningServer server) =>
        server
            .Services.GetRequiredService<EndpointDataSource>()
            .Endpoints.OfType<RouteEndpoint>()
            .SelectMany(e => (e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? ["GET"]).Select(m => (e, m)));

    [Fact]
    public async Task Only_the_listed_routes_are_open_and_all_others_refuse_who_is_not_signed_in()
    {
        await using var server = await RunningServer.StartAsync(demo: true);
        var routes = Routes(server).ToList();
        Assert.Equal(
            Open.Order(),
            routes
                .Where(r => r.Endpoint.Metadata.GetMetadata<IAllowAnonymous>() is not null)
                .Select(r => $"{r.Method} {r.Endpoint.RoutePattern.RawText}")
                .Distinct()
                .Order()
        );
        var client = await server.ClientAsync();
        var tried = 0;
        foreach (var (endpoint, method) in routes.Where(r => r.Endpoint.Metadata.GetMetadata<IAllowAnonymous>() is null))
        {
            var path = System.Text.RegularExpressions.Regex.Replace(endpoint.RoutePattern.RawText!, @"\{[^}]+\}", "1");
            var answer = await client.SendAsync(new(new HttpMethod(method), path) { Content = method == "GET" ? null : RunningServer.Body(new { }) });
            Assert.True(answer.StatusCode == HttpStatusCode.Unauthorized, $"{method} {path} answered {answer.StatusCode}");
            tried++;
        }
        Assert.True(tried >= 18, $"only {tried} routes were tried");
    }

    [Fact]
    public async Task A_viewer_reads_and_nothing_that_writes_lets_them_in()
    {
        await using var server = await RunningServer.StartAsync();
        var viewer = await server.ClientAsync("viewer");
        foreach (
            var path in new[]
            {
                "",
                "/plan",
                "/readings",
                "/episodes",
                "/nodes/hall/messages",
                "/revisions",
                "/export",
                "/catalogue",
                "/nodes/hall/boards",
                "/nodes/hall/parts-list",
                "/nodes/hall/wishes?quantity=motion",
                "/nodes/hall/exports/wiring.csv",
                "/hardware/part/bme280",
                "/lines",
                "/outputs",
                "/samples/csv?from=1&to=2",
                "/zones",
                "/notices",
                "/views/first",
                "/log",
                "/log/md",
                "/maintenance",
                "/maintenance.ics",
                "/nodes/hall/build",
                "/nodes/hall/walk",
                "/nodes/hall/warming",
                "/nodes/hall/label",
                "/nodes/hall/first-readings",
                "/nodes/hall/program",
                "/nodes/hall/calibrations",
                "/nodes/hall/readings/temp/steadiness",
            }
        )
        {
            Assert.Equal(HttpStatusCode.OK, (await viewer.GetAsync($"/api/sites/home{path}")).StatusCode);
        }
        foreach (
            var (endpoint, method) in Routes(server)
                .Where(r => r.Method is not ("GET" or "HEAD") && r.Endpoint.RoutePattern.RawText!.StartsWith("/api/sites/{site}", StringComparison.Ordinal))
        )
        {
            var path = endpoint
                .RoutePattern.RawText!.Replace("{site}", "home")
                .Replace("{node}", "hall")
                .Replace("{id:long}", "1")
                .Replace("{output}", "light")
                .Replace("{zone}", "house")
                .Replace("{person}", "ann")
                .Replace("{name}", "viewer");
            object body =
                path.EndsWith("edits", StringComparison.Ordinal) ? new EditRequest(1, [new RemoveNode("hall")])
                : path.EndsWith("begin", StringComparison.Ordinal) ? new CsvLayout(',', false, true, 0, CsvTime.Iso8601, "Etc/UTC", [])
                : path.EndsWith("scans", StringComparison.Ordinal) ? new { text = "0x23" }
                : path.Contains("/calibrations", StringComparison.Ordinal)
                    ? new
                    {
                        reading = "temp",
                        kind = "offset",
                        points = Array.Empty<object>(),
                        referenceError = 0,
                    }
                : path.Contains("/outputs/", StringComparison.Ordinal) ? new SwitchRequest(true, null)
                : path.EndsWith("try", StringComparison.Ordinal) ? new FrameTrial(new(FrameKind.ValuePerLine, []), "1", true)
                : path.EndsWith("check", StringComparison.Ordinal) || path.EndsWith("place/read", StringComparison.Ordinal) ? new { json = "{}" }
                : path.EndsWith("currents", StringComparison.Ordinal)
                    ? new
                    {
                        state = "asleep",
                        milliamps = 1,
                        how = "x",
                    }
                : new { };
            Assert.Equal(
                HttpStatusCode.Forbidden,
                (await viewer.SendAsync(new(new HttpMethod(method), path) { Content = RunningServer.Body(body) })).StatusCode
            );
        }
        Assert.NotNull(server.Book.Find("home")!.Design.Node("hall"));
    }

    [Fact]
    public async Task A_viewer_whom_an_owner_lets_acknowledges_and_arms_and_does_nothing_else()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, viewer) = (await server.ClientAsync("owner"), await server.ClientAsync("viewer"));
        Assert.False((await viewer.GetFromJsonAsync<SiteView>("/api/sites/home", CenoticJson.Options))!.MayAct);
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.PutAsync("/api/sites/home/members", RunningServer.Body(new MemberRequest("viewer", Role.Viewer, null, MayAct: true)))).StatusCode
        );
        Assert.True((await viewer.GetFromJsonAsync<SiteView>("/api/sites/home", CenoticJson.Options))!.MayAct);
        Assert.Contains((await owner.GetFromJsonAsync<List<MemberView>>("/api/sites/home/members", CenoticJson.Options))!, m =>
            m is { Name: "viewer", MayAct: true }
        );
        Assert.Equal(HttpStatusCode.OK, (await viewer.PostAsync("/api/sites/home/zones/house/arm", RunningServer.Body(new { mode = "armed" }))).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await viewer.PostAsync("/api/sites/home/episodes/999/acknowledge", RunningServer.Body(new { }))).StatusCode);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await viewer.PostAsync("/api/sites/home/edits", RunningServer.Body(new EditRequest(1, [new RemoveNode("hall")])))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await viewer.PostAsync("/api/sites/home/outputs/drying/fan", RunningServer.Body(new SwitchRequest(true, null)))).StatusCode
        );
        await owner.PutAsync("/api/sites/home/members", RunningServer.Body(new MemberRequest("viewer")));
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await viewer.PostAsync("/api/sites/home/zones/house/arm", RunningServer.Body(new { mode = "off" }))).StatusCode
        );
    }

    [Fact]
    public async Task An_owner_adds_a_site_of_their_own_and_a_viewer_does_not()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, viewer) = (await server.ClientAsync("owner"), await server.ClientAsync("viewer"));
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.PostAsync("/api/sites", RunningServer.Body(new NewSite("Shed")))).StatusCode);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await owner.PostAsync("/api/sites", RunningServer.Body(new NewSite("Shed", "Nowhere/Land")))).StatusCode
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.PostAsync("/api/sites", RunningServer.Body(new NewSite(" ")))).StatusCode);
        foreach (var key in new[] { "garden-shed", "garden-shed-2", "site" })
        {
            var made = await (
                await owner.PostAsync("/api/sites", RunningServer.Body(new NewSite(key == "site" ? "42 Ümlaut" : "Garden shed", "Europe/London")))
            ).Content.ReadFromJsonAsync<SiteOfAccount>(CenoticJson.Options);
            Assert.Equal((key, Role.Owner), (made!.Key, made.Role));
        }
        Assert.Equal(4, (await owner.GetFromJsonAsync<SessionView>("/api/session", CenoticJson.Options))!.Sites.Count);
        Assert.Equal(HttpStatusCode.NotFound, (await viewer.GetAsync("/api/sites/garden-shed")).StatusCode);
        Assert.Empty((await owner.GetFromJsonAsync<SiteView>("/api/sites/garden-shed", CenoticJson.Options))!.Design.Nodes);
    }

    [Fact]
    public async Task A_site_one_is_no_member_of_does_not_exist()
    {
        await using var server = await RunningServer.StartAsync();
        var stranger = await server.ClientAsync("stranger");
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.GetAsync("/api/sites/home")).StatusCode);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await stranger.PostAsync("/api/sites/home/edits", RunningServer.Body(new EditRequest(1, [new RemoveNode("hall")])))).StatusCode
        );
        Assert.Empty((await stranger.GetFromJsonAsync<SessionView>("/api/session", CenoticJson.Options))!.Sites);
    }

    [Fact]
    public async Task A_write_without_the_token_is_refused()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner", withToken: false);
        var request = new EditRequest(1, [new RemoveNode("hall")]);
        Assert.Equal(HttpStatusCode.BadRequest, (await client.PostAsync("/api/sites/home/edits", RunningServer.Body(request))).StatusCode);
        // Somebody else's token does not help.
        var other = await server.ClientAsync("viewer");
        client.DefaultRequestHeaders.Add(AntiforgeryCheck.Header, other.DefaultRequestHeaders.GetValues(AntiforgeryCheck.Header));
        Assert.Equal(HttpStatusCode.BadRequest, (await client.PostAsync("/api/sites/home/edits", RunningServer.Body(request))).StatusCode);
        Assert.Equal(1, server.Book.Find("home")!.Revision);
    }

    [Fact]
    public async Task Signing_in_needs_the_password_and_out_ends_it()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync();
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.PostAsync("/api/session", RunningServer.Body(new SignIn("owner", "wrong-horse")))).StatusCode);
        var owner = await server.ClientAsync("owner");
        Assert.Equal(HttpStatusCode.NoContent, (await owner.DeleteAsync("/api/session")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await owner.GetAsync("/api/sites/home")).StatusCode);
    }

    [Fact]
    public async Task The_first_start_takes_the_code_on_the_console_once()
    {
        await using var server = await RunningServer.StartAsync(empty: true);
        var client = await server.ClientAsync();
        Assert.True((await client.GetFromJsonAsync<SessionView>("/api/session", CenoticJson.Options))!.FirstStart);
        var code = server.Services.GetRequiredService<FirstStartCode>().Text;
        Assert.Contains(server.Started.Lines, l => l.Contains(code));
        FirstStart With(string c, string password = "long-enough-1") => new(c, "me", password, "My place", "Europe/London");
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.PostAsync("/api/first-start", RunningServer.Body(With("WRONG")))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsync("/api/first-start", RunningServer.Body(With(code, "short")))).StatusCode);
        // Each fault says which field it is about.
        foreach (
            var (wrong, field) in new[]
            {
                (With("WRONG"), "code"),
                (With(code, "short"), "password"),
                (With(code) with { TimeZone = "Mars/Base" }, "timeZone"),
                (With(code) with { SiteName = "" }, "siteName"),
                (With(code) with { Name = "a b/c" }, "name"),
            }
        )
        {
            var problem = await (
                await client.PostAsync("/api/first-start", RunningServer.Body(wrong))
            ).Content.ReadFromJsonAsync<System.Text.Json.JsonElement>();
            Assert.Equal(field, problem.GetProperty("field").GetString());
        }
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync("/api/first-start", RunningServer.Body(With(code.ToLowerInvariant())))).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.PostAsync("/api/first-start", RunningServer.Body(With(code)))).StatusCode);
        Assert.Equal("My place", (await client.GetFromJsonAsync<SiteView>("/api/sites/home", CenoticJson.Options))!.Design.Settings.Name);
    }

    [Fact]
    public async Task The_live_hub_wants_a_member_and_tells_nobody_else()
    {
        await using var server = await RunningServer.StartAsync();
        await Assert.ThrowsAnyAsync<Exception>(() => server.Live("").StartAsync());
        await using var viewer = server.Live(await CookieAsync(server, "viewer"));
        await using var stranger = server.Live(await CookieAsync(server, "stranger"));
        var (heard, overheard) = (0, 0);
        viewer.On<string, object>("samples", (_, _) => heard++);
        stranger.On<string, object>("samples", (_, _) => overheard++);
        await RunningServer.JoinAsync(viewer);
        await RunningServer.JoinAsync(stranger);
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":20}]""");
        await RunningServer.UntilAsync(() => Task.FromResult(heard > 0), "the viewer hears the sample");
        Assert.Equal(0, overheard);
    }

    [Fact]
    public async Task Pages_say_what_they_may_load_and_a_foreign_host_is_refused()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync();
        Assert.Contains("default-src 'self'", (await client.GetAsync("/health")).Headers.GetValues("Content-Security-Policy").Single());
        var request = new HttpRequestMessage(HttpMethod.Get, "/health");
        request.Headers.Host = "evil.example";
        Assert.Equal(HttpStatusCode.BadRequest, (await client.SendAsync(request)).StatusCode);
    }

    private static async Task<string> CookieAsync(RunningServer server, string name)
    {
        using var client = new HttpClient(new HttpClientHandler { UseCookies = false }) { BaseAddress = server.Started.Web };
        var answer = await client.PostAsJsonAsync("/api/session", new SignIn(name, RunningServer.Password), CenoticJson.Options);
        return answer.Headers.GetValues("Set-Cookie").First().Split(';')[0];
    }
}
