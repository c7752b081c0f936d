namespace Cenotic.Server.StandIns;

/// <summary>Puts the demo together.</summary>
internal static class StandInsSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddStandIns(this IServiceCollection services) =>
        services
            .AddSingleton<TextSink>()
            .AddSingleton<MailSink>()
            .AddHostedService(s => s.GetRequiredService<MailSink>())
            .AddSingleton(_ => StandInPlan.Read())
            .AddSingleton<DemoSite>()
            .AddSingleton<StandInHost>()
            .AddHostedService(s => s.GetRequiredService<StandInHost>());

    /// <summary>Maps its routes.</summary>
    public static void MapStandIns(this WebApplication app)
    {
        StandInEndpoints.Map(app);
    }
}
