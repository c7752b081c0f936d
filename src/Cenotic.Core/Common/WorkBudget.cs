namespace Cenotic.Core.Common;

/// <summary>A plan takes more work than it may.</summary>
public sealed class WorkBudgetException(long steps) : Exception($"More than {steps} steps.");

/// <summary>
/// How much work something worked out may take, in steps of its searches, so that no design can hold up the machine. The
/// same design takes the same steps, so what fits the budget fits it each time. For one thread.
/// </summary>
/// <param name="most">Steps that may be taken.</param>
/// <param name="stop">Ends the work at once, because nobody waits for it any more.</param>
public sealed class WorkBudget(long most, CancellationToken stop = default)
{
    /// <summary>Steps between two looks at whether somebody still waits.</summary>
    private const int LookEvery = 256;

    /// <summary>Steps taken so far.</summary>
    public long Spent { get; private set; }

    /// <summary>Steps that may be taken.</summary>
    public long Most => most;

    /// <summary>A budget that ends only with the asker.</summary>
    public static WorkBudget Unbounded => new(long.MaxValue);

    /// <summary>Takes steps.</summary>
    /// <exception cref="WorkBudgetException">The budget is used up.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits for it any more.</exception>
    public void Spend(int steps = 1)
    {
        var before = Spent / LookEvery;
        Spent += steps;
        if (Spent / LookEvery != before)
        {
            stop.ThrowIfCancellationRequested();
        }
        if (Spent > most)
        {
            throw new WorkBudgetException(most);
        }
    }
}
