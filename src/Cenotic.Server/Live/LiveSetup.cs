using Cenotic.Core.Common;

namespace Cenotic.Server.Live;

/// <summary>Puts what pages are told together.</summary>
internal static class LiveSetup
{
    /// <summary>Where pages listen.</summary>
    public const string Path = "/live";

    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddLive(this IServiceCollection services)
    {
        services.AddSignalR().AddJsonProtocol(o => CenoticJson.Configure(o.PayloadSerializerOptions));
        return services.AddSingleton<LiveFeed>();
    }

    /// <summary>Maps its routes.</summary>
    public static void MapLive(this WebApplication app) => app.MapHub<LiveHub>(Path);
}
