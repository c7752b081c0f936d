using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using CsCheck;

namespace Cenotic.Core.Tests.Watch;

public class SequenceTallyTests
{
    private static string Told(IReadOnlyList<SequenceEvent> events) =>
        string.Join("; ", events.Select(e => $"{e.AtMs} {e.Outcome}{(e.DelayMs is { } d ? $" {d}" : "")}"));

    [Fact]
    public void A_beam_and_a_knock_are_told_apart()
    {
        // By hand: both within 5 (10 and 12), a beam alone (30), a knock before its beam (52 and 50), a knock alone (80), a beam whose time still runs (97).
        long[] beam = [10, 30, 52, 97];
        long[] knock = [12, 50, 80];
        Assert.Equal("10 Both 2; 30 FirstAlone; 50 Both -2; 80 SecondAlone", Told(SequenceTally.Of(beam, knock, 5, inOrder: false, 100)));
        // In order the knock of 50 came too early: both are alone.
        Assert.Equal("10 Both 2; 30 FirstAlone; 50 SecondAlone; 52 FirstAlone; 80 SecondAlone", Told(SequenceTally.Of(beam, knock, 5, inOrder: true, 100)));
        Assert.Equal(new(2, 1, 1, 1), SequenceTally.Count(SequenceTally.Of(beam, knock, 5, false, 100), 0, 86_400_000));
        Assert.Equal(2, SequenceTally.Count(SequenceTally.Of(beam, knock, 5, false, 100), 0, 86_400_000).PerDay(SequenceOutcome.Both));
        Assert.Equal(0, SequenceTally.Count([], 5, 5).PerDay(SequenceOutcome.Both));
    }

    [Fact]
    public void Two_knocks_on_one_beam_are_one_parcel_and_a_knock() =>
        Assert.Equal("10 Both 1; 13 SecondAlone", Told(SequenceTally.Of([10], [11, 13], 5, false, 100)));

    [Fact]
    public void Each_event_is_told_once_and_no_longer_pairing_would_have_found_more()
    {
        var times = Gen.Long[0, 200].Array[0, 12].Select(a => a.Distinct().Order().ToArray());
        Gen.Select(times, times, Gen.Long[0, 20], Gen.Bool)
            .Sample(
                (first, second, within, inOrder) =>
                {
                    var events = SequenceTally.Of(first, second, within, inOrder, 10_000);
                    var both = events.Count(e => e.Outcome == SequenceOutcome.Both);
                    Assert.Equal(first.Length, both + events.Count(e => e.Outcome == SequenceOutcome.FirstAlone));
                    Assert.Equal(second.Length, both + events.Count(e => e.Outcome == SequenceOutcome.SecondAlone));
                    Assert.All(events.Where(e => e.DelayMs is not null), e => Assert.InRange(e.DelayMs!.Value, inOrder ? 0 : -within, within));
                    // The most pairs there can be, by augmenting paths (Kuhn's algorithm).
                    Assert.Equal(MostPairs(first, second, within, inOrder), both);
                }
            );
    }

    private static int MostPairs(long[] first, long[] second, long within, bool inOrder)
    {
        var mate = new int[second.Length];
        Array.Fill(mate, -1);
        bool Try(int i, HashSet<int> seen)
        {
            for (var j = 0; j < second.Length; j++)
            {
                var delay = second[j] - first[i];
                if (delay <= within && delay >= (inOrder ? 0 : -within) && seen.Add(j) && (mate[j] < 0 || Try(mate[j], seen)))
                {
                    mate[j] = i;
                    return true;
                }
            }
            return false;
        }
        return Enumerable.Range(0, first.Length).Count(i => Try(i, []));
    }
}
