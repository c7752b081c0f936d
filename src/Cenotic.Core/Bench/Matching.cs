using System.Numerics;

namespace Cenotic.Core.Bench;

/// <summary>A bipartite matching of lines to pins that grows by one line at a time (augmenting paths; Kuhn 1955). Up to 128 pins.</summary>
internal sealed class Matching(int columns)
{
    private readonly List<UInt128> _rows = [];
    private int[] _rowOf = [.. Enumerable.Repeat(-1, columns)];

    internal Matching Copy()
    {
        var copy = new Matching(_rowOf.Length) { _rowOf = (int[])_rowOf.Clone() };
        copy._rows.AddRange(_rows);
        return copy;
    }

    /// <summary>Adds a line that may have any pin of the mask; false when then the lines cannot each have one.</summary>
    internal bool Add(UInt128 mask)
    {
        _rows.Add(mask);
        var seen = UInt128.Zero;
        return Augment(_rows.Count - 1, ref seen);
    }

    private bool Augment(int row, ref UInt128 seen)
    {
        for (var open = _rows[row] & ~seen; open != UInt128.Zero; open = _rows[row] & ~seen)
        {
            var column = (int)UInt128.TrailingZeroCount(open);
            seen |= UInt128.One << column;
            if (_rowOf[column] < 0 || Augment(_rowOf[column], ref seen))
            {
                _rowOf[column] = row;
                return true;
            }
        }
        return false;
    }
}
