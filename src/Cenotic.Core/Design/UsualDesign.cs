namespace Cenotic.Core.Design;

/// <summary>What a form starts from where the design says nothing.</summary>
/// <param name="Sending">The usual way of sending.</param>
/// <param name="Power">A supply with nothing special about it.</param>
/// <param name="Harvest">A light cell in the sun of a temperate latitude.</param>
/// <param name="CapacitorMicrofarads">A storage capacitor that carries a short radio message, µF.</param>
/// <param name="OutputMaxOnMs">How long an output may be on, ms.</param>
/// <param name="Vessel">A rain barrel under a sensor; its reading is blank.</param>
/// <param name="Zone">A zone of an ordinary house, without sensors.</param>
/// <param name="ZoneSoundAfterMs">How long a siren that waits does so, ms.</param>
/// <param name="Presence">When nobody was there for this long a zone is armed; its reading is blank.</param>
/// <param name="ArmedByClock">The night.</param>
/// <param name="Door">A door of a house.</param>
/// <param name="Window">A window of a room.</param>
/// <param name="Upstairs">The storey above the ground; its name is blank.</param>
/// <param name="AccessPointDbm">What an access point sends with, dBm e.i.r.p.</param>
/// <param name="WatchedPercent">Part of a room that its motion and presence sensors should see, %.</param>
public sealed record UsualDesign(
    SendDesign Sending,
    SendDesign Advertised,
    PowerDesign Power,
    HarvestDesign Harvest,
    double CapacitorMicrofarads,
    long OutputMaxOnMs,
    VesselTile Vessel,
    ZoneDesign Zone,
    long ZoneSoundAfterMs,
    ArmByPresence Presence,
    ArmSchedule ArmedByClock,
    Opening Door,
    Opening Window,
    Floor Upstairs,
    double AccessPointDbm,
    double WatchedPercent
)
{
    /// <summary>Common practice, no source.</summary>
    public static readonly UsualDesign Values = new(
        Sending: new(),
        Advertised: SendDesign.Advertised,
        Power: new(PowerKind.Usb),
        Harvest: new(60, 15, LightKind.Sun, LatitudeDegrees: 50),
        CapacitorMicrofarads: 470_000,
        OutputMaxOnMs: 600_000,
        Vessel: new(new("", ""), VesselShape.Upright, Down: true, SensorCm: 150, WidthCm: 100, LengthCm: 100, HeightCm: 120),
        Zone: new("", "", [], ExitMs: 30_000, EntryMs: 20_000, Triggers: 1, WithinMs: 10_000, [], SoundMs: 180_000, HoldOffMs: 300_000),
        ZoneSoundAfterMs: 60_000,
        Presence: new("", "", AwayMs: 900_000),
        ArmedByClock: new(new(23 * 60, 6 * 60, Enum.GetValues<DayOfWeek>())),
        Door: new(OpeningKind.Door, 0.5, 0.9),
        Window: new(OpeningKind.Window, 0.5, 1.2, 0.9, 1.2),
        Upstairs: new("", "", 2.7),
        AccessPointDbm: AccessPoint.UsualRadiatedDbm,
        WatchedPercent: Room.UsualWatchedPercent
    );
}
