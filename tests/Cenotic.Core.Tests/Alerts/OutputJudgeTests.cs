using Cenotic.Core.Alerts;
using CsCheck;

namespace Cenotic.Core.Tests.Alerts;

/// <summary>
/// Outputs under a link that drops at every moment: random schedules of link, person, rules, zones, permits, chirps and restarts, with a node that does what
/// docs/formats.md says of a node and knows nothing of the judge.
/// </summary>
public class OutputJudgeTests
{
    private const long Step = 100;

    /// <summary>A node: obeys no lower number than the last, is off when its lease or its own longest time is over.</summary>
    private sealed class Node
    {
        private long _last,
            _leaseUntil,
            _since;
        private long _most;

        internal bool IsOn(long now) => now < _leaseUntil && now - _since < _most;

        internal void Hear(OutputTold told, long now)
        {
            if (told.Command < _last || told.ExpiresMs <= now)
            {
                return;
            }
            if (told.Command > _last)
            {
                _since = now;
            }
            (_last, _leaseUntil, _most) = (told.Command, told.On ? told.ExpiresMs : 0, told.MaxOnMs);
        }
    }

    /// <summary>This program with one output, and everything that ever happened to it.</summary>
    private sealed class Played
    {
        internal readonly Node Node = new();
        internal readonly List<(long At, OutputTurn Turn)> Turns = [];
        internal readonly List<(long At, OutputTold Told)> Sent = [];
        internal Dictionary<string, OutputWish> Wishes = [];
        internal OutputKept Kept = OutputKept.Start;
        internal string? Withheld;
        internal bool Link = true;
        internal long Now;
        private long _command;

        internal List<OutputWish> Standing =>
            [
                .. Wishes
                    .Values.Where(w => w.Rank != WishRank.Permit || Withheld is null)
                    .Select(w => w.Rank == WishRank.Permit ? w with { UntilMs = Now + 300_000 } : w),
            ];

        internal void Take(OutputTurn turn)
        {
            if (turn.Wish is not null && (!Link || Withheld is not null))
            {
                return;
            }
            Kept = OutputJudge.Switched(Kept, turn, Standing, ++_command, Now);
            Turns.Add((Now, turn));
        }

        internal void Chirp()
        {
            if (Kept.Held is null)
            {
                Take(new(new($"chirp {Now}", WishRank.Chirp, "arming", Now + 1_000), true, "arming", ""));
            }
        }

        internal void Tick()
        {
            Now += Step;
            Kept = OutputJudge.Tidied(Kept, Standing);
            if (OutputJudge.Next(Kept, Standing, Withheld, Link, Now) is { } turn)
            {
                Take(turn);
            }
            (Kept, var told) = OutputJudge.Due(Kept, Link, Now);
            if (told is not null)
            {
                Sent.Add((Now, told));
                Node.Hear(told, Now);
                Kept = OutputJudge.Answered(Kept, told.Command, taken: true);
            }
        }
    }

    private enum Happens
    {
        Link,
        PersonOn,
        PersonOff,
        Rule,
        OtherRule,
        Alarm,
        Permit,
        Withhold,
        Chirp,
        Restart,
    }

    private static void Do(Played played, Happens what, int pick)
    {
        void Toggle(string key, WishRank rank, long lasts)
        {
            if (!played.Wishes.Remove(key))
            {
                played.Wishes[key] = new($"{key} {played.Now}", rank, key, played.Now + lasts);
            }
        }
        switch (what)
        {
            case Happens.Link:
                played.Link = !played.Link;
                break;
            case Happens.PersonOn when played.Withheld is null:
                played.Take(OutputJudge.Order("ann", played.Now + 1_000 * (5 + pick % 200), played.Now));
                break;
            case Happens.PersonOff:
                played.Take(OutputJudge.Order("ann", null, played.Now));
                break;
            case Happens.Rule:
                Toggle("damp", WishRank.Rule, 60_000 + pick * 100);
                break;
            case Happens.OtherRule:
                Toggle("warm", WishRank.Rule, 600_000);
                break;
            case Happens.Alarm:
                Toggle("zone", WishRank.Alarm, 30_000 + pick * 10);
                break;
            case Happens.Permit:
                if (!played.Wishes.Remove("permit"))
                {
                    played.Wishes["permit"] = new("permit", WishRank.Permit, "permit", 0);
                }
                break;
            case Happens.Withhold:
                played.Withheld = played.Withheld is null ? "the permit is not given" : null;
                break;
            case Happens.Chirp:
                played.Chirp();
                break;
            case Happens.Restart:
                // Nothing is taken up again but what is wanted still, and an off that was not confirmed, which is stored; numbers go on rising.
                played.Kept = OutputKept.Start with { Off = played.Kept.Off };
                break;
        }
    }

    [Fact]
    public void After_off_no_lease_is_renewed_and_an_output_is_on_only_by_the_winners_wish()
    {
        var (offs, handed) = (0, 0);
        Gen.Select(Gen.Enum<Happens>(), Gen.Int[1, 400], Gen.Int[0, 2_000])
            .Array[5, 40]
            .Sample(
                schedule =>
                {
                    var played = new Played();
                    foreach (var (what, ticks, pick) in schedule)
                    {
                        Do(played, what, pick);
                        for (var i = 0; i < ticks; i++)
                        {
                            played.Tick();
                            Holds(played);
                        }
                    }
                    var orders = played.Turns.Where(t => t.Turn is { Wish: null, Ordered: true }).ToList();
                    Interlocked.Add(ref offs, orders.Count);
                    Interlocked.Add(
                        ref handed,
                        played.Turns.Zip(played.Turns.Skip(1)).Count(p => p.First.Turn.Wish is not null && p.Second.Turn.Wish is not null)
                    );
                    for (var i = 0; i < played.Turns.Count; i++)
                    {
                        var (at, turn) = played.Turns[i];
                        // Ordered on again in the same moment, it is the later order that counts.
                        var next = played.Turns.Skip(i + 1).Where(t => t.Turn.Wish is not null).Select(t => t.At).FirstOrDefault(long.MaxValue);
                        Assert.True(turn.Wish is not null || !turn.Ordered || !played.Sent.Any(s => s.At > at && s.At < next && s.Told.On) || next == at);
                    }
                },
                iter: 2_000
            );
        Assert.True(offs > 1_000 && handed > 500, $"{offs} times off, {handed} times handed over");
    }

    /// <summary>Who sleeps until the moment that is named misses nothing: looked at in every tenth of a second until then, nothing is to be done.</summary>
    [Fact]
    public void Nothing_is_due_before_the_moment_that_is_named()
    {
        var (named, acted) = (0, 0);
        Gen.Select(Gen.Enum<Happens>(), Gen.Int[1, 300], Gen.Int[0, 2_000])
            .Array[5, 25]
            .Sample(
                schedule =>
                {
                    var played = new Played();
                    foreach (var (what, ticks, pick) in schedule)
                    {
                        Do(played, what, pick);
                        for (var i = 0; i < ticks; i++)
                        {
                            played.Tick();
                        }
                        var (kept, wishes, now) = (played.Kept, played.Standing, played.Now);
                        if (IsToDo(now))
                        {
                            continue;
                        }
                        var due = OutputJudge.NextDue(kept, wishes, now);
                        Assert.True(due is null || due > now);
                        for (var at = now; at < (due ?? now + 400_000); at += Step)
                        {
                            Assert.False(IsToDo(at), $"{what}: due {due - now} ms after, and something is to be done {at - now} ms after");
                        }
                        Assert.False(due is { } until && IsToDo(until - 1), $"{what}: something is to be done just before it is due");
                        Interlocked.Add(ref named, due is null ? 0 : 1);
                        Interlocked.Add(ref acted, due is { } then && IsToDo(then) ? 1 : 0);

                        bool IsToDo(long at) =>
                            OutputJudge.Next(kept, wishes, played.Withheld, played.Link, at) is not null
                            || !ReferenceEquals(OutputJudge.Due(kept, played.Link, at).Kept, kept);
                    }
                },
                iter: 1_000
            );
        Assert.True(named > 1_000 && acted > 300, $"{named} moments were named, at {acted} there was something to do");
    }

    private static void Holds(Played played)
    {
        var held = played.Kept.Held;
        if (played.Withheld is not null)
        {
            Assert.Null(held);
        }
        if (held is not null)
        {
            Assert.True(played.Now <= held.UntilMs);
            // Nobody of a higher rank waits, but for what a link that is down keeps from being told.
            Assert.True(!played.Link || OutputJudge.Waiting(played.Kept, played.Standing).All(w => w.Rank <= held.Rank || w.UntilMs - played.Now < 1_000));
        }
        var off = played.Turns.LastOrDefault();
        if (off.Turn is { Wish: null, Ordered: true } && played.Node.IsOn(played.Now))
        {
            // Off by itself when its lease is over; at once where the link holds.
            Assert.True(played.Now - off.At < OutputJudge.LeaseMs + Step);
            Assert.True(!played.Link || played.Now - off.At <= Step);
        }
    }

    [Fact]
    public void Two_that_want_one_output_do_not_take_turns()
    {
        foreach (var other in new[] { WishRank.Rule, WishRank.Alarm })
        {
            var played = new Played();
            played.Wishes["a"] = new("a 0", WishRank.Rule, "a", 3_600_000);
            played.Wishes["b"] = new("b 0", other, "b", 3_600_000);
            for (var i = 0; i < 36_000; i++)
            {
                played.Tick();
            }
            var (_, first) = played.Turns[0];
            Assert.Equal(other == WishRank.Alarm ? "b" : "a", first.Who);
            // Once on, for an hour; the leases are renewed and nothing is switched.
            Assert.True(played.Turns.Count <= 2, string.Join(", ", played.Turns.Select(t => $"{t.At} {t.Turn.Who}")));
            Assert.InRange(played.Sent.Count, 60, 190);
        }
    }

    [Fact]
    public void A_chirp_leaves_a_siren_alone_and_a_siren_takes_over_from_a_chirp()
    {
        var played = new Played();
        played.Chirp();
        played.Tick();
        Assert.True(played.Node.IsOn(played.Now));
        played.Wishes["zone"] = new("zone 1", WishRank.Alarm, "zone", 60_000);
        for (var i = 0; i < 100; i++)
        {
            played.Tick();
            played.Chirp();
            Assert.True(played.Node.IsOn(played.Now));
        }
        Assert.Equal(["arming", "zone"], played.Turns.Select(t => t.Turn.Who));
    }

    [Fact]
    public void A_person_has_it_for_as_long_as_they_said_and_then_the_rule_without_a_gap()
    {
        var played = new Played();
        played.Wishes["rule"] = new("rule 1", WishRank.Rule, "rule", 3_600_000);
        played.Tick();
        played.Take(OutputJudge.Order("ann", played.Now + 20_000, played.Now));
        for (var i = 0; i < 400; i++)
        {
            played.Tick();
            Assert.True(played.Node.IsOn(played.Now), $"off at {played.Now}");
        }
        Assert.Equal(["rule", "ann", "rule"], played.Turns.Select(t => t.Turn.Who));
        // Off by hand is off for this rule, until it is raised anew.
        played.Take(OutputJudge.Order("ann", null, played.Now));
        for (var i = 0; i < 100; i++)
        {
            played.Tick();
            Assert.False(played.Node.IsOn(played.Now));
        }
        played.Wishes["rule"] = new("rule 2", WishRank.Rule, "rule", 3_600_000);
        played.Tick();
        Assert.True(played.Node.IsOn(played.Now));
    }

    /// <summary>Only a person's off is off for all who want it.</summary>
    [Fact]
    public void Who_waits_gets_it_when_the_link_or_the_permit_is_back()
    {
        var played = new Played();
        played.Wishes["a"] = new("a 0", WishRank.Alarm, "a", 3_600_000);
        played.Wishes["b"] = new("b 0", WishRank.Rule, "b", 3_600_000);
        played.Tick();
        played.Link = false;
        played.Wishes.Remove("a");
        played.Tick();
        Assert.Null(played.Kept.Held);
        played.Link = true;
        played.Tick();
        Assert.Equal("b", played.Kept.Held?.Who);
        played.Withheld = "the permit";
        played.Tick();
        Assert.False(played.Node.IsOn(played.Now));
        played.Withheld = null;
        played.Tick();
        Assert.True(played.Node.IsOn(played.Now));
    }

    /// <summary>A permit has no end of its own: it is on for a while at a time, anew as long as its node hears it.</summary>
    [Fact]
    public void A_permit_whose_node_is_out_of_reach_is_over_with_its_time_and_on_again_with_the_link()
    {
        var played = new Played();
        played.Wishes["permit"] = new("permit", WishRank.Permit, "permit", 0);
        played.Tick();
        Assert.True(played.Node.IsOn(played.Now));
        played.Link = false;
        for (var i = 0; i < 3_010; i++)
        {
            played.Tick();
        }
        Assert.Null(played.Kept.Held);
        Assert.Equal("its time was up", played.Turns[^1].Turn.Ended);
        played.Link = true;
        played.Tick();
        Assert.True(played.Node.IsOn(played.Now));
        Assert.Equal("permit", played.Kept.Held?.Who);
    }

    [Fact]
    public void Off_that_is_ordered_while_the_link_is_down_is_told_when_it_is_back()
    {
        var played = new Played();
        played.Take(OutputJudge.Order("ann", 600_000, 0));
        played.Tick();
        Assert.True(played.Node.IsOn(played.Now));
        played.Link = false;
        played.Take(OutputJudge.Order("ann", null, played.Now));
        played.Tick();
        Assert.True(played.Node.IsOn(played.Now));
        Assert.NotNull(played.Kept.Off);
        played.Link = true;
        played.Tick();
        Assert.False(played.Node.IsOn(played.Now));
        Assert.Null(played.Kept.Off);
        // A link that never comes back: the node is off by itself, and the order is over with its last lease.
        played.Take(OutputJudge.Order("ann", 6_000_000, played.Now));
        played.Tick();
        played.Link = false;
        played.Take(OutputJudge.Order("ann", null, played.Now));
        for (var i = 0; i < 700; i++)
        {
            played.Tick();
        }
        Assert.False(played.Node.IsOn(played.Now));
        Assert.Null(played.Kept.Off);
        Assert.DoesNotContain(played.Sent, s => s.At > played.Now - 60_000);
    }
}
