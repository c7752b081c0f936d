using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>An output that somebody switched, and what came of it.</summary>
[Table("commands")]
[Index(nameof(Site), nameof(Id))]
public sealed class CommandRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>Key of the reading that tells the output's state.</summary>
    public required string Output { get; init; }
    public bool On { get; init; }
    public required string Who { get; init; }
    public long AtMs { get; init; }

    /// <summary>For on: until when it is wanted on.</summary>
    public long UntilMs { get; init; }

    /// <summary>When the node answered, and whether it obeyed.</summary>
    public long? AnsweredMs { get; set; }
    public bool? Taken { get; set; }

    /// <summary>For on: when it was no longer held on, and why.</summary>
    public long? EndedMs { get; set; }
    public string? Ended { get; set; }

    /// <summary>For off: the wishes that it ended, as JSON; they stay ended over a start of this program.</summary>
    public string? Over { get; init; }
}
