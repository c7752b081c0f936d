using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>How far a reading that is worked out has come.</summary>
[Table("derived_states")]
[PrimaryKey(nameof(Site), nameof(Key))]
public sealed class DerivedStateRow
{
    public required string Site { get; init; }
    public required string Key { get; init; }

    /// <summary>How it is worked out, and of what: in another way it is worked out anew.</summary>
    public required string From { get; set; }
    public required string State { get; set; }

    /// <summary>The newest arrival that went into it.</summary>
    public required long Arrival { get; set; }
}

/// <summary>A link that opens one view and nothing else. Only a hash of its secret is kept.</summary>
[Table("share_links")]
[Index(nameof(Hash), IsUnique = true)]
public sealed class ShareLinkRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string View { get; init; }

    /// <summary>For whom, in the owner's words.</summary>
    public required string Label { get; init; }
    public required string Hash { get; init; }

    /// <summary>System time, ms.</summary>
    public long MadeMs { get; init; }
    public required string MadeBy { get; init; }

    /// <summary>System time, ms; null for never.</summary>
    public long? ExpiresMs { get; init; }
    public long? RevokedMs { get; set; }
    public int Uses { get; set; }
    public long? LastUseMs { get; set; }
}
