using System.Globalization;
using Cenotic.Core.Alerts;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Alerts;

/// <summary>A rule or a zone played on a clock of its own: what was told to whom, in order, at the time on the wall.</summary>
internal sealed class AlertScenario(TimeZoneInfo zone, IReadOnlyList<PersonDesign> people)
{
    private sealed class Episode
    {
        public required long Raised { get; init; }
        public long? Cleared { get; set; }
        public long? Acknowledged { get; set; }
        public long Told { get; set; }
        public bool Damped { get; init; }
    }

    private readonly List<Episode> _episodes = [];

    /// <summary>"07:30:00 what, whom": notices and outputs.</summary>
    public List<string> Told { get; } = [];

    public void Note(long at, string what) => Told.Add($"{Wall(at)} {what}");

    public void Turn(RuleEvent e)
    {
        if (e.Turn == RuleTurn.Raised)
        {
            _episodes.Add(
                new()
                {
                    Raised = e.At,
                    Told = e.At - 1,
                    Damped = NoticeSchedule.Flaps(_episodes.Select(x => x.Raised), e.At),
                }
            );
        }
        else
        {
            _episodes[^1].Cleared = e.At;
        }
    }

    public void Acknowledge(long at) => _episodes[^1].Acknowledged = at;

    public void Tell(TellDesign tell, long now)
    {
        foreach (var episode in _episodes)
        {
            foreach (
                var notice in NoticeSchedule.Due(
                    tell,
                    people,
                    new(episode.Raised, episode.Cleared, episode.Acknowledged, episode.Damped),
                    zone,
                    episode.Told,
                    now
                )
            )
            {
                Note(now, $"{notice.Kind}{(notice.Number > 0 ? $" {notice.Number}" : "")} {notice.Person}");
                episode.Told = Math.Max(episode.Told, now);
            }
        }
    }

    /// <summary>Plays a rule from sample to sample, looking every <paramref name="tickMs"/>.</summary>
    public void Play(RuleDesign rule, IEnumerable<(long T, double Value)> samples, long from, long to, long tickMs, Action<long, RuleState>? at = null)
    {
        var state = RuleState.Start(from);
        var queue = new Queue<(long T, double Value)>(samples);
        for (var now = from; now <= to; now += tickMs)
        {
            while (queue.Count > 0 && queue.Peek().T <= now)
            {
                var (t, value) = queue.Dequeue();
                (state, var turns) = RuleJudge.OnSample(rule, state, t, value);
                foreach (var turn in turns)
                {
                    Turn(turn);
                }
            }
            (state, var due) = RuleJudge.OnTime(rule, state, now);
            foreach (var turn in due)
            {
                Turn(turn);
            }
            at?.Invoke(now, state);
            if (rule.Tell is { } tell)
            {
                Tell(tell, now);
            }
        }
    }

    public string Wall(long ms) =>
        TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(ms), zone).ToString("HH:mm:ss", CultureInfo.InvariantCulture);
}
