namespace Cenotic.Server.Bench;

/// <summary>Puts the Bench together.</summary>
internal static class BenchSetup
{
    /// <summary>Maps its routes.</summary>
    public static void MapBench(this WebApplication app)
    {
        BenchEndpoints.Map(app);
        HardwareEndpoints.Map(app);
    }
}
