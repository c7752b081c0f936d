using System.Buffers.Binary;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Watch;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;

namespace Cenotic.Server.Ingest;

/// <summary>Decodes what a known sender sent. Nothing that arrives throws.</summary>
public sealed class Intake(SiteBook book, SiteClock clock, NodeClocks clocks)
{
    /// <summary>A sample may lie this far ahead of site time.</summary>
    public const long AheadMs = 5 * 60_000;

    /// <summary>Clocks that are set over a network are apart by less: such times stay as they are, and a message that is sent again is known by them.</summary>
    private const long ClockNoiseMs = 1_000;

    private const int ExcerptBytes = 48,
        NamesShown = 5;
    private const double Earliest = 1_262_304_000; // 2010: an older clock was never set.
    private const double Latest = 32_503_680_000; // The year 3000: beyond it a number is no time.

    /// <summary>Decodes a message of a node.</summary>
    /// <param name="single">The reading that a single number is of, from its topic or address; null for a message that names its readings.</param>
    public DecodedMessage Decode(string site, string node, ReadOnlyMemory<byte> payload, string? single = null)
    {
        var read = Payloads.Read(payload, single);
        return read.TryGet(out var message)
            ? Decode(site, node, payload, message.Records)
            : new(site, node, clock.Now(site), payload.Length, null, null, null, null, [], read.Reasons, Excerpt(payload)) { Payload = payload };
    }

    /// <summary>The first bytes of a message, as they are kept with a refusal.</summary>
    internal static string Excerpt(ReadOnlyMemory<byte> payload) => Convert.ToHexString(payload.Span[..Math.Min(payload.Length, ExcerptBytes)]);

    /// <summary>Takes the records of a message that was read.</summary>
    /// <param name="unchecked">True when nothing guards the values against noise: what the part cannot measure is refused.</param>
    internal DecodedMessage Decode(string site, string node, ReadOnlyMemory<byte> payload, IReadOnlyList<SenmlRecord> records, bool @unchecked = false)
    {
        var now = clock.Now(site);
        var state = book.Find(site);
        var refusals = new List<string>();
        var samples = new List<DecodedSample>();
        var unknown = new List<string>();
        long? boot = null,
            number = null;
        double? rssi = null,
            battery = null;
        bool? up = null;
        var answers = new List<(long, bool)>();
        var nothing = new NodeReport(now, null, null, null, null, null, null);
        var report = nothing;
        var own = records
            .Where(r => r.HasTime && r.Time >= Senml.RelativeBelow && !r.Name.StartsWith("sys/", StringComparison.Ordinal))
            .Select(r => (double?)r.Time)
            .Max();
        long? says = own is { } newest && newest is >= Earliest and < Latest ? (long)(newest * 1000) - now : null;
        var kept = Retention.SamplesFrom(state?.Design.Settings.Keeping, now);
        var (correction, changed) = says is { } ahead && state is not null ? clocks.Take(site, node, ahead, clock.Speed(site)) : (null, false);
        foreach (var record in records)
        {
            if (Told(report, record) is { } told)
            {
                report = told;
                continue;
            }
            if (record.Value is not { } value)
            {
                refusals.Add($"\"{Short(record.Name)}\" carries no number; readings are numbers.");
                continue;
            }
            switch (record.Name)
            {
                case "sys/boot":
                    boot = Count(value);
                    continue;
                case "sys/seq":
                    number = Count(value);
                    continue;
                case "sys/rssi":
                    rssi = PossibleValue.IsBounded(value) ? value : null;
                    continue;
                case "sys/bat":
                    battery = SenmlUnit.Convert(value, record.Unit, Unit.Volt) is { } volts && PossibleValue.IsBounded(volts) ? volts : null;
                    continue;
                case "sys/up":
                    up = value > 0;
                    continue;
                case OutputCommand.Taken:
                    answers.Add(((long)value, true));
                    continue;
                case OutputCommand.Refused:
                    answers.Add(((long)value, false));
                    continue;
            }
            if (record.Name.StartsWith("sys/", StringComparison.Ordinal))
            {
                continue;
            }
            if (state is null || !state.Readings.TryGetValue((node, record.Name), out var reading))
            {
                unknown.Add(record.Name);
                continue;
            }
            var range = state.Quantity(node, record.Name);
            if (record.IsBoolean && range is { Kind: ReadingKind.Gauge or ReadingKind.Counter })
            {
                refusals.Add($"\"{record.Name}\" is true or false; this reading is a number.");
                continue;
            }
            if (range is not null)
            {
                if (SenmlUnit.Convert(value, record.Unit, range.Unit) is not { } converted)
                {
                    refusals.Add(
                        $"\"{record.Name}\" is sent in {Short(record.Unit!)}; this reading is "
                            + $"{(range.Unit == Unit.Count ? "a number without a unit" : "in " + range.Unit)}."
                    );
                    continue;
                }
                value = converted;
            }
            if (PossibleValue.Refusal(value, range) is { } impossible)
            {
                refusals.Add($"\"{record.Name}\" {impossible}");
                continue;
            }
            if (@unchecked && range is not null && (value < range.Min || value > range.Max))
            {
                refusals.Add(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"\"{record.Name}\" is {value:0.###} {range.Unit}; the part measures {range.Min:0.###} to {range.Max:0.###}. Noise on a line "
                            + $"without a check."
                    )
                );
                continue;
            }
            var estimated = !record.HasTime || record.Time == 0;
            var seconds =
                estimated ? now / 1000.0
                : record.Time < Senml.RelativeBelow ? now / 1000.0 + record.Time
                : record.Time - (correction ?? 0) / 1000.0;
            if (seconds * 1000 > now + AheadMs)
            {
                refusals.Add(
                    $"\"{record.Name}\" has a time {(seconds * 1000 - now) / 60_000:0} min ahead of the site's; at most 5 min are taken. Is the "
                        + "node's clock set? When its messages agree about it, its times are corrected."
                );
                continue;
            }
            if (seconds < Earliest)
            {
                refusals.Add($"\"{record.Name}\" has a time before 2010; the node's clock was never set. Leave the time out and arrival is taken.");
                continue;
            }
            if (kept is { } from && seconds * 1000 < from)
            {
                refusals.Add(
                    $"\"{record.Name}\" has a time {(now - seconds * 1000) / 86_400_000:0} days ago; samples are kept "
                        + $"{state.Design.Settings.Keeping!.SampleDays} days."
                );
                continue;
            }
            var flags = (estimated ? SampleFlags.TimeEstimated : 0) | Suspect(state, node, record.Name, value, range);
            samples.Add(new(reading.Id, record.Name, reading.Kind, (long)Math.Round(seconds * 1000), value, flags));
        }
        if (unknown.Count > 0)
        {
            refusals.Add(Unknown(unknown, state, node));
        }
        EndAtArrival(samples, now);
        return new(site, node, now, payload.Length, boot, number, rssi, battery, samples, refusals, Excerpt(payload))
        {
            Payload = payload,
            ClockMs = says,
            CorrectionMs = correction,
            CorrectionChanged = changed,
            Up = up,
            Answers = answers,
            LongestSilenceMs = Outages.LongestSilenceMs(state?.Design.Node(node)),
            Report = report == nothing ? null : report with { Boot = boot },
            Digest = DigestOf(records),
        };
    }

    /// <summary>
    /// Times that lie ahead are a clock that runs ahead: the message is shifted whole, so that its newest value
    /// is of its arrival and their spacing stays. What comes after it is not older by that.
    /// </summary>
    private static void EndAtArrival(List<DecodedSample> samples, long now)
    {
        var ahead = samples.Count == 0 ? 0 : samples.Max(s => s.T) - now;
        for (var i = 0; ahead > ClockNoiseMs && i < samples.Count; i++)
        {
            if (!samples[i].Flags.HasFlag(SampleFlags.TimeEstimated))
            {
                samples[i] = samples[i] with { T = samples[i].T - ahead, Flags = samples[i].Flags | SampleFlags.TimeEstimated };
            }
        }
    }

    /// <summary>Of the names and values of a message: its times and the signal may be others when it is sent again.</summary>
    private static long DigestOf(IReadOnlyList<SenmlRecord> records)
    {
        var said = string.Join(
            '\n',
            records
                .Where(r => !r.Name.StartsWith("sys/", StringComparison.Ordinal))
                .Select(r => string.Create(CultureInfo.InvariantCulture, $"{r.Name}={r.Value:R}{r.Text}"))
        );
        return BinaryPrimitives.ReadInt64LittleEndian(SHA256.HashData(Encoding.UTF8.GetBytes(said)));
    }

    /// <summary>The report with what a record adds to it; null when the record is of something else.</summary>
    private static NodeReport? Told(NodeReport report, SenmlRecord record) =>
        record switch
        {
            { Name: "sys/fw", Text: { } text } => report with { Firmware = Short(text) },
            { Name: "sys/cfg", Text: { } text } => report with { Settings = Short(text) },
            { Name: "sys/rst", Text: { } text } => report with { Reset = Short(text) },
            { Name: "sys/vcc", Value: >= 0 and <= 1000 and var volts } => report with { SupplyVolts = volts },
            { Name: "sys/mem", Value: >= 0 and < 1e15 and var bytes } => report with { FreeBytes = (long)bytes },
            _ => null,
        };

    /// <summary>One sentence for all names of a message that are none of the node's readings.</summary>
    private static string Unknown(List<string> names, SiteState? state, string node)
    {
        var shown = string.Join(", ", names.Take(NamesShown).Select(n => $"\"{Short(n)}\""));
        var more = names.Count > NamesShown ? $" and {names.Count - NamesShown} more" : "";
        return $"{shown}{more} {(names.Count == 1 ? "is not a reading" : "are not readings")} of this node. It has: "
            + $"{string.Join(", ", state?.Design.Node(node)?.Readings.Take(50).Select(r => r.Key) ?? [])}.";
    }

    /// <summary>A count of starts or messages; null for what is none.</summary>
    private static long? Count(double value) => value is >= 0 and <= PossibleValue.Most ? (long)value : null;

    /// <summary>Text of a node as it is kept: short, and on one line.</summary>
    private static string Short(string text) => new([.. text.Take(64).Select(c => char.IsControl(c) ? ' ' : c)]);

    /// <summary>A value of a table as a sample, or why it is none.</summary>
    internal (DecodedSample? Sample, string? Reason) Imported(string site, string node, string key, long t, double value, bool estimated)
    {
        var state = book.Find(site)!;
        if (!state.Readings.TryGetValue((node, key), out var reading))
        {
            return (null, $"{node}/{key} is no reading any more.");
        }
        if (PossibleValue.Refusal(value, state.Quantity(node, key)) is { } impossible)
        {
            return (null, $"{node}/{key} {impossible}");
        }
        if (t > clock.Now(site) + AheadMs)
        {
            return (null, $"its time lies ahead of the site's; at most {AheadMs / 60_000} min are taken. Are time zone and form right?");
        }
        if (Retention.SamplesFrom(state.Design.Settings.Keeping, clock.Now(site)) is { } from && t < from)
        {
            return (null, $"its time is older than the {state.Design.Settings.Keeping!.SampleDays} days that samples are kept.");
        }
        var flags = SampleFlags.Imported | (estimated ? SampleFlags.TimeEstimated : 0) | Suspect(state, node, key, value, state.Quantity(node, key));
        return (new(reading.Id, key, reading.Kind, t, value, flags), null);
    }

    /// <summary>The mark of a value that its part does not measure, or that says its part is faulty.</summary>
    private static SampleFlags Suspect(SiteState state, string node, string key, double value, PartQuantity? range) =>
        PossibleValue.IsMeasured(value, range) && !IsFault(state, node, key, value) ? 0 : SampleFlags.Suspect;

    private static bool IsFault(SiteState state, string node, string key, double value)
    {
        var reading = state.Design.Node(node)?.Reading(key);
        var part = reading is null ? null : state.Design.Node(node)!.Part(reading.Part);
        var faults = part is null ? null : state.Catalogue.Part(part.Part)?.Faults;
        return faults?.Any(f => f.Quantity == reading!.Quantity && Math.Abs(f.Value - value) <= f.Tolerance) ?? false;
    }
}
