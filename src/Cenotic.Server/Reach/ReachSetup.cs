namespace Cenotic.Server.Reach;

/// <summary>Puts Reach together.</summary>
internal static class ReachSetup
{
    /// <summary>Maps its routes.</summary>
    public static void MapReach(this WebApplication app)
    {
        ReachEndpoints.Map(app);
    }
}
