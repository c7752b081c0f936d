namespace Cenotic.Server.Sites;

/// <summary>Puts sites, their designs and their clocks together.</summary>
internal static class SitesSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddSites(this IServiceCollection services) =>
        services.AddSingleton<SiteClock>().AddSingleton<SitePlans>().AddSingleton<SiteBook>();

    /// <summary>Maps its routes.</summary>
    public static void MapSites(this WebApplication app)
    {
        SiteEndpoints.Map(app);
    }
}
