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

    private const int ExcerptBytes = 48;
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
        var (now, state) = (clock.Now(site), book.Find(site));
        var own = records
            .Where(r => r.HasTime && r.Time >= Senml.RelativeBelow && !r.Name.StartsWith("sys/", StringComparison.Ordinal))
            .Select(r => (double?)r.Time)
            .Max();
        long? says = own is { } newest && newest is >= MessageRecords.Earliest and < Latest ? (long)(newest * 1000) - now : null;
        var (correction, changed) = says is { } ahead && state is not null ? clocks.Take(site, node, ahead, clock.Speed(site)) : (null, false);
        var taken = new MessageRecords(state, node, now, correction, @unchecked);
        foreach (var record in records)
        {
            taken.Take(record);
        }
        return taken.Message(site, payload.Length, Excerpt(payload)) with
        {
            Payload = payload,
            ClockMs = says,
            CorrectionMs = correction,
            CorrectionChanged = changed,
            LongestSilenceMs = Outages.LongestSilenceMs(state?.Design.Node(node)),
            Digest = DigestOf(records),
        };
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
        var flags =
            SampleFlags.Imported | (estimated ? SampleFlags.TimeEstimated : 0) | MessageRecords.Suspect(state, node, key, value, state.Quantity(node, key));
        return (new(reading.Id, key, reading.Kind, t, value, flags), null);
    }
}
