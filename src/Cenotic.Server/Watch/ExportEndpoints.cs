using Cenotic.Core.Formats;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>Any stretch of any readings as a file.</summary>
public static class ExportEndpoints
{
    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Reading(routes).MapGet("/samples/{format}", Export).WithName("ExportSamples");

    /// <param name="format">csv, or senml for SenML in JSON. In SenML the values of a faulty sensor are left out: it has no mark for them.</param>
    /// <param name="from">First moment, UTC ms.</param>
    /// <param name="to">The moment it ends before, UTC ms.</param>
    /// <param name="reading">NODE/READING, any number of times; none for all.</param>
    private static Results<PushStreamHttpResult, ProblemHttpResult> Export(
        string site,
        string format,
        long from,
        long to,
        [FromQuery] string[]? reading,
        SiteBook book,
        IDbContextFactory<CenoticStore> stores
    )
    {
        var state = book.Find(site)!;
        var wanted = reading is { Length: > 0 } ? reading : [.. state.Design.AllReadings.Select(r => $"{r.Ref}")];
        var ids = wanted.Select(w => w.Split('/') is [var node, var key] && state.Readings.TryGetValue((node, key), out var row) ? row : null).ToList();
        if (to <= from || ids.Contains(null) || format is not ("csv" or "senml"))
        {
            return TypedResults.Problem(
                "The end must come after the start, each reading be written NODE/READING, and the format be csv or senml.",
                statusCode: 422
            );
        }
        var (type, end) = format == "csv" ? ("text/csv; charset=utf-8", "csv") : ("application/senml+json", "senml.json");
        return TypedResults.Stream(
            async stream =>
            {
                await using var text = new StreamWriter(stream, leaveOpen: true);
                await using var store = await stores.CreateDbContextAsync();
                await store.Database.OpenConnectionAsync();
                var samples = Samples(store, [.. ids.Select(r => (r!, state.Quantity(r!.Node, r.Key)?.Unit ?? ""))], from, to, suspect: format == "csv");
                foreach (var piece in format == "csv" ? SampleExports.Csv(samples) : SampleExports.Senml(samples))
                {
                    await text.WriteAsync(piece);
                }
            },
            type,
            $"{site}-{DateTimeOffset.FromUnixTimeMilliseconds(from):yyyy-MM-dd}-{DateTimeOffset.FromUnixTimeMilliseconds(to):yyyy-MM-dd}.{end}"
        );
    }

    private static IEnumerable<ExportedSample> Samples(
        CenoticStore store,
        IReadOnlyList<(ReadingRow Reading, string Unit)> readings,
        long from,
        long to,
        bool suspect
    )
    {
        foreach (var (reading, unit) in readings)
        {
            using var command = ((SqliteConnection)store.Database.GetDbConnection()).CreateCommand();
            command.CommandText =
                $"SELECT t, value, flags FROM samples WHERE reading_id = $id AND t >= $from AND t < $to {(suspect ? "" : "AND flags & 40 = 0")} ORDER BY t, n";
            command.Parameters.AddWithValue("$id", reading.Id);
            command.Parameters.AddWithValue("$from", from);
            command.Parameters.AddWithValue("$to", to);
            using var rows = command.ExecuteReader();
            while (rows.Read())
            {
                yield return new(reading.Node, reading.Key, rows.GetInt64(0), rows.GetDouble(1), unit, Marks((SampleFlags)rows.GetInt32(2)));
            }
        }
    }

    private static string Marks(SampleFlags flags) =>
        string.Join(
            ' ',
            new[]
            {
                (SampleFlags.Late, "late"),
                (SampleFlags.TimeEstimated, "time-estimated"),
                (SampleFlags.Imported, "imported"),
                (SampleFlags.Suspect, "suspect"),
                (SampleFlags.WorkedOutLater, "worked-out-later"),
                (SampleFlags.SetAside, "set-aside"),
                (SampleFlags.BeyondTable, "beyond-table"),
            }
                .Where(m => flags.HasFlag(m.Item1))
                .Select(m => m.Item2)
        );
}
