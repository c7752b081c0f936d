namespace Cenotic.Server.StandIns;

/// <summary>What the control sheet does to a stand-in.</summary>
/// <param name="Silenced">It stays connected and says nothing.</param>
/// <param name="HeatCelsius">Added to its temperatures.</param>
/// <param name="TrippedUntil">Its motion, presence and contacts are tripped until then, UTC ms of site time.</param>
/// <param name="Unplugged">It has no supply; plugged in again it starts anew.</param>
/// <param name="Jammed">Nothing gets through on its link.</param>
/// <param name="LossPercent">Part of its single transmissions that is lost.</param>
/// <param name="SkewSeconds">How far its clock is ahead.</param>
/// <param name="Scanning">It tells again and again what it finds on its buses.</param>
/// <param name="WarmPart">The probe that somebody holds in the hand, and since when, UTC ms of site time.</param>
public sealed record StandInControl(
    bool Silenced,
    double HeatCelsius,
    long TrippedUntil,
    bool Unplugged = false,
    bool Jammed = false,
    double LossPercent = 0,
    double SkewSeconds = 0,
    bool Scanning = false,
    string? WarmPart = null,
    long WarmSince = 0
)
{
    public static readonly StandInControl Calm = new(false, 0, 0);
}
