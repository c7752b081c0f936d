namespace Cenotic.Server.Samples;

/// <summary>Marks on a stored sample.</summary>
[Flags]
public enum SampleFlags
{
    None = 0,

    /// <summary>Older than the newest sample of its reading: stored, not judged.</summary>
    Late = 1,

    /// <summary>The node gave no time; taken at arrival.</summary>
    TimeEstimated = 2,
    Imported = 4,

    /// <summary>A known fault signature of the part: drawn hollow, not judged.</summary>
    Suspect = 8,

    /// <summary>Worked out of values that were stored before somebody wanted it: not judged live, but on the past.</summary>
    WorkedOutLater = 16,

    /// <summary>Set aside by a maker: kept as it came, left out of lines, sums and rules.</summary>
    SetAside = 32,

    /// <summary>Beyond the ends of its calibration table: a guess.</summary>
    BeyondTable = 64,

    /// <summary>What is no measurement that counts.</summary>
    LeftOut = Suspect | SetAside,
}
