using System.Diagnostics;
using Cenotic.Core.Alerts;
using Cenotic.Core.Design;

namespace Cenotic.Benchmarks;

/// <summary>Rules judged: a year of minutes on the past, and a second of a thousand values against
/// two thousand rules, beside a bare comparison of the same values.</summary>
internal static class RuleBench
{
    private const int Minutes = 525_600,
        Rules = 2_000,
        Values = 1_000;

    public static void Run()
    {
        var random = new Random(1);
        var samples = Enumerable
            .Range(0, Minutes)
            .Select(i => new TrialSample(i * 60_000L, 20 + 5 * Math.Sin(i / 229.0) + random.NextDouble(), false))
            .ToList();
        RuleCondition[] kinds =
        [
            new BeyondLimit(LimitSide.Above, 24, 23, 0),
            new BeyondLimit(LimitSide.Above, 24, 23, 600_000),
            new OutsideBand(16, 25, 0.5, 0),
            new InARow(LimitSide.Below, 16, 17, 3),
            new ChangesFaster(ChangeSide.Rises, 3, 1_800_000),
            new EventsWithin(3, 600_000),
            new UnlikeUsual(0.5, 600_000),
        ];
        foreach (var kind in kinds)
        {
            var rule = new RuleDesign("r", "R", "n", "t", kind, "", true);
            Timed(() => RuleTrial.Of(rule, samples[..5_000], 0, Minutes * 60_000L, TimeZoneInfo.Utc).Samples);
            int Year() => RuleTrial.Of(rule, samples, 0, Minutes * 60_000L, TimeZoneInfo.Utc).Episodes.Count;
            var ((first, episodes), (again, _)) = (Timed(Year), Timed(Year));
            Console.WriteLine(
                $"a year of minutes by {kind.GetType().Name}, with its curve if it has one: {first:0} ms the first time, {again:0} ms again, "
                    + $"{episodes} episodes"
            );
        }
        var rules = Enumerable.Range(0, Rules).Select(i => new RuleDesign($"r{i}", "R", "n", "t", kinds[i % kinds.Length], "", true)).ToList();
        var states = rules.ConvertAll(_ => RuleState.Start(0));
        var (bare, _) = Timed(() => rules.Sum(r => samples.Take(Values).Count(s => s.Value > 24)));
        // Each value is of one reading, and the rules are spread over as many readings as values come in a second.
        var (judged, turned) = Timed(() =>
        {
            var turns = 0;
            for (var i = 0; i < Values; i++)
            {
                for (var at = i * Rules / Values; at < (i + 1) * Rules / Values; at++)
                {
                    (states[at], var events) = RuleJudge.OnSample(rules[at], states[at], samples[i].T, samples[i].Value);
                    turns += events.Count;
                }
            }
            return turns;
        });
        var (all, _) = Timed(() =>
        {
            for (var i = 0; i < Values; i++)
            {
                for (var at = 0; at < Rules; at++)
                {
                    (states[at], _) = RuleJudge.OnSample(rules[at], states[at], (Values + i) * 60_000L, samples[i].Value);
                }
            }
            return 0;
        });
        Console.WriteLine(
            $"{Values} values a second against {Rules} rules, each value for the rules of its reading: {judged:0.00} ms of a second ({turned} turns); "
                + $"every value against every rule: {all:0} ms, {all / bare:0.0} times bare comparisons"
        );
    }

    private static (double Milliseconds, int Result) Timed(Func<int> work)
    {
        var watch = Stopwatch.StartNew();
        var result = work();
        return (watch.Elapsed.TotalMilliseconds, result);
    }
}
