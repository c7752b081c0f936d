using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Formats;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Rehearsal;

/// <summary>A message that a node sends.</summary>
/// <param name="At">UTC ms of site time.</param>
/// <param name="Payload">SenML JSON.</param>
public sealed record NodeMessage(long At, int Boot, long Number, byte[] Payload);

/// <summary>
/// How a node behaves: it wakes on the schedule that Rhythm computed, reads what is due, keeps batches until they are full, and sends one message with its number; readings sent
/// on change go when the world changes and at their heartbeat. The same code plays a rehearsal and a stand-in.
/// </summary>
public sealed class NodeBehaviour
{
    private readonly NodeDesign _node;
    private readonly RhythmPlan _rhythm;
    private readonly HardwareCatalogue _catalogue;
    private readonly int _seed;
    private readonly int _boot;
    private readonly Dictionary<string, (double Value, long At)> _sent = [];
    private readonly Dictionary<string, List<(double Value, long At)>> _kept = [];
    private readonly Dictionary<string, long> _everyWakes;
    private long _number;
    private long _wakes;
    private long _nextWake;

    /// <param name="boot">Rises with every start of the node.</param>
    /// <param name="start">UTC ms when it starts.</param>
    /// <param name="slotMs">Offset of its slot: it wakes so that its first send falls there; null for a node without one.</param>
    public NodeBehaviour(NodeDesign node, RhythmPlan rhythm, HardwareCatalogue catalogue, int seed, int boot, long start, long? slotMs = null)
    {
        (_node, _rhythm, _catalogue, _seed, _boot) = (node, rhythm, catalogue, seed, boot);
        _nextWake = slotMs is { } slot ? start + PeriodicSends.Mod(slot - start, rhythm.PeriodMs) : start;
        _everyWakes = rhythm.Readings.Where(r => r.IntervalMs is not null).ToDictionary(r => r.Reading, r => (long)r.EveryWakes);
    }

    /// <summary>The messages of the node from the last call until <paramref name="now"/>. A node that slept through many wakes sends only the newest.</summary>
    public IReadOnlyList<NodeMessage> Advance(long now, WorldControl control)
    {
        var messages = new List<NodeMessage>();
        var changed = _node.Readings.Where(r => r.IntervalMs is null && Changed(r, now, control)).ToList();
        var due = new List<ReadingDesign>();
        var full = new List<ReadingDesign>();
        if (now >= _nextWake)
        {
            var passed = (now - _nextWake) / _rhythm.PeriodMs;
            _wakes += passed;
            _nextWake += (passed + 1) * _rhythm.PeriodMs;
            due.AddRange(_node.Readings.Where(r => _everyWakes.TryGetValue(r.Key, out var every) && _wakes % every == 0));
            full.AddRange(due.Where(r => (_wakes / _everyWakes[r.Key] + 1) % Math.Max(1, r.BatchOf) == 0));
            _wakes++;
        }
        foreach (var reading in due)
        {
            (_kept.TryGetValue(reading.Key, out var kept) ? kept : _kept[reading.Key] = []).Add((ValueOf(reading, now, control), now));
        }
        if (full.Count + changed.Count > 0)
        {
            messages.Add(Message(now, full, changed, control));
        }
        return messages;
    }

    private bool Changed(ReadingDesign reading, long now, WorldControl control) =>
        !_sent.TryGetValue(reading.Key, out var last) || last.Value != ValueOf(reading, now, control) || (reading.HeartbeatMs is { } beat && now - last.At >= beat);

    private NodeMessage Message(long now, IReadOnlyList<ReadingDesign> full, IReadOnlyList<ReadingDesign> changed, WorldControl control)
    {
        var records = new List<SenmlValue>();
        foreach (var reading in full)
        {
            records.AddRange(_kept[reading.Key].Select(k => new SenmlValue(reading.Key, Unit.ToSenml(UnitOf(reading)), k.Value, (k.At - now) / 1000.0)));
            _kept[reading.Key].Clear();
        }
        foreach (var reading in changed)
        {
            var value = ValueOf(reading, now, control);
            _sent[reading.Key] = (value, now);
            records.Add(new(reading.Key, Unit.ToSenml(UnitOf(reading)), value));
        }
        _number++;
        records.Add(new("sys/boot", null, _boot));
        records.Add(new("sys/seq", null, _number));
        return new(now, _boot, _number, Senml.Write(now / 1000.0, records));
    }

    private double ValueOf(ReadingDesign reading, long now, WorldControl control)
    {
        var exact = World.Value(_seed, _node.Key, reading.Part, reading.Quantity, now, control);
        return Math.Round(exact, Math.Max(reading.Decimals, reading.Quantity == "distance" ? 3 : reading.Decimals));
    }

    private string UnitOf(ReadingDesign reading) =>
        _node.Part(reading.Part) is { } instance ? _catalogue.Part(instance.Part)?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity)?.Unit ?? "" : "";
}
