using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Alerts;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Watch;

/// <summary>Readings that are worked out, through the running program: live, over what was
/// stored before, after a kill, and as rules and views see them.</summary>
public class DeriverTests
{
    private const string Home = "/api/sites/home";
    private static readonly ReadingRef Rack = new("drying", "rack1"),
        Other = new("drying", "rack2"),
        Hall = new("hall", "temp");

    private static async Task ApplyAsync(RunningServer server, params DesignEdit[] edits) =>
        Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, edits, "test"));

    private static Task StoreAsync(RunningServer server, ReadingRef reading, long t, double v) => StoreAsync(server, reading.Node, t, (reading.Reading, v));

    private static Task StoreAsync(RunningServer server, string node, long t, params (string Key, double V)[] values)
    {
        var records = string.Join(",", values.Select(v => FormattableString.Invariant($$"""{"n":"{{v.Key}}","t":{{t / 1000.0}},"v":{{v.V}}}""")));
        return server
            .Services.GetRequiredService<SampleWriter>()
            .StoreAsync(server.Services.GetRequiredService<Intake>().Decode("home", node, System.Text.Encoding.UTF8.GetBytes($"[{records}]")));
    }

    private static Task<List<(long T, double V, SampleFlags Flags)>> ValuesAsync(RunningServer server, string key) =>
        server.QueryAsync(async s =>
        {
            var id = server.Book.Find("home")!.Readings[(DerivedDesign.Node, key)].Id;
            return (
                await s.Database.SqlQuery<Stored>($"SELECT t AS T, value AS V, flags AS Flags FROM samples WHERE reading_id = {id} ORDER BY t, n").ToListAsync()
            )
                .Select(r => (r.T, r.V, (SampleFlags)r.Flags))
                .ToList();
        });

    private sealed record Stored(long T, double V, int Flags);

    private static async Task<List<(long T, double V, SampleFlags Flags)>> UntilAsync(RunningServer server, string key, int count)
    {
        await RunningServer.UntilAsync(async () => (await ValuesAsync(server, key)).Count >= count, $"{key} has {count} values");
        return await ValuesAsync(server, key);
    }

    private static long Now(RunningServer server) => server.Services.GetRequiredService<SiteClock>().Now("home") / 1000 * 1000;

    [Fact]
    public async Task It_is_stored_like_what_is_measured_and_a_rule_and_a_view_take_it()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var warmer = new ReadingRef(DerivedDesign.Node, "warmer");
        await ApplyAsync(
            server,
            new PutDerived(new("warmer", "Warmer than the hall", new SumOf([new(Rack, 1), new(Hall, -1)]), 1)),
            new PutRule(new("gap", "Rack far warmer", DerivedDesign.Node, "warmer", new BeyondLimit(LimitSide.Above, 10, 8, 0), "", true)),
            new PutView(new("mine", "Mine", [new("t", null, 2, 2, new LineTile([warmer]))]))
        );
        // Nothing is there yet to be worked out of: its past is soon done.
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM derived_states") == 1, "its past is worked out");
        var t = Now(server) - 60_000;
        await StoreAsync(server, Hall, t, 20);
        await StoreAsync(server, Rack, t + 1_000, 29);
        await StoreAsync(server, Rack, t + 11_000, 31);
        Assert.Equal([(t + 1_000, 9, SampleFlags.None), (t + 11_000, 11, SampleFlags.None)], await UntilAsync(server, "warmer", 2));
        await RunningServer.UntilAsync(
            async () => await server.QueryAsync(s => s.Episodes.AnyAsync(e => e.Rule == "gap" && e.RaisedMs == t + 11_000 && e.Value == 11)),
            "the rule raised"
        );
        var reading = (await owner.GetFromJsonAsync<List<ReadingView>>($"{Home}/readings", CenoticJson.Options))!.Single(r =>
            (r.Node, r.Key) == (DerivedDesign.Node, "warmer")
        );
        Assert.Equal(("Warmer than the hall", "Worked out", "°C", 11.0), (reading.Label, reading.NodeLabel, reading.Unit, reading.Newest!.Value));
        Assert.Equal("a − b", Assert.Single(reading.Derived).Working.Formula);
        var data = (await owner.GetFromJsonAsync<ViewData>($"{Home}/views/mine/data?from={t}&to={t + 60_000}&points=100", CenoticJson.Options))!;
        Assert.Equal([9, 11], data.Tiles[0].Lines.Single().Line.Mean);
        Assert.Equal(10, data.Tiles[0].Thresholds.Single().Limit);
        Assert.Contains(
            "derived,warmer",
            (await owner.GetStringAsync($"{Home}/samples/csv?from={t}&to={t + 60_000}&reading=derived/warmer")).Replace('/', ',')
        );
    }

    [Fact]
    public async Task What_was_stored_before_is_worked_out_once_tried_on_the_past_and_raises_nothing_live()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var t = Now(server) - 3_600_000;
        for (var i = 0; i < 30; i++)
        {
            await StoreAsync(server, "drying", t + i * 60_000, ("rack1", 20 + i), ("rack2", 20));
        }
        // A faulty value is left out; one that came late has its place.
        await StoreAsync(server, Rack, t + 90_500, 85);
        await StoreAsync(server, Rack, t + 120_500, 22.5);
        var rule = new RuleDesign("gap", "Apart", DerivedDesign.Node, "apart", new BeyondLimit(LimitSide.Above, 15, 14, 0), "", true);
        await ApplyAsync(server, new PutDerived(new("apart", "Apart", new SumOf([new(Rack, 1), new(Other, -1)]), 1)), new PutRule(rule));
        var values = await UntilAsync(server, "apart", 31);
        Assert.Equal([0, 1, 2, 2.5, 3], values.Take(5).Select(v => v.V));
        Assert.All(values, v => Assert.Equal(SampleFlags.WorkedOutLater, v.Flags));
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM derived_states") == 1, "its past is worked out");
        var trial = (
            await (await owner.PostAsync($"{Home}/rules/trial", RunningServer.Body(new TrialRequest(rule, 1)))).Content.ReadFromJsonAsync<TrialView>(
                CenoticJson.Options
            )
        )!;
        Assert.Equal(t + 16 * 60_000, Assert.Single(trial.Result!.Episodes).RaisedMs);
        // What goes on is judged; the past was not told as if it were now.
        await StoreAsync(server, "drying", t + 45 * 60_000, ("rack1", 30), ("rack2", 20));
        Assert.Equal((t + 45 * 60_000, 10, SampleFlags.None), (await UntilAsync(server, "apart", 32))[^1]);
        Assert.False(await server.QueryAsync(s => s.Episodes.AnyAsync(e => e.Rule == "gap")));
        // Taken away and brought back by undo: what went by meanwhile is past.
        var removed = Assert.IsType<BatchResult.Done>(
            await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new RemoveDerived("apart")], "test")
        );
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM derived_states") == 0, "its state is forgotten");
        await StoreAsync(server, "drying", t + 46 * 60_000, ("rack1", 40), ("rack2", 20));
        await ApplyAsync(server, [.. removed.Inverse]);
        Assert.Equal((t + 46 * 60_000, 20, SampleFlags.WorkedOutLater), (await UntilAsync(server, "apart", 33))[^1]);
        Assert.False(await server.QueryAsync(s => s.Episodes.AnyAsync(e => e.Rule == "gap")));
        // Another formula: all of it anew.
        await ApplyAsync(server, new PutDerived(new("apart", "Together", new SumOf([new(Rack, 1), new(Other, 1)]), 1)));
        await RunningServer.UntilAsync(async () => await ValuesAsync(server, "apart") is { Count: 33 } all && all.All(v => v.V >= 40), "it is worked out anew");
        Assert.Equal(
            33,
            await server.CountAsync($"SELECT sum(n) AS Value FROM rollups r JOIN readings d ON d.Id = r.reading_id WHERE d.Key = 'apart' AND r.step = 3600000")
        );
    }

    [Fact]
    public async Task A_sum_over_time_goes_on_after_a_restart_and_nothing_is_counted_twice()
    {
        var folder = RunningServer.NewFolder();
        long t;
        await using (var server = await RunningServer.StartAsync(folder))
        {
            await ApplyAsync(server, new PutDerived(new("hours", "Warm hours", new RunningHoursOf(Rack, 25), 2)));
            await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM derived_states") == 1, "its past is worked out");
            t = Now(server) - 300_000;
            // A rack that is not heard for half a minute is not taken to be warm on.
            foreach (var at in new[] { 0, 20_000, 40_000, 60_000 })
            {
                await StoreAsync(server, Rack, t + at, 30);
            }
            Assert.Equal(60 / 3600.0, (await UntilAsync(server, "hours", 2))[^1].V, 1e-9);
        }
        await using (var again = await RunningServer.StartAsync(folder))
        {
            // As after a kill between storing a value and keeping how far it came: the last is worked out once more.
            await again.QueryAsync(s => s.Database.ExecuteSqlAsync($"UPDATE derived_states SET Arrival = 0"));
        }
        await using (var last = await RunningServer.StartAsync(folder))
        {
            // Between the minutes only its stop is told.
            await StoreAsync(last, Rack, t + 70_000, 30);
            await StoreAsync(last, Rack, t + 80_000, 20);
            await StoreAsync(last, Rack, t + 140_000, 30);
            Assert.Equal(
                [(0, 0), (60_000, 60), (80_000, 80), (140_000, 80)],
                (await UntilAsync(last, "hours", 4)).Select(v => (v.T - t, Math.Round(v.V * 3600, 6)))
            );
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task Presence_ends_by_time_alone_and_one_may_be_worked_out_of_another()
    {
        await using var server = await RunningServer.StartAsync();
        await ApplyAsync(
            server,
            new PutDerived(new("anybody", "Anybody in", new PresenceOf([new("hall", "motion"), new("parcel", "knock")], 1_000), 0)),
            new PutDerived(new("used", "Used", new RunningHoursOf(new(DerivedDesign.Node, "anybody")), 3))
        );
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT count(*) AS Value FROM derived_states") == 2, "their past is worked out");
        var t = Now(server);
        await StoreAsync(server, new("hall", "motion"), t - 3_000, 1);
        await StoreAsync(server, new("parcel", "knock"), t - 2_000, 1);
        await StoreAsync(server, new("hall", "motion"), t - 1_000, 0);
        await StoreAsync(server, new("parcel", "knock"), t, 0);
        Assert.Equal([(t - 3_000, 1, SampleFlags.None), (t + 1_000, 0, SampleFlags.None)], await UntilAsync(server, "anybody", 2));
        Assert.Equal(4 / 3600.0, (await UntilAsync(server, "used", 2))[^1].V, 1e-9);
    }

    [Fact]
    public async Task Lost_messages_of_a_node_are_a_reading_too_and_a_look_tells_what_it_would_be()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        using var node = await server.NodeAsync("drying");
        foreach (var number in new[] { 1, 2, 3, 5, 7, 8, 9, 10 })
        {
            await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"rack1","v":{{number}}},{"n":"sys/boot","v":1},{"n":"sys/seq","v":{{number}}}]""");
        }
        await ApplyAsync(server, new PutDerived(new("lost", "Lost", new LostShareOf("drying", 3_600_000), 0)));
        Assert.Equal(20, (await UntilAsync(server, "lost", 1))[0].V, 1e-9);
        async Task<DerivedTrialView> Look(DerivedFrom from) =>
            (
                await (await owner.PostAsync($"{Home}/derived/look", RunningServer.Body(new DerivedTrial(from)))).Content.ReadFromJsonAsync<DerivedTrialView>(
                    CenoticJson.Options
                )
            )!;
        Assert.Equal(20, (await Look(new SumOf([new(Rack, 2)]))).Now!.Value);
        Assert.Contains("named twice", Assert.Single((await Look(new DewPointOf(Rack, Rack))).Reasons));
        Assert.Contains("%RH", Assert.Single((await Look(new DewPointOf(Rack, Other))).Reasons));
        Assert.Equal(
            "Lost",
            (await owner.GetFromJsonAsync<List<DerivedView>>($"{Home}/derived", CenoticJson.Options))!.Single(d => d.Derived.Key == "lost").Derived.Label
        );
        Assert.Equal(HttpStatusCode.NoContent, (await owner.PostAsync($"{Home}/derived/lost/again", null)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await owner.PostAsync($"{Home}/derived/nothing/again", null)).StatusCode);
    }

    [Fact]
    public async Task A_sum_of_unlike_units_is_refused()
    {
        await using var server = await RunningServer.StartAsync();
        var refused = await server.Book.ApplyAsync(
            "home",
            1,
            [new PutDerived(new("mix", "Mix", new SumOf([new(Rack, 1), new(new("drying", "rh"), 1)]), 1))],
            "test"
        );
        Assert.Contains("in °C and", Assert.Single(Assert.IsType<BatchResult.Refused>(refused).Reasons));
    }
}
