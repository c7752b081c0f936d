using Microsoft.AspNetCore.SignalR;

namespace Cenotic.Server.Live;

/// <summary>A sample as the browser gets it.</summary>
public sealed record LiveSample(string Node, string Key, long T, double Value, int Flags);

/// <summary>Sends what happens to the pages that are open. Groups are chosen by the server (<see cref="LiveHub"/>).</summary>
public sealed class LiveFeed(IHubContext<LiveHub> hub)
{
    public static string Group(string site) => "site:" + site;

    /// <summary>Those who watch one view over links.</summary>
    public static string ViewGroup(string site, string view) => $"view:{site}/{view}";

    public Task SamplesAsync(string site, IReadOnlyList<LiveSample> samples) => hub.Clients.Group(Group(site)).SendAsync("samples", site, samples);

    /// <summary>To those who watch one view over links.</summary>
    public Task SamplesOfViewAsync(string site, string view, IReadOnlyList<LiveSample> samples) =>
        hub.Clients.Group(ViewGroup(site, view)).SendAsync("samples", site, samples);

    public Task RevisionAsync(string site, long revision) => hub.Clients.Group(Group(site)).SendAsync("revision", site, revision);

    /// <param name="episode">As pages show it.</param>
    public Task EpisodeAsync<T>(string site, T episode) => hub.Clients.Group(Group(site)).SendAsync("episode", site, episode);

    public Task NoticesAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("notices", site);

    public Task ZonesAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("zones", site);

    public Task OutputsAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("outputs", site);

    public Task ScannedAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("scanned", site);

    public Task CalibratedAsync(string site) => hub.Clients.Group(Group(site)).SendAsync("calibrated", site);

    public Task RefusedAsync(string site, string node) => hub.Clients.Group(Group(site)).SendAsync("refused", site, node);
}
