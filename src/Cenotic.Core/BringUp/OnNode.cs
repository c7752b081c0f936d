using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>A calibration that the node applies itself.</summary>
/// <param name="Points">For a table, raw value and truth of each point in order; empty for a line.</param>
public sealed record CorrectionSetting(string Reading, double Slope, double Intercept, IReadOnlyList<(double Raw, double Truth)> Points);

/// <summary>A limit that the node watches itself.</summary>
/// <param name="Above">True when beyond it is above it.</param>
/// <param name="Clear">Level at which it is over.</param>
public sealed record LimitSetting(string Rule, string Reading, bool Above, double Limit, double Clear, long ForMs);

/// <summary>A line of a display on the node.</summary>
/// <param name="Format">For printf, with one number.</param>
public sealed record DisplaySetting(string Part, int Row, string Reading, string Format);

/// <summary>Works out what a node shows and watches by itself. Pure.</summary>
internal static class OnNode
{
    /// <summary>What a node corrects itself; nothing when the server does it.</summary>
    internal static IReadOnlyList<CorrectionSetting> Corrections(NodeDesign node, IReadOnlyDictionary<string, Calibration> calibrations) =>
        !node.CorrectsItself
            ? []
            :
            [
                .. node
                    .Readings.Where(r => calibrations.ContainsKey(r.Key))
                    .Select(r =>
                        calibrations[r.Key] is { Kind: CalibrationKind.Table } table
                            ? new CorrectionSetting(r.Key, 1, 0, [.. table.Points.Select(p => (p.Raw, p.Truth))])
                            : new(r.Key, calibrations[r.Key].Slope, calibrations[r.Key].Intercept, [])
                    ),
            ];

    internal static IReadOnlyList<LimitSetting> Limits(NodeDesign node, IEnumerable<RuleDesign> rules) =>
        !node.CorrectsItself
            ? []
            :
            [
                .. rules
                    .Where(r => r.Armed && r.Also.Count == 0 && r.Node == node.Key && node.Reading(r.Reading) is not null)
                    .OrderBy(r => r.Key, StringComparer.Ordinal)
                    .SelectMany(r =>
                        r.Condition is BeyondLimit l ? new[] { new LimitSetting(r.Key, r.Reading, l.Side == LimitSide.Above, l.Limit, l.Clear, l.ForMs) } : []
                    ),
            ];

    /// <summary>A reading a line, in the order of the design, on each display of the node; what does not fit is cut from the name.</summary>
    internal static IReadOnlyList<DisplaySetting> Displays(NodeDesign node, HardwareCatalogue hardware)
    {
        var lines = new List<DisplaySetting>();
        foreach (var (part, face) in node.Parts.Select(p => (p, hardware.Part(p.Part)?.Display)))
        {
            var readings = node
                .Readings.Select(r =>
                    (Reading: r, Quantity: hardware.Part(node.Part(r.Part)?.Part ?? "")?.Quantities.FirstOrDefault(q => q.Quantity == r.Quantity))
                )
                .Where(r => r.Quantity is not null)
                .Take(face?.Rows ?? 0)
                .ToList();
            lines.AddRange(readings.Select((r, row) => new DisplaySetting(part.Key, row, r.Reading.Key, Format(r.Reading, r.Quantity!, face!.Columns))));
        }
        return lines;
    }

    private static string Format(ReadingDesign reading, PartQuantity quantity, int columns)
    {
        int Digits(double? value) => value is { } v ? v.ToString("F" + reading.Decimals, CultureInfo.InvariantCulture).Length : 6;
        var width = Math.Min(Math.Max(Digits(quantity.Min), Digits(quantity.Max)), columns);
        var unit = quantity.Unit.Length > 0 ? " " + Ascii(quantity.Unit.Replace("%RH", "%", StringComparison.Ordinal)) : "";
        unit = width + unit.Length <= columns ? unit : "";
        // A blank between name and number, where there is room for a name.
        var room = Math.Max(0, columns - width - unit.Length - 1);
        var label = Ascii(reading.Label);
        label = (label.Length > room ? label[..room] : label).PadRight(room);
        static string Printed(string text) => text.Replace("%", "%%", StringComparison.Ordinal);
        return $"{Printed(label)}{(room > 0 ? " " : "")}%{width}.{reading.Decimals}f{Printed(unit)}";
    }

    /// <summary>Letters with marks, and the ones that simple displays have in their place.</summary>
    private const string Marked = "àáâãäåçèéêëìíîïñòóôõöøùúûüýÿÀÁÂÃÄÅÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØÙÚÛÜÝ",
        Bare = "aaaaaaceeeeiiiinoooooouuuuyyAAAAAACEEEEIIIINOOOOOOUUUUY";

    /// <summary>What simple displays have: letters without marks, no degree sign.</summary>
    private static string Ascii(string text) =>
        string.Concat(
            text.Replace("°", "", StringComparison.Ordinal)
                .Replace("µ", "u", StringComparison.Ordinal)
                .Replace("Ω", "Ohm", StringComparison.Ordinal)
                .Replace("ß", "ss", StringComparison.Ordinal)
                .Select(c =>
                    c is >= ' ' and < (char)127 ? c
                    : Marked.IndexOf(c, StringComparison.Ordinal) is >= 0 and var at ? Bare[at]
                    : '?'
                )
        );
}
