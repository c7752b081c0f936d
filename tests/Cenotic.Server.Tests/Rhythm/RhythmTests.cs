using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;
using Cenotic.Server.Sites;

namespace Cenotic.Server.Tests.Rhythm;

/// <summary>Workings by address, comparisons and exports of the rhythm over the wire.</summary>
public class RhythmTests
{
    [Fact]
    public async Task A_plan_comes_without_workings_and_each_is_to_be_had_by_the_address_of_its_figure()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var slim = await client.GetStringAsync("/api/sites/home/plan");
        Assert.DoesNotContain("\"working\"", slim);
        var whole = await client.GetFromJsonAsync<PlanView>("/api/sites/home/plan?workings=true", CenoticJson.Options);
        Assert.True(JsonSerializer.Serialize(whole, CenoticJson.Options).Length > 5 * slim.Length);
        // Every figure of the slim plan is found at its address, with the same value.
        using var plan = JsonDocument.Parse(slim);
        var addresses = new List<(string At, double? Value)>();
        void Walk(JsonElement part, string at)
        {
            if (part.ValueKind == JsonValueKind.Array)
            {
                foreach (var (item, n) in part.EnumerateArray().Select((i, n) => (i, n)))
                {
                    Walk(item, $"{at}/{n}");
                }
            }
            else if (
                part.ValueKind == JsonValueKind.Object
                && part.TryGetProperty("value", out var value)
                && part.TryGetProperty("unit", out _)
                && part.TryGetProperty("label", out _)
            )
            {
                addresses.Add((at, value.ValueKind == JsonValueKind.Null ? null : value.GetDouble()));
            }
            else if (part.ValueKind == JsonValueKind.Object)
            {
                foreach (var member in part.EnumerateObject())
                {
                    Walk(member.Value, $"{at}/{member.Name}");
                }
            }
        }
        Walk(plan.RootElement.GetProperty("plan"), "");
        Assert.True(addresses.Count > 300);
        foreach (var (at, value) in addresses.Where((_, n) => n % 41 == 0))
        {
            var figure = await client.GetFromJsonAsync<Figure>($"/api/sites/home/plan/figure?at={Uri.EscapeDataString(at)}", CenoticJson.Options);
            Assert.Equal(value, figure!.Value);
            Assert.False(string.IsNullOrWhiteSpace(figure.Working.Formula));
        }
        foreach (var nothing in new[] { "/nodes/0/rhythm", "/nodes/99/rhythm/life", "nonsense", "", "/nodes/-1", "/nodes/0/bench/parts/0/label" })
        {
            Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync($"/api/sites/home/plan/figure?at={Uri.EscapeDataString(nothing)}")).StatusCode);
        }
    }

    [Fact]
    public async Task The_answer_to_an_edit_holds_the_design_that_is_stored()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("owner");
        var reading = server.Book.Find("home")!.Design.Node("cistern")!.Reading("level")! with { IntervalMs = 300_000 };
        var done = await (
            await client.PostAsync("/api/sites/home/edits", RunningServer.Body(new EditRequest(1, [new PutReading("cistern", reading)])))
        ).Content.ReadFromJsonAsync<EditDone>(CenoticJson.Options);
        var stored = await client.GetFromJsonAsync<SiteView>("/api/sites/home", CenoticJson.Options);
        Assert.Equal(JsonSerializer.Serialize(stored!.Design, CenoticJson.Options), JsonSerializer.Serialize(done!.Design, CenoticJson.Options));
        Assert.Equal((stored.Revision, 300_000L), (done.Revision, done.Design.Node("cistern")!.Reading("level")!.IntervalMs));
    }

    [Fact]
    public async Task Radios_intervals_and_gains_of_a_node_and_the_exports_of_the_site()
    {
        await using var server = await RunningServer.StartAsync();
        var client = await server.ClientAsync("viewer");
        var comparison = await client.GetFromJsonAsync<RhythmComparison>("/api/sites/home/nodes/cistern/rhythms", CenoticJson.Options);
        Assert.Equal("lora-sx1276", comparison!.Radios.Single(r => r.Today).Key);
        Assert.NotEmpty(comparison.Gains);
        Assert.Contains(900_000L, comparison.Intervals);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/nodes/nobody/rhythms")).StatusCode);
        var csv = await client.GetAsync("/api/sites/home/exports/timetable.csv");
        Assert.Equal(("text/csv", "home-timetable.csv"), (csv.Content.Headers.ContentType!.MediaType, csv.Content.Headers.ContentDisposition!.FileNameStar));
        Assert.Contains("Cistern level,Distance to water", await csv.Content.ReadAsStringAsync());
        var calendar = await client.GetAsync("/api/sites/home/exports/batteries.ics");
        Assert.Equal("text/calendar", calendar.Content.Headers.ContentType!.MediaType);
        Assert.Contains("SUMMARY:Cells of Cistern level", await calendar.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/sites/home/exports/other.txt")).StatusCode);
    }
}
