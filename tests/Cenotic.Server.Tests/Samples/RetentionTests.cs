using System.Net;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Samples;

/// <summary>What is kept how long, the whole store looked through, and any stretch as a file.</summary>
public class RetentionTests
{
    private const long DayMs = 86_400_000;

    private static long Now => DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();

    /// <summary>Ten days of a sample a minute of the hall's temperature, each in its own message, and an hour of the drying room's.</summary>
    private static async Task<(RunningServer Server, long From)> FilledAsync()
    {
        var server = await RunningServer.StartAsync();
        var (intake, writer) = (server.Services.GetRequiredService<Intake>(), server.Services.GetRequiredService<SampleWriter>());
        var from = Now - 10 * DayMs;
        var last = Task.CompletedTask;
        for (var t = from; t < Now; t += 60_000)
        {
            var pack = Senml.Write(t / 1000.0, [("temp", "Cel", (double)((t - from) / 60_000 % 100) - 20)]);
            last = writer.StoreAsync(intake.Decode("home", "hall", pack) with { ReceivedMs = t });
        }
        await last;
        return (server, from);
    }

    private static Task<long> SamplesAsync(RunningServer server) => server.CountAsync($"SELECT count(*) AS Value FROM samples");

    private static Task<long> RollupsAsync(RunningServer server, long step) => server.CountAsync($"SELECT count(*) AS Value FROM rollups WHERE step = {step}");

    private static async Task KeepAsync(RunningServer server, KeepDesign? keeping) =>
        Assert.IsType<BatchResult.Done>(
            await server.Book.ApplyAsync(
                "home",
                server.Book.Find("home")!.Revision,
                [new SetSite(server.Book.Find("home")!.Design.Settings with { Keeping = keeping })],
                "owner"
            )
        );

    [Fact]
    public async Task Old_samples_and_minutes_go_hours_stay_and_lines_go_on()
    {
        var (server, from) = await FilledAsync();
        await using var _ = server;
        var (all, hours) = (await SamplesAsync(server), await RollupsAsync(server, 3_600_000));
        var retention = server.Services.GetRequiredService<Retention>();
        Assert.Equal((0, 0, 0), await retention.SweepAsync("home"));
        await KeepAsync(server, new(2, 5));
        var swept = await retention.SweepAsync("home");
        Assert.Equal(all - await SamplesAsync(server), swept.Samples);
        Assert.Equal(swept.Samples, swept.Arrivals);
        Assert.InRange(await SamplesAsync(server), 2 * 1440 - 2, 2 * 1440 + 2);
        Assert.InRange(await RollupsAsync(server, 60_000), 5 * 1440 - 2, 5 * 1440 + 3);
        Assert.Equal(hours, await RollupsAsync(server, 3_600_000));
        Assert.Equal(0, (await retention.SweepAsync("home")).Samples);
        // A line over ten days still begins where it began, from hours; a recent one is of samples.
        var client = await server.ClientAsync("owner");
        var line = (await client.GetFromJsonAsync<LineView>($"/api/sites/home/readings/hall/temp/line?from={from}&to={Now}&points=5000", CenoticJson.Options))!;
        Assert.Equal(3_600_000, line.StepMs);
        Assert.InRange(line.T[0] - from, -3_600_000, 3_600_000);
        Assert.Equal(
            120_000,
            (
                await client.GetFromJsonAsync<LineView>(
                    $"/api/sites/home/readings/hall/temp/line?from={Now - 4 * DayMs}&to={Now}&points=5000",
                    CenoticJson.Options
                )
            )!.StepMs
        );
        // What is older than what is kept is not taken in: it would count twice in its hour.
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(node, "hall", FormattableString.Invariant($$"""[{"bt":{{(Now - 3 * DayMs) / 1000}},"n":"temp","v":1}]"""));
        Assert.Contains("samples are kept 2 days", await server.QueryAsync(s => s.Refusals.Select(r => r.Reason).SingleAsync()));
        Assert.Empty((await CheckAsync(client)).Faults);
    }

    [Fact]
    public async Task The_store_is_looked_through_and_a_wrong_hour_and_a_damaged_page_are_found()
    {
        var (server, _) = await FilledAsync();
        await using var _ = server;
        var client = await server.ClientAsync("owner");
        var report = await CheckAsync(client);
        Assert.True(report.Faults.Count == 0, string.Join("; ", report.Faults));
        Assert.Equal(await SamplesAsync(server), report.Samples);
        await server.QueryAsync(s =>
            s.Database.ExecuteSqlRawAsync(
                "UPDATE rollups SET sum = sum + 1 WHERE step = 3600000 AND t = (SELECT max(t) - 7200000 FROM rollups WHERE step = 3600000)"
            )
        );
        Assert.Equal(["The sums of 1 hours are not those of their samples."], (await CheckAsync(client)).Faults);
        // An index that does not hold what its table does, as after a fault of the disk.
        await server.QueryAsync(async s =>
        {
            await s.Database.OpenConnectionAsync();
            await s.Database.ExecuteSqlRawAsync("PRAGMA writable_schema = ON");
            await s.Database.ExecuteSqlRawAsync(
                "UPDATE sqlite_master SET rootpage = (SELECT rootpage FROM sqlite_master WHERE name = 'IX_refusals_Site_Node_Id') WHERE name = "
                    + "'samples_by_arrival'"
            );
            return await s.Database.ExecuteSqlRawAsync("PRAGMA writable_schema = RESET");
        });
        Assert.Contains((await CheckAsync(client)).Faults, f => f.StartsWith("The database file ", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Any_stretch_is_saved_as_a_table_and_as_senml_and_read_in_again_it_adds_nothing()
    {
        var (server, from) = await FilledAsync();
        await using var _ = server;
        var client = await server.ClientAsync("owner");
        var query = $"from={from + DayMs}&to={from + DayMs + 3_600_000}&reading=hall/temp";
        var answer = await client.GetAsync($"/api/sites/home/samples/csv?{query}");
        Assert.Equal("text/csv", answer.Content.Headers.ContentType!.MediaType);
        var lines = (await answer.Content.ReadAsStringAsync()).Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal("time,node,reading,value,unit,marks", lines[0]);
        Assert.Equal(60, lines.Length - 1);
        Assert.EndsWith(",hall,temp,20,°C,", lines[1]);
        var senml = Senml.Read(await client.GetByteArrayAsync($"/api/sites/home/samples/senml?{query}")).Value;
        Assert.Equal(60, senml.Count);
        Assert.Equal(("hall/temp", "Cel", 20.0, from + DayMs), (senml[0].Name, senml[0].Unit, senml[0].Value!.Value, (long)Math.Round(senml[0].Time * 1000)));
        var before = await SamplesAsync(server);
        var writer = server.Services.GetRequiredService<SampleWriter>();
        await writer.StoreAsync(
            server
                .Services.GetRequiredService<Intake>()
                .Decode("home", "hall", Senml.Write(null, [.. senml.Select(r => new SenmlValue("temp", "Cel", r.Value!.Value, r.Time))]))
        );
        Assert.Equal(before, await SamplesAsync(server));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"/api/sites/home/samples/csv?from=5&to=5")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"/api/sites/home/samples/xml?{query}")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"/api/sites/home/samples/csv?from=1&to=5&reading=hall/none")).StatusCode);
    }

    private static async Task<StoreReport> CheckAsync(HttpClient client)
    {
        var answer = await client.PostAsync("/api/sites/home/store/check", RunningServer.Body(new { }));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return (await answer.Content.ReadFromJsonAsync<StoreReport>(CenoticJson.Options))!;
    }
}
