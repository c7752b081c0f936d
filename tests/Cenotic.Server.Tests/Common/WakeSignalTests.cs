using Cenotic.Server.Common;
using Microsoft.Extensions.Time.Testing;

namespace Cenotic.Server.Tests.Common;

public class WakeSignalTests
{
    private readonly FakeTimeProvider _time = new();

    [Fact]
    public async Task What_happened_before_the_wait_is_not_lost_and_happens_once()
    {
        var signal = new WakeSignal(_time);
        signal.Wake();
        signal.Wake();
        Assert.True(await signal.WaitAsync(null, default));
        var again = signal.WaitAsync(TimeSpan.FromMinutes(1), default);
        Assert.False(again.IsCompleted);
        _time.Advance(TimeSpan.FromMinutes(1));
        Assert.False(await again);
    }

    [Fact]
    public async Task Who_waits_goes_on_when_something_happens()
    {
        var signal = new WakeSignal(_time);
        var waits = signal.WaitAsync(null, default);
        _time.Advance(TimeSpan.FromDays(1));
        Assert.False(waits.IsCompleted);
        signal.Wake();
        Assert.True(await waits);
    }

    [Fact]
    public async Task A_wait_that_is_stopped_throws_and_takes_nothing()
    {
        var (signal, stop) = (new WakeSignal(_time), new CancellationTokenSource());
        var waits = signal.WaitAsync(null, stop.Token);
        await stop.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => waits);
        signal.Wake();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => signal.WaitAsync(null, stop.Token));
        Assert.True(await signal.WaitAsync(null, default));
    }
}
