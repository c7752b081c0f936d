using System.Collections.Concurrent;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Sites;

/// <summary>Site time of each site; runs faster than the system's only in a demo. Rules, samples and stand-ins live on it.</summary>
public sealed class SiteClock(TimeProvider system)
{
    private const long NoticedMs = 2_000;
    private readonly ConcurrentDictionary<string, (long System, long Site, double Speed)> _epochs = [];
    private readonly ConcurrentDictionary<string, long> _newest = [];

    /// <summary>Called after the time of a site goes on from another moment or at another speed: who waits for a moment of it waits anew.</summary>
    public event Action? Changed;

    /// <summary>Takes the epoch of a site from its row.</summary>
    public void Set(SiteRow site)
    {
        _epochs[site.Key] = (site.EpochSystemMs, site.EpochSiteMs, site.Speed);
        Changed?.Invoke();
    }

    /// <summary>How long it takes until a moment of a site; zero when it has passed.</summary>
    /// <param name="atMs">UTC ms of site time.</param>
    public TimeSpan Until(string site, long atMs) =>
        TimeSpan.FromMilliseconds(Math.Clamp(Math.Ceiling((atMs - Now(site)) / Speed(site)), 0, TimeSpan.FromDays(1).TotalMilliseconds));

    /// <summary>UTC ms of site time.</summary>
    public long Now(string site)
    {
        var now = system.GetUtcNow().ToUnixTimeMilliseconds();
        now = _epochs.TryGetValue(site, out var e) ? e.Site + (long)((now - e.System) * e.Speed) : now;
        Seen(site, now);
        return now;
    }

    /// <summary>Takes a moment that has been at a site: that of its newest message, after a start.</summary>
    public void Seen(string site, long ms)
    {
        if (!_newest.TryGetValue(site, out var newest) || ms > newest)
        {
            _newest[site] = ms;
        }
    }

    /// <summary>How far the clock of this machine was set back, as long as it has not come to
    /// where it was, ms of site time; null while it goes right.</summary>
    public long? BehindMs(string site) => _newest.TryGetValue(site, out var newest) && newest - Now(site) is > NoticedMs and var behind ? behind : null;

    /// <summary>Until when what arrives counts as late because the clock was set back, ms of site time; null while it goes right.</summary>
    public long? LateUntilMs(string site) => BehindMs(site) is { } behind ? Now(site) + behind : null;

    /// <summary>Takes the clock as right from now on, whatever moments it has shown before.</summary>
    public void TakeAsRight(string site)
    {
        _newest.TryRemove(site, out _);
        Now(site);
    }

    public double Speed(string site) => _epochs.TryGetValue(site, out var e) ? e.Speed : 1;

    /// <summary>Changes the speed from now on, without a jump; the caller stores the row.</summary>
    public void ChangeSpeed(SiteRow site, double speed)
    {
        (site.EpochSiteMs, site.EpochSystemMs, site.Speed) = (Now(site.Key), system.GetUtcNow().ToUnixTimeMilliseconds(), speed);
        Set(site);
    }
}
