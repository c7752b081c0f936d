namespace Cenotic.Core.Bench;

/// <summary>Exact minimum-cost assignment of rows to different columns (the Hungarian method in its shortest-path form: Kuhn 1955, Jonker and Volgenant 1987).</summary>
public static class Assignment
{
    /// <summary>A cell that may not be used. Sums of allowed costs stay below it.</summary>
    public const long Forbidden = 1L << 61;

    private const long Unreached = long.MaxValue;

    /// <summary>The column of each row, or null when no complete assignment avoids the forbidden cells. The same input gives the same answer.</summary>
    /// <param name="cost">Row by row, <paramref name="columns"/> each, not negative.</param>
    public static int[]? Solve(ReadOnlySpan<long> cost, int rows, int columns)
    {
        if (rows > columns)
        {
            return null;
        }
        var rowPotential = new long[rows + 1];
        var columnPotential = new long[columns + 1];
        var rowOf = new int[columns + 1];
        var previous = new int[columns + 1];
        var nearest = new long[columns + 1];
        var done = new bool[columns + 1];
        for (var row = 1; row <= rows; row++)
        {
            rowOf[0] = row;
            var column = 0;
            Array.Fill(nearest, Unreached);
            Array.Clear(done);
            do
            {
                done[column] = true;
                int at = rowOf[column], next = -1;
                var step = Unreached;
                var line = cost.Slice((at - 1) * columns, columns);
                for (var j = 1; j <= columns; j++)
                {
                    if (done[j])
                    {
                        continue;
                    }
                    if (line[j - 1] != Forbidden && line[j - 1] - rowPotential[at] - columnPotential[j] is var reduced && reduced < nearest[j])
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
                    return null;
                }
                for (var j = 0; j <= columns; j++)
                {
                    if (done[j])
                    {
                        rowPotential[rowOf[j]] += step;
                        columnPotential[j] -= step;
                    }
                    else if (nearest[j] != Unreached)
                    {
                        nearest[j] -= step;
                    }
                }
                column = next;
            }
            while (rowOf[column] != 0);
            for (; column != 0; column = previous[column])
            {
                rowOf[column] = rowOf[previous[column]];
            }
        }
        var answer = new int[rows];
        for (var j = 1; j <= columns; j++)
        {
            if (rowOf[j] > 0)
            {
                answer[rowOf[j] - 1] = j - 1;
            }
        }
        return answer;
    }
}
