using Cenotic.Core.Electrical;

namespace Cenotic.Core.Rhythm;

/// <summary>A strictly periodic send that wants an offset. All in one whole unit, here ms.</summary>
/// <param name="Duration">Time on the air with its guard.</param>
public sealed record SlotRequest(long Period, long Duration);

/// <summary>What became of a search for slots.</summary>
public enum SlotVerdict
{
    /// <summary>No two ever meet.</summary>
    Clear,

    /// <summary>It is proven that some must meet.</summary>
    Impossible,

    /// <summary>The best that was found in the time; some meet.</summary>
    BestEffort,
}

/// <summary>Offsets for a set of sends.</summary>
/// <param name="Offsets">In the order of the requests. With <see cref="SlotVerdict.Clear"/> none
/// ever meets another; else those with the least overlap found.</param>
/// <param name="How">What makes the verdict sure, in a sentence.</param>
public sealed record SlotAnswer(SlotVerdict Verdict, IReadOnlyList<long> Offsets, string How);

/// <summary>
/// Offsets so that strictly periodic sends never meet. Any set of offsets that works can be shifted so that each send follows another one directly modulo the
/// greatest common divisor of their periods; only such offsets are tried, so an exhausted search is a proof. Conditions: see <see cref="PeriodicSends"/>.
/// </summary>
public static class SlotPlanner
{
    /// <summary>Pairs that are compared before an exhaustive search is given up; of larger sets it would seldom come to an end.</summary>
    private const int Budget = 3_000_000,
        BudgetOfLarge = 100_000,
        Large = 16;

    /// <summary>Pairs that are compared in a round of the search for the least overlap, and the offsets that are looked at for one send at most.</summary>
    private const int RoundBudget = 120_000,
        MostCandidates = 4_000;
    private const int Rounds = 3;

    /// <summary>Offsets for these sends: clear ones where they are found, else those with the least overlap found.</summary>
    public static SlotAnswer Place(IReadOnlyList<SlotRequest> requests)
    {
        if (requests.Count == 0)
        {
            return new(SlotVerdict.Clear, [], "Nothing sends here by the clock.");
        }
        return Clear(requests, out var verdict, out var how) is { } offsets ? new(verdict, offsets, how) : new(verdict, LeastOverlap(requests), how);
    }

    /// <summary>True when clear offsets are found: the verdict of <see cref="Place"/> without the search for the least overlap.</summary>
    public static bool HasRoom(IReadOnlyList<SlotRequest> requests) => requests.Count == 0 || Clear(requests, out _, out _) is not null;

    private static IReadOnlyList<long>? Clear(IReadOnlyList<SlotRequest> requests, out SlotVerdict verdict, out string how)
    {
        (verdict, how) = (SlotVerdict.Impossible, Hopeless(requests) ?? "");
        if (how != "")
        {
            return null;
        }
        (verdict, how) = (SlotVerdict.Clear, "Checked for every pair: the gcd condition holds.");
        if (Greedy(requests) is { } quick)
        {
            return quick;
        }
        var search = new Search(requests);
        if (search.Run())
        {
            return search.Offsets;
        }
        (verdict, how) = search.Exhausted
            ? (SlotVerdict.Impossible, "All offsets that could work were tried; none does.")
            : (SlotVerdict.BestEffort, "The search was stopped; better offsets may exist.");
        return null;
    }

    /// <summary>Why no offsets can work, or null when that is not plain.</summary>
    private static string? Hopeless(IReadOnlyList<SlotRequest> requests)
    {
        if (requests.FirstOrDefault(r => r.Duration > r.Period) is { } endless)
        {
            return $"A send of {endless.Duration} ms does not fit its period of {endless.Period} ms.";
        }
        for (var i = 0; i < requests.Count; i++)
        {
            for (var j = 0; j < i; j++)
            {
                var g = PeriodicSends.Gcd(requests[i].Period, requests[j].Period);
                if (requests[i].Duration + requests[j].Duration > g)
                {
                    return $"Periods of {requests[j].Period} and {requests[i].Period} ms come within every {g} ms of each other; sends of "
                        + $"{requests[j].Duration} and {requests[i].Duration} ms do not both fit into that.";
                }
            }
        }
        return requests.Sum(r => (double)r.Duration / r.Period) > 1 + 1e-12 ? "The sends together take more time than there is." : null;
    }

    /// <summary>Offsets of a send that follow one of the placed sends directly, modulo what matters for the others.</summary>
    private static IEnumerable<long> Tight(IReadOnlyList<SlotRequest> requests, int j, long?[] placed, long[] modulus)
    {
        var seen = new HashSet<long>();
        for (var i = 0; i < placed.Length; i++)
        {
            if (placed[i] is { } offset)
            {
                var g = PeriodicSends.Gcd(requests[i].Period, requests[j].Period);
                for (var at = PeriodicSends.Mod(offset + requests[i].Duration, g); at < modulus[j]; at += g)
                {
                    if (seen.Add(at))
                    {
                        yield return at;
                    }
                }
            }
        }
    }

    private static bool Clear(IReadOnlyList<SlotRequest> requests, int j, long at, long?[] placed)
    {
        for (var i = 0; i < placed.Length; i++)
        {
            if (
                placed[i] is { } offset
                && !PeriodicSends.Clear(new(requests[i].Period, offset, requests[i].Duration), new(requests[j].Period, at, requests[j].Duration))
            )
            {
                return false;
            }
        }
        return true;
    }

    /// <summary>For each send the least common multiple of its common divisors with the others: offsets that differ by it are alike.</summary>
    private static long[] Moduli(IReadOnlyList<SlotRequest> requests) =>
        [
            .. requests.Select(
                (r, j) =>
                    requests
                        .Where((_, i) => i != j)
                        .Select(o => PeriodicSends.Gcd(o.Period, r.Period))
                        .Aggregate(1L, (all, g) => all / PeriodicSends.Gcd(all, g) * g)
            ),
        ];

    private static long[]? Greedy(IReadOnlyList<SlotRequest> requests)
    {
        var moduli = Moduli(requests);
        foreach (
            var order in new[]
            {
                Enumerable.Range(0, requests.Count).OrderBy(i => requests[i].Period).ThenByDescending(i => requests[i].Duration),
                Enumerable.Range(0, requests.Count).OrderByDescending(i => requests[i].Duration).ThenBy(i => requests[i].Period),
            }
        )
        {
            var placed = new long?[requests.Count];
            foreach (var j in order)
            {
                placed[j] = placed.All(p => p is null)
                    ? 0
                    : Tight(requests, j, placed, moduli)
                        .Take(MostCandidates)
                        .Where(at => Clear(requests, j, at, placed))
                        .Select(at => (long?)at)
                        .FirstOrDefault();
                if (placed[j] is null)
                {
                    break;
                }
            }
            if (placed.All(p => p is not null))
            {
                return [.. placed.Select(p => p!.Value)];
            }
        }
        return null;
    }

    /// <summary>Each send where it meets the others least, and again in the company of all.</summary>
    private static long[] LeastOverlap(IReadOnlyList<SlotRequest> requests)
    {
        var moduli = Moduli(requests);
        var placed = new long?[requests.Count];
        var candidates = Math.Clamp(RoundBudget / (requests.Count * requests.Count), 8, MostCandidates);
        for (var round = 0; round < Rounds; round++)
        {
            foreach (var j in Enumerable.Range(0, requests.Count).OrderBy(i => requests[i].Period).ThenByDescending(i => requests[i].Duration))
            {
                placed[j] = null;
                double Overlap(long at) =>
                    Enumerable
                        .Range(0, requests.Count)
                        .Where(i => placed[i] is not null)
                        .Sum(i =>
                            PeriodicSends.Overlap(
                                new(requests[i].Period, placed[i]!.Value, requests[i].Duration),
                                new(requests[j].Period, at, requests[j].Duration)
                            )
                        );
                placed[j] = Tight(requests, j, placed, moduli).Take(candidates).DefaultIfEmpty(0).MinBy(Overlap);
            }
        }
        return [.. placed.Select(p => p!.Value)];
    }

    private sealed class Search(IReadOnlyList<SlotRequest> requests)
    {
        private readonly long[] _moduli = Moduli(requests);
        private readonly long?[] _placed = new long?[requests.Count];
        private readonly HashSet<string> _seen = [];
        private int _left = requests.Count > Large ? BudgetOfLarge : Budget;

        internal bool Exhausted => _left > 0;

        internal long[] Offsets => [.. _placed.Select(p => p!.Value)];

        internal bool Run()
        {
            // The whole may be shifted: one send stands at 0.
            _placed[Enumerable.Range(0, requests.Count).MinBy(i => requests[i].Period)] = 0;
            return Go();
        }

        private bool Go()
        {
            if (_left <= 0 || !_seen.Add(string.Join(',', _placed)))
            {
                return false;
            }
            var open = new List<(int J, List<long> At)>();
            for (var j = 0; j < _placed.Length; j++)
            {
                if (_placed[j] is not null)
                {
                    continue;
                }
                var free = new List<long>();
                foreach (var at in Tight(requests, j, _placed, _moduli))
                {
                    if (--_left <= 0)
                    {
                        return false;
                    }
                    if (Clear(requests, j, at, _placed))
                    {
                        free.Add(at);
                    }
                }
                if (free.Count == 0)
                {
                    // An offset that works now could be shifted down to one that follows a placed send: there is none.
                    return false;
                }
                open.Add((j, free));
            }
            if (open.Count == 0)
            {
                return true;
            }
            // Sends with the same period and duration are alike: the first of them goes first.
            foreach (var (j, free) in open.Where(o => !open.Any(p => p.J < o.J && requests[p.J] == requests[o.J])).OrderBy(o => o.At.Count))
            {
                foreach (var at in free)
                {
                    _placed[j] = at;
                    if (Go())
                    {
                        return true;
                    }
                    _placed[j] = null;
                }
            }
            return false;
        }
    }
}
