using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>A table that was imported.</summary>
[Table("imports")]
[Index(nameof(Site), nameof(Id))]
public sealed class ImportRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string FileName { get; init; }

    /// <summary>SHA-256 of the file, hexadecimal: the same file is known again.</summary>
    public required string Digest { get; init; }
    public long AtMs { get; init; }
    public required string Who { get; init; }

    /// <summary>Samples that it brought.</summary>
    public long Samples { get; set; }

    /// <summary>When it was taken back, and by whom.</summary>
    public long? UndoneMs { get; set; }
    public string? UndoneBy { get; set; }
}

/// <summary>A node's key, as SHA-256; the key itself is shown once.</summary>
[Table("node_keys")]
[PrimaryKey(nameof(Site), nameof(Node))]
public sealed class NodeKeyRow
{
    public required string Site { get; init; }
    public required string Node { get; init; }
    public required string Hash { get; set; }
    public long CreatedMs { get; set; }
}
