namespace Cenotic.Core.Bench;

/// <summary>Exact minimum-cost assignment of rows to different columns (the Hungarian method in its shortest-path form: Kuhn 1955, Jonker and Volgenant 1987).</summary>
public static class Assignment
{
    private static readonly Int128 Forbidden = Int128.One << 110;
    private static readonly Int128 Unreached = Int128.One << 120;

    /// <summary>The column of each row, or null when no complete assignment avoids the forbidden cells.</summary>
    /// <param name="cost">Rows by columns; null forbids a cell. The same input gives the same answer.</param>
    public static int[]? Solve(Int128?[,] cost)
    {
        int rows = cost.GetLength(0), columns = cost.GetLength(1);
        if (rows > columns)
        {
            return null;
        }
        var rowPotential = new Int128[rows + 1];
        var columnPotential = new Int128[columns + 1];
        var rowOf = new int[columns + 1];
        var previous = new int[columns + 1];
        var nearest = new Int128[columns + 1];
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
                int at = rowOf[column], next = 0;
                var step = Unreached;
                for (var j = 1; j <= columns; j++)
                {
                    if (done[j])
                    {
                        continue;
                    }
                    var reduced = (cost[at - 1, j - 1] ?? Forbidden) - rowPotential[at] - columnPotential[j];
                    if (reduced < nearest[j])
                    {
                        (nearest[j], previous[j]) = (reduced, column);
                    }
                    if (nearest[j] < step)
                    {
                        (step, next) = (nearest[j], j);
                    }
                }
                for (var j = 0; j <= columns; j++)
                {
                    if (done[j])
                    {
                        rowPotential[rowOf[j]] += step;
                        columnPotential[j] -= step;
                    }
                    else
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
                if (cost[rowOf[j] - 1, j - 1] is null)
                {
                    return null;
                }
                answer[rowOf[j] - 1] = j - 1;
            }
        }
        return answer;
    }
}
