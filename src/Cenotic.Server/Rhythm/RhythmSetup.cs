namespace Cenotic.Server.Rhythm;

/// <summary>Puts the Rhythm together.</summary>
internal static class RhythmSetup
{
    /// <summary>Maps its routes.</summary>
    public static void MapRhythm(this WebApplication app)
    {
        RhythmEndpoints.Map(app);
    }
}
