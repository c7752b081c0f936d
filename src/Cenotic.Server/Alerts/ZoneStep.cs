using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>A zone as it stands.</summary>
internal sealed record ZoneNow(ZoneDesign Zone, ZoneState State);

/// <summary>A zone that turned, for those who sound it or show it.</summary>
public sealed record ZoneTurned(string Site, string Zone, ZoneEvent Event, ArmMode Mode);

/// <summary>The zones of a site within one transaction of the rules.</summary>
internal sealed class ZoneStep
{
    private readonly CenoticStore _store;
    private readonly SiteState _site;
    private readonly TimeZoneInfo _clock;
    private readonly Dictionary<string, ZoneStateRow> _rows;
    private readonly Dictionary<string, ZoneState> _states;
    private readonly Dictionary<string, Dictionary<string, long>> _gaps;

    /// <summary>What turned, in order.</summary>
    public List<ZoneTurned> Turned { get; } = [];

    private ZoneStep(CenoticStore store, SiteState site, Dictionary<string, ZoneStateRow> rows, long now)
    {
        (_store, _site, _rows) = (store, site, rows);
        _clock = TimeZoneInfo.FindSystemTimeZoneById(site.Design.Settings.TimeZone);
        _states = site.Design.Zones.ToDictionary(
            z => z.Key,
            z => rows.TryGetValue(z.Key, out var row) ? JsonSerializer.Deserialize<ZoneState>(row.State, CenoticJson.Options)! : ZoneState.Start(now)
        );
        _gaps = site.Design.Zones.ToDictionary(z => z.Key, z => GapsOf(site.Design, z));
    }

    public static async Task<ZoneStep> LoadAsync(CenoticStore store, SiteState site, long now) =>
        new(store, site, await store.ZoneStates.Where(z => z.Site == site.Site).ToDictionaryAsync(z => z.Zone), now);

    /// <summary>Readings that a zone needs.</summary>
    public static IEnumerable<(string Node, string Reading)> ReadingsOf(ZoneDesign zone) =>
        zone
            .Sensors.Select(s => (s.Node, s.Reading))
            .Concat(zone.Button is { } b ? [(b.Node, b.Reading)] : [])
            .Concat(zone.Presence is { } p ? [(p.Node, p.Reading)] : [])
            .Distinct();

    public static Dictionary<string, long> GapsOf(SiteDesign design, ZoneDesign zone) =>
        zone
            .Sensors.Select(s => (Key: $"{s.Node}/{s.Reading}", Gap: design.Node(s.Node)?.Reading(s.Reading)?.MessageGapMs))
            .Where(s => s.Gap is not null)
            .ToDictionary(s => s.Key, s => s.Gap!.Value);

    public IReadOnlyList<ZoneNow> Now => [.. _site.Design.Zones.Select(z => new ZoneNow(z, _states[z.Key]))];

    public void OnSample(ZoneDesign zone, string reading, long t, double value, bool isEvent) =>
        Take(zone, ZoneJudge.OnSample(zone, _states[zone.Key], _gaps[zone.Key], _clock, reading, t, value, isEvent));

    /// <summary>Begins to listen after a start.</summary>
    public void Listen(long now)
    {
        foreach (var zone in _site.Design.Zones)
        {
            _states[zone.Key] = ZoneJudge.Listening(zone, _states[zone.Key], now);
        }
    }

    public void OnTime(long now)
    {
        foreach (var zone in _site.Design.Zones)
        {
            Take(zone, ZoneJudge.OnTime(zone, _states[zone.Key], _gaps[zone.Key], _clock, now));
        }
    }

    /// <summary>When time alone may turn a zone next, UTC ms; null for never.</summary>
    public long? DueAt(long now) => _site.Design.Zones.Select(z => ZoneJudge.DueAt(z, _states[z.Key], _gaps[z.Key], _clock, now)).Min();

    public void Arm(ZoneDesign zone, ArmMode mode, long now) => Take(zone, ZoneJudge.Arm(zone, _states[zone.Key], mode, now));

    /// <summary>Keeps states, and opens and ends the episodes of alarms.</summary>
    public async Task<List<EpisodeRow>> KeepAsync(string? who)
    {
        var episodes = new List<EpisodeRow>();
        KeepStates(who);
        KeepTurns(who);
        foreach (var turned in Turned.Where(t => t.Event.Turn is ZoneTurn.Alarm or ZoneTurn.WatchesAgain or ZoneTurn.Disarmed))
        {
            await _store.SaveChangesAsync();
            var key = "zone:" + turned.Zone;
            foreach (var open in await _store.Episodes.Where(e => e.Site == _site.Site && e.Rule == key && e.ClearedMs == null).ToListAsync())
            {
                open.ClearedMs = Math.Max(turned.Event.AtMs, open.RaisedMs);
                episodes.Add(open);
            }
            if (turned.Event.Turn == ZoneTurn.Alarm)
            {
                var label = _site.Design.Zones.Single(z => z.Key == turned.Zone).Label;
                // A test tells nobody.
                episodes.Add(
                    _store
                        .Episodes.Add(
                            new()
                            {
                                Site = _site.Site,
                                Rule = key,
                                Label = turned.Mode == ArmMode.Test ? label + " (test)" : label,
                                RaisedMs = turned.Event.AtMs,
                                ToldUntilMs = turned.Event.AtMs - 1,
                                Cause = turned.Event.Cause,
                                ToldAll = turned.Mode == ArmMode.Test,
                            }
                        )
                        .Entity
                );
            }
        }
        foreach (var gone in _rows.Values.Where(r => _site.Design.Zones.All(z => z.Key != r.Zone)))
        {
            _store.ZoneStates.Remove(gone);
        }
        return episodes;
    }

    /// <summary>The states of the zones as they are to be kept.</summary>
    private void KeepStates(string? who)
    {
        foreach (var zone in _site.Design.Zones)
        {
            var body = JsonSerializer.Serialize(_states[zone.Key], CenoticJson.Options);
            if (!_rows.TryGetValue(zone.Key, out var row))
            {
                _store.ZoneStates.Add(
                    new()
                    {
                        Site = _site.Site,
                        Zone = zone.Key,
                        State = body,
                        Who = who,
                    }
                );
            }
            else if (row.State != body)
            {
                (row.State, row.Who) = (body, who ?? row.Who);
            }
        }
    }

    /// <summary>Who armed and disarmed, for the log.</summary>
    private void KeepTurns(string? who)
    {
        _store.ZoneTurns.AddRange(
            Turned
                .Where(t =>
                    t.Event.Turn is ZoneTurn.Leaving or ZoneTurn.Disarmed or ZoneTurn.ModeChanged
                    || (t.Event.Turn == ZoneTurn.Armed && _site.Design.Zones.Single(z => z.Key == t.Zone).ExitMs == 0)
                )
                .Select(t => new ZoneTurnRow
                {
                    Site = _site.Site,
                    Zone = t.Zone,
                    AtMs = t.Event.AtMs,
                    Who = t.Event.By ?? who,
                    Turn = t.Event.Turn.ToString(),
                    Mode = t.Mode.ToString(),
                    Cause = t.Event.Cause,
                })
        );
    }

    private void Take(ZoneDesign zone, (ZoneState State, IReadOnlyList<ZoneEvent> Events) next)
    {
        _states[zone.Key] = next.State;
        Turned.AddRange(next.Events.Select(e => new ZoneTurned(_site.Site, zone.Key, e, next.State.Mode)));
    }
}
