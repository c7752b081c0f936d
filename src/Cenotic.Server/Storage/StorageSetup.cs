using Cenotic.Server.Common;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>Puts the store together.</summary>
internal static class StorageSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddStorage(this IServiceCollection services, Settings settings) =>
        services
            .AddDbContextFactory<CenoticStore>(o => o.UseSqlite($"Data Source={settings.Database}").AddInterceptors(DurableConnections.Instance))
            .AddSingleton<WriteGate>()
            .AddSingleton<StoreCheck>()
            .AddHostedService<BackupSchedule>();
}
