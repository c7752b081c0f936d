using System.Threading.Channels;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;

namespace Cenotic.Server.Live;

/// <summary>Carries committed samples and changes to the feed without holding up the writer: when
/// pages are slow the oldest are left out, the store has them all.</summary>
public sealed class LivePump(SampleWriter writer, SiteBook book, LiveFeed feed, LoopHealth health) : BackgroundService
{
    private readonly Channel<Func<Task>> _work = Channel.CreateBounded<Func<Task>>(
        new BoundedChannelOptions(2_000) { SingleReader = true, FullMode = BoundedChannelFullMode.DropOldest }
    );

    public override Task StartAsync(CancellationToken cancellationToken)
    {
        writer.Committed += samples => _work.Writer.TryWrite(() => feed.SamplesAsync(samples));
        writer.Refused += messages =>
        {
            foreach (var message in messages.DistinctBy(m => (m.Site, m.Node)))
            {
                _work.Writer.TryWrite(() => feed.RefusedAsync(message.Site, message.Node));
            }
        };
        book.Changed += state => _work.Writer.TryWrite(() => feed.RevisionAsync(state.Site, state.Revision));
        return base.StartAsync(cancellationToken);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (var send in _work.Reader.ReadAllAsync(stoppingToken))
        {
            await health.RunAsync("live updates", send, stoppingToken);
        }
    }
}
