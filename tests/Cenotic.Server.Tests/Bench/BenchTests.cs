using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Bench;
using Cenotic.Server.Sites;

namespace Cenotic.Server.Tests.Bench;

/// <summary>Boards and parts of one's own, wishes, other boards, trials and exports over the wire.</summary>
public class BenchTests
{
    [Fact]
    public async Task A_part_of_ones_own_goes_in_as_text_is_planned_with_and_lasts()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var mine = HardwareFiles.Write(HardwareCatalogue.BuiltIn.Part("bh1750")! with { Id = "my-light" });
        async Task<HardwareReading> CheckAsync(string json) =>
            (
                await (
                    await owner.PostAsync("/api/sites/home/hardware/check", RunningServer.Body(new HardwareText(json)))
                ).Content.ReadFromJsonAsync<HardwareReading>(CenoticJson.Options)
            )!;
        var broken = await CheckAsync(mine.Replace("\"supplyPin\": \"VCC\"", "\"supplyPin\": \"V+\"", StringComparison.Ordinal));
        Assert.Null(broken.Part);
        Assert.True(Assert.Single(broken.Faults).Line > 1);
        var read = await CheckAsync(mine);
        Assert.Empty(read.Faults);
        // Reading keeps nothing; the edits door does.
        var before = await owner.GetFromJsonAsync<CatalogueView>("/api/sites/home/catalogue", CenoticJson.Options);
        Assert.Equal(["spring-vibration"], before!.Own);
        var done = await owner.PostAsync(
            "/api/sites/home/edits",
            RunningServer.Body(new EditRequest(1, [new PutOwnPart(read.Part!), new PutPart("hall", new PartInstance("mine", "Mine", "my-light"))]))
        );
        Assert.Equal(HttpStatusCode.OK, done.StatusCode);
        Assert.Equal(
            ["my-light", "spring-vibration"],
            (await owner.GetFromJsonAsync<CatalogueView>("/api/sites/home/catalogue", CenoticJson.Options))!.Own.Order()
        );
        Assert.Contains(
            (await owner.GetFromJsonAsync<PlanView>("/api/sites/home/plan?workings=true", CenoticJson.Options))!.Plan.Node("hall")!.Bench.Parts,
            p => p.Part == "mine"
        );
        Assert.Equal(mine, await owner.GetStringAsync("/api/sites/home/hardware/part/my-light"));
    }

    [Fact]
    public async Task The_schemas_are_served_to_who_is_signed_in()
    {
        await using var server = await RunningServer.StartAsync();
        var viewer = await server.ClientAsync("viewer");
        Assert.Contains("2020-12", await viewer.GetStringAsync("/api/schemas/part.json"));
        Assert.Contains("logicVolts", await viewer.GetStringAsync("/api/schemas/board.json"));
        Assert.Equal(HttpStatusCode.NotFound, (await viewer.GetAsync("/api/schemas/other.json")).StatusCode);
    }

    [Fact]
    public async Task Questions_about_a_node_are_answered_from_its_plan()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var wishes = await client.GetFromJsonAsync<List<PartAnswer>>("/api/sites/home/nodes/hall/wishes?quantity=temperature&error=0.6", CenoticJson.Options);
        Assert.True(wishes![0].Fits);
        var boards = await client.GetFromJsonAsync<List<BoardOption>>("/api/sites/home/nodes/hall/boards", CenoticJson.Options);
        Assert.True(boards![0].Current);
        var list = await client.GetFromJsonAsync<PartsListing>("/api/sites/home/nodes/hall/parts-list", CenoticJson.Options);
        Assert.Contains(list!.Items, i => i.Id == "bme280");
        var plan = (await client.GetFromJsonAsync<PlanView>("/api/sites/home/plan?workings=true", CenoticJson.Options))!.Plan.Node("hall")!.Bench;
        var wire = plan.Lines.First(w => w is { Kind: WireKind.Signal, Hold: null });
        var stays = await client.GetFromJsonAsync<WireTrial>(
            $"/api/sites/home/nodes/hall/trial?part={wire.Part}&line={wire.Line}&pin={wire.Pin}",
            CenoticJson.Options
        );
        Assert.True(stays!.Fits && stays.Moves.Count == 0 && stays.Now == stays.Then);
        var flash = await client.GetFromJsonAsync<WireTrial>(
            $"/api/sites/home/nodes/hall/trial?part={wire.Part}&line={wire.Line}&pin=L16",
            CenoticJson.Options
        );
        Assert.Contains("flash", Assert.Single(flash!.Refusals));
        foreach (
            var (kind, holds) in new[]
            {
                ("wiring.csv", "from terminal"),
                ("netlist.csv", "component,what,value,terminal,net"),
                ("pins.h", "#define PIN_"),
                ("pins.json", "\"pins\""),
            }
        )
        {
            Assert.Contains(holds, await client.GetStringAsync($"/api/sites/home/nodes/hall/exports/{kind}"));
        }
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/nodes/hall/exports/other")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/nodes/none/boards")).StatusCode);
    }
}
