using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Server.Ingest;

namespace Cenotic.Server.Samples;

/// <summary>A sample as decoded. Times in UTC ms of site time.</summary>
public sealed record DecodedSample(int Reading, string Key, ReadingKind Kind, long T, double Raw, SampleFlags Flags);

/// <summary>A message as decoded, with what was refused in it.</summary>
public sealed record DecodedMessage(
    string Site,
    string Node,
    long ReceivedMs,
    int Bytes,
    long? Boot,
    long? Number,
    double? Rssi,
    double? Battery,
    IReadOnlyList<DecodedSample> Samples,
    IReadOnlyList<string> Refusals,
    string Excerpt
)
{
    /// <summary>The message as it came.</summary>
    public ReadOnlyMemory<byte> Payload { get; init; }

    /// <summary>How far ahead of its arrival its newest time lies, ms; null when the node sends no time of its own.</summary>
    public long? ClockMs { get; init; }

    /// <summary>What was taken off its times, ms; null for nothing.</summary>
    public long? CorrectionMs { get; init; }

    /// <summary>True when the correction is not the one of the message before.</summary>
    public bool CorrectionChanged { get; init; }

    /// <summary>Whether the node says it is there (sys/up); null when it says nothing about it.</summary>
    public bool? Up { get; init; }

    /// <summary>How long its node may be silent when all is well, ms; null when it sends only what changes.</summary>
    public long? LongestSilenceMs { get; init; }

    /// <summary>Of what it says, without its times: a message that is sent again says the same.</summary>
    public long Digest { get; init; }

    /// <summary>The table that it is of; null for what a node sent.</summary>
    public long? Import { get; init; }

    /// <summary>What the node tells of itself; null when it tells nothing.</summary>
    public NodeReport? Report { get; init; }

    /// <summary>Commands it answers, and whether it took them.</summary>
    public IReadOnlyList<(long Command, bool Taken)> Answers { get; init; } = [];
}
