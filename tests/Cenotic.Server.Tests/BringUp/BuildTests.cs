using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.BringUp;
using Cenotic.Server.Ingest;
using Cenotic.Server.Log;
using Microsoft.EntityFrameworkCore;
using ZXing.Common;
using ZXing.QrCode.Internal;

namespace Cenotic.Server.Tests.BringUp;

/// <summary>Building a node step by step, and what is found out with one's hands afterwards.</summary>
public class BuildTests
{
    private const string Drying = "/api/sites/home/nodes/drying",
        Hall = "/api/sites/home/nodes/hall";

    private static async Task<List<BuildStepView>> StepsAsync(HttpClient client, string node = Drying) =>
        (await client.GetFromJsonAsync<List<BuildStepView>>($"{node}/build", CenoticJson.Options))!;

    private static async Task<BuildStepView> TickAsync(HttpClient client, string step, BuildTick tick, string node = Drying)
    {
        var key = (await StepsAsync(client, node)).First(s => s.Step.Key.StartsWith(step, StringComparison.Ordinal)).Step.Key;
        var answer = await client.PostAsync($"{node}/build", RunningServer.Body(tick with { Step = key }));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return (await answer.Content.ReadFromJsonAsync<List<BuildStepView>>(CenoticJson.Options))!.First(s => s.Step.Key == key);
    }

    [Fact]
    public async Task A_ticked_step_solders_its_wires_and_takes_its_things_out_of_the_drawer_and_back()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        int Probes() => server.Book.Find("home")!.Design.Stock.First(s => s.Id == "ds18b20").OnHand;
        var before = Probes();
        Assert.True((await TickAsync(client, "ready", new(Done: true))).Done);
        Assert.Equal(Math.Max(0, before - 4), Probes());
        var missing = Math.Max(0, 4 - before);
        Assert.Equal(
            missing > 0,
            (await StepsAsync(client))[0]
                .Step.Lines.Any(l =>
                    l.Text.StartsWith("4 × DS18B20", StringComparison.Ordinal)
                    && l.Text.EndsWith($": {missing} missing in the drawer", StringComparison.Ordinal)
                )
        );
        var soldered = await TickAsync(client, "solder:air", new(Done: true));
        Assert.True(soldered.Done);
        Assert.Equal("owner", soldered.Who);
        var wires = server.Book.Find("home")!.Design.Node("drying")!.Wires;
        Assert.Equal(4, wires.Count(w => w is { Part: "air", Hold: WireHold.Soldered }));
        var plan = (await server.Book.PlanAsync(server.Book.Find("home")!)).Node("drying")!.Bench;
        Assert.All(wires, w => Assert.Equal((plan.Wires.Single(p => p.Tick == w.Key).Pin, plan.Wires.Single(p => p.Tick == w.Key).Colour), (w.Pin, w.Colour)));
        Assert.False((await TickAsync(client, "solder:air", new(Done: false))).Done);
        Assert.Empty(server.Book.Find("home")!.Design.Node("drying")!.Wires);
        await TickAsync(client, "ready", new(Done: false));
        // What was there before is there again: no more than was taken.
        Assert.Equal(before, Probes());
    }

    [Fact]
    public async Task A_value_out_of_its_band_is_told_and_stops_and_a_risk_may_be_passed()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var shorted = await TickAsync(client, "board-short", new(Done: true, Value: 0.3));
        Assert.Equal((false, "BUILD-SHORT"), (shorted.Done, shorted.Finding?.Code));
        // A short is not passed by saying so.
        Assert.False((await TickAsync(client, "board-short", new(Done: true, Value: 0.3, Anyway: true))).Done);
        Assert.True((await TickAsync(client, "board-short", new(Done: true, Shows: MeterShows.Within))).Done);
        var low = await TickAsync(client, "board-power", new(Done: true, Value: 12));
        Assert.Equal((false, "BUILD-CURRENT-LOW"), (low.Done, low.Finding?.Code));
        Assert.True((await TickAsync(client, "board-power", new(Done: true, Value: 12, Anyway: true))).Done);
        // What was measured is what the next part is held against.
        Assert.InRange((await StepsAsync(client)).First(s => s.Step.Key == "power:air").Step.Measure!.Expected.High!.Value, 13, 15);
        foreach (var bad in new[] { new BuildTick("board-power", true), new BuildTick("no-such-step", true) })
        {
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsync($"{Drying}/build", RunningServer.Body(bad))).StatusCode);
        }
        var log = (await client.GetFromJsonAsync<LogPage>("/api/sites/home/log?node=drying", CenoticJson.Options))!;
        Assert.Contains(log.Entries, e => e.Text == "No short at the board, 0.3 Ω: not as expected");
        Assert.Contains(log.Entries, e => e.Text == "First power: the board alone, 12 mA" && e.Who == "owner");
    }

    [Fact]
    public async Task Wires_soldered_at_the_bench_are_soldered_here()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var held = server.Book.Find("home")!.Design.Node("hall")!.Wires.Where(w => w.Hold == WireHold.Soldered).Select(w => w.Part).Distinct().ToList();
        Assert.NotEmpty(held);
        var done = (await StepsAsync(client, Hall)).Where(s => s.Done).Select(s => s.Step.Part!).ToList();
        Assert.NotEmpty(done);
        Assert.All(done, part => Assert.Contains(part, held));
    }

    [Fact]
    public async Task A_scan_with_temperatures_tells_the_probe_in_the_hand_and_is_one_scan()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var node = await server.NodeAsync("drying");
        Task Scan(double one, double two) =>
            RunningServer.PublishAsync(
                node,
                "drying",
                FormattableString.Invariant($"28-FF641E8D1603BD: {one:0.00}\n28-FF4A1C8D1603E0: {two:0.00}"),
                "site/home/drying/scan"
            );
        async Task<WarmingView> Warming(long? since) =>
            (await client.GetFromJsonAsync<WarmingView>($"{Drying}/warming{(since is { } s ? $"?since={s}" : "")}", CenoticJson.Options))!;
        await Scan(20, 20.5);
        var since = (await Warming(null)).NowMs;
        await Task.Delay(5);
        await Scan(20, 20.5);
        Assert.Null((await Warming(since)).Warmed);
        await Scan(20.1, 24.5);
        var warming = await Warming(since);
        Assert.Equal("28FF4A1C8D1603E0", warming.Warmed);
        Assert.Equal(4, warming.Heats[0].RiseKelvin, 0.01);
        Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM scans"));
        await RunningServer.PublishAsync(node, "drying", "28-FF641E8D1603BD: 20.10", "site/home/drying/scan");
        Assert.Equal(2, await server.CountAsync($"SELECT count(*) AS Value FROM scans"));
    }

    [Fact]
    public async Task A_contact_is_proven_by_opening_it_and_that_is_kept()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var node = await server.NodeAsync("hall");
        async Task<ProofView> Ask(long? since) =>
            (
                await (
                    await client.PostAsync($"{Hall}/readings/motion/proof{(since is { } s ? $"?since={s}" : "")}", null)
                ).Content.ReadFromJsonAsync<ProofView>(CenoticJson.Options)
            )!;
        await RunningServer.PublishAsync(node, "hall", """[{"n":"motion","v":0}]""");
        var begun = await Ask(null);
        Assert.Equal(("Walk past it now, then stand still out of its sight", 0.0), (begun.Verdict.Do, begun.Verdict.Rest));
        await Task.Delay(5);
        await RunningServer.PublishAsync(node, "hall", """[{"n":"motion","v":1}]""");
        Assert.False((await Ask(begun.SinceMs)).Verdict.Proven);
        await Task.Delay(5);
        await RunningServer.PublishAsync(node, "hall", """[{"n":"motion","v":0}]""");
        Assert.True((await Ask(begun.SinceMs)).Verdict.Proven);
        await Ask(begun.SinceMs);
        Assert.Equal(1, await server.CountAsync($"SELECT count(*) AS Value FROM build_ticks"));
        var first = (await client.GetFromJsonAsync<FirstReadingsView>($"{Hall}/first-readings", CenoticJson.Options))!;
        Assert.Contains("motion", first.Proven.Keys);
        Assert.Equal(["presence", "motion"], first.Provable);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsync($"{Hall}/readings/temp/proof", null)).StatusCode);
    }

    [Fact]
    public async Task A_walk_is_summed_up_by_spot()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var node = await server.NodeAsync("hall");
        async Task<RangeWalkView> View(long? since) =>
            (await client.GetFromJsonAsync<RangeWalkView>($"{Hall}/walk{(since is { } s ? $"?since={s}" : "")}", CenoticJson.Options))!;
        var since = (await View(null)).NowMs;
        foreach (var number in new[] { 1, 2, 3, 5, 6, 8 })
        {
            await RunningServer.PublishAsync(
                node,
                "hall",
                $$"""[{"n":"motion","v":0},{"n":"sys/boot","v":1},{"n":"sys/seq","v":{{number}}},{"n":"sys/rssi","v":{{-70 - number}}}]"""
            );
        }
        var now = await View(since);
        Assert.Equal((6, 2, -74.0, -78.0), (now.Now!.Count, now.Now.Lost, now.Now.RssiMedian, now.Now.RssiLow));
        Assert.Equal([-71.0, -72, -73, -75, -76, -78], now.Signals);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PostAsync($"{Hall}/walk", RunningServer.Body(new WalkRequest("nowhere", since)))).StatusCode
        );
        var spot = server.Book.Find("home")!.Design.Place.Spots[0];
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PostAsync($"{Hall}/walk", RunningServer.Body(new WalkRequest(spot.Key, since + 3_600_000)))).StatusCode
        );
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync($"{Hall}/walk", RunningServer.Body(new WalkRequest(spot.Key, since)))).StatusCode);
        Assert.Equal((spot.Label, 8, 75.0, true), (await View(null)).Spots.Select(s => (s.Label, s.Sent, s.HeardPercent, s.IsPoor)).Single());
        // It is evidence: it goes with the site's file, and a later walk at the spot takes its place.
        var state = server.Book.Find("home")!;
        List<SpotWalk> OfHall(Evidence evidence) => [.. evidence.Walks.Where(w => w.Node == "hall")];
        var walk = OfHall(state.Evidence).Single();
        Assert.Equal(("hall", spot.Key, "owner", 6, 2, -74.0), (walk.Node, walk.Spot, walk.Who, walk.Heard, walk.Lost, walk.MedianDbm));
        var file = SiteFiles.Read(SiteFiles.Write(state.Design, state.Evidence)).Value;
        Assert.NotNull(walk.Radio);
        Assert.Equal([walk], OfHall(file.Evidence));
        await server.Book.WalkAsync("home", walk with { Heard = 9 }, since);
        Assert.Equal([walk with { Heard = 9 }], OfHall(server.Book.Find("home")!.Evidence));
        var owner = await server.QueryAsync(store => store.Users.Where(u => u.UserName == "owner").Select(u => u.Id).SingleAsync());
        await server.Book.CreateAsync("copy", file.Design, owner, file.Evidence);
        Assert.Equal([walk], OfHall(server.Book.Find("copy")!.Evidence));
    }

    [Fact]
    public async Task The_code_on_the_label_is_read_as_the_address_of_the_node()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var label = (await client.GetFromJsonAsync<LabelView>($"{Drying}/label", CenoticJson.Options))!;
        Assert.Equal($"{server.Started.Web.ToString().TrimEnd('/')}/home/bring-up/drying", label.Address);
        var matrix = new BitMatrix(label.Code.Count);
        foreach (var (row, y) in label.Code.Select((r, y) => (r, y)))
        {
            Assert.Equal(label.Code.Count, row.Length);
            foreach (var x in Enumerable.Range(0, row.Length).Where(x => row[x] == '1'))
            {
                matrix[x, y] = true;
            }
        }
        Assert.Equal(label.Address, new Decoder().decode(matrix, null).Text);
    }

    [Fact]
    public async Task Test_mode_is_a_lease_like_any_output_and_a_sleeping_node_does_not_hear_it()
    {
        await using var server = await RunningServer.StartAsync(demo: true);
        var client = await server.ClientAsync("owner");
        const string Drying = "/api/sites/fernhollow/nodes/drying",
            Cistern = "/api/sites/fernhollow/nodes/cistern";
        async Task<FirstReadingsView> View(string node) => (await client.GetFromJsonAsync<FirstReadingsView>($"{node}/first-readings", CenoticJson.Options))!;
        await RunningServer.UntilAsync(async () => (await View(Drying)).Test.Why is null, "the node is connected");
        Task<long> Pressures() =>
            server.CountAsync(
                $"""
                SELECT count(*) AS Value FROM samples s JOIN readings r ON r.Id = s.reading_id WHERE r.Site = 'fernhollow' AND r.Node = 'drying'
                    AND r.Key = 'pressure'
                """
            );
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync($"{Drying}/test-mode", RunningServer.Body(new TestRequest(true)))).StatusCode);
        var before = await Pressures();
        // Once a minute by its plan; every second now.
        await RunningServer.UntilAsync(async () => await Pressures() >= before + 4, "four values come within seconds");
        await RunningServer.UntilAsync(async () => (await View(Drying)).Test is { UntilMs: not null, Taken: true }, "it answers");
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync($"{Drying}/test-mode", RunningServer.Body(new TestRequest(false)))).StatusCode);
        Assert.Null((await View(Drying)).Test.UntilMs);
        Assert.Contains("sleeps", (await View(Cistern)).Test.Why);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PostAsync($"{Cistern}/test-mode", RunningServer.Body(new TestRequest(true)))).StatusCode
        );
    }
}
