using System.Globalization;
using System.Text;
using System.Text.Json;
using Cenotic.Core.Bench;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Formats;

/// <summary>A bench plan for other tools: tables as CSV (RFC 4180), pins as a C header and as JSON.</summary>
public static class BenchExports
{
    /// <summary>The wiring table in soldering order.</summary>
    public static string WiringCsv(BenchPlan plan) => CsvText.Of(["order", "kind", "from part", "from line", "to", "to pin", "insulation", "length m", "through", "held"],
        plan.Wires.Select(w => new[] { $"{w.Order}", Word(w.Kind), w.PartLabel, w.Line, w.PinLabel, w.Pin, w.Colour, w.LengthMetres.ToString("0.##", CultureInfo.InvariantCulture), string.Join("; ", w.Through.Select(t => plan.Components.FirstOrDefault(c => c.Key == t)?.What ?? t)), w.Hold is { } h ? Word(h) : "" }));

    /// <summary>The netlist for a board of one's own: every net with the pins on it; supports stand in their nets.</summary>
    public static string NetlistCsv(BenchPlan plan, string board) => CsvText.Of(["net", "component", "pin"],
        plan.Wires.GroupBy(w => w.Pin).SelectMany(net => net.Select(w => new[] { NetName(net.First()), w.PartLabel, w.Line }).Prepend([NetName(net.First()), net.Key.Contains(':', StringComparison.Ordinal) ? net.Key.Split(':')[0] : board, net.Key.Split(':')[^1]])
            .Concat(net.SelectMany(w => w.Through).Distinct().Select(t => new[] { NetName(net.First()), plan.Components.FirstOrDefault(c => c.Key == t)?.What ?? t, "" }))));

    /// <summary>Pins and addresses as a C header.</summary>
    public static string CHeader(NodeDesign node, BenchPlan plan, Board board)
    {
        var guard = CText.Name(node.Key) + "_PINS_H";
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"/* Pins and addresses of node {CText.Comment(node.Label)} on {CText.Comment(board.Label)}. */\n#ifndef {guard}\n#define {guard}\n\n");
        foreach (var line in CText.Pins(NodeSettings.PinsOf(plan, board)).Concat(plan.Parts.Where(p => p.Address is not null).Select(p => CText.Address(p.Part, p.Address!.Value, p.Bus, p.Behind))))
        {
            text.Append(line).Append('\n');
        }
        return text.Append(CultureInfo.InvariantCulture, $"\n#endif /* {guard} */\n").ToString();
    }

    /// <summary>Pins, buses and addresses as JSON.</summary>
    public static string PinsJson(NodeDesign node, BenchPlan plan) => JsonSerializer.Serialize(new
    {
        Node = node.Key,
        node.Board,
        Pins = plan.Wires.Where(w => w.Kind is WireKind.Bus or WireKind.Signal).Select(w => new { w.Part, w.Line, w.Pin, w.PinLabel, w.PinName }),
        Buses = plan.Buses.Select(b => new { b.Name, b.Kind, b.ClockKilohertz, b.Parts }),
        Addresses = plan.Parts.Where(p => p.Address is not null).Select(p => new { p.Part, p.Bus, p.Address, p.Strap, p.Behind }),
    }, CenoticJson.Indented);

    private static string NetName(PlannedWire wire) => wire.Kind switch { WireKind.Ground => "GND", WireKind.Supply => wire.PinLabel, WireKind.Bus => $"{wire.PinName} {wire.Line}", _ => $"{wire.Part}.{wire.Line}" };

    private static string Word<T>(T value) where T : struct, Enum => value.ToString().ToLowerInvariant();
}
