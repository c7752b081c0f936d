using System.Collections.Concurrent;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Commands;

/// <summary>An output of a site.</summary>
public readonly record struct OutputKey(string Site, string Node, string Output);

/// <summary>
/// Switches outputs as <see cref="OutputJudge"/> decides. On is held by leases of a minute that are renewed while it is wanted: when this program, the
/// broker or the link dies, the node switches off by itself. What is remembered of an output changes inside the write gate, in the order of the writes.
/// </summary>
public sealed class OutputLeases(
    SiteBook book,
    SiteClock clock,
    WriteGate gate,
    Broker broker,
    UpstreamBroker upstream,
    SampleWriter writer,
    LiveFeed live,
    TimeProvider system,
    LoopHealth health,
    ILogger<OutputLeases> log
) : BackgroundService
{
    private const long ChirpMs = 1_000,
        RetryMs = 5_000;
    private static readonly TimeSpan AtLeast = TimeSpan.FromMilliseconds(20),
        AfterFault = TimeSpan.FromMilliseconds(500);
    private readonly WakeSignal _wake = new(system);
    private readonly ConcurrentDictionary<OutputKey, OutputKept> _kept = [];
    private readonly ConcurrentDictionary<OutputKey, IReadOnlyList<OutputWish>> _wishes = [];
    private readonly ConcurrentDictionary<OutputKey, string> _withheld = [];
    private readonly ConcurrentDictionary<OutputKey, (string Why, long RetryAt)> _faults = [];

    /// <summary>Sites whose rules and zones have said what they want since the start.</summary>
    private readonly ConcurrentDictionary<string, bool> _asked = [];

    /// <summary>Switches an output for a person, and keeps who did it. Off counts whether the node hears it or not.</summary>
    /// <param name="forMs">For on, how long it is wanted, ms; null for as long as it may be.</param>
    /// <returns>The command as it is kept, or why there is none.</returns>
    public async Task<Outcome<CommandRow>> SwitchAsync(string site, string node, string output, bool on, long? forMs, string who)
    {
        var key = new OutputKey(site, node, output);
        if (Refusal(key, on, forMs) is { } reason)
        {
            return Outcome<CommandRow>.Refused(reason);
        }
        var lasts = Math.Min(forMs ?? long.MaxValue, MostOf(key) ?? 0);
        return (await TurnAsync(key, (_, now) => OutputJudge.Order(who, on ? now + lasts : null, now)))!;
    }

    /// <summary>A short sound or light, where nothing else has the output.</summary>
    public async Task ChirpAsync(string site, string node, string output, string who, long lastsMs = ChirpMs)
    {
        var key = new OutputKey(site, node, output);
        if (Refusal(key, on: true, lastsMs) is null)
        {
            await TurnAsync(key, (kept, now) => kept.Held is null ? new(new($"chirp {now}", WishRank.Chirp, who, now + lastsMs), true, who, "") : null);
        }
    }

    /// <summary>Says what rules and zones of a site want on, and what must be off; looked after from now on.</summary>
    /// <param name="withheld">What keeps an output off, whoever wants it on.</param>
    public void Want(string site, IReadOnlyDictionary<OutputKey, IReadOnlyList<OutputWish>> wishes, IReadOnlyDictionary<OutputKey, string> withheld)
    {
        foreach (var gone in _wishes.Keys.Where(k => k.Site == site && !wishes.ContainsKey(k)).ToList())
        {
            _wishes.TryRemove(gone, out _);
            _faults.TryRemove(gone, out _);
        }
        foreach (var gone in _withheld.Keys.Where(k => k.Site == site && !withheld.ContainsKey(k)).ToList())
        {
            _withheld.TryRemove(gone, out _);
        }
        foreach (var (key, why) in withheld)
        {
            _withheld[key] = why;
        }
        foreach (var (key, wanted) in wishes)
        {
            _wishes[key] = wanted;
        }
        _asked[site] = true;
        _wake.Wake();
    }

    /// <summary>True when a node hears commands now.</summary>
    public bool Listens(string site, string node) => broker.Listens(site, node) || upstream.Connected;

    /// <summary>Who has an output now; null while nobody does.</summary>
    internal OutputWish? HolderOf(OutputKey key) => KeptOf(key).Held;

    /// <summary>Who else wants it on, the strongest first.</summary>
    internal IReadOnlyList<OutputWish> WaitingFor(OutputKey key) => OutputJudge.Waiting(KeptOf(key), WishesFor(key));

    /// <summary>True while off is ordered and the node has not confirmed it.</summary>
    internal bool AwaitsOff(OutputKey key) => KeptOf(key).Off is not null;

    /// <summary>Why outputs could not be switched when they were last wanted.</summary>
    internal IReadOnlyList<string> FaultsOf(string site, IEnumerable<(string Node, string Output)> of) =>
        [.. of.Select(o => new OutputKey(site, o.Node, o.Output)).Where(_faults.ContainsKey).Select(o => _faults[o].Why).Distinct()];

    /// <summary>Why an output cannot be switched on from here at all; null when it can.</summary>
    internal string? Unswitchable(string site, string node, string output)
    {
        if (NoOutput(new(site, node, output)) is { } none)
        {
            return none;
        }
        var design = book.Find(site)!.Design.Node(node)!;
        return design.Reading(output) is { Output: null } reading ? $"How long {reading.Label} may be on is not said yet; say it in its row on Rhythm."
            : design.Sleeps || !design.IsOnNetwork
                ? $"{design.Label} {(design.Sleeps ? "sleeps between its wakes" : "is not on the network itself")}: it does not hear commands."
            : null;
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        writer.Answered += messages => _ = KeepAnswersAsync(messages);
        book.Changed += _ => _wake.Wake();
        clock.Changed += _wake.Wake;
        broker.ListeningChanged += _wake.Wake;
        upstream.ConnectedChanged += _wake.Wake;
        await health.UntilDoneAsync("outputs", () => BeginAsync(stoppingToken), stoppingToken);
        while (!stoppingToken.IsCancellationRequested)
        {
            await _wake.WaitAsync(await health.RunAsync("outputs", LookAsync, stoppingToken) ? UntilDue() : AfterFault, stoppingToken);
        }
    }

    /// <summary>How long nothing is to be done but for what wakes the loop: wishes, answers, links and the design; null for as long as it takes.</summary>
    private TimeSpan? UntilDue() =>
        Keys().Select(key => (key.Site, At: NextDue(key))).Where(due => due.At is not null).Select(due => (TimeSpan?)clock.Until(due.Site, due.At!.Value)).Min()
            is { } rest
            ? rest > AtLeast
                ? rest
                : AtLeast
            : null;

    private long? NextDue(OutputKey key)
    {
        var now = clock.Now(key.Site);
        long? again = _faults.TryGetValue(key, out var fault) && fault.RetryAt > now ? fault.RetryAt : null;
        return new[] { OutputJudge.NextDue(KeptOf(key), WishesFor(key), now), again }.Min();
    }

    private IReadOnlyList<OutputKey> Keys() => [.. _kept.Keys.Union(_wishes.Keys)];

    /// <summary>After a start: what was on has fallen off or will, since nobody renews its lease; an off that was not confirmed is told still.</summary>
    private Task BeginAsync(CancellationToken stop) =>
        gate.WriteAsync(
            async store =>
            {
                foreach (var open in await store.Commands.Where(c => c.On && c.EndedMs == null).ToListAsync(stop))
                {
                    (open.EndedMs, open.Ended) = (Math.Min(open.UntilMs, clock.Now(open.Site)), "this program was started anew");
                }
                foreach (var site in book.Sites)
                {
                    var newest = store.Commands.Where(c => c.Site == site).GroupBy(c => new { c.Node, c.Output }).Select(g => g.Max(c => c.Id));
                    var since = clock.Now(site) - OutputJudge.LeaseMs;
                    foreach (
                        var off in await store
                            .Commands.Where(c => newest.Contains(c.Id) && !c.On && (c.Over != null || (c.AnsweredMs == null && c.AtMs > since)))
                            .ToListAsync(stop)
                    )
                    {
                        _kept[new(site, off.Node, off.Output)] = OutputKept.Start with
                        {
                            Off = off.AnsweredMs is null && off.AtMs > since ? new(off.Id, off.AtMs + OutputJudge.LeaseMs) : null,
                            Done = off.Over is null ? [] : JsonSerializer.Deserialize<List<string>>(off.Over, CenoticJson.Options)!,
                        };
                    }
                }
            },
            stop
        );

    private async Task LookAsync()
    {
        foreach (var key in Keys())
        {
            Tidy(key);
            await TurnIfDueAsync(key);
            await TellAsync(key);
        }
    }

    /// <summary>Switches what is to be switched; looked at before the gate is asked for, and again inside it.</summary>
    private async Task TurnIfDueAsync(OutputKey key)
    {
        var now = clock.Now(key.Site);
        if (Next(key, KeptOf(key), now) is not { } turn)
        {
            return;
        }
        if (turn.Wish is not null && _faults.TryGetValue(key, out var fault) && fault.RetryAt > now && fault.RetryAt < now + 2 * RetryMs)
        {
            return;
        }
        if (turn.Wish is not null && Refusal(key, on: true, null) is { } reason)
        {
            _faults[key] = (reason, now + RetryMs);
            log.LogWarning("{Who} could not switch {Node}/{Output} on: {Why}", turn.Who, key.Node, key.Output, reason);
            return;
        }
        _faults.TryRemove(key, out _);
        await TurnAsync(key, (kept, at) => Next(key, kept, at));
    }

    private OutputTurn? Next(OutputKey key, OutputKept kept, long now)
    {
        var withheld = _withheld.GetValueOrDefault(key) ?? (kept.Held is null || Unswitchable(key.Site, key.Node, key.Output) is null ? null : "the design");
        // That it is not heard is said once it is tried.
        return OutputJudge.Next(kept, WishesFor(key), withheld, hears: kept.Held is null || Listens(key.Site, key.Node), now);
    }

    /// <summary>Takes a turn inside the gate: the log, and then what is remembered.</summary>
    /// <param name="decide">What to do with what is remembered there, at the site's time; null for nothing.</param>
    /// <returns>The command as it is kept; null where there is none.</returns>
    private async Task<CommandRow?> TurnAsync(OutputKey key, Func<OutputKept, long, OutputTurn?> decide)
    {
        var done = await gate.WriteAsync(
            async store =>
            {
                var (kept, now) = (KeptOf(key), clock.Now(key.Site));
                if (decide(kept, now) is not { } turn)
                {
                    return default;
                }
                turn = turn with { Wish = turn.Wish is { } wish ? wish with { UntilMs = Math.Min(wish.UntilMs, now + (MostOf(key) ?? 0)) } : null };
                await EndAsync(store, key, turn.Ordered ? now : Math.Min(now, kept.Held?.UntilMs ?? now), turn.Ended);
                // Rising even after an older copy of the database was put back: a node does not obey a lower number.
                var id = Math.Max((await store.Commands.MaxAsync(c => (long?)c.Id) ?? 0) + 1, system.GetUtcNow().ToUnixTimeSeconds());
                var next = OutputJudge.Switched(kept, turn, WishesFor(key), id, now);
                var row = !turn.Ordered
                    ? null
                    : store
                        .Commands.Add(
                            new()
                            {
                                Id = id,
                                Site = key.Site,
                                Node = key.Node,
                                Output = key.Output,
                                On = turn.Wish is not null,
                                Who = turn.Who,
                                AtMs = now,
                                UntilMs = turn.Wish?.UntilMs ?? now,
                                Over = turn.Wish is null && next.Done.Count > 0 ? JsonSerializer.Serialize(next.Done, CenoticJson.Options) : null,
                            }
                        )
                        .Entity;
                return (Row: row, Kept: (OutputKept?)next);
            },
            kept: result => Remember(key, result.Kept)
        );
        if (done.Kept is not null)
        {
            await TellAsync(key);
            await live.OutputsAsync(key.Site);
        }
        return done.Row;
    }

    private void Remember(OutputKey key, OutputKept? kept)
    {
        if (kept is not null)
        {
            _kept[key] = kept;
            _wake.Wake();
        }
    }

    /// <summary>Sends the lease that is due, or the off that is not confirmed.</summary>
    private async Task TellAsync(OutputKey key)
    {
        while (_kept.TryGetValue(key, out var kept))
        {
            var (next, told) = OutputJudge.Due(kept, Listens(key.Site, key.Node), clock.Now(key.Site));
            if (ReferenceEquals(next, kept))
            {
                return;
            }
            // Switched meanwhile: what is due is looked at anew, so that nothing is renewed after off.
            if (!_kept.TryUpdate(key, next, kept))
            {
                continue;
            }
            if (told is not null)
            {
                await SendAsync(key, new(told.Command, key.Output, told.On, told.ExpiresMs, told.MaxOnMs));
            }
            else
            {
                await live.OutputsAsync(key.Site);
            }
            return;
        }
    }

    /// <summary>Forgets wishes that are gone, once rules and zones have said what they want.</summary>
    private void Tidy(OutputKey key)
    {
        if (
            _asked.ContainsKey(key.Site)
            && _kept.TryGetValue(key, out var kept)
            && OutputJudge.Tidied(kept, WishesFor(key)) is var tidied
            && !ReferenceEquals(kept, tidied)
        )
        {
            _kept.TryUpdate(key, tidied, kept);
        }
    }

    private OutputKept KeptOf(OutputKey key) => _kept.GetValueOrDefault(key, OutputKept.Start);

    private IReadOnlyList<OutputWish> WishesFor(OutputKey key) => _wishes.GetValueOrDefault(key, []);

    /// <summary>Longest time on, ms; null for what is no output.</summary>
    private long? MostOf(OutputKey key) =>
        key.Output == OutputCommand.Test ? OutputCommand.TestMostMs : book.Find(key.Site)?.Design.Node(key.Node)?.Reading(key.Output)?.Output?.MaxOnMs;

    private string? NoOutput(OutputKey key)
    {
        var state = book.Find(key.Site);
        var test = key.Output == OutputCommand.Test;
        return
            state?.Design.Node(key.Node) is { } design
            && (test || (design.Reading(key.Output) is not null && state.Quantity(key.Node, key.Output) is { Kind: ReadingKind.State }))
            ? null
            : $"\"{key.Node}/{key.Output}\" is no output.";
    }

    private string? Refusal(OutputKey key, bool on, long? forMs)
    {
        if (!on)
        {
            return KeptOf(key).Held is null ? NoOutput(key) : null;
        }
        if (
            (Unswitchable(key.Site, key.Node, key.Output) ?? (_withheld.TryGetValue(key, out var by) ? $"It stays off: {by} is not given." : null)) is
            { } reason
        )
        {
            return reason;
        }
        var most = MostOf(key)!.Value;
        return !Listens(key.Site, key.Node) ? $"{book.Find(key.Site)!.Design.Node(key.Node)!.Label} is not connected; it does not hear the command."
            : forMs is { } wanted && (wanted < 1_000 || wanted > most) ? $"It may be on for 1 s to {most / 1000} s at a time."
            : null;
    }

    private static async Task EndAsync(CenoticStore store, OutputKey key, long at, string why)
    {
        foreach (
            var open in await store
                .Commands.Where(c => c.Site == key.Site && c.Node == key.Node && c.Output == key.Output && c.On && c.EndedMs == null)
                .ToListAsync()
        )
        {
            (open.EndedMs, open.Ended) = (at, why);
        }
    }

    private async Task SendAsync(OutputKey key, OutputCommand command)
    {
        var good = TimeSpan.FromMilliseconds((command.ExpiresMs - clock.Now(key.Site)) / clock.Speed(key.Site));
        if (good > TimeSpan.Zero && !await broker.SendAsync(key.Site, key.Node, command, good))
        {
            await upstream.SendAsync(key.Site, key.Node, command, good);
        }
    }

    private async Task KeepAnswersAsync(IReadOnlyList<DecodedMessage> messages)
    {
        try
        {
            var answers = messages.SelectMany(m => m.Answers.Select(a => (Message: m, Answer: a))).ToList();
            await gate.WriteAsync(
                async store =>
                {
                    var kept = new List<(OutputKey Key, long Command, bool Taken)>();
                    foreach (var (message, answer) in answers)
                    {
                        if (
                            await store.Commands.FirstOrDefaultAsync(c =>
                                c.Id == answer.Command && c.Site == message.Site && c.Node == message.Node && c.AnsweredMs == null
                            ) is
                            { } row
                        )
                        {
                            (row.AnsweredMs, row.Taken) = (message.ReceivedMs, answer.Taken);
                            if (!answer.Taken && row is { On: true, EndedMs: null })
                            {
                                (row.EndedMs, row.Ended) = (message.ReceivedMs, "the node refused it: is its clock right?");
                            }
                            kept.Add((new(row.Site, row.Node, row.Output), row.Id, answer.Taken));
                        }
                    }
                    return kept;
                },
                kept: all => all.ForEach(a => Remember(a.Key, OutputJudge.Answered(KeptOf(a.Key), a.Command, a.Taken)))
            );
            foreach (var site in messages.Select(m => m.Site).Distinct())
            {
                await live.OutputsAsync(site);
            }
        }
        catch (Exception fault)
        {
            health.Failed("outputs", fault);
        }
    }
}
