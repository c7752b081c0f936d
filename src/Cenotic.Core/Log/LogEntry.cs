namespace Cenotic.Core.Log;

/// <summary>What an entry is about.</summary>
public enum LogKind
{
    /// <summary>A person decided something.</summary>
    Edit,

    /// <summary>Settings were saved for a program.</summary>
    Settings,

    /// <summary>A node started and said what it runs.</summary>
    Start,

    /// <summary>A scan of a bus.</summary>
    Scan,

    /// <summary>A calibration, taken, ended or taken back.</summary>
    Calibration,

    /// <summary>A step of building was done or measured, or a node was looked after.</summary>
    Build,

    /// <summary>A node was carried round to hear how far it gets through.</summary>
    Walk,

    /// <summary>A node was heard again after a silence.</summary>
    Outage,

    /// <summary>A current was measured.</summary>
    Current,

    /// <summary>A rule was raised.</summary>
    Episode,

    /// <summary>An output was switched.</summary>
    Output,

    /// <summary>A table was imported.</summary>
    Import,

    /// <summary>A stretch of a reading was set aside.</summary>
    SetAside,

    /// <summary>A zone was armed or disarmed.</summary>
    Zone,

    /// <summary>What somebody wrote.</summary>
    Note,
}

/// <summary>One entry of the log. Entries write themselves from what was decided and measured; only notes are written by people.</summary>
/// <param name="Id">Kind and number: "note-7".</param>
/// <param name="AtMs">UTC ms of site time.</param>
/// <param name="Node">Key of the node it is about; null for the site.</param>
/// <param name="Who">Null when nobody did it.</param>
public sealed record LogEntry(string Id, long AtMs, LogKind Kind, string? Node, string? Who, string Text)
{
    /// <summary>Numbers of the pictures of a note.</summary>
    public IReadOnlyList<long> Pictures { get; init; } = [];

    /// <summary>True when what it tells of can be taken back from here.</summary>
    public bool CanBeTakenBack { get; init; }
}
