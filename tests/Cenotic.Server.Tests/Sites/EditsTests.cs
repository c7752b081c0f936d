using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Sites;

namespace Cenotic.Server.Tests.Sites;

public class EditsTests
{
    private static Task<HttpResponseMessage> ApplyAsync(HttpClient client, long revision, params DesignEdit[] edits) =>
        client.PostAsync("/api/sites/home/edits", RunningServer.Body(new EditRequest(revision, edits)));

    private static async Task<T> ReadAsync<T>(HttpResponseMessage answer) => (await answer.Content.ReadFromJsonAsync<T>(CenoticJson.Options))!;

    private static string Json(SiteDesign design) => JsonSerializer.Serialize(design, CenoticJson.Options);

    [Fact]
    public async Task An_edit_is_kept_and_its_inverse_undoes_it()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var before = Json(server.Book.Find("home")!.Design);
        var done = await ReadAsync<EditDone>(await ApplyAsync(client, 1, new RemovePart("drying", "rack2"), new RemoveRule("hall-silent")));
        Assert.Equal(2, done.Revision);
        Assert.Null(server.Book.Find("home")!.Design.Node("drying")!.Part("rack2"));
        var undone = await ReadAsync<EditDone>(await ApplyAsync(client, 2, [.. done.Inverse]));
        Assert.Equal(3, undone.Revision);
        Assert.Equal(before, Json(server.Book.Find("home")!.Design));
        Assert.Equal(2, (await client.GetFromJsonAsync<List<RevisionView>>("/api/sites/home/revisions", CenoticJson.Options))!.Count);
    }

    [Fact]
    public async Task A_batch_on_an_older_revision_is_applied_again_unless_its_documents_changed()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        await ApplyAsync(client, 1, new RemovePart("drying", "rack2"));
        Assert.Equal(HttpStatusCode.OK, (await ApplyAsync(client, 1, new RemovePart("hall", "light"))).StatusCode);
        var late = await ApplyAsync(client, 1, new RemovePart("drying", "rack3"));
        Assert.Equal(HttpStatusCode.Conflict, late.StatusCode);
        Assert.Equal(["node:drying"], (await ReadAsync<EditConflict>(late)).Documents);
        Assert.NotNull(server.Book.Find("home")!.Design.Node("drying")!.Part("rack3"));
    }

    /// <summary>Eight people at once, each on a document of their own: what was accepted is there, on the pages, in the store and after a start.</summary>
    [Fact]
    public async Task Every_edit_that_was_accepted_is_there_whoever_wrote_at_the_same_moment()
    {
        var folder = RunningServer.NewFolder();
        List<string> accepted = [];
        await using (var server = await RunningServer.StartAsync(folder))
        {
            await Task.WhenAll(
                Enumerable
                    .Range(0, 8)
                    .Select(who =>
                        Task.Run(async () =>
                        {
                            for (var i = 0; i < 12; i++)
                            {
                                var key = $"p{who}x{i}";
                                if (
                                    await server.Book.ApplyAsync(
                                        "home",
                                        server.Book.Find("home")!.Revision,
                                        [new PutPerson(new(key, key, [new(WayKind.Mail, "a@example.com")]))],
                                        $"writer {who}"
                                    ) is BatchResult.Done
                                )
                                {
                                    lock (accepted)
                                    {
                                        accepted.Add(key);
                                    }
                                }
                            }
                        })
                    )
            );
            Assert.Equal(96, accepted.Count);
            var people = server.Book.Find("home")!.Design.People.Select(p => p.Key).ToHashSet();
            Assert.All(accepted, key => Assert.Contains(key, people));
            Assert.Equal(97, server.Book.Find("home")!.Revision);
        }
        await using (var again = await RunningServer.StartAsync(folder))
        {
            Assert.Superset(accepted.ToHashSet(), again.Book.Find("home")!.Design.People.Select(p => p.Key).ToHashSet());
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task What_is_wrong_in_a_request_is_said_with_its_field_and_an_unknown_path_is_no_page()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        async Task<(HttpStatusCode, string)> SendAsync(string path, string body)
        {
            var answer = await client.PostAsync(path, new StringContent(body, System.Text.Encoding.UTF8, "application/json"));
            Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
            return (answer.StatusCode, await answer.Content.ReadAsStringAsync());
        }
        var (status, says) = await SendAsync(
            "/api/sites/home/edits",
            """{"revision":1,"edits":[{"kind":"putWire","node":"hall","wire":{"part":"pir","line":"OUT","pin":"R8","hold":"glued"}}]}"""
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains("edits[0].wire.hold", says);
        (status, says) = await SendAsync("/api/sites/home/edits", """{"revision":"one","edits":[]}""");
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains("revision", says);
        Assert.Equal(HttpStatusCode.BadRequest, (await SendAsync("/api/sites/home/edits", "{")).Item1);
        var nothing = await client.GetAsync("/api/nothing/here");
        Assert.Equal((HttpStatusCode.NotFound, "application/problem+json"), (nothing.StatusCode, nothing.Content.Headers.ContentType?.MediaType));
    }

    [Fact]
    public async Task Undo_is_refused_when_its_target_changed_since()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var mine = await ReadAsync<EditDone>(await ApplyAsync(client, 1, new RemovePart("drying", "rack2")));
        await ApplyAsync(client, 2, new RemovePart("drying", "rack3"));
        Assert.Equal(HttpStatusCode.Conflict, (await ApplyAsync(client, mine.Revision, [.. mine.Inverse])).StatusCode);
    }

    [Fact]
    public async Task Nonsense_is_refused_with_sentences_and_nothing_changes()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var refused = await ApplyAsync(client, 1, new RemovePart("drying", "rack2"), new RemovePart("drying", "no-such-part"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("no part \"no-such-part\"", Assert.Single((await ReadAsync<EditRefused>(refused)).Reasons));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await ApplyAsync(client, 99, new RemoveNode("hall"))).StatusCode);
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (
                await client.PostAsync(
                    "/api/sites/home/edits",
                    new StringContent("""{"revision":1,"edits":[{"kind":"dropTables"}]}""", System.Text.Encoding.UTF8, "application/json")
                )
            ).StatusCode
        );
        Assert.Equal(1, server.Book.Find("home")!.Revision);
        Assert.NotNull(server.Book.Find("home")!.Design.Node("drying")!.Part("rack2"));
    }

    [Fact]
    public async Task Two_at_once_never_lose_an_edit()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var answers = await Task.WhenAll(
            Enumerable.Range(0, 20).Select(i => ApplyAsync(client, 1, new PutRoom(new($"room-{i}", $"Room {i}", [new(0, 0), new(1, 0), new(0, 1)], []))))
        );
        var kept = answers.Count(a => a.StatusCode == HttpStatusCode.OK);
        Assert.Equal(20, kept + answers.Count(a => a.StatusCode == HttpStatusCode.Conflict));
        Assert.Equal(kept, server.Book.Find("home")!.Design.Place.Rooms.Count(r => r.Key.StartsWith("room-", StringComparison.Ordinal)));
        Assert.Equal(1 + kept, server.Book.Find("home")!.Revision);
    }

    [Fact]
    public async Task The_site_survives_a_restart_word_for_word()
    {
        var folder = RunningServer.NewFolder();
        string before;
        await using (var server = await RunningServer.StartAsync(folder))
        {
            await ApplyAsync(await server.ClientAsync("owner"), 1, new PutWire("hall", new("pir", "OUT", "R8", WireHold.Locked)));
            before = Json(server.Book.Find("home")!.Design);
        }
        await using (var again = await RunningServer.StartAsync(folder))
        {
            Assert.Equal(before, Json(again.Book.Find("home")!.Design));
            Assert.Equal(2, again.Book.Find("home")!.Revision);
            Assert.Equal(RunningServer.Fernhollow.Evidence.Currents.Count, again.Book.Find("home")!.Evidence.Currents.Count);
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task The_plan_follows_the_design_and_what_was_measured()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        async Task<double> DaysAsync()
        {
            using var plan = JsonDocument.Parse(await client.GetStringAsync("/api/sites/home/plan"));
            return plan.RootElement.GetProperty("plan").GetProperty("nodes")[2].GetProperty("rhythm").GetProperty("life").GetProperty("value").GetDouble();
        }
        var before = await DaysAsync();
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await client.PostAsync(
                    "/api/sites/home/nodes/cistern/currents",
                    RunningServer.Body(
                        new
                        {
                            state = "asleep",
                            milliamps = 0.05,
                            how = "multimeter",
                        }
                    )
                )
            ).StatusCode
        );
        Assert.True(await DaysAsync() > before);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await client.PostAsync(
                    "/api/sites/home/nodes/cistern/currents",
                    RunningServer.Body(
                        new
                        {
                            state = "asleep",
                            milliamps = -1,
                            how = "",
                        }
                    )
                )
            ).StatusCode
        );
    }

    [Fact]
    public async Task Exported_it_reads_back_as_a_site_file()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        Assert.Equal(Json(server.Book.Find("home")!.Design), Json(SiteFiles.Read(await client.GetStringAsync("/api/sites/home/export")).Value.Design));
    }

    [Fact]
    public async Task Pins_are_offered_with_reasons()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        using var choices = JsonDocument.Parse(await client.GetStringAsync("/api/sites/home/nodes/drying/pins?part=fan&line=IN"));
        var offers = choices.RootElement.GetProperty("offers").EnumerateArray().ToList();
        Assert.Equal(38, offers.Count);
        Assert.Contains(offers, o => !o.GetProperty("fits").GetBoolean() && o.GetProperty("refusals")[0].GetString()!.Contains("flash"));
        Assert.NotEqual(JsonValueKind.Null, choices.RootElement.GetProperty("runnerUpPin").ValueKind);
    }

    [Fact]
    public async Task The_interface_document_names_every_edit_and_so_do_the_generated_types()
    {
        await using var server = await RunningServer.StartAsync();
        var document = await (await server.ClientAsync()).GetStringAsync("/openapi/v1.json");
        var root = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(root!.FullName, "Cenotic.slnx")))
        {
            root = root.Parent;
        }
        var types = File.ReadAllText(Path.Combine(root.FullName, "src", "web", "src", "api", "schema.d.ts"));
        foreach (
            System.Text.Json.Serialization.JsonDerivedTypeAttribute edit in typeof(DesignEdit).GetCustomAttributes(
                typeof(System.Text.Json.Serialization.JsonDerivedTypeAttribute),
                false
            )
        )
        {
            Assert.Contains($"\"{edit.TypeDiscriminator}\"", document);
            Assert.Contains($"kind: \"{edit.TypeDiscriminator}\"", types);
        }
    }

    [Fact]
    public async Task The_interface_document_says_that_members_which_are_worked_out_are_always_there()
    {
        await using var server = await RunningServer.StartAsync();
        using var document = JsonDocument.Parse(await (await server.ClientAsync()).GetStringAsync("/openapi/v1.json"));
        var schemas = document.RootElement.GetProperty("components").GetProperty("schemas");
        var computed = typeof(Cenotic.Core.Planning.SitePlan)
            .Assembly.GetExportedTypes()
            .Where(t => schemas.TryGetProperty(t.Name, out var schema) && schema.TryGetProperty("properties", out _))
            .SelectMany(t => t.GetProperties().Where(p => p.CanRead && !p.CanWrite && p.GetGetMethod()!.IsStatic == false).Select(p => (t.Name, p)))
            .Select(m => (Type: m.Name, Member: JsonNamingPolicy.CamelCase.ConvertName(m.p.Name)))
            .Where(m => schemas.GetProperty(m.Type).GetProperty("properties").TryGetProperty(m.Member, out _))
            .ToList();
        Assert.True(computed.Count > 5, $"{computed.Count} members");
        Assert.All(computed, m => Assert.Contains(m.Member, schemas.GetProperty(m.Type).GetProperty("required").EnumerateArray().Select(r => r.GetString())));
    }
}
