using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Rehearsal;

/// <summary>A message that a node sends.</summary>
/// <param name="At">UTC ms of site time.</param>
/// <param name="Payload">SenML JSON.</param>
public sealed record NodeMessage(long At, int Boot, long Number, byte[] Payload);

/// <summary>
/// How a node behaves: it wakes on the schedule that Rhythm computed, reads what is due, and sends one message with its number; readings sent on change go when the
/// world changes and at their heartbeat. The same code plays a rehearsal and a stand-in.
/// </summary>
public sealed class NodeBehaviour
{
    private readonly NodeDesign _node;
    private readonly RhythmPlan _rhythm;
    private readonly HardwareCatalogue _catalogue;
    private readonly int _seed;
    private readonly int _boot;
    private readonly Dictionary<string, (double Value, long At)> _sent = [];
    private long _number;
    private long _wakes;
    private long _nextWake;

    /// <param name="boot">Rises with every start of the node.</param>
    /// <param name="start">UTC ms when it starts.</param>
    public NodeBehaviour(NodeDesign node, RhythmPlan rhythm, HardwareCatalogue catalogue, int seed, int boot, long start)
    {
        (_node, _rhythm, _catalogue, _seed, _boot, _nextWake) = (node, rhythm, catalogue, seed, boot, start);
    }

    /// <summary>The messages of the node from the last call until <paramref name="now"/>. A node that slept through many wakes sends only the newest.</summary>
    public IReadOnlyList<NodeMessage> Advance(long now, WorldControl control)
    {
        var messages = new List<NodeMessage>();
        var changed = _node.Readings.Where(r => r.IntervalMs is null && Changed(r, now, control)).ToList();
        var due = new List<ReadingDesign>();
        if (now >= _nextWake)
        {
            var passed = (now - _nextWake) / _rhythm.PeriodMs;
            _wakes += passed;
            _nextWake += (passed + 1) * _rhythm.PeriodMs;
            due.AddRange(_node.Readings.Where(r => r.IntervalMs is { } every && _wakes % Math.Max(1, every / _rhythm.PeriodMs) == 0));
            _wakes++;
        }
        if (due.Count + changed.Count > 0)
        {
            messages.Add(Message(now, [.. due, .. changed], control));
        }
        return messages;
    }

    private bool Changed(ReadingDesign reading, long now, WorldControl control) =>
        !_sent.TryGetValue(reading.Key, out var last) || last.Value != ValueOf(reading, now, control) || (reading.HeartbeatMs is { } beat && now - last.At >= beat);

    private NodeMessage Message(long now, IReadOnlyList<ReadingDesign> readings, WorldControl control)
    {
        var records = new List<(string, string?, double)>();
        foreach (var reading in readings)
        {
            var value = ValueOf(reading, now, control);
            _sent[reading.Key] = (value, now);
            records.Add((reading.Key, Unit.ToSenml(UnitOf(reading)), value));
        }
        _number++;
        records.Add(("sys/boot", null, _boot));
        records.Add(("sys/seq", null, _number));
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
