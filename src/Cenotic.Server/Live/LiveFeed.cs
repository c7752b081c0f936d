using Cenotic.Server.Relay;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.AspNetCore.SignalR;

namespace Cenotic.Server.Live;

/// <summary>A sample as the browser gets it.</summary>
public sealed record LiveSample(string Node, string Key, long T, double Value, int Flags);

/// <summary>Sends what happens to the pages that are open. Groups are chosen by the server (<see cref="LiveHub"/>).</summary>
public sealed class LiveFeed(IHubContext<LiveHub> hub, LiveConnections connections, ViewReader views)
{
    public static string Group(string site) => "site:" + site;

    /// <summary>Those who watch one view over links.</summary>
    public static string ViewGroup(string site, string view) => $"view:{site}/{view}";

    public async Task SamplesAsync(IReadOnlyList<StoredSample> samples)
    {
        foreach (var site in samples.GroupBy(s => s.Site))
        {
            await hub
                .Clients.Group(Group(site.Key))
                .SendAsync("samples", site.Key, site.Select(s => new LiveSample(s.Node, s.Key, s.T, s.Value, (int)s.Flags)).ToList());
            foreach (var view in connections.ViewsOf(site.Key))
            {
                var shown = views.Find(site.Key, view)?.Tiles.SelectMany(t => t.Content.Readings).ToHashSet() ?? [];
                var seen = site.Where(s => shown.Contains(new(s.Node, s.Key))).Select(s => new LiveSample(s.Node, s.Key, s.T, s.Value, (int)s.Flags)).ToList();
                if (seen.Count > 0)
                {
                    await hub.Clients.Group(ViewGroup(site.Key, view)).SendAsync("samples", site.Key, seen);
                }
            }
        }
    }

    public Task RevisionAsync(string site, long revision) => hub.Clients.Group(Group(site)).SendAsync("revision", site, revision);

    public Task EpisodeAsync(EpisodeRow episode) => hub.Clients.Group(Group(episode.Site)).SendAsync("episode", episode.Site, Alerts.EpisodeView.Of(episode));

    public Task NoticesAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("notices", site);

    public Task ZonesAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("zones", site);

    public Task OutputsAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("outputs", site);

    public Task ScannedAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("scanned", site);

    public Task CalibratedAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("calibrated", site);

    public Task RefusedAsync(string site, string node) => hub.Clients.Group(Group(site)).SendAsync("refused", site, node);
}
