using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Ingest;
using Cenotic.Server.Log;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Samples;

/// <summary>Boards that were swapped, repeats, units, events and values that no part measures: by a real client over HTTP.</summary>
public class NewLifeTests
{
    private static async Task<Func<string, Task<Taken>>> SenderAsync(RunningServer server, string node)
    {
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", node);
        var client = new HttpClient { BaseAddress = server.Started.Web };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
            "Basic",
            Convert.ToBase64String(Encoding.UTF8.GetBytes($"home/{node}:{key}"))
        );
        return async body =>
            (await (await client.PostAsync($"/api/intake/home/{node}", new StringContent(body))).Content.ReadFromJsonAsync<Taken>(CenoticJson.Options))!;
    }

    private static Task<List<double>> ValuesAsync(RunningServer server, string key) =>
        server.QueryAsync(s =>
            s.Database.SqlQuery<double>(
                    $"SELECT value AS Value FROM samples WHERE reading_id = (SELECT Id FROM readings WHERE Node = 'hall' AND Key = {key}) ORDER BY arrival_id"
                )
                .ToListAsync()
        );

    private static string Reset(string? reset) => reset is null ? "" : $$""",{"n":"sys/rst","vs":"{{reset}}"}""";

    private static string Message(int boot, int number, double value, string? reset = null) =>
        FormattableString.Invariant($$"""[{"n":"temp","v":{{value}}},{"n":"sys/boot","v":{{boot}}},{"n":"sys/seq","v":{{number}}}{{Reset(reset)}}]""");

    [Fact]
    public async Task A_board_that_was_swapped_is_heard_and_a_repeat_is_told()
    {
        await using var server = await RunningServer.StartAsync();
        var send = await SenderAsync(server, "hall");
        foreach (var (number, value) in new[] { (1, 20.0), (2, 20.5), (3, 21.0) })
        {
            Assert.False((await send(Message(1, number, value))).Repeated);
        }
        // The same once more is a repeat: acknowledged, said so, not stored twice.
        Assert.True((await send(Message(1, 3, 21.0))).Repeated);
        // Its flash was erased: the numbers begin again, what it says is new.
        foreach (var (number, value) in new[] { (1, 15.0), (2, 15.5), (3, 16.0) })
        {
            Assert.False((await send(Message(1, number, value))).Repeated);
        }
        Assert.Equal([20, 20.5, 21, 15, 15.5, 16], await ValuesAsync(server, "temp"));
        // A start that says why, with a lower count, is a new life at its first message.
        await send(Message(9, 1, 17));
        await send(Message(2, 1, 18, "power-on"));
        var owner = await server.ClientAsync("owner");
        var page = (await owner.GetFromJsonAsync<NodeView>("/api/sites/home/nodes/hall/messages", CenoticJson.Options))!;
        Assert.Equal((1, true, true), (page.Status.Repeats, page.Status.RepeatMs is not null, page.Status.LifeMs is not null));
        Assert.Equal((0L, 8L), (page.Lost!.Value, page.Received));
        var entry = Assert.Single((await owner.GetFromJsonAsync<LogPage>("/api/sites/home/log", CenoticJson.Options))!.Entries, e =>
            e.Text.StartsWith("Its counts began anew", StringComparison.Ordinal)
        );
        Assert.Contains("start 1, message 1, after start 1, message 3", entry.Text);
    }

    [Fact]
    public async Task A_new_life_stands_over_a_restart()
    {
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            var send = await SenderAsync(server, "hall");
            await send(Message(1, 1, 20));
            await send(Message(1, 1, 15));
        }
        await using (var server = await RunningServer.StartAsync(folder))
        {
            var send = await SenderAsync(server, "hall");
            Assert.True((await send(Message(1, 1, 15))).Repeated);
            Assert.False((await send(Message(1, 2, 16))).Repeated);
            Assert.Equal([20, 15, 16], await ValuesAsync(server, "temp"));
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_counter_that_goes_round_is_no_loss()
    {
        await using var server = await RunningServer.StartAsync();
        var send = await SenderAsync(server, "hall");
        foreach (var number in new long[] { 4_294_967_294, 4_294_967_295, 0, 1 })
        {
            await send($$"""[{"n":"temp","v":20},{"n":"sys/boot","v":3},{"n":"sys/seq","v":{{number}}}]""");
        }
        var heard = await server.QueryAsync(s => NodeHealthReader.HeardAsync(s, "home", 0, long.MaxValue));
        Assert.Equal((4L, 0L), (heard["hall"].Received, heard["hall"].Lost!.Value));
    }

    [Fact]
    public async Task Units_are_honoured_or_refused_and_true_is_no_temperature()
    {
        await using var server = await RunningServer.StartAsync();
        var send = await SenderAsync(server, "hall");
        Assert.Equal(1, (await send("""[{"n":"temp","u":"K","v":293.65}]""")).Samples);
        Assert.Equal(1, (await send("""[{"n":"temp","u":"degF","v":50}]""")).Samples);
        Assert.Equal([20.5, 10], await ValuesAsync(server, "temp"));
        Assert.Contains("is sent in Pa; this reading is in °C", Assert.Single((await send("""[{"n":"temp","u":"Pa","v":20}]""")).Refusals));
        Assert.Contains("is true or false; this reading is a number", Assert.Single((await send("""{"temp": true}""")).Refusals));
        Assert.Contains("is true or false; this reading is a number", Assert.Single((await send("""[{"n":"temp","vb":true}]""")).Refusals));
    }

    [Fact]
    public async Task What_the_part_cannot_measure_is_kept_and_marked()
    {
        await using var server = await RunningServer.StartAsync();
        var send = await SenderAsync(server, "hall");
        await send("""{"temp": 300}""");
        Assert.Equal((long)SampleFlags.Suspect, await server.CountAsync($"SELECT flags & 8 AS Value FROM samples"));
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM rollups"));
    }

    [Fact]
    public async Task Five_knocks_are_five_in_lane_rollup_and_rule()
    {
        await using var server = await RunningServer.StartAsync();
        var hall = server.Book.Find("home")!.Design.Node("hall")!;
        var pinned = hall.Parts.Append(new("clap", "Clap", "clap-detector")).ToList();
        var done = await server.Book.ApplyAsync(
            "home",
            1,
            [
                new PutNode(
                    hall with
                    {
                        Parts = pinned,
                        Readings =
                        [
                            .. hall.Readings,
                            new(
                                "knock",
                                "Knock",
                                "clap",
                                server.Book.Find("home")!.Catalogue.Part("clap-detector")!.Quantities[0].Quantity,
                                null,
                                3_600_000,
                                0
                            ),
                        ],
                    }
                ),
                new PutRule(new("knocks", "Five knocks", "hall", "knock", new EventsWithin(5, 60_000), "", true)),
            ],
            "test"
        );
        Assert.True(done is BatchResult.Done, $"{(done as BatchResult.Refused)?.Reasons[0]}");
        var send = await SenderAsync(server, "hall");
        var from = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();
        for (var i = 0; i < 5; i++)
        {
            await send("""{"knock": 1}""");
        }
        await RunningServer.UntilAsync(async () => await server.QueryAsync(s => s.Episodes.AnyAsync(e => e.Rule == "knocks")), "five knocks raise");
        Assert.Equal(10, await server.CountAsync($"SELECT sum(rises) AS Value FROM rollups"));
        var lane = await server.QueryAsync(s => SeriesReader.StretchesAsync(s, server.Book.Find("home")!, new("hall", "knock"), from - 60_000, from + 60_000));
        Assert.Equal(5, lane.Count);
    }
}
