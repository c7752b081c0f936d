using System.Collections.Concurrent;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Sites;

/// <summary>Site time of each site; runs faster than the system's only in a demo. Rules, samples and stand-ins live on it.</summary>
public sealed class SiteClock(TimeProvider system)
{
    private readonly ConcurrentDictionary<string, (long System, long Site, double Speed)> _epochs = [];

    /// <summary>Takes the epoch of a site from its row.</summary>
    public void Set(SiteRow site) => _epochs[site.Key] = (site.EpochSystemMs, site.EpochSiteMs, site.Speed);

    /// <summary>UTC ms of site time.</summary>
    public long Now(string site)
    {
        var now = system.GetUtcNow().ToUnixTimeMilliseconds();
        return _epochs.TryGetValue(site, out var e) ? e.Site + (long)((now - e.System) * e.Speed) : now;
    }

    public double Speed(string site) => _epochs.TryGetValue(site, out var e) ? e.Speed : 1;

    /// <summary>Changes the speed from now on, without a jump; the caller stores the row.</summary>
    public void ChangeSpeed(SiteRow site, double speed)
    {
        (site.EpochSiteMs, site.EpochSystemMs, site.Speed) = (Now(site.Key), system.GetUtcNow().ToUnixTimeMilliseconds(), speed);
        Set(site);
    }
}
