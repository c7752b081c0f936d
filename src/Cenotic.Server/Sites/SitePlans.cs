using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Planning;
using Cenotic.Server.Common;

namespace Cenotic.Server.Sites;

/// <summary>
/// The plans of sites as they stand. Each is worked out once for all who ask, on a thread of its own, so that no request and no message of a node waits for a
/// processor; it ends when it is superseded, or its askers left, and nobody wants it any more.
/// </summary>
public sealed class SitePlans(HardwareCatalogue catalogue) : IDisposable
{
    /// <summary>What is looked into on demand may take as much as the plans of four nodes.</summary>
    private const long MostStepsOfWork = 4 * SitePlanner.MostStepsOfNode;

    private const int MostWaiting = 100;

    private sealed class Run(SiteState state, Task<SitePlan> plan, CancellationTokenSource stop)
    {
        public SiteState For => state;

        public Task<SitePlan> Plan => plan;

        public CancellationTokenSource Stop => stop;

        public int Askers { get; set; }

        public bool IsSuperseded { get; set; }
    }

    private readonly Lock _lock = new();
    private readonly Dictionary<string, Run> _runs = [];
    private readonly Dictionary<string, PlanMemory> _memories = [];

    /// <summary>One processor is left to those who serve.</summary>
    private static readonly int Processors = Math.Max(1, Environment.ProcessorCount - 1);

    private readonly SemaphoreSlim _workers = new(Processors);
    private int _waiting;

    /// <summary>How many plans were begun, and how many of them were ended because nobody wanted them any more.</summary>
    internal int Begun { get; private set; }

    /// <inheritdoc cref="Begun"/>
    internal int Ended { get; private set; }

    /// <summary>Begins the plan of a site before somebody asks for it: the page that sent an edit asks for it next.</summary>
    public void Begin(SiteState state)
    {
        lock (_lock)
        {
            Newest(state);
        }
    }

    /// <summary>The plan of a site as it stands in a state. Who asks while it is worked out waits for the same one.</summary>
    /// <param name="stop">The asker leaves.</param>
    /// <exception cref="OperationCanceledException">The asker left.</exception>
    public async Task<SitePlan> OfAsync(SiteState state, CancellationToken stop)
    {
        Run run;
        lock (_lock)
        {
            run = Newest(state);
            run.Askers++;
        }
        try
        {
            return await run.Plan.WaitAsync(stop);
        }
        finally
        {
            lock (_lock)
            {
                run.Askers--;
                run.IsSuperseded |= stop.IsCancellationRequested && run.Askers == 0;
                EndIfUnwanted(run);
            }
        }
    }

    /// <summary>Works something else out of a design, beside what serves requests; what takes too much work is refused.</summary>
    /// <exception cref="WorkBudgetException">It takes more work than it may.</exception>
    /// <exception cref="TooBusyException">Too much waits already.</exception>
    public async Task<T> WorkAsync<T>(Func<WorkBudget, T> work, CancellationToken stop)
    {
        try
        {
            if (Interlocked.Increment(ref _waiting) > MostWaiting)
            {
                throw new TooBusyException();
            }
            await _workers.WaitAsync(stop);
        }
        finally
        {
            Interlocked.Decrement(ref _waiting);
        }
        try
        {
            return await OnOwnThread(() => work(new WorkBudget(MostStepsOfWork, stop)), stop);
        }
        finally
        {
            _workers.Release();
        }
    }

    public void Dispose() => _workers.Dispose();

    /// <summary>The run for a state: the newest one of the site, or one apart for a state that is older than that.</summary>
    private Run Newest(SiteState state)
    {
        if (_runs.TryGetValue(state.Site, out var newest))
        {
            if (ReferenceEquals(newest.For, state) && !newest.Plan.IsCanceled && !newest.Plan.IsFaulted && !newest.Stop.IsCancellationRequested)
            {
                newest.IsSuperseded = false;
                return newest;
            }
            if (newest.For.Revision > state.Revision)
            {
                return Start(state);
            }
            newest.IsSuperseded = true;
            EndIfUnwanted(newest);
        }
        return _runs[state.Site] = Start(state);
    }

    private Run Start(SiteState state)
    {
        var memory = _memories.TryGetValue(state.Site, out var known) ? known : _memories[state.Site] = new() { Processors = Processors };
        var stop = new CancellationTokenSource();
        Begun++;
        return new(state, OnOwnThread(() => SitePlanner.Plan(state.Design, catalogue, state.Evidence, state.Site, memory, stop.Token), stop.Token), stop);
    }

    private void EndIfUnwanted(Run run)
    {
        if (run is { IsSuperseded: true, Askers: 0, Stop.IsCancellationRequested: false } && !run.Plan.IsCompleted)
        {
            Ended++;
            run.Stop.Cancel();
        }
    }

    private static Task<T> OnOwnThread<T>(Func<T> work, CancellationToken stop) =>
        Task.Factory.StartNew(work, stop, TaskCreationOptions.LongRunning, TaskScheduler.Default);
}
