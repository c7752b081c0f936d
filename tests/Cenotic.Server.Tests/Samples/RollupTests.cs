using Cenotic.Core.Catalogue;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Samples;

/// <summary>Rollups, gathered over a batch and written once, against the samples themselves.</summary>
public class RollupTests
{
    [Fact]
    public async Task Rollups_are_what_the_samples_say_whatever_the_order_they_came_in()
    {
        await using var server = await RunningServer.StartAsync();
        var writer = server.Services.GetRequiredService<SampleWriter>();
        var readings = server.Book.Find("home")!.Readings.Values.Where(r => r is { Node: "drying", Kind: ReadingKind.Gauge }).ToList();
        var start = server.Services.GetRequiredService<SiteClock>().Now("home") - 10_000_000;
        var random = new Random(7);
        // Many at once, so that batches hold several; times out of order over some hours.
        await Task.WhenAll(
            Enumerable
                .Range(1, 600)
                .Select(number =>
                    writer.StoreAsync(
                        new(
                            "home",
                            "drying",
                            start,
                            50,
                            1,
                            number,
                            null,
                            null,
                            [
                                .. readings
                                    .Take(1 + number % readings.Count)
                                    .Select(r => new DecodedSample(
                                        r.Id,
                                        r.Key,
                                        r.Kind,
                                        start + random.Next(9_000_000),
                                        random.Next(-500, 500) / 4.0,
                                        SampleFlags.None
                                    )),
                            ],
                            [],
                            ""
                        )
                    )
                )
        );
        foreach (var step in new long[] { 60_000, 3_600_000 })
        {
            var wrong = await server.CountAsync(
                $"""
                SELECT count(*) AS Value FROM rollups r FULL JOIN (
                    SELECT reading_id, t - t % {step} AS bucket, count(*) AS n, min(value) AS low, max(value) AS high, sum(value) AS sum, max(t) AS last_t
                        FROM samples GROUP BY reading_id, bucket
                ) s ON s.reading_id = r.reading_id AND s.bucket = r.t
                WHERE (r.step = {step} OR r.step IS NULL)
                    AND (s.n IS NOT r.n OR s.low IS NOT r.low OR s.high IS NOT r.high OR abs(s.sum - r.sum) > 1e-6 OR s.last_t IS NOT r.last_t)
                """
            );
            Assert.Equal(0, wrong);
            Assert.True(await server.CountAsync($"SELECT count(*) AS Value FROM rollups WHERE step = {step}") > 2);
            Assert.Equal(
                await server.CountAsync($"SELECT count(*) AS Value FROM samples"),
                await server.CountAsync($"SELECT sum(n) AS Value FROM rollups WHERE step = {step}")
            );
            // The last value is that of the newest sample.
            Assert.Equal(
                0,
                await server.CountAsync(
                    $"""
                    SELECT count(*) AS Value FROM rollups r WHERE r.step = {step} AND NOT EXISTS (SELECT 1 FROM samples s WHERE s.reading_id =
                        r.reading_id AND s.t = r.last_t AND s.value = r.last)
                    """
                )
            );
        }
    }
}
