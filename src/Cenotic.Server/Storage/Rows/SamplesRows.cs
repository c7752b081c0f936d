using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>A message that was taken in.</summary>
[Table("arrivals")]
[Index(nameof(Site), nameof(Node), nameof(Life), nameof(Boot), nameof(Number), IsUnique = true)]
public sealed class ArrivalRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>Which life of the node it is of: another board, or one whose flash was erased, counts its starts anew.</summary>
    public int Life { get; init; }

    public long? Boot { get; init; }
    public long? Number { get; init; }
    public long ReceivedMs { get; init; }
    public int Bytes { get; init; }
    public double? Rssi { get; init; }
    public double? Battery { get; init; }

    /// <summary>How far ahead of its arrival its newest time lay, ms; null when the node sent no time of its own.</summary>
    public long? ClockMs { get; init; }

    /// <summary>Of what it said, without its times: a repeat says the same again. Null for what carries no number.</summary>
    public long? Digest { get; init; }

    /// <summary>The table it came from; null for what a node sent.</summary>
    public long? Import { get; init; }

    /// <summary>What was taken off its times, ms.</summary>
    public long? CorrectionMs { get; init; }
}

/// <summary>What is known of a node itself.</summary>
[Table("node_status")]
[PrimaryKey(nameof(Site), nameof(Node))]
public sealed class NodeStatusRow
{
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>The last it said of itself: there, or (by its last will) gone.</summary>
    public bool? Up { get; init; }
    public long? UpMs { get; init; }

    /// <summary>What is taken off its times, ms, and since when that is so.</summary>
    public long? CorrectionMs { get; init; }
    public long? CorrectionAtMs { get; init; }

    /// <summary>Messages that came again and were not stored twice, and the last of them.</summary>
    public long Repeats { get; init; }
    public long? RepeatMs { get; init; }
}

/// <summary>A node that began to count its starts or messages anew: its flash was erased, or its board was swapped.</summary>
[Table("node_lives")]
[Index(nameof(Site), nameof(Node), nameof(Id))]
public sealed class NodeLifeRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>Its lives begin with 0; this is the number of the one that began.</summary>
    public int Life { get; set; }
    public long AtMs { get; init; }

    /// <summary>How often it began anew within an hour: this row stands for all of them.</summary>
    public int Times { get; set; }

    /// <summary>Start and number of the newest message before, and of the first one after.</summary>
    public long BeforeBoot { get; init; }
    public long BeforeNumber { get; init; }
    public long Boot { get; init; }
    public long Number { get; init; }
}

/// <summary>A stretch of a reading that somebody set aside: its samples are kept as they came, and left out of lines, sums and rules.</summary>
[Table("set_aside")]
[Index(nameof(Site), nameof(Node), nameof(Reading))]
public sealed class SetAsideRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }
    public required string Reading { get; init; }
    public long FromMs { get; init; }

    /// <summary>The last moment that is left out.</summary>
    public long ToMs { get; init; }
    public required string Reason { get; init; }
    public long AtMs { get; init; }
    public required string Who { get; init; }

    /// <summary>When it was taken back, and by whom.</summary>
    public long? UndoneMs { get; set; }
    public string? UndoneBy { get; set; }
}

/// <summary>Something that was refused, and why.</summary>
[Table("refusals")]
[Index(nameof(Site), nameof(Node), nameof(Id))]
public sealed class RefusalRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }
    public long AtMs { get; init; }
    public required string Reason { get; init; }

    /// <summary>The first bytes of the message, as hexadecimal.</summary>
    public required string Excerpt { get; init; }

    /// <summary>How many this row stands for: of one node and minute the newest few have a row of their own, and the last of them counts the rest.</summary>
    public long Count { get; init; } = 1;
}
