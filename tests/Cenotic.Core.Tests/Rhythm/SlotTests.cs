using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;
using CsCheck;

namespace Cenotic.Core.Tests.Rhythm;

/// <summary>Slots against brute force over the common period, and "impossible" against an exhaustive search.</summary>
public class SlotTests
{
    private const long DayMs = 86_400_000;
    private static readonly long[] Seconds = [5, 6, 8, 10, 12, 15, 20, 24, 30, 40, 45, 60, 72, 90, 120, 180, 240, 300, 360, 600, 900, 1200, 1800, 3600];

    private static readonly long[] Short = [4, 6, 8, 9, 12, 16, 18];

    private static long Lcm(IEnumerable<long> periods) => periods.Aggregate(1L, (all, p) => all / PeriodicSends.Gcd(all, p) * p);

    /// <summary>Every send of the common period, laid out and compared with its neighbour in time.</summary>
    private static bool Meets(IReadOnlyList<SlotRequest> requests, IReadOnlyList<long> offsets)
    {
        var hyper = Lcm(requests.Select(r => r.Period));
        var sends = requests
            .SelectMany(
                (r, i) => Enumerable.Range(0, (int)(hyper / r.Period)).Select(k => (At: PeriodicSends.Mod(offsets[i] + k * r.Period, hyper), r.Duration))
            )
            .OrderBy(s => s.At)
            .ToList();
        return sends.Zip(sends.Skip(1).Append((At: sends[0].At + hyper, sends[0].Duration))).Any(p => p.First.At + p.First.Duration > p.Second.At);
    }

    private static readonly Gen<SlotRequest[]> Sets = (
        from count in Gen.Int[2, 8]
        from set in Gen.Select(Gen.Int[0, Seconds.Length - 1].Select(i => Seconds[i]), Gen.Int[30, 1_500], (period, duration) =>
            new SlotRequest(period * 1000, duration)
        ).Array[count]
        select set
    ).Where(s => Lcm(s.Select(r => r.Period)) <= DayMs);

    [Fact]
    public void Two_hundred_random_sets_are_clear_over_the_common_period_where_they_are_called_so()
    {
        var (clear, impossible) = (0, 0);
        Sets.Sample(
            set =>
            {
                var answer = SlotPlanner.Place(set);
                Assert.Equal(set.Length, answer.Offsets.Count);
                Assert.Equal(answer.Verdict == SlotVerdict.Clear, SlotPlanner.HasRoom(set));
                if (answer.Verdict == SlotVerdict.Clear)
                {
                    Assert.False(Meets(set, answer.Offsets));
                    Interlocked.Increment(ref clear);
                }
                else
                {
                    Assert.True(Meets(set, answer.Offsets));
                    Interlocked.Increment(ref impossible);
                }
            },
            iter: 200,
            threads: 1
        );
        Assert.True(clear > 40 && impossible > 5, $"{clear} clear, {impossible} not");
    }

    [Fact]
    public void What_is_called_impossible_is_impossible()
    {
        var small =
            from count in Gen.Int[2, 4]
            from set in Gen.Select(Gen.Int[0, Short.Length - 1].Select(i => Short[i]), Gen.Long[1, 4], (period, duration) =>
                new SlotRequest(period, duration)
            ).Array[count]
            select set;
        var (possible, impossible) = (0, 0);
        small.Sample(
            set =>
            {
                var found = Exhaustive(set, new long[set.Length], 1);
                var answer = SlotPlanner.Place(set);
                Assert.NotEqual(SlotVerdict.BestEffort, answer.Verdict);
                Assert.Equal(found, answer.Verdict == SlotVerdict.Clear);
                _ = found ? Interlocked.Increment(ref possible) : Interlocked.Increment(ref impossible);
            },
            iter: 400,
            threads: 1
        );
        // About 70 of the 400 are possible; the seed is another one each time.
        Assert.True(possible > 30 && impossible > 30, $"{possible} possible, {impossible} not");
    }

    /// <summary>All offsets of all sends but the first, one unit at a time.</summary>
    private static bool Exhaustive(SlotRequest[] set, long[] offsets, int at)
    {
        if (set[0].Duration > set[0].Period)
        {
            return false;
        }
        if (at == set.Length)
        {
            return !Meets(set, offsets);
        }
        for (offsets[at] = 0; offsets[at] < set[at].Period; offsets[at]++)
        {
            if (!Meets(set[..(at + 1)], offsets[..(at + 1)]) && Exhaustive(set, offsets, at + 1))
            {
                return true;
            }
        }
        return false;
    }

    [Fact]
    public void Overlap_and_meeting_share_agree_with_counting() =>
        Gen.Select(Gen.Long[2, 20], Gen.Long[2, 20], Gen.Long[0, 19], Gen.Long[1, 5], Gen.Long[1, 5])
            .Sample(
                (ta, tb, offset, da, db) =>
                {
                    var (a, b) = (new PeriodicSend(ta, 0, Math.Min(da, ta)), new PeriodicSend(tb, offset % tb, Math.Min(db, tb)));
                    var hyper = Lcm([ta, tb]);
                    bool On(PeriodicSend s, long t) => PeriodicSends.Mod(t - s.Offset, s.Period) < s.Duration;
                    var both = Enumerable.Range(0, (int)hyper).Count(t => On(a, t) && On(b, t));
                    Assert.Equal((double)both / hyper, PeriodicSends.Overlap(a, b), 1e-9);
                    var met = Enumerable.Range(0, (int)(hyper / tb)).Count(k => Enumerable.Range(0, (int)b.Duration).Any(d => On(a, b.Offset + k * tb + d)));
                    Assert.Equal((double)met / (hyper / tb), PeriodicSends.Meeting(a, b), 1e-9);
                    Assert.Equal(both == 0, PeriodicSends.Clear(a, b));
                }
            );

    [Fact]
    public void A_large_set_gets_offsets_and_the_overlap_that_is_left()
    {
        // Sixty senders every minute with a second each just fit; sixty-one cannot.
        var full = Enumerable.Repeat(new SlotRequest(60_000, 1_000), 60).ToList();
        Assert.Equal(SlotVerdict.Clear, SlotPlanner.Place(full).Verdict);
        var over = SlotPlanner.Place([.. full, new(60_000, 1_000)]);
        Assert.Equal(SlotVerdict.Impossible, over.Verdict);
        Assert.Equal(61, over.Offsets.Count);
        Assert.Equal(SlotVerdict.Clear, SlotPlanner.Place([]).Verdict);
        Assert.Equal(SlotVerdict.Impossible, SlotPlanner.Place([new(10, 11)]).Verdict);
    }
}
