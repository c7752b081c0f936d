using System.Collections.Concurrent;
using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>How far the past of a reading is worked out.</summary>
/// <param name="Share">0..1.</param>
public sealed record DerivedWork(double Share, long Values);

/// <summary>
/// Works readings out of others as their samples are stored, and hands what comes out to the writer of samples.
/// What is stored already is worked out once, when a reading is wanted or wanted otherwise.
/// A kill repeats at most what was stored last: it is the same, and is not stored twice.
/// </summary>
public sealed class Deriver(
    SiteBook book,
    SiteClock clock,
    WriteGate gate,
    SampleWriter writer,
    IDbContextFactory<CenoticStore> stores,
    IDaysLeft daysLeft,
    SampleRemaker remaker,
    TimeProvider system,
    LoopHealth health,
    ILogger<Deriver> log
) : BackgroundService
{
    private static readonly TimeSpan TickEvery = TimeSpan.FromSeconds(1);

    /// <summary>The clock of this machine may be set: what is due is looked for again after this at the latest.</summary>
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(10);

    /// <summary>What a node says nothing about yet is asked for again after this, ms of site time.</summary>
    private const long NodeAgainMs = 10_000;
    private readonly ConcurrentDictionary<string, long> _due = [];
    private const int MostSamplesAtOnce = 20_000,
        ValuesOfAMessage = 1_000,
        RestAboveMs = 20,
        LongestRestMs = 1_000,
        MostBehind = 10_000;
    private const int Unjudged = (int)(SampleFlags.Late | SampleFlags.LeftOut | SampleFlags.Imported | SampleFlags.WorkedOutLater);
    private readonly WakeSignal _wake = new(system);
    private readonly ConcurrentDictionary<(string Site, string Key), DerivedWork> _work = [];
    private readonly HashSet<(string Site, string Key)> _filling = [];
    private readonly ConcurrentQueue<(string Site, string Key)> _again = [];

    /// <summary>As they lie in the database; only the loop changes them.</summary>
    private readonly ConcurrentDictionary<(string Site, string Key), Kept> _kept = [];
    private bool _loaded;

    /// <param name="Stored">The newest arrival as the database has it: it may stay behind a little while nothing changes.</param>
    private sealed record Kept(string From, DerivedState State, long Arrival, long Stored);

    /// <summary>The past that is being worked out, or null.</summary>
    public DerivedWork? WorkOf(string site, string key) => _work.GetValueOrDefault((site, key));

    /// <summary>Works the past of all readings out anew that are worked out of some, directly or over others.</summary>
    public void AgainOf(string site, IReadOnlyList<ReadingRef> changed)
    {
        var touched = changed.ToHashSet();
        var derived = book.Find(site)?.Design.Derived ?? [];
        for (var before = -1; before != touched.Count; )
        {
            before = touched.Count;
            touched.UnionWith(derived.Where(d => d.From.Inputs.Any(touched.Contains)).Select(d => new ReadingRef(DerivedDesign.Node, d.Key)));
        }
        foreach (var one in derived.Where(d => d.From.Inputs.Any(touched.Contains)))
        {
            Again(site, one.Key);
        }
    }

    /// <summary>Works the past of a reading out anew.</summary>
    public void Again(string site, string key)
    {
        _again.Enqueue((site, key));
        _wake.Wake();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        writer.Committed += _ => _wake.Wake();
        clock.Changed += _wake.Wake;
        // What arrived before the last stop is not worked out yet.
        _wake.Wake();
        remaker.Remade += AgainOf;
        book.Changed += _ => _wake.Wake();
        while (!stoppingToken.IsCancellationRequested)
        {
            await _wake.WaitAsync(UntilDue(), stoppingToken);
            var began = Environment.TickCount64;
            foreach (var site in book.Sites)
            {
                if (!await health.RunAsync("worked-out readings", () => StepsAsync(site, stoppingToken), stoppingToken))
                {
                    (_loaded, _due[site]) = (false, clock.Now(site));
                }
            }
            if (Environment.TickCount64 - began is > RestAboveMs and var took)
            {
                await Task.Delay((int)Math.Min(took, LongestRestMs), stoppingToken);
            }
        }
    }

    /// <summary>How long nothing is due though nothing arrives; what is overdue is tried once a second.</summary>
    private TimeSpan UntilDue() => _due.Select(d => clock.Until(d.Key, d.Value)).Append(LongestWait).Min() is var wait && wait > TickEvery ? wait : TickEvery;

    private async Task StepsAsync(string site, CancellationToken stop)
    {
        while (
            book.Find(site) is { } state && (!_loaded || state.Design.Derived.Count > 0 || _kept.Keys.Any(k => k.Site == site)) && await StepAsync(state, stop)
        )
        {
            // More is waiting than is taken at once.
        }
    }

    /// <summary>Goes on from now as if nothing later than now had been told: totals stay, what stood of the inputs is forgotten.</summary>
    public async Task BeginFromNowAsync(string site, CancellationToken stop = default)
    {
        await using var store = await stores.CreateDbContextAsync(stop);
        var newest = await store.Arrivals.MaxAsync(a => (long?)a.Id, stop) ?? 0;
        foreach (var (key, kept) in _kept.Where(k => k.Key.Site == site).ToList())
        {
            var anew = kept with
            {
                State = kept.State with { Last = [.. kept.State.Last.Select(_ => (TimedValue?)null)], SumsSince = null, QuietSince = null, ToldMs = null },
                Arrival = newest,
                Stored = newest,
            };
            _kept[key] = anew;
            await gate.WriteAsync(s => KeepAsync(s, site, key.Key, anew), stop);
        }
        _wake.Wake();
    }

    /// <summary>A reading that is worked out live, with what is remembered of it.</summary>
    private sealed record Ready(DerivedDesign Derived, DerivedInputs Inputs, Kept Kept);

    /// <returns>True when more samples wait.</returns>
    private async Task<bool> StepAsync(SiteState site, CancellationToken stop)
    {
        await using var store = await stores.CreateDbContextAsync(stop);
        await LoadAsync(store, stop);
        BeginAgain();
        await ForgetRemovedAsync(site, stop);
        var now = clock.Now(site.Site);
        var ready = ReadyOf(site, stop);
        _due.TryRemove(site.Site, out _);
        if (ready.Count == 0)
        {
            return false;
        }
        // Two derived readings that share an input each know how far they came: what one has seen is not given to it twice.
        var readings = ready.SelectMany(r => r.Derived.From.Inputs).Distinct().ToDictionary(i => site.Readings[(i.Node, i.Reading)].Id);
        var (samples, newest, full) = await ArrivedAsync(store, ready.Min(r => r.Kept.Arrival), readings.Keys, stop);
        if (
            readings.Any(r =>
                book.Find(site.Site) is not { } newer || !newer.Readings.TryGetValue((r.Value.Node, r.Value.Reading), out var row) || row.Id != r.Key
            )
        )
        {
            // An input got another number meanwhile, or is gone: looked at again with that.
            return book.Find(site.Site) is not null;
        }
        var values = new List<DecodedSample>();
        var changed = new List<(string Key, Kept Kept)>();
        foreach (var one in ready)
        {
            var (state, told) = Run(
                one.Derived.From,
                one.Inputs,
                one.Kept.State,
                samples.Where(s => s.Arrival > one.Kept.Arrival).Select(s => (s.Arrival, s.T, readings[s.Reading], s.Value))
            );
            if (!full)
            {
                (state, told) = await OnTimeAsync(store, site, one, state, told, now);
            }
            var row = site.Readings[(DerivedDesign.Node, one.Derived.Key)];
            values.AddRange(told.Select(v => new DecodedSample(row.Id, one.Derived.Key, row.Kind, v.T, v.V, SampleFlags.None)));
            if (!ReferenceEquals(state, one.Kept.State) || newest != one.Kept.Arrival)
            {
                changed.Add((one.Derived.Key, one.Kept with { State = state, Arrival = newest }));
            }
        }
        // Rules take a message whole: one that holds a backlog would be more than they take at once.
        foreach (var part in values.Chunk(ValuesOfAMessage))
        {
            await writer.StoreAsync(Message(site.Site, now, part), stop);
        }
        if (ready.Min(r => DueAt(r.Derived.From, r.Inputs, changed.Find(c => c.Key == r.Derived.Key).Kept ?? r.Kept, now)) is { } next)
        {
            _due[site.Site] = next;
        }
        await KeepAllAsync(site.Site, changed, stop);
        return full;
    }

    /// <summary>Reads what is remembered, once.</summary>
    private async Task LoadAsync(CenoticStore store, CancellationToken stop)
    {
        if (_loaded)
        {
            return;
        }
        _kept.Clear();
        foreach (var row in await store.DerivedStates.AsNoTracking().ToListAsync(stop))
        {
            _kept[(row.Site, row.Key)] = new(row.From, JsonSerializer.Deserialize<DerivedState>(row.State, CenoticJson.Options)!, row.Arrival, row.Arrival);
        }
        _loaded = true;
    }

    /// <summary>Forgets what is to be worked out anew; one whose past is being worked out is begun anew when that is over.</summary>
    private void BeginAgain()
    {
        var filling = new List<(string, string)>();
        while (_again.TryDequeue(out var again))
        {
            if (IsFilling(again.Site, again.Key))
            {
                filling.Add(again);
            }
            else
            {
                _kept.TryRemove(again, out _);
            }
        }
        filling.ForEach(_again.Enqueue);
    }

    /// <summary>The readings whose past is worked out; of the others it is begun.</summary>
    private List<Ready> ReadyOf(SiteState site, CancellationToken stop)
    {
        var ready = new List<Ready>();
        foreach (
            var derived in site.Design.Derived.Where(d =>
                d.From.Inputs.All(i => site.Design.Reading(i) is not null && site.Readings.ContainsKey((i.Node, i.Reading)))
            )
        )
        {
            var from = FromOf(site, derived);
            if (_kept.TryGetValue((site.Site, derived.Key), out var kept) && kept.From == from && !IsFilling(site.Site, derived.Key))
            {
                ready.Add(new(derived, DerivedFacts.Inputs(site.Design, site.Catalogue, derived.From), kept));
            }
            else if (
                !IsFilling(site.Site, derived.Key)
                && derived.From.Inputs.All(i => i.Node != DerivedDesign.Node || (_kept.ContainsKey((site.Site, i.Reading)) && !IsFilling(site.Site, i.Reading)))
            )
            {
                Begin(site, derived, from, stop);
            }
        }
        return ready;
    }

    /// <summary>What arrived of the inputs after an arrival, up to which arrival that is, and whether there is more.</summary>
    private static async Task<(List<(long Arrival, int Reading, long T, double Value)> Samples, long Newest, bool Full)> ArrivedAsync(
        CenoticStore store,
        long after,
        IReadOnlyCollection<int> readings,
        CancellationToken stop
    )
    {
        var newest = await store.Arrivals.MaxAsync(a => (long?)a.Id, stop) ?? 0;
        if (readings.Count == 0)
        {
            return ([], newest, false);
        }
        var (samples, full) = await SamplesAsync(
            store,
            $"arrival_id > {after} AND arrival_id <= {newest} AND reading_id IN ({string.Join(',', readings)}) AND flags & {Unjudged} = 0 "
                + "ORDER BY arrival_id, t",
            MostSamplesAtOnce,
            "INDEXED BY samples_by_arrival",
            stop
        );
        if (full)
        {
            var cut = samples[^1].Arrival;
            samples.RemoveAll(s => s.Arrival == cut);
            newest = samples[^1].Arrival;
        }
        return (samples, newest, full);
    }

    /// <summary>What time adds to a reading, and what a node says of itself.</summary>
    private async Task<(DerivedState, List<TimedValue>)> OnTimeAsync(
        CenoticStore store,
        SiteState site,
        Ready one,
        DerivedState state,
        List<TimedValue> told,
        long now
    )
    {
        (state, var due) = Derive.OnTime(one.Derived.From, one.Inputs, state, now);
        told.AddRange(due);
        return
            one.Derived.From.About is not null
            && now - (state.ToldMs ?? long.MinValue / 2) >= DerivedDesign.NodeEveryMs
            && await OfNodeAsync(store, site, one.Derived.From, now) is { } value
            ? (state with { ToldMs = now, Told = value }, [new(now, value)])
            : (state, told);
    }

    /// <summary>Keeps what changed; while nothing but the arrival did, only now and then.</summary>
    private async Task KeepAllAsync(string site, List<(string Key, Kept Kept)> changed, CancellationToken stop)
    {
        var keep = changed.Where(c => !ReferenceEquals(c.Kept.State, _kept[(site, c.Key)].State) || c.Kept.Arrival - c.Kept.Stored > MostBehind).ToList();
        if (keep.Count > 0)
        {
            await gate.WriteAsync(
                async s =>
                {
                    foreach (var (key, kept) in keep)
                    {
                        await KeepAsync(s, site, key, kept);
                    }
                },
                stop
            );
        }
        foreach (var (key, kept) in changed)
        {
            _kept[(site, key)] = keep.Any(k => k.Key == key) ? kept with { Stored = kept.Arrival } : kept;
        }
    }

    /// <summary>When a reading changes though nothing is heard; null when it does not.</summary>
    private static long? DueAt(DerivedFrom from, DerivedInputs inputs, Kept kept, long now) =>
        from.About is null ? Derive.DueAt(from, inputs, kept.State) : Math.Max((kept.State.ToldMs ?? now) + DerivedDesign.NodeEveryMs, now + NodeAgainMs);

    /// <summary>What was removed and comes again has a past that nobody heard of as it went
    /// by: it is worked out anew, and not told as if it were now.</summary>
    private async Task ForgetRemovedAsync(SiteState site, CancellationToken stop)
    {
        var gone = _kept.Keys.Where(k => k.Site == site.Site && site.Design.Derived.All(d => d.Key != k.Key)).Select(k => k.Key).ToList();
        if (gone.Count > 0)
        {
            await gate.WriteAsync(
                async s => s.DerivedStates.RemoveRange(await s.DerivedStates.Where(d => d.Site == site.Site && gone.Contains(d.Key)).ToListAsync(stop)),
                stop
            );
            gone.ForEach(key => _kept.TryRemove((site.Site, key), out _));
        }
    }

    /// <summary>Gives samples to a reading that is worked out: those of one message and moment together.</summary>
    private static (DerivedState State, List<TimedValue> Values) Run(
        DerivedFrom from,
        DerivedInputs inputs,
        DerivedState state,
        IEnumerable<(long Arrival, long T, ReadingRef Reading, double Value)> samples
    )
    {
        var (told, together, at) = (new List<TimedValue>(), new List<(int, double)>(), (Arrival: 0L, T: 0L));
        void Give()
        {
            if (together.Count > 0)
            {
                (state, var values) = Derive.OnSamples(from, inputs, state, at.T, together);
                told.AddRange(values);
                together.Clear();
            }
        }
        foreach (var (arrival, t, reading, value) in samples)
        {
            if ((arrival, t) != at)
            {
                Give();
                at = (arrival, t);
            }
            for (var i = 0; i < from.Inputs.Count; i++)
            {
                if (from.Inputs[i] == reading)
                {
                    together.Add((i, value));
                }
            }
        }
        Give();
        return (state, told);
    }

    private bool IsFilling(string site, string key)
    {
        lock (_filling)
        {
            return _filling.Contains((site, key));
        }
    }

    /// <summary>Works the past out beside what goes on.</summary>
    private void Begin(SiteState site, DerivedDesign derived, string from, CancellationToken stop)
    {
        lock (_filling)
        {
            _filling.Add((site.Site, derived.Key));
        }
        _work[(site.Site, derived.Key)] = new(0, 0);
        _ = Task.Run(
            async () =>
            {
                try
                {
                    await FillAsync(site, derived, from, stop);
                }
                catch (Exception fault) when (fault is not OperationCanceledException)
                {
                    log.LogError(fault, "The past of {Key} at {Site} was not worked out; it is tried again.", derived.Key, site.Site);
                    await Task.Delay(TickEvery, stop);
                }
                finally
                {
                    _work.TryRemove((site.Site, derived.Key), out _);
                    lock (_filling)
                    {
                        _filling.Remove((site.Site, derived.Key));
                    }
                    _wake.Wake();
                }
            },
            stop
        );
    }

    private async Task FillAsync(SiteState site, DerivedDesign derived, string from, CancellationToken stop)
    {
        var row = site.Readings[(DerivedDesign.Node, derived.Key)];
        await remaker.EmptyAsync(row.Id);
        writer.Emptied(row.Id);
        await using var store = await stores.CreateDbContextAsync(stop);
        var newest = await store.Arrivals.MaxAsync(a => (long?)a.Id, stop) ?? 0;
        var inputs = DerivedFacts.Inputs(site.Design, site.Catalogue, derived.From);
        var (state, total) = (DerivedState.Start(derived.From.Inputs.Count), 0L);
        if (derived.From.Inputs.Count > 0)
        {
            var readings = derived.From.Inputs.Distinct().ToDictionary(i => site.Readings[(i.Node, i.Reading)].Id);
            var of = $"reading_id IN ({string.Join(',', readings.Keys)}) AND arrival_id <= {newest} AND flags & {(int)SampleFlags.LeftOut} = 0";
            var now = clock.Now(site.Site);
            for (var (at, first) = (long.MinValue, (long?)null); ; )
            {
                // Samples of one moment are taken together, as they are live.
                var (samples, full) = await SamplesAsync(store, $"{of} AND t >= {at} ORDER BY t, arrival_id", MostSamplesAtOnce, "", stop);
                if (full && samples[^1].T > samples[0].T)
                {
                    var cut = samples[^1].T;
                    samples.RemoveAll(s => s.T == cut);
                    at = cut;
                }
                first ??= samples.Count > 0 ? samples[0].T : now;
                (state, var told) = Run(derived.From, inputs, state, samples.Select(s => (0L, s.T, readings[s.Reading], s.Value)));
                foreach (var part in told.Chunk(ValuesOfAMessage))
                {
                    if (
                        book.Find(site.Site)?.Design.Derived.FirstOrDefault(d => d.Key == derived.Key) is not { } still
                        || FromOf(book.Find(site.Site)!, still) != from
                    )
                    {
                        return;
                    }
                    await writer.StoreAsync(
                        Message(
                            site.Site,
                            clock.Now(site.Site),
                            [.. part.Select(v => new DecodedSample(row.Id, derived.Key, row.Kind, v.T, v.V, SampleFlags.WorkedOutLater))]
                        ),
                        stop
                    );
                    total += part.Length;
                    _work[(site.Site, derived.Key)] = new(Math.Clamp((part[^1].T - first.Value) / (double)Math.Max(1, now - first.Value), 0, 1), total);
                }
                if (!full)
                {
                    break;
                }
            }
        }
        var kept = new Kept(from, state, newest, newest);
        await gate.WriteAsync(s => KeepAsync(s, site.Site, derived.Key, kept), stop);
        _kept[(site.Site, derived.Key)] = kept;
    }

    /// <summary>What lost messages and cells of a node come to now; null where that is not known.</summary>
    private async Task<double?> OfNodeAsync(CenoticStore store, SiteState site, DerivedFrom from, long now)
    {
        switch (from)
        {
            case LostShareOf f:
                var (received, lost) = (await NodeHealthReader.HeardAsync(store, site.Site, now - f.WithinMs, now)).GetValueOrDefault(f.Node);
                return lost is { } missing && received + missing > 0 ? 100.0 * missing / (received + missing) : null;
            case DaysLeftOf f:
                return (await daysLeft.ReadAsync(store, site, now)).GetValueOrDefault(f.Node)?.Value;
            default:
                return null;
        }
    }

    private static DecodedMessage Message(string site, long now, IReadOnlyList<DecodedSample> values) =>
        new(site, DerivedDesign.Node, now, 0, null, null, null, null, values, [], "");

    /// <summary>How a reading is worked out and of what, down to what is measured: when any of it changes, so do its values.</summary>
    private static string FromOf(SiteState site, DerivedDesign derived) =>
        JsonSerializer.Serialize(derived.From, CenoticJson.Options)
        + string.Concat(
            derived
                .From.Inputs.Where(i => i.Node == DerivedDesign.Node)
                .Select(i => site.Design.Derived.FirstOrDefault(d => d.Key == i.Reading))
                .OfType<DerivedDesign>()
                .Select(d => " < " + FromOf(site, d))
        );

    private static async Task KeepAsync(CenoticStore store, string site, string key, Kept kept)
    {
        var row = await store.DerivedStates.SingleOrDefaultAsync(d => d.Site == site && d.Key == key);
        var state = JsonSerializer.Serialize(kept.State, CenoticJson.Options);
        if (row is null)
        {
            store.DerivedStates.Add(
                new()
                {
                    Site = site,
                    Key = key,
                    From = kept.From,
                    State = state,
                    Arrival = kept.Arrival,
                }
            );
        }
        else
        {
            (row.From, row.State, row.Arrival) = (kept.From, state, kept.Arrival);
        }
    }

    private static async Task<(List<(long Arrival, int Reading, long T, double Value)> Samples, bool Full)> SamplesAsync(
        CenoticStore store,
        string where,
        int most,
        string index,
        CancellationToken stop
    )
    {
        await store.Database.OpenConnectionAsync(stop);
        await using var command = (SqliteCommand)store.Database.GetDbConnection().CreateCommand();
        command.CommandText = $"SELECT arrival_id, reading_id, t, value FROM samples {index} WHERE {where} LIMIT {most}";
        var list = new List<(long, int, long, double)>();
        await using var rows = await command.ExecuteReaderAsync(stop);
        while (await rows.ReadAsync(stop))
        {
            list.Add((rows.GetInt64(0), rows.GetInt32(1), rows.GetInt64(2), rows.GetDouble(3)));
        }
        return (list, list.Count == most);
    }
}
