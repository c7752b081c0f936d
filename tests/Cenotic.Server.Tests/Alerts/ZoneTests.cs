using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;
using Cenotic.Server.Alerts;
using Cenotic.Server.Commands;
using Cenotic.Server.Ingest;
using Cenotic.Server.Log;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;

namespace Cenotic.Server.Tests.Alerts;

public class ZoneTests
{
    private const string Home = "/api/sites/home";

    private static readonly ZoneDesign Zone = new(
        "house",
        "House",
        [new("hall", "motion")],
        1_500,
        0,
        1,
        0,
        [new("gateway", "sounder")],
        5_000,
        1_000,
        new([new("ann")], WhenOver: false),
        "Look, do not go in."
    );

    private static async Task<ZoneView> ViewAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<List<ZoneView>>($"{Home}/zones", CenoticJson.Options))!.Single();

    private static async Task PutAsync(RunningServer server, ZoneDesign zone) =>
        Assert.IsType<BatchResult.Done>(
            await server.Book.ApplyAsync(
                "home",
                server.Book.Find("home")!.Revision,
                [new PutPerson(new("ann", "Ann", [new(WayKind.Text, "+441632960123")])), new PutZone(zone)],
                "test"
            )
        );

    private static Task<HttpResponseMessage> ArmAsync(HttpClient client, ArmMode mode) =>
        client.PostAsync($"{Home}/zones/house/arm", RunningServer.Body(new ArmRequest(mode)));

    [Fact]
    public async Task An_armed_zone_raises_tells_holds_off_and_survives_a_restart()
    {
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder))
        {
            await PutAsync(server, Zone);
            var owner = await server.ClientAsync("owner");
            Assert.Equal((ArmMode.Off, ZonePhase.Off), ((await ViewAsync(owner)).Mode, (await ViewAsync(owner)).Phase));
            var armed = await (await ArmAsync(owner, ArmMode.Armed)).Content.ReadFromJsonAsync<ZoneView>(CenoticJson.Options);
            Assert.Equal((ZonePhase.Leaving, "owner"), (armed!.Phase, armed.Who));
            await RunningServer.UntilAsync(async () => (await ViewAsync(owner)).Phase == ZonePhase.Watching, "the time to leave is over");
            using var node = await server.NodeAsync("hall");
            await RunningServer.PublishAsync(node, "hall", """[{"n":"motion","v":1}]""");
            await RunningServer.UntilAsync(async () => (await ViewAsync(owner)).Phase == ZonePhase.Alarm, "the motion makes an alarm");
            var view = await ViewAsync(owner);
            Assert.Equal(("Motion (Hall presence)", "Motion (Hall presence)"), (view.Cause, view.Lamp));
            var episode = (await owner.GetFromJsonAsync<List<EpisodeView>>($"{Home}/episodes", CenoticJson.Options))!.Single(e => e.Rule == "zone:house");
            Assert.Null(episode.ClearedMs);
            await RunningServer.UntilAsync(
                async () =>
                    (await server.QueryAsync(s => s.Outbox.AsNoTracking().ToListAsync())).Any(o =>
                        o.Notices.Contains("Motion (Hall presence)") && o.Notices.Contains("do not go in")
                    ),
                "Ann is told"
            );
            // The siren is not there: what the zone wanted of it is told.
            await RunningServer.UntilAsync(async () => (await ViewAsync(owner)).Faults.Any(), "the fault of the siren stands on the zone");
            await RunningServer.UntilAsync(async () => (await ViewAsync(owner)).Phase == ZonePhase.Watching, "it watches again");
            Assert.NotNull(
                (await owner.GetFromJsonAsync<List<EpisodeView>>($"{Home}/episodes", CenoticJson.Options))!.Single(e => e.Rule == "zone:house").ClearedMs
            );
        }
        await using (var server = await RunningServer.StartAsync(folder))
        {
            var owner = await server.ClientAsync("owner");
            await RunningServer.UntilAsync(async () => (await ViewAsync(owner)).Phase == ZonePhase.Watching, "it is armed as before");
            Assert.Equal("owner", (await ViewAsync(owner)).Who);
            Assert.Equal(HttpStatusCode.OK, (await ArmAsync(owner, ArmMode.Off)).StatusCode);
            Assert.Equal(ZonePhase.Off, (await ViewAsync(owner)).Phase);
            Assert.Equal(
                HttpStatusCode.NotFound,
                (await owner.PostAsync($"{Home}/zones/garden/arm", RunningServer.Body(new ArmRequest(ArmMode.Armed)))).StatusCode
            );
        }
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task A_test_tells_nobody_and_its_episode_says_that_it_was_one()
    {
        await using var server = await RunningServer.StartAsync();
        await PutAsync(server, Zone with { ExitMs = 0 });
        var owner = await server.ClientAsync("owner");
        await ArmAsync(owner, ArmMode.Test);
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(node, "hall", """[{"n":"motion","v":1}]""");
        await RunningServer.UntilAsync(async () => (await ViewAsync(owner)).Phase == ZonePhase.Alarm, "the lamp is lit");
        Assert.Equal(
            "House (test)",
            (await owner.GetFromJsonAsync<List<EpisodeView>>($"{Home}/episodes", CenoticJson.Options))!.Single(e => e.Rule == "zone:house").Label
        );
        await server.LookedAsync();
        Assert.Empty(await server.QueryAsync(s => s.Outbox.AsNoTracking().ToListAsync()));
        Assert.Empty((await ViewAsync(owner)).Faults);
    }

    private static async Task<List<string>> LogAsync(HttpClient client) =>
        [
            .. (await client.GetFromJsonAsync<LogPage>($"{Home}/log", CenoticJson.Options))!
                .Entries.Where(e => e.Kind is LogKind.Zone or LogKind.Output)
                .Select(e => $"{e.Who}: {e.Text}"),
        ];

    /// <summary>A zone whose siren and lamp is the fan of the drying room, which listens.</summary>
    private static async Task<(HttpClient Owner, IMqttClient Hall, IMqttClient Drying)> FanAsync(RunningServer server, Func<ZoneDesign, ZoneDesign> with)
    {
        await PutAsync(server, with(Zone with { ExitMs = 0, SoundMs = 60_000, Sounders = [new("drying", "fan")] }));
        Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, [new RemoveRule("drying-damp")], "test"));
        var drying = await server.NodeAsync("drying");
        await drying.SubscribeAsync(Topics.Command("home", "drying"));
        return (await server.ClientAsync("owner"), await server.NodeAsync("hall"), drying);
    }

    private static async Task<CommandView?> FanOfAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<OutputsView>($"{Home}/outputs", CenoticJson.Options))!.Outputs.Single(o => o.Node == "drying").Last;

    [Fact]
    public async Task The_siren_sounds_once_the_text_was_handed_over_and_who_armed_and_what_switched_stands_in_the_log()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, hall, drying) = await FanAsync(server, z => z with { SoundAfterMs = 600_000, SoundOnceTold = true, Chirps = false });
        using var _ = hall;
        using var __ = drying;
        await ArmAsync(owner, ArmMode.Armed);
        await RunningServer.PublishAsync(hall, "hall", """[{"n":"motion","v":1}]""");
        // Nobody can be told yet: there is no way for texts. The siren waits.
        await RunningServer.UntilAsync(async () => await server.QueryAsync(s => s.Outbox.AnyAsync()), "Ann is to be told");
        Assert.Null(await FanOfAsync(owner));
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(store => store.Outbox.ExecuteUpdateAsync(o => o.SetProperty(m => m.Taken, true).SetProperty(m => m.DoneMs, 1L)));
        await RunningServer.UntilAsync(async () => await FanOfAsync(owner) is { On: true, Who: "the alarm of House" }, "the siren sounds");
        await ArmAsync(owner, ArmMode.Off);
        await RunningServer.UntilAsync(async () => (await LogAsync(owner)).Count >= 4, "all of it stands in the log");
        var log = await LogAsync(owner);
        Assert.Contains("owner: House armed", log);
        Assert.Contains("owner: House disarmed", log);
        Assert.Contains(log, e => e.StartsWith("the alarm of House: ", StringComparison.Ordinal) && e.Contains("switched on", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_test_lights_a_real_lamp_and_nothing_chirps_that_is_not_to()
    {
        await using var server = await RunningServer.StartAsync();
        var (owner, hall, drying) = await FanAsync(server, z => z with { Lamp = new("drying", "fan"), Chirps = false });
        using var _ = hall;
        using var __ = drying;
        await ArmAsync(owner, ArmMode.Armed);
        await ArmAsync(owner, ArmMode.Off);
        await ArmAsync(owner, ArmMode.Test);
        await RunningServer.PublishAsync(hall, "hall", """[{"n":"motion","v":1}]""");
        await RunningServer.UntilAsync(async () => await FanOfAsync(owner) is { Who: "the test of House" }, "the lamp is lit");
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM commands WHERE Who LIKE 'arming%'"));
        Assert.Contains("owner: House armed for a test", await LogAsync(owner));
    }
}
