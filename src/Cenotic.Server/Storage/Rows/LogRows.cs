using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>What somebody wrote into the log.</summary>
[Table("log_notes")]
[Index(nameof(Site), nameof(Id))]
public sealed class LogNoteRow
{
    public long Id { get; init; }
    public required string Site { get; init; }

    /// <summary>The node it is about; null for the site.</summary>
    public string? Node { get; init; }
    public long AtMs { get; init; }
    public required string Who { get; init; }
    public required string Text { get; init; }
}

/// <summary>A picture of a note.</summary>
[Table("log_pictures")]
[Index(nameof(Note))]
public sealed class LogPictureRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public long Note { get; init; }

    /// <summary>image/jpeg, image/png or image/webp.</summary>
    public required string Type { get; init; }
    public required byte[] Body { get; init; }
}

/// <summary>A stretch in which a node that should have sent was not heard.</summary>
[Table("outages")]
[Index(nameof(Site), nameof(Id))]
public sealed class OutageRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>The last message before, and the first after it.</summary>
    public long FromMs { get; init; }
    public long ToMs { get; init; }
}

/// <summary>An address at which the list of what is due can be read without signing in; kept as SHA-256.</summary>
[Table("due_feeds")]
[PrimaryKey(nameof(Site))]
[Index(nameof(Hash), IsUnique = true)]
public sealed class DueFeedRow
{
    public required string Site { get; init; }
    public required string Hash { get; set; }
    public long CreatedMs { get; set; }
    public required string Who { get; set; }
}
