using System.Text;
using Cenotic.Server.Common;
using Prometheus;

namespace Cenotic.Server.Samples;

/// <summary>How the connection to the maker's own broker fares.</summary>
/// <param name="Fault">Why it does not stand; null while it does.</param>
/// <param name="Unknown">Messages of sites or nodes that there are not, since the start.</param>
public sealed record UpstreamState(string Address, bool Connected, string? Fault, long Messages, long Unknown);

/// <summary>What the relay has done since it started.</summary>
/// <param name="Queue">Messages that wait for their commit.</param>
/// <param name="LastCommitMs">Time of the newest commit.</param>
/// <param name="Failing">Why the newest commit failed; null while commits succeed.</param>
/// <param name="ClockBehindMs">How far this machine's clock was set back and has not caught up; null while it goes right.</param>
/// <param name="LateUntilMs">Until when what arrives counts as late for that, ms of site time.</param>
/// <param name="Upstream">The maker's own broker; null when none is set.</param>
public sealed record RelayState(
    long Messages,
    long Samples,
    long Repeats,
    long Refusals,
    long Commits,
    int Queue,
    double LastCommitMs,
    double CommitSeconds,
    double MessagesPerSecond,
    string? Failing,
    UpstreamState? Upstream = null,
    long? ClockBehindMs = null,
    long? LateUntilMs = null
);

/// <summary>Counts what the writer does. One writer; read by anybody.</summary>
public sealed class RelayMeter
{
    private const int Window = 10;
    private readonly TimeProvider _system;
    private readonly CollectorRegistry _registry = Metrics.NewCustomRegistry();
    private readonly Counter _messages,
        _samples,
        _repeats,
        _refusals;
    private readonly Summary _commits;
    private readonly Gauge _queue,
        _storing;
    private readonly Lock _lock = new();
    private readonly Queue<(long Ticks, long Messages)> _recent = [];
    private (long Count, TimeSpan Sum, TimeSpan Last) _took;
    private string? _failing;

    public RelayMeter(TimeProvider system)
    {
        _system = system;
        var made = Metrics.WithCustomRegistry(_registry);
        _messages = made.CreateCounter("cenotic_messages_total", "Messages stored.");
        _samples = made.CreateCounter("cenotic_samples_total", "Samples stored.");
        _repeats = made.CreateCounter("cenotic_repeats_total", "Messages that were stored before.");
        _refusals = made.CreateCounter("cenotic_refusals_total", "Things refused, each with its reason on the node's page.");
        _commits = made.CreateSummary("cenotic_commit_seconds", "Time of the commits.");
        _queue = made.CreateGauge("cenotic_queue", "Messages that wait for their commit.");
        _storing = made.CreateGauge("cenotic_storing", "1 while commits succeed, 0 after one that failed.");
        _storing.Set(1);
    }

    /// <summary>A commit that succeeded.</summary>
    public void Committed(int messages, int samples, int repeats, int refusals, TimeSpan took, int queue)
    {
        lock (_lock)
        {
            _recent.Enqueue((_system.GetTimestamp(), messages));
            _took = (_took.Count + 1, _took.Sum + took, took);
            _messages.Inc(messages);
            _samples.Inc(samples);
            _repeats.Inc(repeats);
            _refusals.Inc(refusals);
            _commits.Observe(took.TotalSeconds);
            Stands(null, queue);
        }
    }

    /// <summary>A commit that failed.</summary>
    public void Failed(string reason, int queue)
    {
        lock (_lock)
        {
            Stands(reason, queue);
        }
    }

    /// <summary>The counts, and the rate over the last ten seconds.</summary>
    public RelayState Read()
    {
        lock (_lock)
        {
            while (_recent.TryPeek(out var oldest) && _system.GetElapsedTime(oldest.Ticks).TotalSeconds > Window)
            {
                _recent.Dequeue();
            }
            return new(
                (long)_messages.Value,
                (long)_samples.Value,
                (long)_repeats.Value,
                (long)_refusals.Value,
                _took.Count,
                (int)_queue.Value,
                _took.Last.TotalMilliseconds,
                _took.Sum.TotalSeconds,
                (double)_recent.Sum(r => r.Messages) / Window,
                _failing
            );
        }
    }

    /// <summary>The counts in the OpenMetrics text format, version 1.0.0.</summary>
    public async Task<string> OpenMetricsAsync()
    {
        using var text = new MemoryStream();
        await _registry.CollectAndExportAsTextAsync(text, ExpositionFormat.OpenMetricsText);
        return Encoding.UTF8.GetString(text.ToArray());
    }

    private void Stands(string? failing, int queue)
    {
        _failing = failing;
        _storing.Set(failing is null ? 1 : 0);
        _queue.Set(queue);
    }
}
