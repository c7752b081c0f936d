using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>What a node told of itself, mostly after a start.</summary>
[Table("node_reports")]
[Index(nameof(Site), nameof(Node), nameof(Id))]
public sealed class NodeReportRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }
    public long AtMs { get; init; }
    public long? Boot { get; init; }
    public string? Firmware { get; init; }

    /// <summary>Hash of the settings it runs.</summary>
    public string? Settings { get; init; }

    /// <summary>Why it started.</summary>
    public string? Reset { get; init; }
    public double? SupplyVolts { get; init; }
    public long? FreeBytes { get; init; }
}

/// <summary>Settings that were saved for a program, so that a node that runs them can be told what has changed since.</summary>
[Table("saved_settings")]
[PrimaryKey(nameof(Site), nameof(Node), nameof(Hash))]
public sealed class SavedSettingsRow
{
    public required string Site { get; init; }
    public required string Node { get; init; }
    public required string Hash { get; init; }
    public long AtMs { get; set; }
    public required string Who { get; set; }

    /// <summary>The lines that the hash is of.</summary>
    public required string Lines { get; init; }
}

/// <summary>A correction of a reading, from a time on.</summary>
[Table("calibrations")]
[Index(nameof(Site), nameof(Node))]
[Index(nameof(ReadingId))]
public sealed class CalibrationRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }
    public required string Reading { get; init; }
    public int ReadingId { get; set; }
    public long FromMs { get; init; }

    /// <summary>From then on it does not hold: its part was changed.</summary>
    public long? UntilMs { get; set; }
    public long AtMs { get; init; }
    public required string Who { get; init; }

    /// <summary>The calibration as JSON.</summary>
    public required string Body { get; init; }

    /// <summary>What it was held against, in the maker's words.</summary>
    public required string Against { get; init; }

    /// <summary>Which part it is of.</summary>
    public required string Fitted { get; set; }

    /// <summary>When it is to be done again.</summary>
    public long? DueMs { get; init; }

    /// <summary>When it was taken back, and by whom.</summary>
    public long? UndoneMs { get; set; }
    public string? UndoneBy { get; set; }
}

/// <summary>A step of building a node or of looking after it that was done, measured, or taken back. The latest of a step counts.</summary>
[Table("build_ticks")]
[Index(nameof(Site), nameof(Node), nameof(Id))]
public sealed class BuildTickRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>Key of the step, and what it was called.</summary>
    public required string Step { get; init; }
    public required string Title { get; init; }
    public long AtMs { get; init; }
    public required string Who { get; init; }
    public bool Done { get; init; }

    /// <summary>What was taken out of the drawer, as JSON: the count by the id; null for nothing.</summary>
    public string? Took { get; init; }

    /// <summary>What the meter said, and its value where one was noted.</summary>
    public Core.BringUp.MeterShows? Shows { get; init; }
    public double? Value { get; init; }
}

/// <summary>How a node was heard from a spot while it was carried round.</summary>
[Table("range_walks")]
[Index(nameof(Site), nameof(Node), nameof(Id))]
public sealed class RangeWalkRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>Key of the spot of the plan.</summary>
    public required string Spot { get; init; }
    public required string Who { get; init; }
    public long FromMs { get; init; }
    public long ToMs { get; init; }
    public int Heard { get; init; }
    public int Lost { get; init; }

    /// <summary>Median and weakest signal, dBm; null when the way in does not tell it.</summary>
    public double? RssiMedian { get; init; }
    public double? RssiLow { get; init; }

    /// <summary>Key of the node that heard it; null where it sent for itself, and of walks of before 2026-11-30.</summary>
    public string? Receiver { get; init; }

    /// <summary>What was radiated, dBm e.i.r.p., and the gain of the antenna that heard it, dBi; null where that is not known.</summary>
    public double? RadiatedDbm { get; init; }
    public double? GainDbi { get; init; }
}

/// <summary>What a node found on its buses, as it was told.</summary>
[Table("scans")]
[Index(nameof(Site), nameof(Node), nameof(Id))]
public sealed class ScanRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }
    public long AtMs { get; init; }

    /// <summary>Who pasted it; null when the node sent it.</summary>
    public string? Who { get; init; }
    public required string Text { get; init; }

    /// <summary>What it said about the plan as it was then, in a sentence; null for one of an older program.</summary>
    public string? Verdict { get; init; }
}
