using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Server.BringUp;
using Cenotic.Server.Sites;
using MQTTnet;

namespace Cenotic.Server.Tests.BringUp;

/// <summary>Scans pasted by a maker and sent by a node, kept and held against the plan as it is now.</summary>
public class ScanTests
{
    private const string Scans = "/api/sites/home/nodes/hall/scans";

    private static async Task<List<ScanView>> ListAsync(HttpClient client) => (await client.GetFromJsonAsync<List<ScanView>>(Scans, CenoticJson.Options))!;

    [Fact]
    public async Task A_pasted_scan_is_kept_and_its_remedy_makes_it_fit()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        Assert.Empty(await ListAsync(client));
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync(Scans, RunningServer.Body(new ScanPaste("0x77 0x23")))).StatusCode);
        var scan = Assert.Single(await ListAsync(client));
        Assert.Equal(("owner", "0x77 0x23"), (scan.Who, scan.Text));
        var remedy = Assert.Single(Assert.Single(scan.Report.Findings, f => f.Code == "SCAN-STRAP").Remedies);
        Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, remedy.Edits, "owner"));
        Assert.Empty((await ListAsync(client))[0].Report.Findings);
    }

    [Fact]
    public async Task A_node_sends_its_scan_and_nonsense_is_refused_and_told()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        using var node = await server.NodeAsync("hall");
        Assert.Equal(
            MqttClientPublishReasonCode.Success,
            (await RunningServer.PublishAsync(node, "hall", "{\"i2c\": [35, 118]}", Topics.Scan("home", "hall"))).ReasonCode
        );
        var scan = Assert.Single(await ListAsync(client));
        Assert.Null(scan.Who);
        Assert.True(scan.Report.AsPlanned);
        Assert.Equal(
            MqttClientPublishReasonCode.PayloadFormatInvalid,
            (await RunningServer.PublishAsync(node, "hall", "what?", Topics.Scan("home", "hall"))).ReasonCode
        );
        Assert.StartsWith("A scan: Nothing of a scan is found", Assert.Single(await server.RefusalsAsync("hall")));
        // Of another node it may not speak.
        Assert.Equal(
            MqttClientPublishReasonCode.NotAuthorized,
            (await RunningServer.PublishAsync(node, "hall", "0x23", Topics.Scan("home", "drying"))).ReasonCode
        );
        Assert.Single(await ListAsync(client));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsync(Scans, RunningServer.Body(new ScanPaste("hello")))).StatusCode);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PostAsync("/api/sites/home/nodes/nobody/scans", RunningServer.Body(new ScanPaste("0x23")))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await (await server.ClientAsync("viewer")).PostAsync(Scans, RunningServer.Body(new ScanPaste("0x23")))).StatusCode
        );
    }

    [Fact]
    public async Task First_readings_are_judged_beside_those_of_the_room()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        async Task<Dictionary<string, Cenotic.Core.BringUp.FirstVerdict>> View() =>
            (await client.GetFromJsonAsync<FirstReadingsView>("/api/sites/home/nodes/drying/first-readings", CenoticJson.Options))!.Verdicts.ToDictionary(v =>
                v.Reading
            );
        Assert.All((await View()).Values, v => Assert.Equal("FIRST-SILENT", Assert.Single(v.Findings).Code));
        using var node = await server.NodeAsync("drying");
        await RunningServer.PublishAsync(node, "drying", "{\"rack1\": 85, \"rack2\": 21.5, \"fan\": 0}");
        var view = await View();
        Assert.Equal("FIRST-FAULT-VALUE", Assert.Single(view["rack1"].Findings).Code);
        Assert.Equal((1, 8, false), (view["rack2"].Count, view["rack2"].Wanted, view["rack2"].Good));
        Assert.True(view["fan"].Good);
    }
}
