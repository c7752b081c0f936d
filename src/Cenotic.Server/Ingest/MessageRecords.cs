using System.Globalization;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Ingest;

/// <summary>Takes the records of one message of a node: samples, what the node tells of itself, and why a record is refused.</summary>
/// <param name="state">Its site; null for one that is gone.</param>
/// <param name="now">UTC ms of site time.</param>
/// <param name="correction">What is taken off its times, ms.</param>
/// <param name="unguarded">True when nothing guards the values against noise: what the part cannot measure is refused.</param>
internal sealed class MessageRecords(SiteState? state, string node, long now, long? correction, bool unguarded)
{
    /// <summary>Seconds since 1970 at the beginning of 2010: an older clock was never set.</summary>
    internal const double Earliest = 1_262_304_000;

    /// <summary>Clocks that are set over a network are apart by less: such times stay as they are, and a message that is sent again is known by them.</summary>
    private const long ClockNoiseMs = 1_000;
    private const int NamesShown = 5;
    private readonly List<string> _refusals = [];
    private readonly List<DecodedSample> _samples = [];
    private readonly List<string> _unknown = [];
    private readonly List<(long, bool)> _answers = [];
    private readonly long? _kept = Retention.SamplesFrom(state?.Design.Settings.Keeping, now);
    private readonly NodeReport _nothing = new(now, null, null, null, null, null, null);
    private NodeReport? _report;
    private long? _boot,
        _number;
    private double? _rssi,
        _battery;
    private bool? _up;

    internal void Take(SenmlRecord record)
    {
        if (Told(_report ?? _nothing, record) is { } told)
        {
            _report = told;
        }
        else if (record.Value is not { } value)
        {
            _refusals.Add($"\"{Short(record.Name)}\" carries no number; readings are numbers.");
        }
        else if (record.Name.StartsWith("sys/", StringComparison.Ordinal))
        {
            OfItself(record, value);
        }
        else if (state is null || !state.Readings.TryGetValue((node, record.Name), out var reading))
        {
            _unknown.Add(record.Name);
        }
        else
        {
            var (sample, refusal) = SampleOf(state, reading, record, value);
            if (sample is not null)
            {
                _samples.Add(sample);
            }
            else
            {
                _refusals.Add(refusal!);
            }
        }
    }

    /// <summary>The message, once all its records are taken.</summary>
    internal DecodedMessage Message(string site, int bytes, string excerpt)
    {
        if (_unknown.Count > 0)
        {
            _refusals.Add(Unknown());
        }
        EndAtArrival();
        return new(site, node, now, bytes, _boot, _number, _rssi, _battery, _samples, _refusals, excerpt)
        {
            Up = _up,
            Answers = _answers,
            Report = _report is null ? null : _report with { Boot = _boot },
        };
    }

    /// <summary>What a node says of itself with a number.</summary>
    private void OfItself(SenmlRecord record, double value)
    {
        switch (record.Name)
        {
            case "sys/boot":
                _boot = Count(value);
                break;
            case "sys/seq":
                _number = Count(value);
                break;
            case "sys/rssi":
                _rssi = PossibleValue.IsBounded(value) ? value : null;
                break;
            case "sys/bat":
                _battery = SenmlUnit.Convert(value, record.Unit, Unit.Volt) is { } volts && PossibleValue.IsBounded(volts) ? volts : null;
                break;
            case "sys/up":
                _up = value > 0;
                break;
            case OutputCommand.Taken:
                _answers.Add(((long)value, true));
                break;
            case OutputCommand.Refused:
                _answers.Add(((long)value, false));
                break;
        }
    }

    /// <summary>A record as a sample of its reading, or why it is none.</summary>
    private (DecodedSample? Sample, string? Refusal) SampleOf(SiteState of, ReadingRow reading, SenmlRecord record, double value)
    {
        var range = of.Quantity(node, record.Name);
        if (record.IsBoolean && range is { Kind: ReadingKind.Gauge or ReadingKind.Counter })
        {
            return (null, $"\"{record.Name}\" is true or false; this reading is a number.");
        }
        if (range is not null)
        {
            if (SenmlUnit.Convert(value, record.Unit, range.Unit) is not { } converted)
            {
                return (
                    null,
                    $"\"{record.Name}\" is sent in {Short(record.Unit!)}; this reading is "
                        + $"{(range.Unit == Unit.Count ? "a number without a unit" : "in " + range.Unit)}."
                );
            }
            value = converted;
        }
        if (PossibleValue.Refusal(value, range) is { } impossible)
        {
            return (null, $"\"{record.Name}\" {impossible}");
        }
        if (unguarded && range is not null && (value < range.Min || value > range.Max))
        {
            return (null, Noise(record.Name, value, range));
        }
        var estimated = !record.HasTime || record.Time == 0;
        var seconds =
            estimated ? now / 1000.0
            : record.Time < Senml.RelativeBelow ? now / 1000.0 + record.Time
            : record.Time - (correction ?? 0) / 1000.0;
        if (WrongTime(record.Name, seconds) is { } wrong)
        {
            return (null, wrong);
        }
        var flags = (estimated ? SampleFlags.TimeEstimated : 0) | Suspect(of, node, record.Name, value, range);
        return (new(reading.Id, record.Name, reading.Kind, (long)Math.Round(seconds * 1000), value, flags), null);
    }

    private static string Noise(string name, double value, PartQuantity range) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"\"{name}\" is {value:0.###} {range.Unit}; the part measures {range.Min:0.###} to {range.Max:0.###}. Noise on a line without a check."
        );

    /// <summary>Why a time cannot be taken; null where it can.</summary>
    /// <param name="seconds">Since 1970.</param>
    private string? WrongTime(string name, double seconds) =>
        seconds * 1000 > now + Intake.AheadMs
            ? $"\"{name}\" has a time {(seconds * 1000 - now) / 60_000:0} min ahead of the site's; at most 5 min are taken. Is the "
                + "node's clock set? When its messages agree about it, its times are corrected."
        : seconds < Earliest ? $"\"{name}\" has a time before 2010; the node's clock was never set. Leave the time out and arrival is taken."
        : _kept is { } from && seconds * 1000 < from
            ? $"\"{name}\" has a time {(now - seconds * 1000) / 86_400_000:0} days ago; samples are kept "
                + $"{state!.Design.Settings.Keeping!.SampleDays} days."
        : null;

    /// <summary>
    /// Times that lie ahead are a clock that runs ahead: the message is shifted whole, so that its newest value
    /// is of its arrival and their spacing stays. What comes after it is not older by that.
    /// </summary>
    private void EndAtArrival()
    {
        var ahead = _samples.Count == 0 ? 0 : _samples.Max(s => s.T) - now;
        for (var i = 0; ahead > ClockNoiseMs && i < _samples.Count; i++)
        {
            if (!_samples[i].Flags.HasFlag(SampleFlags.TimeEstimated))
            {
                _samples[i] = _samples[i] with { T = _samples[i].T - ahead, Flags = _samples[i].Flags | SampleFlags.TimeEstimated };
            }
        }
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
    private string Unknown()
    {
        var shown = string.Join(", ", _unknown.Take(NamesShown).Select(n => $"\"{Short(n)}\""));
        var more = _unknown.Count > NamesShown ? $" and {_unknown.Count - NamesShown} more" : "";
        return $"{shown}{more} {(_unknown.Count == 1 ? "is not a reading" : "are not readings")} of this node. It has: "
            + $"{string.Join(", ", state?.Design.Node(node)?.Readings.Take(50).Select(r => r.Key) ?? [])}.";
    }

    /// <summary>A count of starts or messages; null for what is none.</summary>
    private static long? Count(double value) => value is >= 0 and <= PossibleValue.Most ? (long)value : null;

    /// <summary>Text of a node as it is kept: short, and on one line.</summary>
    private static string Short(string text) => new([.. text.Take(64).Select(c => char.IsControl(c) ? ' ' : c)]);

    /// <summary>The mark of a value that its part does not measure, or that says its part is faulty.</summary>
    internal static SampleFlags Suspect(SiteState state, string node, string key, double value, PartQuantity? range) =>
        PossibleValue.IsMeasured(value, range) && !IsFault(state, node, key, value) ? 0 : SampleFlags.Suspect;

    private static bool IsFault(SiteState state, string node, string key, double value)
    {
        var reading = state.Design.Node(node)?.Reading(key);
        var part = reading is null ? null : state.Design.Node(node)!.Part(reading.Part);
        var faults = part is null ? null : state.Catalogue.Part(part.Part)?.Faults;
        return faults?.Any(f => f.Quantity == reading!.Quantity && Math.Abs(f.Value - value) <= f.Tolerance) ?? false;
    }
}
