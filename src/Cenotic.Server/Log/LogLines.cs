using System.Globalization;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Log;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Log;

/// <summary>The log's entries for each kind of row that is kept of a site.</summary>
internal sealed class LogLines(SiteState state)
{
    private readonly TimeZoneInfo _zone = TimeZoneInfo.FindSystemTimeZoneById(state.Design.Settings.TimeZone);

    internal IEnumerable<LogEntry> Edit(RevisionRow r)
    {
        var (edits, inverse) = (Edits(r.Edits), Edits(r.Inverse));
        string Node(string key) => state.Design.Node(key)?.Label ?? key;
        yield return new(
            $"edit-{r.Revision}",
            r.AtMs,
            LogKind.Edit,
            EditSentences.NodeOf(edits),
            r.Who,
            string.Join("; ", EditSentences.Of(edits, inverse, Node))
        )
        {
            CanBeTakenBack = RemovedThings.PutBack(state.Design, edits, inverse).Count > 0,
        };
    }

    internal IEnumerable<LogEntry> Settings(SavedSettingsRow s) =>
        [new($"settings-{s.Node}-{s.Hash}", s.AtMs, LogKind.Settings, s.Node, s.Who, $"Settings {s.Hash} saved for its program")];

    internal IEnumerable<LogEntry> Start(NodeReportRow r)
    {
        var (reset, firmware) = (r.Reset is null ? "" : $" by {r.Reset}", r.Firmware is null ? "" : $", program {r.Firmware}");
        yield return new($"start-{r.Id}", r.AtMs, LogKind.Start, r.Node, null, $"Started{reset} with settings {r.Settings}{firmware}");
    }

    internal IEnumerable<LogEntry> Scan(ScanRow s)
    {
        var found = ScanText.Read(s.Text) is { Ok: true, Value: var scan }
            ? $"{scan.Devices.Count} addresses, {scan.Roms.Count} codes"
            : "not readable any more";
        yield return new($"scan-{s.Id}", s.AtMs, LogKind.Scan, s.Node, s.Who, $"Scan: {found}{(s.Verdict is null ? "" : $": {s.Verdict}")}");
    }

    internal IEnumerable<LogEntry> Calibration(CalibrationRow c)
    {
        var reading = Reading(c.Node, c.Reading);
        yield return new($"calibration-{c.Id}", c.AtMs, LogKind.Calibration, c.Node, c.Who, Calibrated(c));
        if (c.UndoneMs is { } undone)
        {
            yield return new($"calibration-{c.Id}-undone", undone, LogKind.Calibration, c.Node, c.UndoneBy, $"Calibration of {reading} taken back");
        }
        if (c.UntilMs is { } until)
        {
            var text = $"Calibration of {reading} ended: another part was put in its place";
            yield return new($"calibration-{c.Id}-ended", until, LogKind.Calibration, c.Node, null, text);
        }
    }

    internal IEnumerable<LogEntry> Current(MeasuredCurrentRow m)
    {
        var text = string.Create(CultureInfo.InvariantCulture, $"Current {m.State.ToString().ToLowerInvariant()} measured: {m.Milliamps:G4} mA, {m.How}");
        yield return new($"current-{m.Id}", m.AtMs, LogKind.Current, m.Node, null, text);
    }

    internal IEnumerable<LogEntry> Episode(EpisodeRow e)
    {
        var over = e.ClearedMs is { } cleared ? $"over after {DurationText.Of(cleared - e.RaisedMs)}" : "not over yet";
        var text = $"Raised: {e.Label}, {over}{(e.AcknowledgedBy is null ? "" : ", acknowledged")}";
        yield return new($"episode-{e.Id}", e.RaisedMs, LogKind.Episode, state.Design.Rule(e.Rule)?.Node, e.AcknowledgedBy, text);
    }

    internal IEnumerable<LogEntry> Output(CommandRow c)
    {
        var output = c.Output == OutputCommand.Test ? "Test mode" : Reading(c.Node, c.Output);
        var answer = c.Taken switch
        {
            true => "",
            false => ": the node refused",
            null => ": not answered",
        };
        yield return new($"output-{c.Id}", c.AtMs, LogKind.Output, c.Node, c.Who, $"{output} switched {(c.On ? "on" : "off")}{answer}");
    }

    internal IEnumerable<LogEntry> Build(BuildTickRow t) => [new($"build-{t.Id}", t.AtMs, LogKind.Build, t.Node, t.Who, Built(t))];

    internal IEnumerable<LogEntry> Outage(OutageRow o) =>
        [new($"outage-{o.Id}", o.ToMs, LogKind.Outage, o.Node, null, $"Heard again after {DurationText.Of(o.ToMs - o.FromMs)} of silence")];

    internal IEnumerable<LogEntry> Life(NodeLifeRow l)
    {
        var often = l.Times > 1 ? $"; {l.Times} times within an hour: does its program count its messages?" : "";
        var text =
            $"Its counts began anew: start {l.Boot}, message {l.Number}, after start {l.BeforeBoot}, message {l.BeforeNumber}. "
            + $"Another board, or its flash was erased{often}";
        yield return new($"life-{l.Id}", l.AtMs, LogKind.Start, l.Node, null, text);
    }

    internal IEnumerable<LogEntry> Walk(RangeWalkRow w)
    {
        var spot = state.Design.Place.Spots.FirstOrDefault(s => s.Key == w.Spot)?.Label ?? w.Spot;
        var signal = w.RssiMedian is { } rssi ? string.Create(CultureInfo.InvariantCulture, $" at {rssi:0} dBm") : "";
        yield return new($"walk-{w.Id}", w.ToMs, LogKind.Walk, w.Node, w.Who, $"Carried to {spot}: {w.Heard} of {w.Heard + w.Lost} messages heard{signal}");
    }

    internal IEnumerable<LogEntry> Import(ImportRow i)
    {
        var text = string.Create(CultureInfo.InvariantCulture, $"Table \"{i.FileName}\" imported: {i.Samples:N0} samples");
        yield return new($"import-{i.Id}", i.AtMs, LogKind.Import, null, i.Who, text) { CanBeTakenBack = i.UndoneMs is null };
        if (i.UndoneMs is { } undone)
        {
            yield return new($"import-{i.Id}-undone", undone, LogKind.Import, null, i.UndoneBy, $"Import of \"{i.FileName}\" taken back");
        }
    }

    internal IEnumerable<LogEntry> Zone(ZoneTurnRow z)
    {
        var zone = state.Design.Zones.FirstOrDefault(d => d.Key == z.Zone)?.Label ?? z.Zone;
        yield return new($"zone-{z.Id}", z.AtMs, LogKind.Zone, null, z.Who, $"{zone} {Armed(z)}{(z.Cause is { } cause ? $", {cause}" : "")}");
    }

    internal IEnumerable<LogEntry> SetAside(SetAsideRow a)
    {
        var of = $"{Reading(a.Node, a.Reading)} from {At(a.FromMs)} to {At(a.ToMs)}";
        var text = $"{of} set aside{(a.Reason.Length > 0 ? $": {a.Reason}" : "")}";
        yield return new($"aside-{a.Id}", a.AtMs, LogKind.SetAside, a.Node, a.Who, text) { CanBeTakenBack = a.UndoneMs is null };
        if (a.UndoneMs is { } undone)
        {
            yield return new($"aside-{a.Id}-undone", undone, LogKind.SetAside, a.Node, a.UndoneBy, $"{of} counts again");
        }
    }

    private string Reading(string node, string key) => state.Design.Node(node)?.Reading(key)?.Label ?? key;

    private string At(long ms) =>
        TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(ms), _zone).ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);

    private string Calibrated(CalibrationRow row)
    {
        var calibration = JsonSerializer.Deserialize<Calibration>(row.Body, CenoticJson.Options)!;
        var unit = state.Quantity(row.Node, row.Reading)?.Unit ?? "";
        var against = row.Against.Length > 0 ? $" against {row.Against}" : "";
        var good =
            calibration.Uncertainty > 0
                ? string.Create(CultureInfo.InvariantCulture, $"good for ±{calibration.Uncertainty:G2} {unit}")
                : "how good its reference was is not said";
        return $"{Reading(row.Node, row.Reading)} calibrated{against}: {calibration.Formula(unit)}, {good}".Trim();
    }

    private static string Armed(ZoneTurnRow turn) =>
        (turn.Turn, turn.Mode) switch
        {
            (nameof(ZoneTurn.Disarmed), _) => "disarmed",
            (_, nameof(ArmMode.Test)) => "armed for a test",
            _ => "armed",
        };

    private static string Built(BuildTickRow tick)
    {
        var meter =
            tick.Value is { } value ? string.Create(CultureInfo.InvariantCulture, $", {value:G4} {BuildSteps.UnitAt(tick.Step)}")
            : tick.Shows is { } shows and not MeterShows.Within
                ? $", the meter showed {(shows == MeterShows.Above ? "more" : shows == MeterShows.Below ? "less" : "nothing")}"
            : "";
        return tick.Done ? $"{tick.Title}{meter}"
            : tick.Shows is null ? $"{tick.Title}: taken back"
            : $"{tick.Title}{meter}: not as expected";
    }

    internal static List<DesignEdit> Edits(string json) => JsonSerializer.Deserialize<List<DesignEdit>>(json, CenoticJson.Options)!;
}
