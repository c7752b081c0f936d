using System.ComponentModel.DataAnnotations.Schema;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>What an account may do at a site, rising.</summary>
public enum Role
{
    Viewer,
    Maker,
    Owner,
}

/// <summary>A site, its revision counter and its clock: site time = EpochSite + (system time − EpochSystem) · Speed.</summary>
[Table("sites")]
[PrimaryKey(nameof(Key))]
public sealed class SiteRow
{
    public required string Key { get; init; }
    public long Revision { get; set; }
    public long EpochSystemMs { get; set; }
    public long EpochSiteMs { get; set; }
    public double Speed { get; set; } = 1;

    /// <summary>Newest arrival that the rules have judged.</summary>
    public long JudgedArrival { get; set; }

    /// <summary>When somebody said that a clock which had been ahead is right now, ms of site time:
    /// what was stored until then with later times makes nothing late.</summary>
    public long? JudgedAnywayMs { get; set; }

    /// <summary>The newest arrival at that moment.</summary>
    public long? JudgedAnywayArrival { get; set; }
}

/// <summary>One document of a site, by the key that <see cref="Cenotic.Core.Design.DesignEdit.Document"/> gives it.</summary>
[Table("documents")]
[PrimaryKey(nameof(Site), nameof(Key))]
public sealed class DocumentRow
{
    public required string Site { get; init; }
    public required string Key { get; init; }

    /// <summary>Where the document stands among its kind.</summary>
    public int Position { get; set; }
    public int FormatVersion { get; set; }
    public required string Body { get; set; }
}

/// <summary>One batch of edits as it was carried out.</summary>
[Table("revisions")]
[PrimaryKey(nameof(Site), nameof(Revision))]
public sealed class RevisionRow
{
    public required string Site { get; init; }
    public long Revision { get; init; }
    public long AtMs { get; init; }
    public required string Who { get; init; }
    public required string Edits { get; set; }
    public required string Inverse { get; set; }

    /// <summary>Keys of the documents that changed, separated by line feeds.</summary>
    public required string Documents { get; init; }

    /// <summary>The changed documents as they were afterwards.</summary>
    public required string DocumentsAfter { get; set; }
}

/// <summary>A reading's stable number, given when it first appears in a design.</summary>
[Table("readings")]
[Index(nameof(Site), nameof(Node), nameof(Key), IsUnique = true)]
public sealed class ReadingRow
{
    /// <summary>Begins the key of a row that no reading has any more, or not yet: its samples are made anew under another number.</summary>
    public const char Spare = '~';

    public int Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }
    public required string Key { get; set; }
    public ReadingKind Kind { get; set; }
}

[Table("measured_currents")]
[Index(nameof(Site))]
public sealed class MeasuredCurrentRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }
    public PowerState State { get; init; }
    public double Milliamps { get; init; }
    public required string How { get; init; }
    public long AtMs { get; init; }
}
