using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.BringUp;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.BringUp;

/// <summary>Calibrations in force: what comes and what is stored, samples and rollups, and back.</summary>
public class CalibrationTests
{
    private const string Drying = "/api/sites/home/nodes/drying",
        Air = "temp";

    private static CalibrationRequest Two(long? from = null) =>
        new(Air, CalibrationKind.TwoPoints, [new(0.5, 0), new(98.5, 100)], 0.1, "ice and steam", from, 12);

    private static async Task<RecomputeView> PutAsync(HttpClient client, CalibrationRequest request)
    {
        var answer = await client.PostAsync($"{Drying}/calibrations", RunningServer.Body(request));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return (await answer.Content.ReadFromJsonAsync<RecomputeView>(CenoticJson.Options))!;
    }

    private static async Task<CalibratedReading> ViewAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<CalibrationsView>($"{Drying}/calibrations", CenoticJson.Options))!.Readings.Single(r => r.Reading == Air);

    private static long Now => DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();

    private sealed record Stored(long T, double Raw, double Value);

    private static Task<List<Stored>> StoredAsync(RunningServer server) =>
        server.QueryAsync(s =>
            s.Database.SqlQuery<Stored>(
                    $"""
                    SELECT t AS T, raw AS Raw, value AS Value FROM samples JOIN readings r ON r.Id = reading_id WHERE r.Node = 'drying' AND r.Key =
                        {Air} ORDER BY t
                    """
                )
                .ToListAsync()
        );

    private static async Task AssertWholeAsync(RunningServer server)
    {
        // The check of the store holds every hour against its samples.
        var report = await server.Services.GetRequiredService<StoreCheck>().RunAsync(CancellationToken.None);
        Assert.Empty(report!.Faults);
    }

    [Fact]
    public async Task What_comes_is_corrected_what_came_before_too_when_wanted_and_taken_back_all_is_as_it_was()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var node = await server.NodeAsync("drying");
        var start = Now - 7_200_000;
        Task Send(long t, double value) => RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","t":{{t / 1000.0}},"v":{{value}}}]""");
        for (var i = 0; i < 20; i++)
        {
            await Send(start + i * 300_000L, 20 + i);
        }
        Assert.Equal(HttpStatusCode.OK, (await client.PostAsync($"{Drying}/calibrations/try", RunningServer.Body(Two()))).StatusCode);
        Assert.Equal(
            "1.02041 × raw − 0.510204 °C",
            (
                await (await client.PostAsync($"{Drying}/calibrations/try", RunningServer.Body(Two()))).Content.ReadFromJsonAsync<CalibrationTrial>(
                    CenoticJson.Options
                )
            )!.Formula
        );
        var done = await PutAsync(client, Two(start + 10 * 300_000L));
        Assert.Equal((false, 1.0, null, 10L), (done.Running, done.Share, done.Fault, done.Samples));
        await Send(Now, 50);
        var stored = await StoredAsync(server);
        Assert.Equal(21, stored.Count);
        Assert.All(stored, s => Assert.Equal(s.T < start + 10 * 300_000L ? s.Raw : (s.Raw - 0.5) / 0.98, s.Value, 1e-9));
        var minutes = await server.QueryAsync(s =>
            s.Database.SqlQuery<Stored>(
                    $"""
                    SELECT last_t AS T, low AS Raw, last AS Value FROM rollups JOIN readings r ON r.Id = reading_id WHERE step = 60000 AND r.Node =
                        'drying' AND r.Key = {Air} ORDER BY t
                    """
                )
                .ToListAsync()
        );
        Assert.Equal(stored.Select(s => (s.T, s.Value, s.Value)), minutes.Select(m => (m.T, m.Raw, m.Value)));
        await AssertWholeAsync(server);
        var view = Assert.Single((await ViewAsync(client)).History);
        Assert.Equal(("owner", "ice and steam", true, false), (view.Who, view.Against, view.InForce, view.Due));
        Assert.Equal(DateTimeOffset.FromUnixTimeMilliseconds(view.AtMs).AddMonths(12).ToUnixTimeMilliseconds(), view.DueMs);
        Assert.Equal(HttpStatusCode.OK, (await client.PostAsync($"{Drying}/calibrations/{view.Id}/undo", null)).StatusCode);
        Assert.All(await StoredAsync(server), s => Assert.Equal(s.Raw, s.Value));
        await AssertWholeAsync(server);
        view = Assert.Single((await ViewAsync(client)).History);
        Assert.Equal(("owner", false), (view.UndoneBy, view.InForce));
        Assert.Contains("taken back already", await (await client.PostAsync($"{Drying}/calibrations/{view.Id}/undo", null)).Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task The_latest_that_began_counts_also_after_a_restart_and_another_part_in_its_place_ends_it()
    {
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            var client = await server.ClientAsync("owner");
            await PutAsync(client, Two(1000));
            await PutAsync(client, new(Air, CalibrationKind.Offset, [new(20, 21)], 0.1, "the good one", 2000));
        }
        await using (var server = await RunningServer.StartAsync(folder))
        {
            var client = await server.ClientAsync("owner");
            var node = await server.NodeAsync("drying");
            await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","v":30}]""");
            Assert.Equal(31, (await StoredAsync(server)).Single().Value, 1e-9);
            Assert.Equal([true, false], (await ViewAsync(client)).History.Select(h => h.InForce));
            var design = server.Book.Find("home")!.Design.Node("drying")!;
            var part = design.Part(design.Reading(Air)!.Part)!;
            async Task Edit(PartInstance instance) =>
                Assert.Equal(
                    HttpStatusCode.OK,
                    (
                        await client.PostAsync(
                            "/api/sites/home/edits",
                            RunningServer.Body(new EditRequest(server.Book.Find("home")!.Revision, [new PutPart("drying", instance)]))
                        )
                    ).StatusCode
                );
            await Edit(part with { Label = "Renamed" });
            // What an edit ends is written before the write that is asked for next.
            await server.Services.GetRequiredService<WriteGate>().WriteAsync(_ => Task.CompletedTask);
            Assert.All((await ViewAsync(client)).History, h => Assert.Null(h.UntilMs));
            await Edit(part with { Part = "bme680" });
            await RunningServer.UntilAsync(async () => (await ViewAsync(client)).History.All(h => h.UntilMs is not null && !h.InForce), "another part ends it");
            await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","v":40}]""");
            Assert.Equal([31.0, 40.0], (await StoredAsync(server)).Select(s => Math.Round(s.Value, 9)));
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_recompute_that_is_ended_leaves_every_value_and_no_calibration()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var id = server.Book.Find("home")!.Readings[("drying", Air)].Id;
        // Half a year of minutes, put in as the writer would have.
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(async store =>
                await store.Database.ExecuteSqlAsync(
                    $"""
                    WITH RECURSIVE minutes(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM minutes WHERE i < 259999)
                    INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id)
                        SELECT {id}, 1700000000000 + i * 60000, 0, i % 400 / 10.0, i % 400 / 10.0, 0, 0 FROM minutes
                    """
                )
            );
        // Stopped while it runs, before its answer comes.
        var begun = client.PostAsync($"{Drying}/calibrations", RunningServer.Body(Two(0)));
        await RunningServer.UntilAsync(
            () => Task.FromResult(server.Services.GetRequiredService<Calibrations>().Work("home", "drying") is not null),
            "it has begun"
        );
        await client.PostAsync($"{Drying}/calibrations/stop", null);
        await RunningServer.UntilAsync(
            async () => (await client.GetFromJsonAsync<CalibrationsView>($"{Drying}/calibrations", CenoticJson.Options))!.Work is { Running: false },
            "it ends"
        );
        var work = (await client.GetFromJsonAsync<CalibrationsView>($"{Drying}/calibrations", CenoticJson.Options))!.Work!;
        Assert.Equal(HttpStatusCode.OK, (await begun).StatusCode);
        Assert.Contains("as they were", work.Fault);
        Assert.InRange(work.Share, 0, 0.9);
        Assert.Empty((await ViewAsync(client)).History);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE value <> raw"));
        // To its end it corrects them all, and while it runs a second one is refused.
        var first = client.PostAsync($"{Drying}/calibrations", RunningServer.Body(Two(0)));
        await RunningServer.UntilAsync(
            () => Task.FromResult(server.Services.GetRequiredService<Calibrations>().Work("home", "drying") is { Running: true }),
            "the first has begun"
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsync($"{Drying}/calibrations", RunningServer.Body(Two(0)))).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await first).StatusCode);
        await RunningServer.UntilAsync(
            async () =>
                (await client.GetFromJsonAsync<CalibrationsView>($"{Drying}/calibrations", CenoticJson.Options))!.Work
                    is { Running: false, Fault: null, Share: 1 },
            "it is done"
        );
        Assert.Equal(260_000, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE abs(value - (raw - 0.5) / 0.98) < 1e-9"));
        await AssertWholeAsync(server);
    }

    [Fact]
    public async Task What_makes_no_calibration_is_refused_with_its_reason_and_nothing_is_kept()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        foreach (
            var (request, why) in new (CalibrationRequest, string)[]
            {
                (Two() with { Points = [new(5, 1), new(5, 2)] }, "same raw value"),
                (Two(Now + 3_600_000), "not from a later one"),
                (Two() with { Reading = "nothing" }, "no reading"),
                (Two() with { Kind = CalibrationKind.Scale, Points = [new(5, 1)] }, "like that"),
                (Two() with { DueMonths = 0 }, "1 to 120 months"),
                (Two() with { Against = new string('x', 201) }, "200 characters"),
            }
        )
        {
            var answer = await client.PostAsync($"{Drying}/calibrations", RunningServer.Body(request));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains(why, await answer.Content.ReadAsStringAsync());
        }
        Assert.Empty((await ViewAsync(client)).History);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/nodes/nowhere/calibrations")).StatusCode);
    }

    [Fact]
    public async Task Whether_a_sensor_has_settled_is_told_from_its_raw_values()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var node = await server.NodeAsync("drying");
        Assert.Equal(new SteadyView(null, null, null), await client.GetFromJsonAsync<SteadyView>($"{Drying}/readings/{Air}/steadiness", CenoticJson.Options));
        var records = string.Join(
            ',',
            Enumerable.Range(0, Steadiness.Window).Select(i => $$"""{"n":"{{Air}}","t":{{(Now - 60_000) / 1000 + i}},"v":{{20 + i % 2 * 0.01}}}""")
        );
        await RunningServer.PublishAsync(node, "drying", $"[{records}]");
        var view = (await client.GetFromJsonAsync<SteadyView>($"{Drying}/readings/{Air}/steadiness", CenoticJson.Options))!;
        Assert.True(view.Steadiness!.Steady);
        Assert.Equal((20.005, 20.01, Steadiness.Window), (Math.Round(view.Steadiness.Mean, 6), view.Raw, view.Steadiness.Count));
    }

    [Fact]
    public async Task A_node_that_corrects_itself_is_taken_at_its_word_and_told_what_it_does_not_have_yet()
    {
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            var client = await server.ClientAsync("owner");
            var node = await server.NodeAsync("drying");
            var design = server.Book.Find("home")!.Design.Node("drying")!;
            Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", 1, [SetNodes.As(design) with { CorrectsItself = true }], "owner"));
            async Task<NodeProgramView> Program() => (await client.GetFromJsonAsync<NodeProgramView>($"{Drying}/program", CenoticJson.Options))!;
            await client.PostAsync($"{Drying}/bundle", null);
            var flashed = (await Program()).Hash;
            await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"sys/cfg","vs":"{{flashed}}"},{"n":"sys/boot","v":1},{"n":"sys/seq","v":1}]""");
            Assert.Empty((await Program()).Findings);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsync($"{Drying}/calibrations", RunningServer.Body(Two(0)))).StatusCode);
            await PutAsync(client, Two());
            var finding = Assert.Single((await Program()).Findings);
            Assert.Equal("NODE-OTHER-PLAN", finding.Code);
            Assert.Contains("Calibration of Air temperature: none there, 1.02", finding.Why);
            await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","v":21.5}]""");
            Assert.Equal((21.5, 21.5), (await StoredAsync(server)).Select(s => (s.Raw, s.Value)).Last());
        }
        // After a start too.
        await using (var again = await RunningServer.StartAsync(folder))
        {
            var node = await again.NodeAsync("drying");
            await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","v":22.5}]""");
            Assert.Equal((22.5, 22.5), (await StoredAsync(again)).Select(s => (s.Raw, s.Value)).Last());
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task Two_readings_are_compared_over_the_stretch_they_stood_together()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var node = await server.NodeAsync("drying");
        for (var i = 40; i > 0; i--)
        {
            var (t, truth) = ((Now - i * 60_000L) / 1000.0, 20 + 2 * Math.Sin(i / 5.0));
            await RunningServer.PublishAsync(
                node,
                "drying",
                FormattableString.Invariant($$"""[{"n":"rack1","t":{{t}},"v":{{truth + 0.6:0.000}}},{"n":"rack2","t":{{t}},"v":{{truth:0.000}}}]""")
            );
        }
        var found = (await client.GetFromJsonAsync<SideResult>($"{Drying}/readings/rack1/side-by-side?other=drying/rack2&hours=1", CenoticJson.Options))!;
        Assert.Equal(0.6, found.Offset.Value!.Value, 0.01);
        Assert.Equal(1, found.Gain.Value!.Value, 0.01);
        Assert.Equal(CalibrationKind.Offset, found.Kind);
        foreach (var bad in new[] { "other=drying/rh&hours=1", "other=drying/rack1&hours=1", "other=nowhere&hours=1", "other=drying/rack2&hours=0" })
        {
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"{Drying}/readings/rack1/side-by-side?{bad}")).StatusCode);
        }
    }

    [Fact]
    public async Task Beyond_the_ends_of_a_table_a_value_is_marked_also_of_the_past()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        using var node = await server.NodeAsync("drying");
        foreach (var value in new[] { 5, 25, 45 })
        {
            await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","v":{{value}}}]""");
        }
        await PutAsync(client, new(Air, CalibrationKind.Table, [new(10, 11), new(20, 22), new(40, 41)], 0.1, "three baths", 0));
        await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","v":50}]""");
        await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"{{Air}}","v":30}]""");
        Assert.Equal(
            [5.0, 45, 50],
            await server.QueryAsync(s => s.Database.SqlQuery<double>($"SELECT raw AS Value FROM samples WHERE flags & 64 ORDER BY raw").ToListAsync())
        );
        var id = (await ViewAsync(client)).History.Single().Id;
        (await client.PostAsync($"{Drying}/calibrations/{id}/undo", null)).EnsureSuccessStatusCode();
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE flags & 64"));
    }

    [Fact]
    public async Task Of_a_second_point_only_what_came_since_the_first_is_looked_at()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        using var node = await server.NodeAsync("drying");
        var start = (Now - 60_000) / 1000;
        string Record(int at, double value) => FormattableString.Invariant($$"""{"n":"{{Air}}","t":{{start + at}},"v":{{value + at % 2 * 0.01}}}""");
        Task Send(int from, int count, double value) =>
            RunningServer.PublishAsync(node, "drying", $"[{string.Join(',', Enumerable.Range(from, count).Select(i => Record(i, value)))}]");
        await Send(0, 12, 20);
        Task<SteadyView?> Look(string query) => client.GetFromJsonAsync<SteadyView>($"{Drying}/readings/{Air}/steadiness{query}", CenoticJson.Options);
        var first = (await Look(""))!;
        var again = $"?since={first.NewestMs}&raw=20.005&spread=0.005";
        Assert.Null((await Look(again))!.Steadiness);
        await Send(12, 12, 20);
        Assert.Equal((true, false), ((await Look(again))!.Steadiness!.Steady, (await Look(again))!.Steadiness!.Anew));
        await Send(24, 12, 40);
        Assert.True((await Look($"?since={(start + 23) * 1000}&raw=20.005&spread=0.005"))!.Steadiness is { Steady: true, Anew: true });
    }
}
