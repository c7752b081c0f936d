using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Log;
using Cenotic.Server.Ingest;
using Cenotic.Server.Log;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Log;

/// <summary>What is due, cells against their plan, outages, pictures.</summary>
public class MaintenanceTests
{
    private const string Home = "/api/sites/home";
    private const long Day = 86_400_000;

    private static async Task<MaintenanceView> ViewAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<MaintenanceView>($"{Home}/maintenance", CenoticJson.Options))!;

    private static async Task<IReadOnlyList<LogEntry>> EntriesAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<LogPage>($"{Home}/log", CenoticJson.Options))!.Entries;

    /// <summary>Days of voltages of the cistern into the store, as they would have come.</summary>
    private static async Task DischargeAsync(RunningServer server, double pace, int days)
    {
        var state = server.Book.Find("home")!;
        var (writer, now) = (server.Services.GetRequiredService<SampleWriter>(), DateTimeOffset.UtcNow.ToUnixTimeMilliseconds());
        var node = state.Design.Node("cistern")!;
        var cell = state.Catalogue.Cell(node.Power.Cell!)!;
        var milliamps =
            (await server.Book.PlanAsync(state)).Node("cistern")!.Rhythm.Average.Value!.Value
            + cell.CapacityMilliampHours.Likely * 2 * cell.SelfDischargePerYear.Likely / 8766;
        for (var hour = 1; hour < days * 24; hour++)
        {
            var used = pace * milliamps * hour / (cell.CapacityMilliampHours.Likely * 2);
            await writer.StoreAsync(
                new DecodedMessage("home", "cistern", now - (days * 24 - hour) * 3_600_000L, 10, 1, hour, -100, BatteryLife.VoltsAt(cell, used), [], [], "")
            );
        }
    }

    [Fact]
    public async Task Cells_that_go_faster_than_planned_are_seen_and_new_ones_of_their_kind_begin_with_what_was_learned()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        const int Days = 25;
        const double Pace = 1.6;
        var node = server.Book.Find("home")!.Design.Node("cistern")!;
        async Task Fit(DateTime on) =>
            Assert.Equal(
                HttpStatusCode.OK,
                (
                    await client.PostAsync(
                        $"{Home}/edits",
                        RunningServer.Body(
                            new EditRequest(
                                server.Book.Find("home")!.Revision,
                                [
                                    SetNodes.WithPower(
                                        server.Book.Find("home")!.Design.Node("cistern")!,
                                        node.Power with
                                        {
                                            FittedOn = DateOnly.FromDateTime(on),
                                        }
                                    ),
                                ]
                            )
                        )
                    )
                ).StatusCode
            );
        await Fit(DateTime.UtcNow.AddDays(-Days));
        await DischargeAsync(server, Pace, Days);
        var battery = (await ViewAsync(client)).Batteries.Single(b => b.Node == "cistern");
        // Between the plan and what the voltage shows, and the band holds it.
        Assert.InRange(battery.State!.Pace.Value!.Value, 1.2, 1.7);
        Assert.InRange(Pace, battery.State.Pace.Low!.Value, battery.State.Pace.High!.Value);
        Assert.True(battery.State.DaysLeft.Value < battery.Planned!.Value - Days);
        Assert.Contains(battery.Reasons, r => r.Label == "Measured current");
        Assert.Contains(battery.Reasons, r => r is { Label: "Not explained", Factor: > 1.2 });
        var due = (await ViewAsync(client)).Items.Single(i => i.Kind == DueKind.Cells && i.Node == "cistern");
        Assert.Equal(battery.State.DaysLeft.Low!.Value, (due.DueMs - (await ViewAsync(client)).NowMs) / (double)Day, 0.2);
        await Fit(DateTime.UtcNow);
        Assert.Contains(await EntriesAsync(client), e => e.Text.Contains($"after {Days} days with the ones before", StringComparison.Ordinal));
        var second = (await ViewAsync(client)).Batteries.Single(b => b.Node == "cistern");
        Assert.Equal(battery.State.Pace.Value.Value, second.Earlier!.Pace, 0.06);
        Assert.Equal(second.Earlier.Pace, second.State!.Pace.Value!.Value, 0.03);
        Assert.True(second.State.UsedMilliampHours.Value < battery.State.UsedMilliampHours.Value / 5);
        // Cells of another kind: what the set before showed says nothing of them.
        node = node with { Power = node.Power with { Parallel = node.Power.Parallel + 1 } };
        await Fit(DateTime.UtcNow);
        Assert.Null((await ViewAsync(client)).Batteries.Single(b => b.Node == "cistern").Earlier);
    }

    [Fact]
    public async Task Cells_of_another_kind_than_entered_are_to_be_looked_at_and_no_day_is_promised()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        // The voltages are those of lithium-ion cells, what is entered afterwards is iron phosphate.
        await DischargeAsync(server, 1, 20);
        var node = server.Book.Find("home")!.Design.Node("cistern")!;
        var power = node.Power with { Cell = "lifepo4-18650", Charger = null, FittedOn = DateOnly.FromDateTime(DateTime.UtcNow.AddDays(-20)) };
        var edit = new EditRequest(server.Book.Find("home")!.Revision, [SetNodes.WithPower(node, power)]);
        Assert.Equal(HttpStatusCode.OK, (await client.PostAsync($"{Home}/edits", RunningServer.Body(edit))).StatusCode);
        var view = await ViewAsync(client);
        var state = view.Batteries.Single(b => b.Node == "cistern").State!;
        Assert.Equal("Li-ion cell 18650", state.Unlike!.Likelier);
        Assert.Null(state.DaysLeft.Value);
        var due = view.Items.Single(i => i.Kind == DueKind.Cells && i.Node == "cistern");
        Assert.Equal("Look which cells are fitted: they do not behave like those entered", due.What);
        Assert.InRange(view.NowMs - due.DueMs, 0, 60_000);
    }

    [Fact]
    public async Task Cleaning_that_was_done_moves_on_and_stands_in_the_log()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        await server.NodeAsync("glaze");
        var item = (await ViewAsync(client)).Items.First(i => i.Kind == DueKind.Cleaning);
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync($"{Home}/maintenance/done", RunningServer.Body(new WorkDone(item.Key)))).StatusCode);
        Assert.NotNull((await ViewAsync(client)).Items.Single(i => i.Key == item.Key).LastMs);
        Assert.Contains(await EntriesAsync(client), e => e.Kind == LogKind.Build && e.Text == item.What);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PostAsync($"{Home}/maintenance/done", RunningServer.Body(new WorkDone("cells-cistern")))).StatusCode
        );
    }

    [Fact]
    public async Task The_calendar_is_read_by_its_secret_address_alone_until_that_is_closed()
    {
        await using var server = await RunningServer.StartAsync();
        var (client, stranger) = (await server.ClientAsync("owner"), await server.ClientAsync());
        var first = (await (await client.PostAsync($"{Home}/maintenance/feed", null)).Content.ReadFromJsonAsync<FeedAddress>(CenoticJson.Options))!.Address;
        var second = (await (await client.PostAsync($"{Home}/maintenance/feed", null)).Content.ReadFromJsonAsync<FeedAddress>(CenoticJson.Options))!.Address;
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.GetAsync(first)).StatusCode);
        var calendar = await stranger.GetAsync(second);
        Assert.Equal("text/calendar", calendar.Content.Headers.ContentType!.MediaType);
        Assert.Equal((await ViewAsync(client)).Items.Count, Ical.Net.Calendar.Load(await calendar.Content.ReadAsStringAsync())!.Events.Count);
        // Only its hash is in the database.
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM due_feeds WHERE instr({second}, Hash) > 0"));
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync($"{Home}/maintenance/feed")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.GetAsync(second)).StatusCode);
    }

    [Fact]
    public async Task A_node_that_was_silent_for_too_long_stands_in_the_log_when_it_is_heard_again()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var (writer, intake, now) = (
            server.Services.GetRequiredService<SampleWriter>(),
            server.Services.GetRequiredService<Intake>(),
            DateTimeOffset.UtcNow.ToUnixTimeMilliseconds()
        );
        Task Heard(string node, long at) => writer.StoreAsync(intake.Decode("home", node, "[{\"n\":\"temp\",\"v\":20}]"u8.ToArray()) with { ReceivedMs = at });
        await Heard("drying", now - 7_220_000);
        await Heard("drying", now - 7_210_000);
        Assert.DoesNotContain(await EntriesAsync(client), e => e.Kind == LogKind.Outage);
        await Heard("drying", now - 10_000);
        var outage = Assert.Single(await EntriesAsync(client), e => e.Kind == LogKind.Outage);
        Assert.Equal(("drying", "Heard again after 2 h of silence"), (outage.Node, outage.Text));
    }

    [Fact]
    public async Task Pictures_of_a_note_are_bounded_and_are_what_they_say()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        byte[] png = [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A, .. new byte[100]];
        var note = (
            await (await client.PostAsync($"{Home}/log", RunningServer.Body(new NoteRequest("The lid")))).Content.ReadFromJsonAsync<NoteKept>(
                CenoticJson.Options
            )
        )!.Id;
        async Task<HttpStatusCode> Keep(byte[] body, long of) =>
            (await client.PostAsync($"{Home}/log/notes/{of}/pictures", new ByteArrayContent(body))).StatusCode;
        Assert.Equal(HttpStatusCode.NoContent, await Keep(png, note));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, await Keep("<svg onload=alert(1)>"u8.ToArray(), note));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, await Keep([.. png, .. new byte[1 << 20]], note));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, await Keep(png, note + 1));
        // 50 MB, and a text that is named a picture: the reason says what would be right.
        async Task<string> Why(HttpContent content)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"{Home}/log/notes/{note}/pictures") { Content = content };
            request.Headers.ExpectContinue = true;
            var answer = await client.SendAsync(request);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            return await answer.Content.ReadAsStringAsync();
        }
        Assert.Contains("at most 1024 KiB", await Why(new ByteArrayContent(new byte[50 * 1024 * 1024])));
        var text = new StringContent("dear diary") { Headers = { ContentType = new("image/png") } };
        Assert.Contains("JPEG, PNG or WebP", await Why(text));
        Assert.Single((await EntriesAsync(client)).Single(e => e.Kind == LogKind.Note).Pictures);
        var kept = (await EntriesAsync(client)).Single(e => e.Kind == LogKind.Note).Pictures.Single();
        var picture = await client.GetAsync($"{Home}/log/pictures/{kept}");
        Assert.Equal(("image/png", png.Length), (picture.Content.Headers.ContentType!.MediaType, (await picture.Content.ReadAsByteArrayAsync()).Length));
        Assert.Equal("nosniff", picture.Headers.GetValues("X-Content-Type-Options").Single());
        for (var more = 0; more < 3; more++)
        {
            Assert.Equal(HttpStatusCode.NoContent, await Keep(png, note));
        }
        Assert.Equal(HttpStatusCode.UnprocessableEntity, await Keep(png, note));
        await client.DeleteAsync($"{Home}/log/notes/{note}");
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM log_pictures"));
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync($"{Home}/log/pictures/{kept}")).StatusCode);
    }
}
