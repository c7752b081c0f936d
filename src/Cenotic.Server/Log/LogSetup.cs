using Cenotic.Server.Watch;

namespace Cenotic.Server.Log;

/// <summary>Puts the Log together.</summary>
internal static class LogSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddLog(this IServiceCollection services) => services.AddSingleton<IDaysLeft, DaysLeft>();

    /// <summary>Maps its routes.</summary>
    public static void MapLog(this WebApplication app)
    {
        LogEndpoints.Map(app);
        MaintenanceEndpoints.Map(app);
    }
}
