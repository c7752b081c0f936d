namespace Cenotic.Core.Design;

/// <summary>What a way to send is, for a form in which it is chosen.</summary>
/// <param name="IsPackets">Messages go one by one over a radio, to a gateway or a relay.</param>
/// <param name="IsAdvertised">It goes out for anyone who listens, and nobody answers.</param>
/// <param name="CanRelay">Who sends so can pass on what it hears of others.</param>
/// <param name="ListensFirst">It sends only when it hears nobody else.</param>
/// <param name="NeedsHearer">Another node must hear what is sent, or the server never does.</param>
/// <param name="Sending">How a node sends where nothing else is said.</param>
public sealed record LinkTraits(LinkKind Link, bool IsPackets, bool IsAdvertised, bool CanRelay, bool ListensFirst, bool NeedsHearer, SendDesign Sending)
{
    internal static LinkTraits Of(LinkKind link) =>
        new(link, link.IsPackets(), link.IsAdvertised(), link.CanRelay(), link.ListensFirst(), link.NeedsHearer(), SendDesign.UsualOf(link));
}

/// <summary>What a form starts from where the design says nothing.</summary>
/// <param name="Links">Each way to send, with what it is.</param>
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
    IReadOnlyList<LinkTraits> Links,
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
        Links: [.. Enum.GetValues<LinkKind>().Select(LinkTraits.Of)],
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
