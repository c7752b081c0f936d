using System.Globalization;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Log;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Log;

/// <summary>Reads the log out of what is kept anyway: nothing but notes is written for it.</summary>
internal static class LogBook
{
    /// <summary>Entries of each kind that are looked through at most.</summary>
    private const int Most = 2_000;

    /// <summary>Entries of a site, the newest first.</summary>
    /// <param name="node">Of one node only; null for all.</param>
    /// <param name="before">Older than this, UTC ms.</param>
    internal static async Task<List<LogEntry>> ReadAsync(CenoticStore store, SiteState state, string? node, long before)
    {
        var site = state.Site;
        string Node(string key) => state.Design.Node(key)?.Label ?? key;
        string Reading(string of, string key) => state.Design.Node(of)?.Reading(key)?.Label ?? key;
        string Time(long ms) => DurationText.Of(ms);
        var entries = new List<LogEntry>();
        foreach (var r in await store.Revisions.AsNoTracking().Where(r => r.Site == site && r.AtMs < before).OrderByDescending(r => r.Revision).Take(Most).ToListAsync())
        {
            var (edits, inverse) = (Edits(r.Edits), Edits(r.Inverse));
            entries.Add(new($"edit-{r.Revision}", r.AtMs, LogKind.Edit, EditSentences.NodeOf(edits), r.Who, string.Join("; ", EditSentences.Of(edits, inverse, Node))));
        }
        entries.AddRange((await store.SavedSettings.AsNoTracking().Where(s => s.Site == site && s.AtMs < before).OrderByDescending(s => s.AtMs).Take(Most).ToListAsync())
            .Select(s => new LogEntry($"settings-{s.Node}-{s.Hash}", s.AtMs, LogKind.Settings, s.Node, s.Who, $"Settings {s.Hash} saved for its program")));
        entries.AddRange((await store.NodeReports.AsNoTracking().Where(r => r.Site == site && r.AtMs < before && r.Settings != null).OrderByDescending(r => r.Id).Take(Most).ToListAsync())
            .Select(r => new LogEntry($"start-{r.Id}", r.AtMs, LogKind.Start, r.Node, null, $"Started{(r.Reset is null ? "" : $" by {r.Reset}")} with settings {r.Settings}{(r.Firmware is null ? "" : $", program {r.Firmware}")}")));
        entries.AddRange((await store.Scans.AsNoTracking().Where(s => s.Site == site && s.AtMs < before).OrderByDescending(s => s.Id).Take(Most).ToListAsync())
            .Select(s => new LogEntry($"scan-{s.Id}", s.AtMs, LogKind.Scan, s.Node, s.Who,
                $"Scan: {(ScanText.Read(s.Text) is { Ok: true, Value: var scan } ? $"{scan.Devices.Count} addresses, {scan.Roms.Count} codes" : "not readable any more")}{(s.Verdict is null ? "" : $": {s.Verdict}")}")));
        foreach (var c in await store.Calibrations.AsNoTracking().Where(c => c.Site == site && c.AtMs < before).OrderByDescending(c => c.Id).Take(Most).ToListAsync())
        {
            var calibration = JsonSerializer.Deserialize<Calibration>(c.Body, CenoticJson.Options)!;
            var unit = Relay.Intake.Quantity(state, c.Node, c.Reading)?.Unit ?? "";
            entries.Add(new($"calibration-{c.Id}", c.AtMs, LogKind.Calibration, c.Node, c.Who, string.Create(CultureInfo.InvariantCulture, $"{Reading(c.Node, c.Reading)} calibrated{(c.Against.Length > 0 ? $" against {c.Against}" : "")}: {calibration.Formula(unit)}{(calibration.Uncertainty > 0 ? string.Create(CultureInfo.InvariantCulture, $", good for ±{calibration.Uncertainty:G2} {unit}") : ", how good its reference was is not said")}").Trim()));
            if (c.UndoneMs is { } undone)
            {
                entries.Add(new($"calibration-{c.Id}-undone", undone, LogKind.Calibration, c.Node, c.UndoneBy, $"Calibration of {Reading(c.Node, c.Reading)} taken back"));
            }
            if (c.UntilMs is { } until)
            {
                entries.Add(new($"calibration-{c.Id}-ended", until, LogKind.Calibration, c.Node, null, $"Calibration of {Reading(c.Node, c.Reading)} ended: another part was put in its place"));
            }
        }
        entries.AddRange((await store.MeasuredCurrents.AsNoTracking().Where(m => m.Site == site && m.AtMs < before).OrderByDescending(m => m.Id).Take(Most).ToListAsync())
            .Select(m => new LogEntry($"current-{m.Id}", m.AtMs, LogKind.Current, m.Node, null, string.Create(CultureInfo.InvariantCulture, $"Current {m.State.ToString().ToLowerInvariant()} measured: {m.Milliamps:G4} mA, {m.How}"))));
        entries.AddRange((await store.Episodes.AsNoTracking().Where(e => e.Site == site && e.RaisedMs < before).OrderByDescending(e => e.Id).Take(Most).ToListAsync())
            .Select(e => new LogEntry($"episode-{e.Id}", e.RaisedMs, LogKind.Episode, state.Design.Rule(e.Rule)?.Node, e.AcknowledgedBy, $"Raised: {e.Label}{(e.ClearedMs is { } cleared ? $", over after {Time(cleared - e.RaisedMs)}" : ", not over yet")}{(e.AcknowledgedBy is null ? "" : ", acknowledged")}")));
        entries.AddRange((await store.Commands.AsNoTracking().Where(c => c.Site == site && c.AtMs < before).OrderByDescending(c => c.Id).Take(Most).ToListAsync())
            .Select(c => new LogEntry($"output-{c.Id}", c.AtMs, LogKind.Output, c.Node, c.Who, $"{(c.Output == Core.Formats.OutputCommand.Test ? "Test mode" : Reading(c.Node, c.Output))} switched {(c.On ? "on" : "off")}{c.Taken switch { true => "", false => ": the node refused", null => ": not answered" }}")));
        entries.AddRange((await store.BuildTicks.AsNoTracking().Where(t => t.Site == site && t.AtMs < before).OrderByDescending(t => t.Id).Take(Most).ToListAsync())
            .Select(t => new LogEntry($"build-{t.Id}", t.AtMs, LogKind.Build, t.Node, t.Who, Built(t))));
        entries.AddRange((await store.Outages.AsNoTracking().Where(o => o.Site == site && o.ToMs < before).OrderByDescending(o => o.Id).Take(Most).ToListAsync())
            .Select(o => new LogEntry($"outage-{o.Id}", o.ToMs, LogKind.Outage, o.Node, null, $"Heard again after {Time(o.ToMs - o.FromMs)} of silence")));
        entries.AddRange((await store.NodeLives.AsNoTracking().Where(l => l.Site == site && l.AtMs < before).OrderByDescending(l => l.Id)
            .Take(Most).ToListAsync())
            .Select(l => new LogEntry($"life-{l.Id}", l.AtMs, LogKind.Start, l.Node, null,
                $"Its counts began anew: start {l.Boot}, message {l.Number}, after start {l.BeforeBoot}, message "
                + $"{l.BeforeNumber}. Another board, or its flash was erased{(l.Times > 1 ? $"; {l.Times} times within an hour: does its program count its messages?" : "")}")));
        entries.AddRange((await store.RangeWalks.AsNoTracking().Where(w => w.Site == site && w.ToMs < before).OrderByDescending(w => w.Id).Take(Most).ToListAsync())
            .Select(w => new LogEntry($"walk-{w.Id}", w.ToMs, LogKind.Walk, w.Node, w.Who, string.Create(CultureInfo.InvariantCulture, $"Carried to {state.Design.Place.Spots.FirstOrDefault(s => s.Key == w.Spot)?.Label ?? w.Spot}: {w.Heard} of {w.Heard + w.Lost} messages heard{(w.RssiMedian is { } rssi ? $" at {rssi:0} dBm" : "")}"))));
        foreach (var i in await store.Imports.AsNoTracking().Where(i => i.Site == site && i.AtMs < before).OrderByDescending(i => i.Id)
            .Take(Most).ToListAsync())
        {
            entries.Add(new($"import-{i.Id}", i.AtMs, LogKind.Import, null, i.Who,
                $"Table \"{i.FileName}\" imported: {i.Samples.ToString("N0", CultureInfo.InvariantCulture)} samples") { CanBeTakenBack = i.UndoneMs is null });
            if (i.UndoneMs is { } undone)
            {
                entries.Add(new($"import-{i.Id}-undone", undone, LogKind.Import, null, i.UndoneBy, $"Import of \"{i.FileName}\" taken back"));
            }
        }
        entries.AddRange((await store.ZoneTurns.AsNoTracking().Where(z => z.Site == site && z.AtMs < before)
            .OrderByDescending(z => z.Id).Take(Most).ToListAsync())
            .Select(z => new LogEntry($"zone-{z.Id}", z.AtMs, LogKind.Zone, null, z.Who,
                $"{state.Design.Zones.FirstOrDefault(d => d.Key == z.Zone)?.Label ?? z.Zone} {Armed(z)}{(z.Cause is { } cause ? $", {cause}" : "")}")));
        var zone = TimeZoneInfo.FindSystemTimeZoneById(state.Design.Settings.TimeZone);
        string At(long ms) => TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(ms), zone)
            .ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
        foreach (var a in await store.SetAside.AsNoTracking().Where(a => a.Site == site && a.AtMs < before).OrderByDescending(a => a.Id)
            .Take(Most).ToListAsync())
        {
            entries.Add(new($"aside-{a.Id}", a.AtMs, LogKind.SetAside, a.Node, a.Who,
                $"{Reading(a.Node, a.Reading)} from {At(a.FromMs)} to {At(a.ToMs)} set aside{(a.Reason.Length > 0 ? $": {a.Reason}" : "")}") { CanBeTakenBack =
                a.UndoneMs is null });
            if (a.UndoneMs is { } undone)
            {
                entries.Add(new($"aside-{a.Id}-undone", undone, LogKind.SetAside, a.Node, a.UndoneBy,
                    $"{Reading(a.Node, a.Reading)} from {At(a.FromMs)} to {At(a.ToMs)} counts again"));
            }
        }
        var pictures = (await store.LogPictures.AsNoTracking().Where(p => p.Site == site).Select(p => new { p.Id, p.Note }).ToListAsync()).ToLookup(p => p.Note, p => p.Id);
        entries.AddRange((await store.LogNotes.AsNoTracking().Where(n => n.Site == site && n.AtMs < before).OrderByDescending(n => n.Id).Take(Most).ToListAsync())
            .Select(n => new LogEntry($"note-{n.Id}", n.AtMs, LogKind.Note, n.Node, n.Who, n.Text) { Pictures = [.. pictures[n.Id].Order()] }));
        return [.. entries.Where(e => e.AtMs < before && (node is null || e.Node == node)).OrderByDescending(e => e.AtMs).ThenByDescending(e => e.Id, StringComparer.Ordinal)];
    }

    private static string Armed(ZoneTurnRow turn) => (turn.Turn, turn.Mode) switch
    {
        (nameof(Core.Alerts.ZoneTurn.Disarmed), _) => "disarmed",
        (_, nameof(Core.Alerts.ArmMode.Test)) => "armed for a test",
        _ => "armed",
    };

    private static string Built(BuildTickRow tick)
    {
        var meter = tick.Value is { } value ? string.Create(CultureInfo.InvariantCulture, $", {value:G4} {BuildSteps.UnitAt(tick.Step)}") : tick.Shows is { } shows and not MeterShows.Within ? $", the meter showed {(shows == MeterShows.Above ? "more" : shows == MeterShows.Below ? "less" : "nothing")}" : "";
        return tick.Done ? $"{tick.Title}{meter}" : tick.Shows is null ? $"{tick.Title}: taken back" : $"{tick.Title}{meter}: not as expected";
    }

    private static List<DesignEdit> Edits(string json) => JsonSerializer.Deserialize<List<DesignEdit>>(json, CenoticJson.Options)!;
}
