using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Storage;

/// <summary>A database of an earlier program is brought up to date with all that is in it.</summary>
public class UpgradeTests
{
    private static List<string> Query(string database, string sql)
    {
        using var connection = new SqliteConnection($"Data Source={database};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        using var rows = command.ExecuteReader();
        var lines = new List<string>();
        while (rows.Read())
        {
            lines.Add(string.Join(' ', Enumerable.Range(0, rows.FieldCount).Select(i => rows.IsDBNull(i) ? "null" : rows.GetValue(i).ToString())));
        }
        return lines;
    }

    private static List<string> Tables(string database) =>
        Query(database, "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite%' AND name NOT LIKE '__EF%' ORDER BY name");

    /// <summary>Columns, indexes and references, whatever the order in which they were made.</summary>
    private static List<string> Schema(string database) =>
        [
            .. Tables(database)
                .SelectMany(t =>
                    Query(database, $"SELECT name, type, \"notnull\", pk FROM pragma_table_info('{t}')")
                        .Concat(Query(database, $"SELECT \"table\", \"from\", \"to\", on_delete FROM pragma_foreign_key_list('{t}')"))
                        .Concat(
                            Query(
                                database,
                                $"""
                                SELECT l.name, l."unique", l.partial, group_concat(i.name) FROM pragma_index_list('{t}') l, pragma_index_info(l.name) i
                                    WHERE l.origin = 'c' GROUP BY l.name
                                """
                            )
                        )
                        .Select(line => $"{t}: {line}")
                )
                .Order(StringComparer.Ordinal),
        ];

    /// <summary>What a row has where a statement leaves a column out.</summary>
    private static List<string> Defaults(string database) =>
        [.. Tables(database).SelectMany(t => Query(database, $"SELECT '{t}', name, dflt_value FROM pragma_table_info('{t}') WHERE dflt_value IS NOT NULL"))];

    [Fact]
    public async Task The_twelve_steps_of_before_are_one_and_nothing_is_lost()
    {
        var folder = TwelveSteps.NewFolder();
        var database = Path.Combine(folder, "cenotic.db");
        var before = Tables(database).ToDictionary(t => t, t => Query(database, $"SELECT * FROM \"{t}\""));
        Assert.Equal(60, before["samples"].Count);
        List<string> all;
        await using (var store = new CenoticStore(CenoticStore.For(database)))
        {
            all = [.. store.Database.GetMigrations()];
        }
        await using (var server = await RunningServer.StartAsync(folder, empty: true))
        {
            Assert.Equal(["drying", "gateway"], server.Services.GetRequiredService<SiteBook>().Find("elder")!.Design.Nodes.Select(n => n.Key));
        }
        Assert.Equal(all, Query(database, "SELECT MigrationId FROM __EFMigrationsHistory"));
        Assert.All(before.Where(t => t.Key is "samples" or "rollups" or "documents" or "revisions" or "arrivals" or "readings"), t =>
            Assert.Equal(t.Value, Query(database, $"SELECT * FROM \"{t.Key}\""))
        );
        Assert.Equal(12, Query($"{database}.before-{all[0]}", "SELECT MigrationId FROM __EFMigrationsHistory").Count);
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task The_tables_are_those_of_a_new_database()
    {
        var (older, newer) = (TwelveSteps.NewFolder(), RunningServer.NewFolder());
        Directory.CreateDirectory(newer);
        await using (var store = new CenoticStore(CenoticStore.For(Path.Combine(newer, "cenotic.db"))))
        {
            await store.Database.MigrateAsync();
        }
        await using (await RunningServer.StartAsync(older, empty: true))
        {
            // It is brought up to date.
        }
        SqliteConnection.ClearAllPools();
        var schema = Schema(Path.Combine(newer, "cenotic.db"));
        Assert.Contains("samples: samples_by_arrival 0 0 arrival_id", schema);
        Assert.Equal(schema, Schema(Path.Combine(older, "cenotic.db")));
        // Columns that were added step by step have defaults besides, which no statement needs.
        Assert.Empty(Defaults(Path.Combine(newer, "cenotic.db")).Except(Defaults(Path.Combine(older, "cenotic.db"))));
    }
}
