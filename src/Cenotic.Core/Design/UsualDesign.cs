namespace Cenotic.Core.Design;

/// <summary>What a form starts from where the design says nothing.</summary>
/// <param name="Sending">The usual way of sending.</param>
/// <param name="Power">A supply with nothing special about it.</param>
/// <param name="Harvest">A light cell in the sun of a temperate latitude.</param>
/// <param name="CapacitorMicrofarads">A storage capacitor that carries a short radio message, µF.</param>
/// <param name="OutputMaxOnMs">How long an output may be on, ms.</param>
public sealed record UsualDesign(SendDesign Sending, PowerDesign Power, HarvestDesign Harvest, double CapacitorMicrofarads, long OutputMaxOnMs)
{
    /// <summary>Common practice, no source.</summary>
    public static readonly UsualDesign Values = new(new(), new(PowerKind.Usb), new(60, 15, LightKind.Sun, LatitudeDegrees: 50), 470_000, 600_000);
}
