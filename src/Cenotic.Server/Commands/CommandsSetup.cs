namespace Cenotic.Server.Commands;

/// <summary>Puts what is switched together.</summary>
internal static class CommandsSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddCommands(this IServiceCollection services) =>
        services.AddSingleton<OutputLeases>().AddHostedService(s => s.GetRequiredService<OutputLeases>());

    /// <summary>Maps its routes.</summary>
    public static void MapCommands(this WebApplication app)
    {
        OutputEndpoints.Map(app);
    }
}
