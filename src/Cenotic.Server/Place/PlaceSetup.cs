namespace Cenotic.Server.Place;

/// <summary>Puts Place together.</summary>
internal static class PlaceSetup
{
    /// <summary>Maps its routes.</summary>
    public static void MapPlace(this WebApplication app)
    {
        PlaceEndpoints.Map(app);
        PlanPictureEndpoints.Map(app);
    }
}
