using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>Tables into the store: with their refusals, once only, stopped on the way, and never judged as news.</summary>
public class ImportTests
{
    private static readonly DateTimeOffset Start = new(2026, 1, 5, 0, 0, 0, TimeSpan.Zero);

    private static string Table(int rows, double add = 0) =>
        "time,temp,light\n"
        + string.Concat(
            Enumerable
                .Range(0, rows)
                .Select(i =>
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{Start.AddSeconds(i * 10):yyyy-MM-dd'T'HH:mm:ss'Z'},{15 + i % 100 / 10.0 + add:0.0},{i % 1000}\n"
                    )
                )
        );

    private static async Task<ImportView> SendAsync(HttpClient client, string table)
    {
        var answer = await client.PostAsync("/api/sites/home/imports?name=card.csv", new StringContent(table, Encoding.UTF8, "text/csv"));
        return answer.IsSuccessStatusCode
            ? (await answer.Content.ReadFromJsonAsync<ImportView>(CenoticJson.Options))!
            : throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
    }

    private static CsvLayout Layout(ImportView view) =>
        new(
            view.Guess.Separator,
            view.Guess.DecimalComma,
            view.Guess.HasHeader,
            view.Guess.TimeColumn!.Value,
            view.Guess.Time!.Value,
            "Etc/UTC",
            [new(1, "hall", "temp"), new(2, "hall", "light")]
        );

    private static async Task<ImportView> ViewAsync(HttpClient client, string id) =>
        (await client.GetFromJsonAsync<ImportView>($"/api/sites/home/imports/{id}", CenoticJson.Options))!;

    private static async Task<ImportView> ImportAsync(HttpClient client, string table)
    {
        var view = await SendAsync(client, table);
        (await client.PostAsync($"/api/sites/home/imports/{view.Id}/begin", RunningServer.Body(Layout(view)))).EnsureSuccessStatusCode();
        await RunningServer.UntilAsync(async () => (view = await ViewAsync(client, view.Id)).Stage != ImportStage.Running, "it ends");
        return view;
    }

    [Fact]
    public async Task A_table_is_imported_once_whatever_comes_twice_and_is_not_judged()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        // A rule that these temperatures would break: history raises nothing.
        var rule = new RuleDesign("warm", "Warm", "hall", "temp", new BeyondLimit(LimitSide.Above, 10, 9, 0), "", true);
        (
            await client.PostAsync("/api/sites/home/edits", RunningServer.Body(new EditRequest(server.Book.Find("home")!.Revision, [new PutRule(rule)])))
        ).EnsureSuccessStatusCode();
        var first = await ImportAsync(client, Table(3000) + "2026-02-01T00:00:00Z,x,7\n2099-01-01T00:00:00Z,5,\n2026-02-01T00:00:10Z,5");
        Assert.Equal((ImportStage.Done, 3003L, 6001L, 0L, 3L, 1.0), (first.Stage, first.Rows, first.New, first.Known, first.Refused, first.ReadShare));
        Assert.Equal(
            [
                "Row 3001: \"x\" is no number of temp.",
                "Row 3002: its time lies ahead of the site's; at most 5 min are taken. Are time zone and form right?",
                "Row 3003, the last, has no end: the power went in it. It is left out; end it with a line feed if it is whole.",
            ],
            first.Refusals
        );
        var before = await StateAsync(server);
        var again = await ImportAsync(client, Table(3000));
        Assert.Equal((ImportStage.Done, 0L, 6000L), (again.Stage, again.New, again.Known));
        Assert.Equal(before, await StateAsync(server));
        // What is new beside what is known is told apart, and rollups hold each sample once.
        var more = await ImportAsync(client, Table(3100));
        Assert.Equal((200L, 6000L), (more.New, more.Known));
        Assert.Equal(
            3100,
            await server.CountAsync(
                $"SELECT sum(n) AS Value FROM rollups WHERE step = 3600000 AND reading_id = (SELECT Id FROM readings WHERE Node = 'hall' AND Key = 'temp')"
            )
        );
        Assert.Equal(0, await server.QueryAsync(s => s.Episodes.CountAsync()));
        Assert.Empty(Directory.GetFiles(Path.Combine(server.Settings.Data, "imports")));
    }

    private static async Task<(long, long, long)> StateAsync(RunningServer server) =>
        (
            await server.CountAsync($"SELECT count(*) AS Value FROM samples"),
            await server.CountAsync($"SELECT count(*) AS Value FROM arrivals"),
            await server.CountAsync($"SELECT sum(n) AS Value FROM rollups")
        );

    [Fact]
    public async Task It_can_be_stopped_on_the_way_and_begun_again()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var table = Table(150_000);
        var view = await SendAsync(client, table);
        (await client.PostAsync($"/api/sites/home/imports/{view.Id}/begin", RunningServer.Body(Layout(view)))).EnsureSuccessStatusCode();
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM samples") > 0, "it has begun");
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync($"/api/sites/home/imports/{view.Id}")).StatusCode);
        var ended = await ViewAsync(client, view.Id);
        Assert.Equal(ImportStage.Cancelled, ended.Stage);
        var kept = await server.CountAsync($"SELECT count(*) AS Value FROM samples");
        Assert.InRange(kept, 1, 299_999);
        var rest = await ImportAsync(client, table);
        Assert.Equal((ImportStage.Done, 300_000 - kept, kept), (rest.Stage, rest.New, rest.Known));
    }

    [Fact]
    public async Task What_cannot_be_imported_is_said_and_columns_are_suggested()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        Assert.Contains("The file is empty.", (await Assert.ThrowsAsync<InvalidOperationException>(() => SendAsync(client, ""))).Message);
        Assert.Contains("longer than 64 KiB", (await Assert.ThrowsAsync<InvalidOperationException>(() => SendAsync(client, new string('x', 200_000)))).Message);
        var view = await SendAsync(client, "time,hall/temp,something\n2026-01-05T00:00:00Z,20,1\n");
        Assert.Equal([new CsvColumn(1, "hall", "temp")], view.Suggested);
        async Task<string> RefusedAsync(CsvLayout layout)
        {
            var answer = await client.PostAsync($"/api/sites/home/imports/{view.Id}/begin", RunningServer.Body(layout));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            return string.Join(" ", (await answer.Content.ReadFromJsonAsync<EditRefused>(CenoticJson.Options))!.Reasons);
        }
        var layout = Layout(view);
        Assert.Contains("no reading hall/gone", await RefusedAsync(layout with { Columns = [new(1, "hall", "gone")] }));
        Assert.Contains("which column is which", await RefusedAsync(layout with { Columns = [] }));
        Assert.Contains("Two columns are hall/temp", await RefusedAsync(layout with { Columns = [new(1, "hall", "temp"), new(2, "hall", "temp")] }));
        Assert.Contains("no time zone", await RefusedAsync(layout with { TimeZone = "Nowhere" }));
        Assert.Contains("last row was written", await RefusedAsync(layout with { Time = CsvTime.SecondsSinceStart }));
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync($"/api/sites/home/imports/{view.Id}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync($"/api/sites/home/imports/{view.Id}")).StatusCode);
    }
}
