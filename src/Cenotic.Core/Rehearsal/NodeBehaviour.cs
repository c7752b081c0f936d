using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Rehearsal;

/// <summary>A message that a node sends.</summary>
/// <param name="At">UTC ms of site time.</param>
/// <param name="Payload">SenML JSON.</param>
public sealed record NodeMessage(long At, int Boot, long Number, byte[] Payload);

/// <summary>
/// How a node behaves: it wakes on the schedule that Rhythm computed, reads what is due, keeps batches until they are full, and sends one message with its
/// number; readings sent on change go when the world changes and at their heartbeat. The same code plays a rehearsal and a stand-in.
/// </summary>
public sealed class NodeBehaviour
{
    /// <summary>Cells that would be empty by now are played as nearly so: a rehearsal begins with a node that lives.</summary>
    private const double LeastShare = 0.25;

    private readonly NodeDesign _node;
    private readonly RhythmPlan _rhythm;
    private readonly HardwareCatalogue _catalogue;
    private readonly int _seed;
    private readonly int _boot;
    private readonly long _start;
    private readonly Dictionary<string, (double Value, long At)> _sent = [];
    private readonly Dictionary<string, List<(double Value, long At)>> _kept = [];
    private readonly Dictionary<string, long> _everyWakes;
    private readonly Dictionary<string, OutputBehaviour> _outputs;
    private readonly List<(string Name, long Command, string Output)> _answers = [];
    private readonly OutputBehaviour _test = new(new(OutputLoad.Lamp, OutputCommand.TestMostMs));
    private long _nextTest;
    private long _number;
    private long _wakes;
    private long _nextWake;
    private long _drained;

    /// <summary>How far its clock goes wrong, ms; positive is ahead.</summary>
    public long ClockOffsetMs { get; set; }

    /// <summary>What is left of its cells, 1 for full; null for a node that has none. An empty node says nothing.</summary>
    public double? CellShare { get; set; }

    /// <summary>Hash of the settings it runs, told with its first message; null for a node that does not tell.</summary>
    public string? Settings { get; init; }

    /// <summary>What its program corrects itself, by reading.</summary>
    public IReadOnlyDictionary<string, Calibration> Corrections { get; init; } = new Dictionary<string, Calibration>();

    /// <param name="boot">Rises with every start of the node.</param>
    /// <param name="start">UTC ms when it starts.</param>
    /// <param name="slotMs">Offset of its slot: it wakes so that its first send falls there; null for a node without one.</param>
    public NodeBehaviour(NodeDesign node, RhythmPlan rhythm, HardwareCatalogue catalogue, int seed, int boot, long start, long? slotMs = null)
    {
        (_node, _rhythm, _catalogue, _seed, _boot) = (node, rhythm, catalogue, seed, boot);
        _drained = start;
        CellShare = node.Power.Kind == PowerKind.Cells ? Left(node.Power.FittedOn, rhythm, start) : null;
        _nextWake = slotMs is { } slot ? start + PeriodicSends.Mod(slot - start, rhythm.PeriodMs) : start;
        _start = start;
        _outputs = node.Readings.Where(r => r.Output is not null).ToDictionary(r => r.Key, r => new OutputBehaviour(r.Output!));
        _everyWakes = rhythm.Readings.Where(r => r.IntervalMs is not null).ToDictionary(r => r.Reading, r => (long)r.EveryWakes);
    }

    /// <summary>The messages of the node from the last call until <paramref name="now"/>. A node that slept through many wakes sends only the newest.</summary>
    public IReadOnlyList<NodeMessage> Advance(long now, WorldControl control)
    {
        var messages = new List<NodeMessage>();
        if (!Live(now))
        {
            return messages;
        }
        Tick(now);
        var changed = _node.Readings.Where(r => r.IntervalMs is null && (Changed(r, now, control) || _answers.Any(a => a.Output == r.Key))).ToList();
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
        if (_test.On && now >= _nextTest)
        {
            _nextTest = now + OutputCommand.TestEveryMs;
            changed = [.. changed.Union(_node.Readings.Where(r => r.IntervalMs is not null))];
        }
        foreach (var reading in due)
        {
            (_kept.TryGetValue(reading.Key, out var kept) ? kept : _kept[reading.Key] = []).Add((ValueOf(reading, now, control), now));
        }
        if (full.Count + changed.Count + _answers.Count > 0)
        {
            messages.Add(Message(now, full, changed, control));
        }
        return messages;
    }

    /// <summary>The first moment after <paramref name="now"/> at which the node has something to do if nobody tells it anything and the world is left alone: a
    /// wake, a change, a heartbeat, the end of a lease. Nothing happens before it, so that nobody has to ask.</summary>
    /// <param name="now">UTC ms of site time up to which <see cref="Advance"/> was called.</param>
    /// <returns>UTC ms.</returns>
    public long NextAt(long now, WorldControl control)
    {
        var next = _nextWake;
        void May(long? at) => next = at < next ? at.Value : next;
        foreach (var reading in _node.Readings.Where(r => r.IntervalMs is null))
        {
            May(_sent.TryGetValue(reading.Key, out var last) ? last.At + reading.HeartbeatMs : now);
            May(_outputs.TryGetValue(reading.Key, out var output) ? _start + output.NextAt : World.SteadyUntil(_seed, _node.Key, reading.Quantity, now));
        }
        May(_start + _test.NextAt);
        May(_test.On ? _nextTest : null);
        May(control.TrippedUntil > now ? control.TrippedUntil : null);
        return Math.Max(next, now + 1);
    }

    /// <summary>Lets time pass for its outputs, as they do while nothing is sent.</summary>
    public void Tick(long now)
    {
        foreach (var output in _outputs.Values)
        {
            output.Advance(now - _start);
        }
        _test.Advance(now - _start);
    }

    /// <summary>Hears a command. What became of it goes with the next message, which is sent at once.</summary>
    /// <param name="clock">What the node takes for the time of day, UTC ms.</param>
    public void Hear(OutputCommand command, long now, long clock)
    {
        var taken =
            command.Output == OutputCommand.Test
                ? _test.Hear(command, clock, now - _start)
                : _outputs.TryGetValue(command.Output, out var output) && output.Hear(command, clock, now - _start);
        _answers.Add((taken ? OutputCommand.Taken : OutputCommand.Refused, command.Id, command.Output));
    }

    /// <summary>True while an output of the node is energised.</summary>
    public bool IsOn(string output) => output == OutputCommand.Test ? _test.On : _outputs.TryGetValue(output, out var found) && found.On;

    /// <summary>The server acknowledged something, or can be reached.</summary>
    public void ServerHeard(long now)
    {
        foreach (var output in _outputs.Values)
        {
            output.ServerHeard(now - _start);
        }
    }

    /// <summary>The link is lost: its outputs go to their safe state.</summary>
    public void LinkLost()
    {
        foreach (var output in _outputs.Values)
        {
            output.Safe();
        }
        _test.Safe();
    }

    /// <summary>Drains the cells as Rhythm says. False once they are empty.</summary>
    private bool Live(long now)
    {
        if (CellShare is { } share && _rhythm.Life?.Value is { } days)
        {
            CellShare = Math.Max(0, share - (now - _drained) / (days * 86_400_000));
        }
        _drained = now;
        return CellShare is not 0;
    }

    private bool Changed(ReadingDesign reading, long now, WorldControl control) =>
        !_sent.TryGetValue(reading.Key, out var last)
        || last.Value != ValueOf(reading, now, control)
        || (reading.HeartbeatMs is { } beat && now - last.At >= beat);

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
        records.AddRange(_answers.Select(a => new SenmlValue(a.Name, null, a.Command)));
        _answers.Clear();
        if (_number == 0 && Settings is { } settings)
        {
            records.AddRange([new("sys/cfg", null, 0, Text: settings), new("sys/fw", null, 0, Text: "stand-in 1"), new("sys/rst", null, 0, Text: "power")]);
        }
        _number++;
        if (_test.On && _node.Link == LinkKind.Wifi)
        {
            records.Add(new("sys/rssi", "dBm", World.Value(_seed, _node.Key, "", "signal", now, control)));
        }
        records.Add(new("sys/boot", null, _boot));
        records.Add(new("sys/seq", null, _number));
        if (CellShare is { } share && _catalogue.Cell(_node.Power.Cell ?? "")?.InSeries(_node.Power.Series) is { } cell)
        {
            // Down the discharge curve, to where the plan calls the cells empty.
            records.Add(new("sys/bat", "V", Math.Round(BatteryLife.VoltsAt(cell, (1 - share) * cell.UsableFraction.Likely), 2)));
        }
        return new(now, _boot, _number, Senml.Write((now + ClockOffsetMs) / 1000.0, records));
    }

    /// <summary>What is left of cells that were fitted on a day: a life as planned, from full.</summary>
    private static double Left(DateOnly? fitted, RhythmPlan rhythm, long now) =>
        fitted is { } on && rhythm.Life?.Value is > 0 and var days
            ? Math.Clamp(1 - (now / 86_400_000.0 - (on.DayNumber - DateOnly.FromDateTime(DateTime.UnixEpoch).DayNumber)) / days, LeastShare, 1)
            : 1;

    private double ValueOf(ReadingDesign reading, long now, WorldControl control)
    {
        if (_outputs.TryGetValue(reading.Key, out var output))
        {
            return output.On ? 1 : 0;
        }
        var exact = World.Value(_seed, _node.Key, reading.Part, reading.Quantity, now, control);
        exact = Corrections.TryGetValue(reading.Key, out var correction) ? correction.Apply(exact) : exact;
        return Math.Round(exact, Math.Max(reading.Decimals, reading.Quantity == "distance" ? 3 : reading.Decimals));
    }

    private string UnitOf(ReadingDesign reading) =>
        _node.Part(reading.Part) is { } instance
            ? _catalogue.Part(instance.Part)?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity)?.Unit ?? ""
            : "";
}
