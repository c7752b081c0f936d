using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Watch;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Watch;

public class ViewTests
{
    private const string Home = "/api/sites/home";
    private const long Hour = 3_600_000;

    private static async Task<ViewData> DataAsync(HttpClient client, string view, long from, long to) =>
        (await client.GetFromJsonAsync<ViewData>($"{Home}/views/{view}/data?from={from}&to={to}&points=100", CenoticJson.Options))!;

    private static async Task StoreAsync(RunningServer server, string node, string reading, IEnumerable<(long T, double V)> values, long number = 0)
    {
        var writer = server.Services.GetRequiredService<SampleWriter>();
        foreach (var (t, v) in values)
        {
            await writer.StoreAsync(
                server
                    .Services.GetRequiredService<Intake>()
                    .Decode(
                        "home",
                        node,
                        System.Text.Encoding.UTF8.GetBytes(
                            FormattableString.Invariant(
                                $$"""[{"n":"{{reading}}","t":{{t / 1000}},"v":{{v}}},{"n":"sys/boot","v":1},{"n":"sys/seq","v":{{++number}}}]"""
                            )
                        )
                    ) with
                {
                    ReceivedMs = t,
                }
            );
        }
    }

    [Fact]
    public async Task A_view_is_answered_whole_lines_limits_episodes_vessel_counts_sequences_and_nodes()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var now = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds() / Hour * Hour - Hour;
        await StoreAsync(server, "drying", "rack1", Enumerable.Range(0, 30).Select(i => (now - 30 * 60_000L + i * 60_000L, 30 + i / 5.0)));
        await StoreAsync(server, "cistern", "level", [(now - 60_000, 0.9)]);
        // A rain gauge that began anew at 0 within an hour: 2, and then 3 and 1 mm.
        await StoreAsync(server, "rain", "rain", [(now - 3 * Hour, 100), (now - 2 * Hour, 102), (now - Hour, 105), (now - 1000, 1)]);
        // The lid opens with a knock, and once without; the contact is closed at rest.
        await StoreAsync(
            server,
            "parcel",
            "lid",
            [(now - 2 * Hour, 1), (now - Hour, 0), (now - Hour + 60_000, 1), (now - Hour / 2, 0), (now - Hour / 2 + 60_000, 1)]
        );
        await StoreAsync(
            server,
            "parcel",
            "knock",
            [(now - Hour - 5_000, 1), (now - Hour - 4_000, 0), (now - Hour / 4, 1), (now - Hour / 4 + 1_000, 0)],
            number: 100
        );
        var tiles = new TileDesign[]
        {
            new("line", null, 2, 2, new LineTile([new("drying", "rack1")], Over: LineOver.Yesterday)),
            new("vessel", null, 1, 2, new VesselTile(new("cistern", "level"), VesselShape.Upright, true, 190, 200, 0, 170)),
            new("rain", null, 2, 2, new CounterTile(new("rain", "rain"), CountBy.Hour)),
            new("nodes", null, 4, 2, new NodesTile()),
            new("parcels", null, 2, 1, new SequenceTile(new("parcel", "lid"), new("parcel", "knock"), 10_000, false, "Parcel", "Looked in", "Wind")),
            new("gone", null, 1, 1, new FigureTile(new("nobody", "nothing"))),
        };
        await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new PutView(new("mine", "Mine", tiles))], "test");
        await RunningServer.UntilAsync(
            async () => (await DataAsync(owner, "mine", now - Hour, now)).Tiles[0].Episodes.Count > 0,
            "the warm rack has an episode"
        );
        var data = await DataAsync(owner, "mine", now - 3 * Hour, now);
        Assert.Equal(
            ["cistern/level", "drying/rack1", "parcel/knock", "parcel/lid", "rain/rain"],
            data.Readings.Select(r => $"{r.Node}/{r.Key}").Order(StringComparer.Ordinal)
        );
        var line = data.Tiles[0];
        Assert.Equal(30, line.Lines.Single().Line.Low.Min());
        Assert.Equal(35.8, line.Lines.Single().Line.High.Max(), 1e-9);
        Assert.Empty(line.Lines.Single().Earlier!.T);
        Assert.Equal((32, "Rack 1 too warm"), (line.Thresholds.Single().Limit, line.Thresholds.Single().Label));
        Assert.Null(line.Episodes.Single().ToMs);
        Assert.Equal(100, data.Tiles[1].Vessel!.Level.Value!.Value, 1e-6);
        // The first has nothing to be counted from.
        Assert.Equal([0, 2, 4], data.Tiles[2].Counts!.Bars.Select(c => c.Count));
        Assert.Equal((6, 4), (data.Tiles[2].Counts!.Total, data.Tiles[2].Counts!.Most));
        Assert.Equal(server.Book.Find("home")!.Design.Nodes.Count, data.Tiles[3].Nodes.Count);
        Assert.Equal((30, 0), (data.Tiles[3].Nodes.Single(n => n.Node == "drying").Received, data.Tiles[3].Nodes.Single(n => n.Node == "drying").LostPercent));
        Assert.Equal((1, 1, 1), (data.Tiles[4].Sequence!.Counts.Both, data.Tiles[4].Sequence!.Counts.FirstAlone, data.Tiles[4].Sequence!.Counts.SecondAlone));
        // The knock came first.
        Assert.Equal(-5_000, data.Tiles[4].Sequence!.Newest.Single(e => e.DelayMs is not null).DelayMs);
        Assert.Empty(data.Tiles[5].Lines);
    }

    [Fact]
    public async Task The_first_view_is_there_without_anybody_making_it_and_nonsense_is_refused()
    {
        await using var server = await RunningServer.StartAsync();
        var viewer = await server.ClientAsync("viewer");
        var view = await viewer.GetFromJsonAsync<ViewDesign>($"{Home}/views/first", CenoticJson.Options);
        Assert.InRange(view!.Tiles.Count, 8, 24);
        var now = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();
        Assert.Equal(view.Tiles.Count, (await DataAsync(viewer, "first", now - Hour, now)).Tiles.Count);
        Assert.Equal(HttpStatusCode.NotFound, (await viewer.GetAsync($"{Home}/views/nothing")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await viewer.GetAsync($"{Home}/views/first/data?from=2&to=1")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await viewer.GetAsync($"{Home}/views/first/data?from=1&to={now}")).StatusCode);
    }

    [Theory]
    [InlineData("2026-03-29", 23)]
    [InlineData("2026-10-25", 25)]
    public void A_day_in_which_the_clocks_change_has_its_own_length(string day, int hours)
    {
        var london = TimeZoneInfo.FindSystemTimeZoneById("Europe/London");
        var at = DateTime.Parse(day, System.Globalization.CultureInfo.InvariantCulture);
        var from = new DateTimeOffset(at, london.GetUtcOffset(at)).ToUnixTimeMilliseconds();
        var begins = TileReader.Begins(london, CountBy.Day, from, from + 48 * Hour);
        Assert.Equal(hours * Hour, begins[1] - begins[0]);
        Assert.Equal(2, TileReader.Begins(london, CountBy.Month, from, from + 14 * 24 * Hour).Count);
        Assert.Equal(48, TileReader.Begins(london, CountBy.Hour, from, from + 48 * Hour).Count);
    }
}
