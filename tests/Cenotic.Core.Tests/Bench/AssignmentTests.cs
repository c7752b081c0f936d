using Cenotic.Core.Bench;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

/// <summary>The assignment against trying every permutation.</summary>
public class AssignmentTests
{
    [Fact]
    public void It_finds_the_optimum_or_knows_that_there_is_none() =>
        Gen.Select(Gen.Int[1, 5], Gen.Int[1, 6], Gen.Int[0, 60].Array[30])
            .Sample(
                (rows, columns, numbers) =>
                {
                    // About a quarter of the cells are forbidden.
                    var cost = new long?[rows, columns];
                    for (var i = 0; i < rows * columns; i++)
                    {
                        cost[i / columns, i % columns] = numbers[i] < 45 ? numbers[i] : null;
                    }
                    var answer = Assignment.Solve(Rows(cost), cost.GetLength(1));
                    var best = Best(cost, 0, new bool[columns]);
                    if (best is null)
                    {
                        return answer is null;
                    }
                    return answer is not null
                        && answer.Distinct().Count() == rows
                        && answer.Select((c, r) => cost[r, c]!.Value).Aggregate((a, b) => a + b) == best;
                },
                iter: 3000
            );

    [Fact]
    public void Of_assignments_that_cost_the_same_it_gives_the_first_whatever_order_the_rows_came_in() =>
        Gen.Select(Gen.Int[1, 5], Gen.Int[1, 6], Gen.Int[0, 3].Array[30], Gen.Shuffle(new[] { 0, 1, 2, 3, 4 }))
            .Sample(
                (rows, columns, numbers, shuffle) =>
                {
                    // Few costs, so that many assignments are equal. A quarter of the cells are forbidden.
                    var cost = new long?[rows, columns];
                    for (var i = 0; i < rows * columns; i++)
                    {
                        cost[i / columns, i % columns] = numbers[i] < 3 ? numbers[i] : null;
                    }
                    var added = shuffle.Where(r => r < rows).ToArray();
                    var assignment = new Assignment(columns);
                    if (!added.All(r => assignment.Add(Rows(cost)[r])))
                    {
                        return Best(cost, 0, new bool[columns]) is null;
                    }
                    var answer = assignment.FirstColumns(Enumerable.Range(0, rows).Select(r => Array.IndexOf(added, r)));
                    return First(cost, Best(cost, 0, new bool[columns])!.Value, []) is { } first
                        && first.SequenceEqual(added.Select((r, i) => (r, i)).OrderBy(a => a.r).Select(a => answer[a.i]));
                },
                iter: 5000
            );

    /// <summary>The first of all columns of rows, tried in order, that cost as much.</summary>
    private static int[]? First(long?[,] cost, long left, int[] taken)
    {
        if (taken.Length == cost.GetLength(0))
        {
            return left == 0 ? taken : null;
        }
        return Enumerable
            .Range(0, cost.GetLength(1))
            .Where(c => !taken.Contains(c) && cost[taken.Length, c] is not null)
            .Select(c => First(cost, left - cost[taken.Length, c]!.Value, [.. taken, c]))
            .FirstOrDefault(answer => answer is not null);
    }

    [Fact]
    public void Costs_compare_from_left_to_right() =>
        Gen.Select(Gen.Int[0, 60].Array[6], Gen.Int[0, 60].Array[6])
            .Sample(
                (a, b) =>
                {
                    var left = new PlanCost(a[0], a[1], a[2], a[3], a[4], a[5]);
                    var right = new PlanCost(b[0], b[1], b[2], b[3], b[4], b[5]);
                    var byHand = a.Zip(b).Select(p => p.First.CompareTo(p.Second)).FirstOrDefault(c => c != 0);
                    return Math.Sign(left.CompareTo(right)) == byHand && (left + right).Packed == left.Packed + right.Packed;
                }
            );

    private static long? Best(long?[,] cost, int row, bool[] taken)
    {
        if (row == cost.GetLength(0))
        {
            return 0;
        }
        long? best = null;
        for (var c = 0; c < cost.GetLength(1); c++)
        {
            if (taken[c] || cost[row, c] is not { } here)
            {
                continue;
            }
            taken[c] = true;
            if (Best(cost, row + 1, taken) is { } rest && (best is null || here + rest < best))
            {
                best = here + rest;
            }
            taken[c] = false;
        }
        return best;
    }

    private static long[][] Rows(long?[,] cost) =>
        [
            .. Enumerable
                .Range(0, cost.GetLength(0))
                .Select(r => Enumerable.Range(0, cost.GetLength(1)).Select(c => cost[r, c] ?? Assignment.Forbidden).ToArray()),
        ];
}
