using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Accounts;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Ingest;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Accounts;

/// <summary>Passwords are changed, given anew and guessed at; sign-ins end with them.</summary>
public class PasswordTests
{
    private const string New = "three brave otters",
        Other = "seven quiet herons";

    private static Task<HttpResponseMessage> SignInAsync(HttpClient client, string name, string password) =>
        client.PostAsync("/api/session", RunningServer.Body(new SignIn(name, password)));

    private static async Task<string> SaysAsync(HttpResponseMessage answer) => await answer.Content.ReadAsStringAsync();

    /// <summary>A live connection with a copy of a cookie, and a copy of the cookie in another browser.</summary>
    private static async Task<(HubConnection Live, HttpClient Copy)> CopyAsync(RunningServer server, string name)
    {
        var copy = new HttpClient(new HttpClientHandler { UseCookies = false }) { BaseAddress = server.Started.Web };
        var cookie = (await SignInAsync(copy, name, RunningServer.Password)).Headers.GetValues("Set-Cookie").First().Split(';')[0];
        copy.DefaultRequestHeaders.Add("Cookie", cookie);
        var live = server.Live(cookie);
        await RunningServer.JoinAsync(live);
        Assert.Equal(HttpStatusCode.OK, (await copy.GetAsync("/api/sites/home")).StatusCode);
        return (live, copy);
    }

    private static async Task EndedAsync(HubConnection live, HttpClient copy)
    {
        // The copied cookie is of no use with the very next request.
        Assert.Equal(HttpStatusCode.Unauthorized, (await copy.GetAsync("/api/sites/home")).StatusCode);
        await RunningServer.EndedAsync(live);
        await live.DisposeAsync();
        copy.Dispose();
    }

    [Fact]
    public async Task Changing_ones_password_ends_every_other_sign_in()
    {
        await using var server = await RunningServer.StartAsync();
        var (live, copy) = await CopyAsync(server, "viewer");
        var viewer = await server.ClientAsync("viewer");
        async Task<HttpResponseMessage> ChangeAsync(string current, string next) =>
            await viewer.PutAsync("/api/session/password", RunningServer.Body(new PasswordChange(current, next)));
        Assert.Contains("another one", await SaysAsync(await ChangeAsync("wrong-horse-1", New)));
        Assert.Contains("at least 10", await SaysAsync(await ChangeAsync(RunningServer.Password, "short")));
        Assert.Equal(HttpStatusCode.OK, (await copy.GetAsync("/api/sites/home")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await ChangeAsync(RunningServer.Password, New)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await viewer.GetAsync("/api/sites/home")).StatusCode);
        await EndedAsync(live, copy);
        Assert.Equal(HttpStatusCode.Unauthorized, (await SignInAsync(await server.ClientAsync(), "viewer", RunningServer.Password)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(await server.ClientAsync(), "viewer", New)).StatusCode);
    }

    [Fact]
    public async Task Signing_out_everywhere_ends_them_all()
    {
        await using var server = await RunningServer.StartAsync();
        var (live, copy) = await CopyAsync(server, "viewer");
        var viewer = await server.ClientAsync("viewer");
        Assert.Equal(HttpStatusCode.NoContent, (await viewer.DeleteAsync("/api/sessions")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await viewer.GetAsync("/api/sites/home")).StatusCode);
        await EndedAsync(live, copy);
    }

    [Fact]
    public async Task An_owner_gives_a_member_a_new_password_but_not_who_is_a_member_elsewhere()
    {
        await using var server = await RunningServer.StartAsync();
        var (live, copy) = await CopyAsync(server, "viewer");
        var owner = await server.ClientAsync("owner");
        async Task<HttpResponseMessage> ResetAsync(HttpClient by, string name, string password) =>
            await by.PutAsync($"/api/sites/home/members/{name}/password", RunningServer.Body(new PasswordReset(password)));
        Assert.Equal(HttpStatusCode.Forbidden, (await ResetAsync(await server.ClientAsync("viewer"), "owner", New)).StatusCode);
        Assert.Contains("not a member", await SaysAsync(await ResetAsync(owner, "stranger", New)));
        Assert.Contains("your own password", await SaysAsync(await ResetAsync(owner, "owner", New)));
        Assert.Contains("among the first", await SaysAsync(await ResetAsync(owner, "viewer", "qwertyuiop")));
        Assert.Equal(HttpStatusCode.NoContent, (await ResetAsync(owner, "viewer", New)).StatusCode);
        await EndedAsync(live, copy);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(await server.ClientAsync(), "viewer", New)).StatusCode);
        // At another site the viewer is owner: their password would open that too.
        var id = await server.QueryAsync(s => s.Users.Where(u => u.UserName == "viewer").Select(u => u.Id).SingleAsync());
        await server.Book.CreateAsync("shed", SiteDesign.Empty("Shed"), id, Evidence.None);
        Assert.Contains("not yours too", await SaysAsync(await ResetAsync(owner, "viewer", Other)));
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(await server.ClientAsync(), "viewer", New)).StatusCode);
    }

    [Fact]
    public async Task A_reset_at_the_console_works_while_the_server_runs()
    {
        await using var server = await RunningServer.StartAsync();
        var (live, copy) = await CopyAsync(server, "viewer");
        var (exit, said) = await PeersTests.RunAsync("dotnet", [typeof(App).Assembly.Location, "reset-password", "viewer", "--DATA", server.Settings.Data]);
        Assert.True(exit == 0, said);
        var password = System.Text.RegularExpressions.Regex.Match(said, "is now: ([0-9a-f]{20})").Groups[1].Value;
        await EndedAsync(live, copy);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(await server.ClientAsync(), "viewer", password)).StatusCode);
        (exit, said) = await PeersTests.RunAsync("dotnet", [typeof(App).Assembly.Location, "reset-password", "nobody", "--DATA", server.Settings.Data]);
        Assert.Equal(1, exit);
        Assert.Contains("There is no account \"nobody\". There are: owner, viewer, stranger.", said);
    }

    [Fact]
    public async Task A_password_for_a_name_that_exists_is_refused_and_not_ignored()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var answer = await owner.PutAsync("/api/sites/home/members", RunningServer.Body(new MemberRequest("stranger", Role.Viewer, New)));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("it keeps its password", await SaysAsync(answer));
        Assert.Equal(HttpStatusCode.NotFound, (await (await server.ClientAsync("stranger")).GetAsync("/api/sites/home")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await owner.PutAsync("/api/sites/home/members", RunningServer.Body(new MemberRequest("stranger")))).StatusCode);
    }

    [Fact]
    public async Task Guessing_waits_longer_each_time_at_its_address_only_and_tells_no_names()
    {
        var clock = new AdjustedClock();
        await using var server = await RunningServer.StartAsync(system: clock);
        var client = await server.ClientAsync();
        foreach (var name in new[] { "owner", "nobody-there" })
        {
            for (var i = 0; i < 5; i++)
            {
                var wrong = await SignInAsync(client, name, "wrong-horse-1");
                Assert.Equal(
                    (HttpStatusCode.Unauthorized, true),
                    (wrong.StatusCode, (await SaysAsync(wrong)).Contains("No account has that name and password", StringComparison.Ordinal))
                );
            }
            var waits = await SignInAsync(client, name, name == "owner" ? RunningServer.Password : "wrong-horse-1");
            Assert.Equal(HttpStatusCode.TooManyRequests, waits.StatusCode);
            Assert.Matches("from here; wait (30|29) s", await SaysAsync(waits));
        }
        // The next wait is twice as long; who comes from elsewhere does not wait at all.
        clock.By += TimeSpan.FromSeconds(31);
        Assert.Equal(HttpStatusCode.Unauthorized, (await SignInAsync(client, "owner", "wrong-horse-2")).StatusCode);
        Assert.Matches("wait (60|59) s", await SaysAsync(await SignInAsync(client, "owner", RunningServer.Password)));
        Assert.Null(server.Services.GetRequiredService<SignInThrottle>().Wait(IPAddress.Parse("192.0.2.7"), "owner"));
        clock.By += TimeSpan.FromSeconds(61);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(client, "owner", RunningServer.Password)).StatusCode);
    }

    [Fact]
    public async Task Of_many_who_come_with_the_first_code_one_is_first()
    {
        await using var server = await RunningServer.StartAsync(empty: true);
        var code = server.Services.GetRequiredService<FirstStartCode>().Text;
        var clients = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => server.ClientAsync()));
        var answers = await Task.WhenAll(
            clients.Select((c, i) => c.PostAsync("/api/first-start", RunningServer.Body(new FirstStart(code, $"me{i}", New, "My place", "Europe/London"))))
        );
        Assert.Single(answers, a => a.StatusCode == HttpStatusCode.NoContent);
        Assert.Equal(1, await server.QueryAsync(s => s.Users.CountAsync()));
    }

    [Theory]
    [InlineData("somebody", "ninechars", "at least 10")]
    [InlineData("somebody", "aaaaabbbbbcccc", "at least 5 different")]
    [InlineData("otter", "my-Otter-1234", "the name it is for")]
    [InlineData("somebody", "Password123", "among the first")]
    [InlineData("somebody", "1q2w3e4r5t", "among the first")]
    [InlineData("somebody", "three brave otters", null)]
    [InlineData("somebody", "qzvklxwpmt", null)]
    public void What_a_password_must_be(string name, string password, string? says) =>
        Assert.True(
            says is null ? PasswordRule.Fault(name, password) is null : PasswordRule.Fault(name, password)!.Contains(says),
            PasswordRule.Fault(name, password)
        );

    [Fact]
    public void A_password_is_not_longer_than_it_may_be() =>
        Assert.Contains("at most 128", PasswordRule.Fault("x", string.Concat(Enumerable.Range(0, 200).Select(i => i))));

    [Fact]
    public async Task A_name_to_sign_in_with_has_a_measure()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        Assert.Contains(
            "1 to 60 characters",
            await SaysAsync(await owner.PutAsync("/api/sites/home/members", RunningServer.Body(new MemberRequest(new string('n', 61), Role.Viewer, New))))
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.PutAsync("/api/sites/home/members", RunningServer.Body(new MemberRequest(new string('n', 60), Role.Viewer, New)))).StatusCode
        );
    }

    [Theory]
    [InlineData("192.0.2.7", "192.0.2.7")]
    [InlineData("::ffff:192.0.2.7", "192.0.2.7")]
    [InlineData("2001:db8:1:2:3:4:5:6", "2001:db8:1:2::")]
    [InlineData("2001:db8:1:2::9", "2001:db8:1:2::")]
    [InlineData("::1", "::1")]
    public void One_machine_counts_as_one_address(string address, string counted) =>
        Assert.Equal(IPAddress.Parse(counted), PeerAddress.Of(IPAddress.Parse(address)));

    [Fact]
    public async Task An_account_is_written_in_its_turn_and_not_beside_another_write()
    {
        await using var server = await RunningServer.StartAsync();
        using var scope = server.Services.CreateScope();
        var users = scope.ServiceProvider.GetRequiredService<UserManager<Account>>();
        TaskCompletionSource begun = new(),
            go = new();
        var held = server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(async store =>
            {
                await store.Database.ExecuteSqlAsync($"UPDATE sites SET JudgedArrival = JudgedArrival");
                begun.SetResult();
                await go.Task;
            });
        await begun.Task;
        // SQLite's own wait for a lock would begin here, and would be over in five seconds.
        var made = users.CreateAsync(new Account { UserName = "late" }, New);
        Assert.False(made.IsCompleted);
        go.SetResult();
        await held;
        Assert.True((await made).Succeeded);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(await server.ClientAsync(), "late", New)).StatusCode);
    }
}
