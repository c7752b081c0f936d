using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;

namespace Cenotic.Server.BringUp;

/// <summary>Puts the Bring-up together.</summary>
internal static class BringUpSetup
{
    /// <summary>Adds its services.</summary>
    public static IServiceCollection AddBringUp(this IServiceCollection services) =>
        services
            .AddSingleton<Calibrations>()
            .AddSingleton<ICorrections>(s => s.GetRequiredService<Calibrations>())
            .AddSingleton<Scans>()
            .AddSingleton<IScanKeeper>(s => s.GetRequiredService<Scans>());

    /// <summary>Maps its routes.</summary>
    public static void MapBringUp(this WebApplication app)
    {
        ScanEndpoints.Map(app);
        FirstReadingEndpoints.Map(app);
        NodeProgramEndpoints.Map(app);
        CalibrationEndpoints.Map(app);
        BuildEndpoints.Map(app);
        RangeWalkEndpoints.Map(app);
        LabelEndpoints.Map(app);
    }
}
