using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Log;
using Cenotic.Server.BringUp;
using Cenotic.Server.Ingest;
using Cenotic.Server.Log;
using Cenotic.Server.Sites;
using Cenotic.Server.Watch;

namespace Cenotic.Server.Tests.Log;

/// <summary>The log writes itself, is searched, written into and saved.</summary>
public class LogTests
{
    private const string Log = "/api/sites/home/log";

    private static async Task<IReadOnlyList<LogEntry>> ReadAsync(HttpClient client, string query = "") =>
        (await client.GetFromJsonAsync<LogPage>(Log + query, CenoticJson.Options))!.Entries;

    private static async Task DoAsync(HttpClient client, string path, object? body)
    {
        var answer = await client.PostAsync(path, body is null ? null : RunningServer.Body(body));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task What_was_done_to_a_node_stands_in_the_log_without_anybody_writing_it()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var hall = server.Book.Find("home")!.Design.Node("hall")!;
        Assert.All(await ReadAsync(client), e => Assert.Contains(e.Kind, new[] { LogKind.Current, LogKind.Walk }));
        await DoAsync(client, "/api/sites/home/edits", new EditRequest(1, [new PutPart("hall", hall.Parts[0] with { LeadMetres = 1.25 })]));
        await DoAsync(client, "/api/sites/home/nodes/hall/bundle", null);
        await DoAsync(client, "/api/sites/home/nodes/hall/scans", new ScanPaste("0x23 0x76"));
        await DoAsync(
            client,
            "/api/sites/home/nodes/hall/calibrations",
            new CalibrationRequest("temp", CalibrationKind.Offset, [new(20, 20.5)], 0.1, "the good one")
        );
        var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(
            node,
            "hall",
            """[{"n":"sys/cfg","vs":"0a1b2c3d"},{"n":"sys/rst","vs":"watchdog"},{"n":"sys/boot","v":1},{"n":"sys/seq","v":1}]"""
        );
        await DoAsync(client, Log, new NoteRequest(" Moved away from the radiator. ", "hall"));
        var entries = await ReadAsync(client, "?node=hall");
        Assert.Equal(
            [
                (LogKind.Note, "owner", "Moved away from the radiator."),
                (LogKind.Start, null, "Started by watchdog with settings 0a1b2c3d"),
                (LogKind.Calibration, "owner", "Hall temperature calibrated against the good one: raw + 0.5 °C, good for ±0.12 °C"),
                (LogKind.Scan, "owner", "Scan: 2 addresses, 0 codes: all as planned"),
            ],
            entries.Take(4).Select(e => (e.Kind, e.Who, e.Text))
        );
        Assert.StartsWith("Settings ", entries[4].Text);
        Assert.Equal($"{hall.Parts[0].Label} ({hall.Parts[0].Part}) on {hall.Label}: lead metres {hall.Parts[0].LeadMetres} → 1.25", entries[5].Text);
        Assert.All(entries, e => Assert.Equal("hall", e.Node));
        // Taken back it is said so, and the first entry stays.
        await DoAsync(client, $"/api/sites/home/nodes/hall/calibrations/{entries[2].Id.Split('-')[1]}/undo", null);
        Assert.Equal(["Calibration of Hall temperature taken back"], (await ReadAsync(client, "?node=hall&text=taken%20back")).Select(e => e.Text));
    }

    [Fact]
    public async Task Every_word_is_looked_for_in_any_case_and_older_ones_are_asked_for()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        for (var i = 0; i < 3; i++)
        {
            await DoAsync(client, Log, new NoteRequest($"Cells of the cistern changed, set {i}", i == 0 ? "cistern" : null));
            await Task.Delay(5);
        }
        var found = await ReadAsync(client, "?text=CELLS%20owner%20set");
        Assert.Equal(["set 2", "set 1", "set 0"], found.Select(e => e.Text[^5..]));
        Assert.Equal(["set 0"], (await ReadAsync(client, $"?text=cells&before={found[1].AtMs}")).Select(e => e.Text[^5..]));
        Assert.Empty(await ReadAsync(client, "?text=cells%20nowhere"));
        var markdown = await client.GetStringAsync($"{Log}/md?text=cells");
        Assert.StartsWith("# Log of Fernhollow", markdown);
        Assert.Contains("**Cistern level** Cells of the cistern changed, set 0 (owner)", markdown);
        Assert.Equal(5, (await client.GetStringAsync($"{Log}/csv?text=cells")).Split("\r\n").Length);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync($"{Log}/pdf")).StatusCode);
    }

    /// <summary>A node that was removed comes back with all it had, needs a new key, and what was sent before is still there.</summary>
    [Fact]
    public async Task What_was_removed_is_put_back_from_the_log_after_other_changes()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var design = server.Book.Find("home")!.Design;
        async Task ApplyAsync(params DesignEdit[] edits) =>
            Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, edits, "owner"));
        using (var node = await server.NodeAsync("hall"))
        {
            await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":21}]""");
        }
        await ApplyAsync(new RemoveNode("hall"));
        await ApplyAsync(new PutRule(design.Rule("rack-too-warm")! with { Label = "Changed since" }));
        async Task<List<LogEntry>> EntriesAsync() => [.. (await owner.GetFromJsonAsync<LogPage>("/api/sites/home/log", CenoticJson.Options))!.Entries];
        var entry = (await EntriesAsync()).Single(e => e.CanBeTakenBack);
        Assert.Equal($"Node {design.Node("hall")!.Label} removed", entry.Text);
        var viewer = await server.ClientAsync("viewer");
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.PostAsync($"/api/sites/home/log/entries/{entry.Id}/take-back", null)).StatusCode);
        var answer = await owner.PostAsync($"/api/sites/home/log/entries/{entry.Id}/take-back", null);
        Assert.Equal(
            $"Node {design.Node("hall")!.Label}: back again. Its node key became void when it was removed: make a new one.",
            (await answer.Content.ReadFromJsonAsync<TakenBack>(CenoticJson.Options))!.Says
        );
        var after = server.Book.Find("home")!.Design;
        Assert.Equal(JsonSerializer.Serialize(design.Node("hall"), CenoticJson.Options), JsonSerializer.Serialize(after.Node("hall"), CenoticJson.Options));
        Assert.Equal("Changed since", after.Rule("rack-too-warm")!.Label);
        Assert.Equal(
            21,
            (await owner.GetFromJsonAsync<List<ReadingView>>("/api/sites/home/readings", CenoticJson.Options))!
                .Single(r => r is { Node: "hall", Key: "temp" })
                .Newest!.Value
        );
        Assert.DoesNotContain(await EntriesAsync(), e => e.CanBeTakenBack);
        Assert.Equal(HttpStatusCode.NotFound, (await owner.PostAsync($"/api/sites/home/log/entries/{entry.Id}/take-back", null)).StatusCode);
    }

    [Fact]
    public async Task A_note_that_is_none_is_refused_one_too_many_is_removed_and_a_viewer_only_reads()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        foreach (
            var (note, why) in new[]
            {
                (new NoteRequest("  "), "needs words"),
                (new NoteRequest(new string('x', 4001)), "at most 4000"),
                (new NoteRequest("x", "nowhere"), "no node"),
            }
        )
        {
            var answer = await client.PostAsync(Log, RunningServer.Body(note));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains(why, await answer.Content.ReadAsStringAsync());
        }
        await DoAsync(client, Log, new NoteRequest("<b>bold</b>"));
        var viewer = await server.ClientAsync("viewer");
        var note1 = (await ReadAsync(viewer)).Single(e => e.Kind == LogKind.Note);
        Assert.Equal("<b>bold</b>", note1.Text);
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.PostAsync(Log, RunningServer.Body(new NoteRequest("x")))).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync($"{Log}/notes/{note1.Id.Split('-')[1]}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.DeleteAsync($"{Log}/notes/{note1.Id.Split('-')[1]}")).StatusCode);
        Assert.DoesNotContain(await ReadAsync(viewer), e => e.Kind == LogKind.Note);
    }
}
