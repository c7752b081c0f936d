using System.Globalization;
using System.Text;
using Cenotic.Server.Common;

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
public sealed class RelayMeter(TimeProvider system)
{
    private const int Window = 10;
    private readonly Lock _lock = new();
    private readonly Queue<(long Ticks, long Messages)> _recent = [];
    private RelayState _state = new(0, 0, 0, 0, 0, 0, 0, 0, 0, null);

    /// <summary>A commit that succeeded.</summary>
    public void Committed(int messages, int samples, int repeats, int refusals, TimeSpan took, int queue)
    {
        lock (_lock)
        {
            _recent.Enqueue((system.GetTimestamp(), messages));
            _state = _state with
            {
                Messages = _state.Messages + messages,
                Samples = _state.Samples + samples,
                Repeats = _state.Repeats + repeats,
                Refusals = _state.Refusals + refusals,
                Commits = _state.Commits + 1,
                Queue = queue,
                LastCommitMs = took.TotalMilliseconds,
                CommitSeconds = _state.CommitSeconds + took.TotalSeconds,
                Failing = null,
            };
        }
    }

    /// <summary>A commit that failed.</summary>
    public void Failed(string reason, int queue)
    {
        lock (_lock)
        {
            _state = _state with { Failing = reason, Queue = queue };
        }
    }

    /// <summary>The counts, and the rate over the last ten seconds.</summary>
    public RelayState Read()
    {
        lock (_lock)
        {
            while (_recent.TryPeek(out var oldest) && system.GetElapsedTime(oldest.Ticks).TotalSeconds > Window)
            {
                _recent.Dequeue();
            }
            return _state with { MessagesPerSecond = (double)_recent.Sum(r => r.Messages) / Window };
        }
    }

    /// <summary>The counts in the OpenMetrics text format, version 1.0.0.</summary>
    public string OpenMetrics()
    {
        var state = Read();
        var text = new StringBuilder();
        void Family(string name, string type, string help, string? unit, params (string Suffix, double Value)[] samples)
        {
            text.Append(CultureInfo.InvariantCulture, $"# TYPE {name} {type}\n");
            if (unit is not null)
            {
                text.Append(CultureInfo.InvariantCulture, $"# UNIT {name} {unit}\n");
            }
            text.Append(CultureInfo.InvariantCulture, $"# HELP {name} {help}\n");
            foreach (var (suffix, value) in samples)
            {
                text.Append(CultureInfo.InvariantCulture, $"{name}{suffix} {value}\n");
            }
        }
        Family("cenotic_messages", "counter", "Messages stored.", null, ("_total", state.Messages));
        Family("cenotic_samples", "counter", "Samples stored.", null, ("_total", state.Samples));
        Family("cenotic_repeats", "counter", "Messages that were stored before.", null, ("_total", state.Repeats));
        Family("cenotic_refusals", "counter", "Things refused, each with its reason on the node's page.", null, ("_total", state.Refusals));
        Family("cenotic_commit_seconds", "summary", "Time of the commits.", "seconds", ("_count", state.Commits), ("_sum", state.CommitSeconds));
        Family("cenotic_queue", "gauge", "Messages that wait for their commit.", null, ("", state.Queue));
        Family("cenotic_storing", "gauge", "1 while commits succeed, 0 after one that failed.", null, ("", state.Failing is null ? 1 : 0));
        return text.Append("# EOF\n").ToString();
    }
}
