using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Formats;

/// <summary>A bench plan for other tools: tables as CSV (RFC 4180), pins as a C header and as JSON.</summary>
public static partial class BenchExports
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
        var guard = Name(node.Key) + "_PINS_H";
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"/* Pins and addresses of node {Comment(node.Label)} on {Comment(board.Label)}. */\n#ifndef {guard}\n#define {guard}\n\n");
        foreach (var wire in plan.Wires.Where(w => w.Kind is WireKind.Bus or WireKind.Signal).DistinctBy(w => (w.Part, w.Line)))
        {
            if (wire.Pin.Contains(':', StringComparison.Ordinal))
            {
                var helper = plan.Helpers.First(h => wire.Pin.StartsWith(h.Part + ":", StringComparison.Ordinal));
                text.Append(CultureInfo.InvariantCulture, $"#define LINE_{Name(wire.Part)}_{Name(wire.Line)} {helper.Lines.ToList().IndexOf(wire.Pin.Split(':')[1])} /* {Comment(wire.PinLabel)} */\n");
            }
            else if (board.Pin(wire.Pin) is { } pin)
            {
                text.Append(CultureInfo.InvariantCulture, $"#define PIN_{Name(wire.Part)}_{Name(wire.Line)} {pin.Gpio?.ToString(CultureInfo.InvariantCulture) ?? pin.Label} /* {Comment(pin.Label)} */\n");
            }
        }
        foreach (var part in plan.Parts.Where(p => p.Address is not null))
        {
            text.Append(CultureInfo.InvariantCulture, $"#define ADDR_{Name(part.Part)} 0x{part.Address:X2} /* {Comment(part.Bus ?? "")}{(part.Behind is { } b ? ", " + Comment(b) : "")} */\n");
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

    private static string Name(string text) => Plain().Replace(text.Replace("+", "P", StringComparison.Ordinal).Replace("-", "_", StringComparison.Ordinal), "_").ToUpperInvariant();

    /// <summary>Text that cannot end a comment or a line.</summary>
    private static string Comment(string text) => new string([.. text.Select(c => char.IsControl(c) ? ' ' : c)]).Replace("*/", "* /", StringComparison.Ordinal).Replace("/*", "/ *", StringComparison.Ordinal).Replace("\\", "/", StringComparison.Ordinal);

    [GeneratedRegex("[^A-Za-z0-9_]")]
    private static partial Regex Plain();
}
