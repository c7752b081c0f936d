using System.Collections.Concurrent;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Alerts;
using Cenotic.Server.Alerts.Ways;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.StandIns;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Samples;
using Cenotic.Tests;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Alerts;

public class NoticeTests
{
    private const string Home = "/api/sites/home";

    private static RuleDesign Rule(RunningServer server) => server.Book.Find("home")!.Design.Rule("rack-too-warm")!;

    /// <summary>People, and the rule of the warm rack that tells them at once.</summary>
    private static async Task TellAsync(RunningServer server, TellDesign tell, params PersonDesign[] people) =>
        Assert.IsType<BatchResult.Done>(
            await server.Book.ApplyAsync(
                "home",
                server.Book.Find("home")!.Revision,
                [.. people.Select(p => new PutPerson(p)), new PutRule(Rule(server) with { Tell = tell })],
                "test"
            )
        );

    private static async Task SetAsync(HttpClient owner, NoticeSettingsRequest settings) =>
        Assert.Equal(HttpStatusCode.NoContent, (await owner.PutAsync($"{Home}/notices/settings", RunningServer.Body(settings))).StatusCode);

    private static async Task RackAsync(RunningServer server, params double[] values)
    {
        using var node = await server.NodeAsync("drying");
        foreach (var value in values)
        {
            await RunningServer.PublishAsync(node, "drying", FormattableString.Invariant($$"""[{"n":"rack1","v":{{value}}}]"""));
            await Task.Delay(20);
        }
    }

    private static async Task<List<EpisodeView>> EpisodesAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<List<EpisodeView>>($"{Home}/episodes", CenoticJson.Options))!;

    private static Task<List<OutboxRow>> OutboxAsync(RunningServer server) => server.QueryAsync(s => s.Outbox.AsNoTracking().OrderBy(o => o.Id).ToListAsync());

    /// <summary>A web server that takes what it gets.</summary>
    private sealed class Hook : IAsyncDisposable
    {
        private readonly WebApplication _app;

        public ConcurrentQueue<(string Path, IReadOnlyDictionary<string, string> Headers, string Body)> Got { get; } = [];

        public int Status { get; set; } = 204;

        public string? Location { get; set; }

        public Hook()
        {
            var builder = WebApplication.CreateSlimBuilder();
            builder.WebHost.UseUrls("http://127.0.0.1:0");
            _app = builder.Build();
            _app.Run(async http =>
            {
                using var reader = new StreamReader(http.Request.Body);
                Got.Enqueue(
                    (
                        http.Request.Path,
                        http.Request.Headers.ToDictionary(h => h.Key, h => h.Value.ToString(), StringComparer.OrdinalIgnoreCase),
                        await reader.ReadToEndAsync()
                    )
                );
                http.Response.StatusCode = Status;
                if (Location is not null)
                {
                    http.Response.Headers.Location = Location;
                }
            });
            _app.StartAsync().GetAwaiter().GetResult();
        }

        public string Url => _app.Urls.First();

        public ValueTask DisposeAsync() => _app.DisposeAsync();
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task A_password_is_never_sent_without_tls(bool fromTheStart)
    {
        using var box = new MailBox();
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        await SetAsync(owner, new("127.0.0.1", box.Port, fromTheStart, "house@example.net", "house", "mail-secret-1"));
        await TellAsync(server, new([new("ann")]), new PersonDesign("ann", "Ann", [new(WayKind.Mail, "ann@example.net")]));
        Assert.Equal(HttpStatusCode.NoContent, (await owner.PostAsync($"{Home}/people/ann/test", null)).StatusCode);
        await RunningServer.UntilAsync(async () => (await OutboxAsync(server)).Any(o => o.Result is not null), "it is tried");
        var tried = Assert.Single(await OutboxAsync(server));
        Assert.True(tried is { DoneMs: null, Taken: false }, tried.Result);
        Assert.DoesNotContain(box.Lines, l =>
            l.StartsWith("AUTH", StringComparison.OrdinalIgnoreCase)
            || l.Contains("mail-secret-1", StringComparison.Ordinal)
            || l.Contains(Convert.ToBase64String("mail-secret-1"u8), StringComparison.Ordinal)
            || l.StartsWith("MAIL", StringComparison.OrdinalIgnoreCase)
        );
        Assert.Empty(box.Mails);
        if (!fromTheStart)
        {
            Assert.Contains("offers no TLS", tried.Result);
        }
    }

    [Fact]
    public async Task The_sink_of_the_demo_takes_no_password()
    {
        using var sink = new Cenotic.Server.StandIns.MailSink(
            TimeProvider.System,
            Microsoft.Extensions.Logging.Abstractions.NullLogger<Cenotic.Server.StandIns.MailSink>.Instance
        );
        await sink.StartAsync(CancellationToken.None);
        using var client = new MailKit.Net.Smtp.SmtpClient();
        await client.ConnectAsync("127.0.0.1", sink.Address.Port, MailKit.Security.SecureSocketOptions.None);
        await Assert.ThrowsAnyAsync<Exception>(() => client.AuthenticateAsync("house", "mail-secret-1"));
        using var socket = new System.Net.Sockets.TcpClient("127.0.0.1", sink.Address.Port);
        using var reader = new StreamReader(socket.GetStream());
        await reader.ReadLineAsync();
        await socket.GetStream().WriteAsync("AUTH PLAIN AGhvdXNlAG1haWwtc2VjcmV0LTE=\r\n"u8.ToArray());
        Assert.StartsWith("538", await reader.ReadLineAsync());
        await sink.StopAsync(CancellationToken.None);
    }

    [Fact]
    public async Task An_episode_is_told_by_mail_webhook_and_text_together_and_what_became_of_it_stands_on_it()
    {
        await using var server = await RunningServer.StartAsync();
        await using var hook = new Hook();
        using var box = new MailBox();
        var owner = await server.ClientAsync("owner");
        await SetAsync(
            owner,
            new("127.0.0.1", box.Port, MailFrom: "house@example.net", TextUrl: hook.Url + "/text", TextKey: "key-1", HomeNetworks: "127.0.0.1")
        );
        var secret = (await (await owner.PostAsync($"{Home}/notices/secret", null)).Content.ReadFromJsonAsync<WebhookSecret>(CenoticJson.Options))!.Secret;
        await TellAsync(
            server,
            new([new("ann")], WhenOver: false),
            new PersonDesign("ann", "Ann", [new(WayKind.Mail, "ann@example.net"), new(WayKind.Webhook, hook.Url + "/hook"), new(WayKind.Text, "+441632960123")])
        );
        await RackAsync(server, 31, 34);
        await RunningServer.UntilAsync(
            async () => (await EpisodesAsync(owner)).SelectMany(e => e.Told).Count(t => t is { Done: true, Taken: true }) == 3,
            "all three were taken"
        );
        var told = (await EpisodesAsync(owner)).Single().Told;
        Assert.All(told, t => Assert.Equal(("Ann", "raised", false, 1), (t.Person, t.Step, t.MaybeTwice, t.Tries)));
        var mail = Assert.Single(box.Mails);
        Assert.Equal("Fernhollow: Rack 1 too warm", mail.Subject);
        Assert.Equal(("house@example.net", "ann@example.net"), (mail.From.Mailboxes.Single().Address, mail.To.Mailboxes.Single().Address));
        Assert.Contains("How far: 34.00 °C, above 32 °C", mail.TextBody);
        Assert.Contains("What to do: Open the vent and turn the fan on.", mail.TextBody);
        var rows = await OutboxAsync(server);
        Assert.StartsWith(rows.Single(r => r.Way == WayKind.Mail).MessageId, mail.MessageId);
        var (_, headers, body) = hook.Got.Single(g => g.Path == "/hook");
        var id = rows.Single(r => r.Way == WayKind.Webhook).MessageId;
        Assert.Equal(id, headers["Cenotic-Id"]);
        // Computed here by another library's function: HMAC-SHA256 over "id.time.body".
        using var mac = System.Security.Cryptography.IncrementalHash.CreateHMAC(
            System.Security.Cryptography.HashAlgorithmName.SHA256,
            System.Text.Encoding.UTF8.GetBytes(secret)
        );
        mac.AppendData(System.Text.Encoding.UTF8.GetBytes($"{id}.{headers["Cenotic-Time"]}.{body}"));
        Assert.Equal("sha256=" + Convert.ToHexStringLower(mac.GetHashAndReset()), headers["Cenotic-Signature"]);
        Assert.Equal(id, JsonSerializer.Deserialize<WebhookBody>(body, CenoticJson.Options)!.Id);
        var text = hook.Got.Single(g => g.Path == "/text");
        Assert.Equal("Bearer key-1", text.Headers["Authorization"]);
        Assert.Equal(
            System.Text.Encoding.UTF8.GetByteCount(text.Body).ToString(System.Globalization.CultureInfo.InvariantCulture),
            text.Headers["Content-Length"]
        );
        Assert.EndsWith(
            $"[{rows.Single(r => r.Way == WayKind.Text).MessageId[..6]}]",
            JsonDocument.Parse(text.Body).RootElement.GetProperty("text").GetString()
        );
        // Secrets do not lie readable in the database, and are not shown again.
        var kept = await server.QueryAsync(s => s.NoticeSettings.AsNoTracking().SingleAsync());
        Assert.DoesNotContain(secret, kept.WebhookSecret);
        Assert.DoesNotContain("key-1", kept.TextKey);
        Assert.DoesNotContain("key-1", await owner.GetStringAsync($"{Home}/notices/settings"));
    }

    /// <summary>Every address that an edit takes, the mail library takes; what it cannot send to is refused at entry (RFC 5321, 4.1.2).</summary>
    [Fact]
    public void What_is_taken_as_an_address_can_be_sent_to()
    {
        var site = RunningServer.Fernhollow.Design;
        bool Taken(string address) => EditBatch.Apply(site, [new PutPerson(new("somebody", "Somebody", [new(WayKind.Mail, address)]))]).Ok;
        foreach (var good in new[] { "a@b", "home@example.com", "o'neil+alerts@mail.example.org", "x_y-z@a-b.example", "1@2.example" })
        {
            Assert.True(Taken(good), good);
        }
        foreach (
            var bad in new[]
            {
                "a.@example.com",
                ".a@example.com",
                "a..b@example.com",
                "Home <home@example.com>",
                "a@",
                "@b",
                "a b@example.com",
                "a@b@c",
                "a@-b.example",
                "a@b..c",
                "a@example.com\n",
                "a@[127.0.0.1]",
                "\"a\"@b",
                "ann",
            }
        )
        {
            Assert.False(Taken(bad), bad);
        }
        var random = new Random(7);
        const string letters = "ab1.@-_<> \"(),;:[]\\+é\t";
        for (var i = 0; i < 50_000; i++)
        {
            var address = new string([.. Enumerable.Range(0, random.Next(1, 14)).Select(_ => letters[random.Next(letters.Length)])]);
            Assert.True(!Taken(address) || NoticeWays.IsMailbox(address), address);
        }
    }

    /// <summary>A rule that tells by mail is a stop as long as there is no mail server, also for who asks a moment after one is set.</summary>
    [Fact]
    public async Task A_rule_that_can_reach_nobody_is_a_stop_until_there_is_a_way_out()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        await TellAsync(server, new([new("ann")]), new PersonDesign("ann", "Ann", [new(WayKind.Mail, "ann@example.com")]));
        async Task<List<Finding>> FoundAsync() =>
            [
                .. (await owner.GetFromJsonAsync<PlanView>($"{Home}/plan?workings=true", CenoticJson.Options))!.Plan.Findings.Where(f =>
                    f.Code == "ALERT-NO-WAY-OUT" && f.Subject.Item == "rack-too-warm"
                ),
            ];
        var stop = Assert.Single(await FoundAsync());
        Assert.Equal((Severity.Stop, "\"Rack 1 too warm\" tells Ann, and no mail server is set."), (stop.Severity, stop.What));
        await SetAsync(owner, new("127.0.0.1", 2525, false, "home@example.com"));
        Assert.Empty(await FoundAsync());
        await SetAsync(owner, new());
        Assert.Single(await FoundAsync());
    }

    /// <summary>An address that was taken before it was refused at entry: its notice fails alone, and moves on.</summary>
    [Fact]
    public async Task A_bad_address_stalls_no_other_notice()
    {
        await using var server = await RunningServer.StartAsync();
        using var sink = new MailBox();
        var owner = await server.ClientAsync("owner");
        await server.NameHomeAsync(owner);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await owner.PutAsync(
                    "/api/sites/home/notices/settings",
                    RunningServer.Body(new NoticeSettingsRequest("127.0.0.1", sink.Port, false, "Home <home@example.com>"))
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await owner.PutAsync(
                    "/api/sites/home/notices/settings",
                    RunningServer.Body(new NoticeSettingsRequest("127.0.0.1", sink.Port, false, "home@example.com", HomeNetworks: "127.0.0.0/8"))
                )
            ).StatusCode
        );
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(store =>
            {
                var told = JsonSerializer.Serialize(
                    new[] { new NoticeFacts(new(NoticeKind.Raised, 0, "ann", 0), "Too warm", "Drying room", "", "", 0, null, false, false) },
                    CenoticJson.Options
                );
                foreach (var (address, notices) in new[] { ("a.@example.com", told), ("broken@example.com", "no list"), ("ann@example.com", told) })
                {
                    store.Outbox.Add(
                        new()
                        {
                            Site = "home",
                            Person = address,
                            Way = WayKind.Mail,
                            Address = address,
                            Notices = notices,
                            MessageId = Guid.NewGuid().ToString("n"),
                            CreatedMs = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds(),
                            NotBeforeMs = 0,
                        }
                    );
                }
                return Task.CompletedTask;
            });
        await RunningServer.UntilAsync(
            async () => await server.CountAsync($"SELECT count(*) AS Value FROM outbox WHERE Taken = 1") == 1,
            "the good one goes out"
        );
        await RunningServer.UntilAsync(
            async () =>
                await server.CountAsync(
                    $"SELECT count(*) AS Value FROM outbox WHERE Taken = 0 AND DoneMs IS NULL AND Result IS NOT NULL AND NotBeforeMs > 0 AND HandingMs IS NULL"
                ) == 2,
            "the others have their result and wait for their next try"
        );
    }

    [Fact]
    public async Task What_falls_due_together_goes_in_one_message_and_an_acknowledgement_keeps_its_note()
    {
        await using var server = await RunningServer.StartAsync();
        using var box = new MailBox();
        var owner = await server.ClientAsync("owner");
        await SetAsync(owner, new("127.0.0.1", box.Port, MailFrom: "house@example.net"));
        await TellAsync(server, new([new("ann")]), new PersonDesign("ann", "Ann", [new(WayKind.Mail, "ann@example.net")]));
        await RackAsync(server, 31, 34, 29);
        await RunningServer.UntilAsync(() => Task.FromResult(!box.Mails.IsEmpty), "a mail came");
        await RunningServer.UntilAsync(async () => (await OutboxAsync(server)).All(o => o.Taken), "it is known to be taken");
        Assert.Equal("Fernhollow: Rack 1 too warm and 1 more", Assert.Single(box.Mails).Subject);
        Assert.Equal(["raised", "over"], (await EpisodesAsync(owner)).Single().Told.Select(t => t.Step));
        var id = (await EpisodesAsync(owner)).Single().Id;
        Assert.Equal(
            HttpStatusCode.OK,
            (await owner.PostAsync($"{Home}/episodes/{id}/acknowledge", RunningServer.Body(new Acknowledgement("Vent was shut.")))).StatusCode
        );
        Assert.Equal("Vent was shut.", (await EpisodesAsync(owner)).Single().AcknowledgedNote);
    }

    [Fact]
    public async Task What_is_refused_for_good_is_given_up_and_what_may_pass_is_tried_again_under_the_same_id()
    {
        await using var server = await RunningServer.StartAsync();
        using var box = new MailBox();
        var answers = new Queue<string>(["451 not now", "250 kept", "550 nobody of that name"]);
        box.Answer = _ => answers.Dequeue();
        var owner = await server.ClientAsync("owner");
        await TellAsync(server, new([new("ann")], WhenOver: false), new PersonDesign("ann", "Ann", [new(WayKind.Mail, "ann@example.net")]));
        await RackAsync(server, 31, 34);
        // Nobody said yet how mail leaves the house: it waits and says so.
        await RunningServer.UntilAsync(
            async () => (await EpisodesAsync(owner)).SelectMany(e => e.Told).Any(t => t.Result?.Contains("No mail server is set") == true),
            "it says what is missing"
        );
        await SetAsync(owner, new("127.0.0.1", box.Port, MailFrom: "house@example.net"));
        await RunningServer.UntilAsync(async () => (await OutboxAsync(server)).All(o => o.Taken), "it was taken in the end");
        Assert.Equal(2, box.Mails.Count);
        Assert.Single(box.Mails.Select(m => m.MessageId).Distinct());
        Assert.False((await OutboxAsync(server)).Single().MaybeTwice);
        Assert.Equal(HttpStatusCode.NoContent, (await owner.PostAsync($"{Home}/people/ann/test", null)).StatusCode);
        await RunningServer.UntilAsync(
            async () => (await OutboxAsync(server)).Any(o => o is { DoneMs: not null, Taken: false, Result: not null }),
            "the second was given up"
        );
        Assert.StartsWith("550", (await OutboxAsync(server))[^1].Result);
        Assert.Equal(HttpStatusCode.NotFound, (await owner.PostAsync($"{Home}/people/nobody/test", null)).StatusCode);
    }

    [Fact]
    public async Task A_webhook_in_the_house_needs_the_owner_and_no_redirect_leads_there()
    {
        await using var server = await RunningServer.StartAsync();
        await using var hook = new Hook();
        var owner = await server.ClientAsync("owner");
        // A name, not an address: what it resolves to is what counts.
        await TellAsync(
            server,
            new([new("ann")], WhenOver: false),
            new PersonDesign("ann", "Ann", [new(WayKind.Webhook, hook.Url.Replace("127.0.0.1", "localhost") + "/hook")])
        );
        await RackAsync(server, 31, 34);
        await RunningServer.UntilAsync(
            async () => (await OutboxAsync(server)).Any(o => o.Result?.Contains("the owner has not named") == true),
            "it was not called"
        );
        Assert.Empty(hook.Got);
        (hook.Status, hook.Location) = (302, "http://169.254.169.254/");
        await SetAsync(owner, new(HomeNetworks: "127.0.0.0/8\n::1"));
        await RunningServer.UntilAsync(
            async () => (await OutboxAsync(server)).Any(o => o.Result?.Contains("redirects are not followed") == true),
            "the redirect was not followed"
        );
        Assert.Single(hook.Got);
        var refused = await (
            await owner.PutAsync(
                $"{Home}/notices/settings",
                RunningServer.Body(new NoticeSettingsRequest("mail.example.net", 0, MailFrom: "x", TextUrl: "ftp://x", HomeNetworks: "everything"))
            )
        ).Content.ReadFromJsonAsync<EditRefused>(CenoticJson.Options);
        Assert.Equal(4, refused!.Reasons.Count);
    }

    [Theory]
    [InlineData("93.184.215.14", true)]
    [InlineData("2606:2800:220:1::1", true)]
    [InlineData("10.0.0.1", false)]
    [InlineData("172.31.255.255", false)]
    [InlineData("172.32.0.1", true)]
    [InlineData("192.168.7.7", false)]
    [InlineData("127.0.0.1", false)]
    [InlineData("169.254.169.254", false)]
    [InlineData("100.64.0.1", false)]
    [InlineData("0.0.0.0", false)]
    [InlineData("224.0.0.1", false)]
    [InlineData("::1", false)]
    [InlineData("::ffff:10.0.0.1", false)]
    [InlineData("::ffff:127.0.0.1", false)]
    [InlineData("64:ff9b::10.0.0.1", false)]
    [InlineData("fe80::1", false)]
    [InlineData("fd00::1", false)]
    public void Addresses_of_special_networks_are_not_called_unless_the_owner_names_them(string address, bool allowed)
    {
        Assert.Equal(allowed, AddressGuard.Allows(IPAddress.Parse(address), []));
        Assert.True(AddressGuard.Allows(IPAddress.Parse(address), [IPNetwork.Parse("0.0.0.0/0"), IPNetwork.Parse("::/0")]));
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task A_kill_at_the_hand_over_repeats_at_most_once_under_the_same_id_and_before_it_repeats_nothing(bool taken)
    {
        var folder = RunningServer.NewFolder();
        var (mailPort, _) = Ports.Free();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            await SetAsync(await server.ClientAsync("owner"), new("127.0.0.1", mailPort, MailFrom: "house@example.net"));
            await TellAsync(
                server,
                new([new("ann")], ThroughQuiet: true, WhenOver: false),
                new PersonDesign("ann", "Ann", [new(WayKind.Mail, "ann@example.net")])
            );
            if (taken)
            {
                // Raised here, and told by the program that is killed.
                await server.Services.GetRequiredService<WriteGate>().WriteAsync(async store => store.Outbox.Add(await WaitingAsync(store)));
            }
            else
            {
                // No mail server is there: the notice is in the outbox and no more.
                await RackAsync(server, 31, 34);
                await RunningServer.UntilAsync(async () => (await OutboxAsync(server)).Any(o => o.Tries > 0), "it was tried");
            }
        }
        MailBox? box = null;
        var (web, broker) = Ports.Free();
        using (var process = KillTests.Start(folder, web, broker))
        {
            if (taken)
            {
                box = new MailBox(mailPort)
                {
                    Answer = _ =>
                    {
                        process.Kill();
                        process.WaitForExit();
                        return "250 kept";
                    },
                };
            }
            else
            {
                await RunningServer.SignedInAsync(new($"http://127.0.0.1:{web}"), null);
                process.Kill();
            }
            await process.WaitForExitAsync();
        }
        box ??= new MailBox(mailPort);
        box.Answer = _ => "250 kept";
        await using (var server = await RunningServer.StartAsync(folder))
        {
            await RunningServer.UntilAsync(async () => (await OutboxAsync(server)).All(o => o.Taken), "it was taken");
            await server.LookedAsync();
            var row = (await OutboxAsync(server)).Single();
            // Before the hand-over the mark is set only when the kill fell between a try's begin and its end.
            Assert.True(row.MaybeTwice || !taken);
            Assert.Equal(taken ? 2 : 1, box.Mails.Count);
            Assert.All(box.Mails, m => Assert.StartsWith(row.MessageId, m.MessageId));
        }
        box.Dispose();
        Directory.Delete(folder, recursive: true);
    }

    /// <summary>A notice as the rules put it into the outbox, to be sent in a moment.</summary>
    private static async Task<OutboxRow> WaitingAsync(CenoticStore store)
    {
        var facts = new Core.Alerts.NoticeFacts(
            new(Core.Alerts.NoticeKind.Raised, 0, "ann", 0),
            "Rack 1 too warm",
            "Drying room",
            "34 °C",
            "",
            0,
            null,
            false,
            false
        );
        var soon = DateTimeOffset.UtcNow.AddSeconds(3).ToUnixTimeMilliseconds();
        _ = await store.Sites.SingleAsync();
        return new()
        {
            Site = "home",
            Person = "ann",
            Way = WayKind.Mail,
            Address = "ann@example.net",
            MessageId = new string('a', 32),
            Notices = JsonSerializer.Serialize(new[] { facts }, CenoticJson.Options),
            CreatedMs = soon,
            NotBeforeMs = soon,
        };
    }
}
