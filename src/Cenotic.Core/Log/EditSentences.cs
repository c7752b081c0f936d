using System.Globalization;
using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Log;

/// <summary>A batch of edits in the words of a log: what was added, changed from what to what, or removed. Pure.</summary>
public static class EditSentences
{
    private const int MostAlike = 3,
        MostChanges = 4;

    /// <summary>One sentence for each thing that a batch did; many of one sort are counted.</summary>
    /// <param name="inverse">What takes the batch back: it tells what was there before.</param>
    /// <param name="node">The name of a node by its key.</param>
    public static IReadOnlyList<string> Of(IReadOnlyList<DesignEdit> edits, IReadOnlyList<DesignEdit> inverse, Func<string, string> node) =>
        [
            .. edits
                .GroupBy(e => (e.GetType(), e.Document))
                .SelectMany(g => g.Count() > MostAlike ? [$"{g.Count()} {Many(g.First())}{On(g.First(), node)}"] : g.Select(e => Said(e, inverse, node))),
        ];

    /// <summary>What the edits of a batch put, by name: "Node Hall, Rule Too warm".</summary>
    public static string Names(IReadOnlyList<DesignEdit> edits) => string.Join(", ", edits.Select(e => Name(e, key => key)).Distinct());

    /// <summary>The edit that would put what an edit removed; null for one that removes nothing, for what a node holds, and for people, whose names are
    /// forgotten with them.</summary>
    private static DesignEdit? PutBefore(DesignEdit edit, IReadOnlyList<DesignEdit> inverse)
    {
        var name = edit.GetType().Name;
        return !name.StartsWith("Remove", StringComparison.Ordinal) || edit is RemovePerson or (NodeEdit and not RemoveNode)
            ? null
            : inverse.LastOrDefault(i => i.GetType().Name == "Put" + name["Remove".Length..] && Key(i) == Key(edit));
    }

    /// <summary>The node that all edits are about; null when they are about more than one, or about the site.</summary>
    public static string? NodeOf(IReadOnlyList<DesignEdit> edits) => edits.Select(e => (e as NodeEdit)?.Node).Distinct().ToList() is [{ } only] ? only : null;

    private static string Said(DesignEdit edit, IReadOnlyList<DesignEdit> inverse, Func<string, string> node)
    {
        if (edit is MoveSide or MoveCorner)
        {
            return Moved(edit, inverse);
        }
        var name = edit switch
        {
            RemovePart e => Was(e, inverse)?.Part(e.Key)?.Label ?? Name(edit, node),
            RemoveReading e when Was(e, inverse)?.Reading(e.Key) is { } reading => $"Reading {reading.Label}",
            _ => Name(PutBefore(edit, inverse) ?? edit, node),
        };
        if (edit.GetType().Name.StartsWith("Remove", StringComparison.Ordinal))
        {
            return $"{name} removed{On(edit, node)}";
        }
        return Before(edit, inverse) is { } before ? $"{name}{On(edit, node)}: {string.Join(", ", Changes(before, edit).DefaultIfEmpty("kept as it was"))}"
            : edit is SetSite or SetNode or SetAnchor or FitScan ? $"{name} changed"
            : $"{name} added{On(edit, node)}";
    }

    private static string Moved(DesignEdit edit, IReadOnlyList<DesignEdit> inverse)
    {
        string Room(string key) => inverse.OfType<PutRoom>().LastOrDefault(r => r.Room.Key == key)?.Room.Label ?? key;
        return edit switch
        {
            MoveSide e => string.Create(
                CultureInfo.InvariantCulture,
                $"A side of {Room(e.Key)} moved {(e.Metres < 0 ? "in" : "out")} by {Math.Abs(e.Metres):0.##} m"
            ),
            MoveCorner e => string.Create(CultureInfo.InvariantCulture, $"A corner of {Room(e.Key)} moved to {e.To.X:0.##}, {e.To.Y:0.##} m"),
            _ => throw new ArgumentOutOfRangeException(nameof(edit), edit, "Nothing is moved by it."),
        };
    }

    /// <summary>A node as it was before the batch; null when the batch did not touch it.</summary>
    private static NodeDesign? Was(NodeEdit edit, IReadOnlyList<DesignEdit> inverse) =>
        inverse.OfType<PutNode>().LastOrDefault(n => n.Node == edit.Node)?.Design;

    /// <summary>The edit that would have made what was there before; null for what is new. Within a node the
    /// inverse is the node as it was; elsewhere what was new is removed by it.</summary>
    private static DesignEdit? Before(DesignEdit edit, IReadOnlyList<DesignEdit> inverse) =>
        edit switch
        {
            PutPart e => Was(e, inverse)?.Part(e.Part.Key) is { } part ? new PutPart(e.Node, part) : null,
            PutReading e => Was(e, inverse)?.Reading(e.Reading.Key) is { } reading ? new PutReading(e.Node, reading) : null,
            PutWire e => Was(e, inverse)?.Wires.FirstOrDefault(w => w.Key == e.Wire.Key) is { } wire ? new PutWire(e.Node, wire) : null,
            SetNode e => Was(e, inverse) is { } node ? SetNodes.As(node) : null,
            _ => inverse.FirstOrDefault(i => i.GetType() == edit.GetType() && Key(i) == Key(edit)),
        };

    private static string On(DesignEdit edit, Func<string, string> node) =>
        edit is NodeEdit of and not (PutNode or SetNode or RemoveNode) ? $" on {node(of.Node)}" : "";

    private static string Name(DesignEdit edit, Func<string, string> node) =>
        edit switch
        {
            SetSite e => $"Site {e.Settings.Name}",
            SetAnchor => "Place on the earth",
            MoveSide or MoveCorner => "Outline of a room",
            PutRoom e => $"Room {e.Room.Label}",
            RemoveRoom e => $"Room {e.Key}",
            PutWall e => $"Wall {e.Wall.Key}",
            RemoveWall e => $"Wall {e.Key}",
            PutSpot e => $"Spot {e.Spot.Label}",
            RemoveSpot e => $"Spot {e.Key}",
            PutFloor e => $"Floor {e.Floor.Label}",
            RemoveFloor e => $"Floor {e.Key}",
            PutScan or FitScan or RemoveScan => "Picture under the plan",
            PutAccessPoint e => $"Access point {e.AccessPoint.Label}",
            RemoveAccessPoint e => $"Access point {e.Key}",
            PutHeatSource e => $"{(e.HeatSource.Kind == HeatSourceKind.Heater ? "Heater" : "Vent")} {e.HeatSource.Label}",
            RemoveHeatSource e => $"Heater or vent {e.Key}",
            PutNode e => $"Node {e.Design.Label}",
            SetNode e => $"Node {e.Label}",
            RemoveNode e => $"Node {node(e.Node)}",
            PutPart e => $"{e.Part.Label} ({e.Part.Part})",
            RemovePart e => $"Part {e.Key}",
            PutWire e => $"Wire {e.Wire.Part} {e.Wire.Line} {(e.Wire.Hold == WireHold.Soldered ? "soldered" : "held")} on {e.Wire.Pin}",
            RemoveWire e => $"Hold of wire {e.Part} {e.Line}",
            PutReading e => $"Reading {e.Reading.Label}",
            RemoveReading e => $"Reading {e.Key}",
            PutRule e => $"Rule {e.Rule.Label}",
            RemoveRule e => $"Rule {e.Key}",
            PutLine e => $"Serial line {e.Line.Label}",
            RemoveLine e => $"Serial line {e.Key}",
            PutOwnBoard e => $"Own board {e.Board.Label}",
            RemoveOwnBoard e => $"Own board {e.Id}",
            PutOwnPart e => $"Own part {e.Part.Label}",
            RemoveOwnPart e => $"Own part {e.Id}",
            PutOwnCell e => $"Own cell {e.Cell.Label}",
            RemoveOwnCell e => $"Own cell {e.Id}",
            PutStock e => $"Stock of {e.Item.Id}",
            RemoveStock e => $"Stock of {e.Id}",
            PutPerson e => $"Person {e.Person.Name}",
            RemovePerson => "Person",
            PutZone e => $"Zone {e.Zone.Label}",
            RemoveZone e => $"Zone {e.Key}",
            PutView e => $"View {e.View.Label}",
            RemoveView e => $"View {e.Key}",
            PutDerived e => $"Worked out: {e.Derived.Label}",
            RemoveDerived e => $"Worked out: {e.Key}",
            _ => throw new ArgumentOutOfRangeException(nameof(edit), edit, "An edit without words."),
        };

    private static string Many(DesignEdit edit) =>
        edit switch
        {
            PutWire or RemoveWire => "wires",
            PutPart or RemovePart => "parts",
            PutReading or RemoveReading => "readings",
            PutRoom or RemoveRoom => "rooms",
            MoveSide or MoveCorner => "sides and corners of rooms",
            PutWall or RemoveWall => "walls",
            PutSpot or RemoveSpot => "spots",
            PutFloor or RemoveFloor => "floors",
            PutAccessPoint or RemoveAccessPoint => "access points",
            PutHeatSource or RemoveHeatSource => "heaters and vents",
            _ => "things",
        } + (edit.GetType().Name.StartsWith("Remove", StringComparison.Ordinal) ? " removed" : " set");

    /// <summary>What an edit outside a node is of, within its document.</summary>
    private static string Key(DesignEdit edit) =>
        edit.Document
        + "/"
        + edit switch
        {
            RemoveRoom e => e.Key,
            RemoveWall e => e.Key,
            RemoveSpot e => e.Key,
            RemoveFloor e => e.Key,
            RemoveAccessPoint e => e.Key,
            RemoveHeatSource e => e.Key,
            RemoveScan e => e.Floor ?? "",
            PutRoom e => e.Room.Key,
            PutWall e => e.Wall.Key,
            PutSpot e => e.Spot.Key,
            PutFloor e => e.Floor.Key,
            PutAccessPoint e => e.AccessPoint.Key,
            PutHeatSource e => e.HeatSource.Key,
            PutScan e => e.Scan.Floor ?? "",
            _ => "",
        };

    /// <summary>The members that differ, as "interval 60 s → 5 min".</summary>
    private static IEnumerable<string> Changes(DesignEdit before, DesignEdit after)
    {
        var (old, now) = (Members(before), Members(after));
        var changed = old.Keys.Union(now.Keys).Where(k => old.GetValueOrDefault(k) != now.GetValueOrDefault(k)).ToList();
        foreach (var key in changed.Take(MostChanges))
        {
            var (was, becomes) = (Shown(key, old.GetValueOrDefault(key)), Shown(key, now.GetValueOrDefault(key)));
            if (key == "power.fittedOn" && DateOnly.TryParse(becomes, CultureInfo.InvariantCulture, out var fitted))
            {
                yield return DateOnly.TryParse(was, CultureInfo.InvariantCulture, out var last) && fitted > last
                    ? $"new cells on {becomes}, after {fitted.DayNumber - last.DayNumber} days with the ones before"
                    : $"cells put in on {becomes}";
                continue;
            }
            yield return was is null || becomes is null ? $"{Words(key)} changed" : $"{Words(key)} {was} → {becomes}";
        }
        if (changed.Count > MostChanges)
        {
            yield return $"and {changed.Count - MostChanges} more";
        }
    }

    /// <summary>Members of an edit, those of the records in it by their path.</summary>
    private static Dictionary<string, string> Members(DesignEdit edit)
    {
        var members = new Dictionary<string, string>();
        void Walk(JsonElement element, string path)
        {
            if (element.ValueKind == JsonValueKind.Object && path.Count(c => c == '.') < 2)
            {
                foreach (var member in element.EnumerateObject())
                {
                    Walk(member.Value, path.Length == 0 ? member.Name : $"{path}.{member.Name}");
                }
                return;
            }
            members[path] = element.GetRawText();
        }
        Walk(JsonSerializer.SerializeToElement(edit, CenoticJson.Options), "");
        return members;
    }

    /// <summary>A member's value in few words; null when it has none.</summary>
    private static string? Shown(string path, string? json)
    {
        if (json is null or "null")
        {
            return "none";
        }
        if (json[0] is '{' or '[')
        {
            return null;
        }
        var name = path.Split('.')[^1];
        if (name.EndsWith("Ms", StringComparison.Ordinal) && long.TryParse(json, CultureInfo.InvariantCulture, out var ms))
        {
            return DurationText.Of(ms);
        }
        return name == "address" && int.TryParse(json, CultureInfo.InvariantCulture, out var address) ? $"0x{address:X2}" : json.Trim('"');
    }

    /// <summary>"heartbeatMs" as "heartbeat", "leadMetres" as "lead metres".</summary>
    private static string Words(string path)
    {
        var name = path.Split('.')[^1];
        name = name.EndsWith("Ms", StringComparison.Ordinal) ? name[..^2] : name;
        return string.Concat(name.Select(c => char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : c.ToString()));
    }
}
