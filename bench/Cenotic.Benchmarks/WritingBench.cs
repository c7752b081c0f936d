using System.Diagnostics;
using Cenotic.Core.Catalogue;
using Cenotic.Server;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>Samples written per second by the writer (arrival, samples, two rollups each), beside the same
/// sample rows written by bare SQLite calls with the same durability.</summary>
internal static class WritingBench
{
    private const int Messages = 6_000,
        PerMessage = 50,
        Senders = 400;

    public static async Task RunAsync()
    {
        await using var host = await Host.StartAsync();
        var writer = host.App.Services.GetRequiredService<SampleWriter>();
        // A batch of one node: its readings in turn, each some steps further on.
        var kinds = host.App.Services.GetRequiredService<SiteBook>().Find("home")!.Readings.Values.Where(r => r.Kind == ReadingKind.Gauge).ToList();
        var readings = Enumerable.Range(0, PerMessage).Select(i => kinds[i % kinds.Count]).ToList();
        var clock = host.App.Services.GetRequiredService<SiteClock>().Now("home") - Messages * 100L;
        DecodedMessage Message(int i) =>
            new(
                "home",
                "drying",
                clock,
                200,
                1,
                i + 1,
                null,
                null,
                [.. readings.Select((r, at) => new DecodedSample(r.Id, r.Key, r.Kind, clock + i * 100L + at, i, SampleFlags.None))],
                [],
                ""
            );
        await writer.StoreAsync(Message(Messages));
        var next = -1;
        var watch = Stopwatch.StartNew();
        await Task.WhenAll(
            Enumerable
                .Range(0, Senders)
                .Select(async _ =>
                {
                    for (var i = Interlocked.Increment(ref next); i < Messages; i = Interlocked.Increment(ref next))
                    {
                        await writer.StoreAsync(Message(i));
                    }
                })
        );
        var ours = Messages * readings.Count / watch.Elapsed.TotalSeconds;
        var bare = Bare(Path.Combine(host.Folder, "bare.db"), readings.Count, kinds.Count);
        Console.WriteLine(
            $"writing: {ours:0} samples/s through the writer ({Senders} senders waiting for their commits), {bare:0} rows/s by bare SQLite with the "
                + $"same pragmas; ratio {ours / bare:0.00}"
        );
    }

    private static double Bare(string file, int perMessage, int kinds)
    {
        using var connection = new SqliteConnection($"Data Source={file}");
        connection.Open();
        new SqliteCommand(
            "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; CREATE TABLE samples (reading_id INTEGER, t INTEGER, n INTEGER, raw REAL, value REAL, "
                + "flags INTEGER, arrival_id INTEGER, PRIMARY KEY (reading_id, t, n)) WITHOUT ROWID",
            connection
        ).ExecuteNonQuery();
        var watch = Stopwatch.StartNew();
        for (var from = 0; from < Messages; from += Senders)
        {
            using var transaction = connection.BeginTransaction();
            using var command = new SqliteCommand("INSERT INTO samples VALUES ($r, $t, 0, $v, $v, 0, $a)", connection, transaction);
            foreach (var name in new[] { "$r", "$t", "$v", "$a" })
            {
                command.Parameters.Add(new SqliteParameter(name, SqliteType.Integer));
            }
            command.Prepare();
            for (var i = from; i < from + Senders; i++)
            {
                for (var r = 0; r < perMessage; r++)
                {
                    (command.Parameters[0].Value, command.Parameters[1].Value, command.Parameters[2].Value, command.Parameters[3].Value) = (
                        r % kinds,
                        i * 100L + r,
                        (double)i,
                        i
                    );
                    command.ExecuteNonQuery();
                }
            }
            transaction.Commit();
        }
        return Messages * perMessage / watch.Elapsed.TotalSeconds;
    }
}
