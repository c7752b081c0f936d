using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;
using Cenotic.Server.BringUp;
using Cenotic.Server.Ingest;
using Cenotic.Server.Log;
using Cenotic.Server.Samples;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Samples;

/// <summary>Stored samples that are made anew: imports taken back, stretches set aside, calibrations of a long past, all beside what arrives.</summary>
public class RemakeTests
{
    /// <summary>All that is stored of readings, as text.</summary>
    private static Task<List<string>> StateAsync(RunningServer server) => server.QueryAsync(async s => (
                await s
                    .Database.SqlQuery<string>(
                        $"""
                        SELECT r.Node || '/' || r.Key || ' ' || s.t || ' ' || s.n || ' ' || s.raw || ' ' || s.value || ' ' || s.flags AS Value
                            FROM samples s JOIN readings r ON r.Id = s.reading_id
                        UNION ALL SELECT r.Node || '/' || r.Key || ' sum ' || u.step || ' ' || u.t || ' ' || u.n || ' ' || u.low || ' ' || u.high
                            || ' ' || round(u.sum, 6) || ' ' || u.last || ' ' || u.last_t || ' ' || u.rises FROM rollups u
                                JOIN readings r ON r.Id = u.reading_id
                        """
                    )
                    .ToListAsync()
            ).Order(StringComparer.Ordinal).ToList());

    private static long Id(RunningServer server, string node, string key) => server.Book.Find("home")!.Readings[(node, key)].Id;

    /// <summary>Puts minutes of the past in, as the writer would have: values, marks and sums.</summary>
    private static async Task FillAsync(RunningServer server, string node, string key, int count, long fromMs)
    {
        var id = Id(server, node, key);
        await server
            .Services.GetRequiredService<WriteGate>()
            .WriteAsync(async store =>
            {
                await store.Database.ExecuteSqlAsync(
                    $"""
                    WITH RECURSIVE minutes(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM minutes WHERE i < {count - 1})
                    INSERT INTO samples (reading_id, t, n, raw, value, flags, arrival_id) SELECT {id}, {fromMs} + i * 60000, 0, i % 40, i % 40, 0, 0
                        FROM minutes
                    """
                );
                foreach (var step in new long[] { 60_000, 3_600_000 })
                {
                    await store.Database.ExecuteSqlAsync(
                        $"""
                        INSERT INTO rollups (reading_id, step, t, n, low, high, sum, last, last_t, rises)
                        SELECT {id}, {step}, s.start, s.n, s.low, s.high, s.sum, (SELECT value FROM samples b
                            WHERE b.reading_id = {id} AND b.t = s.newest), s.newest, 0
                        FROM (SELECT t / {step} * {step} AS start, count(*) AS n, min(value) AS low, max(value) AS high, total(value) AS sum,
                            max(t) AS newest FROM samples WHERE reading_id = {id} GROUP BY 1) s
                        """
                    );
                }
            });
    }

    private static async Task ImportAsync(HttpClient owner, string table)
    {
        var view = (
            await (
                await owner.PostAsync("/api/sites/home/imports?name=card.csv", new StringContent(table, Encoding.UTF8, "text/csv"))
            ).Content.ReadFromJsonAsync<ImportView>(CenoticJson.Options)
        )!;
        (
            await owner.PostAsync(
                $"/api/sites/home/imports/{view.Id}/begin",
                RunningServer.Body(new CsvLayout(',', false, true, 0, CsvTime.Iso8601, "Etc/UTC", [new(1, "hall", "temp"), new(2, "hall", "motion")]))
            )
        ).EnsureSuccessStatusCode();
        await RunningServer.UntilAsync(
            async () =>
                (view = (await owner.GetFromJsonAsync<ImportView>($"/api/sites/home/imports/{view.Id}", CenoticJson.Options))!).Stage == ImportStage.Done,
            "it is imported"
        );
    }

    private static async Task<LogEntry> EntryAsync(HttpClient client, LogKind kind) =>
        (await client.GetFromJsonAsync<LogPage>("/api/sites/home/log", CenoticJson.Options))!.Entries.First(e => e.Kind == kind && e.CanBeTakenBack);

    private static async Task TakeBackAsync(HttpClient owner, LogEntry entry)
    {
        var answer = await owner.PostAsync($"/api/sites/home/log/entries/{entry.Id}/take-back", null);
        Assert.True(answer.StatusCode == HttpStatusCode.OK, await answer.Content.ReadAsStringAsync());
    }

    private static async Task AssertWholeAsync(RunningServer server)
    {
        Assert.Empty((await server.Services.GetRequiredService<StoreCheck>().RunAsync(CancellationToken.None))!.Faults);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM readings WHERE Key LIKE '~%'"));
    }

    [Theory]
    [InlineData(300)]
    [InlineData(12_000)]
    public async Task An_import_is_taken_back_and_all_is_as_before(int rows)
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        using var node = await server.NodeAsync("hall");
        var start = DateTimeOffset.UtcNow.AddDays(-20);
        foreach (var (minutes, temp, motion) in new[] { (5, 20, 1), (6, 21, 0), (30_000 / 60, 22, 1) })
        {
            await RunningServer.PublishAsync(
                node,
                "hall",
                $$"""[{"bt":{{start.AddMinutes(minutes).ToUnixTimeSeconds()}},"n":"temp","v":{{temp}}},{"n":"motion","v":{{motion}}}]"""
            );
        }
        await FillAsync(server, "hall", "light", 20, start.ToUnixTimeMilliseconds());
        var before = await StateAsync(server);
        // Rows between, before and after what is known; one of them is known to the last digit.
        var table =
            "time,temp,motion\n"
            + string.Concat(
                Enumerable
                    .Range(0, rows)
                    .Select(i =>
                        string.Create(CultureInfo.InvariantCulture, $"{start.AddSeconds(i * 10):yyyy-MM-dd'T'HH:mm:ss'Z'},{15 + i % 100 / 10.0:0.0},{i % 3}\n")
                    )
            )
            + $"{start.AddMinutes(6):yyyy-MM-dd'T'HH:mm:ss'Z'},21,0\n";
        await ImportAsync(owner, table);
        Assert.True((await StateAsync(server)).Count > before.Count + rows);
        var entry = await EntryAsync(owner, LogKind.Import);
        Assert.Contains("card.csv", entry.Text);
        await TakeBackAsync(owner, entry);
        Assert.Equal(before, await StateAsync(server));
        await AssertWholeAsync(server);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM arrivals WHERE Import IS NOT NULL"));
        Assert.Equal(HttpStatusCode.NotFound, (await owner.PostAsync($"/api/sites/home/log/entries/{entry.Id}/take-back", null)).StatusCode);
        var viewer = await server.ClientAsync("viewer");
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.PostAsync($"/api/sites/home/log/entries/{entry.Id}/take-back", null)).StatusCode);
        // What comes then is as news as it was before.
        await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":23}]""");
        Assert.Equal(0, await server.CountAsync($"SELECT flags & 1 AS Value FROM samples WHERE raw = 23"));
    }

    [Fact]
    public async Task The_same_file_without_a_clock_is_known_again()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        const string table = "seconds,temp\n0,20\n10,21\n20,22\n";
        var layout = new CsvLayout(
            ',',
            false,
            true,
            0,
            CsvTime.SecondsSinceStart,
            "Etc/UTC",
            [new(1, "hall", "temp")],
            DateTimeOffset.UtcNow.AddDays(-2).ToUnixTimeMilliseconds()
        );
        async Task<(ImportView View, HttpResponseMessage Begun)> SendAsync(CsvLayout of)
        {
            var view = (
                await (
                    await owner.PostAsync("/api/sites/home/imports?name=card.csv", new StringContent(table, Encoding.UTF8, "text/csv"))
                ).Content.ReadFromJsonAsync<ImportView>(CenoticJson.Options)
            )!;
            return (view, await owner.PostAsync($"/api/sites/home/imports/{view.Id}/begin", RunningServer.Body(of)));
        }
        var (first, begun) = await SendAsync(layout);
        Assert.Null(first.Before);
        begun.EnsureSuccessStatusCode();
        await RunningServer.UntilAsync(async () => await server.CountAsync($"SELECT coalesce(max(Samples), 0) AS Value FROM imports") == 3, "it is imported");
        var (second, refused) = await SendAsync(layout with { EndedMs = layout.EndedMs + 3_600_000 });
        Assert.Equal(("owner", 3L), (second.Before!.Who, second.Before.Samples));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("Take that import back in the Log first", await refused.Content.ReadAsStringAsync());
        await TakeBackAsync(owner, await EntryAsync(owner, LogKind.Import));
        var (third, again) = await SendAsync(layout);
        Assert.Null(third.Before);
        Assert.Equal(HttpStatusCode.OK, again.StatusCode);
    }

    [Theory]
    [InlineData(600)]
    [InlineData(20_000)]
    public async Task A_bad_period_is_left_out_and_counts_again_once_it_is_taken_back(int minutes)
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        var start = DateTimeOffset.UtcNow.AddMinutes(-minutes - 10).ToUnixTimeMilliseconds() / 3_600_000 * 3_600_000;
        await FillAsync(server, "hall", "temp", minutes, start);
        var before = await StateAsync(server);
        var (from, to) = (start + 30 * 60_000, start + (minutes - 30) * 60_000L);
        var answer = await owner.PostAsync("/api/sites/home/set-aside", RunningServer.Body(new SetAsideRequest("hall", "temp", from, to, "lay in the sun")));
        Assert.True(answer.StatusCode == HttpStatusCode.NoContent, await answer.Content.ReadAsStringAsync());
        Assert.Equal(minutes, await server.CountAsync($"SELECT count(*) AS Value FROM samples"));
        var left = minutes - ((to - from) / 60_000 + 1);
        Assert.Equal(left, await server.CountAsync($"SELECT sum(n) AS Value FROM rollups WHERE step = 3600000"));
        await AssertWholeAsync(server);
        // Its line has nothing there, its values are as they came, and what comes late into it is left out too.
        var line = await server.QueryAsync(s =>
            SeriesReader.LineAsync(
                s,
                server.Book.Find("home")!,
                (int)Id(server, "hall", "temp"),
                start,
                start + minutes * 60_000L,
                500,
                DateTimeOffset.UtcNow.ToUnixTimeMilliseconds()
            )
        );
        Assert.DoesNotContain(line.T, t => t > from + 3_600_000 && t < to - 3_600_000);
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"temp","t":{{(from + 30_000) / 1000}},"v":33.5}]""");
        Assert.Equal((long)SampleFlags.SetAside, await server.CountAsync($"SELECT flags & 32 AS Value FROM samples WHERE raw = 33.5"));
        await server.QueryAsync(s => s.Database.ExecuteSqlAsync($"DELETE FROM samples WHERE raw = 33.5"));
        await TakeBackAsync(owner, await EntryAsync(owner, LogKind.SetAside));
        Assert.Equal(before, await StateAsync(server));
        foreach (
            var (wrong, why) in new[]
            {
                (new SetAsideRequest("hall", "gone", from, to), "no reading"),
                (new SetAsideRequest("hall", "temp", to, from), "ends before it begins"),
                (new SetAsideRequest("hall", "temp", long.MaxValue / 4, long.MaxValue / 2), "begins in the past"),
            }
        )
        {
            var refused = await owner.PostAsync("/api/sites/home/set-aside", RunningServer.Body(wrong));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
            Assert.Contains(why, await refused.Content.ReadAsStringAsync());
        }
    }

    [Fact]
    public async Task What_arrives_while_a_long_past_is_made_anew_is_stored_corrected_and_summed()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        const int minutes = 60_000;
        var start = DateTimeOffset.UtcNow.AddMinutes(-minutes - 100).ToUnixTimeMilliseconds();
        await FillAsync(server, "hall", "temp", minutes, start);
        using var node = await server.NodeAsync("hall");
        var put = owner.PostAsync(
            "/api/sites/home/nodes/hall/calibrations",
            RunningServer.Body(new CalibrationRequest("temp", CalibrationKind.Offset, [new(20, 21)], 0.1, "ice", start))
        );
        var sent = 0;
        var calibrations = server.Services.GetRequiredService<Calibrations>();
        while (!put.IsCompleted || calibrations.Work("home", "hall") is { Running: true })
        {
            // News, and what comes late into hours that were gone through already.
            var late = sent % 3 == 0 ? $$""","t":{{(start + 60_000 + sent * 61_000) / 1000}}""" : "";
            await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"temp"{{late}},"v":{{(sent % 40).ToString(CultureInfo.InvariantCulture)}}.25}]""");
            sent++;
        }
        Assert.Null(calibrations.Work("home", "hall")!.Fault);
        Assert.True(sent > 20, $"{sent} messages came meanwhile");
        Assert.Equal(
            [],
            await server.QueryAsync(s =>
                s.Database.SqlQuery<string>(
                        $"""
                        SELECT reading_id || ' ' || t || ' ' || raw || ' ' || value || ' ' || flags || ' ' || arrival_id AS Value FROM samples
                            WHERE abs(value - raw - 1) > 1e-9
                        """
                    )
                    .ToListAsync()
            )
        );
        Assert.Equal(
            minutes + sent,
            await server.CountAsync($"SELECT count(*) AS Value FROM samples WHERE abs(value - raw - 1) < 1e-9 AND reading_id = {Id(server, "hall", "temp")}")
        );
        Assert.Equal(minutes + sent, await server.CountAsync($"SELECT count(*) AS Value FROM samples"));
        await AssertWholeAsync(server);
        // The next calibration and the next message find the reading where it is now.
        (
            await owner.PostAsync(
                "/api/sites/home/nodes/hall/calibrations",
                RunningServer.Body(new CalibrationRequest("temp", CalibrationKind.Offset, [new(20, 22)], 0.1, "steam"))
            )
        ).EnsureSuccessStatusCode();
        await RunningServer.PublishAsync(node, "hall", """[{"n":"temp","v":30.125}]""");
        Assert.Equal(
            32.125,
            (await server.QueryAsync(s => s.Database.SqlQuery<double>($"SELECT value AS Value FROM samples WHERE raw = 30.125").ToListAsync())).Single()
        );
    }
}
