using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>A stored value as a rule is given it.</summary>
/// <param name="Late">True when it came after a newer one of its reading: live it was stored, not judged.</param>
/// <param name="Reading">Null for the rule's own.</param>
/// <param name="Message">Values of one message and moment are judged together.</param>
public sealed record TrialSample(long T, double Value, bool Late, ReadingRef? Reading = null, long Message = 0);

/// <summary>A run of a rule on the past.</summary>
/// <param name="ClearedMs">Null when it was not over at the end.</param>
/// <param name="Value">That raised it; null for silence before the first value.</param>
/// <param name="AtNight">True when it began between 22 and 7 o'clock of the site.</param>
public sealed record TrialEpisode(long RaisedMs, long? ClearedMs, double? Value, bool AtNight)
{
    /// <summary>How long it lasted, ms; null for one that lasts.</summary>
    public long? LastedMs => ClearedMs - RaisedMs;
}

/// <summary>What another limit would have given.</summary>
public sealed record TrialPoint(double Limit, int Episodes, int AtNight);

/// <summary>What another duration would have given.</summary>
public sealed record TrialDuration(long ForMs, int Episodes, int AtNight);

/// <summary>A rule tried on the past.</summary>
/// <param name="Samples">That were judged.</param>
/// <param name="OnMs">How long it was raised in all.</param>
/// <param name="Curve">Episodes by limit, rising; empty for a rule without one limit, and for a state, which has nothing between off and on.</param>
/// <param name="Proposed">A limit that usual values would not have passed more than once a week; null where there is none, or nothing to say.</param>
/// <param name="Durations">Episodes by duration, rising, up to the first that tells nothing; empty for a rule without one.</param>
/// <param name="ProposedForMs">The shortest of them that tells no more than once a week; null as for the limit.</param>
public sealed record TrialResult(
    int Samples,
    IReadOnlyList<TrialEpisode> Episodes,
    long OnMs,
    int AtNight,
    IReadOnlyList<TrialPoint> Curve,
    double? Proposed,
    IReadOnlyList<TrialDuration> Durations,
    long? ProposedForMs
);

/// <summary>Tries a rule on stored values with the code that judges live (<see cref="RuleJudge"/>). Pure.</summary>
public static class RuleTrial
{
    private const int Points = 15,
        MostForCurve = 40_000,
        NightFrom = 22,
        NightTo = 7;
    private static readonly long[] TriedDurations = [0, 60_000, 5 * 60_000, 15 * 60_000, 3_600_000, 4 * 3_600_000, 12 * 3_600_000];
    private const double WeekMs = 7 * 86_400_000.0,
        LeastQuantile = 0.5;

    /// <summary>What it would have told.</summary>
    /// <param name="samples">In order of arrival: "as it was told", and then late ones are left out as they
    /// are live. In order of time with none marked late: "as it happened".</param>
    /// <param name="from">From when on it would have watched, UTC ms.</param>
    /// <param name="to">Until when.</param>
    /// <param name="zone">Of the site: night is by its clock.</param>
    /// <param name="facts">As <see cref="RuleJudge"/> wants it.</param>
    /// <param name="history">Values from which is learnt what is usual, those of before among them; null where the samples are all there is.</param>
    public static TrialResult Of(
        RuleDesign rule,
        IReadOnlyList<TrialSample> samples,
        long from,
        long to,
        TimeZoneInfo zone,
        IReadOnlyList<TrialSample>? history = null,
        FactsOf? facts = null
    )
    {
        var judged = samples.Where(s => !s.Late).ToList();
        var past = rule.Parts.Any(p => p.Condition is UnlikeUsual)
            ? new UsualOfPast((history ?? judged).Where(s => !s.Late), new(rule.Node, rule.Reading), zone)
            : null;
        var episodes = Run(rule, judged, from, to, zone, past is null ? null : past.At, facts);
        // The curve is of the newest of very many values: its weeks are those of its own stretch.
        var newest = judged.Count <= MostForCurve ? judged : [.. judged.TakeLast(MostForCurve)];
        var begin = newest.Count < judged.Count ? newest[0].T : from;
        var curve = Curve(rule, newest, begin, to, zone, facts);
        var durations = Durations(rule, newest, begin, to, zone, past is null ? null : past.At, facts);
        var weeks = Math.Max(1, (to - begin) / WeekMs);
        var proposed = durations.Find(d => d.Episodes <= weeks && d.Episodes < durations[0].Episodes);
        return new(
            judged.Count,
            episodes,
            episodes.Sum(e => (e.ClearedMs ?? to) - e.RaisedMs),
            episodes.Count(e => e.AtNight),
            curve,
            Proposed(rule, curve, weeks),
            durations,
            proposed?.ForMs
        );
    }

    /// <summary>The episodes alone.</summary>
    internal static List<TrialEpisode> Run(
        RuleDesign rule,
        IReadOnlyList<TrialSample> samples,
        long from,
        long to,
        TimeZoneInfo zone,
        UsualAt? usual = null,
        FactsOf? facts = null
    )
    {
        var own = new ReadingRef(rule.Node, rule.Reading);
        var (state, episodes) = (RuleState.Start(from), new List<TrialEpisode>());
        void Take(RuleEvent e)
        {
            if (e.Turn == RuleTurn.Raised)
            {
                episodes.Add(new(e.At, null, e.Value, IsNight(e.At, zone)));
            }
            else
            {
                episodes[^1] = episodes[^1] with { ClearedMs = e.At };
            }
        }
        for (var i = 0; i < samples.Count; )
        {
            IReadOnlyList<RuleEvent> turns;
            if (rule.Also.Count == 0)
            {
                (state, turns) = RuleJudge.OnSample(rule, state, samples[i].Reading ?? own, samples[i].T, samples[i].Value, usual, facts);
                i++;
            }
            else
            {
                var together = samples.Skip(i).TakeWhile(s => (s.T, s.Message) == (samples[i].T, samples[i].Message)).ToList();
                (state, turns) = RuleJudge.OnSamples(rule, state, together[0].T, [.. together.Select(s => (s.Reading ?? own, s.Value))], usual, facts);
                i += together.Count;
            }
            foreach (var turn in turns)
            {
                Take(turn);
            }
        }
        foreach (var turn in RuleJudge.OnTime(rule, state, to, facts).Events)
        {
            Take(turn);
        }
        return episodes;
    }

    private static bool IsNight(long ms, TimeZoneInfo zone) =>
        TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(ms), zone).Hour is >= NightFrom or < NightTo;

    /// <summary>The same rule with another limit; null where it has not one limit.</summary>
    private static RuleDesign? WithLimit(RuleDesign rule, double limit) =>
        rule.Also.Count > 0
            ? null
            : rule.Condition switch
            {
                // What it takes to be over keeps its distance.
                BeyondLimit l => rule with { Condition = l with { Limit = limit, Clear = limit + l.Clear - l.Limit } },
                InARow r => rule with { Condition = r with { Limit = limit, Clear = limit + r.Clear - r.Limit } },
                ChangesFaster c => rule with { Condition = c with { By = limit } },
                _ => null,
            };

    /// <summary>The same rule with another duration; null where it has not one.</summary>
    private static RuleDesign? WithDuration(RuleDesign rule, long forMs) =>
        rule.Also.Count > 0
            ? null
            : rule.Condition switch
            {
                BeyondLimit l => rule with { Condition = l with { ForMs = forMs } },
                OutsideBand b => rule with { Condition = b with { ForMs = forMs } },
                UnlikeUsual u => rule with { Condition = u with { ForMs = forMs } },
                SilentFor s when forMs > 0 => rule with { Condition = s with { ForMs = forMs } },
                _ => null,
            };

    private static List<TrialDuration> Durations(
        RuleDesign rule,
        List<TrialSample> samples,
        long from,
        long to,
        TimeZoneInfo zone,
        UsualAt? usual,
        FactsOf? facts
    )
    {
        var durations = new List<TrialDuration>();
        foreach (var forMs in samples.Count < Points ? [] : TriedDurations)
        {
            // One that lasts longer tells less: after nothing comes nothing.
            if (WithDuration(rule, forMs) is { } other && durations is not [.., { Episodes: 0 }])
            {
                var episodes = Run(other, samples, from, to, zone, usual, facts);
                durations.Add(new(forMs, episodes.Count, episodes.Count(e => e.AtNight)));
            }
        }
        return durations;
    }

    /// <summary>Limits from the middle of what was seen to its end, by equal steps of the quantiles' reach.</summary>
    private static List<TrialPoint> Curve(RuleDesign rule, List<TrialSample> samples, long from, long to, TimeZoneInfo zone, FactsOf? facts)
    {
        if (samples.Count < Points || WithLimit(rule, 1) is null || samples.TrueForAll(s => s.Value is 0 or 1))
        {
            return [];
        }
        var values = samples.Select(s => s.Value).Order().ToList();
        var above = rule.Condition is BeyondLimit { Side: LimitSide.Above } or InARow { Side: LimitSide.Above };
        var (low, high) =
            rule.Condition is ChangesFaster change ? (change.By / 4, Math.Max(change.By * 2, values[^1] - values[0]))
            : above ? (Quantile(values, LeastQuantile), values[^1])
            : (values[0], Quantile(values, 1 - LeastQuantile));
        if (!(low < high))
        {
            return [];
        }
        return
        [
            .. Enumerable
                .Range(0, Points)
                .Select(i => low + (high - low) * i / (Points - 1))
                .Select(limit => (limit, Run(WithLimit(rule, limit)!, samples, from, to, zone, null, facts)))
                .Select(p => new TrialPoint(p.limit, p.Item2.Count, p.Item2.Count(e => e.AtNight))),
        ];
    }

    private static double? Proposed(RuleDesign rule, IReadOnlyList<TrialPoint> curve, double weeks)
    {
        var below = rule.Condition is BeyondLimit { Side: LimitSide.Below } or InARow { Side: LimitSide.Below };
        var quiet = (below ? curve.Reverse() : curve).FirstOrDefault(p => p.Episodes <= weeks && p.Episodes < curve.Max(c => c.Episodes));
        return quiet?.Limit;
    }

    private static double Quantile(List<double> sorted, double share) => sorted[(int)Math.Round(share * (sorted.Count - 1))];
}
