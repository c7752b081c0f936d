using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Live;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Relay;

/// <summary>
/// Switches outputs. On is held by leases of a minute that are renewed while it is wanted: when this program, the broker or the link dies, the node switches off by itself. Nothing is taken up again after a start.
/// </summary>
public sealed class Outputs(SiteBook book, SiteClock clock, WriteGate gate, Broker broker, UpstreamBroker upstream, SampleWriter writer, LiveFeed live, TimeProvider system, ILogger<Outputs> log) : BackgroundService
{
    /// <summary>Length of a lease, ms of site time.</summary>
    public const long LeaseMs = 60_000;

    private const long RenewBelowMs = 40_000;
    private static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(100);
    private readonly Dictionary<(string Site, string Node, string Output), Held> _held = [];
    private readonly Lock _lock = new();

    /// <summary>An output that is wanted on.</summary>
    private sealed record Held(long Id, long UntilMs, long LeaseUntilMs, long MaxOnMs);

    /// <summary>Switches an output, and keeps who did it.</summary>
    /// <param name="forMs">For on, how long it is wanted, ms; null for as long as it may be.</param>
    /// <returns>The command as it is kept, or why there is none.</returns>
    public async Task<Outcome<CommandRow>> SwitchAsync(string site, string node, string output, bool on, long? forMs, string who)
    {
        if (Refusal(site, node, output, on, forMs) is { } reason)
        {
            return Outcome<CommandRow>.Refused(reason);
        }
        var most = MostOf(book.Find(site)!.Design.Node(node)!, output);
        var now = clock.Now(site);
        var lasts = on ? Math.Min(forMs ?? most, most) : 0;
        var row = await gate.WriteAsync(async store =>
        {
            await EndAsync(store, site, node, output, now, on ? $"switched again by {who}" : $"switched off by {who}");
            // Rising even after an older copy of the database was put back: a node does not obey a lower number.
            var id = Math.Max((await store.Commands.MaxAsync(c => (long?)c.Id) ?? 0) + 1, system.GetUtcNow().ToUnixTimeSeconds());
            return store.Commands.Add(new() { Id = id, Site = site, Node = node, Output = output, On = on, Who = who, AtMs = now, UntilMs = now + lasts }).Entity;
        });
        lock (_lock)
        {
            _held.Remove((site, node, output));
            if (on)
            {
                _held[(site, node, output)] = new(row.Id, row.UntilMs, now, lasts);
            }
        }
        if (on)
        {
            await RenewAsync();
        }
        else
        {
            await SendAsync(site, node, new(row.Id, output, false, now + LeaseMs, 0));
        }
        await live.OutputsAsync(site);
        return row;
    }

    /// <summary>True when a node hears commands now.</summary>
    public bool Listens(string site, string node) => broker.Listens(site, node) || upstream.Connected;

    /// <summary>Why an output cannot be switched from here at all; null when it can.</summary>
    internal string? Unswitchable(string site, string node, string output)
    {
        var state = book.Find(site);
        var test = output == OutputCommand.Test;
        if (state?.Design.Node(node) is not { } design || (!test && (design.Reading(output) is null || Intake.Quantity(state, node, output) is not { Kind: ReadingKind.State })))
        {
            return $"\"{node}/{output}\" is no output.";
        }
        return design.Reading(output) is { Output: null } reading ? $"How long {reading.Label} may be on is not said yet; say it in its row on Rhythm."
            : design.Sleeps || design.Link is LinkKind.LongRange or LinkKind.Card ? $"{design.Label} {(design.Sleeps ? "sleeps between its wakes" : "is not on the network itself")}: it does not hear commands."
            : null;
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        writer.Answered += messages => _ = KeepAnswersAsync(messages);
        await gate.WriteAsync(async store =>
        {
            // The nodes have switched off meanwhile; nobody is there who still wants it.
            foreach (var open in await store.Commands.Where(c => c.On && c.EndedMs == null).ToListAsync(stoppingToken))
            {
                (open.EndedMs, open.Ended) = (Math.Min(open.UntilMs, clock.Now(open.Site)), "this program was started anew");
            }
        }, stoppingToken);
        using var timer = new PeriodicTimer(Tick, system);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            try
            {
                await EndDueAsync();
                await RenewAsync();
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                log.LogError(fault, "Outputs were not looked after; their leases run out.");
            }
        }
    }

    private static long MostOf(NodeDesign node, string output) => output == OutputCommand.Test ? OutputCommand.TestMostMs : node.Reading(output)!.Output!.MaxOnMs;

    private string? Refusal(string site, string node, string output, bool on, long? forMs)
    {
        if (Unswitchable(site, node, output) is { } reason)
        {
            return reason;
        }
        var design = book.Find(site)!.Design.Node(node)!;
        var most = MostOf(design, output);
        return !Listens(site, node) ? $"{design.Label} is not connected; it does not hear the command."
            : on && forMs is { } wanted && (wanted < 1_000 || wanted > most) ? $"It may be on for 1 s to {most / 1000} s at a time."
            : null;
    }

    /// <summary>Sends leases that are due; an output that may no longer be switched is let go.</summary>
    private async Task RenewAsync()
    {
        List<(string Site, string Node, OutputCommand Command)> due = [];
        lock (_lock)
        {
            foreach (var (key, held) in _held.ToList())
            {
                var now = clock.Now(key.Site);
                if (now >= held.UntilMs || held.LeaseUntilMs - now > RenewBelowMs || held.LeaseUntilMs == held.UntilMs || Unswitchable(key.Site, key.Node, key.Output) is not null)
                {
                    continue;
                }
                var lease = Math.Min(held.UntilMs, now + LeaseMs);
                _held[key] = held with { LeaseUntilMs = lease };
                due.Add((key.Site, key.Node, new(held.Id, key.Output, true, lease, held.MaxOnMs)));
            }
        }
        foreach (var (site, node, command) in due)
        {
            await SendAsync(site, node, command);
        }
    }

    private async Task EndDueAsync()
    {
        List<((string Site, string Node, string Output) Key, long UntilMs)> over;
        lock (_lock)
        {
            over = [.. _held.Where(h => clock.Now(h.Key.Site) >= h.Value.UntilMs).Select(h => (h.Key, h.Value.UntilMs))];
            over.ForEach(o => _held.Remove(o.Key));
        }
        foreach (var (key, until) in over)
        {
            await gate.WriteAsync(store => EndAsync(store, key.Site, key.Node, key.Output, until, "its time was up"));
            await live.OutputsAsync(key.Site);
        }
    }

    private static async Task EndAsync(CenoticStore store, string site, string node, string output, long at, string why)
    {
        foreach (var open in await store.Commands.Where(c => c.Site == site && c.Node == node && c.Output == output && c.On && c.EndedMs == null).ToListAsync())
        {
            (open.EndedMs, open.Ended) = (at, why);
        }
    }

    private async Task SendAsync(string site, string node, OutputCommand command)
    {
        var good = TimeSpan.FromMilliseconds((command.ExpiresMs - clock.Now(site)) / clock.Speed(site));
        if (good > TimeSpan.Zero && !await broker.SendAsync(site, node, command, good))
        {
            await upstream.SendAsync(site, node, command, good);
        }
    }

    private async Task KeepAnswersAsync(IReadOnlyList<DecodedMessage> messages)
    {
        try
        {
            await gate.WriteAsync(async store =>
            {
                foreach (var (message, answer) in messages.SelectMany(m => m.Answers.Select(a => (m, a))))
                {
                    if (await store.Commands.FirstOrDefaultAsync(c => c.Id == answer.Command && c.Site == message.Site && c.Node == message.Node && c.AnsweredMs == null) is { } row)
                    {
                        (row.AnsweredMs, row.Taken) = (message.ReceivedMs, answer.Taken);
                        if (!answer.Taken && row is { On: true, EndedMs: null })
                        {
                            (row.EndedMs, row.Ended) = (message.ReceivedMs, "the node refused it: is its clock right?");
                            lock (_lock)
                            {
                                _held.Remove((row.Site, row.Node, row.Output));
                            }
                        }
                    }
                }
            });
            foreach (var site in messages.Select(m => m.Site).Distinct())
            {
                await live.OutputsAsync(site);
            }
        }
        catch (Exception fault)
        {
            log.LogError(fault, "What nodes answered was not kept.");
        }
    }
}
