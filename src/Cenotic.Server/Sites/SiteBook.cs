using System.Collections.Concurrent;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Watch;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Sites;

/// <summary>A site as it stands: one revision of its design, what was measured on it, the stable numbers
/// of its readings, and the catalogue with its own boards and parts.</summary>
public sealed record SiteState(
    string Site,
    long Revision,
    SiteDesign Design,
    Evidence Evidence,
    IReadOnlyDictionary<(string Node, string Key), ReadingRow> Readings,
    HardwareCatalogue Catalogue
)
{
    private readonly ConcurrentDictionary<ReadingRef, PartQuantity?> _quantities = [];
    private FactsOf? _facts;

    /// <summary>What rules want to know of the site's readings.</summary>
    public FactsOf Facts => _facts ??= RuleJudge.FactsBy(Design, IsEvent);

    /// <summary>Whether every value above 0 of a reading is an event of its own.</summary>
    public bool IsEvent(ReadingRef reading) => Quantity(reading) is { Kind: ReadingKind.Event };

    /// <summary>What a reading measures; null where there is no such reading.</summary>
    public PartQuantity? Quantity(string node, string key) => Quantity(new ReadingRef(node, key));

    /// <summary>What a reading measures; null where there is no such reading. Found once: every message asks for it.</summary>
    public PartQuantity? Quantity(ReadingRef reading) =>
        Readings.ContainsKey((reading.Node, reading.Reading)) ? _quantities.GetOrAdd(reading, r => DerivedFacts.Quantity(Design, Catalogue, r)) : null;
}

/// <summary>What became of a batch of edits.</summary>
public abstract record BatchResult
{
    public sealed record Done(long Revision, IReadOnlyList<DesignEdit> Inverse, SiteDesign Design) : BatchResult;

    public sealed record Refused(IReadOnlyList<Reason> Because) : BatchResult
    {
        /// <summary>The sentences of the reasons.</summary>
        public IReadOnlyList<string> Reasons => [.. Because.Select(r => r.Says)];
    }

    public sealed record Conflict(long Revision, IReadOnlyList<string> Documents) : BatchResult;
}

/// <summary>Keeps the sites: the edits door in, the plan door out (cached by revision and evidence).</summary>
public sealed class SiteBook(
    IDbContextFactory<CenoticStore> stores,
    WriteGate gate,
    SiteClock clock,
    HardwareCatalogue catalogue,
    SitePlans plans,
    TimeProvider system
)
{
    private readonly ConcurrentDictionary<string, SiteState> _states = [];

    /// <summary>Called after a site changed, with its new state.</summary>
    public event Action<SiteState>? Changed;

    public IEnumerable<string> Sites => _states.Keys;

    /// <summary>Loads every site; once, at start.</summary>
    public async Task LoadAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        foreach (var site in await store.Sites.AsNoTracking().ToListAsync())
        {
            clock.Set(site);
            _states[site.Key] = await ReadAsync(store, site.Key);
        }
    }

    /// <summary>Tells the clock the latest moment at which each site was heard, by whatever clock this machine had
    /// then. It goes through every message, so nobody waits for it at the start.</summary>
    public async Task LookBackAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        foreach (var site in await store.Sites.AsNoTracking().ToListAsync())
        {
            var since = site.JudgedAnywayArrival ?? 0;
            if (await store.Arrivals.Where(a => a.Site == site.Key && a.Id > since).MaxAsync(a => (long?)a.ReceivedMs) is { } newest)
            {
                clock.Seen(site.Key, newest);
            }
        }
    }

    public SiteState? Find(string site) => _states.GetValueOrDefault(site);

    /// <summary>The plan of a site as it stands.</summary>
    public Task<SitePlan> PlanAsync(SiteState state, CancellationToken stop = default) => plans.OfAsync(state, stop);

    /// <summary>A key made of a name.</summary>
    public static string KeyOf(string name)
    {
        var letters = new string([.. name.ToLowerInvariant().Select(c => c is >= 'a' and <= 'z' or >= '0' and <= '9' ? c : '-')]).Trim('-');
        return letters.Length == 0 || !char.IsAsciiLetter(letters[0]) ? "site" : letters[..Math.Min(24, letters.Length)].TrimEnd('-');
    }

    /// <summary>Creates a site with an owner.</summary>
    /// <param name="wanted">Its key; with a number behind where another site has it.</param>
    /// <returns>The key it got.</returns>
    public async Task<string> CreateAsync(string wanted, SiteDesign design, string owner, Evidence evidence)
    {
        var now = system.GetUtcNow().ToUnixTimeMilliseconds();
        var state = await gate.WriteAsync(
            async store =>
            {
                var key = wanted;
                for (var n = 2; await store.Sites.AnyAsync(s => s.Key == key); n++)
                {
                    key = $"{wanted}-{n}";
                }
                var site = new SiteRow
                {
                    Key = key,
                    Revision = 1,
                    EpochSystemMs = now,
                    EpochSiteMs = now,
                };
                store.Sites.Add(site);
                store.Memberships.Add(
                    new()
                    {
                        Site = key,
                        AccountId = owner,
                        Role = Role.Owner,
                    }
                );
                await SiteDocuments.WriteAsync(store, key, design);
                store.MeasuredCurrents.AddRange(evidence.Currents.Select(c => CurrentRow(key, c)));
                store.RangeWalks.AddRange(evidence.Walks.Select(w => WalkRow(key, w, w.AtMs)));
                await store.SaveChangesAsync();
                await NumberReadingsAsync(store, key, design);
                await store.SaveChangesAsync();
                clock.Set(site);
                return await ReadAsync(store, key);
            },
            kept: Publish
        );
        Tell(state);
        return state.Site;
    }

    /// <summary>Carries out a batch made on a revision: re-applied when the documents it touches
    /// are unchanged since, else a conflict that says what changed.</summary>
    public async Task<BatchResult> ApplyAsync(string site, long revision, IReadOnlyList<DesignEdit> edits, string who)
    {
        SiteState? after = null;
        var result = await gate.WriteAsync(
            async store =>
            {
                var row = await store.Sites.SingleAsync(s => s.Key == site);
                if (revision > row.Revision)
                {
                    return new BatchResult.Refused([new($"Revision {revision} is yet to come; the site is at {row.Revision}.")]);
                }
                var design = _states[site].Design;
                var applied = EditBatch.Apply(design, edits);
                var touched = applied.Ok ? applied.Value.Documents : edits.OfType<DesignEdit>().Select(e => e.Document).ToHashSet();
                var since = await store.Revisions.Where(r => r.Site == site && r.Revision > revision).Select(r => r.Documents).ToListAsync();
                var changed = since.SelectMany(d => d.Split('\n')).Where(touched.Contains).Distinct().Order(StringComparer.Ordinal).ToList();
                if (changed.Count > 0)
                {
                    return new BatchResult.Conflict(row.Revision, changed);
                }
                if (!applied.Ok)
                {
                    return new BatchResult.Refused(applied.Because);
                }
                if (Unlike(applied.Value.After, edits) is { } unlike)
                {
                    return new BatchResult.Refused([new(unlike)]);
                }
                row.Revision++;
                await SiteDocuments.WriteAsync(store, site, applied.Value.After);
                await NumberReadingsAsync(store, site, applied.Value.After);
                await ForgetKeysAsync(store, site, applied.Value.After);
                store.Revisions.Add(RevisionOf(row, edits, applied.Value, touched, who));
                await store.SaveChangesAsync();
                await ForgottenPeople.ForgetAsync(store, site, design, applied.Value.After, system.GetUtcNow().ToUnixTimeMilliseconds());
                after = await ReadAsync(store, site, applied.Value.After);
                return (BatchResult)new BatchResult.Done(row.Revision, applied.Value.Inverse, applied.Value.After);
            },
            kept: _ => Publish(after)
        );
        if (after is not null)
        {
            Tell(after);
        }
        return result;
    }

    private RevisionRow RevisionOf(SiteRow row, IReadOnlyList<DesignEdit> edits, AppliedEdits applied, IReadOnlySet<string> touched, string who) =>
        new()
        {
            Site = row.Key,
            Revision = row.Revision,
            AtMs = clock.Now(row.Key),
            Who = who,
            Edits = JsonSerializer.Serialize(edits, CenoticJson.Options),
            Inverse = JsonSerializer.Serialize(applied.Inverse, CenoticJson.Options),
            Documents = string.Join('\n', touched),
            DocumentsAfter = JsonSerializer.Serialize(
                SiteDocuments.Of(applied.After).Where(d => touched.Contains(d.Key)).ToDictionary(d => d.Key, d => d.Body),
                CenoticJson.Options
            ),
        };

    /// <summary>Why a sum that is put in adds what cannot be added; the units are those of the parts.</summary>
    private string? Unlike(SiteDesign after, IReadOnlyList<DesignEdit> edits)
    {
        var sums = edits.OfType<PutDerived>().Where(e => e.Derived.From is SumOf).ToList();
        return sums.Count == 0
            ? null
            : sums.Select(e => DerivedFindings.UnlikeUnits(after, catalogue.With(after.OwnBoards, after.OwnParts, after.OwnCells), e.Derived))
                .FirstOrDefault(u => u is not null);
    }

    /// <summary>Stores a measured current.</summary>
    public Task MeasureAsync(string site, MeasuredCurrent current) => KeepAsync(site, store => store.MeasuredCurrents.Add(CurrentRow(site, current)));

    /// <summary>Keeps how a node was heard at a spot.</summary>
    /// <param name="fromMs">Since when it was there, UTC ms of site time.</param>
    public Task WalkAsync(string site, SpotWalk walk, long fromMs) => KeepAsync(site, store => store.RangeWalks.Add(WalkRow(site, walk, fromMs)));

    /// <summary>How the messages of its nodes came through lately; it is counted anew after a start, and not kept.</summary>
    public async Task HeardAsync(string site, IReadOnlyList<LinkHistory> links) =>
        Tell(await gate.WriteAsync(_ => Task.FromResult(_states[site] with { Evidence = _states[site].Evidence with { Links = links } }), kept: Publish));

    /// <summary>Ways out of the house were set: the plan says anew whom its rules reach.</summary>
    public Task WaysOutChangedAsync(string site) => KeepAsync(site, _ => { });

    /// <summary>Ways that lead out of the house; a webhook needs nothing.</summary>
    private static async Task<IReadOnlyCollection<WayKind>> WaysOutAsync(CenoticStore store, string site)
    {
        var set = await store.NoticeSettings.AsNoTracking().SingleOrDefaultAsync(s => s.Site == site);
        return
        [
            WayKind.Webhook,
            .. set is { SendsMail: true } ? [WayKind.Mail] : Array.Empty<WayKind>(),
            .. set is { SendsTexts: true } ? [WayKind.Text] : Array.Empty<WayKind>(),
        ];
    }

    /// <summary>Keeps what was measured; the site's plan is worked out anew with it.</summary>
    private async Task KeepAsync(string site, Action<CenoticStore> add) =>
        Tell(
            await gate.WriteAsync(
                async store =>
                {
                    add(store);
                    await store.SaveChangesAsync();
                    return await ReadAsync(store, site, _states[site].Design);
                },
                kept: Publish
            )
        );

    private static MeasuredCurrentRow CurrentRow(string site, MeasuredCurrent current) =>
        new()
        {
            Site = site,
            Node = current.Node,
            State = current.State,
            Milliamps = current.Milliamps,
            How = current.How,
            AtMs = current.AtMs,
        };

    private static RangeWalkRow WalkRow(string site, SpotWalk walk, long fromMs) =>
        new()
        {
            Site = site,
            Node = walk.Node,
            Spot = walk.Spot,
            Who = walk.Who,
            FromMs = fromMs,
            ToMs = walk.AtMs,
            Heard = walk.Heard,
            Lost = walk.Lost,
            RssiMedian = walk.MedianDbm,
            RssiLow = walk.LowDbm,
            Receiver = walk.Receiver,
            RadiatedDbm = walk.Radio?.RadiatedDbm,
            GainDbi = walk.Radio?.GainDbi,
        };

    private static SpotWalk WalkOf(RangeWalkRow w, SiteDesign design) =>
        new(
            w.Node,
            w.Receiver ?? design.Node(w.Node)?.Via,
            w.Spot,
            w.ToMs,
            w.Who,
            w.Heard,
            w.Lost,
            w.RssiMedian,
            w.RssiLow,
            w is { RadiatedDbm: { } radiated, GainDbi: { } gain } ? new(radiated, gain) : null
        );

    /// <summary>The newest walk of each node at each spot, as the plan has the nodes now.</summary>
    private static async Task<List<SpotWalk>> WalksAsync(CenoticStore store, string site, SiteDesign design)
    {
        var newest = store.RangeWalks.Where(w => w.Site == site).GroupBy(w => new { w.Node, w.Spot }).Select(g => g.Max(w => w.Id));
        var rows = await store.RangeWalks.AsNoTracking().Where(w => newest.Contains(w.Id)).OrderBy(w => w.Id).ToListAsync();
        return [.. rows.Select(w => WalkOf(w, design))];
    }

    /// <summary>The site as it lies in the store, within a write that changed more than its design.</summary>
    internal Task<SiteState> ReadAgainAsync(CenoticStore store, string site) => ReadAsync(store, site, _states[site].Design);

    /// <summary>What is written is what the next write begins with: called before the gate opens again.</summary>
    internal void Publish(SiteState? state)
    {
        if (state is not null)
        {
            _states[state.Site] = state;
        }
    }

    /// <summary>Tells of a site that changed, once its write is over.</summary>
    internal void Tell(SiteState state)
    {
        plans.Begin(state);
        Changed?.Invoke(state);
    }

    /// <summary>A key ends with its node, in the same transaction: nothing brings it back.</summary>
    private static async Task ForgetKeysAsync(CenoticStore store, string site, SiteDesign design)
    {
        var nodes = design.Nodes.Select(n => n.Key).ToHashSet();
        store.NodeKeys.RemoveRange((await store.NodeKeys.Where(k => k.Site == site).ToListAsync()).Where(k => !nodes.Contains(k.Node)));
    }

    private async Task NumberReadingsAsync(CenoticStore store, string site, SiteDesign design)
    {
        var hardware = catalogue.With(design.OwnBoards, design.OwnParts, design.OwnCells);
        var known = await store.Readings.Where(r => r.Site == site).ToDictionaryAsync(r => (r.Node, r.Key));
        foreach (var (reading, _) in design.AllReadings)
        {
            var kind = DerivedFacts.Quantity(design, hardware, reading)?.Kind ?? ReadingKind.Gauge;
            if (known.TryGetValue((reading.Node, reading.Reading), out var row))
            {
                row.Kind = kind;
            }
            else
            {
                store.Readings.Add(
                    new()
                    {
                        Site = site,
                        Node = reading.Node,
                        Key = reading.Reading,
                        Kind = kind,
                    }
                );
            }
        }
    }

    /// <param name="known">The design as it was just written; read from the store when left out. Documents that did not change stay the same objects.</param>
    private async Task<SiteState> ReadAsync(CenoticStore store, string site, SiteDesign? known = null)
    {
        var row = await store.Sites.AsNoTracking().SingleAsync(s => s.Key == site);
        var currents = await store
            .MeasuredCurrents.AsNoTracking()
            .Where(c => c.Site == site)
            .OrderBy(c => c.Id)
            .Select(c => new MeasuredCurrent(c.Node, c.State, c.Milliamps, c.How, c.AtMs))
            .ToListAsync();
        var readings = await store
            .Readings.AsNoTracking()
            .Where(r => r.Site == site && !r.Key.StartsWith(ReadingRow.Spare))
            .ToDictionaryAsync(r => (r.Node, r.Key));
        var design = known ?? await SiteDocuments.ReadAsync(store, site);
        var evidence = new Evidence(currents)
        {
            Walks = await WalksAsync(store, site, design),
            Links = _states.GetValueOrDefault(site)?.Evidence.Links ?? [],
            WaysOut = await WaysOutAsync(store, site),
        };
        return new(site, row.Revision, design, evidence, readings, catalogue.With(design.OwnBoards, design.OwnParts, design.OwnCells));
    }
}
