using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>Who may be told, and over which ways.</summary>
/// <param name="Quiet">When this person is not to be told but of what is urgent; null for never.</param>
public sealed record PersonDesign(string Key, string Name, IReadOnlyList<WayDesign> Ways, QuietDesign? Quiet = null);

/// <summary>A way to reach a person.</summary>
public enum WayKind
{
    /// <summary>Mail to an address.</summary>
    Mail,

    /// <summary>A text message to a number.</summary>
    Text,

    /// <summary>A signed call of an address.</summary>
    Webhook,
}

/// <summary>One way to a person: a mail address, a telephone number with its country code, or the address of a webhook.</summary>
public sealed record WayDesign(WayKind Kind, string Address);

/// <summary>A stretch of the day in the site's time zone. One that ends before it begins goes over midnight.</summary>
/// <param name="FromMinute">Minute of the day on the clock of the wall, 0..1439.</param>
/// <param name="ToMinute">Minute at which it is over; another than <paramref name="FromMinute"/>.</param>
/// <param name="Days">Days on which it begins.</param>
public sealed record QuietDesign(int FromMinute, int ToMinute, IReadOnlyList<DayOfWeek> Days);

/// <summary>Whom a rule or zone tells, and when again.</summary>
/// <param name="RemindEveryMs">Tells again this often until it is acknowledged or over; null for once.</param>
/// <param name="ThroughQuiet">Urgent: quiet hours do not hold it back.</param>
/// <param name="WhenOver">Tells also when it is over.</param>
/// <param name="Damped">True to tell what raises again and again only when it lasts; null for that with all but rules of moments, which never last.</param>
public sealed record TellDesign(
    IReadOnlyList<TellStep> Steps,
    long? RemindEveryMs = null,
    bool ThroughQuiet = false,
    bool WhenOver = true,
    bool? Damped = null
);

/// <summary>A person in the order of telling.</summary>
/// <param name="AfterMs">Told this long after it was raised, when nobody has acknowledged it by then; 0 for at once.</param>
public sealed record TellStep(string Person, long AfterMs = 0);

/// <summary>While an output is held by a rule.</summary>
public enum ActWhile
{
    /// <summary>On from raising on, until it is over.</summary>
    Raised,

    /// <summary>A permit: on while all is well and heard, withdrawn when it is raised.</summary>
    Calm,
}

/// <summary>An output that a rule switches.</summary>
/// <param name="ForMs">Longest time on at a raise, ms; null for as long as the output may be on. A permit is renewed.</param>
public sealed record ActDesign(string Node, string Output, ActWhile While, long? ForMs = null);

/// <summary>A part of the house that can be armed.</summary>
/// <param name="ExitMs">Time to leave after arming.</param>
/// <param name="EntryMs">Time to disarm after a sensor at the way in.</param>
/// <param name="Triggers">Triggers that make an alarm, 1 or more.</param>
/// <param name="WithinMs">The time they come in, where more than one is wanted.</param>
/// <param name="Sounders">Outputs that sound in an alarm and chirp when the zone is armed.</param>
/// <param name="SoundMs">Longest time of sounding.</param>
/// <param name="HoldOffMs">Time after an alarm before it watches again.</param>
/// <param name="Note">What to do in an alarm, in the maker's words.</param>
public sealed record ZoneDesign(
    string Key,
    string Label,
    IReadOnlyList<ZoneSensor> Sensors,
    long ExitMs,
    long EntryMs,
    int Triggers,
    long WithinMs,
    IReadOnlyList<ZoneSounder> Sounders,
    long SoundMs,
    long HoldOffMs,
    TellDesign? Tell = null,
    string Note = "",
    ArmSchedule? Schedule = null,
    ReadingRef? Button = null,
    ArmByPresence? Presence = null
)
{
    /// <summary>How long after the alarm began it sounds; where <see cref="SoundOnceTold"/> holds, at the latest.</summary>
    public long SoundAfterMs { get; init; }

    /// <summary>True when it is to sound as soon as somebody was told: a notice of the alarm was handed over.</summary>
    public bool SoundOnceTold { get; init; }

    /// <summary>True when the sounders chirp while the zone is armed.</summary>
    public bool Chirps { get; init; } = true;

    /// <summary>An output that is on for a moment at each trigger of a test; null for none.</summary>
    public ZoneSounder? Lamp { get; init; }
}

/// <summary>A state that triggers a zone when it goes on.</summary>
/// <param name="Entry">True at the way in: it gives time to disarm.</param>
/// <param name="Inverted">True for one that triggers when it goes off, such as a contact that is closed at rest.</param>
public sealed record ZoneSensor(string Node, string Reading, bool Entry = false, bool Inverted = false);

/// <summary>An output that a zone sounds.</summary>
public sealed record ZoneSounder(string Node, string Output);

/// <summary>Armed by the clock: from the start to the end of a stretch of the day.</summary>
public sealed record ArmSchedule(QuietDesign Armed);

/// <summary>Armed when nobody was there for a time, disarmed when somebody is.</summary>
public sealed record ArmByPresence(string Node, string Reading, long AwayMs);

/// <summary>One reading of a node.</summary>
public sealed record ReadingRef(string Node, string Reading)
{
    /// <inheritdoc/>
    public override string ToString() => $"{Node}/{Reading}";
}

/// <summary>Adds a person, or replaces the one with its key.</summary>
public sealed record PutPerson(PersonDesign Person) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "person:" + Person?.Key;
}

/// <summary>Removes a person.</summary>
public sealed record RemovePerson(string Key) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "person:" + Key;
}

/// <summary>Adds a zone, or replaces the one with its key.</summary>
public sealed record PutZone(ZoneDesign Zone) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "zone:" + Zone?.Key;
}

/// <summary>Removes a zone.</summary>
public sealed record RemoveZone(string Key) : DesignEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Document => "zone:" + Key;
}
