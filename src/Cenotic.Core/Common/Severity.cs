namespace Cenotic.Core.Common;

/// <summary>How much a finding matters. <see cref="Stop"/>: it will not work or can do harm; <see cref="Risk"/>:
/// it may fail or cost more than expected; <see cref="Note"/>: worth knowing.</summary>
public enum Severity
{
    /// <summary>It will not work, or can do harm.</summary>
    Stop,

    /// <summary>It may fail, or cost more than expected.</summary>
    Risk,

    /// <summary>Worth knowing.</summary>
    Note,
}
