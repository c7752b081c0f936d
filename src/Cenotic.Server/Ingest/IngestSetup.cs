using MQTTnet.AspNetCore;
using MQTTnet.Server;

namespace Cenotic.Server.Ingest;

/// <summary>Puts the ways in together.</summary>
internal static class IngestSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddIngest(this IServiceCollection services) =>
        services
            .AddRateLimiter(o => o.AddPolicy(IntakeEndpoints.Limit, IntakeEndpoints.LimitOf))
            .AddSingleton<NodeKeys>()
            .AddSingleton<NodeClocks>()
            .AddSingleton<Intake>()
            .AddSingleton<Imports>()
            .AddSingleton<Broker>()
            .AddSingleton<BrokerAddress>()
            .AddSingleton<PacketGuard>()
            .AddSingleton<DuplicateMessages>()
            .AddSingleton<MqttConnectionHandler>()
            .AddSingleton<NodeChannels>()
            .AddSingleton<IMqttServerAdapter>(s => s.GetRequiredService<NodeChannels>())
            .AddSingleton<SerialLineHost>()
            .AddHostedService(s => s.GetRequiredService<SerialLineHost>())
            .AddSingleton<UpstreamBroker>()
            .AddHostedService(s => s.GetRequiredService<UpstreamBroker>());

    /// <summary>Maps its routes.</summary>
    public static void MapIngest(this WebApplication app)
    {
        RelayEndpoints.Map(app);
        NodeEndpoints.Map(app);
        IntakeEndpoints.Map(app);
        SerialLineEndpoints.Map(app);
        ImportEndpoints.Map(app);
    }
}
