using Cenotic.Server.Alerts.Ways;

namespace Cenotic.Server.Alerts;

/// <summary>Puts rules, zones and notices together.</summary>
internal static class AlertsSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddAlerts(this IServiceCollection services) =>
        services
            .AddSingleton<RuleRunner>()
            .AddHostedService(s => s.GetRequiredService<RuleRunner>())
            .AddSingleton<GuardedHttp>()
            .AddSingleton<NoticeWays>()
            .AddSingleton<OutboxSender>()
            .AddHostedService(s => s.GetRequiredService<OutboxSender>())
            .AddSingleton<ActKeeper>()
            .AddHostedService(s => s.GetRequiredService<ActKeeper>());

    /// <summary>Maps its routes.</summary>
    public static void MapAlerts(this WebApplication app)
    {
        EpisodeEndpoints.Map(app);
        NoticeSettingsEndpoints.Map(app);
        ZoneEndpoints.Map(app);
        JudgeAnywayEndpoints.Map(app);
        TrialEndpoints.Map(app);
        TallyEndpoints.Map(app);
    }
}
