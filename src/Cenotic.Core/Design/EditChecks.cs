using System.Text.RegularExpressions;

namespace Cenotic.Core.Design;

/// <summary>
/// What makes an edit nonsense. Each fault is a sentence that says what is wrong and what would be right. A document may name something of another document that is gone
/// (a node its spot, a rule its reading): that is a finding, not nonsense, so that everything removed can be brought back in any order.
/// </summary>
public static partial class EditChecks
{
    private const double LargestMetres = 500;
    private const long DayMs = 86_400_000;

    /// <summary>The faults of an edit on this design; empty when it can be carried out.</summary>
    public static IReadOnlyList<string> Faults(SiteDesign design, DesignEdit edit)
    {
        var faults = new List<string>();
        switch (edit)
        {
            case SetSite e:
                Text(faults, "The site's name", e.Settings.Name);
                if (!TimeZoneInfo.TryFindSystemTimeZoneById(e.Settings.TimeZone, out _))
                {
                    faults.Add($"\"{e.Settings.TimeZone}\" is not a time zone; write it like Europe/London.");
                }
                break;
            case PutRoom e:
                Key(faults, e.Room.Key);
                Text(faults, "The room's name", e.Room.Label);
                if (e.Room.Corners.Count is < 3 or > 64)
                {
                    faults.Add("A room needs 3 to 64 corners.");
                }
                Metres(faults, [.. e.Room.Corners.SelectMany(c => new[] { c.X, c.Y })]);
                break;
            case RemoveRoom e:
                Exists(faults, design.Place.Rooms.Any(r => r.Key == e.Key), "room", e.Key);
                break;
            case PutWall e:
                Key(faults, e.Wall.Key);
                Metres(faults, e.Wall.From.X, e.Wall.From.Y, e.Wall.To.X, e.Wall.To.Y);
                if (e.Wall.From == e.Wall.To)
                {
                    faults.Add("The wall has no length; its two ends must differ.");
                }
                break;
            case RemoveWall e:
                Exists(faults, design.Place.Walls.Any(w => w.Key == e.Key), "wall", e.Key);
                break;
            case PutSpot e:
                Key(faults, e.Spot.Key);
                Text(faults, "The spot's name", e.Spot.Label);
                Metres(faults, e.Spot.X, e.Spot.Y);
                Within(faults, "The height", e.Spot.HeightMetres, 0, 60, "m");
                Within(faults, "The direction", e.Spot.FacingDegrees, 0, 360, "degrees");
                break;
            case RemoveSpot e:
                Exists(faults, design.Place.Spots.Any(s => s.Key == e.Key), "spot", e.Key);
                break;
            case PutNode e:
                WholeNode(faults, e.Design);
                break;
            case PutRule e:
                Rule(faults, e.Rule);
                break;
            case RemoveRule e:
                Exists(faults, design.Rule(e.Key) is not null, "rule", e.Key);
                break;
            case PutOwnBoard e:
                faults.AddRange(Catalogue.HardwareRules.Faults(e.Board).Select(f => $"{f.Member}: {f.Rule}"));
                break;
            case RemoveOwnBoard e:
                Exists(faults, design.OwnBoards.Any(b => b.Id == e.Id), "board of your own", e.Id);
                break;
            case PutOwnPart e:
                faults.AddRange(Catalogue.HardwareRules.Faults(e.Part).Select(f => $"{f.Member}: {f.Rule}"));
                break;
            case RemoveOwnPart e:
                Exists(faults, design.OwnParts.Any(p => p.Id == e.Id), "part of your own", e.Id);
                break;
            case PutStock e:
                Stock(faults, e.Item);
                break;
            case RemoveStock e:
                Exists(faults, design.Stock.Any(i => i.Id == e.Id), "stock entry", e.Id);
                break;
            case NodeEdit e when design.Node(e.Node) is not { }:
                Exists(faults, false, "node", e.Node);
                break;
            case SetNode e:
                NodeItself(faults, e.Label, e.Power);
                break;
            case PutPart e:
                Part(faults, e.Part);
                break;
            case RemovePart e:
                Exists(faults, design.Node(e.Node)!.Part(e.Key) is not null, "part", e.Key);
                break;
            case PutWire e:
                Wire(faults, design.Node(e.Node)!, e.Wire);
                break;
            case RemoveWire e:
                Exists(faults, design.Node(e.Node)!.Wires.Any(w => w.Part == e.Part && w.Line == e.Line), "held wire", $"{e.Part}.{e.Line}");
                break;
            case PutReading e:
                Reading(faults, design.Node(e.Node)!, e.Reading);
                break;
            case RemoveReading e:
                Exists(faults, design.Node(e.Node)!.Reading(e.Key) is not null, "reading", e.Key);
                break;
        }
        return faults;
    }

    private static void WholeNode(List<string> faults, NodeDesign node)
    {
        Key(faults, node.Key);
        NodeItself(faults, node.Label, node.Power);
        foreach (var part in node.Parts)
        {
            Part(faults, part);
        }
        foreach (var wire in node.Wires)
        {
            Wire(faults, node, wire);
        }
        foreach (var reading in node.Readings)
        {
            Reading(faults, node, reading);
        }
        Unique(faults, "part", node.Parts.Select(p => p.Key));
        Unique(faults, "wire", node.Wires.Select(w => w.Key));
        Unique(faults, "reading", node.Readings.Select(r => r.Key));
    }

    private static void NodeItself(List<string> faults, string label, PowerDesign power)
    {
        Text(faults, "The node's name", label);
        Within(faults, "The supply cable", power.LeadMetres, 0, 200, "m");
        Within(faults, "The gauge of the supply cable", power.LeadAwg ?? 22, 8, 32, "AWG");
        Within(faults, "The fuse", power.FuseAmps ?? 1, 0.05, 30, "A");
        if (power.Kind == PowerKind.Cells == power.Cell is null)
        {
            faults.Add("Cells need a cell from the catalogue; other supplies take none.");
        }
        Within(faults, "The number of cells side by side", power.Parallel, 1, 20, "");
    }

    private static void Part(List<string> faults, PartInstance part)
    {
        Key(faults, part.Key);
        Text(faults, "The part's name", part.Label);
        Within(faults, "The lead", part.LeadMetres, 0, 100, "m");
        if (part.Address is { } address)
        {
            Within(faults, "The address", address, 0x08, 0x77, "");
        }
        if (part.Bits is { } bits)
        {
            Within(faults, "The resolution", bits, 1, 32, "bits");
        }
    }

    private static void Wire(List<string> faults, NodeDesign node, WireDesign wire)
    {
        Exists(faults, node.Part(wire.Part) is not null || wire.Part == "board", "part", wire.Part);
        if (string.IsNullOrWhiteSpace(wire.Line) || string.IsNullOrWhiteSpace(wire.Pin))
        {
            faults.Add("A wire needs a line of the part and a pin of the board.");
        }
    }

    private static void Reading(List<string> faults, NodeDesign node, ReadingDesign reading)
    {
        Key(faults, reading.Key);
        Text(faults, "The reading's name", reading.Label);
        Exists(faults, node.Part(reading.Part) is not null, "part", reading.Part);
        Within(faults, "The number of decimals", reading.Decimals, 0, 6, "");
        if (reading.IntervalMs is { } interval)
        {
            Within(faults, "The interval", interval / 1000.0, 0.05, 7 * DayMs / 1000.0, "s");
        }
        if (reading.HeartbeatMs is { } heartbeat)
        {
            Within(faults, "The heartbeat", heartbeat / 1000.0, 1, 7 * DayMs / 1000.0, "s");
        }
        if (reading.IntervalMs is not null && reading.HeartbeatMs is not null)
        {
            faults.Add("A reading has an interval, or is sent on change with a heartbeat, not both.");
        }
    }

    private static void Rule(List<string> faults, RuleDesign rule)
    {
        Key(faults, rule.Key);
        Text(faults, "The rule's name", rule.Label);
        if (rule.Note.Length > 500)
        {
            faults.Add("The note is longer than 500 characters; shorten it.");
        }
        switch (rule.Condition)
        {
            case BeyondLimit limit:
                Within(faults, "The limit", limit.Limit, -1e9, 1e9, "");
                Within(faults, "The clearing level", limit.Clear, -1e9, 1e9, "");
                Within(faults, "The duration", limit.ForMs / 1000.0, 0, 7 * DayMs / 1000.0, "s");
                if (limit.Side == LimitSide.Above ? limit.Clear > limit.Limit : limit.Clear < limit.Limit)
                {
                    faults.Add(limit.Side == LimitSide.Above
                        ? $"The clearing level {limit.Clear} is above the limit {limit.Limit}; it must be at or below it."
                        : $"The clearing level {limit.Clear} is below the limit {limit.Limit}; it must be at or above it.");
                }
                break;
            case SilentFor silent:
                Within(faults, "The silence", silent.ForMs / 1000.0, 1, 30 * DayMs / 1000.0, "s");
                break;
        }
    }

    private static void Stock(List<string> faults, StockItem item)
    {
        Text(faults, "The name of the thing", item.Id);
        Within(faults, "The number at hand", item.OnHand, 0, 100_000, "");
        foreach (var offer in item.Offers)
        {
            Text(faults, "Where it is bought", offer.From);
            Within(faults, "The pack", offer.PackSize, 1, 100_000, "pieces");
            Within(faults, "The price of a pack", offer.PackPrice, 0, 100_000, "");
            Within(faults, "The delivery time", offer.Days, 0, 400, "days");
        }
        if (item.Offers.Count > 20)
        {
            faults.Add("At most 20 offers for one thing.");
        }
    }

    private static void Key(List<string> faults, string key)
    {
        if (!KeyForm().IsMatch(key))
        {
            faults.Add($"\"{key}\" cannot be a key; use 1 to 32 small letters, digits and hyphens, starting with a letter.");
        }
    }

    private static void Text(List<string> faults, string what, string text)
    {
        if (string.IsNullOrWhiteSpace(text) || text.Length > 60 || text.Any(char.IsControl))
        {
            faults.Add($"{what} needs 1 to 60 characters on one line.");
        }
    }

    private static void Metres(List<string> faults, params double[] metres)
    {
        if (metres.Any(m => !double.IsFinite(m) || Math.Abs(m) > LargestMetres))
        {
            faults.Add($"A place on the plan lies within {LargestMetres} m of its corner.");
        }
    }

    private static void Within(List<string> faults, string what, double value, double low, double high, string unit)
    {
        if (!(value >= low && value <= high))
        {
            faults.Add($"{what} is {value} {unit}".TrimEnd() + $"; it must be from {low} to {high} {unit}".TrimEnd() + ".");
        }
    }

    private static void Exists(List<string> faults, bool there, string what, string key)
    {
        if (!there)
        {
            faults.Add($"There is no {what} \"{key}\" here; it may have been removed.");
        }
    }

    private static void Unique(List<string> faults, string what, IEnumerable<string> keys)
    {
        foreach (var twice in keys.GroupBy(k => k).Where(g => g.Count() > 1))
        {
            faults.Add($"Two {what}s have the key \"{twice.Key}\"; keys are unique in a node.");
        }
    }

    [GeneratedRegex("^[a-z][a-z0-9-]{0,31}$")]
    private static partial Regex KeyForm();
}
