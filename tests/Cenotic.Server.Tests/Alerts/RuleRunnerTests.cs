using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Alerts;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Alerts;

public class RuleRunnerTests
{
    private static Task<List<EpisodeRow>> EpisodesAsync(RunningServer server, string rule) =>
        server.QueryAsync(s => s.Episodes.AsNoTracking().Where(e => e.Rule == rule).OrderBy(e => e.Id).ToListAsync());

    private static Task UntilEpisodeAsync(RunningServer server, string rule, Func<EpisodeRow, bool> wanted) =>
        RunningServer.UntilAsync(async () => (await EpisodesAsync(server, rule)).Any(wanted), $"\"{rule}\" has such an episode");

    private static long Seconds(RunningServer server) => server.Services.GetRequiredService<SiteClock>().Now("home") / 1000;

    [Fact]
    public async Task It_raises_with_the_sample_that_breaks_it_clears_and_is_acknowledged()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        var t = Seconds(server) - 20;
        foreach (var (at, v) in new[] { (t, 31.9), (t + 5, 32.1), (t + 10, 31) })
        {
            await RunningServer.PublishAsync(node, "drying", FormattableString.Invariant($$"""[{"n":"rack1","t":{{at}},"v":{{v}}}]"""));
        }
        await UntilEpisodeAsync(server, "rack-too-warm", e => e.RaisedMs == (t + 5) * 1000 && e.Value == 32.1 && e.ClearedMs is null);
        var owner = await server.ClientAsync("owner");
        var id = (await EpisodesAsync(server, "rack-too-warm")).Single().Id;
        Assert.Equal(
            "owner",
            (
                await (await owner.PostAsync($"/api/sites/home/episodes/{id}/acknowledge", null)).Content.ReadFromJsonAsync<EpisodeView>(CenoticJson.Options)
            )!.AcknowledgedBy
        );
        await RunningServer.PublishAsync(node, "drying", $$"""[{"n":"rack1","t":{{t + 15}},"v":30}]""");
        await UntilEpisodeAsync(server, "rack-too-warm", e => e.ClearedMs == (t + 15) * 1000 && e.AcknowledgedBy == "owner");
        Assert.Single(await EpisodesAsync(server, "rack-too-warm"));
    }

    [Fact]
    public async Task Suspect_and_late_samples_raise_nothing()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        var t = Seconds(server) - 20;
        foreach (var (at, v) in new[] { (t, 85.0), (t + 9, 20.0), (t + 5, 50.0), (t + 10, 20.5) })
        {
            await RunningServer.PublishAsync(node, "drying", FormattableString.Invariant($$"""[{"n":"rack1","t":{{at}},"v":{{v}}}]"""));
        }
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT JudgedArrival AS Value FROM sites") >= 4, "all is judged");
        Assert.Empty(await EpisodesAsync(server, "rack-too-warm"));
    }

    [Fact]
    public async Task Silence_raises_by_time_alone_and_survives_a_restart_without_a_second_episode()
    {
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            await server.Book.ApplyAsync("home", 1, [new PutRule(new("quiet", "Quiet", "hall", "light", new SilentFor(1_500), "", true))], "test");
            using var node = await server.NodeAsync("hall");
            await RunningServer.PublishAsync(node, "hall", """[{"n":"light","v":1}]""");
            await UntilEpisodeAsync(server, "quiet", e => e.ClearedMs is null);
        }
        await using (var again = await RunningServer.StartAsync(folder))
        {
            await again.LookedAsync();
            Assert.Single(await EpisodesAsync(again, "quiet"));
            using var node = await again.NodeAsync("hall");
            await RunningServer.PublishAsync(node, "hall", """[{"n":"light","v":2}]""");
            await UntilEpisodeAsync(again, "quiet", e => e.ClearedMs is not null);
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task Switching_a_rule_off_ends_its_open_episode()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        await RunningServer.PublishAsync(node, "drying", """[{"n":"rack1","v":40}]""");
        await UntilEpisodeAsync(server, "rack-too-warm", e => e.ClearedMs is null);
        var rule = server.Book.Find("home")!.Design.Rule("rack-too-warm")!;
        await server.Book.ApplyAsync("home", 1, [new PutRule(rule with { Armed = false })], "test");
        await UntilEpisodeAsync(server, "rack-too-warm", e => e.ClearedMs is not null);
    }

    /// <summary>What was raised by a limit that stands no more is over; the new limit raises for itself, and clears that.</summary>
    [Fact]
    public async Task Another_condition_ends_the_episode_of_the_one_before()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("drying");
        var t = Seconds(server) - 20;
        Task Sends(long at, double v) => RunningServer.PublishAsync(node, "drying", FormattableString.Invariant($$"""[{"n":"rack1","t":{{at}},"v":{{v}}}]"""));
        await Sends(t, 40);
        await UntilEpisodeAsync(server, "rack-too-warm", e => e.ClearedMs is null);
        var rule = server.Book.Find("home")!.Design.Rule("rack-too-warm")!;
        // Another name or note is the same rule still.
        await server.Book.ApplyAsync("home", 1, [new PutRule(rule with { Note = "Look at it." })], "test");
        await Sends(t + 1, 40);
        await server.LookedAsync();
        Assert.Null(Assert.Single(await EpisodesAsync(server, "rack-too-warm")).ClearedMs);
        await server.Book.ApplyAsync("home", 2, [new PutRule(rule with { Condition = new BeyondLimit(LimitSide.Above, 38, 36, 0) })], "test");
        await UntilEpisodeAsync(server, "rack-too-warm", e => e.ClearedMs is not null);
        await Sends(t + 2, 40);
        await UntilEpisodeAsync(server, "rack-too-warm", e => e.ClearedMs is null);
        await Sends(t + 3, 35);
        await RunningServer.UntilAsync(async () => (await EpisodesAsync(server, "rack-too-warm")).All(e => e.ClearedMs is not null), "both are over");
        Assert.Equal(2, (await EpisodesAsync(server, "rack-too-warm")).Count);
    }

    private static async Task StoreFortnightAsync(RunningServer server)
    {
        var (writer, reading, first) = (
            server.Services.GetRequiredService<SampleWriter>(),
            server.Book.Find("home")!.Readings[("drying", "rack1")],
            Seconds(server) / 3600 * 3_600_000 - 14 * 86_400_000L
        );
        var samples = Enumerable
            .Range(0, 14 * 24)
            .Select(h => new DecodedSample(reading.Id, "rack1", reading.Kind, first + h * 3_600_000L, 20 + h % 3 * 0.5, SampleFlags.Imported))
            .ToList();
        await writer.StoreAsync(new("home", "drying", first, 0, null, null, null, null, samples, [], ""));
    }

    [Fact]
    public async Task The_past_as_it_was_told_gives_the_episodes_that_live_gave()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        using var node = await server.NodeAsync("drying");
        var conditions = new RuleCondition[]
        {
            new BeyondLimit(LimitSide.Above, 25, 24, 0),
            new InARow(LimitSide.Above, 25, 24, 2),
            new ChangesFaster(ChangeSide.Rises, 5, 20_000),
            new OutsideBand(15, 26, 1, 0),
        };
        var rules = conditions.Select((c, i) => new RuleDesign($"r{i}", $"Rule {i}", "drying", "rack1", c, "", true)).ToList();
        rules.Add(
            new("both", "Both racks", "drying", "rack1", new BeyondLimit(LimitSide.Above, 22, 20, 0), "", true)
            {
                Also = [new(new("drying", "rack2"), new BeyondLimit(LimitSide.Below, 20, 22, 0))],
            }
        );
        rules.Add(
            new("either", "Either rack", "drying", "rack1", new InARow(LimitSide.Above, 25, 24, 2), "", true)
            {
                Join = RuleJoin.Any,
                Also = [new(new("drying", "rack2"), new ChangesFaster(ChangeSide.Falls, 8, 30_000))],
            }
        );
        rules.Add(new("unlike", "Unlike", "drying", "rack1", new UnlikeUsual(4, 0), "", true));
        // A fortnight of an ordinary rack, from a table, is there to learn from.
        await StoreFortnightAsync(server);
        Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", 1, [.. rules.Select(r => new PutRule(r))], "owner"));
        var (t, random) = (Seconds(server) - 600, new Random(5));
        for (var i = 0; i < 50; i++)
        {
            // Now and then an older value comes after a newer one.
            var at = t + i * 10 - (i % 9 == 4 ? 35 : 0);
            await RunningServer.PublishAsync(
                node,
                "drying",
                FormattableString.Invariant(
                    $$"""[{"n":"rack1","t":{{at}},"v":{{20 + random.Next(-6, 9)}}},{"n":"rack2","t":{{at}},"v":{{20 + random.Next(-6, 9)}}}]"""
                )
            );
        }
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT JudgedArrival AS Value FROM sites") >= 50, "all is judged");
        foreach (var rule in rules)
        {
            async Task<TrialView> Try(bool byTime) =>
                (
                    await (
                        await owner.PostAsync("/api/sites/home/rules/trial", RunningServer.Body(new TrialRequest(rule, 1, byTime)))
                    ).Content.ReadFromJsonAsync<TrialView>(CenoticJson.Options)
                )!;
            var told = await Try(false);
            var live = await EpisodesAsync(server, rule.Key);
            Assert.NotEmpty(live);
            Assert.Equal(live.Select(e => (e.RaisedMs, e.ClearedMs, e.Value)), told.Result!.Episodes.Select(e => (e.RaisedMs, e.ClearedMs, e.Value)));
            // As it happened, the late ones count too.
            Assert.True((await Try(true)).Result!.Samples > told.Result.Samples);
        }
        var refused = (
            await (
                await owner.PostAsync(
                    "/api/sites/home/rules/trial",
                    RunningServer.Body(new TrialRequest(rules[0] with { Condition = new BeyondLimit(LimitSide.Above, 1, 2, 0) }, 1))
                )
            ).Content.ReadFromJsonAsync<TrialView>(CenoticJson.Options)
        )!;
        Assert.Null(refused.Result);
        Assert.Contains("clearing level", Assert.Single(refused.Reasons));
    }

    [Fact]
    public async Task A_queue_that_is_sent_message_by_message_after_an_outage_is_judged_as_it_happened()
    {
        await using var server = await RunningServer.StartAsync();
        var sequence = new InSequence(new("hall", "presence"), SequenceOutcome.FirstAlone, 8_000, InOrder: false);
        Assert.IsType<BatchResult.Done>(
            await server.Book.ApplyAsync("home", 1, [new PutRule(new("alone", "Alone", "hall", "motion", sequence, "", true))], "test")
        );
        using var node = await server.NodeAsync("hall");
        var start = Seconds(server) - 900;
        // Five times both within four seconds, twice motion alone; each value in a message of its own, looked at by the rules before the next.
        for (var i = 0; i < 7; i++)
        {
            var t = start + i * 60;
            var alone = i is 2 or 5;
            foreach (var (at, what, on) in new[] { (t, "motion", 1), (t + 4, "presence", alone ? 0 : 1), (t + 20, "motion", 0), (t + 21, "presence", 0) })
            {
                await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"{{what}}","t":{{at}},"v":{{on}}}]""");
                await server.LookedAsync();
            }
        }
        await RunningServer.PublishAsync(node, "hall", """[{"n":"motion","v":0},{"n":"presence","v":0}]""");
        await RunningServer.UntilAsync(
            async () => await server.QueryAsync(async s => (await s.Sites.SingleAsync()).JudgedArrival >= await s.Arrivals.MaxAsync(a => a.Id)),
            "all is judged"
        );
        await RunningServer.UntilAsync(async () => (await EpisodesAsync(server, "alone")).Count >= 2, "the two are told");
        // The rule says how often, of all three, and how many an hour and a day.
        var tally = Assert.Single(
            (await (await server.ClientAsync("viewer")).GetFromJsonAsync<List<RuleTally>>("/api/sites/home/rules/tallies", CenoticJson.Options))!,
            t => t.Rule == "alone"
        );
        Assert.Equal((5, 2, 0), (tally.Day.Both, tally.Day.FirstAlone, tally.Day.SecondAlone));
        Assert.Equal((Math.Round(2.0 / 24, 9), Math.Round(2.0 / 7, 9)), (Math.Round(tally.DayPerHour, 9), Math.Round(tally.WeekPerDay, 9)));
        Assert.Equal([start + 2 * 60, start + 5 * 60], (await EpisodesAsync(server, "alone")).Select(e => e.RaisedMs / 1000 - 8));
    }
}
