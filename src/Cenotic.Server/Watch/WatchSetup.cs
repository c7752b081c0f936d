namespace Cenotic.Server.Watch;

/// <summary>Puts the Watch together.</summary>
internal static class WatchSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddWatch(this IServiceCollection services) =>
        services
            .AddSingleton<NodeHealthReader>()
            .AddSingleton<ViewReader>()
            .AddSingleton<Deriver>()
            .AddHostedService(s => s.GetRequiredService<Deriver>())
            .AddHostedService<LivePump>();

    /// <summary>Maps its routes.</summary>
    public static void MapWatch(this WebApplication app)
    {
        WatchEndpoints.Map(app);
        ViewEndpoints.Map(app);
        DerivedEndpoints.Map(app);
        SetAsideEndpoints.Map(app);
        ShareEndpoints.Map(app);
        CompareEndpoints.Map(app);
        ExportEndpoints.Map(app);
    }
}
