namespace Cenotic.Core.Bench;

/// <summary>
/// Exact minimum-cost assignment of rows to different columns that grows by one row at a time (the Hungarian method in its shortest-path form: Kuhn 1955,
/// Jonker and Volgenant 1987). After each row it holds the optimum of the rows so far.
/// </summary>
/// <param name="columns">Number of columns.</param>
public sealed class Assignment(int columns)
{
    /// <summary>A cell that may not be used. Sums of allowed costs stay below it.</summary>
    public const long Forbidden = 1L << 61;

    private const long Unreached = long.MaxValue;
    private readonly List<long[]> _rows = [];
    private readonly List<long> _rowPotential = [0];
    private long[] _columnPotential = new long[columns + 1];

    /// <summary>1-based row on each 1-based column; 0 when free.</summary>
    private int[] _rowOf = new int[columns + 1];

    /// <summary>Least cost of the rows so far.</summary>
    public long Total { get; private set; }

    /// <summary>A copy that grows apart from this one.</summary>
    public Assignment Copy()
    {
        var copy = new Assignment(columns)
        {
            Total = Total,
            _columnPotential = (long[])_columnPotential.Clone(),
            _rowOf = (int[])_rowOf.Clone(),
        };
        copy._rows.AddRange(_rows);
        copy._rowPotential.Clear();
        copy._rowPotential.AddRange(_rowPotential);
        return copy;
    }

    /// <summary>Adds a row; false, and of no further use, when the rows cannot each have a column of their own.</summary>
    /// <param name="cost">A cost for each column, not negative, or <see cref="Forbidden"/>. Kept, not copied.</param>
    public bool Add(long[] cost)
    {
        _rows.Add(cost);
        _rowPotential.Add(0);
        Span<long> nearest = stackalloc long[columns + 1];
        Span<int> previous = stackalloc int[columns + 1];
        Span<bool> done = stackalloc bool[columns + 1];
        nearest.Fill(Unreached);
        done.Clear();
        _rowOf[0] = _rows.Count;
        var column = 0;
        do
        {
            done[column] = true;
            int at = _rowOf[column],
                next = -1;
            var (step, line, own) = (Unreached, _rows[at - 1], _rowPotential[at]);
            for (var j = 1; j <= columns; j++)
            {
                if (done[j])
                {
                    continue;
                }
                if (line[j - 1] != Forbidden && line[j - 1] - own - _columnPotential[j] is var reduced && reduced < nearest[j])
                {
                    (nearest[j], previous[j]) = (reduced, column);
                }
                if (nearest[j] < step)
                {
                    (step, next) = (nearest[j], j);
                }
            }
            if (next < 0)
            {
                return false;
            }
            for (var j = 0; j <= columns; j++)
            {
                if (done[j])
                {
                    _rowPotential[_rowOf[j]] += step;
                    _columnPotential[j] -= step;
                }
                else if (nearest[j] != Unreached)
                {
                    nearest[j] -= step;
                }
            }
            column = next;
        } while (_rowOf[column] != 0);
        for (; column != 0; column = previous[column])
        {
            _rowOf[column] = _rowOf[previous[column]];
        }
        Total = -_columnPotential[0];
        return true;
    }

    /// <summary>The column of each row, in the order they were added.</summary>
    public int[] Columns()
    {
        var answer = new int[_rows.Count];
        for (var j = 1; j <= columns; j++)
        {
            if (_rowOf[j] > 0)
            {
                answer[_rowOf[j] - 1] = j - 1;
            }
        }
        return answer;
    }

    /// <summary>
    /// The column of each row, in the order they were added: of all assignments that cost least the one in which the first row of an order has its lowest
    /// column, then the second, and so on. It does not depend on the order in which the rows were added, nor does it change when a cell that it does not
    /// use becomes dearer.
    /// </summary>
    /// <param name="order">Each row once, by its place among those added, from 0.</param>
    public int[] FirstColumns(IEnumerable<int> order)
    {
        var (columnOf, settled) = (Columns(), new bool[columns + 1]);
        foreach (var row in order)
        {
            var own = columnOf[row] + 1;
            for (var lower = 1; lower < own; lower++)
            {
                if (!settled[lower] && IsTight(row + 1, lower) && Exchange(lower, own, (bool[])settled.Clone()))
                {
                    _rowOf[lower] = row + 1;
                    (columnOf, own) = (Columns(), lower);
                }
            }
            settled[own] = true;
        }
        return columnOf;
    }

    /// <summary>
    /// True for a cell that an assignment of least cost may use. The potentials solve the dual problem, so all such assignments use only cells of reduced
    /// cost zero, and leave only columns of potential zero free (complementary slackness; Schrijver 2003, chapter 17). Row 0 stands for no row.
    /// </summary>
    private bool IsTight(int row, int column) =>
        row == 0
            ? _columnPotential[column] == 0
            : _rows[row - 1][column - 1] is var cost && cost != Forbidden && cost - _rowPotential[row] - _columnPotential[column] == 0;

    /// <summary>
    /// Moves the row of a column to another one, that column's row further on, and so on to the column that is to be given away. False, and nothing moved,
    /// when no chain of cells that cost nothing more leads there.
    /// </summary>
    private bool Exchange(int from, int free, bool[] seen)
    {
        seen[from] = true;
        for (var to = 1; to <= columns; to++)
        {
            if (seen[to] || !IsTight(_rowOf[from], to))
            {
                continue;
            }
            if (to == free || Exchange(to, free, seen))
            {
                _rowOf[to] = _rowOf[from];
                return true;
            }
        }
        return false;
    }

    /// <summary>The column of each row, or null when no complete assignment avoids the forbidden cells.</summary>
    public static int[]? Solve(IReadOnlyList<long[]> rows, int columns)
    {
        var assignment = new Assignment(columns);
        return rows.All(assignment.Add) ? assignment.Columns() : null;
    }
}
