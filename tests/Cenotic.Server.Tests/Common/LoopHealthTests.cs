using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Server.Alerts;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Common;

/// <summary>Loops in the background on the day on which the database fails.</summary>
public class LoopHealthTests
{
    private static async Task<Health> HealthAsync(RunningServer server) =>
        (await (await server.ClientAsync("owner")).GetFromJsonAsync<Health>("/health", CenoticJson.Options))!;

    private static Task AlterAsync(WriteGate gate, string sql) => gate.WriteAsync(store => store.Database.ExecuteSqlRawAsync(sql));

    /// <summary>The tables of outputs, rules and notices are gone for a while: every loop that wants them
    /// fails and goes on, the program lives, and all works again afterwards.</summary>
    [Fact]
    public async Task A_database_that_fails_is_counted_and_tried_again_and_ends_nothing()
    {
        await using var server = await RunningServer.StartAsync();
        Assert.Empty((await HealthAsync(server)).Loops);
        var gate = server.Services.GetRequiredService<WriteGate>();
        await AlterAsync(
            gate,
            "ALTER TABLE outbox RENAME TO outbox_away; ALTER TABLE rule_states RENAME TO rule_states_away; ALTER TABLE commands RENAME TO commands_away"
        );
        using var node = await server.NodeAsync("drying");
        await RunningServer.PublishAsync(node, "drying", """[{"n":"rack1","v":20}]""");
        server.Services.GetRequiredService<OutboxSender>().Wake();
        await RunningServer.UntilAsync(
            async () => (await HealthAsync(server)).Loops.Select(l => l.Loop).Intersect(["notices", "rules"]).Count() == 2,
            "the loops that fail are told"
        );
        var before = (await HealthAsync(server)).Loops.Single(l => l.Loop == "notices").Count;
        await RunningServer.UntilAsync(
            async () => (await HealthAsync(server)).Loops.Single(l => l.Loop == "notices").Count > before + 2,
            "they are tried again"
        );
        await AlterAsync(
            gate,
            "ALTER TABLE outbox_away RENAME TO outbox; ALTER TABLE rule_states_away RENAME TO rule_states; ALTER TABLE commands_away RENAME TO commands"
        );
        await RunningServer.PublishAsync(node, "drying", """[{"n":"rack1","v":21}]""");
        // A round that was under way may still fail; those after it end well.
        await server.LookedAsync();
        var after = DateTimeOffset.UtcNow.ToUnixTimeMilliseconds();
        await server.LookedAsync();
        Assert.All((await HealthAsync(server)).Loops, l => Assert.True(l.LastMs <= after, $"{l.Loop} failed again"));
    }
}
