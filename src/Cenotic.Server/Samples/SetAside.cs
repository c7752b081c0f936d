using System.Collections.Concurrent;
using Cenotic.Core.Design;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Samples;

/// <summary>Stretches of readings that somebody set aside: a probe that lay in the sun, a test on the bench.
/// Their samples are kept as they came, and left out of lines, sums and rules.</summary>
public sealed class SetAside(IDbContextFactory<CenoticStore> stores, SiteBook book, SiteClock clock, SampleRemaker remaker)
{
    private readonly ConcurrentDictionary<(string Site, string Node, string Reading), IReadOnlyList<(long From, long To)>> _stretches = [];

    /// <summary>Loads what is set aside; once, at start.</summary>
    public async Task LoadAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        foreach (var of in (await store.SetAside.AsNoTracking().Where(s => s.UndoneMs == null).ToListAsync()).GroupBy(s => (s.Site, s.Node, s.Reading)))
        {
            _stretches[of.Key] = [.. of.Select(s => (s.FromMs, s.ToMs))];
        }
    }

    /// <summary>Whether a moment of a reading is set aside.</summary>
    public bool Holds(string site, string node, string reading, long t) =>
        !_stretches.IsEmpty && _stretches.TryGetValue((site, node, reading), out var of) && of.Any(s => t >= s.From && t <= s.To);

    /// <summary>Sets a stretch aside. Null, or why it cannot be.</summary>
    public async Task<string?> PutAsync(string site, ReadingRef reading, long from, long to, string reason, string who, CancellationToken stop)
    {
        var row = new SetAsideRow
        {
            Site = site,
            Node = reading.Node,
            Reading = reading.Reading,
            FromMs = from,
            ToMs = to,
            Reason = reason,
            AtMs = clock.Now(site),
            Who = who,
        };
        return await RemakeAsync(
            site,
            reading,
            from,
            to,
            $"CASE WHEN t <= {to} THEN flags | {(int)SampleFlags.SetAside} ELSE flags END",
            store =>
            {
                store.SetAside.Add(row);
                return Task.CompletedTask;
            },
            stretches => [.. stretches, (from, to)],
            stop
        );
    }

    /// <summary>Takes a stretch back: its samples count again. Null, or why it cannot be.</summary>
    public async Task<string?> UndoAsync(SetAsideRow row, string who, CancellationToken stop)
    {
        await using var store = await stores.CreateDbContextAsync(stop);
        var others = await store
            .SetAside.AsNoTracking()
            .Where(s => s.Site == row.Site && s.Node == row.Node && s.Reading == row.Reading && s.UndoneMs == null && s.Id != row.Id)
            .ToListAsync(stop);
        var still = string.Concat(others.Select(o => $" OR t BETWEEN {o.FromMs} AND {o.ToMs}"));
        return await RemakeAsync(
            row.Site,
            new(row.Node, row.Reading),
            row.FromMs,
            row.ToMs,
            $"CASE WHEN t > {row.ToMs}{still} THEN flags ELSE flags & ~{(int)SampleFlags.SetAside} END",
            async writing =>
            {
                var kept = await writing.SetAside.SingleAsync(s => s.Id == row.Id, stop);
                (kept.UndoneMs, kept.UndoneBy) = (clock.Now(row.Site), who);
            },
            _ => [.. others.Select(o => (o.FromMs, o.ToMs))],
            stop
        );
    }

    private async Task<string?> RemakeAsync(
        string site,
        ReadingRef reading,
        long from,
        long to,
        string flags,
        Func<CenoticStore, Task> change,
        Func<IReadOnlyList<(long, long)>, IReadOnlyList<(long, long)>> after,
        CancellationToken stop
    )
    {
        if (book.Find(site)?.Readings.ContainsKey((reading.Node, reading.Reading)) != true || reading.Node == DerivedDesign.Node)
        {
            return $"There is no reading \"{reading.Reading}\" of a node \"{reading.Node}\".";
        }
        if (remaker.Claim(site, [reading]) is not { } claimed)
        {
            return "The values of this reading are being worked through; wait until that is done.";
        }
        try
        {
            var key = (site, reading.Node, reading.Reading);
            await remaker.RunAsync(
                site,
                [new(claimed[0], from, to, Flags: flags)],
                change,
                _ => _stretches[key] = after(_stretches.GetValueOrDefault(key) ?? []),
                null,
                stop
            );
            return null;
        }
        finally
        {
            remaker.Release(claimed);
        }
    }
}
