namespace Cenotic.Server.Reach;

/// <summary>Puts Reach together.</summary>
internal static class ReachSetup
{
    /// <summary>Adds what counts how links did.</summary>
    public static IServiceCollection AddReach(this IServiceCollection services) =>
        services.AddSingleton<LinkCounts>().AddHostedService(s => s.GetRequiredService<LinkCounts>());

    /// <summary>Maps its routes.</summary>
    public static void MapReach(this WebApplication app)
    {
        ReachEndpoints.Map(app);
    }
}
