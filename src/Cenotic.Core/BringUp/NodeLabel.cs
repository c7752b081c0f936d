using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>What stands on the label of a node: what a person needs who opens the housing in three years.</summary>
/// <param name="Facts">Short lines, the most important first.</param>
public sealed record NodeLabel(string Name, IReadOnlyList<string> Facts)
{
    /// <summary>The label of a node.</summary>
    /// <param name="hash">Of its settings by the plan.</param>
    public static NodeLabel Of(NodeDesign node, HardwareCatalogue catalogue, string site, string hash)
    {
        var power = node.Power;
        var cell = power.Cell is { } id ? catalogue.Cell(id) : null;
        string Number(double value) => value.ToString("0.##", CultureInfo.InvariantCulture);
        var fed = power.Kind switch
        {
            PowerKind.Usb => "5 V from USB",
            PowerKind.FiveVolt => "5 V only",
            PowerKind.TwelveVolt => "12 V",
            PowerKind.TwentyFourVolt => "24 V",
            PowerKind.OverCable => "Fed over its network cable",
            PowerKind.Capacitor => $"Light cell and capacitor, {Number(power.Harvest?.StopVolts ?? 0)} to {Number(power.Harvest?.StartVolts ?? 0)} V",
            _ => cell is null
                ? "Cells"
                : $"{power.Parallel * power.Series} × {cell.Label}{(power.Series > 1 ? ", in series" : power.Parallel > 1 ? ", side by side" : "")}",
        };
        var facts = new List<string> { fed + (power.FuseAmps is { } amps ? $", fuse {Number(amps)} A" : "") };
        if (cell is { Chemistry: "lithium iron phosphate" })
        {
            facts.Add("Charge to 3.65 V only");
        }
        if (power.FittedOn is { } fitted)
        {
            facts.Add($"Cells of {fitted:yyyy-MM-dd}");
        }
        facts.Add(catalogue.Board(node.Board)?.Label ?? node.Board);
        facts.Add($"{site}/{node.Key}, settings {hash}");
        if (
            node
                .Readings.Where(r => r.Output is { Load: OutputLoad.Heater or OutputLoad.Motor or OutputLoad.Pump or OutputLoad.Sounder })
                .Select(r => r.Label)
                .ToList() is
            { Count: > 0 } acts
        )
        {
            facts.Add($"Switches by itself: {string.Join(", ", acts)}");
        }
        return new(node.Label, facts);
    }
}
