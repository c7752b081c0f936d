using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Log;

/// <summary>Work that falls due.</summary>
public enum DueKind
{
    /// <summary>New cells.</summary>
    Cells,

    /// <summary>A new calibration.</summary>
    Calibration,

    /// <summary>Cleaning.</summary>
    Cleaning,
}

/// <summary>Something that is to be done again.</summary>
/// <param name="Key">Stable for as long as it is the same work: "cleaning-glaze-dust".</param>
/// <param name="Item">Key of the part or reading; null for the cells.</param>
/// <param name="DueMs">UTC ms of site time.</param>
/// <param name="LastMs">When it was done last; null when that is not known.</param>
public sealed record DueItem(string Key, DueKind Kind, string Node, string NodeLabel, string? Item, string What, long DueMs, long? LastMs);

/// <summary>A calibration in force that is to be done again.</summary>
public sealed record DueCalibration(string Node, string Reading, string Label, long MadeMs, long DueMs);

/// <summary>The cells of a node.</summary>
/// <param name="DueMs">When they are to be changed (the low end of what they last), or looked at.</param>
/// <param name="FittedMs">When they were put in.</param>
/// <param name="Unlike">True where they do not behave like those entered: then nobody knows when they end.</param>
public sealed record DueCells(long DueMs, long FittedMs, bool Unlike = false);

/// <summary>What is to be done when: cells, calibrations, cleaning. Pure.</summary>
public static class Maintenance
{
    /// <summary>What is due within a month is worth preparing for, ms (common practice, no source).</summary>
    public const long SoonWithinMs = 30 * 86_400_000L;

    private const double DayMs = 86_400_000,
        MonthDays = 30.44;

    /// <summary>What gets dirty by what it measures, in months. Common practice, no source.</summary>
    private static readonly Dictionary<string, (string What, int Months)> Cleaning = new()
    {
        ["pm25"] = ("Blow the dust out of the particle counter, supply off", 6),
        ["rain"] = ("Clear leaves and insects out of the funnel, tip the bucket by hand", 3),
        ["distance"] = ("Wipe the faces of the sensor, look for condensation and webs", 6),
        ["level"] = ("Move the float by hand, wipe off what grows on it", 6),
        ["object-temperature"] = ("Wipe the window of the sensor with a dry cloth", 6),
        ["illuminance"] = ("Wipe what stands before the light sensor", 12),
        ["presence"] = ("Look for webs and dust before the sensor", 12),
        ["motion"] = ("Wipe the lens, look for webs", 12),
        ["contact"] = ("Open and close it once, look at the gap to the magnet", 12),
    };

    private static readonly (string What, int Months) LightCell = ("Wipe the light cell", 3),
        Outdoors = ("Look at seals, glands and drain hole of the housing", 12);

    /// <summary>The key of cleaning a part, or of looking after the node itself.</summary>
    public static string CleaningKey(string node, string? item) => $"cleaning-{node}-{item ?? "node"}";

    /// <summary>The list, what is due first first.</summary>
    /// <param name="done">When a work was done last, by its key.</param>
    /// <param name="since">When a node began, for work that was never done.</param>
    public static IReadOnlyList<DueItem> Of(
        SiteDesign design,
        HardwareCatalogue catalogue,
        IReadOnlyDictionary<string, DueCells> cells,
        IReadOnlyList<DueCalibration> calibrations,
        IReadOnlyDictionary<string, long> done,
        Func<string, long> since
    )
    {
        var items = new List<DueItem>();
        foreach (var node in design.Nodes)
        {
            void Clean(string? item, string what, int months)
            {
                var key = CleaningKey(node.Key, item);
                long? last = done.TryGetValue(key, out var at) ? at : null;
                items.Add(new(key, DueKind.Cleaning, node.Key, node.Label, item, what, (last ?? since(node.Key)) + (long)(months * MonthDays * DayMs), last));
            }
            if (cells.TryGetValue(node.Key, out var cell))
            {
                var what =
                    cell.Unlike ? "Look which cells are fitted: they do not behave like those entered"
                    : node.Power.Cell is { } id && catalogue.Cell(id) is { Rechargeable: true } ? "Charge or change the cells"
                    : "Change the cells";
                items.Add(new($"cells-{node.Key}", DueKind.Cells, node.Key, node.Label, null, what, cell.DueMs, cell.FittedMs));
            }
            foreach (var part in node.Parts)
            {
                var measured = node.Readings.Where(r => r.Part == part.Key).Select(r => r.Quantity).FirstOrDefault(Cleaning.ContainsKey);
                if (measured is not null)
                {
                    Clean(part.Key, $"{part.Label}: {Lower(Cleaning[measured].What)}", Cleaning[measured].Months);
                }
            }
            if (node.Power.Harvest is not null)
            {
                Clean("light-cell", LightCell.What, LightCell.Months);
            }
            if (Place.Surroundings.Of(design, node) is { Outdoor: true } or { Wet: true })
            {
                Clean(null, Outdoors.What, Outdoors.Months);
            }
        }
        items.AddRange(
            calibrations
                .Where(c => design.Node(c.Node) is not null)
                .Select(c => new DueItem(
                    $"calibration-{c.Node}-{c.Reading}",
                    DueKind.Calibration,
                    c.Node,
                    design.Node(c.Node)!.Label,
                    c.Reading,
                    $"Calibrate {c.Label} again",
                    c.DueMs,
                    c.MadeMs
                ))
        );
        return [.. items.OrderBy(i => i.DueMs).ThenBy(i => i.Key, StringComparer.Ordinal)];
    }

    private static string Lower(string text) => char.ToLowerInvariant(text[0]) + text[1..];
}
