using Cenotic.Core.Formats;
using Cenotic.Server.Samples;

namespace Cenotic.Server.Ingest;

/// <summary>Hands the values of a table to the writer, in batches of one node each and a few at once; counts what came of them.</summary>
/// <param name="imported">A value as a sample of its reading, or why it is none.</param>
/// <param name="store">Hands samples of a node over.</param>
internal sealed class ImportBatches(
    CsvLayout layout,
    Func<CsvColumn, CsvValues, double, (DecodedSample? Sample, string? Reason)> imported,
    Func<string, IReadOnlyList<DecodedSample>, Task<StoreResult>> store
)
{
    private const int SamplesOfABatch = 1_000,
        BatchesAtOnce = 4,
        ShownRefusals = 50;
    private readonly Dictionary<string, List<DecodedSample>> _batches = [];
    private readonly Queue<Task<StoreResult>> _under = new();
    private readonly List<string> _refusals = [];

    /// <summary>Samples that were handed over, and those of them that were new.</summary>
    internal long Handed { get; private set; }

    /// <inheritdoc cref="Handed"/>
    internal long Fresh { get; private set; }

    /// <summary>Values that were refused; why, of the first ones.</summary>
    internal long Refused { get; private set; }

    /// <inheritdoc cref="Refused"/>
    internal IReadOnlyList<string> Refusals => _refusals;

    /// <summary>Takes a row of the table.</summary>
    internal async Task TakeAsync(CsvValues row)
    {
        Note(row.Refusals);
        foreach (var (column, value) in row.Values)
        {
            var to = layout.Columns[column];
            var (sample, reason) = imported(to, row, value);
            if (reason is not null)
            {
                Note([$"Row {row.Row}: {reason}"]);
                continue;
            }
            (_batches.TryGetValue(to.Node, out var batch) ? batch : _batches[to.Node] = []).Add(sample!);
            if (_batches[to.Node].Count >= SamplesOfABatch)
            {
                await HandAsync(to.Node);
            }
        }
    }

    /// <summary>Hands over what is left, and waits until all is stored.</summary>
    internal async Task FinishAsync()
    {
        foreach (var node in _batches.Where(b => b.Value.Count > 0).Select(b => b.Key).ToList())
        {
            await HandAsync(node);
        }
        while (_under.Count > 0)
        {
            await TakeOneAsync();
        }
    }

    /// <summary>Counts what was under way when the import ended before its time, until this program ends too.</summary>
    internal async Task CountLastAsync(CancellationToken ends)
    {
        foreach (var last in _under)
        {
            Fresh += await Task.WhenAny(last, Task.Delay(Timeout.Infinite, ends)) == last && last.IsCompletedSuccessfully ? last.Result.Fresh : 0;
        }
    }

    private async Task HandAsync(string node)
    {
        var samples = _batches[node];
        _batches[node] = [];
        Handed += samples.Count;
        _under.Enqueue(store(node, samples));
        if (_under.Count >= BatchesAtOnce)
        {
            await TakeOneAsync();
        }
    }

    private async Task TakeOneAsync()
    {
        var stored = await _under.Dequeue();
        Fresh += stored.Fresh;
        Note(stored.Refusal is { } reason ? [reason] : []);
    }

    private void Note(IEnumerable<string> reasons)
    {
        foreach (var reason in reasons)
        {
            Refused++;
            if (_refusals.Count < ShownRefusals)
            {
                _refusals.Add(reason);
            }
        }
    }
}
