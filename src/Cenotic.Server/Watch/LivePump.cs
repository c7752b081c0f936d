using System.Threading.Channels;
using Cenotic.Server.Accounts;
using Cenotic.Server.Common;
using Cenotic.Server.Live;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;

namespace Cenotic.Server.Watch;

/// <summary>Carries committed samples and changes to the feed without holding up the writer: when
/// pages are slow the oldest are left out, the store has them all.</summary>
public sealed class LivePump(SampleWriter writer, SiteBook book, LiveFeed feed, LiveConnections connections, ViewReader views, LoopHealth health)
    : BackgroundService
{
    private readonly Channel<Func<Task>> _work = Channel.CreateBounded<Func<Task>>(
        new BoundedChannelOptions(2_000) { SingleReader = true, FullMode = BoundedChannelFullMode.DropOldest }
    );

    public override Task StartAsync(CancellationToken cancellationToken)
    {
        writer.Committed += samples => _work.Writer.TryWrite(() => SendAsync(samples));
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

    private async Task SendAsync(IReadOnlyList<StoredSample> samples)
    {
        foreach (var site in samples.GroupBy(s => s.Site))
        {
            var live = site.Select(s => new LiveSample(s.Node, s.Key, s.T, s.Value, (int)s.Flags)).ToList();
            await feed.SamplesAsync(site.Key, live);
            foreach (var view in connections.ViewsOf(site.Key))
            {
                var shown = views.Find(site.Key, view)?.Tiles.SelectMany(t => t.Content.Readings).ToHashSet() ?? [];
                if (live.FindAll(s => shown.Contains(new(s.Node, s.Key))) is { Count: > 0 } seen)
                {
                    await feed.SamplesOfViewAsync(site.Key, view, seen);
                }
            }
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (var send in _work.Reader.ReadAllAsync(stoppingToken))
        {
            await health.RunAsync("live updates", send, stoppingToken);
        }
    }
}
