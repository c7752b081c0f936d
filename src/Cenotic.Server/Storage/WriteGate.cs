using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>The one way to write in this process: one transaction at a time.</summary>
public sealed class WriteGate(IDbContextFactory<CenoticStore> stores) : IDisposable
{
    private readonly SemaphoreSlim _gate = new(1, 1);

    /// <summary>Runs a write in a transaction; committed when it returns, rolled back when it throws.</summary>
    /// <param name="kept">Called once it is committed, before the next write begins: what is remembered of it changes in the order of the writes.</param>
    public async Task<T> WriteAsync<T>(Func<CenoticStore, Task<T>> write, CancellationToken stop = default, Action<T>? kept = null)
    {
        await _gate.WaitAsync(stop);
        try
        {
            await using var store = await stores.CreateDbContextAsync(stop);
            await using var transaction = await store.Database.BeginTransactionAsync(stop);
            var result = await write(store);
            await store.SaveChangesAsync(stop);
            await transaction.CommitAsync(stop);
            kept?.Invoke(result);
            return result;
        }
        finally
        {
            _gate.Release();
        }
    }

    public Task WriteAsync(Func<CenoticStore, Task> write, CancellationToken stop = default) =>
        WriteAsync(
            async store =>
            {
                await write(store);
                return 0;
            },
            stop
        );

    /// <summary>Runs a write that has a transaction of its own, while no other runs.</summary>
    public async Task<T> AloneAsync<T>(Func<Task<T>> write, CancellationToken stop = default)
    {
        await _gate.WaitAsync(stop);
        try
        {
            return await write();
        }
        finally
        {
            _gate.Release();
        }
    }

    public void Dispose() => _gate.Dispose();
}
