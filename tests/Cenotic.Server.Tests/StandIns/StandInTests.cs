using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.StandIns;
using Cenotic.Server.Tests.Ingest;
using Cenotic.Server.Watch;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.StandIns;

/// <summary>One demo for all tests of the stand-ins, a minute of it in a second.</summary>
public sealed class DemoServer : IAsyncLifetime
{
    public RunningServer Server { get; private set; } = null!;

    public HttpClient Owner { get; private set; } = null!;

    public async Task InitializeAsync()
    {
        Server = await RunningServer.StartAsync(demo: true);
        Owner = await Server.ClientAsync("owner");
        (await Owner.PutAsync("/api/sites/fernhollow/speed", RunningServer.Body(new SpeedSetting(60)))).EnsureSuccessStatusCode();
    }

    public async Task DisposeAsync() => await Server.DisposeAsync();
}

public class StandInTests(DemoServer demo) : IClassFixture<DemoServer>
{
    private const string Site = "/api/sites/fernhollow";

    /// <summary>Stand-ins as they are, at the site of the tests.</summary>
    internal static readonly StandInPlan Plan = StandInPlan.Read() with { Site = "home" };

    private static async Task<double?> ValueAsync(HttpClient client, string node, string key) =>
        (await client.GetFromJsonAsync<List<ReadingView>>($"{Site}/readings", CenoticJson.Options))!.Single(r => r.Node == node && r.Key == key).Newest?.Value;

    [Fact]
    public async Task The_demo_has_a_day_behind_it_and_plays_on_under_its_controls()
    {
        var (server, client) = (demo.Server, demo.Owner);
        Assert.True(await server.CountAsync($"SELECT count(*) AS Value FROM samples") > 50_000);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM refusals"));
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await client.PutAsync($"{Site}/stand-ins/drying", RunningServer.Body(new StandInSetting(false, 25, false)))).StatusCode
        );
        await RunningServer.UntilAsync(async () => await ValueAsync(client, "drying", "rack1") > 38, "the heat shows");
        await RunningServer.UntilAsync(
            async () => await server.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE Rule = 'rack-too-warm' AND ClearedMs IS NULL") == 1,
            "the rule raised"
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await client.PutAsync($"{Site}/stand-ins/hall", RunningServer.Body(new StandInSetting(true, 0, false)))).StatusCode
        );
        await RunningServer.UntilAsync(
            async () => await server.CountAsync($"SELECT count(*) AS Value FROM episodes WHERE Rule = 'hall-silent' AND ClearedMs IS NULL") == 1,
            "silence is told"
        );
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM refusals"));
    }

    [Fact]
    public async Task The_rain_mast_of_the_demo_is_heard_over_a_serial_line()
    {
        var (server, client) = (demo.Server, demo.Owner);
        await RunningServer.UntilAsync(
            async () => (await client.GetFromJsonAsync<List<SerialLineState>>($"{Site}/lines", CenoticJson.Options))!.SingleOrDefault() is { Open: true },
            "the line is open"
        );
        Assert.Equal("rain", server.Book.Find("fernhollow")!.Design.Lines.Single().Format.Node);
    }

    [Fact]
    public async Task What_the_bridge_cuts_is_lost_by_the_message_numbers_and_nothing_else_is()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        using var bridge = new RadioBridge(Plan);
        await server.NameHomeAsync(client);
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new PutLine(bridge.Start(CancellationToken.None))], "owner");
        async Task<SerialLineState> LineAsync() =>
            (await client.GetFromJsonAsync<List<SerialLineState>>("/api/sites/home/lines", CenoticJson.Options))!.Single();
        await RunningServer.UntilAsync(async () => (await LineAsync()).Open, "the line is open");
        const int sent = 300;
        for (var i = 1; i <= sent; i++)
        {
            await bridge.SendAsync("rain", System.Text.Encoding.UTF8.GetBytes($$"""{"rain":{{i}},"sys/boot":1,"sys/seq":{{i}}}"""), CancellationToken.None);
        }
        NodeView? page = null;
        await RunningServer.UntilAsync(
            async () =>
                (page = await client.GetFromJsonAsync<NodeView>("/api/sites/home/nodes/rain/messages", CenoticJson.Options))!.Received + page.Lost >= sent - 2,
            "all but the last came or are missed"
        );
        // One in fifteen is cut: 20 of 300, give or take four standard deviations.
        Assert.InRange(page!.Lost!.Value, 3, 38);
        Assert.Empty(page.Refusals);
        Assert.True((await LineAsync()).Skipped > 500);
    }

    [Fact]
    public async Task A_trip_shows_and_nonsense_is_refused()
    {
        var (server, client) = (demo.Server, demo.Owner);
        await client.PutAsync($"{Site}/stand-ins/cistern", RunningServer.Body(new StandInSetting(false, 0, true)));
        await RunningServer.UntilAsync(async () => await ValueAsync(client, "cistern", "full") == 1, "the float switch closed");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PutAsync($"{Site}/speed", RunningServer.Body(new SpeedSetting(1000)))).StatusCode);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PutAsync($"{Site}/stand-ins/nobody", RunningServer.Body(new StandInSetting(false, 0, false)))).StatusCode
        );
    }

    private static async Task SetAsync(HttpClient client, string node, StandInSetting setting) =>
        Assert.Equal(HttpStatusCode.NoContent, (await client.PutAsync($"{Site}/stand-ins/{node}", RunningServer.Body(setting))).StatusCode);

    private static async Task<NodeView> PageAsync(HttpClient client, string node) =>
        (await client.GetFromJsonAsync<NodeView>($"{Site}/nodes/{node}/messages", CenoticJson.Options))!;

    private static async Task<StandInView> StandInAsync(HttpClient client, string node) =>
        (await client.GetFromJsonAsync<StandInsView>($"{Site}/stand-ins", CenoticJson.Options))!.Nodes.Single(n => n.Node == node);

    private static readonly StandInSetting Calm = new(false, 0, false);

    /// <summary>Waits until a node that sends about as often was heard three times more.</summary>
    private static async Task OthersAreHeardAsync(HttpClient client)
    {
        var hall = (await PageAsync(client, "hall")).Received;
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "hall")).Received >= hall + 3, "the hall is heard");
    }

    [Fact]
    public async Task An_unplugged_gateway_silences_those_behind_it_and_starts_anew_when_it_is_plugged_in()
    {
        var (server, client) = (demo.Server, demo.Owner);
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "gateway")).Status is { Connected: true, Up: true }, "the gateway is there");
        var kiln = (await PageAsync(client, "kiln")).Received;
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "kiln")).Received > kiln, "the kiln is heard through it");
        Assert.InRange((await PageAsync(client, "kiln")).Arrivals[0].Rssi!.Value, -130, -60);
        await SetAsync(client, "gateway", Calm with { Unplugged = true });
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "gateway")).Status is { Connected: false, Up: false }, "its last will is heard");
        (kiln, var boot) = ((await PageAsync(client, "kiln")).Received, (await PageAsync(client, "gateway")).Arrivals.First(a => a.Boot is not null).Boot);
        await OthersAreHeardAsync(client);
        Assert.Equal(kiln, (await PageAsync(client, "kiln")).Received);
        await SetAsync(client, "gateway", Calm);
        await RunningServer.UntilAsync(
            async () =>
                (await PageAsync(client, "kiln")).Received > kiln && (await PageAsync(client, "gateway")).Arrivals.First(a => a.Boot is not null).Boot > boot,
            "both are heard again"
        );
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "kiln")).Lost > 0, "what was sent meanwhile is missed by its numbers");
    }

    private sealed class OnNetwork : IStandInLink
    {
        public bool Connected => true;

        public Task KeepAsync(bool wanted, CancellationToken stop) => Task.CompletedTask;

        public Task SendAsync(string node, byte[] payload, CancellationToken stop) => Task.CompletedTask;

        public bool TryHear(out OutputCommand command)
        {
            command = null!;
            return false;
        }
    }

    [Fact]
    public async Task An_unplugged_relay_cuts_off_what_is_heard_through_it()
    {
        var relay = new PassedOn(new OnNetwork());
        var (behind, beside) = (new PassedOn(relay), new PassedOn(new OnNetwork()));
        Assert.True(behind.Connected);
        await relay.KeepAsync(false, CancellationToken.None);
        Assert.False(relay.Connected || behind.Connected);
        Assert.True(beside.Connected);
        await relay.KeepAsync(true, CancellationToken.None);
        Assert.True(behind.Connected);
    }

    [Fact]
    public async Task Cells_that_are_set_before_a_node_runs_or_while_it_is_unplugged_are_in_it_when_it_does()
    {
        var state = demo.Server.Book.Find("fernhollow")!;
        var rhythm = (await demo.Server.Book.PlanAsync(state)).Node("cistern")!.Rhythm;
        var cistern = new StandInNode(
            "cistern",
            (boot, at) => new(state.Design.Node("cistern")!, rhythm, state.Catalogue, 1, boot, at),
            new OnNetwork(),
            1,
            1,
            Microsoft.Extensions.Logging.Abstractions.NullLogger.Instance
        )
        {
            Scan = (_, _) => "",
        };
        var now = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();
        cistern.SetCells(0.03);
        await cistern.PlayAsync(now, StandInControl.Calm, CancellationToken.None);
        Assert.Equal(0.03, cistern.CellShare!.Value, 3);
        await cistern.PlayAsync(now, StandInControl.Calm with { Unplugged = true }, CancellationToken.None);
        cistern.SetCells(0.5);
        await cistern.PlayAsync(now, StandInControl.Calm, CancellationToken.None);
        Assert.Equal(0.5, cistern.CellShare!.Value, 3);
        // Flashed anew it keeps what is left.
        cistern.Start = cistern.Start;
        await cistern.PlayAsync(now, StandInControl.Calm, CancellationToken.None);
        Assert.Equal(0.5, cistern.CellShare!.Value, 3);
    }

    [Fact]
    public async Task A_jammed_link_a_wrong_clock_and_empty_cells_show_as_what_they_are()
    {
        var (server, client) = (demo.Server, demo.Owner);
        await SetAsync(client, "drying", Calm with { SkewSeconds = -3600, LossPercent = 0 });
        await SetAsync(client, "cistern", Calm with { Cells = 0.03, LossPercent = 0 });
        await SetAsync(client, "landing", Calm with { Jammed = true });
        await RunningServer.UntilAsync(
            async () => (await PageAsync(client, "drying")).Status.CorrectionMs is > -3_900_000 and < -3_590_000,
            "the clock is found out"
        );
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "cistern")).Arrivals[0].Battery is < 3.6, "the cells are nearly empty");
        Assert.InRange((await StandInAsync(client, "cistern")).Cells!.Value, 0.001, 0.03);
        await SetAsync(client, "cistern", Calm with { Cells = 0 });
        await SetAsync(client, "landing", Calm);
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "landing")).Status.Connected, "the landing is back");
        var last = (await PageAsync(client, "cistern")).Received;
        await OthersAreHeardAsync(client);
        Assert.InRange((await PageAsync(client, "cistern")).Received - last, 0, 1);
        await SetAsync(client, "cistern", Calm with { Cells = 1 });
        await RunningServer.UntilAsync(async () => (await PageAsync(client, "cistern")).Received > last, "with new cells it is heard again");
    }

    [Fact]
    public async Task Mails_and_text_messages_are_kept_and_nothing_goes_out()
    {
        var (server, client) = (demo.Server, demo.Owner);
        async Task<StandInsView> View() => (await client.GetFromJsonAsync<StandInsView>($"{Site}/stand-ins", CenoticJson.Options))!;
        var at = IPEndPoint.Parse((await View()).MailAddress);
        var (exit, said) = await PeersTests.RunAsync(
            "python3",
            [
                "-c",
                $"import smtplib\nwith smtplib.SMTP('{at.Address}', {at.Port}) as s: s.sendmail('cenotic@fernhollow.example', "
                    + "['keeper@fernhollow.example'], 'Subject: Rack 1 too warm\\r\\n\\r\\nOpen the vent.\\r\\n.A line that begins with a dot.\\r\\n')",
            ]
        );
        Assert.True(exit == 0, said);
        // By day the rules of the demo write to its people too.
        var mail = Assert.Single((await View()).Mails, m => m.To == "keeper@fernhollow.example");
        Assert.Equal(("keeper@fernhollow.example", "cenotic@fernhollow.example"), (mail.To, mail.From));
        Assert.Contains("Subject: Rack 1 too warm", mail.Text);
        Assert.Contains("\n.A line that begins with a dot.", mail.Text);
        // Nonsense and endless lines do no harm.
        using (var rude = new System.Net.Sockets.TcpClient())
        {
            await rude.ConnectAsync(at);
            await rude.GetStream().WriteAsync(System.Text.Encoding.ASCII.GetBytes("DATA\r\nHELO\r\n" + new string('x', 5_000) + "\r\n"));
            await new StreamReader(rude.GetStream()).ReadToEndAsync().WaitAsync(TimeSpan.FromSeconds(10));
        }
        using var gateway = new HttpClient { BaseAddress = server.Started.Web };
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await gateway.PostAsync("/api/stand-ins/texts", RunningServer.Body(new TextMessage("+440000000000", "Kiln shell too hot")))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await gateway.PostAsync("/api/stand-ins/texts", RunningServer.Body(new TextMessage("+44", new string('x', 1_601))))).StatusCode
        );
        Assert.Equal("Kiln shell too hot", (await View()).Texts.Single(t => t.To == "+440000000000").Text);
        Assert.Single((await View()).Mails, m => m.To == "keeper@fernhollow.example");
    }

    [Fact]
    public async Task The_storage_card_is_a_table_that_the_import_reads_all_but_its_torn_row()
    {
        var (server, client) = (demo.Server, demo.Owner);
        var card = await client.GetByteArrayAsync($"{Site}/stand-ins/card.csv");
        var content = new ByteArrayContent(card);
        content.Headers.ContentType = new("text/csv");
        var view = (await (await client.PostAsync($"{Site}/imports?name=card.csv", content)).Content.ReadFromJsonAsync<ImportView>(CenoticJson.Options))!;
        Assert.Equal((';', true, CsvTime.DayMonthYear), (view.Guess.Separator, view.Guess.DecimalComma, view.Guess.Time));
        var head = System.Text.Encoding.UTF8.GetString(card).Split("\r\n")[0].Split(';');
        Assert.Equal(8, head.Length);
        var before = await server.CountAsync($"SELECT count(*) AS Value FROM samples");
        var layout = new CsvLayout(
            ';',
            true,
            true,
            0,
            view.Guess.Time!.Value,
            "Europe/London",
            [.. head.Skip(1).Select((key, at) => new CsvColumn(at + 1, "drying", key))]
        );
        (await client.PostAsync($"{Site}/imports/{view.Id}/begin", RunningServer.Body(layout))).EnsureSuccessStatusCode();
        await RunningServer.UntilAsync(
            async () => (view = (await client.GetFromJsonAsync<ImportView>($"{Site}/imports/{view.Id}", CenoticJson.Options))!).Stage is ImportStage.Done,
            "it is done"
        );
        Assert.StartsWith("Row 1440, the last, has no end", Assert.Single(view.Refusals));
        Assert.Equal(1439 * 7, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE flags & 4 = 4"));
        Assert.True(await server.CountAsync($"SELECT count(*) AS Value FROM samples") >= before + 1439 * 7);
    }

    [Fact]
    public async Task A_demo_that_is_stopped_while_its_first_day_is_made_ends_as_any_other()
    {
        var settings = new Settings(new(IPAddress.Loopback, 0), new(IPAddress.Loopback, 0), RunningServer.NewFolder(), Demo: true, RunningServer.Password);
        await using var app = App.Build(settings, []);
        app.Services.GetRequiredService<SampleWriter>().Committed += _ => app.Lifetime.StopApplication();
        var started = await App.StartAsync(app, settings);
        Assert.Contains(started.Lines, line => line.StartsWith("Sign in as", StringComparison.Ordinal));
        Assert.True(app.Lifetime.ApplicationStopping.IsCancellationRequested);
        await app.StopAsync();
        Directory.Delete(settings.Data, recursive: true);
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
        var asked = Microsoft
            .Extensions.Configuration.MemoryConfigurationBuilderExtensions.AddInMemoryCollection(
                settings,
                new Dictionary<string, string?> { ["DEMO"] = "true", ["WEB"] = "http://0.0.0.0:80" }
            )
            .Build();
        Assert.Contains("this machine only", Assert.Throws<ArgumentException>(() => Settings.Read(asked)).Message);
    }
}
