using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Microsoft.AspNetCore.Identity;

namespace Cenotic.Server.Storage;

/// <summary>A person who signs in.</summary>
public sealed class Account : IdentityUser;

/// <summary>What an account may do at a site, rising.</summary>
public enum Role
{
    Viewer,
    Maker,
    Owner,
}

/// <summary>A site, its revision counter and its clock: site time = EpochSite + (system time − EpochSystem) · Speed.</summary>
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

public sealed class MembershipRow
{
    public required string Site { get; init; }
    public required string AccountId { get; init; }
    public Role Role { get; set; }

    /// <summary>True for a viewer who may acknowledge episodes and arm zones.</summary>
    public bool MayAct { get; set; }
}

/// <summary>One document of a site, by the key that <see cref="Cenotic.Core.Design.DesignEdit.Document"/> gives it.</summary>
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

/// <summary>A message that was taken in.</summary>
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

/// <summary>A table that was imported.</summary>
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

/// <summary>A stretch of a reading that somebody set aside: its samples are kept as they came, and left out of lines, sums and rules.</summary>
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

/// <summary>A zone that was armed or disarmed; what it raised is an episode.</summary>
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

/// <summary>What a node told of itself, mostly after a start.</summary>
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

/// <summary>What somebody wrote into the log.</summary>
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
public sealed class OutageRow
{
    public long Id { get; init; }
    public required string Site { get; init; }
    public required string Node { get; init; }

    /// <summary>The last message before, and the first after it.</summary>
    public long FromMs { get; init; }
    public long ToMs { get; init; }
}

/// <summary>A step of building a node or of looking after it that was done, measured, or taken back. The latest of a step counts.</summary>
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
}

/// <summary>An address at which the list of what is due can be read without signing in; kept as SHA-256.</summary>
public sealed class DueFeedRow
{
    public required string Site { get; init; }
    public required string Hash { get; set; }
    public long CreatedMs { get; set; }
    public required string Who { get; set; }
}

/// <summary>What a node found on its buses, as it was told.</summary>
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

/// <summary>An output that somebody switched, and what came of it.</summary>
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

/// <summary>Something that was refused, and why.</summary>
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

/// <summary>A node's key, as SHA-256; the key itself is shown once.</summary>
public sealed class NodeKeyRow
{
    public required string Site { get; init; }
    public required string Node { get; init; }
    public required string Hash { get; set; }
    public long CreatedMs { get; set; }
}

public sealed class RuleStateRow
{
    public required string Site { get; init; }
    public required string Rule { get; init; }
    public required string State { get; set; }

    /// <summary>The rule's condition when the state began: another condition starts afresh.</summary>
    public required string Condition { get; set; }
}

/// <summary>How far a reading that is worked out has come.</summary>
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

/// <summary>One run of a rule from raised to cleared.</summary>
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
public sealed class OutboxEpisodeRow
{
    public long Outbox { get; init; }
    public long Episode { get; init; }
    public required string Step { get; init; }
}

/// <summary>How notices leave the house. Secrets are encrypted with the keys beside the database.</summary>
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

    /// <summary>Signs webhooks.</summary>
    public required string WebhookSecret { get; set; }

    /// <summary>Networks of the house that may be called, one CIDR a line; addresses of the wide world may always.</summary>
    public string HomeNetworks { get; set; } = "";
}

public sealed class ZoneStateRow
{
    public required string Site { get; init; }
    public required string Zone { get; init; }
    public required string State { get; set; }

    /// <summary>Who armed or disarmed it last; null for itself.</summary>
    public string? Who { get; set; }
}

/// <summary>A link that opens one view and nothing else. Only a hash of its secret is kept.</summary>
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
