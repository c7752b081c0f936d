using Cenotic.Server.Common;
using Microsoft.Extensions.Time.Testing;

namespace Cenotic.Server.Tests.Common;

/// <summary>A connection that is kept up, by a clock that the test turns.</summary>
public class ConnectingTests
{
    private static readonly TimeSpan Second = TimeSpan.FromSeconds(1);

    /// <summary>A clock that tells when somebody waits for it.</summary>
    private sealed class Clock : FakeTimeProvider
    {
        private readonly SemaphoreSlim _waits = new(0);

        public override ITimer CreateTimer(TimerCallback callback, object? state, TimeSpan dueTime, TimeSpan period)
        {
            var timer = base.CreateTimer(callback, state, dueTime, period);
            _waits.Release();
            return timer;
        }

        public async Task WaitedForAsync() => Assert.True(await _waits.WaitAsync(TimeSpan.FromSeconds(30)), "somebody waits");
    }

    /// <summary>A connection of which the test says whether it opens and when it ends.</summary>
    private sealed class Line
    {
        private readonly SemaphoreSlim _tried = new(0);
        private TaskCompletionSource _ends = new();

        public Clock Clock { get; } = new();

        public bool Opens { get; set; }

        public List<string> Faults { get; } = [];

        public Task Kept(CancellationToken stop) => Connecting.KeepAsync(Open, Use, fault => Faults.Add(fault.Message), Clock, stop);

        /// <summary>True when it is tried within a time, and not before it.</summary>
        public async Task<bool> TriedAfterAsync(TimeSpan wait)
        {
            await Clock.WaitedForAsync();
            Clock.Advance(wait - TimeSpan.FromMilliseconds(1));
            var early = _tried.CurrentCount > 0;
            Clock.Advance(TimeSpan.FromMilliseconds(1));
            return await _tried.WaitAsync(TimeSpan.FromSeconds(30)) && !early;
        }

        public async Task TriedAsync() => Assert.True(await _tried.WaitAsync(TimeSpan.FromSeconds(30)), "it is tried");

        public void End()
        {
            var ends = _ends;
            _ends = new();
            ends.SetException(new IOException("ended"));
        }

        private ValueTask<Task> Open(CancellationToken stop)
        {
            _tried.Release();
            return Opens ? new(_ends.Task) : throw new IOException("refused");
        }

        private static Task Use(Task ends) => ends;
    }

    [Fact]
    public async Task Tries_that_fail_come_ever_further_apart_up_to_half_a_minute_and_near_again_once_it_was_open()
    {
        var line = new Line();
        using var stop = new CancellationTokenSource();
        var kept = line.Kept(stop.Token);
        await line.TriedAsync();
        foreach (var seconds in new[] { 1, 2, 4, 8, 16, 30, 30 })
        {
            Assert.True(await line.TriedAfterAsync(seconds * Second), $"after {seconds} s");
        }
        line.Opens = true;
        Assert.True(await line.TriedAfterAsync(30 * Second));
        line.Opens = false;
        line.End();
        foreach (var seconds in new[] { 1, 1, 2 })
        {
            Assert.True(await line.TriedAfterAsync(seconds * Second), $"after {seconds} s");
        }
        await line.Clock.WaitedForAsync();
        await stop.CancelAsync();
        await kept;
        Assert.Equal(12, line.Faults.Count);
        Assert.Single(line.Faults, "ended");
    }

    [Fact]
    public async Task One_that_takes_too_long_to_open_is_tried_again_like_any_other()
    {
        var (clock, tries) = (new Clock(), new SemaphoreSlim(0));
        using var stop = new CancellationTokenSource();
        ValueTask<bool> Open(CancellationToken _)
        {
            tries.Release();
            throw new TaskCanceledException("no answer in time");
        }
        var kept = Connecting.KeepAsync(Open, _ => Task.CompletedTask, _ => { }, clock, stop.Token);
        Assert.True(await tries.WaitAsync(TimeSpan.FromSeconds(30)));
        await clock.WaitedForAsync();
        clock.Advance(Second);
        Assert.True(await tries.WaitAsync(TimeSpan.FromSeconds(30)));
        await stop.CancelAsync();
        await kept;
    }
}
