using System.Runtime.CompilerServices;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>What every look wants to know of a rule, worked out once.</summary>
/// <param name="Condition">What a state belongs to: another condition or reading begins anew.</param>
/// <param name="Silent">Nodes whose silence it watches.</param>
internal sealed record Watched(string Condition, IReadOnlyList<ReadingRef> Inputs, IReadOnlyList<string> Silent, bool Usual);

/// <summary>What is remembered from one look at the rules to the next. For one look at a time.</summary>
internal sealed class RuleMemory
{
    private const int QueueLagMs = 3_000,
        QueueEndsMs = 10_000;

    /// <summary>States as they lie in the database, by site and rule; forgotten when a look fails.</summary>
    private readonly Dictionary<string, Dictionary<string, (string Condition, RuleState State)>> _kept = [];
    private readonly Dictionary<string, ((long? Report, int Saved) Seen, HashSet<string> Of, Dictionary<string, IReadOnlyList<string>> Lines)> _ran = [];
    private readonly ConditionalWeakTable<RuleDesign, Watched> _watched = [];

    /// <summary>Nodes that send what they had queued: their newest stamp, and when it was seen.</summary>
    private readonly Dictionary<(string Site, string Node), (long Stamp, long SeenAt)> _backlogs = [];

    internal UsualReader Usual { get; } = new();

    /// <summary>The states of the rules of a site, from the database where they are not known.</summary>
    internal async Task<Dictionary<string, (string Condition, RuleState State)>> KeptAsync(CenoticStore store, string site) =>
        _kept.TryGetValue(site, out var kept)
            ? kept
            : _kept[site] = (await store.RuleStates.AsNoTracking().Where(r => r.Site == site).ToListAsync()).ToDictionary(
                r => r.Rule,
                r => (r.Condition, JsonSerializer.Deserialize<RuleState>(r.State, CenoticJson.Options)!)
            );

    /// <summary>Takes what a look changed, once it is committed.</summary>
    internal void Take(string site, LookResult looked)
    {
        foreach (var (rule, condition, state) in looked.Changed)
        {
            _kept[site][rule] = (condition, state);
        }
        foreach (var rule in looked.Gone)
        {
            _kept[site].Remove(rule);
        }
    }

    /// <summary>Reads the states of a site anew with the next look.</summary>
    internal void Forget(string site) => _kept.Remove(site);

    /// <summary>Up to when a rule is judged by the clock: one of sequences waits while a node sends what it
    /// had queued, since what belongs to an event may be in its next message.</summary>
    internal long JudgedUntil(string site, RuleDesign rule, long now) =>
        !rule.Parts.Any(p => p.Condition is InSequence)
            ? now
            : WatchedBy(rule)
                .Inputs.Min(i =>
                    _backlogs.TryGetValue((site, i.Node), out var backlog) && now - backlog.SeenAt < QueueEndsMs ? Math.Min(now, backlog.Stamp) : now
                );

    /// <summary>Notes the nodes whose newest values are old: they send their queues.</summary>
    internal void NoteBacklogs(string site, SiteState state, IEnumerable<(int Reading, long T)> arrived, long now)
    {
        var newest = new Dictionary<int, long>();
        foreach (var (reading, t) in arrived)
        {
            newest[reading] = Math.Max(t, newest.GetValueOrDefault(reading));
        }
        if (newest.Count == 0)
        {
            return;
        }
        foreach (var node in state.Readings.Where(r => newest.ContainsKey(r.Value.Id)).GroupBy(r => r.Key.Node, r => newest[r.Value.Id]))
        {
            var stamp = node.Max();
            if (now - stamp > QueueLagMs)
            {
                _backlogs[(site, node.Key)] = (stamp, now);
            }
            else
            {
                _backlogs.Remove((site, node.Key));
            }
        }
    }

    /// <summary>Settings that nodes reported and that were saved here, by node: of those whose silence is watched. Looked up anew when
    /// there are more of them.</summary>
    internal async Task<Dictionary<string, IReadOnlyList<string>>> RunsAsync(CenoticStore store, string site, List<RuleDesign> armed)
    {
        var nodes = armed.SelectMany(r => WatchedBy(r).Silent).ToHashSet();
        var seen = (await store.NodeReports.MaxAsync(r => (long?)r.Id), await store.SavedSettings.CountAsync(s => s.Site == site));
        if (_ran.TryGetValue(site, out var known) && known.Seen == seen && nodes.IsSubsetOf(known.Of))
        {
            return known.Lines;
        }
        var lines = new Dictionary<string, IReadOnlyList<string>>();
        foreach (var node in nodes)
        {
            if (
                await store
                    .NodeReports.Where(r => r.Site == site && r.Node == node && r.Settings != null)
                    .OrderByDescending(r => r.Id)
                    .Select(r => r.Settings)
                    .FirstOrDefaultAsync()
                    is { } hash
                && await store.SavedSettings.AsNoTracking().FirstOrDefaultAsync(s => s.Site == site && s.Node == node && s.Hash == hash) is { } saved
            )
            {
                lines[node] = saved.Lines.Split('\n');
            }
        }
        _ran[site] = (seen, nodes, lines);
        return lines;
    }

    internal Watched WatchedBy(RuleDesign rule) =>
        _watched.GetValue(rule, static r =>
            new(
                JsonSerializer.Serialize(r.Condition, CenoticJson.Options)
                    + $" {r.Node}/{r.Reading}"
                    + (r.Also.Count == 0 ? "" : $" {r.Join} " + JsonSerializer.Serialize(r.Also, CenoticJson.Options)),
                r.Inputs,
                [.. r.Parts.Where(p => p.Condition is SilentFor).Select(p => p.Reading.Node)],
                r.Parts.Any(p => p.Condition is UnlikeUsual)
            )
        );
}
