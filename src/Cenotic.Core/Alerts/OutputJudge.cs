namespace Cenotic.Core.Alerts;

/// <summary>Who wants an output on; the later outranks the earlier. Off for safety is over all of them.</summary>
public enum WishRank
{
    /// <summary>The short sound of arming.</summary>
    Chirp,

    /// <summary>A rule that is calm and hears all its readings.</summary>
    Permit,

    /// <summary>A rule that is raised.</summary>
    Rule,

    /// <summary>The alarm of a zone.</summary>
    Alarm,

    /// <summary>A person, for as long as they said.</summary>
    Person,
}

/// <summary>An output that is wanted on.</summary>
/// <param name="Id">The same as long as it is the same wish: what a person switched off, or whose time was up, stays off for it.</param>
/// <param name="Who">As the log names it.</param>
/// <param name="UntilMs">Until when, UTC ms of site time.</param>
public sealed record OutputWish(string Id, WishRank Rank, string Who, long UntilMs);

/// <summary>Off that was ordered, and that the node has not confirmed.</summary>
/// <param name="VoidMs">When the node is off by itself: its last lease has run out.</param>
/// <param name="SentMs">When it was told last; null while it was not.</param>
public sealed record OffOrder(long Command, long VoidMs, long? SentMs = null);

/// <summary>What is known of an output.</summary>
/// <param name="Held">The wish that has it; null while nobody does.</param>
/// <param name="Command">Number of the command that holds it.</param>
/// <param name="LeaseUntilMs">Until when the node was last told that it may be on.</param>
/// <param name="MaxOnMs">Longest time that the node counts itself for this command.</param>
public sealed record OutputKept(OutputWish? Held, long Command, long LeaseUntilMs, long MaxOnMs)
{
    /// <summary>Wishes that are over though they are still there.</summary>
    public IReadOnlyList<string> Done { get; init; } = [];

    /// <summary>The off that the node has not confirmed; null for none.</summary>
    public OffOrder? Off { get; init; }

    /// <summary>Nobody wants it, and it was never switched.</summary>
    public static OutputKept Start { get; } = new(null, 0, 0, 0);
}

/// <summary>What the node of an output is told.</summary>
/// <param name="ExpiresMs">After this it is void, UTC ms; on ends there unless it is told again.</param>
/// <param name="MaxOnMs">Longest time on that the node counts itself, ms; 0 for off.</param>
public sealed record OutputTold(long Command, bool On, long ExpiresMs, long MaxOnMs);

/// <summary>What is done with an output.</summary>
/// <param name="Wish">Who has it from now on; null for off.</param>
/// <param name="Ordered">False where its time is up: the node ends that by itself.</param>
/// <param name="Who">Who switches it, as the log names it.</param>
/// <param name="Ended">Why what was on is over.</param>
/// <param name="ForAll">True for a person's off: it is off for all who want it on now, until they want it anew.</param>
public sealed record OutputTurn(OutputWish? Wish, bool Ordered, string Who, string Ended, bool ForAll = false);

/// <summary>
/// Decides who has an output, and what its node is told. On is held by leases that are renewed while it is wanted; off ends them at once, whether the
/// node hears it or not. Pure: the same code runs live and over made-up schedules.
/// </summary>
public static class OutputJudge
{
    /// <summary>Length of a lease, ms of site time.</summary>
    public const long LeaseMs = 60_000;

    private const long RenewBelowMs = 40_000,
        TellAgainMs = 5_000,
        LeastMs = 1_000;

    /// <summary>The next wish takes over this long before the time of the one before is up, so that the output does not fall off between them.</summary>
    private const long HandOverMs = 2_000;

    /// <summary>What is to be switched now; null when all is as it is wanted.</summary>
    /// <param name="wishes">Of rules and zones, as they stand.</param>
    /// <param name="withheld">What keeps it off whoever wants it on, as the log names it; null where nothing speaks against it.</param>
    /// <param name="hears">Whether its node is connected and listens: on is for a node that hears it, off counts in any case.</param>
    public static OutputTurn? Next(OutputKept kept, IReadOnlyList<OutputWish> wishes, string? withheld, bool hears, long now)
    {
        if (withheld is not null)
        {
            return kept.Held is null ? null : new(null, true, withheld, $"switched off by {withheld}");
        }
        var winner = Winner(kept, wishes, now);
        if (kept.Held is not { } held)
        {
            return winner is null || !hears ? null : On(winner);
        }
        if (winner is null || (!hears && (winner.Id != held.Id || now >= held.UntilMs)))
        {
            return now >= held.UntilMs ? new(null, false, held.Who, "its time was up")
                : IsOwn(held) || Stands(held, wishes) ? null
                : new(null, true, held.Who, $"{held.Who} is over");
        }
        return winner.Id != held.Id || (hears && winner.Rank == WishRank.Permit && held.UntilMs - now < (winner.UntilMs - now) / 2) ? On(winner) : null;

        static OutputTurn On(OutputWish wish) => new(wish, true, wish.Who, $"switched again by {wish.Who}");
    }

    /// <summary>Wishes that would have it on as well, the strongest first.</summary>
    public static IReadOnlyList<OutputWish> Waiting(OutputKept kept, IReadOnlyList<OutputWish> wishes) =>
        [.. wishes.Where(w => w.Id != kept.Held?.Id && !kept.Done.Contains(w.Id)).OrderByDescending(w => w.Rank).ThenBy(w => w.Id, StringComparer.Ordinal)];

    /// <summary>A person's order.</summary>
    /// <param name="until">For on, until when; null for off.</param>
    public static OutputTurn Order(string who, long? until, long now) =>
        until is { } ends
            ? new(new($"{who} {now}", WishRank.Person, who, ends), true, who, $"switched again by {who}")
            : new(null, true, who, $"switched off by {who}", ForAll: true);

    /// <summary>The output after a turn.</summary>
    /// <param name="wishes">As they stand: what a person switches off is off for all of them.</param>
    /// <param name="command">Number of the command, higher than any before.</param>
    public static OutputKept Switched(OutputKept kept, OutputTurn turn, IReadOnlyList<OutputWish> wishes, long command, long now)
    {
        var over = kept.Held is { Rank: WishRank.Rule or WishRank.Alarm } held ? [held.Id] : Array.Empty<string>();
        if (turn.Wish is { } wish)
        {
            // What gives way since its own time is up does not come again.
            var spent = kept.Held is { } before && before.Id != wish.Id && before.UntilMs - now <= HandOverMs ? over : [];
            return new(wish, command, now, wish.UntilMs - now) { Done = [.. kept.Done.Union(spent)] };
        }
        if (!turn.Ordered)
        {
            return kept with { Held = null, Done = [.. kept.Done.Union(over)] };
        }
        return kept with
        {
            Held = null,
            Done = turn.ForAll ? [.. kept.Done.Union(wishes.Select(w => w.Id)).Union(over)] : kept.Done,
            Off = new(command, Math.Max(kept.LeaseUntilMs, now + LeaseMs)),
        };
    }

    /// <summary>The output without what it remembers of wishes that are gone.</summary>
    public static OutputKept Tidied(OutputKept kept, IReadOnlyList<OutputWish> wishes) =>
        kept.Done.Count > 0 && kept.Done.Any(d => wishes.All(w => w.Id != d))
            ? kept with
            {
                Done = [.. kept.Done.Where(d => wishes.Any(w => w.Id == d))],
            }
            : kept;

    /// <summary>What its node is to be told now: a lease that is due, or an off that it has not confirmed.</summary>
    /// <param name="hears">Whether it is connected and listens.</param>
    public static (OutputKept Kept, OutputTold? Told) Due(OutputKept kept, bool hears, long now)
    {
        if (kept.Off is { } off)
        {
            if (now >= off.VoidMs)
            {
                return (kept with { Off = null }, null);
            }
            return hears && (off.SentMs is not { } sent || now - sent >= TellAgainMs)
                ? (kept with { Off = off with { SentMs = now } }, new(off.Command, false, now + LeaseMs, 0))
                : (kept, null);
        }
        if (!hears || kept.Held is not { } held || now >= held.UntilMs || kept.LeaseUntilMs - now > RenewBelowMs || kept.LeaseUntilMs == held.UntilMs)
        {
            return (kept, null);
        }
        var lease = Math.Min(held.UntilMs, now + LeaseMs);
        return (kept with { LeaseUntilMs = lease }, new(kept.Command, true, lease, kept.MaxOnMs));
    }

    /// <summary>The next moment at which time alone brings something to switch or to tell; null for never. Before it only wishes, links, answers and
    /// what withholds can.</summary>
    /// <param name="wishes">Of rules and zones, as they stand.</param>
    /// <param name="now">When nothing was left to do, UTC ms of site time.</param>
    /// <returns>UTC ms of site time, after <paramref name="now"/>.</returns>
    public static long? NextDue(OutputKept kept, IReadOnlyList<OutputWish> wishes, long now)
    {
        var moments = wishes.Select(w => w.UntilMs - LeastMs + 1).ToList();
        if (kept.Off is { } off)
        {
            moments.Add(off.VoidMs);
            moments.Add((off.SentMs ?? now) + TellAgainMs);
        }
        if (kept.Held is { } held)
        {
            moments.AddRange([held.UntilMs - HandOverMs, held.UntilMs, kept.LeaseUntilMs - RenewBelowMs]);
            // A permit is renewed once less than half is left of what it may be on.
            moments.AddRange(wishes.Where(w => w.Rank == WishRank.Permit).Select(w => 2 * held.UntilMs - w.UntilMs + 2));
        }
        return moments.Where(m => m > now).Select(m => (long?)m).Min();
    }

    /// <summary>The output once its node has answered a command.</summary>
    public static OutputKept Answered(OutputKept kept, long command, bool taken)
    {
        if (kept.Off?.Command == command)
        {
            return kept with { Off = null };
        }
        return !taken && kept.Held is { } held && kept.Command == command ? kept with { Held = null, Done = [.. kept.Done, held.Id] } : kept;
    }

    /// <summary>The strongest of those who want it; of equals the one that has it, else always the same one.</summary>
    private static OutputWish? Winner(OutputKept kept, IReadOnlyList<OutputWish> wishes, long now)
    {
        var open = wishes.Where(w => !kept.Done.Contains(w.Id) && w.UntilMs - now >= LeastMs).ToList();
        if (kept.Held is { } held && (IsOwn(held) || Stands(held, wishes)))
        {
            var others = open.Any(w => w.Id != held.Id && w.UntilMs > held.UntilMs);
            if (held.UntilMs - now <= (others ? HandOverMs : 0))
            {
                open.RemoveAll(w => w.Id == held.Id && w.Rank != WishRank.Permit);
            }
            else if (open.All(w => w.Id != held.Id))
            {
                open.Add(held);
            }
        }
        return open.OrderByDescending(w => w.Rank).ThenByDescending(w => w.Id == kept.Held?.Id).ThenBy(w => w.Id, StringComparer.Ordinal).FirstOrDefault();
    }

    /// <summary>True for what is there by itself, for its time: a person's order, a chirp.</summary>
    private static bool IsOwn(OutputWish wish) => wish.Rank is WishRank.Person or WishRank.Chirp;

    private static bool Stands(OutputWish wish, IReadOnlyList<OutputWish> wishes) => wishes.Any(w => w.Id == wish.Id);
}
