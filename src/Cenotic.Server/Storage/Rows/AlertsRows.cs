using System.ComponentModel.DataAnnotations.Schema;
using Cenotic.Core.Design;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>A zone that was armed or disarmed; what it raised is an episode.</summary>
[Table("zone_turns")]
[Index(nameof(Site), nameof(Id))]
public sealed class ZoneTurnRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Zone { get; init; }
    public long AtMs { get; init; }

    /// <summary>Who did it; null for itself.</summary>
    public string? Who { get; init; }
    public required string Turn { get; init; }
    public required string Mode { get; init; }

    /// <summary>The sensor that did it, by its key; null for none.</summary>
    public string? Cause { get; init; }
}

[Table("rule_states")]
[PrimaryKey(nameof(Site), nameof(Rule))]
public sealed class RuleStateRow
{
    public required string Site { get; init; }
    public required string Rule { get; init; }
    public required string State { get; set; }

    /// <summary>The rule's condition when the state began: another condition starts afresh.</summary>
    public required string Condition { get; set; }
}

/// <summary>One run of a rule from raised to cleared.</summary>
[Table("episodes")]
[Index(nameof(Site), nameof(RaisedMs))]
[Index(nameof(Site), nameof(ToldAll))]
public sealed class EpisodeRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Rule { get; init; }
    public required string Label { get; init; }
    public long RaisedMs { get; init; }
    public double? Value { get; init; }
    public long? ClearedMs { get; set; }
    public long? AcknowledgedMs { get; set; }
    public string? AcknowledgedBy { get; set; }

    /// <summary>What was said when it was acknowledged.</summary>
    public string? AcknowledgedNote { get; set; }

    /// <summary>True when the server was off when it was due.</summary>
    public bool Late { get; init; }

    /// <summary>What a zone saw; null for a rule.</summary>
    public string? Cause { get; init; }

    /// <summary>True when its rule raised again and again before.</summary>
    public bool Damped { get; init; }

    /// <summary>Moment up to which what was due to be told is in the outbox, UTC ms of site time.</summary>
    public long ToldUntilMs { get; set; }

    /// <summary>True when nothing more can fall due to be told.</summary>
    public bool ToldAll { get; set; }
}

/// <summary>A notice on its way. Written in the transaction that judged the episode; sent at least once.</summary>
[Table("outbox")]
[Index(nameof(DoneMs), nameof(NotBeforeMs))]
[Index(nameof(MessageId), IsUnique = true)]
public sealed class OutboxRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Person { get; init; }
    public Core.Design.WayKind Way { get; init; }
    public required string Address { get; set; }

    /// <summary>Stays the same however often it is sent: Message-ID, webhook id and mark of the text.</summary>
    public required string MessageId { get; init; }

    /// <summary>What it tells, as JSON: several where they fell due together.</summary>
    public required string Notices { get; set; }

    /// <summary>System time at which it was put here, ms.</summary>
    public long CreatedMs { get; init; }

    /// <summary>Not before this system time, ms: it waits for others to go with it, or for the next try.</summary>
    public long NotBeforeMs { get; set; }
    public int Tries { get; set; }

    /// <summary>When it was last begun to be handed over; set before the first byte goes out.</summary>
    public long? HandingMs { get; set; }

    /// <summary>When it was taken, or given up.</summary>
    public long? DoneMs { get; set; }
    public bool Taken { get; set; }

    /// <summary>What the other side said, or why it was given up.</summary>
    public string? Result { get; set; }

    /// <summary>True when it was handed over and nobody knows whether it was taken: the program stopped, or the line broke.</summary>
    public bool MaybeTwice { get; set; }
}

/// <summary>An episode that a message of the outbox tells of.</summary>
[Table("outbox_episodes")]
[PrimaryKey(nameof(Outbox), nameof(Episode), nameof(Step))]
[Index(nameof(Episode))]
public sealed class OutboxEpisodeRow
{
    public long Outbox { get; init; }
    public long Episode { get; init; }
    public required string Step { get; init; }
}

/// <summary>How notices leave the house. Secrets are encrypted with the keys beside the database.</summary>
[Table("notice_settings")]
[PrimaryKey(nameof(Site))]
public sealed class NoticeSettingsRow
{
    public required string Site { get; init; }
    public string? MailHost { get; set; }
    public int MailPort { get; set; }
    public bool MailTls { get; set; }
    public string? MailFrom { get; set; }
    public string? MailUser { get; set; }
    public string? MailPassword { get; set; }
    public string? TextUrl { get; set; }
    public string? TextKey { get; set; }

    /// <summary>True when mail has a server and a sender.</summary>
    [NotMapped]
    public bool SendsMail => MailHost is { Length: > 0 } && MailFrom is { Length: > 0 };

    /// <summary>True when text messages have a gateway.</summary>
    [NotMapped]
    public bool SendsTexts => TextUrl is { Length: > 0 };

    /// <summary>Signs webhooks.</summary>
    public required string WebhookSecret { get; set; }

    /// <summary>Networks of the house that may be called, one CIDR a line; addresses of the wide world may always.</summary>
    public string HomeNetworks { get; set; } = "";
}

[Table("zone_states")]
[PrimaryKey(nameof(Site), nameof(Zone))]
public sealed class ZoneStateRow
{
    public required string Site { get; init; }
    public required string Zone { get; init; }
    public required string State { get; set; }

    /// <summary>Who armed or disarmed it last; null for itself.</summary>
    public string? Who { get; set; }
}
