namespace Cenotic.Core.Design;

/// <summary>The edits that lead from a node to a changed one, for remedies that are worked out as nodes.</summary>
internal static class NodeEdits
{
    /// <summary>Edits from one node to another with the same key.</summary>
    internal static IReadOnlyList<DesignEdit> Between(NodeDesign before, NodeDesign after)
    {
        var edits = new List<DesignEdit>();
        if (SetNodes.As(before) != SetNodes.As(after))
        {
            edits.Add(SetNodes.As(after));
        }
        edits.AddRange(before.Wires.Where(w => !after.Wires.Contains(w)).Select(w => new RemoveWire(before.Key, w.Part, w.Line)));
        edits.AddRange(before.Readings.Where(r => after.Readings.All(a => a.Key != r.Key)).Select(r => new RemoveReading(before.Key, r.Key)));
        edits.AddRange(before.Parts.Where(p => after.Part(p.Key) is null).Select(p => new RemovePart(before.Key, p.Key)));
        edits.AddRange(after.Parts.Where(p => before.Part(p.Key) != p).Select(p => new PutPart(before.Key, p)));
        edits.AddRange(after.Readings.Where(r => !before.Readings.Contains(r)).Select(r => new PutReading(before.Key, r)));
        return edits;
    }

    /// <summary>A node with the edits of <see cref="Between"/> on top of what others changed; <paramref name="before"/> is what they were made on.</summary>
    internal static NodeDesign Apply(NodeDesign node, NodeDesign before, IReadOnlyList<DesignEdit> edits)
    {
        foreach (var edit in edits)
        {
            node = edit switch
            {
                SetNode e => node with
                {
                    Board = e.Board != before.Board ? e.Board : node.Board,
                    Power = e.Power != before.Power ? e.Power : node.Power,
                    Link = e.Link != before.Link ? e.Link : node.Link,
                    Sleeps = e.Sleeps != before.Sleeps ? e.Sleeps : node.Sleeps,
                    Sending = e.Sending != before.Sending ? e.Sending : node.Sending,
                    Radio = e.Radio != before.Radio ? e.Radio : node.Radio,
                },
                RemoveWire e => node with { Wires = [.. node.Wires.Where(w => w.Part != e.Part || w.Line != e.Line)] },
                PutPart e => node with
                {
                    Parts = node.Part(e.Part.Key) is null ? [.. node.Parts, e.Part] : [.. node.Parts.Select(p => p.Key == e.Part.Key ? e.Part : p)],
                },
                PutReading e => node with
                {
                    Readings = [.. node.Readings.Select(r => r.Key != e.Reading.Key ? r : Merge(r, before.Readings.First(b => b.Key == r.Key), e.Reading))],
                },
                _ => node,
            };
        }
        return node;
    }

    /// <summary>A key that no part of the node has.</summary>
    internal static string FreeKey(NodeDesign node, string wish)
    {
        var key = wish;
        for (var i = 2; node.Part(key) is not null; i++)
        {
            key = $"{wish}-{i}";
        }
        return key;
    }

    private static ReadingDesign Merge(ReadingDesign now, ReadingDesign before, ReadingDesign wanted) =>
        now with
        {
            IntervalMs = wanted.IntervalMs != before.IntervalMs ? wanted.IntervalMs : now.IntervalMs,
            HeartbeatMs = wanted.HeartbeatMs != before.HeartbeatMs ? wanted.HeartbeatMs : now.HeartbeatMs,
            BatchOf = wanted.BatchOf != before.BatchOf ? wanted.BatchOf : now.BatchOf,
        };
}
