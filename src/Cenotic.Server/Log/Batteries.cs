using System.Text.Json;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Log;
using Cenotic.Core.Planning;
using Cenotic.Core.Rhythm;
using Cenotic.Server.Reach;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Log;

/// <summary>The cells of a node: as planned, as they show themselves, and why they differ.</summary>
/// <param name="FittedMs">When they were put in; null when nobody said so: then they are counted from the first message on.</param>
/// <param name="Volts">The newest voltage; null when the node tells none.</param>
/// <param name="Planned">Days from new to empty by the plan.</param>
/// <param name="Earlier">How the set before went, and what it went on; null where none of this kind is known.</param>
/// <param name="State">Null where nothing can be said: no curve, nothing drawn, or light carries the node.</param>
/// <param name="ByLight">True when light carries the node through the year.</param>
public sealed record BatteryView(
    string Node,
    string Label,
    string Cell,
    long CountedMs,
    long? FittedMs,
    double? Volts,
    long? VoltsMs,
    int Days,
    Figure? Planned,
    EarlierPace? Earlier,
    BatteryState? State,
    bool ByLight,
    IReadOnlyList<PaceReason> Reasons
)
{
    /// <summary>How they go against the plan, in words; null where nothing can be said.</summary>
    public string? Pace => State is null ? null : PaceReasons.Words(State);

    /// <summary>How the set before went, in words.</summary>
    public string? PaceBefore => Earlier is null ? null : PaceReasons.Words(Earlier.Pace);

    /// <summary>True when what the cells showed differs from the plan by something that can be explained.</summary>
    public bool IsExplained => Reasons.Count > 0 && State is not null && PaceReasons.IsLearnt(State);
}

/// <summary>Works out the cells of a site's nodes from what was kept.</summary>
internal static class Batteries
{
    private const long DayMs = 86_400_000;
    private const int MostPlans = 24,
        LeastDays = 7;

    internal static async Task<List<BatteryView>> ReadAsync(SiteState state, SitePlan plan, CenoticStore store, HardwareCatalogue catalogue, long now)
    {
        var views = new List<BatteryView>();
        foreach (var node in state.Design.Nodes.Where(n => n.Power.Kind == PowerKind.Cells))
        {
            if (catalogue.Cell(node.Power.Cell ?? "") is { } one && plan.Node(node.Key) is { } planned)
            {
                var others = CellKinds.InPlaceOf(one.InSeries(node.Power.Series), node.Power.Series, catalogue.Cells);
                views.Add(await OfAsync(state, node, one.InSeries(node.Power.Series), others, planned.Rhythm, store, now));
            }
        }
        return views;
    }

    private static async Task<BatteryView> OfAsync(
        SiteState state,
        NodeDesign node,
        Cell cell,
        IReadOnlyList<Cell> others,
        RhythmPlan rhythm,
        CenoticStore store,
        long now
    )
    {
        long? fitted = node.Power.FittedOn is { } on ? Midnight(on) : null;
        var first = fitted ?? await store.Arrivals.Where(a => a.Site == state.Site && a.Node == node.Key).MinAsync(a => (long?)a.ReceivedMs) ?? now;
        var warmth = await WarmthAsync(state, node, first, store);
        var newest = await store
            .Arrivals.Where(a => a.Site == state.Site && a.Node == node.Key && a.Battery != null)
            .OrderByDescending(a => a.Id)
            .Select(a => new { a.ReceivedMs, a.Battery })
            .FirstOrDefaultAsync();
        var drains = rhythm.CarriedByLight || rhythm.Average.Value is null ? [] : await DrainsAsync(state, node, rhythm.Average, first, now, store);
        // On the day they were put in, the cells before them still told.
        var seen = await DaysAsync(state, node, warmth, first + (fitted is null ? 0 : DayMs), now, store);
        var earlier = fitted is { } change && drains.Count > 0 ? await EarlierAsync(state, node, cell, others, change, store) : null;
        var battery = BatteryLife.Of(cell, node.Power.Parallel, first, now, drains, seen, earlier, others);
        return new(
            node.Key,
            node.Label,
            cell.Label,
            first,
            fitted,
            newest?.Battery,
            newest?.ReceivedMs,
            seen.Count,
            rhythm.Life,
            earlier,
            battery,
            rhythm.CarriedByLight,
            battery?.Pace.Value is null ? [] : await ReasonsAsync(state, node, cell, rhythm, battery, warmth.Count > 0 ? warmth.Values.Average() : null, store)
        );
    }

    /// <summary>The voltage of each day of a stretch.</summary>
    private static async Task<List<CellDay>> DaysAsync(
        SiteState state,
        NodeDesign node,
        Dictionary<long, double> warmth,
        long from,
        long to,
        CenoticStore store
    )
    {
        var days = await store
            .Database.SqlQuery<Day>(
                $"""
                SELECT ReceivedMs / {DayMs} AS Number, avg(Battery) AS Volts, max(ReceivedMs) AS LastMs FROM arrivals
                WHERE Site = {state.Site} AND Node = {node.Key} AND ReceivedMs >= {from} AND ReceivedMs <= {to} AND Battery IS NOT NULL
                    GROUP BY ReceivedMs / {DayMs} ORDER BY 1
                """
            )
            .ToListAsync();
        return [.. days.Select(d => new CellDay(Math.Min(to, d.Number * DayMs + DayMs / 2), d.Volts, warmth.TryGetValue(d.Number, out var c) ? c : null))];
    }

    /// <summary>The set before: the newest edit that said new cells were put in over others of the same kind, with the days between.</summary>
    private static async Task<EarlierPace?> EarlierAsync(
        SiteState state,
        NodeDesign node,
        Cell cell,
        IReadOnlyList<Cell> others,
        long changedMs,
        CenoticStore store
    )
    {
        var document = "node:" + node.Key;
        var edits = await store
            .Revisions.AsNoTracking()
            .Where(r => r.Site == state.Site && ("\n" + r.Documents + "\n").Contains("\n" + document + "\n") && r.Inverse.Contains("fittedOn"))
            .OrderByDescending(r => r.Revision)
            .Take(4 * MostPlans)
            .Select(r => new { r.AtMs, r.Inverse })
            .ToListAsync();
        foreach (var edit in edits)
        {
            if (
                Edits(edit.Inverse).OfType<PutNode>().LastOrDefault(p => p.Node == node.Key)?.Design is not { Power: { FittedOn: { } on } power } before
                || Midnight(on) >= changedMs
            )
            {
                continue;
            }
            if (power with { FittedOn = null } != node.Power with { FittedOn = null })
            {
                return null;
            }
            var first = Midnight(on);
            var days = await DaysAsync(state, node, await WarmthAsync(state, node, first, store), first + DayMs, changedMs - 1, store);
            var drains = await DrainsAsync(state, before, AverageThen(state, before, state.Evidence), first, Math.Min(changedMs, edit.AtMs), store);
            return
                days.Count >= LeastDays
                && BatteryLife.Of(cell, power.Parallel, first, changedMs, drains, days, null, others)
                    is { Pace: { Value: { } pace, Low: { } low, High: { } high } }
                ? new(pace, low, high)
                : null;
        }
        return null;
    }

    private static long Midnight(DateOnly day) => new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).ToUnixTimeMilliseconds();

    private static List<DesignEdit> Edits(string json) => JsonSerializer.Deserialize<List<DesignEdit>>(json, CenoticJson.Options)!;

    /// <summary>Mean temperature of each day at the node, by what it measures itself.</summary>
    private static async Task<Dictionary<long, double>> WarmthAsync(SiteState state, NodeDesign node, long first, CenoticStore store)
    {
        if (
            node.Readings.FirstOrDefault(r => r.Quantity == "temperature") is not { } reading
            || !state.Readings.TryGetValue((node.Key, reading.Key), out var row)
        )
        {
            return [];
        }
        var rows = await store
            .Database.SqlQuery<Warmth>(
                $"""
                SELECT t / {DayMs} AS Number, sum(sum) / sum(n) AS Celsius FROM rollups WHERE reading_id = {row.Id} AND step = 3600000 AND t >=
                    {first} GROUP BY t / {DayMs}
                """
            )
            .ToListAsync();
        return rows.ToDictionary(r => r.Number, r => r.Celsius);
    }

    /// <summary>What the plan said from when on: the node as it was before each edit of it in a stretch, planned again.</summary>
    /// <param name="average">What it draws at the end of the stretch.</param>
    private static async Task<List<PlannedDrain>> DrainsAsync(SiteState state, NodeDesign node, Figure average, long first, long until, CenoticStore store)
    {
        var document = "node:" + node.Key;
        var edits = await store
            .Revisions.AsNoTracking()
            .Where(r => r.Site == state.Site && r.AtMs > first && r.AtMs < until && ("\n" + r.Documents + "\n").Contains("\n" + document + "\n"))
            .OrderByDescending(r => r.Revision)
            .Take(MostPlans)
            .Select(r => new
            {
                r.AtMs,
                r.Edits,
                r.Inverse,
            })
            .ToListAsync();
        var (drains, from) = (new List<PlannedDrain>(), first);
        foreach (var edit in Enumerable.Reverse(edits))
        {
            // A wire that is soldered draws nothing more.
            if (
                Edits(edit.Edits).Any(e => e is not (PutWire or RemoveWire))
                && Edits(edit.Inverse).OfType<PutNode>().LastOrDefault(p => p.Node == node.Key) is { Design: var before }
            )
            {
                Add(drains, from, AverageThen(state, before, state.Evidence));
                from = edit.AtMs;
            }
        }
        Add(drains, from, average);
        return drains;

        static void Add(List<PlannedDrain> drains, long from, Figure average)
        {
            if (average.Value is { } milliamps && (drains.Count == 0 || Math.Abs(drains[^1].Milliamps - milliamps) > 1e-9))
            {
                drains.Add(new(from, milliamps, average.Low ?? milliamps, average.High ?? milliamps));
            }
        }
    }

    private static Figure AverageThen(SiteState state, NodeDesign node, Evidence evidence) =>
        SitePlanner.RhythmOf(state.Design, node, state.Catalogue, evidence, state.Site).Average;

    private static async Task<IReadOnlyList<PaceReason>> ReasonsAsync(
        SiteState state,
        NodeDesign node,
        Cell cell,
        RhythmPlan rhythm,
        BatteryState battery,
        double? celsius,
        CenoticStore store
    )
    {
        double? lossy = null,
            catalogued = null;
        var (heard, sent) = await LinkCounts.TallyAsync(store.Arrivals.Where(a => a.Site == state.Site && a.Node == node.Key));
        if (node.SendsPackets && sent >= LinkHistory.FewestSent)
        {
            var planned = node with { Sending = node.Sending is { } sending ? sending with { DeliveredShare = null } : null };
            lossy = AverageThen(state, planned, state.Evidence with { Links = [new(node.Key, node.Link, heard, sent)] }).Value;
        }
        if (state.Evidence.Currents.Any(c => c.Node == node.Key))
        {
            catalogued = AverageThen(state, node, state.Evidence with { Currents = [] }).Value;
        }
        return PaceReasons.Of(battery.Pace.Value!.Value, rhythm.Average.Value!.Value, lossy, celsius, cell, catalogued);
    }

    private sealed record Day(long Number, double Volts, long LastMs);

    private sealed record Warmth(long Number, double Celsius);
}
