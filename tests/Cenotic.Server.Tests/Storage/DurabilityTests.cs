using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Storage;

public class DurabilityTests
{
    /// <summary>That a power cut costs no more than a kill rests on these (docs/rooms/samples.md): on every connection, new or pooled.</summary>
    [Fact]
    public async Task Every_connection_has_wal_with_synchronous_full_and_foreign_keys()
    {
        await using var server = await RunningServer.StartAsync();
        var stores = server.Services.GetRequiredService<IDbContextFactory<CenoticStore>>();
        var open = new List<CenoticStore>();
        for (var i = 0; i < 12; i++)
        {
            var store = await stores.CreateDbContextAsync();
            await store.Database.OpenConnectionAsync();
            Assert.Equal("wal", await PragmaAsync(store, "journal_mode"));
            Assert.Equal("2", await PragmaAsync(store, "synchronous"));
            Assert.Equal("1", await PragmaAsync(store, "foreign_keys"));
            open.Add(store);
        }
        foreach (var store in open)
        {
            await store.DisposeAsync();
        }
        await server.Services.GetRequiredService<WriteGate>().WriteAsync(async store => Assert.Equal("2", await PragmaAsync(store, "synchronous")));
    }

    [Fact]
    public async Task The_model_has_no_change_that_a_migration_misses() => await OnStoreAsync(async s => Assert.False(s.Database.HasPendingModelChanges()));

    [Fact]
    public async Task A_write_that_fails_leaves_nothing()
    {
        await using var server = await RunningServer.StartAsync();
        var gate = server.Services.GetRequiredService<WriteGate>();
        await Assert.ThrowsAsync<InvalidOperationException>(() =>
            gate.WriteAsync(store =>
            {
                store.NodeKeys.Add(
                    new()
                    {
                        Site = "home",
                        Node = "x",
                        Hash = "h",
                    }
                );
                throw new InvalidOperationException("on purpose");
            })
        );
        Assert.Equal(0, await server.QueryAsync(s => s.NodeKeys.CountAsync()));
    }

    private static async Task OnStoreAsync(Func<CenoticStore, Task> check)
    {
        await using var server = await RunningServer.StartAsync(empty: true);
        await server.QueryAsync(async s =>
        {
            await check(s);
            return 0;
        });
    }

    private static async Task<string?> PragmaAsync(CenoticStore store, string name)
    {
        await using var command = store.Database.GetDbConnection().CreateCommand();
        command.CommandText = $"PRAGMA {name}";
        if (store.Database.CurrentTransaction is { } transaction)
        {
            command.Transaction = Microsoft.EntityFrameworkCore.Storage.DbContextTransactionExtensions.GetDbTransaction(transaction);
        }
        return (await command.ExecuteScalarAsync())?.ToString();
    }
}
