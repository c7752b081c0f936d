using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>What each pin costs for each line of a node, as rows of an assignment; a line's row is worked out once.</summary>
internal sealed class PinRows
{
    private readonly Board _board;
    private readonly NodeDesign _node;
    private readonly PinTable _table;
    private readonly (string Wire, string Pin)? _forbid;
    private readonly Dictionary<(string Wire, PinNeeds Needs), long[]> _own = [];
    private readonly Dictionary<string, long[]> _distances = [];
    private readonly Dictionary<string, int> _locks = [];
    private readonly Dictionary<string, string> _soldered = [];

    /// <param name="forbid">A wire and a pin it must not use.</param>
    internal PinRows(Board board, NodeDesign node, PinTable table, (string Wire, string Pin)? forbid)
    {
        (_board, _node, _table, _forbid) = (board, node, table, forbid);
        // Of several wires fixed to one pin the first has it.
        foreach (var wire in node.Wires.Where(w => w.Hold == WireHold.Locked).DistinctBy(w => w.Pin))
        {
            if (table.IndexOf(wire.Pin) is var at and >= 0)
            {
                _locks[wire.Key] = at;
            }
        }
        foreach (var wire in node.Wires.Where(w => w.Hold == WireHold.Soldered))
        {
            _soldered[wire.Key] = wire.Pin;
        }
    }

    /// <summary>Soldered wires by key, with their pin.</summary>
    internal IReadOnlyDictionary<string, string> Soldered => _soldered;

    /// <summary>Pins that a line may have, one fixed by the maker whether it fits or not.</summary>
    internal UInt128 Mask(string wire, PinNeeds needs) => _locks.TryGetValue(wire, out var at) ? UInt128.One << at : _table.MaskOf(needs);

    /// <summary>The row of a line of its own.</summary>
    internal long[] Own(string part, string wire, PinNeeds needs)
    {
        if (!_own.TryGetValue((wire, needs), out var row))
        {
            _own[(wire, needs)] = row = Row([(part, wire)], needs);
        }
        return row;
    }

    /// <summary>The row of a line with these wires.</summary>
    internal long[] Row(IReadOnlyList<(string Part, string Wire)> wires, PinNeeds needs)
    {
        var judged = _table.RowOf(needs);
        var row = new long[_table.Columns.Count];
        var locked = -1;
        foreach (var (_, wire) in wires)
        {
            if (_locks.TryGetValue(wire, out var at))
            {
                locked = at;
                break;
            }
        }
        for (var c = 0; c < row.Length; c++)
        {
            row[c] = (locked >= 0 ? locked == c : judged.Fits[c].Fits) ? judged.Costs[c].Packed : Assignment.Forbidden;
        }
        foreach (var (part, wire) in wires)
        {
            var distances = DistancesOf(part);
            var soldered = _soldered.GetValueOrDefault(wire);
            for (var c = 0; c < row.Length; c++)
            {
                if (row[c] != Assignment.Forbidden)
                {
                    row[c] += distances[c] + (soldered is not null && soldered != _table.Columns[c].Id ? OneMove : 0);
                }
            }
            if (_forbid is { } f && f.Wire == wire && _table.IndexOf(f.Pin) is var away and >= 0)
            {
                row[away] = Assignment.Forbidden;
            }
        }
        return row;
    }

    private static readonly long OneMove = new PlanCost(1, 0, 0, 0, 0, 0).Packed;

    private long[] DistancesOf(string part)
    {
        if (!_distances.TryGetValue(part, out var distances))
        {
            var at = DemandList.PositionOf(_board, _node, part);
            _distances[part] = distances = [
                .. _table.Columns.Select(pin =>
                    HelperPins.IsHelper(pin) || at is null ? 0 : new PlanCost(0, 0, 0, 0, 0, Math.Abs(2 * pin.Position + 1 - at.Value)).Packed
                ),
            ];
        }
        return distances;
    }
}
