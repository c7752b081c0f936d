namespace Cenotic.Server.Samples;

/// <summary>Puts the store of samples together.</summary>
internal static class SamplesSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddSamples(this IServiceCollection services) =>
        services
            .AddSingleton<ReadingNumbers>()
            .AddSingleton<SampleRemaker>()
            .AddSingleton<SetAside>()
            .AddSingleton<LastMessages>()
            .AddSingleton<RelayMeter>()
            .AddSingleton<Retention>()
            .AddHostedService(s => s.GetRequiredService<Retention>())
            .AddSingleton<SampleWriter>()
            .AddHostedService(s => s.GetRequiredService<SampleWriter>());
}
